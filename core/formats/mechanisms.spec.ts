import { readFileSync, readdirSync } from 'node:fs';
import { DOMParser, Document, Element } from 'linkedom';
import { Matrix4, Object3D, Vector3 } from 'three';
import URDFLoader from 'urdf-loader';
import { beforeAll, describe, expect, it, vi } from 'vitest';
import { assemblyOf, mechanismOf, standing } from '../assembly/index';
import { readDesign, type Design } from '../document/index';
import { Forces } from '../forces/index';
import { PLACEMENT } from '../math/index';
import { compile, poseOf } from '../kinematics/index';
import { Hand, goHome } from '../motion/index';
import { loadMujoco } from '../testing/mujoco';
import { isShape } from '../elements/index';
import type { Shapes } from '../shapes/index';
import { boxMesh, shapeFrom } from '../testing/shapes';
import { readStl } from './stl-in';
import { treeOrder, writeMjcf, writeSdf, writeUrdf } from './mechanisms';

const DEMOS = readdirSync(new URL('../../demo', import.meta.url)).filter((f) => f.endsWith('.json'));
/** A demo without what no format of bodies and joints holds: loads, and couplings that hold in one sense or follow a curve. */
function demo(file: string): Design {
  const read = readDesign(JSON.parse(readFileSync(new URL(`../../demo/${file}`, import.meta.url), 'utf8')));
  if (read.problems) throw new Error(file);
  return { ...read.design, loads: [], couplings: read.design.couplings.filter((c) => !['ratchet', 'one-way-clutch', 'cam'].includes(c.type)) };
}
function made(file: string) {
  const compiled = compile(demo(file));
  const pose = poseOf(compiled);
  const forces = new Forces(pose);
  const reference = assemblyOf(compiled, poseOf(compiled));
  goHome(pose);
  const mechanism = mechanismOf(compiled, pose, reference);
  return { compiled, pose, forces, mechanism, still: standing(reference, compiled) };
}
let mujoco: Awaited<ReturnType<typeof loadMujoco>>;
beforeAll(async () => {
  mujoco = await loadMujoco();
});

describe.each(DEMOS)('%s as MJCF', (file) => {
  it('runs in the other engine: members stand where ours do, ties and loops hold, and the source gives the same', () => {
    const { compiled, pose, mechanism } = made(file);
    const { xml } = writeMjcf({ ...mechanism, links: mechanism.links.map((l) => ({ ...l, members: [] })) });
    mujoco.FS.writeFile('/w/e.xml', xml);
    const model = mujoco.MjModel.loadFromXML('/w/e.xml');
    const data = new mujoco.MjData(model);
    const order = treeOrder(mechanism);
    const lead = compiled.sources[0]?.coordinate;
    const hand = new Hand(pose);
    const way = lead === undefined ? undefined : hand.interval(lead);
    const scale = lead === undefined ? 1 : pose.kinematics.scale[lead];
    const [from, to] = [way?.lower?.at ?? 0, way?.upper?.at ?? 1];
    let compared = 0;
    for (const share of [0.1, 0.5, 0.8]) {
      if (lead !== undefined) hand.move(lead, (from + share * (to - from)) * scale);
      const now = mechanismOf(compiled, pose, { name: '', members: [] });
      order.forEach((i, k) => (data.qpos[k] = now.at[i]));
      mujoco.mj_forward(model, data);
      // Placements of bodies relative to the reference position are those of links that stand in the world's frame.
      const body = compiled.structure.bodyOf;
      for (const [id, b] of body) {
        if (!b) continue;
        compared++;
        const c = compiled.structure.coordinates[pose.kinematics.bodyCoordinate[b]];
        const link = mechanism.links.findIndex((l) => l.joint.name === mechanismName(mechanism, c.index, compiled));
        expect(link, id).toBeGreaterThanOrEqual(0);
        const n = order.indexOf(link) + 1;
        const t = pose.placements.subarray(PLACEMENT * b, PLACEMENT * (b + 1));
        [t[3], t[7], t[11]].forEach((v, k) => expect(Math.abs(data.xpos[3 * n + k] - v), id).toBeLessThan(1e-6));
      }
      // All constraints hold where ours does.
      // A row for each tie, more for each loop.
      expect(data.nefc).toBeGreaterThanOrEqual(mechanism.ties.length + mechanism.welds.length);
      const held = Array.from({ length: data.nefc as number }, (_, k) => Math.abs((data.efc_pos as Float64Array)[k]));
      expect(Math.max(0, ...held)).toBeLessThan(1e-6);
    }
    expect(compared).toBeGreaterThanOrEqual(6);
    data.delete();
    model.delete();
  });

  it('asks the same of its sources in the other engine, moving at an even pace', () => {
    const { compiled, pose, forces, mechanism } = made(file);
    const leads = compiled.sources.map((s) => s.coordinate);
    const { xml } = writeMjcf({ ...mechanism, links: mechanism.links.map((l) => ({ ...l, members: [] })), welds: [], ties: [] });
    mujoco.FS.writeFile('/w/t.xml', xml);
    const model = mujoco.MjModel.loadFromXML('/w/t.xml');
    const data = new mujoco.MjData(model);
    const order = treeOrder(mechanism);
    const k = pose.kinematics;
    const free = new Float64Array(k.freeCount);
    const hand = new Hand(pose);
    const way = hand.interval(leads[0]);
    const [from, to] = [way.lower?.at ?? 0, way.upper?.at ?? 1];
    let [worst, size] = [0, 0];
    for (const share of [0.15, 0.4, 0.7]) {
      hand.move(leads[0], (from + share * (to - from)) * k.scale[leads[0]]);
      pose.rates(
        leads,
        leads.map((_, i) => 2 - i),
        free,
      );
      pose.spreadRates(free, forces.velocity);
      forces.accelerate(
        leads,
        leads.map(() => 0.5),
        free,
      );
      const { input } = forces.evaluate({ inertia: true, losses: false });
      const now = mechanismOf(compiled, pose, { name: '', members: [] });
      // A joint's speed and acceleration; a screw's travel goes with its turn.
      const of = (v: ArrayLike<number>, link: number): number => {
        const i = coordinateOf(mechanism, link, compiled);
        const f = mechanism.links[link].joint.follows;
        return i === undefined ? f!.factor * of(v, f!.link) : v[i];
      };
      order.forEach((link, n) => {
        data.qpos[n] = now.at[link];
        data.qvel[n] = of(forces.velocity, link);
        data.qacc[n] = of(forces.acceleration, link);
      });
      mujoco.mj_inverse(model, data);
      // Ties and loops do no work: what the sources give is what all joints ask for.
      const theirs = order.reduce((s, _link, n) => s + data.qfrc_inverse[n] * data.qvel[n], 0);
      const ours = leads.reduce((s, c, i) => s + input[i] * forces.velocity[c], 0);
      worst = Math.max(worst, Math.abs(ours - theirs));
      size = Math.max(size, Math.abs(theirs));
    }
    expect(worst).toBeLessThan(1e-4 * size + 1e-9);
    data.delete();
    model.delete();
  });
});

