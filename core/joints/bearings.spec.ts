import { describe, expect, it } from 'vitest';
import { faceted } from '../solids/index';
import { type Bearing, bearingSolids } from './bearings';

const BEARING: Bearing = { at: 30, thrust: 'takes', form: 'rolling', inner: 20, outer: 47, width: 14, block: 'no' };
/** Along the axis and from it, mm. */
const extents = (b: Bearing) =>
  bearingSolids(b).map((solid) => {
    const s = faceted(solid);
    if (s.kind === 'turned') {
      const radii = s.section.filter((_, k) => k % 2 === 0),
        places = s.section.filter((_, k) => k % 2 === 1);
      return { from: Math.min(...places), to: Math.max(...places), inner: Math.min(...radii), outer: Math.max(...radii) };
    }
    if (s.kind !== 'prism') throw new Error(s.kind);
    const radius = (o: ArrayLike<number>): number => Math.max(...Array.from({ length: o.length / 2 }, (_, k) => Math.hypot(o[2 * k], o[2 * k + 1])));
    return { from: s.from, to: s.to, inner: radius(s.holes![0]), outer: radius(s.outline) };
  });

describe('what a bearing is made of', () => {
  it('is a bush over the whole width, about its place along the axis', () => {
    const [bush, ...more] = extents({ ...BEARING, form: 'plain' });
    expect(more).toEqual([]);
    expect(bush).toEqual({ from: 23, to: 37, inner: expect.closeTo(10, 9) as number, outer: expect.closeTo(23.5, 9) as number });
  });
  it('is two rings with a gap between them, the outer one at the outer diameter and the inner one on the shaft', () => {
    const [outer, inner] = extents(BEARING);
    for (const r of [outer, inner]) expect([r.from, r.to]).toEqual([23, 37]);
    expect(outer.outer).toBeCloseTo(23.5, 9);
    expect(inner.inner).toBeCloseTo(10, 9);
    expect(outer.inner).toBeGreaterThan(inner.outer);
    expect(outer.outer - outer.inner).toBeCloseTo(inner.outer - inner.inner, 9);
  });
  it('has a block round it where one is stated, wider than the bearing and within its width', () => {
    const all = extents({ ...BEARING, block: 'yes' });
    expect(all).toHaveLength(3);
    const block = all[2];
    expect(block.outer).toBeGreaterThan(23.5);
    expect((block.from + block.to) / 2).toBeCloseTo(30, 9);
    expect(block.to - block.from).toBeLessThan(14);
  });
});
