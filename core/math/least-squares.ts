/**
 * From so many columns on it is asked whether the matrix falls
 * into parts that share nothing: that costs a look at every entry.
 */
const WORTH_SPLITTING = 16;

/** Smallest pivot over the largest below which a square matrix is left to the transformations, which tell its rank. */
const NEAR_SINGULAR = 1e-5;

/**
 * Least squares by Householder transformations with column pivoting, with the least-norm solution
 * where the matrix is short of rank (Golub & Van Loan, Matrix Computations, 4th ed., section 5.4–5.5:
 * QR with column pivoting, complete orthogonal decomposition). Works in place in arrays that are made
 * once, because it runs for every frame of a closed mechanism. A large matrix that falls into parts
 * which share neither row nor column (linkages beside each other) is factorised part by part.
 */
export class LeastSquares {
  readonly a: Float64Array;
  readonly b: Float64Array;
  readonly x: Float64Array;
  readonly pivot: Int32Array;
  rank = 0;
  /** Sign of the determinant of the last matrix where it was square and of full rank, else 0. */
  orientation = 0;
  /** Norm of what could not be met, and largest pivot: scale of the matrix. */
  residual = 0;
  scale = 0;
  /** Smallest accepted pivot over the largest: near zero close to a dead point. */
  conditioning = 1;
  private rows = 0;
  private cols = 0;
  private readonly beta: Float64Array;
  private readonly tau: Float64Array;
  private readonly norms: Float64Array;
  /** Rows, or columns, that a transformation touches. */
  private readonly entered: Int32Array;
  private readonly along: Float64Array;
  /** A square matrix of full rank is factorised by elimination: its triangles, and the order of its rows. */
  private readonly lu: Float64Array;
  private readonly order: Int32Array;
  private square = false;
  /** The parts of a matrix that falls apart, each with its rows and columns; columns and rows that stand in none. */
  private split: { solver: LeastSquares; rows: Int32Array; cols: Int32Array }[] | undefined;
  private loose: { rows: Int32Array; cols: Int32Array } = { rows: new Int32Array(0), cols: new Int32Array(0) };
  private made: LeastSquares[] = [];

  constructor(
    readonly maxRows: number,
    readonly maxCols: number,
  ) {
    this.a = new Float64Array(Math.max(1, maxRows * maxCols));
    this.b = new Float64Array(Math.max(1, maxRows));
    this.x = new Float64Array(Math.max(1, maxCols));
    this.pivot = new Int32Array(Math.max(1, maxCols));
    this.beta = new Float64Array(Math.max(1, maxCols));
    this.tau = new Float64Array(Math.max(1, maxCols));
    this.norms = new Float64Array(Math.max(1, maxCols));
    this.entered = new Int32Array(Math.max(1, maxRows, maxCols));
    this.along = new Float64Array(Math.max(1, maxRows));
    const most = Math.min(maxRows, maxCols);
    this.lu = new Float64Array(Math.max(1, most * most));
    this.order = new Int32Array(Math.max(1, most));
  }

  /**
   * Starts a system of the given size with a zero matrix and right side; fill `a`
   * (column by column: row i of column j at j·rows + i) and `b`, then factor().
   */
  begin(rows: number, cols: number): void {
    this.rows = rows;
    this.cols = cols;
    this.a.fill(0, 0, rows * cols);
    this.b.fill(0, 0, rows);
  }

  /**
   * Factorises the matrix. Pivots under `tolerance` times the largest count as zero. Returns the
   * rank. A square matrix that is far from singular is eliminated with partial pivoting (Golub &
   * Van Loan, section 3.4), a quarter of the work; every other is triangularised with b alongside.
   */
  factor(tolerance = 1e-9): number {
    this.split = undefined;
    if (this.cols >= WORTH_SPLITTING && this.fallsApart()) return this.factorParts(tolerance);
    this.square = this.rows === this.cols && this.rows <= this.maxRows && this.eliminate();
    return this.square ? this.rank : this.triangularise(tolerance);
  }

