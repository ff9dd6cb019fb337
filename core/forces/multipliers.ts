import { Groups, LeastSquares } from '../math/index';

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

/**
 * An unknown that was torn out: what it leaves of the equations
 * and takes of the peeled unknowns, where it is as large as one.
 */
interface Tear {
  readonly unknown: number;
  /** Places in the order of peeling that it reaches, and the equations: all, and those that are left. */
  readonly steps: Int32Array;
  readonly reached: Int32Array;
  readonly equations: Int32Array;
  readonly left: Float64Array;
  readonly taken: Float64Array;
  active: boolean;
}

/** Equations that are left over and share unknowns. */
interface Block {
  readonly equations: Int32Array;
  readonly unknowns: Int32Array;
  readonly tears: readonly Tear[];
  readonly solver: LeastSquares;
}

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
 * Where an equation has one unknown left, that is found and put into the others, one after the other, so that a
 * train costs in step with its length. The order is made once. Unknowns whose column may vanish (a pawl that lets
 * go, a cam whose follower lifts) cannot stand in it: they are torn out, the train is solved without them and for
 * each of them by itself, and what closes the equations that are left says how large they are (tearing: Duff,
 * Erisman & Reid, Direct Methods for Sparse Matrices, 2nd ed., chapter 11). What remains, loops and torn
 * unknowns, falls into blocks that share no equation, each a small system for least squares; where one is short
 * of rank for a torn unknown, all are solved together, because then the solution of least norm over all is meant.
 */
export class Multipliers {
  private readonly peel: Int32Array;
  private readonly blocks: readonly Block[];
  private readonly rowInBlock: Int32Array;
  /** Unknowns that enter none of the equations that are left. */
  private readonly loose: Int32Array;
  private readonly rest: Float64Array;
  /** What each torn unknown, as large as one, leaves of the equations, and what it takes of the peeled unknowns. */
  private readonly tears: readonly Tear[];
  private whole?: LeastSquares;

  constructor(
    private readonly count: number,
    private readonly columns: Columns,
    torn: readonly number[],
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
    const restEquation = Array.from({ length: count }, (_, i) => i).filter((i) => !used[i]);
    const restUnknown = Array.from({ length: unknowns }, (_, k) => k).filter((k) => !solved[k] && !isTorn[k]);
    this.rest = new Float64Array(count);
    this.tears = torn.map((k) => tearOf(k, columns, this.peel, used));
    const { blocks, rowInBlock, loose } = blocksOf(count, restEquation, restUnknown, columns, this.tears);
    this.blocks = blocks;
    this.rowInBlock = rowInBlock;
    this.loose = loose;
  }

  /** The unknowns into `lambda`, for the columns' present values and what each coordinate needs. Allocates nothing. */
  solve(need: Float64Array, lambda: Float64Array, out: Met): void {
    const { rest } = this;
    lambda.fill(0);
    rest.set(need);
    this.peelInto(rest, lambda);
    const { loose, tears, blocks, columns, peel } = this;
    let open = 0,
      unmet = 0,
      torn = false;
    // By number: iterators would be made anew in every frame.
    for (let n = 0; n < loose.length; n++) if (this.hasColumn(loose[n])) open++;
    for (let n = 0; n < tears.length; n++) {
      tears[n].active = !isNothing(columns.value[tears[n].unknown]);
      if (!tears[n].active) continue;
      torn = true;
      this.tear(tears[n]);
    }
    for (let n = 0; n < blocks.length; n++) {
      const { solver } = blocks[n];
      open += this.factor(blocks[n]) - solver.rank;
      unmet += solver.residual * solver.residual;
    }
    if (torn && open > this.openLoops) return this.solveWhole(need, lambda, out);
    out.indeterminate = Math.max(0, open - this.openLoops);
    out.remainder = Math.sqrt(unmet);
    for (let n = 0; n < blocks.length; n++) {
      const { solver, unknowns } = blocks[n];
      const x = solver.solve();
      for (let c = 0; c < unknowns.length; c++) lambda[unknowns[c]] = x[c];
      for (let t = 0, c = unknowns.length; t < blocks[n].tears.length; t++) {
        const { active, unknown, steps, taken } = blocks[n].tears[t];
        if (!active) continue;
        const size = x[c++];
        lambda[unknown] = size;
        for (let s = 0; s < steps.length; s++) lambda[peel[steps[s] + 1]] += size * taken[s];
      }
    }
  }

  /** Fills and factorises the equations of a block; how many of its unknowns have a column. */
  private factor({ solver, equations, unknowns, tears }: Block): number {
    const m = equations.length;
    let n = unknowns.length,
      sound = 0;
    for (let t = 0; t < tears.length; t++) if (tears[t].active) n++;
    solver.begin(m, n);
    for (let c = 0; c < unknowns.length; c++) {
      this.enter(solver, c * m, unknowns[c], this.rowInBlock);
      if (this.hasColumn(unknowns[c])) sound++;
    }
    for (let t = 0, c = unknowns.length; t < tears.length; t++) {
      const { active, equations: entered, left } = tears[t];
      if (!active) continue;
      for (let e = 0; e < entered.length; e++) solver.a[c * m + this.rowInBlock[entered[e]]] = -left[entered[e]];
      c++;
      sound++;
    }
    for (let r = 0; r < m; r++) solver.b[r] = this.rest[equations[r]];
    solver.factor(1e-10);
    return sound;
  }

