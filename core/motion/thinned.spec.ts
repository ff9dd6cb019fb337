import { describe, expect, it } from 'vitest';
import { figuresOf, thinned, thinnedOver } from './index';
import { Builder } from '../testing/designs';
import { compile } from '../kinematics/index';
import { Runner } from './index';

describe('curves of long runs', () => {
  it('are thinned without losing what stands out', () => {
    const n = 20_000;
    const x = Float64Array.from({ length: n }, (_, f) => f / 100);
    const at = (f: number): number => Math.sin(f / 900) + (f === 12_345 ? 7 : 0) - (f === 777 ? 5 : 0);
    const t = thinned(x, at, n);
    expect(t.x.length).toBeLessThan(2000);
    expect(Math.max(...t.y)).toBe(at(12_345));
    expect(Math.min(...t.y)).toBe(at(777));
    expect([...t.x]).toEqual([...t.x].sort((a, b) => a - b));
    expect([t.x[0], t.x.at(-1)]).toEqual([0, x[n - 1]]);
    expect(thinned(x, at, 100).y).toHaveLength(100);
  });
  // Mean and root mean square of a whole sine: 0 and 1/√2; of a ramp
  // from 0 to 1: 1/2 and 1/√3 (any text on electrical measurement).
  it('have the least, greatest, mean and root mean square that they should', () => {
    const n = 2001;
    const x = Float64Array.from({ length: n }, (_, f) => (2 * Math.PI * f) / (n - 1));
    const s = figuresOf(x, (f) => Math.sin(x[f]), n);
    expect(s.mean).toBeCloseTo(0, 12);
    expect(s.rms).toBeCloseTo(Math.SQRT1_2, 5);
    expect([s.least, s.greatest].map((v) => Number(v.toFixed(5)))).toEqual([-1, 1]);
    const uneven = [0, 0.1, 0.7, 1];
    const r = figuresOf(uneven, (f) => uneven[f], 4);
    expect(r.mean).toBeCloseTo(0.5, 12);
    expect(r.rms).toBeCloseTo(1 / Math.sqrt(3), 12);
    expect(figuresOf([3], () => -2, 1)).toEqual({ least: -2, greatest: -2, mean: -2, rms: 2 });
  });
  it('a run that is ended keeps the frames that it has', () => {
    const b = new Builder();
    const s = b.shaft([0, 0, 0]);
    b.motor(s.joint, 60);
    const r = new Runner(compile(b.design), { duration: 10, frames: 101 });
    for (let k = 0; k < 30; k++) r.step();
    r.endHere();
    expect(r.step()).toBe(false);
    expect(r.progress).toBe(1);
    expect(r.result.frames).toBe(31);
    expect(r.result.time[30]).toBeCloseTo(3, 9);
  });
});

describe('a quantity over another', () => {
  const time = Float64Array.from({ length: 5001 }, (_, k) => k / 5000);
  const turn = (k: number): number => 2 * Math.PI * time[k];
  it('is the closed curve that both give, with the time of each point', () => {
    const c = thinnedOver(
      time,
      (k) => Math.cos(turn(k)),
      (k) => Math.sin(turn(k)),
      time.length,
    );
    expect(c.x.length).toBeLessThan(4000);
    c.x.forEach((x, i) => {
      expect(Math.hypot(x, c.y[i])).toBeCloseTo(1, 12);
      expect(Math.cos(2 * Math.PI * c.time[i])).toBeCloseTo(x, 12);
    });
    c.time.forEach((t, i) => expect(i === 0 || t > c.time[i - 1]).toBe(true));
    expect([c.time[0], c.time[c.time.length - 1]]).toEqual([0, 1]);
  });
  it('keeps a peak of either that lasts one instant', () => {
    const peak = (at: number) => (k: number) => (k === at ? 9 : Math.sin(turn(k)));
    const c = thinnedOver(time, peak(1234), peak(4321), time.length);
    expect(Math.max(...c.x)).toBe(9);
    expect(Math.max(...c.y)).toBe(9);
  });
});