  /** Finds the parts of the matrix: columns that a row has entries in belong together. False where all do. */
  private fallsApart(): boolean {
    const { a, rows: m, cols: n } = this;
    const up = Int32Array.from({ length: n }, (_, j) => j);
    const find = (j: number): number => {
      let r = j;
      while (up[r] !== r) r = up[r];
      for (let k = j; up[k] !== r;) [k, up[k]] = [up[k], r];
      return r;
    };
    const firstOf = new Int32Array(m).fill(-1);
    const used = new Uint8Array(n);
    for (let j = 0; j < n; j++) {
      for (let i = 0, at = j * m; i < m; i++, at++) {
        if (a[at] === 0) continue;
        used[j] = 1;
        if (firstOf[i] < 0) firstOf[i] = j;
        else up[find(j)] = find(firstOf[i]);
      }
    }
    const parts = new Map<number, { rows: number[]; cols: number[] }>();
    const emptyCols: number[] = [],
      emptyRows: number[] = [];
    for (let j = 0; j < n; j++) {
      if (!used[j]) emptyCols.push(j);
      else {
        const root = find(j);
        const part = parts.get(root);
        if (part) part.cols.push(j);
        else parts.set(root, { rows: [], cols: [j] });
      }
    }
    for (let i = 0; i < m; i++) {
      if (firstOf[i] < 0) emptyRows.push(i);
      else parts.get(find(firstOf[i]))!.rows.push(i);
    }
    if (parts.size < 2 && !emptyCols.length && !emptyRows.length) return false;
    const spare = this.made;
    this.made = [];
    this.split = [...parts.values()].map((p, k) => {
      const had = spare[k];
      const solver = had && had.maxRows >= p.rows.length && had.maxCols >= p.cols.length ? had : new LeastSquares(p.rows.length, p.cols.length);
      this.made.push(solver);
      return { solver, rows: Int32Array.from(p.rows), cols: Int32Array.from(p.cols) };
    });
    this.loose = { rows: Int32Array.from(emptyRows), cols: Int32Array.from(emptyCols) };
    return true;
  }

  private factorParts(tolerance: number): number {
    const { a, b, rows: m, split } = this;
    this.square = false;
    this.rank = 0;
    this.scale = 0;
    this.conditioning = 1;
    let sign = 1;
    for (const { solver, rows, cols } of split!) {
      const h = rows.length;
      solver.begin(h, cols.length);
      for (let j = 0; j < cols.length; j++) for (let i = 0; i < h; i++) solver.a[j * h + i] = a[cols[j] * m + rows[i]];
      for (let i = 0; i < h; i++) solver.b[i] = b[rows[i]];
      this.rank += solver.factor(tolerance);
      this.scale = Math.max(this.scale, solver.scale);
      this.conditioning = Math.min(this.conditioning, solver.conditioning);
      sign *= solver.orientation;
    }
    const { rows, cols } = this.loose;
    const ordered = (of: (p: { rows: Int32Array; cols: Int32Array }) => Int32Array): number[] => split!.flatMap((p) => [...of(p)]);
    this.orientation = rows.length || cols.length || !sign ? 0 : sign * parity(ordered((p) => p.rows)) * parity(ordered((p) => p.cols));
    this.sumResiduals();
    return this.rank;
  }

  /** What the parts, and rows without entries, leave unmet. */
  private sumResiduals(): void {
    let r = 0;
    for (const i of this.loose.rows) r += this.b[i] * this.b[i];
    for (const { solver } of this.split!) r += solver.residual * solver.residual;
    this.residual = Math.sqrt(r);
  }

  /** Elimination of a square matrix; false where it comes near to singular. */
  private eliminate(): boolean {
    const { a, lu, order, rows: n } = this;
    if (n === 0) return false;
    for (let k = 0; k < n * n; k++) lu[k] = a[k];
    let sign = 1,
      least = Infinity,
      most = 0;
    for (let k = 0; k < n; k++) {
      const col = k * n;
      let best = k,
        size = Math.abs(lu[col + k]);
      for (let i = k + 1; i < n; i++) {
        const x = Math.abs(lu[col + i]);
        if (x > size) {
          size = x;
          best = i;
        }
      }
      if (size < least) least = size;
      if (size > most) most = size;
      if (!(least > NEAR_SINGULAR * most)) return false;
      order[k] = best;
      if (best !== k) {
        sign = -sign;
        for (let c = 0; c < n * n; c += n) {
          const t = lu[c + k];
          lu[c + k] = lu[c + best];
          lu[c + best] = t;
        }
      }
      const p = lu[col + k];
      if (p < 0) sign = -sign;
      const over = 1 / p;
      for (let i = k + 1; i < n; i++) lu[col + i] *= over;
      for (let c = col + n; c < n * n; c += n) {
        const f = lu[c + k];
        if (f !== 0) for (let i = k + 1; i < n; i++) lu[c + i] -= f * lu[col + i];
      }
    }
    this.rank = n;
    this.scale = most;
    this.conditioning = least / most;
    this.orientation = sign;
    this.residual = 0;
    return true;
  }

