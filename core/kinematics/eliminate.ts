import type { Id } from '../fields/types';
import { ONE, PiRatio, Ratio, add, div, isZero, mul, neg, piRatio, piToNumber, toNumber, whole } from '../math/index';

/** One linear row Σ coefficient · coordinate = offset, exact, in turns and mm. */
export interface LinearRow {
  coupling: Id;
  terms: { coordinate: number; coefficient: PiRatio }[];
  offset?: PiRatio;
  /** Left to the numeric solver: a cam's function, or a coupling that holds in one sense. */
  numeric?: boolean;
}

type Sum = Map<number, Ratio>;

/** What the linear rows leave: every coordinate as an exact sum of the free ones. */
export interface Reduction {
  /** Free coordinates, in the order of the columns; pseudo-coordinates at or beyond `count` are constants of value 1. */
  free: number[];
  /** Per coordinate: its sum over free coordinates (coordinate index → fraction), before the powers of π. */
  sums: Sum[];
  /** q = π^grade · sum. */
  grade: Int32Array;
  /** Rows that add nothing: they repeat what others say. */
  redundant: number[];
  /** Rows that stop coordinates from moving at all, or contradict a constant. */
  locking: number[];
  /** Rows that would add different powers of π: left to the numeric solver. */
  mixed: number[];
  /** Sources whose coordinate another source, or a lock, already fixes. */
  overdriven: number[];
  count: number;
}

/** Coordinates as nodes with powers of π between them: each row asks that all its terms have one power. */
class Grades {
  private readonly up: Int32Array;
  private readonly shift: Int32Array;
  constructor(n: number) {
    this.up = Int32Array.from({ length: n }, (_, i) => i);
    this.shift = new Int32Array(n);
  }
  /** Root and the power of π of node i over the root's. */
  find(i: number): [number, number] {
    let root = i,
      total = 0;
    while (this.up[root] !== root) {
      total += this.shift[root];
      root = this.up[root];
    }
    for (let k = i, t = total; this.up[k] !== root && k !== root;) {
      const next = this.up[k],
        s = this.shift[k];
      this.up[k] = root;
      this.shift[k] = t;
      t -= s;
      k = next;
    }
    return [root, total];
  }
  /**
   * Asks that grade + π's power be the same of all terms of a row. Where
   * that contradicts what is known it changes nothing and says false.
   */
  joinRow(terms: LinearRow['terms']): boolean {
    const due = new Map<number, number>();
    for (const { coordinate, coefficient } of terms) {
      const [root, grade] = this.find(coordinate);
      const here = grade + coefficient.pi;
      if ((due.get(root) ?? here) !== here) return false;
      due.set(root, here);
    }
    const [[first, level], ...others] = due.size ? [...due] : [[0, 0]];
    for (const [root, here] of others) {
      this.up[root] = first;
      this.shift[root] = level - here;
    }
    return true;
  }
}

/**
 * Rows by the id of their coupling: which of several that contradict each
 * other is left to the solver does not depend on the order of the document.
 */
const inOrder = (rows: readonly LinearRow[]): number[] =>
  rows.map((_, k) => k).sort((a, b) => (rows[a].coupling < rows[b].coupling ? -1 : rows[a].coupling > rows[b].coupling ? 1 : a - b));

/**
 * Eliminates linear rows in exact arithmetic. `driven` lists coordinates that should stay free (sources), best first.
 * Sparse: a row costs its own terms plus the coordinates that hang on the pivot, and the pivot with the fewest is taken.
 */
