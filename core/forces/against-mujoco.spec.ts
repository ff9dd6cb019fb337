import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { Design } from '../document/index';
import { compile, type Pose, poseOf } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { loadMujoco, treeModel } from '../testing/mujoco';
import { Forces } from './index';

/**
 * An independent check by a general rigid-body engine (mujoco-js, a development dependency):
 * it is given the tree of bodies with masses and joints, and asked for the generalised forces
 * of the motion that our kinematics states. For a mechanism of one freedom the input follows
 * by virtual work, also through loops and couplings, which that engine is not told about.
 */
let mujoco: any;
beforeAll(async () => {
  mujoco = await loadMujoco();
});
const modelOf = (m: Pose, f: Forces, gravity: readonly number[]) => treeModel(mujoco, m, f, { gravity });

/** Compares the input at several poses; gives the largest difference over the size of the input. */
function compare(design: Design, poses: readonly number[], speed: number, acceleration: number): number {
  const m = poseOf(compile({ ...design, loads: [] }));
  const f = new Forces(m),
    free = new Float64Array(m.kinematics.freeCount);
  const gravity = design.settings?.gravity ?? [0, 0, -9.80665];
  const { model, data, order } = modelOf(m, f, gravity);
  const lead = m.compiled.sources[0].coordinate;
  let worst = 0,
    size = 0;
  for (const q of poses) {
    expect(m.solve([lead], [q])).toBe('ok');
    m.rates([lead], [speed], free);
    m.spreadRates(free, f.velocity);
    f.accelerate([lead], [acceleration], free);
    const ours = f.evaluate({ inertia: true, losses: false }).input[0];
    order.forEach((i, k) => {
      data.qpos[k] = m.q[i];
      data.qvel[k] = f.velocity[i];
      data.qacc[k] = f.acceleration[i];
    });
    mujoco.mj_inverse(model, data);
    const theirs = order.reduce((s, i, k) => s + data.qfrc_inverse[k] * f.velocity[i], 0) / speed;
    worst = Math.max(worst, Math.abs(ours - theirs));
    size = Math.max(size, Math.abs(theirs));
  }
  data.delete();
  model.delete();
  return worst / size;
}

const around = Array.from({ length: 12 }, (_, k) => 0.3 + k * 0.5);
const heavy = (b: Builder, member: string, at: number[], length = 120): void =>
  void b.element('block', member, { length, depth: 20, height: 15, at });

