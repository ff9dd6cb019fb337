import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  add,
  div,
  equal,
  exactly,
  inverse,
  mul,
  neg,
  parseRatio,
  piAdd,
  piDiv,
  piMul,
  piRatio,
  piToNumber,
  piToProportion,
  piToText,
  ratio,
  sub,
  toNumber,
  toText,
} from './index';

const fraction = fc.tuple(fc.integer({ min: -5000, max: 5000 }), fc.integer({ min: 1, max: 5000 })).map(([n, d]) => ratio(n, d));

describe('exact fractions', () => {
  it('reads decimals and fractions as they are written', () => {
    expect(toText(exactly('25.4/12'))).toBe('127/60');
    expect(toText(exactly(3.175))).toBe('127/40');
    expect(toText(exactly('-0.3e2'))).toBe('-30');
    for (const bad of ['', 'x', '1/0', '1/2/3', NaN, Infinity, '--1']) expect(parseRatio(bad)).toBeUndefined();
  });

  it('keeps the laws of a field', () => {
    fc.assert(
      fc.property(fraction, fraction, fraction, (a, b, c) => {
        expect(equal(mul(a, add(b, c)), add(mul(a, b), mul(a, c)))).toBe(true);
        expect(equal(sub(add(a, b), b), a)).toBe(true);
        if (b.n !== 0n) expect(equal(mul(div(a, b), b), a)).toBe(true);
        expect(equal(neg(neg(a)), a)).toBe(true);
      }),
    );
  });

  it('turns fractions far beyond doubles into the nearest double', () => {
    const big = 10n ** 400n;
    expect(toNumber(ratio(3n * big, 2n * big))).toBe(1.5);
    expect(toNumber(ratio(3n * big + 1n, 2n * big))).toBeCloseTo(1.5, 14);
    expect(toNumber(ratio(-1n, 3n ** 600n))).toBeCloseTo(-(3 ** -600), 300);
    expect(toNumber(inverse(ratio(7)))).toBe(1 / 7);
  });
});

describe('fractions of powers of π', () => {
  it('writes travel per turn and its inverse the way drawings do', () => {
    expect(piToText(piRatio(ratio(15), 1))).toBe('15π');
    expect(piToText(piRatio(ratio(-11, 260)))).toBe('-11/260');
    expect(piToText(piRatio(ratio(17, 2), 1))).toBe('17π/2');
    expect(piToText(piRatio(ratio(1, 15), -1))).toBe('1/(15π)');
    expect(piToProportion(piRatio(ratio(-11, 260)))).toBe('-11 : 260');
    expect(piToProportion(piRatio(ratio(3, 2), 1))).toBe('3π : 2');
  });

  it('multiplies and divides powers, and refuses to add different ones', () => {
    const a = piRatio(ratio(2), 1),
      b = piRatio(ratio(3), -1);
    expect(piToNumber(piMul(a, b))).toBe(6);
    expect(piToNumber(piDiv(a, b))).toBeCloseTo((2 * Math.PI ** 2) / 3, 14);
    expect(piAdd(a, b)).toBeUndefined();
    expect(piAdd(a, a)!.q).toEqual(ratio(4));
  });
});
