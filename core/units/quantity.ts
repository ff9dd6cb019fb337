/**
 * What people type into a field: numbers, arithmetic, π and units, metric and inch mixed.
 * `12.566*18/pi`, `5 mm/rev`, `3/4 hp`, `2 ft + 3 in`, `5 ft 3 in`, `1 1/2 in`, `12° 30'`.
 * Values are exact fractions as long as no π comes in, so that 25.4/12 stays 25.4/12.
 */
import { Ratio, add, exactly, inverse, mul, neg, ratio, toNumber } from '../math/index';

/** Powers of length, mass, time and turn. */
export type Dimension = readonly [number, number, number, number];

interface Unit {
  dim: Dimension;
  /** Factor to mm, kg, s, turn (times π^pi). */
  q: Ratio;
  pi?: number;
}

const u = (dim: Dimension, q: string, pi?: number): Unit => ({ dim, q: exactly(q), pi });
const L: Dimension = [1, 0, 0, 0],
  M: Dimension = [0, 1, 0, 0],
  T: Dimension = [0, 0, 1, 0],
  A: Dimension = [0, 0, 0, 1];
const FORCE: Dimension = [1, 1, -2, 0],
  ENERGY: Dimension = [2, 1, -2, 0],
  POWER: Dimension = [2, 1, -3, 0],
  STRESS: Dimension = [-1, 1, -2, 0],
  PER_LENGTH: Dimension = [-1, 0, 0, 0],
  PER_TURN: Dimension = [1, 0, 0, -1];

/** Marks of a minute and a second: of arc behind degrees, feet and inches otherwise. */
const MARKS: Readonly<Record<string, { arc: string; length: string }>> = {
  "'": { arc: 'arcmin', length: 'ft' },
  '′': { arc: 'arcmin', length: 'ft' },
  '"': { arc: 'arcsec', length: 'in' },
  '″': { arc: 'arcsec', length: 'in' },
};

/** Base units: mm, kg, s, turn. The inch, pound and horsepower are the exact international ones. */
const UNITS: Record<string, Unit> = {
  mm: u(L, '1'),
  cm: u(L, '10'),
  m: u(L, '1000'),
  km: u(L, '1000000'),
  um: u(L, '0.001'),
  µm: u(L, '0.001'),
  in: u(L, '25.4'),
  ft: u(L, '304.8'),
  yd: u(L, '914.4'),
  mil: u(L, '0.0254'),
  kg: u(M, '1'),
  g: u(M, '0.001'),
  t: u(M, '1000'),
  lb: u(M, '0.45359237'),
  oz: u(M, '0.028349523125'),
  s: u(T, '1'),
  sec: u(T, '1'),
  ms: u(T, '0.001'),
  min: u(T, '60'),
  h: u(T, '3600'),
  rev: u(A, '1'),
  turn: u(A, '1'),
  turns: u(A, '1'),
  deg: u(A, '1/360'),
  '°': u(A, '1/360'),
  rad: u(A, '1/2', -1),
  rpm: u([0, 0, -1, 1], '1/60'),
  hz: u([0, 0, -1, 0], '1'),
  N: u(FORCE, '1000'),
  kN: u(FORCE, '1000000'),
  lbf: u(FORCE, '4448.2216152605'),
  ozf: u(FORCE, '278.01385095378125'),
  kgf: u(FORCE, '9806.65'),
  J: u(ENERGY, '1000000'),
  W: u(POWER, '1000000'),
  kW: u(POWER, '1000000000'),
  hp: u(POWER, '745699871.582270220'),
  PS: u(POWER, '735498750'),
  Nm: u(ENERGY, '1000000'),
  Nmm: u(ENERGY, '1000'),
  kNm: u(ENERGY, '1000000000'),
  Pa: u(STRESS, '1/1000'),
  kPa: u(STRESS, '1'),
  MPa: u(STRESS, '1000'),
  GPa: u(STRESS, '1000000'),
  bar: u(STRESS, '100'),
  psi: u(STRESS, '4448.2216152605/645.16'),
  tpi: u(PER_LENGTH, '1/25.4'),
  DP: u(PER_LENGTH, '1/25.4'),
  dp: u(PER_LENGTH, '1/25.4'),
  arcmin: u(A, '1/21600'),
  arcsec: u(A, '1/1296000'),
  '%': u([0, 0, 0, 0], '0.01'),
};

