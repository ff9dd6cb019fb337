import { LeastSquares } from '../math/index';

/** The unknowns of statics at one pose: for each a column of the transposed rows, as entries at coordinates. */
export interface Columns {
  /** For each unknown the coordinates whose equations it enters. */
  readonly at: readonly Int32Array[];
  /** The entries, as they are at the present pose. */
  readonly value: readonly Float64Array[];
}

/** Beside the figures that it came from, less than this is rounding. */
const ROUNDING = 1e-13;

/** Entries of a column that are all smaller are none, m: directions are stated to twelve decimals. */
const NO_COLUMN = 1e-10;

/** How well the equations could be met. */
export interface Met {
  /** Norm of what no unknown can carry; zero when forces are determined. */
  remainder: number;
  /** Unknowns that statics leaves open: the least-norm solution is given. */
  indeterminate: number;
}

/**
 * Solves Jᵀ λ = τ for the forces of couplings, closures and inputs, one equation a coordinate.
 *
 * Where an equation has one unknown left, that is found and put into the others, one after the other, so that a train costs in step with
 * its length. The order is made once. Unknowns whose column may vanish (a pawl that lets go, a cam whose follower lifts) cannot stand
 * in it: they are torn out, the train is solved without them and for each of them by itself, and what closes the equations that are left
 * says how large they are (tearing: Duff, Erisman & Reid, Direct Methods for Sparse Matrices, 2nd ed., chapter 11). What remains, loops
 * and torn unknowns, is a small system for least squares; where that is short of rank, all are solved together, because then the
 * solution of least norm over all is meant.
 */
export class Multipliers {
  private readonly peel: Int32Array;
  private readonly restEquation: Int32Array;
  private readonly restUnknown: Int32Array;
  private readonly equationAt: Int32Array;
  private readonly solver: LeastSquares;
  private readonly rest: Float64Array;
  /** What each torn unknown, as large as one, leaves of the equations, and what it takes of the peeled unknowns. */
  private readonly left: Float64Array[];
  private readonly taken: Float64Array[];
  private readonly active: number[] = [];
  private whole?: LeastSquares;
  /** The largest of the figures that were put together when unknowns were peeled last. */
  private greatest = 0;

  constructor(
    private readonly count: number,
    private readonly columns: Columns,
    private readonly torn: readonly number[],
    /** How many combinations of unknowns are known to be open: those are settled elsewhere. */
    private readonly openLoops = 0,
    /** The first and the last but one of the unknowns whose columns may be nothing and are among these. */
    private readonly closing: readonly [number, number] = [0, 0],
  ) {
    const { at } = columns;
    const unknowns = at.length;
    const isTorn = new Uint8Array(unknowns);
    for (const k of torn) isTorn[k] = 1;
    const enter: number[][] = Array.from({ length: count }, () => []);
    for (let k = 0; k < unknowns; k++) if (!isTorn[k]) for (const i of at[k]) enter[i].push(k);
    const open = enter.map((l) => l.length);
    const solved = new Uint8Array(unknowns);
    const used = new Uint8Array(count);
    const peel: number[] = [];
    const queue: number[] = [];
    for (let i = 0; i < count; i++) if (open[i] === 1) queue.push(i);
    while (queue.length) {
      const i = queue.pop()!;
      if (used[i] || open[i] !== 1) continue;
      const k = enter[i].find((x) => !solved[x])!;
      solved[k] = 1;
      used[i] = 1;
      peel.push(i, k);
      for (const j of at[k]) if (--open[j] === 1) queue.push(j);
    }
    this.peel = Int32Array.from(peel);
    this.restEquation = Int32Array.from(Array.from({ length: count }, (_, i) => i).filter((i) => !used[i]));
    this.restUnknown = Int32Array.from(Array.from({ length: unknowns }, (_, k) => k).filter((k) => !solved[k] && !isTorn[k]));
    this.equationAt = new Int32Array(count).fill(-1);
    this.restEquation.forEach((i, r) => (this.equationAt[i] = r));
    this.solver = new LeastSquares(this.restEquation.length, this.restUnknown.length + torn.length);
    this.rest = new Float64Array(count);
    this.left = torn.map(() => new Float64Array(count));
    this.taken = torn.map(() => new Float64Array(peel.length / 2));
  }

