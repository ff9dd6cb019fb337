import { ONE, Ratio, add, div, equal, isZero, mul, neg, ratio, toNumber } from './ratio';

/** A fraction times a whole power of π: what tooth counts, modules and leads can make. */
export interface PiRatio {
  readonly q: Ratio;
  readonly pi: number;
}

export const piRatio = (q: Ratio, pi = 0): PiRatio => ({ q, pi: isZero(q) ? 0 : pi });
export const PI_ONE: PiRatio = { q: ONE, pi: 0 };
export const piMul = (a: PiRatio, b: PiRatio): PiRatio => piRatio(mul(a.q, b.q), a.pi + b.pi);
export const piDiv = (a: PiRatio, b: PiRatio): PiRatio => piRatio(div(a.q, b.q), a.pi - b.pi);
export const piNeg = (a: PiRatio): PiRatio => ({ q: neg(a.q), pi: a.pi });
export const piEqual = (a: PiRatio, b: PiRatio): boolean => a.pi === b.pi && equal(a.q, b.q);
export const piIsZero = (a: PiRatio): boolean => isZero(a.q);
export const piToNumber = (a: PiRatio): number => toNumber(a.q) * Math.PI ** a.pi;

/** The sum, or undefined where the powers of π differ: the caller then goes on in floating point. */
export function piAdd(a: PiRatio, b: PiRatio): PiRatio | undefined {
  if (piIsZero(a)) return b;
  if (piIsZero(b)) return a;
  return a.pi === b.pi ? piRatio(add(a.q, b.q), a.pi) : undefined;
}

const POWERS = ['⁰', '¹', '²', '³', '⁴', '⁵', '⁶', '⁷', '⁸', '⁹'];
const power = (k: number): string => {
  if (k === 1) return 'π';
  const digits = [...String(Math.abs(k))].map((c) => POWERS[Number(c)]).join('');
  return `π${k < 0 ? '⁻' : ''}${digits}`;
};

/** `15π`, `-77/1820`, `17π/2`, `1/(15π)`. */
export function piToText(a: PiRatio): string {
  const { n, d } = a.q;
  if (a.pi === 0) return d === 1n ? `${n}` : `${n}/${d}`;
  if (a.pi > 0) {
    const top = n === 1n ? '' : n === -1n ? '-' : `${n}`;
    return `${top}${power(a.pi)}${d === 1n ? '' : `/${d}`}`;
  }
  const below = power(-a.pi);
  return d === 1n ? `${n}/${below}` : `${n}/(${d}${below})`;
}

/** `-77 : 1820`, the way ratios are written on drawings; powers of π stay with the side they belong to. */
export function piToProportion(a: PiRatio): string {
  const side = (x: bigint, k: number): string => (k <= 0 ? `${x}` : x === 1n ? power(k) : `${x}${power(k)}`);
  return `${side(a.q.n, a.pi)} : ${side(a.q.d, -a.pi)}`;
}

export const whole = (n: number): PiRatio => ({ q: ratio(n), pi: 0 });
