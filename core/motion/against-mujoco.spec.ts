import { beforeAll, describe, expect, it } from 'vitest';
import { Design } from '../document/index';
import { Forces } from '../forces/index';
import { compile, poseOf } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { loadMujoco, treeModel } from '../testing/mujoco';
import { run } from './index';

let mujoco: any;
beforeAll(async () => {
  mujoco = await loadMujoco();
});

/** Largest difference of any coordinate at the end of a free motion from rest, rad or m. */
function freeFall(design: Design, duration: number, timestep: number, constraints: boolean): number {
  const c = compile(design);
  const ours = run(c, { duration, frames: 3 });
  const m = poseOf(c),
    f = new Forces(m);
  const { model, data, order } = treeModel(mujoco, m, f, { gravity: design.settings?.gravity ?? [0, 0, -9.80665], timestep, constraints });
  for (let k = 0; k < Math.round(duration / timestep); k++) mujoco.mj_step(model, data);
  let worst = 0;
  order.forEach((i, k) => (worst = Math.max(worst, Math.abs(ours.q[2 * m.kinematics.count + i] - data.qpos[k]))));
  data.delete();
  model.delete();
  return worst;
}

const heavy = (b: Builder, member: string, at: number[], length = 120): void =>
  void b.element('block', member, { length, depth: 20, height: 15, at });

describe('free motion against a general rigid-body engine', () => {
  it('a spatial double pendulum falls alike, to a millionth of a radian', () => {
    const b = new Builder();
    const one = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] }),
      two = b.shaft([120, 0, 0], one.member, { axis: [1, 0.3, 0] });
    heavy(b, one.member, [40, 10, 5]);
    heavy(b, two.member, [10, 40, 30]);
    expect(freeFall(b.design, 0.8, 1e-4, false)).toBeLessThan(1e-6);
  });

  it('a four-bar linkage falls alike; the other engine holds its loop by stiff springs, so to a hundredth of a radian', () => {
    const b = new Builder();
    const crank = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] }),
      coupler = b.shaft([0, 0, 60], crank.member, { axis: [0, 1, 0] }),
      rocker = b.shaft([100, 0, 0], 'frame', { axis: [0, 1, 0] });
    b.joint('revolute', coupler.member, rocker.member, { at: [20, 90, 0] });
    [crank, coupler, rocker].forEach((x, k) => heavy(b, x.member, [15 - 10 * k, 8, 3 * k], 60 + 20 * k));
    expect(freeFall(b.design, 0.3, 1e-4, true)).toBeLessThan(1e-2);
  });

  it('a weight on a geared shaft falls alike', () => {
    const b = new Builder();
    const one = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0] }),
      two = b.shaft([0, 0, 75], 'frame', { axis: [0, 1, 0] });
    b.mesh(b.gear(one.member, 20, 2), b.gear(two.member, 55, 2));
    heavy(b, one.member, [40, 0, 0]);
    heavy(b, two.member, [0, 30, 0]);
    expect(freeFall(b.design, 0.4, 1e-4, true)).toBeLessThan(5e-3);
  });
});
