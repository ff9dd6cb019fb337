import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Design } from '../document/index';
import { compile } from '../kinematics/index';
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
  it('names nothing of a train that is led, nor of one that stands by friction', () => {
    const led = compile(lift);
    expect(movedFree(led, run(led, { duration: 5, frames: 11 }))).toEqual([]);
    const held = compile({ ...lift, sources: [] });
    expect(movedFree(held, run(held, { duration: 1, frames: 11 }))).toEqual([]);
  });
});
