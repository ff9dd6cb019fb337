import { describe, expect, it } from 'vitest';
import { compile } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { quantities, run, seriesOf } from './index';
import { floorsOf } from './rounding';

describe('rounding in a run', () => {
  // A crank, a rod and a slide against a weight, with a train beside it: sines and cosines leave crumbs of 1e-16 everywhere.
  const b = new Builder();
  const crank = b.shaft([0, 0, 0], 'frame', { axis: [0, 1, 0], up: [1, 0, 0] });
  const wheel = b.shaft([37.5, 0, 0], 'frame', { axis: [0, 1, 0], up: [1, 0, 0] });
  b.mesh(b.gear(crank.member, 20, 1.5), b.gear(wheel.member, 30, 1.5));
  const rod = b.member([30, 0, 0], { axis: [0, 1, 0], up: [1, 0, 0] });
  b.joint('revolute', crank.member, rod);
  const slide = b.slide([130, 0, 0], [1, 0, 0], 'frame', { mass: 1, inertia: [1e-3, 1e-3, 1e-3] });
  b.joint('revolute', rod, slide.member, { at: [0, 0, 0], axis: [0, 1, 0], up: [1, 0, 0] });
  b.load('joint-load', { joint: slide.joint, value: -1000 });
  b.motor(crank.joint, 97);
  const c = compile(b.design);
  const r = run(c, { duration: 1, frames: 53 });

  it('is nothing in what is charted: between nothing and a ten-thousand-millionth of the largest of its unit nothing is shown', () => {
    const all = quantities(c, r).filter((q) => !q.key.endsWith(':place'));
    const most = new Map<string, number>();
    const series = all.map((q) => [q, seriesOf(q, r.frames)] as const);
    for (const [q, s] of series) most.set(q.unit, Math.max(most.get(q.unit) ?? 0, ...s.map(Math.abs)));
    for (const [q, s] of series) for (const v of s) expect(v === 0 || Math.abs(v) > 1e-11 * most.get(q.unit)!, `${q.key} ${v}`).toBe(true);
    // What turns evenly has no acceleration at all.
    const even = series.find(([q]) => q.key === `joint:${wheel.joint}:acceleration`)![1];
    expect([...even].every((v) => v === 0)).toBe(true);
  });

  it('is one part of the largest force and of the largest rate, over the distance between the joints', () => {
    const f = floorsOf(c, r);
    // The joints stand 130 mm apart at most, along x.
    expect(f.moment / f.force).toBeCloseTo(0.13, 12);
    expect(f.sliding / f.turning).toBeCloseTo(0.13, 12);
    expect(f.slidingAcceleration / f.turningAcceleration).toBeCloseTo(0.13, 12);
    // A thousand newtons push the slide, less what its own mass takes; the crank turns at 97 rev/min.
    expect(f.force).toBeGreaterThanOrEqual(990 * 1e-11);
    expect(f.turning).toBeGreaterThanOrEqual(((97 * Math.PI) / 30) * 1e-11 * (1 - 1e-12));
    expect(f.turningAcceleration).toBeGreaterThanOrEqual((f.turning / 1e-11) ** 2 * 1e-11 * (1 - 1e-12));
    expect(f.power / 1e-11).toBeCloseTo((f.moment / 1e-11) * (f.turning / 1e-11), 6);
  });

  it('leaves every figure that is one as it is', () => {
    const power = quantities(c, r).find((q) => q.key.startsWith('source:') && q.key.endsWith(':power'))!;
    const { input, v } = r;
    for (let f = 0; f < r.frames; f++) {
      const own = input[f] * v[f * r.coordinates];
      if (Math.abs(own) > 1e-6) expect(power.at(f)).toBe(own);
    }
  });
});
