import { describe, expect, it } from 'vitest';
import { compile } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { dutiesOf, run } from './index';

/** A flywheel turned to and fro by half cosines, against a stated torque. */
function flywheel(torque: number) {
  const b = new Builder();
  const s = b.shaft([0, 0, 0], 'frame', { mass: 1, inertia: [0.1, 0.1, 0.2] });
  b.design.settings = { gravity: [0, 0, 0] };
  b.motor(s.joint, 60, { profile: 'part turn', amount: 180, time: 2, speedShape: 'harmonic' });
  if (torque) b.load('joint-load', { joint: s.joint, value: -torque });
  const c = compile(b.design);
  return { c, r: run(c, { duration: 2, frames: 2001 }) };
}

describe('what a run asks of its source', () => {
  it('of a flywheel moved half a turn by half a cosine: J·(π/2)·(π/T)² at its ends, a √2 of it in the mean, driving and braking by halves', () => {
    const { c, r } = flywheel(0);
    const [d] = dutiesOf(c, r);
    const most = 0.2 * (Math.PI / 2) * (Math.PI / 2) ** 2;
    expect(Math.abs(d.peak)).toBeCloseTo(most, 5);
    expect(d.rms).toBeCloseTo(most / Math.SQRT2, 3);
    expect(d.meanPower).toBeCloseTo(0, 6);
    expect(d.quadrants[0]).toBeCloseTo(0.5, 2);
    expect(d.quadrants[1]).toBeCloseTo(0.5, 2);
    expect(d.quadrants[2] + d.quadrants[3]).toBe(0);
    expect(d.inertia!.least).toBeCloseTo(0.2, 9);
    expect(d.inertia!.greatest).toBeCloseTo(0.2, 9);
    // Power T·ω = J·α·ω is greatest at a quarter of the time, J/2·(π/2)·(π/T)²·(π/2)·(π/T)·… = J·A²·(π/T)³/2 with A = π/2.
    expect(d.mostPower).toBeCloseTo((0.2 * (Math.PI / 2) ** 2 * (Math.PI / 2) ** 3) / 2, 4);
  });
  it('against a steady torque: its work is torque times way', () => {
    const { c, r } = flywheel(7);
    const [d] = dutiesOf(c, r);
    expect(d.meanPower).toBeCloseTo((7 * Math.PI) / 2, 4);
    expect(d.quadrants[0]).toBeGreaterThan(0.99);
    expect(d.quadrants[1] + d.quadrants[2] + d.quadrants[3]).toBeLessThan(0.01);
  });
});
