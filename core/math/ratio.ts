/**
 * Exact fractions of whole numbers of any size.
 *
 * A registry package was measured first; it reduces every product by a full greatest common divisor, which makes
 * the ratio of a long train quadratic in its length. Here a product is reduced across (numerator of one against
 * denominator of the other), so that multiplying a long fraction by a pair of tooth counts costs one pass.
 */
export interface Ratio {
  readonly n: bigint;
  /** Always positive. */
  readonly d: bigint;
}

export const ZERO: Ratio = { n: 0n, d: 1n };
export const ONE: Ratio = { n: 1n, d: 1n };

const abs = (x: bigint): bigint => (x < 0n ? -x : x);

function gcd(a: bigint, b: bigint): bigint {
  a = abs(a);
  b = abs(b);
  while (b !== 0n) {
    if (a <= 0xffffffffn && b <= 0xffffffffn) {
      let x = Number(a);
      let y = Number(b);
      while (y !== 0) [x, y] = [y, x % y];
      return BigInt(x);
    }
    [a, b] = [b, a % b];
  }
  return a;
}

/** The fraction n/d in lowest terms. Throws a RangeError when d is zero. */
export function ratio(n: bigint | number, d: bigint | number = 1n): Ratio {
  let num = BigInt(n);
  let den = BigInt(d);
  if (den === 0n) throw new RangeError('a fraction needs a denominator other than zero');
  if (den < 0n) [num, den] = [-num, -den];
  const g = gcd(num, den);
  return g > 1n ? { n: num / g, d: den / g } : { n: num, d: den };
}

const EXACT_TEXT = /^([+-]?)(\d*)(?:\.(\d*))?(?:e([+-]?\d{1,3}))?$/i;

function decimal(text: string): Ratio | undefined {
  const m = EXACT_TEXT.exec(text.trim());
  if (!m || !(m[2] || m[3])) return undefined;
  const [, sign, whole = '', part = '', power = '0'] = m;
  const shift = Number(power) - part.length;
  let n = BigInt((whole || '0') + part);
  if (sign === '-') n = -n;
  return shift >= 0 ? ratio(n * 10n ** BigInt(shift)) : ratio(n, 10n ** BigInt(-shift));
}

/**
 * The longest text that is read as an exact number: no drive needs more,
 * and the cost of longer ones grows with the square of their length.
 */
export const LONGEST_EXACT = 40;

/**
 * Reads a number exactly as it is written: `4.5`, `"25.4/12"`, `-0.3e2`.
 * Gives undefined for anything else, and for more than 40 characters.
 */
export function parseRatio(value: number | string): Ratio | undefined {
  if (typeof value === 'number' ? !Number.isFinite(value) : value.length > LONGEST_EXACT) return undefined;
  const [top, bottom, ...rest] = String(value).split('/');
  if (top === undefined || rest.length) return undefined;
  const n = decimal(top);
  if (!n || bottom === undefined) return n;
  const d = decimal(bottom);
  return d && d.n !== 0n ? div(n, d) : undefined;
}

/** As parseRatio, for values that a schema has checked already. Throws a RangeError otherwise. */
export function exactly(value: number | string): Ratio {
  const r = parseRatio(value);
  if (!r) throw new RangeError(`not an exact number: ${value}`);
  return r;
}

export const neg = (a: Ratio): Ratio => ({ n: -a.n, d: a.d });
export const isZero = (a: Ratio): boolean => a.n === 0n;
export const equal = (a: Ratio, b: Ratio): boolean => a.n === b.n && a.d === b.d;
export const inverse = (a: Ratio): Ratio => ratio(a.d, a.n);

export function mul(a: Ratio, b: Ratio): Ratio {
  const g = gcd(a.n, b.d);
  const h = gcd(b.n, a.d);
  if (a.n === 0n || b.n === 0n) return ZERO;
  return { n: (a.n / g) * (b.n / h), d: (a.d / h) * (b.d / g) };
}

export const div = (a: Ratio, b: Ratio): Ratio => mul(a, inverse(b));

export function add(a: Ratio, b: Ratio): Ratio {
  if (a.d === b.d) return a.d === 1n ? { n: a.n + b.n, d: 1n } : ratio(a.n + b.n, a.d);
  return ratio(a.n * b.d + b.n * a.d, a.d * b.d);
}

export const sub = (a: Ratio, b: Ratio): Ratio => add(a, neg(b));

const bits = (x: bigint): number => {
  const hex = abs(x).toString(16);
  return hex.length * 4;
};

/** The nearest double, correct also where numerator or denominator are far beyond the range of doubles. */
export function toNumber(a: Ratio): number {
  if (a.n === 0n) return 0;
  const direct = Number(a.n) / Number(a.d);
  if (abs(a.n) < 1n << 53n && a.d < 1n << 53n) return direct;
  const shift = 64 - (bits(a.n) - bits(a.d));
  const q = shift >= 0 ? (abs(a.n) << BigInt(shift)) / a.d : abs(a.n) / (a.d << BigInt(-shift));
  let value = Number(q);
  for (let s = shift; s !== 0;) {
    const step = Math.max(-1000, Math.min(1000, s));
    value *= 2 ** -step;
    s -= step;
  }
  return a.n < 0n ? -value : value;
}

/** `3`, `-77/1820`. */
export const toText = (a: Ratio): string => (a.d === 1n ? a.n.toString() : `${a.n}/${a.d}`);
