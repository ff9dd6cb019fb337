import { limitFindings } from '../forces/index';
import type { Finding, Id } from '../fields/types';
import type { Compiled } from '../kinematics/index';
import { ledByOne } from './drive-load';
import type { RunResult } from './recorder';
import { motionUnit } from '../units/index';

/** What a run asks of one source. Torque in N·m or force in N, power in W, time in s. */
export interface SourceDuty {
  source: Id;
  slide: boolean;
  /** The largest by size, and when. */
  peak: number;
  peakAt: number;
  /** Root of the mean square: by what it warms. */
  rms: number;
  /** The greatest and the mean of the power that it gives. */
  mostPower: number;
  meanPower: number;
  /** Part of the time: driving on, braking on, driving back, braking back; the rest it stands, or has no load. */
  quadrants: [number, number, number, number];
  /** Inertia that it moves where all motion follows from it: kg·m² or kg, least and greatest; nothing where it is not alone. */
  inertia?: { least: number; greatest: number };
}

/** What a run asks of its sources beyond the limits that they state, each at its greatest. */
export function beyondLimits(compiled: Compiled, r: RunResult): Finding[] {
  return compiled.sources.flatMap(({ source, coordinate }, k) => {
    const slide = compiled.structure.coordinates[coordinate].motion === 'slide';
    const greatest = (value: (f: number) => number): { is: number; at: number } => {
      let [is, at] = [0, 0];
      for (let f = 0; f < r.frames; f++) if (Math.abs(value(f)) > is) [is, at] = [Math.abs(value(f)), r.time[f]];
      return { is, at };
    };
    const speed = greatest((f) => r.v[f * r.coordinates + coordinate]),
      load = greatest((f) => r.input[f * r.sources + k]);
    const when = (at: number): string => ` at ${Number(at.toPrecision(4))} s`;
    const asked = { speed: speed.is * motionUnit(slide).speedsPerSi, load: load.is };
    return limitFindings(source, slide, asked, { speed: when(speed.at), load: when(load.at) });
  });
}

/** Part of the greatest below which speed, torque or power counts as nothing. */
const NOTHING = 1e-6;

/** What a run asks of each source: integrals by trapezia over its instants. */
export function dutiesOf(compiled: Compiled, r: RunResult): SourceDuty[] {
  const { coordinates: n, frames, time } = r;
  const span = time[frames - 1] - time[0];
  const alone = ledByOne(compiled);
  return compiled.sources.map(({ source, coordinate }, k) => {
    const load = (f: number): number => r.input[f * r.sources + k],
      speed = (f: number): number => r.v[f * n + coordinate];
    let peak = 0,
      peakAt = time[0],
      fastest = 0;
    for (let f = 0; f < frames; f++) {
      if (Math.abs(load(f)) > Math.abs(peak) * (1 + 1e-12)) [peak, peakAt] = [load(f), time[f]];
      fastest = Math.max(fastest, Math.abs(speed(f)));
    }
    const quadrants: SourceDuty['quadrants'] = [0, 0, 0, 0];
    let square = 0,
      work = 0,
      mostPower = -Infinity,
      least = Infinity,
      greatest = -Infinity;
    for (let f = 0; f < frames; f++) {
      const p = load(f) * speed(f);
      mostPower = Math.max(mostPower, p);
      if (alone && Math.abs(speed(f)) > 1e-3 * fastest) {
        const j = (2 * r.kinetic[f]) / speed(f) ** 2;
        least = Math.min(least, j);
        greatest = Math.max(greatest, j);
      }
      if (!f) continue;
      const dt = time[f] - time[f - 1];
      const [a, b] = [load(f - 1), load(f)];
      square += (dt * (a * a + a * b + b * b)) / 3;
      work += (dt * (p + load(f - 1) * speed(f - 1))) / 2;
      // By the middle of the stretch.
      const v = (speed(f - 1) + speed(f)) / 2,
        t = (a + b) / 2;
      if (Math.abs(v) > NOTHING * fastest && Math.abs(t) > NOTHING * Math.abs(peak)) quadrants[v > 0 ? (t > 0 ? 0 : 1) : t < 0 ? 2 : 3] += dt;
    }
    const part = (x: number): number => (span > 0 ? x / span : 0);
    return {
      source: source.id,
      slide: compiled.structure.coordinates[coordinate].motion === 'slide',
      peak,
      peakAt,
      rms: Math.sqrt(part(square)),
      mostPower,
      meanPower: part(work),
      quadrants: quadrants.map(part) as SourceDuty['quadrants'],
      inertia: least <= greatest ? { least, greatest } : undefined,
    };
  });
}