  /** Householder transformations with column pivoting. */
  private triangularise(tolerance: number): number {
    const { a, b, pivot, beta, norms, entered, rows: m, cols: n } = this;
    for (let j = 0; j < n; j++) {
      pivot[j] = j;
      let s = 0;
      for (let i = 0; i < m; i++) s += a[j * m + i] * a[j * m + i];
      norms[j] = s;
    }
    const steps = Math.min(m, n);
    let rank = 0;
    let sign = 1;
    this.scale = 0;
    let last = 0;
    for (let k = 0; k < steps; k++) {
      let best = k;
      for (let j = k + 1; j < n; j++) if (norms[j] > norms[best]) best = j;
      if (best !== k) {
        sign = -sign;
        for (let i = 0; i < m; i++) {
          const t = a[k * m + i];
          a[k * m + i] = a[best * m + i];
          a[best * m + i] = t;
        }
        const t = norms[k];
        norms[k] = norms[best];
        norms[best] = t;
        const p = pivot[k];
        pivot[k] = pivot[best];
        pivot[best] = p;
      }
      let s = 0;
      for (let i = k; i < m; i++) s += a[k * m + i] * a[k * m + i];
      const size = Math.sqrt(s);
      if (k === 0) this.scale = size;
      if (size <= tolerance * this.scale || size === 0) break;
      last = size;
      const akk = a[k * m + k];
      const alpha = akk > 0 ? -size : size;
      // A reflection turns the sign, and the diagonal takes that of alpha.
      if (alpha > 0) sign = -sign;
      const v0 = akk - alpha;
      beta[k] = -v0 / alpha;
      // Only rows that this column enters are touched: of a large system most are not.
      let few = 0;
      for (let i = k + 1; i < m; i++) {
        if (a[k * m + i] === 0) continue;
        a[k * m + i] /= v0;
        entered[few++] = i;
      }
      a[k * m + k] = alpha;
      for (let j = k + 1; j < n; j++) {
        let w = a[j * m + k];
        for (let e = 0; e < few; e++) w += a[k * m + entered[e]] * a[j * m + entered[e]];
        if (w === 0 && a[j * m + k] === 0) continue;
        w *= beta[k];
        a[j * m + k] -= w;
        for (let e = 0; e < few; e++) a[j * m + entered[e]] -= w * a[k * m + entered[e]];
        let left = 0;
        for (let i = k + 1; i < m; i++) left += a[j * m + i] * a[j * m + i];
        norms[j] = left;
      }
      let w = b[k];
      for (let e = 0; e < few; e++) w += a[k * m + entered[e]] * b[entered[e]];
      w *= beta[k];
      b[k] -= w;
      for (let e = 0; e < few; e++) b[entered[e]] -= w * a[k * m + entered[e]];
      rank++;
    }
    this.rank = rank;
    this.orientation = rank === m && rank === n ? sign : 0;
    this.conditioning = this.scale > 0 ? last / this.scale : 0;
    let r = 0;
    for (let i = rank; i < m; i++) r += b[i] * b[i];
    this.residual = Math.sqrt(r);
    return rank;
  }

  /**
   * Takes a new right side (written to `b`) through the factorisation
   * at hand, in place of factor(). Only while the rank was full.
   */
  again(): void {
    if (this.split) {
      for (const { solver, rows } of this.split) {
        for (let i = 0; i < rows.length; i++) solver.b[i] = this.b[rows[i]];
        solver.again();
      }
      return this.sumResiduals();
    }
    if (this.square) return;
    const { a, b, beta, rows: m, rank } = this;
    for (let k = 0; k < rank; k++) {
      let w = b[k];
      for (let i = k + 1; i < m; i++) w += a[k * m + i] * b[i];
      w *= beta[k];
      b[k] -= w;
      for (let i = k + 1; i < m; i++) b[i] -= w * a[k * m + i];
    }
    let r = 0;
    for (let i = rank; i < m; i++) r += b[i] * b[i];
    this.residual = Math.sqrt(r);
  }