describe('inverse dynamics against a general rigid-body engine', () => {
  it('agrees on a slider-crank with heavy parts', () => {
    const b = new Builder();
    const crank = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] }),
      rod = b.shaft([60, 0, 0], crank.member, { axis: [0, 1, 0] }),
      slide = b.slide([260, 0, 0], [1, 0, 0]);
    b.joint('revolute', rod.member, slide.member, { axis: [0, 1, 0] });
    heavy(b, crank.member, [20, 10, 0]);
    heavy(b, rod.member, [100, 0, 5], 200);
    heavy(b, slide.member, [0, 0, 10]);
    // The slide's own axes: z along the world's x; its pin lies along the world's y, which is its local x or y.
    const s = b.design.members.find((m) => m.id === slide.member)!;
    s.up = [0, 0, 1];
    b.design.joints.at(-1)!.axis = [0, -1, 0];
    b.motor(crank.joint);
    expect(compare(b.design, around, 7, 3)).toBeLessThan(1e-8);
  });

  it('agrees on a four-bar linkage', () => {
    const b = new Builder();
    const crank = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] }),
      coupler = b.shaft([0, 0, 30], crank.member, { axis: [0, 1, 0] }),
      rocker = b.shaft([100, 0, 0], 'frame', { axis: [0, 1, 0] });
    b.joint('revolute', coupler.member, rocker.member, { at: [20, 70, 0] });
    [crank, coupler, rocker].forEach((x, k) => heavy(b, x.member, [15 - 10 * k, 8, 3 * k], 60 + 20 * k));
    b.motor(crank.joint);
    expect(compare(b.design, around, -5, 11)).toBeLessThan(1e-8);
  });

  it('agrees on gears with eccentric masses, turning and on a moving arm', () => {
    const b = new Builder();
    const arm = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] }),
      planet = b.shaft([60, 0, 0], arm.member, { axis: [0, 1, 0] });
    b.mesh(b.gear('frame', 40, 1.5, { axis: [0, 1, 0] }), b.gear(planet.member, 40, 1.5));
    heavy(b, arm.member, [30, 6, 0]);
    heavy(b, planet.member, [25, 10, 8]);
    b.motor(arm.joint);
    expect(compare(b.design, around, 6, -4)).toBeLessThan(1e-8);
  });

  it('agrees on a rack in a swivelling guide: the demo’s fish-pass flap', () => {
    const d = JSON.parse(readFileSync(new URL('../../demo/fish-pass-flap.json', import.meta.url), 'utf8')) as Design;
    expect(compare(d, [-0.8, -0.4, 0.01, 0.3, 0.7], 2, 5)).toBeLessThan(1e-8);
  });

  it('agrees on the folding-arm lift with its two stages', () => {
    const d = JSON.parse(readFileSync(new URL('../../demo/inspection-lift.json', import.meta.url), 'utf8')) as Design;
    expect(compare(d, [0, 60, 150, 300, 500], 12, 40)).toBeLessThan(1e-7);
  });

  it('agrees on the trolley with its bevel differential', () => {
    const d = JSON.parse(readFileSync(new URL('../../demo/towpath-trolley.json', import.meta.url), 'utf8')) as Design;
    expect(compare({ ...d, settings: { gravity: [1.5, 0, -9.7] } }, [0, 1, 5, 20], 25, 3)).toBeLessThan(1e-8);
  });

  it('agrees on the reactions of an open chain, force by force', () => {
    const b = new Builder();
    const one = b.shaft([0, 0, 0], 'frame', { axis: [0, 0, 1] }),
      two = b.shaft([80, 0, 20], one.member, { axis: [0, 1, 0] }),
      three = b.shaft([80, 0, 120], two.member, { axis: [1, 0, 0] });
    [one, two, three].forEach((x, k) => heavy(b, x.member, [10 + 20 * k, 15, 30 - 10 * k]));
    [one, two, three].forEach((x) => b.motor(x.joint));
    const m = poseOf(compile(b.design)),
      f = new Forces(m);
    const { model, data, order } = modelOf(m, f, [0, 0, -9.80665]);
    m.solve([0, 1, 2], [0.4, -0.7, 1.1]);
    f.velocity.set([3, -2, 5]);
    f.acceleration.set([10, 20, -15]);
    const s = f.evaluate({ inertia: true });
    const r = f.reactions(true);
    order.forEach((i, k) => {
      data.qpos[k] = m.q[i];
      data.qvel[k] = f.velocity[i];
      data.qacc[k] = f.acceleration[i];
    });
    mujoco.mj_inverse(model, data);
    for (const [k, i] of order.entries()) expect(s.input[i]).toBeCloseTo(data.qfrc_inverse[k], 9);
    mujoco.mj_rnePostConstraint(model, data);
    order.forEach((i, k) => {
      for (let x = 0; x < 3; x++) expect(r[6 * i + x]).toBeCloseTo(data.cfrc_int[6 * (k + 1) + 3 + x], 9);
    });
  });
});

/**
 * Reactions of whole mechanisms: the other engine is given the tree of bodies and, as forces on them, what our loops
 * and couplings carry. If any of these were wrong, a joint that nothing drives would need a torque there; with all of
 * them right it needs none, the driven joint needs our input, and every joint's interaction force is our reaction.
 */