export function eliminate(count: number, rows: readonly LinearRow[], driven: readonly number[]): Reduction {
  const constants = rows.filter((r) => r.offset && !isZero(r.offset.q)).length;
  const total = count + constants;
  const grades = new Grades(total);
  let nextConstant = count;
  const list = rows.map((r) => {
    const terms = r.terms.filter((t) => !isZero(t.coefficient.q));
    return r.offset && !isZero(r.offset.q) ? [...terms, { coordinate: nextConstant++, coefficient: { q: neg(r.offset.q), pi: r.offset.pi } }] : terms;
  });
  const mixed: number[] = [];
  const ok: boolean[] = list.map(() => false);
  for (const k of inOrder(rows)) {
    if (rows[k].numeric) continue;
    ok[k] = grades.joinRow(list[k]);
    if (!ok[k]) mixed.push(k);
  }
  mixed.sort((a, b) => a - b);

  const sums: (Sum | undefined)[] = new Array<Sum | undefined>(total);
  const users: (Set<number> | undefined)[] = new Array<Set<number> | undefined>(total);
  const usersOf = (j: number): Set<number> => (users[j] ??= new Set());
  const rank = new Map(driven.map((c, i) => [c, driven.length - i]));
  const keep = (j: number): number => (j >= count ? 1e9 : (rank.get(j) ?? 0));
  const accumulate = (into: Sum, j: number, c: Ratio): void => {
    const had = into.get(j);
    const sum = had ? add(had, c) : c;
    if (isZero(sum)) into.delete(j);
    else into.set(j, sum);
  };
  const setSum = (i: number, sum: Sum): void => {
    sums[i] = sum;
    for (const j of sum.keys()) usersOf(j).add(i);
  };
  /** Makes p depend: x_p = sum; everything that hung on p now hangs on the sum. */
  const substitute = (p: number, sum: Sum): void => {
    const hanging = users[p];
    users[p] = undefined;
    setSum(p, sum);
    if (hanging) {
      for (const i of hanging) {
        const old = sums[i]!;
        const c = old.get(p)!;
        old.delete(p);
        for (const [j, k] of sum) {
          accumulate(old, j, mul(c, k));
          if (old.has(j)) usersOf(j).add(i);
          else users[j]?.delete(i);
        }
      }
    }
  };

  const redundant: number[] = [],
    locking: number[] = [];
  list.forEach((terms, k) => {
    if (!ok[k]) return;
    const acc: Sum = new Map();
    for (const { coordinate: i, coefficient } of terms) {
      const known = sums[i];
      if (!known) accumulate(acc, i, coefficient.q);
      else for (const [j, c] of known) accumulate(acc, j, mul(coefficient.q, c));
    }
    if (acc.size === 0) return void redundant.push(k);
    let pivot = -1;
    for (const j of acc.keys()) {
      if (j >= count) continue;
      if (pivot < 0 || keep(j) < keep(pivot) || (keep(j) === keep(pivot) && (users[j]?.size ?? 0) <= (users[pivot]?.size ?? 0))) pivot = j;
    }
    if (pivot < 0) return void locking.push(k);
    const lead = acc.get(pivot)!;
    acc.delete(pivot);
    const sum: Sum = new Map();
    for (const [j, c] of acc) sum.set(j, neg(div(c, lead)));
    if (sum.size === 0) locking.push(k);
    substitute(pivot, sum);
  });

  // Sources become columns of their own.
  const overdriven: number[] = [];
  const taken = new Set<number>();
  for (const s of driven) {
    const sum = sums[s];
    if (!sum) {
      taken.add(s);
      continue;
    }
    const other = [...sum.keys()].find((j) => j < count && !taken.has(j) && !rank.has(j)) ?? [...sum.keys()].find((j) => j < count && !taken.has(j));
    if (other === undefined) {
      overdriven.push(s);
      continue;
    }
    const c = sum.get(other)!;
    const turned: Sum = new Map([[s, div(ONE, c)]]);
    for (const [j, k] of sum) if (j !== other) turned.set(j, neg(div(k, c)));
    for (const j of sum.keys()) users[j]?.delete(s);
    sums[s] = undefined;
    substitute(other, turned);
    taken.add(s);
  }

  const free: number[] = [];
  for (let i = 0; i < total; i++) if (!sums[i]) free.push(i);
  const order = new Map(driven.map((c, i) => [c, i]));
  free.sort((a, b) => (a >= count ? 1 : 0) - (b >= count ? 1 : 0) || (order.get(a) ?? 1e9) - (order.get(b) ?? 1e9) || a - b);
  const grade = new Int32Array(total);
  for (let i = 0; i < total; i++) grade[i] = grades.find(i)[1];
  return { free, sums: Array.from({ length: total }, (_, i) => sums[i] ?? new Map([[i, ONE]])), grade, redundant, locking, mixed, overdriven, count };
}

