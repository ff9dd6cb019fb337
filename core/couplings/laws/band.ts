import type { Id } from '../../fields/types';
import { type Vec3, cross, dot, vsub } from '../../math/index';
import type { BandModel } from '../protocol';
import { bindProportional } from './proportional';
import { type BoundContact, bindContact } from './contact';
import {
  type Bearer,
  type Binding,
  type BoundPort,
  type BoundRow,
  NO_POWER,
  type RowForce,
  bindPorts,
  metres,
  pairOn,
  portPower,
  pushBetween,
  setFactor,
} from './protocol';

/**
 * A looped band: one row for each strand but the last, whose force is that strand's tension less the last one's.
 * The first row carries the band itself: tensions of all strands, and the last strand's pull on every wheel.
 */
export function bindBand(coupling: Id, model: BandModel, to: Binding, numeric: boolean): BoundRow {
  const proportion = bindProportional(coupling, model, to, numeric);
  const strand = bindContact(model.contacts[0], proportion.ports);
  const span: BoundRow = {
    ...proportion,
    report: (forces, at) => void (forces[at].tangential = pullOf(strand, forces[at])),
    bear: (f, _q, into) => bearStrand(coupling, strand, proportion.ports, f, into),
  };
  const band = model.band;
  // Losses of a band are its wheels', whichever rows these stand in: its first row has them.
  if (!band) return { ...span, lose: () => false };
  const rows = [model, ...(model.more ?? [])].map((m) => bindPorts(m.ports, to, false).ports);
  const powers = new Float64Array(rows.length + 1);
  const { pretension, lengths } = band;
  const total = lengths.reduce((s, x) => s + x, 0);
  const pulls = band.pulls.map((p): { body: number; carrier: number; point: Vec3; force: Vec3 } => ({
    body: to.bodyOf(p.member),
    carrier: to.bodyOf(p.carrier),
    point: metres(p.point),
    force: p.force,
  }));
  return {
    ...span,
    strands: lengths.length,
    lose: (forces, at, velocity, least) => lossesOfWheels(forces, at, velocity, rows, powers, span.efficiency.forward, least),
    report(forces, at, q) {
      span.report(forces, at, q);
      for (let k = 1; k < rows.length; k++) {
        forces[at].loss += forces[at + k].loss;
        forces[at + k].loss = 0;
      }
      tensions(forces, at, pretension, lengths, total);
    },
    bear(f, q, into) {
      span.bear(f, q, into);
      const last = f.strands[f.strands.length - 1];
      for (let k = 0; k < pulls.length; k++) {
        const { body, carrier, point: p, force: d } = pulls[k];
        into.pull(coupling, carrier, body, p[0], p[1], p[2], last * d[0], last * d[1], last * d[2]);
      }
    },
  };
}

/** Force along a strand, N. */
const pullOf = (strand: BoundContact, f: RowForce): number => (strand.arm === 0 ? 0 : f.port[strand.a] / f.factor[strand.a] / strand.arm);

/**
 * A strand pulls its two wheels together. What the band loses on a wheel is lost between the two, since a band
 * is held by nothing else: the wheel feels less because the strand does not lie quite along the common tangent,
 * which is a force across the line of centres, through the other wheel's axis (for two wheels (T1 − T2)/a).
 */
function bearStrand(coupling: Id, strand: BoundContact, ports: readonly BoundPort[], f: RowForce, into: Bearer): void {
  const [a, b] = [ports[strand.a], ports[strand.b]];
  const pull = pullOf(strand, f);
  const { along, point } = strand;
  pushBetween(coupling, a, b, point, pull * along[0], pull * along[1], pull * along[2], into);
  for (let k = 0; k < 2; k++) {
    const [p, o] = [ports[k], ports[1 - k]];
    const lost = f.port[k] - (f.port[k] / f.factor[k]) * p.kept;
    if (lost === 0) continue;
    const apart = vsub(o.point, p.point);
    const across = cross(p.axis, apart);
    const by = lost / dot(across, across);
    // Wheels whose axes different members carry have no common line of centres.
    if (p.carrier === o.carrier) pushBetween(coupling, p, o, o.point, by * across[0], by * across[1], by * across[2], into);
    else pairOn(coupling, p, p.carrier, p.point, lost * p.axis[0], lost * p.axis[1], lost * p.axis[2], into);
  }
}

/**
 * A wheel that gives power to the band does so in full; one that takes power from it has what the efficiency leaves, and
 * what creep leaves, however the wheels are listed and however many there are. `powers`: room for one number a wheel.
 */
function lossesOfWheels(
  forces: readonly RowForce[],
  at: number,
  velocity: Float64Array,
  rows: readonly (readonly BoundPort[])[],
  powers: Float64Array,
  efficiency: number,
  least: number,
): boolean {
  powers.fill(0);
  for (let k = 0; k < rows.length; k++) for (let p = 0; p < 2; p++) powers[k + p] += portPower(rows[k][p], forces[at + k], p, velocity);
  let most = 0;
  for (let i = 0; i < powers.length; i++) most = Math.max(most, Math.abs(powers[i]));
  let changed = false;
  for (let k = 0; k < rows.length; k++) {
    for (let p = 0; p < 2; p++) {
      const takes = powers[k + p] > Math.max(least, NO_POWER * most);
      if (setFactor(forces[at + k], p, takes ? efficiency * rows[k][p].kept : 1)) changed = true;
    }
  }
  return changed;
}

/**
 * Strand tensions: the rows' differences over the last strand, which
 * carries what makes the mean the pre-tension and none negative.
 */
function tensions(forces: readonly RowForce[], at: number, pretension: number, lengths: readonly number[], total: number): void {
  const out = forces[at].strands;
  let mean = 0,
    least = 0;
  for (let k = 0; k < out.length; k++) {
    // Rows of a band stand one after the other, each with the tangential force of its own strand.
    const over = k < out.length - 1 ? forces[at + k].tangential : 0;
    out[k] = over;
    mean += over * lengths[k];
    least = Math.min(least, over);
  }
  const last = Math.max(pretension - mean / total, -least);
  for (let k = 0; k < out.length; k++) out[k] += last;
}
