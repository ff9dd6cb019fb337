import { Forces } from '../forces/index';
import { type Compiled, poseOf } from '../kinematics/index';
import type { RunResult } from './recorder';

/** What a run asks of the drive behind a source, and what it works against, by instants: s; rad or m; N·m or N; kg·m² or kg. */
export interface DriveLoad {
  slide: boolean;
  time: Float64Array;
  place: Float64Array;
  speed: Float64Array;
  /** What the train asks for without the drive's own share in speeding it up: steady effort at the place. */
  effort: Float64Array;
  /** What of the train the source moves along, as inertia at the source, and how it changes with the place (per rad or m). */
  inertia: Float64Array;
  slope: Float64Array;
}

/** Part of its greatest speed below which a source rests. */
const RESTS = 1e-6;
/** Part of the source's rate by which a coordinate may differ from what follows from the source's place. */
const FOLLOWS = 1e-4;

/** Whether all motion of a train follows from one source. */
export const ledByOne = (compiled: Compiled): boolean => compiled.sources.length === 1 && poseOf(compiled).freedomCount() === 1;

/**
 * The load of a source's drive from a run that it led: effort = steady effort + J·a + ½
 * J′·v², with the inertia J and its change at each place. Undefined where the train has
 * other freedoms than this source's, or where a one-way coupling took something along.
 */
export function driveLoad(compiled: Compiled, r: RunResult, which = 0): DriveLoad | undefined {
  const source = compiled.sources[which];
  if (!source || !ledByOne(compiled)) return undefined;
  const { coordinate: c } = source;
  const { frames, coordinates: n } = r;
  const pick = (of: Float64Array): Float64Array => Float64Array.from({ length: frames }, (_, f) => of[f * n + c]);
  const [place, speed, acceleration] = [pick(r.q), pick(r.v), pick(r.a)];
  const fastest = speed.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  const inertia = new Float64Array(frames),
    slope = new Float64Array(frames);
  const forces = new Forces(poseOf(compiled));
  let sense = 1;
  for (let f = 0; f < frames; f++) {
    sense = Math.sign(speed[f]) || sense;
    forces.pose.q.set(r.q.subarray(f * n, (f + 1) * n));
    forces.pose.replace();
    const at = forces.reflectedInertia(c, sense);
    // What a pawl or a one-way clutch takes along does not follow from the place alone.
    const follows = forces.velocity.every(
      (rate, i) => Math.abs(rate * sense * speed[f] - r.v[f * n + i]) <= FOLLOWS * Math.max(Math.abs(speed[f]), RESTS * fastest),
    );
    if (!follows) return undefined;
    inertia[f] = at.inertia;
    slope[f] = at.slope;
  }
  return {
    slide: compiled.structure.coordinates[c].motion === 'slide',
    time: r.time.slice(0, frames),
    place,
    speed,
    effort: Float64Array.from(
      { length: frames },
      (_, f) => r.input[f * r.sources + which] - inertia[f] * acceleration[f] - (slope[f] * speed[f] ** 2) / 2,
    ),
    inertia,
    slope,
  };
}
