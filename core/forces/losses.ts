import { type BoundRow, type RowForce, along } from '../couplings/index';

/** Ideal power that a row gives to one of its ports, W. */
export const portPower = (row: BoundRow, f: RowForce, port: number, velocity: Float64Array): number =>
  along(row.ports[port], velocity) * f.gain[port] * f.lambda;

/** Sets each row's loss factors from the side that drives now. True when any changed. */
export function updateLosses(rows: readonly BoundRow[], forces: readonly RowForce[], velocity: Float64Array): boolean {
  let changed = false;
  for (let r = 0; r < rows.length; r++) {
    const row = rows[r];
    const { forward, backward } = row.efficiency;
    if (forward === 1 && backward === 1) continue;
    const f = forces[r];
    const first = portPower(row, f, 0, velocity);
    let most = 0;
    for (let k = 0; k < row.ports.length; k++) most = Math.max(most, Math.abs(portPower(row, f, k, velocity)));
    const tiny = Math.abs(first) <= 1e-12 * most || most === 0;
    for (let k = 0; k < row.ports.length; k++) {
      // Power that the coupling takes from a port is negative there: that side drives and its force stands in full.
      const p = portPower(row, f, k, velocity);
      const want = tiny || p <= 0 ? 1 : k === 0 ? backward : forward;
      if (want !== f.factor[k]) {
        f.factor[k] = want;
        changed = true;
      }
    }
  }
  return changed;
}

/** Forces, speeds and loss of every row from its multiplier, and what its law reports beyond them. */
export function reportRows(rows: readonly BoundRow[], forces: readonly RowForce[], velocity: Float64Array, q: Float64Array): void {
  for (let r = 0; r < rows.length; r++) {
    const { ports } = rows[r];
    const f = forces[r];
    f.loss = f.tangential = f.radial = f.axial = 0;
    f.driving = -1;
    for (let k = 0; k < ports.length; k++) {
      const p = ports[k];
      const force = f.lambda * f.factor[k] * f.gain[k];
      const v = along(p, velocity);
      f.port[k] = p.share * force;
      f.speed[k] = p.share === 0 ? 0 : v / p.share;
      f.loss -= v * force;
      if (v * f.lambda * f.gain[k] < 0) f.driving = k;
    }
  }
  // Backward: a band's first row reads what the rows of its other strands report.
  for (let r = rows.length - 1; r >= 0; r--) rows[r].report(forces, r, q);
}
