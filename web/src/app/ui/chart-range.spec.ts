import { describe, expect, it } from 'vitest';
import { rangeOf } from './chart-range';

const over = (f: (x: number) => number, n = 101) => {
  const xs = Array.from({ length: n }, (_, i) => i / (n - 1));
  return [{ xs, ys: xs.map(f) }];
};

describe('the range of a chart', () => {
  it('holds all of what stays within bounds, and zero', () => {
    expect(
      rangeOf(
        over((x) => 5 + Math.sin(6 * x)),
        0,
        1,
      )[0],
    ).toBe(0);
    const [lo, hi] = rangeOf(
      over((x) => 40 * Math.sin(2 * Math.PI * x)),
      0,
      1,
    );
    expect([lo, hi].map((v) => Math.round(v))).toEqual([-40, 40]);
    // A peak that is high, and still lets the rest be seen, is no peak to be cut.
    expect(
      rangeOf(
        over((x) => (x === 0.5 ? 40 : 1)),
        0,
        1,
      )[1],
    ).toBe(40);
    // A start or an impact that lasts is what the chart is for, however high.
    expect(
      rangeOf(
        over((x) => (Math.abs(x - 0.5) < 0.025 ? 500 : 1)),
        0,
        1,
      )[1],
    ).toBe(500);
  });
  it('cuts a peak without bound, as near a dead centre, at a height at which the rest can be seen', () => {
    const [, hi] = rangeOf(
      over((x) => Math.min(1 / Math.abs(x - 1), 1e9)),
      0,
      1,
    );
    expect(hi).toBeGreaterThan(5);
    expect(hi).toBeLessThan(200);
    expect(
      rangeOf(
        over((x) => (x === 1 ? -Infinity : 1)),
        0,
        1,
      ),
    ).toEqual([-2.5, 1]);
  });
  it('leaves few values, and values of nothing, as they are', () => {
    expect(rangeOf([{ xs: [0, 1], ys: [1, 1e9] }], 0, 1)).toEqual([0, 1e9]);
    expect(
      rangeOf(
        over(() => 0),
        0,
        1,
      ),
    ).toEqual([0, 0]);
    expect(
      rangeOf(
        over((x) => (x === 0.5 ? NaN : 1)),
        0,
        1,
      ),
    ).toEqual([0, 1]);
  });
});