  /** The solution of least norm into `x`. Call after factor(); uses up the factorisation where the rank is short. */
  solve(): Float64Array {
    if (this.split) {
      this.x.fill(0, 0, this.cols);
      for (const { solver, cols } of this.split) {
        const x = solver.solve();
        for (let j = 0; j < cols.length; j++) this.x[cols[j]] = x[j];
      }
      return this.x;
    }
    if (this.square) return this.substitute();
    const { a, b, x, pivot, tau, entered, along, rows: m, cols: n, rank } = this;
    x.fill(0, 0, n);
    // Fold the columns beyond the rank into the triangle from the right: [R S] Z = [T 0].
    for (let k = rank - 1; k >= 0 && rank < n; k--) {
      let s = a[k * m + k] * a[k * m + k],
        few = 0;
      for (let j = rank; j < n; j++) {
        if (a[j * m + k] === 0) continue;
        s += a[j * m + k] * a[j * m + k];
        entered[few++] = j;
      }
      const size = Math.sqrt(s);
      const akk = a[k * m + k];
      const alpha = akk > 0 ? -size : size;
      const v0 = akk - alpha;
      tau[k] = -v0 / alpha;
      for (let e = 0; e < few; e++) a[entered[e] * m + k] /= v0;
      a[k * m + k] = alpha;
      for (let i = 0; i < k; i++) along[i] = a[k * m + i];
      for (let e = 0; e < few; e++) {
        const col = entered[e] * m;
        for (let i = 0, f = a[col + k]; i < k; i++) along[i] += a[col + i] * f;
      }
      for (let i = 0; i < k; i++) a[k * m + i] -= along[i] *= tau[k];
      for (let e = 0; e < few; e++) {
        const col = entered[e] * m;
        for (let i = 0, f = a[col + k]; i < k; i++) a[col + i] -= along[i] * f;
      }
    }
    const y = this.norms;
    for (let k = rank - 1; k >= 0; k--) {
      let s = b[k];
      for (let j = k + 1; j < rank; j++) s -= a[j * m + k] * y[j];
      y[k] = s / a[k * m + k];
    }
    for (let j = rank; j < n; j++) y[j] = 0;
    for (let k = 0; k < rank && rank < n; k++) {
      let w = y[k];
      for (let j = rank; j < n; j++) w += a[j * m + k] * y[j];
      w *= tau[k];
      y[k] -= w;
      for (let j = rank; j < n; j++) y[j] -= w * a[j * m + k];
    }
    for (let j = 0; j < n; j++) x[pivot[j]] = y[j];
    return x;
  }

  /** The solution from the triangles of an elimination. */
  private substitute(): Float64Array {
    const { lu, order, b, x, rows: n } = this;
    for (let i = 0; i < n; i++) x[i] = b[i];
    for (let k = 0; k < n; k++) {
      const t = x[order[k]];
      x[order[k]] = x[k];
      x[k] = t;
    }
    for (let k = 0; k < n; k++) {
      const t = x[k];
      if (t !== 0) for (let i = k + 1; i < n; i++) x[i] -= lu[k * n + i] * t;
    }
    for (let k = n - 1; k >= 0; k--) {
      const t = (x[k] /= lu[k * n + k]);
      if (t !== 0) for (let i = 0; i < k; i++) x[i] -= lu[k * n + i] * t;
    }
    return x;
  }

  /**
   * A basis of what the matrix leaves free: columns of the null space, one array each. Call after factor(), instead of
   * solve().
   */
  nullSpace(): Float64Array[] {
    if (this.split) {
      const unit = (j: number): Float64Array => {
        const v = new Float64Array(this.cols);
        v[j] = 1;
        return v;
      };
      const parts = this.split.flatMap(({ solver, cols }) =>
        solver.nullSpace().map((part) => {
          const v = new Float64Array(this.cols);
          for (let j = 0; j < cols.length; j++) v[cols[j]] = part[j];
          return v;
        }),
      );
      return [...parts, ...Array.from(this.loose.cols, unit)];
    }
    if (this.square) return [];
    const { a, pivot, rows: m, cols: n, rank } = this;
    const basis: Float64Array[] = [];
    for (let f = rank; f < n; f++) {
      const y = new Float64Array(n);
      y[f] = 1;
      for (let k = rank - 1; k >= 0; k--) {
        let s = -a[f * m + k];
        for (let j = k + 1; j < rank; j++) s -= a[j * m + k] * y[j];
        y[k] = s / a[k * m + k];
      }
      const v = new Float64Array(n);
      for (let j = 0; j < n; j++) v[pivot[j]] = y[j];
      basis.push(v);
    }
    return basis;
  }
}

/** Whether an order is reached by an even number of exchanges, 1, or an odd one, −1. */
function parity(order: readonly number[]): 1 | -1 {
  const seen = new Uint8Array(order.length);
  let sign: 1 | -1 = 1;
  for (let k = 0; k < order.length; k++) {
    for (let at = order[k], length = 1; !seen[k]; length++) {
      if (at === k) {
        seen[k] = 1;
        if (length % 2 === 0) sign = sign === 1 ? -1 : 1;
        break;
      }
      seen[at] = 1;
      at = order[at];
    }
  }
  return sign;
}