describe.each(DEMOS)('%s as SDF', (file) => {
  it('has every link where its joint is, carried by the link that carries it, with its mass, and closes its loops', () => {
    const { mechanism, still } = made(file);
    const { xml } = writeSdf(mechanism, still);
    const document = new DOMParser().parseFromString(xml, 'text/xml');
    const numbers = (of: { querySelector(q: string): { textContent: string } | null }, q: string): number[] =>
      of.querySelector(q)!.textContent.split(' ').map(Number);
    const place = new Map<string, number[]>([['still', [0, 0, 0]]]);
    let mass = 0;
    for (const l of document.querySelectorAll('link')) {
      if (l.getAttribute('name') === 'still') continue;
      place.set(l.getAttribute('name')!, numbers(l, ':scope > pose').slice(0, 3));
      mass += numbers(l, 'mass')[0];
    }
    expect(mass).toBeCloseTo(
      mechanism.links.reduce((s, l) => s + l.mass, 0),
      6,
    );
    for (const l of mechanism.links) {
      place.get(l.name)!.forEach((v, k) => expect(v).toBeCloseTo(l.joint.point[k], 12));
      const joint = document.querySelector(`joint[name="${l.joint.name}"]`)!;
      expect(joint.querySelector('child')!.textContent).toBe(l.name);
      expect(joint.querySelector('parent')!.textContent).toBe(l.parent < 0 ? 'still' : mechanism.links[l.parent].name);
      numbers(joint, 'xyz').forEach((v, k) => expect(v).toBeCloseTo(l.joint.axis[k], 12));
      if (l.joint.follows) expect(joint.querySelector('mimic')!.getAttribute('joint')).toBe(mechanism.links[l.joint.follows.link].joint.name);
    }
    expect([...document.querySelectorAll('joint[type="fixed"]')]).toHaveLength(1 + mechanism.welds.length);
  });
});

