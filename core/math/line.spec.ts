import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lastUpTo, lineAt } from './index';

const rising = fc.array(fc.double({ min: -1e3, max: 1e3, noNaN: true }), { minLength: 1, maxLength: 30 }).map((a) => [...a].sort((p, q) => p - q));

describe('straight lines through points', () => {
  it('find the last place that is not beyond, as a walk along them does', () => {
    fc.assert(
      fc.property(rising, fc.double({ min: -1100, max: 1100, noNaN: true }), (places, x) => {
        const walked = Math.max(0, places.filter((p) => p <= x).length - 1);
        expect(lastUpTo(places, x, places.length - 1)).toBe(walked);
      }),
    );
  });
  it('go through their points, stay between neighbours, end where they end, and jump behind a place that stands twice', () => {
    expect([-1, 0, 0.5, 1, 2, 9].map((x) => lineAt([0, 1, 1, 3], [0, 2, 10, 12], x))).toEqual([0, 0, 1, 10, 11, 12]);
    expect(lineAt([4], [7], 9)).toBe(7);
    expect(lineAt([], [], 1)).toBe(0);
  });
});
