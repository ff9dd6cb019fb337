import { type Group, type Mesh, type Object3D, Vector3, AnimationMixer } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { ThreeMFLoader } from 'three/examples/jsm/loaders/3MFLoader.js';
import { compile, open, poseOf, run } from '@unirota/core';
import { type Assembly, assemblyOf, inWorld, memberMotion, meshed } from '@unirota/core/assembly';
import { writeGltf, writeThreeMf } from '@unirota/core/geometry';
import { type Mesh as Surface, joinedMesh, meshOf } from '@unirota/core/solids';
import { meshVolume } from '../../../../core/testing/surfaces';
import screwGate from '../../../../demo/screw-gate.json';

/** Volume inside the meshes of a scene where they stand. */
function held(scene: Object3D): number {
  let v = 0;
  scene.updateMatrixWorld(true);
  scene.traverse((o) => {
    const mesh = o as Mesh;
    if (!mesh.isMesh) return;
    const p = mesh.geometry.getAttribute('position'),
      index = mesh.geometry.index;
    const at = (i: number): Vector3 => new Vector3().fromBufferAttribute(p, index ? index.getX(i) : i).applyMatrix4(mesh.matrixWorld);
    for (let i = 0; i < (index?.count ?? p.count); i += 3) {
      const [a, b, c] = [at(i), at(i + 1), at(i + 2)];
      v += a.dot(b.cross(c)) / 6;
    }
  });
  return v;
}
const surfaceOf = (a: Assembly): Surface => joinedMesh(a.members.flatMap((m) => m.bodies.flatMap((b) => b.solids.map((s) => meshOf(inWorld(b, s))))));

describe('files that another library reads in a browser', () => {
  const read = open(screwGate);
  if (read.problems) throw new Error('demo');
  const compiled = compile(read.design);
  const pose = poseOf(compiled);
  const assembly = assemblyOf(compiled, pose);

  it('3MF: the bodies of all members, in place, holding what ours do', () => {
    const bytes = writeThreeMf(meshed(assembly), 'mm');
    const group: Group = new ThreeMFLoader().parse(bytes.buffer as ArrayBuffer);
    expect(group.children).toHaveLength(assembly.members.length);
    expect(Math.abs(held(group) / meshVolume(surfaceOf(assembly)) - 1)).toBeLessThan(1e-5);
  });

  it('glTF: the members by name, in metres with y upward, and moving as the run does', async () => {
    const r = run(compiled, { duration: 4, frames: 9 }, pose.u);
    const motion = memberMotion(compiled, pose, assembly, r);
    const bytes = await writeGltf(meshed(assembly), motion);
    const gltf = await new GLTFLoader().parseAsync(new Uint8Array(bytes).buffer, '');
    expect(gltf.scene.children.map((c) => c.userData['name'] ?? c.name)).toEqual(assembly.members.map((m) => m.name));
    expect(Math.abs((held(gltf.scene) * 1e9) / meshVolume(surfaceOf(assembly)) - 1)).toBeLessThan(1e-4);
    const i = motion.places.findIndex((p) => p !== undefined && Math.hypot(...p[p.length - 1].o) > 10);
    const mixer = new AnimationMixer(gltf.scene);
    mixer.clipAction(gltf.animations[0]).play();
    mixer.setTime(r.time[4]);
    gltf.scene.updateMatrixWorld(true);
    const node = gltf.scene.children[i];
    const [x, y, z] = motion.places[i]![4].o;
    // mm and z upward here, m and y upward there.
    expect(node.position.distanceTo(new Vector3(x / 1000, z / 1000, -y / 1000))).toBeLessThan(1e-6);
  });
});
