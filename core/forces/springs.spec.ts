import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { compile, poseOf } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { Forces, nominalVelocities } from './index';

/** A lever of 100 mm about z with a spring from its end to a point of the frame. */
const lever = (spring: Record<string, unknown>, speed = 0.0001) => {
  const b = new Builder().weightless();
  const s = b.shaft([0, 0, 0], 'frame', { mass: 0, up: [1, 0, 0] });
  b.motor(s.joint, speed);
  b.load('spring', { member: s.member, at: [100, 0, 0], otherAt: [100, 200, 0], ...spring });
  const m = poseOf(compile(b.design));
  return { b, m, f: new Forces(m) };
};
const length = (q: number): number => Math.hypot(100 - 100 * Math.cos(q), 200 - 100 * Math.sin(q));

describe('springs and dampers', () => {
  it('need the torque that the slope of their energy gives (virtual work)', () => {
    const { m, f } = lever({ rate: 3, free: 150, preload: 20 });
    const energy = (q: number): number => ((length(q) - 150) ** 2 * 3) / 2 + 20 * length(q);
    for (const q of [0, 0.4, 1.1, -0.8]) {
      m.solve([0], [q]);
      // N·mm per rad over 1000.
      const slope = (energy(q + 1e-5) - energy(q - 1e-5)) / 2e-5 / 1000;
      expect(f.evaluate().input[0]).toBeCloseTo(slope, 6);
    }
  });
  it('damp in step with the speed of the ends, and take power in either sense', () => {
    for (const speed of [60, -60]) {
      const { m, f } = lever({ rate: 0, damping: 0.5 }, speed);
      m.solve([0], [0.3]);
      nominalVelocities(m, f.velocity);
      const w = f.velocity[0];
      const ldot = ((length(0.3 + 1e-6) - length(0.3 - 1e-6)) / 2e-6) * w;
      expect(f.evaluate().input[0] * w).toBeCloseTo((0.5 * ldot * ldot) / 1000, 5);
    }
  });
  it('act on both ends: nothing is left over for the frame but what the bearing carries', () => {
    const { m, f } = lever({ rate: 3, free: 100 });
    m.solve([0], [0.2]);
    f.evaluate();
    const r = f.reactions();
    const pull = 3 * (length(0.2) - 100);
    expect(Math.hypot(r[0], r[1])).toBeCloseTo(pull, 6);
  });
  it('work at a joint by degrees or mm, with rest position and preload', () => {
    const b = new Builder().weightless();
    const s = b.slide([0, 0, 0], [1, 0, 0]),
      t = b.shaft([0, 0, 0]);
    b.motor(s.joint, 10);
    b.motor(t.joint, 0);
    b.load('joint-spring', { joint: s.joint, rate: 2, free: 5, preload: 3 });
    b.load('joint-spring', { joint: t.joint, rate: 0.1, damping: 0 });
    const a = analyse(b.design);
    a.pose.solve([0, 1], [0.02, Math.PI / 2]);
    a.forces.velocity.fill(0);
    const i = a.forces.evaluate().input;
    expect(i[0]).toBeCloseTo(2 * (20 - 5) - 3, 9);
    expect(i[1]).toBeCloseTo(0.1 * 90, 9);
  });
  it('friction works against the motion, whichever way it goes', () => {
    for (const speed of [30, -30]) {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0]);
      b.motor(s.joint, speed);
      b.load('joint-friction', { joint: s.joint, value: 4 });
      expect(analyse(b.design).ledger.sources[0].load).toBeCloseTo(4 * Math.sign(speed), 12);
    }
  });
});
