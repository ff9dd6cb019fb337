import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chartSvg, ticksOf } from './chart';

describe('a chart on paper', () => {
  it('has round ticks that hold the range, some of them and not many', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), fc.double({ min: 1e-2, max: 1e6, noNaN: true }), (a, span) => {
        const { from, to, ticks } = ticksOf(a, a + span);
        expect(from).toBeLessThanOrEqual(a + 1e-6 * span);
        expect(to).toBeGreaterThanOrEqual(a + span - 1e-6 * span);
        expect(ticks.length).toBeGreaterThan(2);
        expect(ticks.length).toBeLessThan(10);
      }),
    );
    expect(ticksOf(0, 43).ticks).toEqual([0, 10, 20, 30, 40, 50]);
  });
  it('of one value, but for rounding, is a straight line with short labels', () => {
    const ys = Float64Array.from({ length: 50 }, (_, i) => -12 + 1e-12 * (i % 3));
    const { svg } = chartSvg({ xLabel: 't', yLabel: 'v', curves: [{ label: 'v', xs: Float64Array.from(ys, (_, i) => i), ys }] })!;
    for (const [, t] of svg.matchAll(/>([^<]+)</g)) expect(t.length).toBeLessThan(8);
  });
  it('keeps peaks of a curve with more points than can be drawn, and leaves out what has no value', () => {
    const n = 20_000;
    const xs = Float64Array.from({ length: n }, (_, i) => i);
    const ys = Float64Array.from({ length: n }, (_, i) => (i === 7777 ? 100 : 0));
    const draw = (y: Float64Array): string => chartSvg({ xLabel: 't', yLabel: 'v', curves: [{ label: 'v', xs, ys: y }] })!.svg;
    expect(draw(ys)).toMatch(/L\S+ 10\.0/);
    expect(draw(ys).length).toBeLessThan(20_000);
    expect(draw(ys.map((v, i) => (i % 100 ? v : NaN)))).not.toMatch(/NaN/);
    expect(chartSvg({ xLabel: '', yLabel: '', curves: [{ label: '', xs: [0], ys: [NaN] }] })).toBeUndefined();
  });
});