  /** Solves the peeled equations for a torn unknown by itself, as large as one. */
  private tear({ unknown, left, taken, steps, reached, equations }: Tear): void {
    const { peel } = this;
    const { at, value } = this.columns;
    for (let n = 0; n < reached.length; n++) left[reached[n]] = 0;
    for (let j = 0; j < at[unknown].length; j++) left[at[unknown][j]] -= value[unknown][j];
    let greatest = 0;
    for (let s = 0; s < steps.length; s++) {
      const i = peel[steps[s]],
        k = peel[steps[s] + 1];
      const x = this.share(i, k, left[i]);
      taken[s] = x;
      if (x === 0) continue;
      for (let j = 0; j < at[k].length; j++) {
        const part = value[k][j] * x;
        left[at[k][j]] -= part;
        if (Math.abs(part) > greatest) greatest = Math.abs(part);
      }
    }
    // What is left of figures that cancel is nothing: as a column of its own it would pass for a sound one.
    for (let n = 0; n < equations.length; n++) if (Math.abs(left[equations[n]]) < ROUNDING * greatest) left[equations[n]] = 0;
  }

  /** Whether an unknown counts: its column is there, or it closes a loop, where it always counts. */
  private hasColumn(unknown: number): boolean {
    return this.closes(unknown) || !isNothing(this.columns.value[unknown]);
  }
  private closes(unknown: number): boolean {
    return unknown >= this.closing[0] && unknown < this.closing[1];
  }

  /** Finds the peeled unknowns for a right side, in their order, and takes what they carry from it. */
  private peelInto(rest: Float64Array, lambda: Float64Array): void {
    const { peel } = this;
    const { at, value } = this.columns;
    for (let s = 0; s < peel.length; s += 2) {
      const i = peel[s];
      const k = peel[s + 1];
      const x = (lambda[k] = this.share(i, k, rest[i]));
      if (x === 0) continue;
      for (let j = 0; j < at[k].length; j++) rest[at[k][j]] -= value[k][j] * x;
    }
  }

  /** How large an unknown is that alone carries what is left of an equation. */
  private share(equation: number, unknown: number, left: number): number {
    const col = this.columns.at[unknown];
    const val = this.columns.value[unknown];
    let pivot = 0;
    for (let j = 0; j < col.length; j++) if (col[j] === equation) pivot = val[j];
    return pivot !== 0 ? left / pivot : 0;
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

function tearOf(unknown: number, { at }: Columns, peel: Int32Array, used: Uint8Array): Tear {
  const reached = new Set<number>(at[unknown]);
  const steps: number[] = [];
  for (let s = 0; s < peel.length; s += 2) {
    if (!reached.has(peel[s])) continue;
    steps.push(s);
    for (const i of at[peel[s + 1]]) reached.add(i);
  }
  return {
    unknown,
    steps: Int32Array.from(steps),
    reached: Int32Array.from(reached),
    equations: Int32Array.from([...reached].filter((i) => !used[i])),
    left: new Float64Array(used.length),
    taken: new Float64Array(steps.length),
    active: false,
  };
}

/** The equations that are left, in blocks that share no unknown. */
function blocksOf(count: number, equations: readonly number[], unknowns: readonly number[], { at }: Columns, tears: readonly Tear[]) {
  const isLeft = new Uint8Array(count);
  for (const i of equations) isLeft[i] = 1;
  const groups = new Groups(count);
  const touched = (k: number): Int32Array => at[k].filter((i) => isLeft[i]);
  for (const k of unknowns) groups.unite(touched(k));
  for (const t of tears) groups.unite(t.equations);
  const parts = new Map<number, { equations: number[]; unknowns: number[]; tears: Tear[] }>();
  for (const i of equations) {
    const part = parts.get(groups.of(i));
    if (part) part.equations.push(i);
    else parts.set(groups.of(i), { equations: [i], unknowns: [], tears: [] });
  }
  const loose: number[] = [];
  for (const k of unknowns) {
    const [first] = touched(k);
    if (first === undefined) loose.push(k);
    else parts.get(groups.of(first))!.unknowns.push(k);
  }
  for (const t of tears) {
    if (t.equations.length) parts.get(groups.of(t.equations[0]))!.tears.push(t);
    else loose.push(t.unknown);
  }
  const rowInBlock = new Int32Array(count).fill(-1);
  const blocks = [...parts.values()].map((p): Block => {
    p.equations.forEach((i, r) => (rowInBlock[i] = r));
    return {
      equations: Int32Array.from(p.equations),
      unknowns: Int32Array.from(p.unknowns),
      tears: p.tears,
      solver: new LeastSquares(p.equations.length, p.unknowns.length + p.tears.length),
    };
  });
  return { blocks, rowInBlock, loose: Int32Array.from(loose) };
}
