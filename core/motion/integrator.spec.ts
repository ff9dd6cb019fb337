import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { firstFound } from '../math/index';
import { DormandPrince, ERROR_OF, STAGE_AT, STAGE_OF, stepFactor } from './integrator';

const sum = (list: readonly number[], of: (i: number) => number = () => 1): number => list.reduce((s, x, i) => s + x * of(i), 0);

describe('the pair of Dormand and Prince', () => {
  it('stands where its stages stand: each row adds up to its place', () => {
    STAGE_OF.forEach((row, s) => expect(sum(row)).toBeCloseTo(STAGE_AT[s], 14));
  });
  it('is of order 5 by the conditions for straight quadrature, and its error is nothing for order 4', () => {
    // The last stage stands on the new state, so its row holds the weights.
    const weights = STAGE_OF[6];
    for (let q = 0; q <= 4; q++) expect(sum(weights, (i) => STAGE_AT[i] ** q)).toBeCloseTo(1 / (q + 1), 13);
    for (let q = 0; q <= 3; q++) expect(sum(ERROR_OF, (i) => STAGE_AT[i] ** q)).toBeCloseTo(0, 13);
    expect(Math.abs(sum(ERROR_OF, (i) => STAGE_AT[i] ** 4))).toBeGreaterThan(1e-4);
  });

  /** A swing x″ = −ω² x from (1, 0): its state is known at every time. */
  const swing = (omega: number) =>
    new DormandPrince((_t, y, out) => {
      out[0] = y[1];
      out[1] = -omega * omega * y[0];
      return true;
    }, 1e-8);
  const off = (h: number, omega = 2): number => {
    const d = swing(omega);
    let y: Float64Array = Float64Array.of(1, 0);
    const n = Math.round(1 / h);
    for (let k = 0; k < n; k++) y = d.step(k * h, y, h)!.y;
    return Math.abs(y[0] - Math.cos(omega));
  };
  it('halving the step makes the error about 32 times smaller', () => {
    const ratio = off(1 / 40) / off(1 / 80);
    expect(ratio).toBeGreaterThan(26);
    expect(ratio).toBeLessThan(40);
  });
  it('says an error that grows by 32 when the step is doubled, and asks for steps that keep to it', () => {
    const d = swing(3);
    const error = (h: number): number => d.step(0, Float64Array.of(1, -2), h)!.error;
    expect(Math.log2(error(0.1) / error(0.05))).toBeGreaterThan(4.5);
    expect(stepFactor(1)).toBeLessThan(1);
    expect(stepFactor(32)).toBeCloseTo(stepFactor(1) / 2, 12);
    expect(stepFactor(1e-9)).toBe(stepFactor(1e-6));
  });
  it('is exact where the rates are a polynomial of time up to the fourth power', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -5, max: 5 }), { minLength: 5, maxLength: 5 }), (c) => {
        const d = new DormandPrince((t, _y, out) => {
          out[0] = c.reduce((s, x, k) => s + x * t ** k, 0);
          return true;
        }, 1e-8);
        const { y } = d.step(0.5, Float64Array.of(0), 1.25)!;
        const whole = (t: number): number => c.reduce((s, x, k) => s + (x * t ** (k + 1)) / (k + 1), 0);
        expect(y[0]).toBeCloseTo(whole(1.75) - whole(0.5), 9);
      }),
    );
  });
  it('gives nothing where a state on the way does not exist, and goes on with states of another size', () => {
    const d = new DormandPrince((t, y, out) => {
      out.fill(1);
      return t < 0.5 || y.length > 1;
    }, 1e-8);
    expect(d.step(0, Float64Array.of(0), 1)).toBeUndefined();
    expect([...d.step(0, Float64Array.of(0, 3), 1)!.y].map((x) => Number(x.toFixed(12)))).toEqual([1, 4]);
    expect(d.step(0, Float64Array.of(0), 0.25)!.y[0]).toBeCloseTo(0.25, 14);
  });
});

describe('the first place at which something is found', () => {
  it('is found between what is and what is not, as near as asked for', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 0.99, noNaN: true }), fc.constantFrom(1e-3, 1e-6, 1e-9), (edge, width) => {
        const looks: number[] = [];
        const r = firstFound(0, 1, width, 'end', (x) => {
          looks.push(x);
          return x >= edge ? `at ${x}` : undefined;
        });
        expect(r.before).toBeLessThan(edge);
        expect(r.at).toBeGreaterThanOrEqual(edge);
        expect(r.at - r.before).toBeLessThanOrEqual(width);
        if (r.at < 1) expect(r.found).toBe(`at ${r.at}`);
        expect(looks.length).toBeLessThanOrEqual(50);
      }),
    );
  });
  it('keeps what was found last where a place cannot be looked at, and ends after fifty halvings', () => {
    let looked = 0;
    const r = firstFound(0, 1, 0, 'end', (_x, found) => {
      looked++;
      return found;
    });
    expect([r.found, r.before, looked]).toEqual(['end', 0, 50]);
  });
});