/** The units in which documents keep values, in terms of the ones above. */
const CANONICAL: Record<string, string> = {
  'kg/m3': 'kg/m^3',
  'kg·m²': 'kg*m^2',
  'N·m': 'N*m',
  '1/in': '1/in',
  'm/s²': 'm/s^2',
  'N·m/deg': 'N*m/deg',
  'mm²': 'mm^2',
  'in²': 'in^2',
  'cm²': 'cm^2',
  'm²': 'm^2',
  'N/mm²': 'N/mm^2',
};

/** What a name stands for in a formula. */
export interface NamedValue {
  dim: Dimension;
  /** Exact part times π^pi; `float` stands instead where exactness was lost. */
  q: Ratio;
  pi: number;
  float?: number;
}

const plus = (a: Dimension, b: Dimension, k = 1): Dimension => [a[0] + k * b[0], a[1] + k * b[1], a[2] + k * b[2], a[3] + k * b[3]];
const same = (a: Dimension, b: Dimension): boolean => a.every((v, i) => v === b[i]);
const isPlain = (a: Dimension): boolean => a.every((v) => v === 0);
const real = (v: NamedValue): number => v.float ?? toNumber(v.q) * Math.PI ** v.pi;

class Trouble extends Error {}

/** What a name stands for; undefined where there is no such name. A string says what is wrong with it. */
export type Names = (symbol: string) => NamedValue | string | undefined;
const NO_NAMES: Names = () => undefined;
/** A name in a formula: letters and digits, and an index behind an underscore. */
const NAME_FORM = '[A-Za-zµ\\u0370-\\u03ff][A-Za-z0-9\\u0370-\\u03ff]*(?:_[A-Za-z0-9]+)?';
const NAME = new RegExp(`^${NAME_FORM}`);
const NAMES = new RegExp(NAME_FORM, 'g');
/** What a symbol looks like. */
export const SYMBOL = new RegExp(`^${NAME_FORM}$`);

/** Recursive descent over `+ − * / ^ ( )`, numbers, functions, π, names and units; a unit right behind a number binds closest. */
class Reader {
  private i = 0;
  /** Whether the last unit was one of arc, so that ′ and ″ divide degrees. */
  private arc = false;
  /** Whether a part in the hundred was typed, which is a plain number and nothing else. */
  hundredths = false;
  constructor(
    private readonly s: string,
    private readonly names: Names = NO_NAMES,
  ) {}