/** Motion of coordinate i for one unit of coordinate j, exact; undefined where i does not follow from j alone. */
export function exactRatio(r: Reduction, i: number, j: number): PiRatio | undefined {
  const a = r.sums[i],
    b = r.sums[j];
  if (a.size === 0) return whole(0);
  if (b.size !== a.size || b.size === 0) return undefined;
  let q: Ratio | undefined;
  for (const [k, c] of a) {
    const d = b.get(k);
    if (!d) return undefined;
    const here = div(c, d);
    if (q && (q.n !== here.n || q.d !== here.d)) return undefined;
    q = here;
  }
  return q && piRatio(q, r.grade[i] - r.grade[j]);
}

/** The coefficient of coordinate i on free coordinate j, in turns and mm. */
export const coefficient = (r: Reduction, i: number, j: number): number => {
  const c = r.sums[i].get(j);
  return c ? toNumber(c) * Math.PI ** (r.grade[i] - r.grade[j]) : 0;
};

/**
 * The rows that together make row k: the smallest loop found by walking
 * the rows before it. Bounded: looks at no more than `limit` rows.
 */
export function loopOf(rows: readonly LinearRow[], k: number, limit = 4000): number[] {
  // Breadth first over rows that share coordinates, from one coordinate of row k to another, without using row k.
  const at = new Map<number, number[]>();
  rows.forEach((r, i) => {
    if (i === k || i > k || r.numeric) return;
    for (const t of r.terms) at.set(t.coordinate, [...(at.get(t.coordinate) ?? []), i]);
  });
  const ends = rows[k].terms.map((t) => t.coordinate);
  if (ends.length < 2) return [k];
  const loop = new Set([k]);
  for (let e = 1; e < ends.length; e++) {
    const from = new Map<number, [number, number]>();
    const queue = [ends[0]];
    const seen = new Set(queue);
    let steps = 0;
    while (queue.length && steps++ < limit) {
      const c = queue.shift()!;
      if (c === ends[e]) break;
      for (const row of at.get(c) ?? []) {
        for (const t of rows[row].terms) {
          if (!seen.has(t.coordinate)) {
            seen.add(t.coordinate);
            from.set(t.coordinate, [c, row]);
            queue.push(t.coordinate);
          }
        }
      }
    }
    for (let c = ends[e]; from.has(c); c = from.get(c)![0]) loop.add(from.get(c)![1]);
  }
  return [...loop].sort((a, b) => a - b);
}

/**
 * The ratio round a loop of rows: where each ties two coordinates, the product of their ratios on the way round, one
 * where the loop closes. Given so that it is not below one in size; undefined where a row of the loop ties more.
 */
export function ratioRound(rows: readonly LinearRow[], loop: readonly number[]): number | undefined {
  const open = new Set(loop);
  const pairs = new Map(loop.map((i) => [i, rows[i].terms]));
  if ([...pairs.values()].some((t) => t.length !== 2)) return undefined;
  const first = loop[0];
  const [begin, next] = pairs.get(first)!;
  let at = next.coordinate;
  // Motion of `at` for one unit of the beginning.
  let motion = -piToNumber(begin.coefficient) / piToNumber(next.coefficient);
  open.delete(first);
  while (at !== begin.coordinate) {
    const row = [...open].find((i) => pairs.get(i)!.some((t) => t.coordinate === at));
    if (row === undefined) return undefined;
    open.delete(row);
    const terms = pairs.get(row)!;
    const here = terms.find((t) => t.coordinate === at)!,
      there = terms.find((t) => t.coordinate !== at)!;
    motion *= -piToNumber(here.coefficient) / piToNumber(there.coefficient);
    at = there.coordinate;
  }
  return Math.abs(motion) < 1 ? 1 / motion : motion;
}