describe('a model with its meshes', () => {
  it.each(['paddle-winding-gear.json', 'swing-footbridge.json'])('of %s is read by the other engine as it is written', (file) => {
    const { mechanism, still } = made(file);
    const { xml, files } = writeMjcf(mechanism, still);
    if (!mujoco.FS.analyzePath('/w/meshes').exists) mujoco.FS.mkdir('/w/meshes');
    for (const [path, bytes] of Object.entries(files)) mujoco.FS.writeFile(`/w/${path}`, bytes);
    mujoco.FS.writeFile('/w/whole.xml', xml);
    const model = mujoco.MjModel.loadFromXML('/w/whole.xml');
    expect(model.nmesh).toBe(Object.keys(files).length);
    expect(model.nkey).toBe(1);
    model.delete();
  });
});

it('an imported shape is in the surface of its link, where it stands', () => {
  const compiled = compile(demo('screw-gate.json'));
  const pose = poseOf(compiled);
  const beam = compiled.design.elements.find(isShape)!;
  const shape = shapeFrom(boxMesh(1580, 140, 60));
  const surface = (shapes: Shapes) => {
    const reference = assemblyOf(compiled, pose, undefined, shapes);
    const { files } = writeMjcf(mechanismOf(compiled, pose, reference), standing(reference, compiled));
    return readStl(files['meshes/still.stl'], 'still', 1)[0].mesh;
  };
  const [without, whole] = [surface(new Map()), surface(new Map([[beam.content!, shape]]))];
  expect((whole.triangles.length - without.triangles.length) / 3).toBe(12);
  // The demo's beam stands at y 150, z 1800.
  const has = (x: number, y: number, z: number): boolean =>
    Array.from({ length: whole.points.length / 3 }, (_, i) => whole.points.slice(3 * i, 3 * i + 3)).some(
      (p) => Math.hypot(p[0] - x, p[1] - y, p[2] - z) < 1e-2,
    );
  expect([has(0, 150, 1800), has(1580, 290, 1860)]).toEqual([true, true]);
});

/** The coordinate of a link's joint; a screw's travel has none of its own. */
const coordinateOf = (m: ReturnType<typeof made>['mechanism'], link: number, compiled: ReturnType<typeof made>['compiled']): number | undefined =>
  compiled.structure.coordinates.find((c) => mechanismName(m, c.index, compiled) === m.links[link].joint.name)?.index;

describe.each(DEMOS)('%s as URDF', (file) => {
  it('stands in another library as ours does, where all that it ties follows one joint', () => {
    const { compiled, pose, mechanism, still } = made(file);
    const { xml, untaken } = writeUrdf(mechanism, still);
    const loader = new URDFLoader();
    loader.loadMeshCb = (_path, _manager, _material, done) => done(new Object3D());
    // The library looks for a browser's parser.
    for (const [name, what] of Object.entries({ DOMParser, Document, Element })) vi.stubGlobal(name, what);
    const robot = loader.parse(xml);
    vi.unstubAllGlobals();
    expect(Object.keys(robot.links)).toHaveLength(mechanism.links.length + 1);
    if (mechanism.welds.length) expect(untaken.join()).toMatch(/loops of joints: they are left open/);
    // All joints by their values; those that mimic follow by themselves where they can.
    for (const [i, l] of mechanism.links.entries()) if (!l.joint.follows) robot.setJointValue(l.joint.name, mechanism.at[i]);
    if (mechanism.welds.length) for (const [i, l] of mechanism.links.entries()) robot.joints[l.joint.name].setJointValue(mechanism.at[i]);
    robot.updateMatrixWorld(true);
    for (const [id, b] of compiled.structure.bodyOf) {
      if (!b) continue;
      const c = compiled.structure.coordinates[pose.kinematics.bodyCoordinate[b]];
      const link = mechanism.links.find((l) => l.joint.name === mechanismName(mechanism, c.index, compiled))!;
      const t = pose.placements.subarray(PLACEMENT * b, PLACEMENT * (b + 1));
      const ours = new Vector3(...link.joint.point).applyMatrix4(
        new Matrix4().set(t[0], t[1], t[2], t[3], t[4], t[5], t[6], t[7], t[8], t[9], t[10], t[11], 0, 0, 0, 1),
      );
      const theirs = new Vector3().setFromMatrixPosition(robot.links[link.name].matrixWorld);
      expect(ours.distanceTo(theirs), id).toBeLessThan(1e-6);
    }
  });
});

/** The name of a coordinate's joint in the mechanism: links are made in the order of bodies, a helix has one more. */
function mechanismName(m: ReturnType<typeof made>['mechanism'], index: number, compiled: ReturnType<typeof made>['compiled']): string | undefined {
  let at = 0;
  for (let b = 1; b < compiled.kinematics.bodies; b++) {
    const c = compiled.structure.coordinates[compiled.kinematics.bodyCoordinate[b]];
    if (c.motion === 'helix') at++;
    if (c.index === index) return m.links[at].joint.name;
    at++;
  }
  return undefined;
}
