import { type Ratio, ratio, toNumber } from '../math/index';

/** What is searched for: trains of pairs whose ratio is near one. */
export interface TrainSearch {
  /**
   * Speed of the output by that of the input, without its sense: what the tooth counts of drivers over those of driven wheels
   * come to.
   */
  readonly ratio: Ratio;
  /** By which part of it the ratio may differ, exactly. */
  readonly within: Ratio;
  /** Pairs one behind the other. */
  readonly pairs: 1 | 2 | 3;
  /** Tooth counts that a wheel may have. */
  readonly teeth: readonly number[];
  /** So many of the best are given. */
  readonly most?: number;
}

/** A train that was found. */
export interface FoundTrain {
  /** Teeth of driver and driven wheel of each pair. */
  readonly pairs: readonly (readonly [driver: number, driven: number])[];
  readonly ratio: Ratio;
  /** By which part of the wanted ratio it differs, signed. */
  readonly error: number;
  /** All teeth together. */
  readonly teeth: number;
}

/** What a search came to. */
export interface FoundTrains {
  /** The best, by error, then by teeth. */
  readonly trains: readonly FoundTrain[];
  /** How many there are in all; a pair counts once whatever teeth its ratio is made with. */
  readonly count: number;
  /** Everything was looked at. Otherwise there are more than are counted: the tolerance is too wide for a search. */
  readonly complete: boolean;
}

/** Tooth counts in a search, and trains that are counted, at most. */
export const MOST_COUNTS = 400;
const MOST_FOUND = 3_000_000;

/** The distinct ratios of one pair in order, each with the fewest teeth that make it. */
interface Pairs {
  values: Float64Array;
  drivers: Int32Array;
  drivens: Int32Array;
  /** In lowest terms. */
  n: Float64Array;
  d: Float64Array;
}

function gcd(a: number, b: number): number {
  while (b) [a, b] = [b, a % b];
  return a;
}

function pairsOf(teeth: readonly number[]): Pairs {
  const sorted = [...new Set(teeth)].sort((a, b) => a - b);
  const best = new Map<string, [driver: number, driven: number, n: number, d: number]>();
  for (const driver of sorted) {
    for (const driven of sorted) {
      const g = gcd(driver, driven);
      const key = `${driver / g}/${driven / g}`;
      // Counts rise: the first has the fewest teeth.
      if (!best.has(key)) best.set(key, [driver, driven, driver / g, driven / g]);
    }
  }
  const all = [...best.values()].sort((a, b) => a[2] * b[3] - b[2] * a[3]);
  return {
    values: Float64Array.from(all, (p) => p[2] / p[3]),
    drivers: Int32Array.from(all, (p) => p[0]),
    drivens: Int32Array.from(all, (p) => p[1]),
    n: Float64Array.from(all, (p) => p[2]),
    d: Float64Array.from(all, (p) => p[3]),
  };
}

/** The first index whose value is no less than x. */
function lowerBound(values: Float64Array, x: number): number {
  let [a, b] = [0, values.length];
  while (a < b) {
    const m = (a + b) >> 1;
    if (values[m] < x) a = m + 1;
    else b = m;
  }
  return a;
}

/** Rounding of a product of a few fractions, as a part of it. */
const ROUNDING = 1e-12;

/** Keeps the best of what it is given. */
class Best {
  private kept: FoundTrain[] = [];
  private worst = Infinity;
  count = 0;
  constructor(
    private readonly wanted: TrainSearch,
    private readonly pairs: Pairs,
    private readonly most: number,
  ) {}

  /** A train by the indices of its pairs, whose ratio is about right; it counts where it is within the tolerance exactly. */
  offer(...indices: number[]): void {
    const { ratio: t, within } = this.wanted;
    const { n, d, drivers, drivens } = this.pairs;
    let [num, den] = [1, 1];
    for (const i of indices) {
      num *= n[i];
      den *= d[i];
    }
    // Products of three counts are whole numbers within doubles; what they are compared with need not be.
    const [big, small] = [BigInt(num) * t.d, BigInt(den) * t.n];
    const off = big - small;
    if ((off < 0n ? -off : off) * within.d > within.n * small) return;
    this.count++;
    const error = Number(off) / Number(small);
    if (Math.abs(error) > this.worst) return;
    const pairs = indices.map((i) => [drivers[i], drivens[i]] as const);
    this.kept.push({ pairs, ratio: ratio(num, den), error, teeth: pairs.reduce((s, [a, b]) => s + a + b, 0) });
    if (this.kept.length >= 4 * this.most) this.cut();
  }
  private cut(): void {
    this.kept.sort((a, b) => Math.abs(a.error) - Math.abs(b.error) || a.teeth - b.teeth);
    this.kept.length = Math.min(this.kept.length, this.most);
    if (this.kept.length === this.most) this.worst = Math.abs(this.kept[this.most - 1].error);
  }
  result(): FoundTrain[] {
    this.cut();
    return this.kept;
  }
}

/**
 * Every train of so many pairs whose ratio is within a part of the wanted one, complete over the tooth counts: the best of them,
 * and how many there are. Comparisons are exact. The pairs of a train stand in rising order of their ratios.
 *
 * Two walks meet: the ratios of one pair are sorted, and as the one in hand rises the one that makes up the product falls. One
 * pair takes log n steps, two n, three n², of n distinct ratios; a plain loop over three pairs takes n³.
 *
 * Throws a RangeError where the ratio is not above zero, a count is no whole number from 1, or there are too many.
 */
export function findTrains(wanted: TrainSearch): FoundTrains {
  const { ratio: t, within, pairs: count, teeth, most = 100 } = wanted;
  if (t.n <= 0n) throw new RangeError('The ratio must be above zero: its sense follows from how wheels are placed.');
  if (within.n < 0n || within.n >= within.d) throw new RangeError('The tolerance must be a part of the ratio, from 0 to below 1.');
  if (!teeth.length || teeth.length > MOST_COUNTS) throw new RangeError(`From 1 to ${MOST_COUNTS} tooth counts can be searched.`);
  if (teeth.some((z) => !Number.isInteger(z) || z < 1 || z > 20_000)) throw new RangeError('Tooth counts must be whole numbers from 1 to 20000.');
  const p = pairsOf(teeth);
  const { values } = p;
  const n = values.length;
  const best = new Best(wanted, p, most);
  const [value, part] = [toNumber(t), toNumber(within)];
  const [low, high] = [value * (1 - part) * (1 - ROUNDING), value * (1 + part) * (1 + ROUNDING)];
  if (count === 1) {
    for (let i = lowerBound(values, low); i < n && values[i] <= high; i++) best.offer(i);
    return { trains: best.result(), count: best.count, complete: true };
  }
  /** All that end with two pairs from index `from` on whose product lies between two values; false where there are too many. */
  const two = (from: number, lo: number, hi: number, ...before: number[]): boolean => {
    let top = n - 1;
    for (let j = from; j < n && values[j] * values[j] <= hi; j++) {
      while (top >= j && values[top] * values[j] > hi) top--;
      for (let k = top; k >= j && values[k] * values[j] >= lo; k--) best.offer(...before, j, k);
      if (best.count > MOST_FOUND) return false;
    }
    return true;
  };
  let complete = true;
  if (count === 2) complete = two(0, low, high);
  else {
    for (let i = 0; complete && i < n && values[i] ** 3 <= high; i++) complete = two(i, low / values[i], high / values[i], i);
  }
  return { trains: best.result(), count: best.count, complete };
}
