import type { DrivingSource } from '../document/kinds';
import { Forces } from '../forces/index';
import { type Compiled, type Pose, coordinateOf, exactRatio, poseOf, slidesAt } from '../kinematics/index';
import { piToNumber } from '../math/index';
import { type MotionProfile, motionProfile, profileProblem } from './profiles';

/** The motion of a source in time; or what is wrong with it, with the field. SI. */
export interface SourceMotion {
  profile: MotionProfile;
  /** One speed all the time. */
  steady: boolean;
  problem?: { field: string; message: string };
}

const still: MotionProfile = (_t, out) => void out.fill(0, 0, 3);
/** A joint that moves by less than this for one of the source does not follow it. */
const NO_WAY = 1e-9;

/**
 * The motion of one of a train's sources, from the pose at which a run begins. Stated for another joint of
 * the train it is what brings that motion about: by the exact ratio between the two where it is the same
 * everywhere, through the loops of a linkage by solving for its pose, rates and accelerations at each time.
 */
export function sourceMotion(compiled: Compiled, index: number, start: Pose): SourceMotion {
  const { coordinate } = compiled.sources[index];
  const source: DrivingSource = compiled.sources[index].source;
  const kind = source.profile ?? 'constant speed';
  const turning = (c: number): boolean => !slidesAt(start.kinematics, c);
  const own = { profile: motionProfile(source, turning(coordinate)), steady: kind === 'constant speed' };
  const problem = profileProblem(source);
  if (problem) return { ...own, problem };
  if (source.motionOf === undefined || kind === 'constant speed') return own;
  const at = coordinateOf(compiled.structure, source.motionOf)?.index;
  const wrong = (message: string): SourceMotion => ({ profile: still, steady: true, problem: { field: 'motionOf', message } });
  if (at === undefined) return wrong('choose the joint whose motion the profile gives');
  if (at === coordinate) return own;
  const stated = motionProfile(source, turning(at));
  const others = compiled.sources.map((s) => s.coordinate).filter((c) => c !== coordinate && c !== at);
  const ratio = ratesBy(start, coordinate, others)[at];
  if (Math.abs(ratio) < NO_WAY) return wrong('its source does not move this joint: choose one that it moves');
  if (others.some((c) => Math.abs(ratesBy(start, c, [coordinate, ...others.filter((o) => o !== c)])[at]) > NO_WAY)) {
    return wrong('other sources move this joint as well: state the motion of the source itself');
  }
  if (start.kinematics.linear && !start.kinematics.grips.length) {
    const exact = exactRatio(compiled.reduction, coordinate, at);
    // Turns and mm over turns and mm, in rad and m.
    const k = exact ? (piToNumber(exact) * start.kinematics.scale[coordinate]) / start.kinematics.scale[at] : 1 / ratio;
    return {
      steady: false,
      profile: (t, out) => {
        stated(t, out);
        for (let i = 0; i < 3; i++) out[i] *= k;
      },
    };
  }
  return { steady: false, profile: throughLoops(compiled, start, { at, coordinate, others }, stated) };
}

/** Rates of all coordinates while one moves at unit rate and others stand. */
function ratesBy(pose: Pose, coordinate: number, others: readonly number[]): Float64Array {
  const out = new Float64Array(pose.kinematics.count);
  const free = new Float64Array(pose.kinematics.freeCount);
  pose.rates([coordinate, ...others], [1, ...others.map(() => 0)], free);
  pose.spreadRates(free, out);
  return out;
}

/** What a source has to do for another joint to move as stated, the pose being solved anew at each time, from the last one on. */
function throughLoops(
  compiled: Compiled,
  start: Pose,
  { at, coordinate, others }: { at: number; coordinate: number; others: readonly number[] },
  stated: MotionProfile,
): MotionProfile {
  const pose = poseOf(compiled);
  pose.setFree(start.u);
  pose.solve([], []);
  const led = Int32Array.from([at, ...others]);
  const values = Float64Array.from(led, (c) => pose.q[c]);
  const [base] = values;
  const from = pose.q[coordinate];
  const speeds = new Float64Array(led.length),
    pushes = new Float64Array(led.length),
    free = new Float64Array(pose.kinematics.freeCount);
  const forces = new Forces(pose, { driven: [...led] });
  const last = Float64Array.from(pose.u);
  return (t, out) => {
    stated(t, out);
    values[0] = base + out[0];
    [speeds[0], pushes[0]] = [out[1], out[2]];
    const state = pose.solve(led, values);
    if (state !== 'ok') {
      // The next look begins from where it came to.
      pose.setFree(last);
      pose.solve([], []);
      return state;
    }
    last.set(pose.u);
    pose.rates(led, speeds, free);
    pose.spreadRates(free, forces.velocity);
    forces.accelerate(led, pushes, free);
    out[0] = pose.q[coordinate] - from;
    out[1] = forces.velocity[coordinate];
    out[2] = forces.acceleration[coordinate];
    return undefined;
  };
}

/**
 * What a source does for its profile: how far it goes at most and its greatest
 * speed and acceleration, SI; or why it cannot, and from when on (s).
 */
export interface SourcePeaks {
  way: number;
  speed: number;
  acceleration: number;
  problem?: string;
  ends?: number;
}

/** The most that a source is asked for by its profile over a time, at so many instants, from the reference position. */
export function sourcePeaks(compiled: Compiled, index: number, lasts: number, instants = 240): SourcePeaks {
  const pose = poseOf(compiled);
  pose.solve([], []);
  const { profile, problem } = sourceMotion(compiled, index, pose);
  const peaks: SourcePeaks = { way: 0, speed: 0, acceleration: 0 };
  if (problem) return { ...peaks, problem: problem.message };
  const out = new Float64Array(3);
  for (let k = 0; k <= instants; k++) {
    const t = (lasts * k) / instants;
    const state = profile(t, out);
    if (state && state !== 'ok') return { ...peaks, ends: t };
    peaks.way = Math.max(peaks.way, Math.abs(out[0]));
    peaks.speed = Math.max(peaks.speed, Math.abs(out[1]));
    peaks.acceleration = Math.max(peaks.acceleration, Math.abs(out[2]));
  }
  return peaks;
}
