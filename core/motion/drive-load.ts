import type { Compiled } from '../kinematics/index';
import type { RunResult } from './recorder';

/** What a run asks of the drive behind a source, and what it works against, by instants: s; rad or m; N·m or N; kg·m² or kg. */
export interface DriveLoad {
  slide: boolean;
  time: Float64Array;
  place: Float64Array;
  speed: Float64Array;
  /** What the train asks for without the drive's own share in speeding it up: steady effort at the place. */
  effort: Float64Array;
  /** What of the train the source moves along, as inertia at the source. */
  inertia: Float64Array;
}

/** Part of the fastest below which a speed tells nothing of inertia. */
const SLOW = 1e-3;

/**
 * The load of a source's drive from a run that it led: the effort less inertia times acceleration, and the inertia from the kinetic energy, 2T/v² (where it stands,
 * that of the nearest instant at which it moves). Undefined where the train has other freedoms than this source's.
 */
export function driveLoad(compiled: Compiled, r: RunResult, which = 0): DriveLoad | undefined {
  const source = compiled.sources[which];
  if (!source || compiled.sources.length !== 1 || compiled.kinematics.freeCount !== 1) return undefined;
  const { coordinate: c } = source;
  const { frames, coordinates: n } = r;
  const pick = (of: Float64Array): Float64Array => Float64Array.from({ length: frames }, (_, f) => of[f * n + c]);
  const [place, speed, acceleration] = [pick(r.q), pick(r.v), pick(r.a)];
  const fastest = speed.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  const inertia = new Float64Array(frames).fill(-1);
  const moves = (f: number): boolean => Math.abs(speed[f]) > SLOW * fastest;
  for (let f = 0; f < frames; f++) if (moves(f)) inertia[f] = (2 * r.kinetic[f]) / speed[f] ** 2;
  for (let f = 1; f < frames; f++) if (inertia[f] < 0) inertia[f] = inertia[f - 1];
  for (let f = frames - 2; f >= 0; f--) if (inertia[f] < 0) inertia[f] = inertia[f + 1];
  for (let f = 0; f < frames; f++) inertia[f] = Math.max(0, inertia[f]);
  return {
    slide: compiled.structure.coordinates[c].motion === 'slide',
    time: r.time.slice(0, frames),
    place,
    speed,
    effort: Float64Array.from({ length: frames }, (_, f) => r.input[f * r.sources + which] - inertia[f] * acceleration[f]),
    inertia,
  };
}
