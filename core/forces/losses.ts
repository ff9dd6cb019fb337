import { type BoundRow, type RowForce, along, portPower } from '../couplings/index';

/** Powers below this part of the largest in the train, and forces below this part of the largest anywhere, are rounding. */
const ROUNDING = 1e-11;

/** What a row puts on the coordinates that enter it at the most, N·m or N. */
function sizeOf({ ports }: BoundRow, f: RowForce): number {
  let most = 0;
  for (let p = 0; p < ports.length; p++) {
    const { value } = ports[p];
    for (let k = 0; k < value.length; k++) most = Math.max(most, Math.abs(f.lambda * f.gain[p] * value[k]));
  }
  return most;
}

/**
 * Sets each row's loss factors from the side that drives now; where `one` is set, those of the first
 * coupling alone that stands otherwise. `acting` is the largest of what acts on bodies and coordinates, N·m
 * or N: a row that carries nothing beside it loses nothing. Gives the row of the first that changed, or −1.
 */
export function updateLosses(rows: readonly BoundRow[], forces: readonly RowForce[], velocity: Float64Array, acting: number, one: boolean): number {
  let power = 0,
    force = acting;
  for (let r = 0; r < rows.length; r++) {
    const { ports } = rows[r];
    force = Math.max(force, sizeOf(rows[r], forces[r]));
    for (let k = 0; k < ports.length; k++) power = Math.max(power, Math.abs(portPower(ports[k], forces[r], k, velocity)));
  }
  let first = -1;
  for (let r = 0; r < rows.length; r++) {
    const least = sizeOf(rows[r], forces[r]) <= ROUNDING * force ? Infinity : ROUNDING * power;
    if (!rows[r].lose(forces, r, velocity, least)) continue;
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
