/** glTF 2.0, binary (GLB): a node a member, a node a body; metres, y up, as the specification asks (Khronos glTF 2.0, 3.4). */
import { type Accessor, type Animation, Document, type Node, WebIO } from '@gltf-transform/core';
import { linearOfByte, partsOfColour } from '../math/index';
import type { Mesh } from '../solids/index';
import type { MemberMotion, MeshedAssembly, MeshedBody } from '../assembly/index';
import { creased } from './creased';

/** mm to metres, and z upward to y upward: (x, y, z) → (x, z, −y). */
const MM = 1e-3;
const up = ([x, y, z]: ArrayLike<number> & Iterable<number>): [number, number, number] => [x, z, -y];

/** The quaternion x, y, z, w of a rotation given by the images of the axes (Shepperd 1978: by the greatest of its parts). */
export function quaternionOf(x: readonly number[], y: readonly number[], z: readonly number[]): [number, number, number, number] {
  const t = x[0] + y[1] + z[2];
  const q: [number, number, number, number] =
    t > 0
      ? [y[2] - z[1], z[0] - x[2], x[1] - y[0], 1 + t]
      : x[0] >= y[1] && x[0] >= z[2]
        ? [1 + x[0] - y[1] - z[2], x[1] + y[0], z[0] + x[2], y[2] - z[1]]
        : y[1] >= z[2]
          ? [x[1] + y[0], 1 - x[0] + y[1] - z[2], y[2] + z[1], z[0] - x[2]]
          : [z[0] + x[2], y[2] + z[1], 1 - x[0] - y[1] + z[2], x[1] - y[0]];
  const l = Math.hypot(...q);
  return [q[0] / l, q[1] / l, q[2] / l, q[3] / l];
}

/** A placement in the world of the format. */
export function nodePlace({ o, x, y, z }: MeshedBody['place']): {
  translation: [number, number, number];
  rotation: [number, number, number, number];
} {
  // A mesh is written with its own axes turned in the same way: R' = U R U⁻¹.
  const [X, Y, Z] = [up(x), up(z), up(y).map((v) => -v)];
  const t = up(o);
  return { translation: [t[0] * MM, t[1] * MM, t[2] * MM], rotation: quaternionOf(X, Y, Z) };
}

/** Corners with normals: a point is shared by triangles that are one round surface there. */
function withNormals(mesh: Mesh): { positions: Float32Array; normals: Float32Array; indices: Uint32Array } {
  const corner = creased(mesh);
  const positions: number[] = [],
    normals: number[] = [];
  const known = new Map<string, number>();
  const indices = mesh.triangles.map((point, i) => {
    const n = corner.normals.subarray(3 * i, 3 * i + 3);
    const key = `${point} ${n.map((x) => Math.round(1e4 * x)).join(' ')}`;
    let k = known.get(key);
    if (k === undefined) {
      known.set(key, (k = positions.length / 3));
      positions.push(...up(mesh.points.subarray(3 * point, 3 * point + 3)).map((x) => x * MM));
      normals.push(...up(n));
    }
    return k;
  });
  return { positions: Float32Array.from(positions), normals: Float32Array.from(normals), indices };
}

export async function writeGltf(a: MeshedAssembly, motion?: MemberMotion): Promise<Uint8Array> {
  const doc = new Document();
  doc.getRoot().getAsset().generator = 'Unirota';
  const buffer = doc.createBuffer();
  const scene = doc.createScene(a.name);
  doc.getRoot().setDefaultScene(scene);
  const material = new Map<string, ReturnType<Document['createMaterial']>>();
  const geometry = new Map<Mesh, { position: Accessor; normal: Accessor; indices: Accessor }>();
  const meshOf = (b: MeshedBody): ReturnType<Document['createMesh']> => {
    let g = geometry.get(b.mesh);
    if (!g) {
      const { positions, normals, indices } = withNormals(b.mesh);
      const vec3 = (v: Float32Array): Accessor => doc.createAccessor().setType('VEC3').setArray(v).setBuffer(buffer);
      g = { position: vec3(positions), normal: vec3(normals), indices: doc.createAccessor().setType('SCALAR').setArray(indices).setBuffer(buffer) };
      geometry.set(b.mesh, g);
    }
    let m = material.get(b.colour);
    if (!m) {
      const [red, green, blue] = partsOfColour(b.colour).map(linearOfByte);
      m = doc.createMaterial(b.colour).setBaseColorFactor([red, green, blue, 1]).setMetallicFactor(0.2).setRoughnessFactor(0.6);
      material.set(b.colour, m);
    }
    const primitive = doc
      .createPrimitive()
      .setAttribute('POSITION', g.position)
      .setAttribute('NORMAL', g.normal)
      .setIndices(g.indices)
      .setMaterial(m);
    return doc.createMesh(b.name).addPrimitive(primitive);
  };
  const nodes = a.members.map((m): Node => {
    const node = doc.createNode(m.name);
    for (const b of m.bodies) {
      const { translation, rotation } = nodePlace(b.place);
      node.addChild(doc.createNode(b.name).setMesh(meshOf(b)).setTranslation(translation).setRotation(rotation));
    }
    scene.addChild(node);
    return node;
  });
  if (motion) animate(doc, buffer, nodes, motion);
  return new WebIO().writeBinary(doc);
}

function animate(doc: Document, buffer: ReturnType<Document['createBuffer']>, nodes: readonly Node[], motion: MemberMotion): void {
  const time = doc.createAccessor().setType('SCALAR').setArray(Float32Array.from(motion.time)).setBuffer(buffer);
  const animation: Animation = doc.createAnimation('Run');
  nodes.forEach((node, i) => {
    const places = motion.places[i];
    if (!places) return;
    const put = places.map(nodePlace);
    const channel = (path: 'translation' | 'rotation', type: 'VEC3' | 'VEC4', values: number[][]): void => {
      const output = doc.createAccessor().setType(type).setArray(Float32Array.from(values.flat())).setBuffer(buffer);
      const sampler = doc.createAnimationSampler().setInput(time).setOutput(output).setInterpolation('LINEAR');
      animation.addSampler(sampler).addChannel(doc.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
    };
    channel(
      'translation',
      'VEC3',
      put.map((p) => p.translation),
    );
    channel(
      'rotation',
      'VEC4',
      put.map((p) => p.rotation),
    );
  });
}