  /** The unknowns into `lambda`, for the columns' present values and what each coordinate needs. Allocates nothing. */
  solve(need: Float64Array, lambda: Float64Array, out: Met): void {
    const { columns, restEquation: eq, restUnknown: un, solver, rest, active, torn } = this;
    lambda.fill(0);
    rest.set(need);
    this.peelInto(rest, lambda, undefined);
    active.length = 0;
    for (let t = 0; t < torn.length; t++) {
      if (isNothing(columns.value[torn[t]])) continue;
      active.push(t);
      const left = this.left[t];
      left.fill(0);
      const { at, value } = columns;
      for (let j = 0; j < at[torn[t]].length; j++) left[at[torn[t]][j]] -= value[torn[t]][j];
      this.peelInto(left, undefined, this.taken[t]);
      // What is left of figures that cancel is nothing: as a column of its own it would pass for a sound one.
      for (let r = 0; r < eq.length; r++) if (Math.abs(left[eq[r]]) < ROUNDING * this.greatest) left[eq[r]] = 0;
    }
    let off = 0;
    for (let c = 0; c < un.length; c++) if (!this.closes(un[c]) && isNothing(columns.value[un[c]])) off++;
    const n = un.length + active.length;
    out.indeterminate = 0;
    if (!n) {
      out.remainder = 0;
      for (let r = 0; r < eq.length; r++) out.remainder = Math.max(out.remainder, Math.abs(rest[eq[r]]));
      return;
    }
    const m = eq.length;
    solver.begin(m, n);
    for (let c = 0; c < un.length; c++) this.enter(solver, c * m, un[c], this.equationAt);
    for (let c = 0; c < active.length; c++) for (let r = 0; r < m; r++) solver.a[(un.length + c) * m + r] = -this.left[active[c]][eq[r]];
    for (let r = 0; r < m; r++) solver.b[r] = rest[eq[r]];
    solver.factor(1e-10);
    if (active.length && solver.rank < n - off - this.openLoops) return this.solveWhole(need, lambda, out);
    out.indeterminate = Math.max(0, n - off - solver.rank - this.openLoops);
    out.remainder = solver.residual;
    const x = solver.solve();
    for (let c = 0; c < un.length; c++) lambda[un[c]] = x[c];
    for (let c = 0; c < active.length; c++) {
      const size = x[un.length + c];
      lambda[torn[active[c]]] = size;
      const taken = this.taken[active[c]];
      for (let s = 0; s < taken.length; s++) lambda[this.peel[2 * s + 1]] += size * taken[s];
    }
  }

  private closes(unknown: number): boolean {
    return unknown >= this.closing[0] && unknown < this.closing[1];
  }

  /** Finds the peeled unknowns for a right side, in their order, and takes what they carry from it. */
  private peelInto(rest: Float64Array, lambda: Float64Array | undefined, taken: Float64Array | undefined): void {
    const { peel } = this;
    const { at, value } = this.columns;
    this.greatest = 0;
    for (let s = 0; s < peel.length; s += 2) {
      const i = peel[s];
      const k = peel[s + 1];
      const col = at[k];
      const val = value[k];
      let pivot = 0;
      for (let j = 0; j < col.length; j++) if (col[j] === i) pivot = val[j];
      const x = pivot !== 0 ? rest[i] / pivot : 0;
      if (lambda) lambda[k] = x;
      if (taken) taken[s / 2] = x;
      if (x === 0) continue;
      for (let j = 0; j < col.length; j++) {
        const part = val[j] * x;
        rest[col[j]] -= part;
        if (taken && Math.abs(part) > this.greatest) this.greatest = Math.abs(part);
      }
    }
  }

  /** Writes the column of an unknown into a matrix whose rows are the equations that `row` numbers. */
  private enter(solver: LeastSquares, start: number, k: number, row: Int32Array | undefined): void {
    const col = this.columns.at[k];
    const val = this.columns.value[k];
    for (let j = 0; j < col.length; j++) {
      const r = row ? row[col[j]] : col[j];
      if (r >= 0) solver.a[start + r] += val[j];
    }
  }

  private solveWhole(need: Float64Array, lambda: Float64Array, out: Met): void {
    const n = this.columns.at.length;
    const solver = (this.whole ??= new LeastSquares(this.count, n));
    solver.begin(this.count, n);
    let off = 0;
    for (let k = 0; k < n; k++) {
      this.enter(solver, k * this.count, k, undefined);
      if (!this.closes(k) && isNothing(this.columns.value[k])) off++;
    }
    solver.b.set(need);
    solver.factor(1e-10);
    out.indeterminate = Math.max(0, n - off - solver.rank - this.openLoops);
    out.remainder = solver.residual;
    lambda.set(solver.solve().subarray(0, n));
  }
}

function isNothing(column: Float64Array): boolean {
  for (let j = 0; j < column.length; j++) if (Math.abs(column[j]) > NO_COLUMN) return false;
  return true;
}
