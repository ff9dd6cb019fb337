import { contactsOf } from '../couplings/index';
import type { Id } from '../fields/types';
import type { Compiled } from '../kinematics/index';
import type { RunResult } from './recorder';
import { type Floors, floorsOf } from './rounding';

/** One quantity of a run that can be drawn over time, and whose worst instant can be found. */
export interface Quantity {
  /** Such as `source:s1:load`, `joint:j2:force`. */
  key: string;
  label: string;
  unit: string;
  /** The item it belongs to. */
  of: Id;
  /** Value at a frame, in `unit`. */
  at(frame: number): number;
}

const scaled =
  (at: (frame: number) => number, by: number) =>
  (frame: number): number =>
    at(frame) * by;

/** Every quantity that a run holds, in the designer's units. */
export function quantities(compiled: Compiled, r: RunResult): Quantity[] {
  const out: Quantity[] = [];
  const n = r.coordinates,
    { structure, design } = compiled;
  // Rounding is nothing, in a chart as anywhere.
  let floors: Floors | undefined;
  const quiet =
    (floor: keyof Floors, at: (frame: number) => number): ((frame: number) => number) =>
    (f) => {
      const v = at(f);
      return Math.abs(v) <= (floors ??= floorsOf(compiled, r))[floor] ? 0 : v;
    };
  compiled.sources.forEach(({ source, coordinate }, k) => {
    const { unit } = structure.coordinates[coordinate];
    const load = quiet(unit.slides ? 'force' : 'moment', (f) => r.input[f * r.sources + k]);
    out.push(
      {
        key: `source:${source.id}:load`,
        label: `${unit.slides ? 'Force' : 'Torque'} of ${source.name}`,
        unit: unit.effort,
        of: source.id,
        at: load,
      },
      {
        key: `source:${source.id}:power`,
        label: `Power of ${source.name}`,
        unit: 'W',
        of: source.id,
        at: quiet('power', (f) => load(f) * r.v[f * n + coordinate]),
      },
    );
  });
  for (const c of structure.coordinates) {
    const { unit, index: i } = c;
    const name = (c.joint.name ?? c.joint.id) + (c.order ? `, ${c.label}` : '');
    const id = c.order ? `${c.joint.id}:${c.order}` : c.joint.id;
    out.push(
      {
        key: `joint:${id}:place`,
        label: `Place of ${name}`,
        unit: unit.place,
        of: c.joint.id,
        at: (f) => r.q[f * n + i] * unit.placesPerSi,
      },
      {
        key: `joint:${id}:speed`,
        label: `Speed of ${name}`,
        unit: unit.speed,
        of: c.joint.id,
        at: scaled(
          quiet(unit.slides ? 'sliding' : 'turning', (f) => r.v[f * n + i]),
          unit.speedsPerSi,
        ),
      },
      {
        key: `joint:${id}:acceleration`,
        label: `Acceleration of ${name}`,
        unit: unit.acceleration,
        of: c.joint.id,
        at: scaled(
          quiet(unit.slides ? 'slidingAcceleration' : 'turningAcceleration', (f) => r.a[f * n + i]),
          unit.accelerationsPerSi,
        ),
      },
    );
    if (c.lower !== undefined || c.upper !== undefined) {
      out.push({
        key: `joint:${id}:stop`,
        label: `Stop force at ${name}`,
        unit: unit.effort,
        of: c.joint.id,
        at: quiet(unit.slides ? 'force' : 'moment', (f) => r.stop[f * n + i]),
      });
    }
    if (c.order) continue;
    const R = (f: number, k: number): number => {
      const o = 6 * (f * n + i) + k;
      return Math.hypot(r.reaction[o], r.reaction[o + 1], r.reaction[o + 2]);
    };
    out.push(
      { key: `joint:${id}:force`, label: `Reaction force at ${name}`, unit: 'N', of: c.joint.id, at: quiet('force', (f) => R(f, 0)) },
      { key: `joint:${id}:moment`, label: `Reaction moment at ${name}`, unit: 'N·m', of: c.joint.id, at: quiet('moment', (f) => R(f, 3)) },
    );
  }
  let strand = 0;
  compiled.couplings.forEach(({ coupling, model }, k) => {
    const name = coupling.name ?? coupling.id;
    const at = (a: Float64Array, floor: keyof Floors = 'force') => quiet(floor, (f) => a[f * r.couplings + k]);
    const first = compiled.couplings.findIndex((c) => c.coupling.id === coupling.id) === k;
    const cam = model.law === 'curve';
    const strands = model.law === 'band' ? (model.band?.lengths.length ?? 0) : 0;
    if (first && (contactsOf(model).length || cam)) {
      out.push({
        key: `coupling:${coupling.id}:tangential`,
        label: `${cam ? 'Contact' : 'Tangential'} force of ${name}`,
        unit: 'N',
        of: coupling.id,
        at: at(r.tangential),
      });
      if (!cam && !strands) {
        out.push(
          { key: `coupling:${coupling.id}:radial`, label: `Radial force of ${name}`, unit: 'N', of: coupling.id, at: at(r.radial) },
          { key: `coupling:${coupling.id}:axial`, label: `Axial force of ${name}`, unit: 'N', of: coupling.id, at: at(r.axial) },
        );
      }
    }
    if (first && model.efficiency) {
      out.push({ key: `coupling:${coupling.id}:loss`, label: `Loss of ${name}`, unit: 'W', of: coupling.id, at: at(r.loss, 'power') });
    }
    for (let s = 0; s < strands; s++) {
      const o = strand++;
      out.push({
        key: `coupling:${coupling.id}:strand${s}`,
        label: `Strand ${s + 1} of ${name}`,
        unit: 'N',
        of: coupling.id,
        at: quiet('force', (f) => r.strands[f * r.strandCount + o]),
      });
    }
  });
  out.push(
    { key: 'energy:kinetic', label: 'Kinetic energy', unit: 'J', of: design.name, at: (f) => r.kinetic[f] },
    { key: 'energy:loads', label: 'Power of loads, weight and inertia', unit: 'W', of: design.name, at: quiet('power', (f) => r.loadPower[f]) },
  );
  return out;
}

/** The values of a quantity over all frames. */
export const seriesOf = (q: Quantity, frames: number): Float64Array => Float64Array.from({ length: frames }, (_, f) => q.at(f));

/** The instant at which a quantity is largest by size. */
export function worstInstant(q: Quantity, frames: number): { frame: number; value: number } {
  let frame = 0;
  for (let f = 1; f < frames; f++) if (Math.abs(q.at(f)) > Math.abs(q.at(frame))) frame = f;
  return { frame, value: q.at(frame) };
}
