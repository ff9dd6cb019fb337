import { Forces, findWorkingPoints, ledger, nominalVelocities } from '../forces/index';
import { Compiled, type Interval, poseOf, slidesAt } from '../kinematics/index';
import { Hand } from './hand';

/** Values along the whole way of one source, sampled evenly between its stops. */
export interface Sweep {
  /** Position of the source, turns or mm, and time at nominal speed, s. */
  position: Float64Array;
  time: Float64Array;
  /** Torque or force of the source, N·m or N, and its power, W. */
  input: Float64Array;
  power: Float64Array;
  /** Useful output over input of the whole train; not a number where nothing drives it. */
  efficiency: Float64Array;
  /** Per coordinate: value (turns or mm) and speed (turns/s or mm/s). */
  values: Float64Array[];
  speeds: Float64Array[];
  /** Index of the greatest input by size. */
  worst: number;
}

/** Ideal mechanical advantage from the source to a coordinate, at every position of a sweep (SI; see mechanicalAdvantage). */
export const advantageOver = (s: Sweep, source: number, to: number, scale: ArrayLike<number>): Float64Array =>
  s.speeds[to].map((v, f) => (v === 0 ? Infinity : (s.speeds[source][f] * scale[source]) / (v * scale[to])));

/** Turns of a source that are swept where no stop ends its way. */
const OPEN_WAY = { turn: 1, mm: 100 };
const SHORT_OF_DEAD = 1e-3;

/**
 * A way from one end to the other; where an end is a dead centre, at which speeds and forces are without bound, a thousandth of
 * the way short of it.
 */
export function shortOfDead({ lower, upper }: Interval, from: number, to: number): [number, number] {
  const rest = SHORT_OF_DEAD * (to - from);
  return [lower?.dead ? from + rest : from, upper?.dead ? to - rest : to];
}

/**
 * Moves a source, the first where none is named, from stop to stop in `frames` steps and records what follows, at its
 * stated speed or, where it states torque, at the speed that the torque reaches there. Leaves no trace: works on its own
 * pose.
 */
export function sweep(compiled: Compiled, frames = 121, which = 0): Sweep | undefined {
  const source = compiled.sources[which];
  if (!source) return undefined;
  const m = poseOf(compiled);
  const hand = new Hand(m);
  const forces = new Forces(m);
  const c = source.coordinate;
  const k = m.kinematics.scale[c];
  const way = hand.interval(c);
  const open = slidesAt(m.kinematics, c) ? OPEN_WAY.mm : OPEN_WAY.turn;
  let from = way.lower?.at ?? Math.min(0, (way.upper?.at ?? open) - open);
  let to = way.upper?.at ?? from + open;
  [from, to] = shortOfDead(way, from, to);
  const out: Sweep = {
    position: new Float64Array(frames),
    time: new Float64Array(frames),
    input: new Float64Array(frames),
    power: new Float64Array(frames),
    efficiency: new Float64Array(frames),
    worst: 0,
    values: Array.from({ length: m.kinematics.count }, () => new Float64Array(frames)),
    speeds: Array.from({ length: m.kinematics.count }, () => new Float64Array(frames)),
  };
  const free = new Float64Array(m.kinematics.freeCount);
  const slot = forces.state.inputCoordinate.indexOf(c);
  for (let f = 0; f < frames; f++) {
    const at = from + ((to - from) * f) / (frames - 1);
    const moved = hand.move(c, at * k);
    if (moved.blocked && f > 1) return cut(out, f);
    findWorkingPoints(m, forces);
    nominalVelocities(m, forces.velocity, free, forces.heldCoordinates);
    const s = forces.evaluate();
    out.position[f] = at;
    out.time[f] = forces.velocity[c] === 0 ? 0 : ((at - from) * k) / Math.abs(forces.velocity[c]);
    out.input[f] = slot < 0 ? 0 : s.input[slot];
    out.power[f] = out.input[f] * forces.velocity[c];
    for (let i = 0; i < m.kinematics.count; i++) {
      out.values[i][f] = m.q[i] / m.kinematics.scale[i];
      out.speeds[i][f] = forces.velocity[i] / m.kinematics.scale[i];
    }
    out.efficiency[f] = ledger(m, forces).efficiency ?? NaN;
    if (Math.abs(out.input[f]) > Math.abs(out.input[out.worst])) out.worst = f;
  }
  return out;
}

/** A sweep that ends where the mechanism cannot go on. */
function cut(s: Sweep, frames: number): Sweep {
  const part = (a: Float64Array): Float64Array => a.slice(0, frames);
  return {
    position: part(s.position),
    time: part(s.time),
    input: part(s.input),
    power: part(s.power),
    efficiency: part(s.efficiency),
    worst: s.worst,
    values: s.values.map(part),
    speeds: s.speeds.map(part),
  };
}
