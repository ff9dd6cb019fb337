import { describe, expect, it } from 'vitest';
import { Builder } from '../testing/designs';
import { compile } from '../kinematics/index';
import { coordinatesAt, run } from './index';

const G = 9.80665;
/** A mass that falls, with a stop some way down or none, recorded every 0.1 s. */
function fall(lower?: number) {
  const b = new Builder();
  b.slide([0, 0, 0], [0, 0, 1], 'frame', { mass: 2, massCentre: [0, 0, 0], inertia: [0, 0, 0] });
  if (lower !== undefined) Object.assign(b.design.joints[0], { lower });
  return run(compile(b.design), { duration: 1, frames: 11 });
}

const at = (r: ReturnType<typeof fall>, t: number): number => {
  const out = new Float64Array(r.coordinates);
  coordinatesAt(r, t, out);
  return out[0];
};

describe('between the instants of a run', () => {
  it('a falling mass is where s = g t²/2 has it', () => {
    const r = fall();
    for (const t of [0, 0.013, 0.25, 0.777, 1]) expect(at(r, t)).toBeCloseTo((-G * t * t) / 2, 9);
    expect(at(r, -1)).toBe(0);
    expect(at(r, 9)).toBeCloseTo(-G / 2, 9);
  });
  it('it meets a stop where that stands, and stays there', () => {
    const r = fall(-1000);
    const hits = r.events[0].time;
    expect(hits).toBeCloseTo(Math.sqrt(2 / G), 6);
    expect(at(r, hits)).toBeCloseTo(-1, 6);
    expect(at(r, hits - 0.02)).toBeCloseTo((-G * (hits - 0.02) ** 2) / 2, 6);
    expect(at(r, hits + 0.02)).toBeCloseTo(-1, 9);
  });
});