  all(): NamedValue {
    const v = this.sum();
    this.space();
    if (this.i < this.s.length) throw new Trouble(`“${this.s.slice(this.i, this.i + 12)}” is not understood`);
    return v;
  }
  private space(): void {
    while (/\s/.test(this.s[this.i] ?? '')) this.i++;
  }
  private take(...marks: string[]): string | undefined {
    this.space();
    const m = marks.find((x) => this.s.startsWith(x, this.i));
    if (m) this.i += m.length;
    return m;
  }
  private sum(): NamedValue {
    let v = this.product();
    for (let op = this.take('+', '-', '−'); op; op = this.take('+', '-', '−')) {
      let w = this.product();
      if (!same(v.dim, w.dim)) {
        // "2 ft + 3": a bare number beside a quantity is a slip, not a guess to make.
        throw new Trouble('these cannot be added: their units differ');
      }
      if (op !== '+') w = { ...w, q: neg(w.q), float: w.float === undefined ? undefined : -w.float };
      v =
        v.float !== undefined || w.float !== undefined || (v.pi !== w.pi && v.q.n !== 0n && w.q.n !== 0n)
          ? { dim: v.dim, q: v.q, pi: 0, float: real(v) + real(w) }
          : { dim: v.dim, q: add(v.q, w.q), pi: v.q.n === 0n ? w.pi : v.pi };
    }
    return v;
  }
  private product(): NamedValue {
    const negative = /^\s*[-−]/.test(this.s.slice(this.i));
    let v = this.withUnits(this.signed());
    // "5 ft 3 in", "12° 30′": a number with a unit of the same kind right behind one is added to it.
    while (!isPlain(v.dim) && /^\s*[\d.]/.test(this.s.slice(this.i))) {
      const w = this.withUnits(this.power());
      if (!same(v.dim, w.dim)) throw new Trouble('a sign is missing between these');
      v =
        v.float === undefined && w.float === undefined && v.pi === w.pi
          ? { ...v, q: add(v.q, negative ? neg(w.q) : w.q) }
          : { ...v, pi: 0, float: real(v) + (negative ? -1 : 1) * real(w) };
    }
    this.arc = false;
    for (;;) {
      const op = this.take('*', '×', '·', '/', '÷', ':');
      if (!op) return v;
      const w = this.signed();
      const join = op === '*' || op === '×' || op === '·' ? times : over;
      // "3/4 hp" is three quarters of a horsepower; "10 mm / 2 s" keeps the second unit with its own number.
      v = isPlain(v.dim) && isPlain(w.dim) ? this.withUnits(join(v, w)) : join(v, this.withUnits(w));
    }
  }
  private signed(): NamedValue {
    if (this.take('-', '−')) {
      const v = this.signed();
      return { ...v, q: neg(v.q), float: v.float === undefined ? undefined : -v.float };
    }
    this.take('+');
    return this.power();
  }
  private power(): NamedValue {
    let v = this.atom();
    this.space();
    const sup = /^[²³]/.exec(this.s.slice(this.i));
    if (sup) {
      this.i++;
      v = raise(v, sup[0] === '²' ? 2 : 3);
    }
    if (this.take('^', '**')) {
      const e = this.signed();
      if (!isPlain(e.dim)) throw new Trouble('an exponent has no unit');
      v = raise(v, real(e));
    }
    return v;
  }
  /** Units (or π) that follow without a sign between. */
  private withUnits(v: NamedValue): NamedValue {
    for (;;) {
      this.space();
      if (!/[A-Za-zµ°"'′″%\u0370-\u03ff]/.test(this.s[this.i] ?? '')) return v;
      v = times(v, this.power());
    }
  }
  private atom(): NamedValue {
    this.space();
    if (this.take('(')) {
      const v = this.sum();
      if (!this.take(')')) throw new Trouble('a closing bracket is missing');
      return v;
    }
    const n = NUMBER.exec(this.s.slice(this.i));
    if (n) {
      this.i += n[0].length;
      const whole = exactly(digitsOf(n[1]) + (n[2] ?? '').replace('−', '-'));
      // "1 1/2": a whole number and a fraction behind it.
      const part = /^\d+$/.test(n[0]) ? /^\s+(\d+)\s*[/⁄]\s*(\d+)(?![\d.,])/.exec(this.s.slice(this.i)) : null;
      if (!part) return { dim: [0, 0, 0, 0], q: whole, pi: 0 };
      if (part[1].length === 3) throw new Trouble(`“${n[0]}${part[0]}” may be read in two ways: type ${n[0]}${part[1]} without a space, or a sum`);
      if (/^0+$/.test(part[2])) throw new Trouble('this divides by zero');
      this.i += part[0].length;
      return { dim: [0, 0, 0, 0], q: add(whole, exactly(`${part[1]}/${part[2]}`)), pi: 0 };
    }
    const called = NAME.exec(this.s.slice(this.i))?.[0];
    const named = called === undefined ? undefined : this.names(called);
    if (typeof named === 'string') throw new Trouble(named);
    if (called !== undefined && named) {
      this.i += called.length;
      return named;
    }
    const w = /^([A-Za-zµ]+|[°"'′″%π])/.exec(this.s.slice(this.i));
    if (!w) {
      throw new Trouble(this.i >= this.s.length ? 'something is missing at the end' : `“${this.s.slice(this.i, this.i + 12)}” is not understood`);
    }
    this.i += w[0].length;
    const name = w[0];
    if (name === 'pi' || name === 'π') return { dim: [0, 0, 0, 0], q: ratio(1), pi: 1 };
    // “min” is a minute, too.
    if (Object.hasOwn(FUNCTIONS, name) && (name !== 'min' || /^\s*\(/.test(this.s.slice(this.i)))) {
      if (!this.take('(')) throw new Trouble(`${name} needs brackets`);
      const of = [this.sum()];
      while (this.take(';')) of.push(this.sum());
      if (!this.take(')')) throw new Trouble('a closing bracket is missing');
      const { takes, gives } = FUNCTIONS[name];
      if (of.length < takes || (takes === 1 && of.length > 1)) {
        throw new Trouble(`${name} takes ${takes === 1 ? 'one value' : 'two values or more, with ; between'}`);
      }
      return gives(of);
    }
    const mark = Object.hasOwn(MARKS, name) ? UNITS[MARKS[name][this.arc ? 'arc' : 'length']] : undefined;
    if (name === '°' || name === 'deg') this.arc = true;
    if (mark) return { dim: mark.dim, q: mark.q, pi: 0 };
    if (name === '%') this.hundredths = true;
    const unit = Object.hasOwn(UNITS, name) ? UNITS[name] : Object.hasOwn(UNITS, name.toLowerCase()) ? UNITS[name.toLowerCase()] : undefined;
    if (!unit) {
      throw new Trouble(this.names === NO_NAMES ? `“${name}” is no unit known here` : `“${called ?? name}” is no unit and no named quantity`);
    }
    return { dim: unit.dim, q: unit.q, pi: unit.pi ?? 0 };
  }
}

/** A number as people write it: digits with or without separators, and a power of ten. */
const NUMBER = /^((?:\d{1,3}(?:[\u202f\u00a0\u2009 ]\d{3})+(?![\d]|\s*[/⁄])(?:[.,]\d+)?)|\d[\d.,]*|[.,]\d+)(e[+−-]?\d+)?/i;

/**
 * Digits without what separates thousands. Commas and dots: where both stand, the last is the
 * decimal sign; where one stands several times, it separates thousands; a single dot is the
 * decimal sign; a single comma is it too, unless exactly three digits follow a group of one to
 * three that does not begin with nought. That may be read either way, so it is asked about.
 */
function digitsOf(text: string): string {
  const s = text.replace(/[\u202f\u00a0\u2009 ]/g, '');
  const last = Math.max(s.lastIndexOf(','), s.lastIndexOf('.'));
  if (last < 0) return s;
  const sign = s[last];
  const other = sign === ',' ? '.' : ',';
  const wrong = new Trouble(`“${text}” is no number: are the separators where they should be?`);
  const grouped = (t: string, by: string): string => {
    const groups = t.split(by);
    if (groups.length > 1 && !(/^\d{1,3}$/.test(groups[0]) && groups.slice(1).every((g) => /^\d{3}$/.test(g)))) throw wrong;
    return groups.join('');
  };
  if (s.includes(other)) return `${grouped(s.slice(0, last), other)}.${s.slice(last + 1)}`;
  if (s.indexOf(sign) !== last) return grouped(s, sign);
  const [before, after] = [s.slice(0, last), s.slice(last + 1)];
  if (sign === ',' && /^[1-9]\d{0,2}$/.test(before) && /^\d{3}$/.test(after)) {
    throw new Trouble(`“${text}” may be ${before}${after} or ${before}.${after}: type one of them`);
  }
  return `${before || '0'}.${after || '0'}`;
}

/** Larger fractions are not worked out: no drive needs them, and powers of powers would never end. */
const LARGEST_PART = 2n ** 4096n;
function bounded(v: NamedValue): NamedValue {
  const { n, d } = v.q;
  if (n > LARGEST_PART || n < -LARGEST_PART || d > LARGEST_PART) throw new Trouble('this number is out of range');
  return v;
}

function times(a: NamedValue, b: NamedValue): NamedValue {
  const dim = plus(a.dim, b.dim);
  return a.float !== undefined || b.float !== undefined
    ? { dim, q: a.q, pi: 0, float: real(a) * real(b) }
    : bounded({ dim, q: mul(a.q, b.q), pi: a.pi + b.pi });
}
function over(a: NamedValue, b: NamedValue): NamedValue {
  if (real(b) === 0) throw new Trouble('this divides by zero');
  const dim = plus(a.dim, b.dim, -1);
  return a.float !== undefined || b.float !== undefined
    ? { dim, q: a.q, pi: 0, float: real(a) / real(b) }
    : bounded({ dim, q: mul(a.q, inverse(b.q)), pi: a.pi - b.pi });
}
function raise(v: NamedValue, e: number): NamedValue {
  if (!Number.isInteger(e)) {
    if (!isPlain(v.dim)) throw new Trouble('only whole powers of a unit');
    return { dim: v.dim, q: v.q, pi: 0, float: real(v) ** e };
  }
  if (Math.abs(e) > 64) throw new Trouble('the exponent is too large');
  let out: NamedValue = { dim: [0, 0, 0, 0], q: ratio(1), pi: 0 };
  for (let k = 0; k < Math.abs(e); k++) out = e > 0 ? times(out, v) : over(out, v);
  return out;
}
const ofFloat = (y: number, dim: Dimension = [0, 0, 0, 0]): NamedValue => ({ dim, q: ratio(0), pi: 0, float: y });
const plainOf = (name: string, x: NamedValue): NamedValue => {
  if (!isPlain(x.dim)) throw new Trouble(`${name} takes a plain number`);
  return x;
};
const angle = (name: string, x: NamedValue): number => {
  if (same(x.dim, A)) return real(x) * 2 * Math.PI;
  if (isPlain(x.dim)) return (real(x) * Math.PI) / 180;
  throw new Trouble(`${name} takes an angle`);
};
/** The whole number at or below an exact fraction. */
const floorOf = (x: Ratio): bigint => x.n / x.d - (x.n < 0n && x.n % x.d !== 0n ? 1n : 0n);
/** A whole number made of a plain one: exactly where that is exact. */
const whole = (name: string, exact: (x: Ratio) => bigint, about: (x: number) => number) => ({
  takes: 1,
  gives: ([x]: readonly NamedValue[]): NamedValue => {
    plainOf(name, x);
    if (x.float === undefined && (x.pi === 0 || x.q.n === 0n)) return { dim: x.dim, q: ratio(exact(x.q)), pi: 0 };
    const y = about(real(x));
    if (!Number.isSafeInteger(y)) throw new Trouble('this number is out of range');
    return { dim: x.dim, q: ratio(y), pi: 0 };
  },
});
const extreme = (name: string, better: (a: number, b: number) => boolean) => ({
  takes: 2,
  gives: ([first, ...others]: readonly NamedValue[]): NamedValue => {
    if (!others.every((x) => same(x.dim, first.dim))) throw new Trouble(`the values of ${name} have different units`);
    return others.reduce((best, x) => (better(real(x), real(best)) ? x : best), first);
  },
});
/** Functions of formulas. Those of angles take degrees where no unit stands there. */
const FUNCTIONS: Readonly<Record<string, { readonly takes: number; readonly gives: (of: readonly NamedValue[]) => NamedValue }>> = {
  sqrt: {
    takes: 1,
    gives: ([x]) => {
      if (real(plainOf('sqrt', x)) < 0) throw new Trouble('sqrt of a negative number');
      return ofFloat(Math.sqrt(real(x)));
    },
  },
  sin: { takes: 1, gives: ([x]) => ofFloat(Math.sin(angle('sin', x))) },
  cos: { takes: 1, gives: ([x]) => ofFloat(Math.cos(angle('cos', x))) },
  tan: { takes: 1, gives: ([x]) => ofFloat(Math.tan(angle('tan', x))) },
  abs: { takes: 1, gives: ([x]) => ({ ...x, q: x.q.n < 0n ? neg(x.q) : x.q, ...(x.float !== undefined && { float: Math.abs(x.float) }) }) },
  // Halves go up, as a draughtsman rounds.
  round: whole('round', (x) => floorOf(add(x, exactly('1/2'))), Math.round),
  floor: whole('floor', floorOf, Math.floor),
  ceil: whole('ceil', (x) => -floorOf(neg(x)), Math.ceil),
  min: extreme('min', (a, b) => a < b),
  max: extreme('max', (a, b) => a > b),
};

const cache = new Map<string, NamedValue>();
function unitValue(name: string): NamedValue {
  let v = cache.get(name);
  if (!v) {
    v = name === '' ? { dim: [0, 0, 0, 0], q: ratio(1), pi: 0 } : new Reader((CANONICAL[name] ?? name).replaceAll('·', '*')).all();
    cache.set(name, v);
  }
  return v;
}

/** What was read: the value in the unit asked for, as a number and, where it is one, as an exact fraction. */
export interface Quantity {
  value: number;
  exact?: Ratio;
}

/** What was typed, with its own dimension. The micro sign and the Greek letter look alike. */
const readerOf = (text: string, names?: Names): Reader => new Reader(text.trim().replace(/^=/, '').replaceAll('\u03bc', '\u00b5'), names);

/** Does what was typed name a unit itself, as in “3/4 in”? Not where it cannot be read. */
export function namesUnit(text: string, names?: Names): boolean {
  try {
    return text.length <= 200 && !isPlain(readerOf(text, names).all().dim);
  } catch (e) {
    if (e instanceof Trouble || e instanceof RangeError) return false;
    throw e;
  }
}

/**
 * Reads what was typed as a value in `unit` (as documents keep it: 'mm', 'rev/min', 'N·m', '' …). A bare number
 * is in that unit. `names` says what stands for a name. Gives a message for people when it cannot be read or has other
 * dimensions. Never throws.
 */
export function readQuantity(text: string, unit = '', names?: Names): Quantity | { problem: string } {
  if (text.trim() === '') return { problem: 'nothing is typed here' };
  if (text.length > 200) return { problem: 'this is too long' };
  let v: NamedValue;
  const reader = readerOf(text, names);
  try {
    v = reader.all();
  } catch (e) {
    if (e instanceof Trouble) return { problem: e.message };
    if (e instanceof RangeError) return { problem: 'this number is out of range' };
    throw e;
  }
  const want = unitValue(unit);
  // Threads to the inch and diametral pitch are a pitch and a module the other way up.
  if ((same(want.dim, L) && same(v.dim, PER_LENGTH)) || (same(want.dim, PER_LENGTH) && same(v.dim, L))) {
    v = over({ dim: [0, 0, 0, 0], q: ratio(1), pi: 0 }, v);
  }
  let bare = isPlain(v.dim);
  const other = { problem: unit ? `this is not a quantity in ${unit}` : 'a plain number is wanted here' };
  // A travel per turn may be typed for a travel; a number of turns is plain. Nothing else drops its turns.
  if (!bare && !same(v.dim, want.dim) && !(same(want.dim, L) && same(v.dim, PER_TURN)) && !(unit === '' && same(v.dim, A))) return other;
  if (bare && reader.hundredths && !isPlain(want.dim)) return other;
  // An angle is no plain number, though turns are counted.
  if (unit === '' && same(v.dim, A)) return { problem: 'a plain number is wanted here' };
  if (unit === '') bare = true;
  if (isPlain(want.dim) && !isPlain(v.dim) && !same(v.dim, want.dim) && v.dim[0] + v.dim[1] + v.dim[2] !== 0) {
    return { problem: 'a plain number is wanted here' };
  }
  const out = bare ? v : over(v, want);
  const value = real(out);
  if (!Number.isFinite(value)) return { problem: 'this number is out of range' };
  return out.float === undefined && out.pi === 0 ? { value, exact: out.q } : { value };
}

/** A value in a unit (as documents keep it) for formulas that name it; exact where it is a fraction. */
export function namedValue(value: number | Ratio, unit: string): NamedValue {
  const one = unitValue(unit);
  return typeof value === 'number' && !Number.isFinite(value)
    ? ofFloat(value, one.dim)
    : times({ dim: [0, 0, 0, 0], q: typeof value === 'number' ? exactly(value) : value, pi: 0 }, one);
}
/** Every name of a text that `is` one, in the order in which they stand; whether the text can be read or not. */
export function namesIn(text: string, is: (symbol: string) => boolean): string[] {
  const out: string[] = [];
  replaceNames(text, (name) => {
    if (is(name)) out.push(name);
    return name;
  });
  return [...new Set(out)];
}
/** A text with its names replaced; what is no name stays. */
export const replaceNames = (text: string, by: (symbol: string) => string): string =>
  text.replace(NAMES, (name, at: number) =>
    // Behind digits it may be a power of ten.
    /\d/.test(text[at - 1] ?? '') && /^e\d*$/i.test(name) ? name : by(name),
  );
/** Why a word cannot be a name: units, functions and π have their meaning already. */
export function symbolProblem(symbol: string): string | undefined {
  if (!SYMBOL.test(symbol)) return 'a symbol is a letter, with letters and digits behind it, and an index behind an underscore';
  if (symbol === 'pi' || symbol === 'π' || Object.hasOwn(FUNCTIONS, symbol)) return `“${symbol}” has a meaning in formulas already`;
  if (Object.hasOwn(UNITS, symbol)) return `“${symbol}” is a unit`;
  return undefined;
}

/**
 * The value of `from` stated in `to`; both unit names as documents
 * or fields use them. Throws a RangeError where dimensions differ.
 */
export function convert(value: number, from: string, to: string): number {
  const a = unitValue(from),
    b = unitValue(to);
  if (!same(a.dim, b.dim)) throw new RangeError(`${from} is no measure of ${to}`);
  return (value * real(a)) / real(b);
}

/** What a value in `from` is multiplied by to be stated in `to`, exactly; undefined where π comes in or the dimensions differ. */
export function convertExact(from: string, to: string): Ratio | undefined {
  const a = unitValue(from),
    b = unitValue(to);
  return same(a.dim, b.dim) && a.pi === b.pi && a.float === undefined && b.float === undefined ? mul(a.q, inverse(b.q)) : undefined;
}

/** A number for reading: at most `digits` significant figures, thin spaces between thousands, a true minus. */
export function show(value: number, digits = 5): string {
  if (!Number.isFinite(value)) return '–';
  if (value === 0) return '0';
  const size = Math.abs(value);
  if (size >= 1e9 || size < 1e-4) {
    return value
      .toExponential(Math.max(0, digits - 2))
      .replace('-', '−')
      .replace('e+', 'e');
  }
  const text = String(Number(size.toPrecision(digits)));
  const [whole, part] = text.split('.');
  const grouped = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, '\u202f') : whole;
  return `${value < 0 ? '−' : ''}${grouped}${part ? `.${part}` : ''}`;
}
