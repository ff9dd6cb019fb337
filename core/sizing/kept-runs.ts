import { type DrivingSource, RUN_ENDS } from '../document/index';
import { num } from '../elements/index';
import type { Design, KeptRun, Load } from '../fields/types';
import { findWorkingPoints, Forces, nominalRate } from '../forces/index';
import { type Compiled, type Pose, compile, poseOf, slidesAt } from '../kinematics/index';
import { Hand, type RunOptions, goHome, shortOfDead } from '../motion/index';
import { inCase } from '../edits/cases';

/** A kept run made ready: what is compiled, how long it takes, and where it begins (free coordinates). */
export interface RunPlan {
  readonly compiled: Compiled;
  readonly options: RunOptions;
  readonly start: Float64Array;
  /** What could not be done as it was stated, in words. */
  readonly said: readonly string[];
}

/** How a run is computed where nothing else is stated: s, and instants. */
export const RUN_DEFAULTS = { duration: 10, frames: 201 } as const;

/** The places of all joints of a pose, deg or mm, as a kept run states where it begins. */
export function startsOf(pose: Pose): { joint: string; at: number }[] {
  const { structure } = pose.compiled;
  return structure.coordinates.map((c) => ({
    joint: c.order ? `${c.joint.id}:${c.order}` : c.joint.id,
    at: Number(((pose.q[c.index] / pose.kinematics.scale[c.index]) * (c.motion === 'slide' ? 1 : 360)).toPrecision(12)),
  }));
}

/**
 * Puts a train where it was stated to stand; at home where nothing
 * is stated. False where it cannot stand there: it is then at home.
 */
export function placeAt(pose: Pose, starts: KeptRun['starts']): boolean {
  goHome(pose);
  if (!starts?.length) return true;
  const { coordinates } = pose.compiled.structure;
  const home = Float64Array.from(pose.u);
  const at: number[] = [],
    values: number[] = [];
  for (const s of starts) {
    const [id, order] = s.joint.split(':');
    const c = coordinates.find((x) => x.joint.id === id && x.order === Number(order ?? 0));
    if (!c) continue;
    at.push(c.index);
    values.push((s.at * pose.kinematics.scale[c.index]) / (c.motion === 'slide' ? 1 : 360));
  }
  if (pose.solve(at, values) === 'ok') {
    pose.engage();
    return true;
  }
  pose.setFree(home);
  pose.engage();
  return false;
}

/** The design as a run sees it: in its load case, its sources let go, or the first at its nominal speed. */
function designOf(design: Design, run: KeptRun): Design {
  const d = inCase(design, run.case);
  if (run.letGo) return { ...d, sources: [], loads: [...d.loads, ...brakesOf(d)] };
  if (run.recorded?.length) {
    const [first, ...others] = d.sources;
    return first ? { ...d, sources: [{ ...first, profile: 'table', table: run.recorded } as typeof first, ...others] } : d;
  }
  if (run.until !== 'turn' && run.until !== 'stop to stop') return d;
  const [first, ...others] = d.sources;
  return first ? { ...d, sources: [{ ...first, profile: 'constant speed' } as typeof first, ...others] } : d;
}

/** What a kept run moves: its quantities and forces are told from its results by this. */
export const compileRun = (design: Design, run: KeptRun): Compiled => compile(designOf(design, run));

/**
 * Makes a kept run ready to be computed. Never throws; what cannot be done as stated is said, and the nearest that
 * can is taken: a way without two stops runs for the duration, a place at which the train cannot stand is home.
 */
export function planRun(design: Design, run: KeptRun): RunPlan {
  const compiled = compileRun(design, run);
  const pose = poseOf(compiled);
  const said: string[] = [];
  if (!placeAt(pose, run.starts)) said.push('it cannot begin where it was stated, and begins at home');
  const frames = run.frames ?? RUN_DEFAULTS.frames;
  let duration = run.duration ?? RUN_DEFAULTS.duration;
  const until = RUN_ENDS.find((x) => x === run.until) ?? 'time';
  const [source] = compiled.sources;
  if (until === 'turn' || until === 'stop to stop') {
    if (!source) said.push('it has no source to lead it');
    else {
      findWorkingPoints(pose, new Forces(pose));
      const c = source.coordinate,
        k = pose.kinematics.scale[c];
      const rate = nominalRate(pose, c, pose.sourceSpeed[0]);
      if (rate === 0) said.push(`${source.source.name} has no speed`);
      else if (until === 'turn') {
        if (slidesAt(pose.kinematics, c)) said.push(`${source.source.name} does not turn`);
        else duration = (2 * Math.PI) / Math.abs(rate);
      } else {
        const hand = new Hand(pose);
        const { lower, upper } = hand.interval(c);
        if (!lower || !upper) said.push(`the way of ${source.source.name} has no ${lower ? 'upper' : 'lower'} stop`);
        else {
          const [from, to] = shortOfDead({ lower, upper }, lower.at, upper.at);
          hand.move(c, (rate > 0 ? from : to) * k);
          duration = ((to - from) * k) / Math.abs(rate);
        }
      }
    }
  }
  return { compiled, options: { duration, frames, untilRest: until === 'rest' }, start: Float64Array.from(pose.u), said };
}

/** Holding brakes of sources that let go, as brakes at their joints. */
function brakesOf(d: Design): Load[] {
  return d.sources.flatMap((s: DrivingSource) =>
    num(s.brake) > 0
      ? [{ id: `${s.id}-brake`.slice(-64), name: `Brake of ${s.name}`, type: 'joint-brake', ...{ joint: s.joint, value: s.brake } }]
      : [],
  );
}
