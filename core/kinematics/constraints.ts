import type { LeastSquares } from '../math/index';
import { ARM, type Closing, writeClosure } from './closures';
import type { Kinematics } from './compiled';
import { slidesAt, SLIDES } from './motions';

/** A pose as the constraint rows read it. */
export interface Constrained extends Closing {
  readonly q: Float64Array;
  /** Per grip: whether it holds, and the limit that it has come to. */
  readonly on: Uint8Array;
  readonly limit: Float64Array;
}

/** At most six ports' shares. */
const gain = new Float64Array(16);

/**
 * What a pose misses of every constraint row, into `residuals`, and the
 * rows' gradients over the coordinates that enter them, into `values`.
 */
export function writeConstraints(k: Kinematics, pose: Constrained, residuals: Float64Array, values: Float64Array): void {
  const { entryStart } = k;
  let row = 0;
  for (let c = 0; c < k.closures.length; c++) {
    const closure = k.closures[c];
    writeClosure(closure, k.motion, k.lead, pose, residuals, row, values, entryStart[row]);
    row += closure.rows;
  }
  for (let n = 0; n < k.numeric.length; n++, row++) {
    const r = k.rows[k.numeric[n]];
    const g = k.gripOf[k.numeric[n]];
    values.fill(0, entryStart[row], entryStart[row + 1]);
    if (g >= 0 && !pose.on[g]) {
      residuals[row] = 0;
      continue;
    }
    residuals[row] = r.residual(pose.q, g >= 0 ? pose.limit[g] : 0);
    r.shares(pose.q, gain);
    for (let p = 0; p < r.ports.length; p++) {
      const { value, slot: at } = r.ports[p];
      for (let x = 0; x < value.length; x++) values[entryStart[row] + at[x]] += gain[p] * value[x];
    }
  }
}

/**
 * Enters the constraint rows, and below them the rows that say how far the given
 * coordinates move, into a solver over the free coordinates. Turns are weighed by the
 * arm, so that all rows count alike in metres. The right side is left to whoever asks.
 */
export function enterRows(k: Kinematics, values: Float64Array, held: ArrayLike<number>, targets: number, solver: LeastSquares): void {
  const { start, column, value, entryStart, entry } = k;
  const nc = k.constraintRows;
  const rows = nc + targets;
  solver.begin(rows, k.freeCount);
  const { a } = solver;
  for (let r = 0; r < nc; r++) {
    for (let x = entryStart[r]; x < entryStart[r + 1]; x++) {
      const d = values[x];
      if (d === 0) continue;
      const i = entry[x];
      for (let e = start[i]; e < start[i + 1]; e++) a[column[e] * rows + r] += d * value[e];
    }
  }
  for (let t = 0; t < targets; t++) {
    const i = held[t];
    const w = weightOf(k, i);
    for (let e = start[i]; e < start[i + 1]; e++) a[column[e] * rows + nc + t] += w * value[e];
  }
}

/** Weight of a coordinate among rows in metres: a turn counts by its size at the arm. */
export const weightOf = (k: Kinematics, coordinate: number): number => (slidesAt(k, coordinate) ? 1 : ARM);

/**
 * How far a step of the free coordinates turns or shifts what the loops
 * bend, rad: a shaft that only turns in a train may go any way at once.
 */
export function reachOf(k: Kinematics, x: Float64Array): number {
  const { bending, start, column, value, motion } = k;
  let most = 0;
  for (let n = 0; n < bending.length; n++) {
    const i = bending[n];
    let d = 0;
    for (let e = start[i]; e < start[i + 1]; e++) d += value[e] * x[column[e]];
    most = Math.max(most, Math.abs(d) / (motion[i] === SLIDES ? ARM : 1));
  }
  return most;
}

/** What the second derivatives of numeric rows are short of, into the right side for accelerations. */
export function bendRows(k: Kinematics, pose: Constrained, rates: Float64Array, right: Float64Array): void {
  for (let n = 0; n < k.numeric.length; n++) {
    const r = k.numeric[n];
    const g = k.gripOf[r];
    right[k.constraintOf[r]] = g >= 0 && !pose.on[g] ? 0 : k.rows[r].bend(pose.q, rates);
  }
}
