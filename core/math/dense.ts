/** A square matrix by rows. */
export type Matrix = Float64Array[];
export const zeros = (rows: number, columns = rows): Matrix => Array.from({ length: rows }, () => new Float64Array(columns));

/** Sweeps of the Jacobi method; ten do for any size. */
const SWEEPS = 60;

/**
 * Eigenvalues, ascending, and orthonormal eigenvectors (as rows) of a symmetric matrix, by the cyclic Jacobi method (Golub & Van
 * Loan, Matrix Computations, 4th ed., section 8.5): small eigenvalues come out as exactly as large ones.
 */
export function symmetricEigen(of: Matrix): { values: Float64Array; vectors: Matrix } {
  const n = of.length;
  const a = of.map((r) => Float64Array.from(r));
  const v = zeros(n);
  for (let i = 0; i < n; i++) v[i][i] = 1;
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    let off = 0,
      all = 0;
    for (let i = 0; i < n; i++) {
      all += a[i][i] * a[i][i];
      for (let j = i + 1; j < n; j++) off += a[i][j] * a[i][j];
    }
    if (off <= 1e-32 * (all + off)) break;
    for (let p = 0; p < n; p++) {
      for (let q = p + 1; q < n; q++) {
        if (a[p][q] === 0) continue;
        const theta = (a[q][q] - a[p][p]) / (2 * a[p][q]);
        const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.hypot(theta, 1));
        const c = 1 / Math.hypot(t, 1);
        const s = t * c;
        for (let k = 0; k < n; k++) {
          const [x, y] = [a[p][k], a[q][k]];
          a[p][k] = c * x - s * y;
          a[q][k] = s * x + c * y;
        }
        for (let k = 0; k < n; k++) {
          const [x, y] = [a[k][p], a[k][q]];
          a[k][p] = c * x - s * y;
          a[k][q] = s * x + c * y;
          const [u, w] = [v[p][k], v[q][k]];
          v[p][k] = c * u - s * w;
          v[q][k] = s * u + c * w;
        }
      }
    }
  }
  const order = Array.from({ length: n }, (_, i) => i).sort((i, j) => a[i][i] - a[j][j]);
  return { values: Float64Array.from(order, (i) => a[i][i]), vectors: order.map((i) => v[i]) };
}

/** The lower triangle L of A = L·Lᵀ; undefined where A is not positive definite. */
export function cholesky(a: Matrix): Matrix | undefined {
  const n = a.length;
  const l = zeros(n);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = a[i][j];
      for (let k = 0; k < j; k++) sum -= l[i][k] * l[j][k];
      if (i === j) {
        if (!(sum > 1e-14 * Math.abs(a[i][i]))) return undefined;
        l[i][i] = Math.sqrt(sum);
      } else l[i][j] = sum / l[j][j];
    }
  }
  return l;
}
/** Solves L·x = b, and Lᵀ·x = b, in place. */
export function forward(l: Matrix, b: Float64Array): Float64Array {
  for (let i = 0; i < b.length; i++) {
    for (let k = 0; k < i; k++) b[i] -= l[i][k] * b[k];
    b[i] /= l[i][i];
  }
  return b;
}
export function backward(l: Matrix, b: Float64Array): Float64Array {
  for (let i = b.length - 1; i >= 0; i--) {
    for (let k = i + 1; k < b.length; k++) b[i] -= l[k][i] * b[k];
    b[i] /= l[i][i];
  }
  return b;
}

/** Pivots less than this part of the largest are rounding. */
const RANK = 1e-11;

/** Rows of which none follows from those before it, and what solves them. */
export interface Solved {
  /** Which of the rows. */
  readonly kept: readonly number[];
  /** A column of each kept row, and by rows the inverse over these columns: x[pivot[i]] = Σ inverse[i][k]·b[k] solves A·x = b. */
  readonly pivot: readonly number[];
  readonly inverse: Matrix;
  /** All x that every row leaves free, as rows. */
  readonly basis: Matrix;
}
/** Solves rows one after the other by Gauss–Jordan elimination; what follows from those before it is left out. */
export function solveRows(rows: readonly Float64Array[], columns: number): Solved {
  const [kept, pivot]: [number[], number[]] = [[], []];
  const [a, inverse]: [Matrix, Matrix] = [[], []];
  const take = (from: Float64Array, what: Float64Array, times: number): void => {
    for (let j = 0; j < what.length; j++) from[j] -= times * what[j];
  };
  rows.forEach((given, at) => {
    const most = given.reduce((m, x) => Math.max(m, Math.abs(x)), 0);
    if (most === 0) return;
    const row = Float64Array.from(given, (x) => x / most);
    const made = new Float64Array(rows.length);
    made[kept.length] = 1 / most;
    for (let r = 0; r < a.length; r++) {
      const f = row[pivot[r]];
      if (f === 0) continue;
      take(row, a[r], f);
      take(made, inverse[r], f);
    }
    let p = 0;
    for (let j = 1; j < columns; j++) if (Math.abs(row[j]) > Math.abs(row[p])) p = j;
    if (Math.abs(row[p]) <= RANK) return;
    const scale = 1 / row[p];
    for (let j = 0; j < columns; j++) row[j] *= scale;
    for (let j = 0; j < made.length; j++) made[j] *= scale;
    for (let r = 0; r < a.length; r++) {
      const f = a[r][p];
      if (f === 0) continue;
      take(a[r], row, f);
      take(inverse[r], made, f);
    }
    kept.push(at);
    pivot.push(p);
    a.push(row);
    inverse.push(made);
  });
  const bound = new Set(pivot);
  const basis = Array.from({ length: columns }, (_, j) => j)
    .filter((j) => !bound.has(j))
    .map((j) => {
      const x = new Float64Array(columns);
      x[j] = 1;
      pivot.forEach((p, r) => (x[p] = -a[r][j]));
      return x;
    });
  return { kept, pivot, inverse, basis };
}
