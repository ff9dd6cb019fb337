import type { RowForce } from '../couplings/index';
import type { Kinematics, Pose } from '../kinematics/index';
import type { Columns } from './multipliers';

/**
 * The unknowns of statics: one for each coupling row, each closure row,
 * and each input (sources, then freedoms that are held), in this order.
 */
export interface Unknowns extends Columns {
  readonly count: number;
  readonly firstClosure: number;
  readonly firstInput: number;
}

export function unknownsOf(k: Kinematics, inputs: Int32Array): Unknowns {
  const at = k.rows.map((r) => r.coordinate);
  const firstClosure = at.length;
  for (const c of k.closures) for (let r = 0; r < c.rows; r++) at.push(c.chain);
  const firstInput = at.length;
  for (const i of inputs) at.push(Int32Array.of(i));
  const value = at.map((a) => new Float64Array(a.length));
  for (let n = firstInput; n < at.length; n++) value[n][0] = 1;
  return { count: at.length, firstClosure, firstInput, at, value };
}

/** Fills the columns for the present pose: rows as gains and losses leave them, closures as their gradients. */
export function fillColumns(un: Unknowns, pose: Pose, rows: readonly RowForce[]): void {
  const k = pose.kinematics;
  for (let r = 0; r < k.rows.length; r++) {
    const column = un.value[r];
    const { ports } = k.rows[r];
    const { factor, gain } = rows[r];
    column.fill(0);
    for (let p = 0; p < ports.length; p++) {
      const { value, slot: at } = ports[p];
      const f = factor[p] * gain[p];
      for (let x = 0; x < at.length; x++) column[at[x]] += f * value[x];
    }
  }
  for (let row = 0; row < k.closureRowCount; row++) {
    const column = un.value[un.firstClosure + row];
    const from = k.entryStart[row];
    for (let x = 0; x < column.length; x++) column[x] = pose.rowValues[from + x];
  }
}
