import type { Id } from '../fields/types';
import type { Pose } from '../kinematics/index';

/** A constraint of a train at a pose, as a gradient over all its coordinates (rad, m). */
export interface TrainRow {
  /** Its place among the compiled couplings; −1 of a loop that joints close. */
  readonly at: number;
  readonly gradient: Float64Array;
  /**
   * Of each port: what of the gradient is that port's at the coordinate that carries its body, and what the row comes to for one
   * unit of the port's own motion (rad, m).
   */
  readonly own: readonly { readonly share: number; readonly whole: number }[];
}

const gain = new Float64Array(16);

/**
 * All rows that hold a train together at a pose: couplings (of one-way ones those that hold), and loops. What they leave free
 * moves.
 */
export function rowsOf(pose: Pose): TrainRow[] {
  const k = pose.kinematics;
  const out: TrainRow[] = [];
  pose.constraints();
  for (let r = 0; r < k.closureRowCount; r++) {
    const gradient = new Float64Array(k.count);
    for (let x = k.entryStart[r]; x < k.entryStart[r + 1]; x++) gradient[k.entry[x]] += pose.rowValues[x];
    out.push({ at: -1, gradient, own: [] });
  }
  for (const [at, row] of k.rows.entries()) {
    const g = k.gripOf[at];
    if (row.grip && (g < 0 || !pose.on[g])) continue;
    row.shares(pose.q, gain);
    const gradient = new Float64Array(k.count);
    const own = row.ports.map((p, n) => {
      let share = 0;
      for (let x = 0; x < p.value.length; x++) {
        gradient[p.coordinate[x]] += gain[n] * p.value[x];
        if (k.bodyCoordinate[p.body] === p.coordinate[x]) share += gain[n] * p.value[x];
      }
      return { share, whole: gain[n] * p.share };
    });
    out.push({ at, gradient, own });
  }
  return out;
}

/** The element at a port of a row: a band's rows tie wheels that follow each other. */
export function elementAt(coupling: { a?: Id; b?: Id; wheels?: readonly Id[] }, rowOfBand: number, port: number): Id | undefined {
  return coupling.wheels ? coupling.wheels[rowOfBand + port] : port === 0 ? coupling.a : coupling.b;
}
