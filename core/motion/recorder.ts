import type { Finding } from '../fields/types';
import { torqueAt } from '../forces/index';
import type { Compiled } from '../kinematics/index';
import type { RunEvent } from './events';
import type { Train } from './train';

/**
 * A computed motion, frame by frame, in flat arrays that can be handed from thread to thread. Per
 * frame f and coordinate i at f·coordinates + i; SI: rad, m, s, N, N·m, W, J. Reactions are six
 * numbers (force, moment about the joint's point, by the parent's side on the child's, world).
 */
export interface RunResult {
  frames: number;
  coordinates: number;
  couplings: number;
  sources: number;
  time: Float64Array;
  q: Float64Array;
  v: Float64Array;
  a: Float64Array;
  /** Per source: torque or force it gives. */
  input: Float64Array;
  /** Per coordinate: force of the stop that holds it. */
  stop: Float64Array;
  /** Per coupling row: tangential, radial, axial force, loss. */
  tangential: Float64Array;
  radial: Float64Array;
  axial: Float64Array;
  loss: Float64Array;
  /** Per strand of all belts, in order of rows. */
  strands: Float64Array;
  strandCount: number;
  reaction: Float64Array;
  /** Per frame: kinetic energy; power that loads, weight and inertia put in (the sources' and this make up the losses). */
  kinetic: Float64Array;
  loadPower: Float64Array;
  /** Per frame: which of the modes it stands in. */
  mode: Float64Array;
  modes: RunMode[];
  events: RunEvent[];
  findings: Finding[];
}

/** What holds and leads a train for a while: what its forces at an instant need to be found again. */
export interface RunMode {
  /** Coordinates led by sources or held by stops and friction. */
  readonly led: readonly number[];
  /** Rows of one-way couplings that hold; not stated where each instant finds them. */
  readonly gripping?: readonly number[];
  readonly gripsStand: boolean;
  /** Rows of followers that have left their cams. */
  readonly flying: readonly number[];
  /** Sense of dry friction of each coordinate. */
  readonly friction: readonly number[];
  /** While everything stands, the motion against which losses act. */
  readonly tendency?: readonly number[];
}

/** Room for a run of so many frames. */
export function roomForRun(compiled: Compiled, frames: number, findings: Finding[]): RunResult {
  const { rows, count: n } = compiled.kinematics;
  const strandCount = rows.reduce((s, r) => s + r.strands, 0);
  const make = (k: number): Float64Array => new Float64Array(frames * k);
  return {
    frames,
    coordinates: n,
    couplings: rows.length,
    sources: compiled.sources.length,
    time: make(1),
    q: make(n),
    v: make(n),
    a: make(n),
    input: make(compiled.sources.length),
    stop: make(n),
    tangential: make(rows.length),
    radial: make(rows.length),
    axial: make(rows.length),
    loss: make(rows.length),
    strands: make(strandCount),
    strandCount,
    reaction: make(6 * n),
    kinetic: make(1),
    loadPower: make(1),
    mode: make(1),
    modes: [],
    events: [],
    findings,
  };
}

const copyInto = (to: Float64Array, at: number, from: Float64Array): void => {
  for (let i = 0; i < from.length; i++) to[at + i] = from[i];
};

/**
 * Takes down the state of a train as frame f. `still`: it is held,
 * so nothing moves. Inertia as it was counted in the forces at hand.
 */
export function record(r: RunResult, f: number, t: number, train: Train, inertia: boolean, still: boolean): void {
  const { pose, forces } = train;
  const n = r.coordinates;
  r.time[f] = t;
  copyInto(r.q, f * n, pose.q);
  const s = forces.state;
  copyInto(r.v, f * n, forces.velocity);
  if (inertia && !still) copyInto(r.a, f * n, forces.acceleration);
  const { sources } = train.compiled;
  for (let k = 0; k < sources.length; k++) {
    const { source, coordinate } = sources[k];
    const torque = train.torques.find((x) => x.coordinate === coordinate);
    const at = train.led.indexOf(coordinate);
    if (torque) r.input[f * r.sources + k] = torqueAt(source, forces.velocity[coordinate], torque.slide);
    else if (at >= 0) r.input[f * r.sources + k] = s.input[at];
  }
  for (const l of train.mode.stops) {
    const at = train.led.indexOf(l.coordinate[0], train.driven.length);
    if (at >= 0) r.stop[f * n + l.coordinate[0]] = s.input[at];
  }
  let strand = f * r.strandCount;
  for (let k = 0; k < s.couplings.length; k++) {
    const c = s.couplings[k],
      i = f * r.couplings + k;
    r.tangential[i] = c.tangential;
    r.radial[i] = c.radial;
    r.axial[i] = c.axial;
    r.loss[i] = c.loss;
    for (let x = 0; x < c.strands.length; x++) r.strands[strand++] = c.strands[x];
  }
  copyInto(r.reaction, 6 * f * n, forces.reactions(inertia && !still));
  r.mode[f] = modeOf(r, train);
  r.loadPower[f] = forces.loadPower;
  r.kinetic[f] = forces.kinetic();
}

const alike = (a: ArrayLike<number> | undefined, b: ArrayLike<number> | undefined): boolean => {
  if (!a || !b) return a === b;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
};

/** The index of the mode in which the train stands; mostly that of the frame before. */
function modeOf(r: RunResult, train: Train): number {
  const { led, forces, pose } = train;
  const tendency = forces.tendency && [...forces.tendency];
  const gripping = train.stand ? undefined : [...train.mode.grips];
  const flying = [...train.mode.flying];
  const last = r.modes.at(-1);
  const same =
    last &&
    alike(last.led, led) &&
    alike(last.tendency, tendency) &&
    alike(last.gripping, gripping) &&
    last.gripsStand === pose.gripsStand &&
    alike(last.flying, flying) &&
    alike(last.friction, forces.frictionSense);
  if (!same) r.modes.push({ led: [...led], gripping, gripsStand: pose.gripsStand, flying, friction: [...forces.frictionSense], tendency });
  return r.modes.length - 1;
}

/** A run that ended early keeps the frames that it has. */
export function cutRun(run: RunResult, kept: number): void {
  const part = kept / run.frames;
  const arrays = run as unknown as Record<string, unknown>;
  for (const [key, v] of Object.entries(arrays)) if (v instanceof Float64Array) arrays[key] = v.slice(0, Math.round(v.length * part));
  run.frames = kept;
}

/** The buffers of a run, for handing it to another thread without a copy. */
export const runBuffers = (r: RunResult): ArrayBuffer[] =>
  Object.values(r)
    .filter((v): v is Float64Array => v instanceof Float64Array)
    .map((v) => v.buffer as ArrayBuffer);
