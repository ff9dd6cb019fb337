import { type BoundRow, type RowForce, along, portPower } from '../couplings/index';

/** Powers below this part of the largest in the train are rounding. */
const ROUNDING = 1e-11;

/**
 * Sets each row's loss factors from the side that drives now; where `one` is set, those of the first coupling alone that stands otherwise. Gives the row of
 * the first that changed, or −1.
 */
export function updateLosses(rows: readonly BoundRow[], forces: readonly RowForce[], velocity: Float64Array, one: boolean): number {
  let most = 0;
  for (let r = 0; r < rows.length; r++) {
    const { ports } = rows[r];
    for (let k = 0; k < ports.length; k++) most = Math.max(most, Math.abs(portPower(ports[k], forces[r], k, velocity)));
  }
  let first = -1;
  for (let r = 0; r < rows.length; r++) {
    if (!rows[r].lose(forces, r, velocity, ROUNDING * most)) continue;
    if (first < 0) first = r;
    if (one) return first;
  }
  return first;
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
