import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Design } from '../document/index';
import { compile } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { movedFree, run } from './index';

const lift = JSON.parse(readFileSync(new URL('../../demo/inspection-lift.json', import.meta.url), 'utf8')) as Design;

describe('what moved though nothing led it', () => {
  it('names the arms of a lift whose screw is taken out, by the way that they went', () => {
    const open: Design = { ...lift, sources: [], couplings: lift.couplings.filter((c) => c.type !== 'screw-nut' && !/screw/i.test(c.name ?? '')) };
    const c = compile(open);
    const r = run(c, { duration: 0.5, frames: 51 });
    const [first] = movedFree(c, r);
    expect(first.members).toContain('platform');
    const j = c.structure.firstOf.get(first.joint)!;
    const went = r.q[(r.frames - 1) * r.coordinates + j] - r.q[j];
    expect(first.by).toBeCloseTo(went * (first.slide ? 1e3 : 180 / Math.PI), 9);
    expect(Math.abs(first.by)).toBeGreaterThan(1);
  });
  it('names each of several freedoms once, the one that went farthest first', () => {
    const b = new Builder();
    const falls = [0, 100, 200].map((x, k) => b.slide([x, 0, 0], [0, 0, 1], 'frame', { mass: 1 + k, inertia: [1, 1, 1] }));
    const swings = b.shaft([300, 0, 0], 'frame', { axis: [0, 1, 0], up: [1, 0, 0], mass: 1, massCentre: [80, 0, 0], inertia: [0.01, 0.01, 0.01] });
    b.load('joint-load', { joint: falls[1].joint, value: -40 });
    const c = compile(b.design);
    const r = run(c, { duration: 0.2, frames: 21 });
    const moved = movedFree(c, r);
    expect(moved.map((m) => m.joint).sort()).toEqual([...falls, swings].map((x) => x.joint).sort());
    // Falling by g t²/2 = 196 mm; with 40 N more on 2 kg, by (g + 20) t²/2.
    const way = (j: string): number => moved.find((m) => m.joint === j)!.by;
    expect(Math.abs(way(falls[0].joint))).toBeCloseTo(196.13, 1);
    expect(Math.abs(way(falls[1].joint))).toBeCloseTo(596.13, 1);
    const part = (m: (typeof moved)[number]): number => Math.abs(m.by) / (m.slide ? 0.1 : 0.0573);
    for (let k = 1; k < moved.length; k++) expect(part(moved[k - 1])).toBeGreaterThanOrEqual(part(moved[k]));
  });
  it('names nothing of a train that is led, nor of one that stands by friction', () => {
    const led = compile(lift);
    expect(movedFree(led, run(led, { duration: 5, frames: 11 }))).toEqual([]);
    const held = compile({ ...lift, sources: [] });
    expect(movedFree(held, run(held, { duration: 1, frames: 11 }))).toEqual([]);
  });
});