function compareReactions(design: Design, poses: readonly number[], speed: number, acceleration: number): number {
  const m = poseOf(compile({ ...design, loads: [] }));
  const f = new Forces(m),
    free = new Float64Array(m.kinematics.freeCount);
  const { model, data, order } = modelOf(m, f, design.settings?.gravity ?? [0, 0, -9.80665]);
  const closing = new Set(m.compiled.structure.closures.map((c) => c.joint.id));
  const lead = m.compiled.sources[0].coordinate;
  let worst = 0,
    size = 0;
  for (const q of poses) {
    expect(m.solve([lead], [q])).toBe('ok');
    m.rates([lead], [speed], free);
    m.spreadRates(free, f.velocity);
    f.accelerate([lead], [acceleration], free);
    const s = f.evaluate({ inertia: true, losses: false });
    const all = f.wrenches(true);
    const R = Float64Array.from(s.reaction);
    order.forEach((i, k) => {
      data.qpos[k] = m.q[i];
      data.qvel[k] = f.velocity[i];
      data.qacc[k] = f.acceleration[i];
    });
    data.xfrc_applied.fill(0);
    mujoco.mj_fwdPosition(model, data);
    // Wrenches of couplings, and of closing joints through their own chains, on the tree's bodies, moved to the centres of mass.
    const bodies = order.map((i) => m.compiled.structure.coordinates[i].body);
    for (const w of all) {
      const chain = w.kind === 'joint' && closing.has(w.id);
      if (w.kind !== 'coupling' && !chain) continue;
      const at = bodies.indexOf(w.body);
      if (at < 0) continue;
      const o = 6 * (at + 1),
        c = [0, 1, 2].map((x) => data.xipos[3 * (at + 1) + x]);
      const r = w.point.map((v, x) => v - c[x]);
      const t = [r[1] * w.force[2] - r[2] * w.force[1], r[2] * w.force[0] - r[0] * w.force[2], r[0] * w.force[1] - r[1] * w.force[0]];
      for (let x = 0; x < 3; x++) {
        data.xfrc_applied[o + x] += w.force[x];
        data.xfrc_applied[o + 3 + x] += w.moment[x] + t[x];
      }
    }
    mujoco.mj_inverse(model, data);
    mujoco.mj_rnePostConstraint(model, data);
    // What the tree needs at each joint, less what the given forces do there.
    order.forEach((i, k) => {
      for (let x = 0; x < 3; x++) {
        const theirs = data.cfrc_int[6 * (k + 1) + 3 + x];
        worst = Math.max(worst, Math.abs(R[6 * i + x] - theirs));
        size = Math.max(size, Math.abs(theirs));
      }
    });
  }
  data.delete();
  model.delete();
  return worst / size;
}

describe('reactions of whole mechanisms against a general rigid-body engine', () => {
  const demo = (f: string): Design => JSON.parse(readFileSync(new URL(`../../demo/${f}.json`, import.meta.url), 'utf8')) as Design;
  const fourBar = (): Design => {
    const b = new Builder();
    const crank = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] }),
      coupler = b.shaft([0, 0, 30], crank.member, { axis: [0, 1, 0] }),
      rocker = b.shaft([100, 0, 0], 'frame', { axis: [0, 1, 0] });
    b.joint('revolute', coupler.member, rocker.member, { at: [20, 70, 0] });
    [crank, coupler, rocker].forEach((x, k) => heavy(b, x.member, [15 - 10 * k, 8, 3 * k], 60 + 20 * k));
    b.motor(crank.joint);
    return b.design;
  };
  const planetary = (): Design => {
    const b = new Builder();
    const arm = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] }),
      planet = b.shaft([60, 0, 0], arm.member, { axis: [0, 1, 0] });
    b.mesh(b.gear('frame', 40, 1.5, { axis: [0, 1, 0] }), b.gear(planet.member, 40, 1.5));
    heavy(b, arm.member, [30, 6, 0]);
    heavy(b, planet.member, [25, 10, 8]);
    b.motor(arm.joint);
    return b.design;
  };
  it.each([
    ['a four-bar linkage', fourBar, around, -5, 11, 1e-8],
    ['a planet on its arm', planetary, around, 6, -4, 1e-8],
    ['the paddle winding gear', () => demo('paddle-winding-gear'), [1, 20, 60], 3, 2, 1e-8],
    ['the fish-pass flap', () => demo('fish-pass-flap'), [-0.8, -0.4, 0.01, 0.3, 0.7], 2, 5, 1e-8],
    ['the folding-arm lift', () => demo('inspection-lift'), [0, 60, 150, 300, 500], 12, 40, 1e-6],
    ['the towpath trolley', () => demo('towpath-trolley'), [0, 1, 5, 20], 25, 3, 1e-7],
    ['the swing footbridge', () => demo('swing-footbridge'), [-3, 0.5, 9], 4, 2, 1e-7],
  ] as const)('agree on %s', (_name, make, poses, speed, acceleration, tolerance) => {
    expect(compareReactions(make(), poses, speed, acceleration)).toBeLessThan(tolerance);
  });
});
