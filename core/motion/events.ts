import type { GripEvent } from '../couplings/index';
import type { Id } from '../fields/types';
import { type Limit, beyond, towards } from '../kinematics/index';
import type { Mode } from './modes';
import type { Train } from './train';

export type EventKind =
  | 'stop-reached'
  | 'stop-left'
  | 'leaves-engagement'
  | GripEvent
  | 'follower-struck'
  | 'branch-change'
  | 'dead-point'
  | 'unreachable'
  | 'run-ends'
  | 'comes-to-rest'
  | 'starts-to-move'
  | 'stands';

/** Something that happens at one time of a run. */
export interface RunEvent {
  /** s */
  time: number;
  kind: EventKind;
  /** The joint, coupling or source concerned. */
  id: Id;
  message: string;
}

/** An event that stands at the present state, and what it changes. */
export interface Happening {
  kind: EventKind;
  id: Id;
  message: string;
  /** Changes the train's mode; `ends` where nothing goes on. */
  change?(): void;
  ends?: boolean;
  /** Of an impact with restitution. */
  rebound?: Rebound;
}

/**
 * How an impact parts again: its coefficient of restitution, the
 * speed at which both sides part, and what makes them part in a mode.
 */
export interface Rebound {
  restitution: number;
  parting(rates: Float64Array): number;
  part(mode: Mode): void;
}

/** How far beyond a limit counts as beyond it, rad or m; and the force that counts as pulling, N or N·m. */
const SLACK = 1e-9;

/** A motion that comes to a limit, as it is said. */
export function atLimit(train: Train, l: Limit): Happening {
  const name = train.nameOf(l.id);
  if (l.kind === 'engagement') {
    return { kind: 'leaves-engagement', id: l.id, message: `${name} leaves engagement: ${l.what ?? 'it'} ends here`, ends: true };
  }
  return {
    kind: 'stop-reached',
    id: l.id,
    message: `the ${l.which} stop of ${name}${l.what ? ` (${l.what})` : ''} holds`,
    change: () => void train.mode.stops.add(l),
    rebound: l.restitution > 0 ? { restitution: l.restitution, parting: (v) => -towards(l, v), part: () => undefined } : undefined,
  };
}

/**
 * The first thing that happens at the present state of a train,
 * some of which moves freely or is held in its mode, or nothing.
 */
export function happening(train: Train, t: number, inertia: boolean): Happening | undefined {
  return (
    limitMet(train) ?? stopLeft(train) ?? (inertia ? cornerPassed(train) : undefined) ?? gripChanges(train, t, inertia) ?? frictionChanges(train)
  );
}

function limitMet(train: Train): Happening | undefined {
  const { mode, forces, pose } = train;
  for (const l of train.limits) {
    if (mode.stops.has(l) || beyond(l, pose.q) <= SLACK || towards(l, forces.velocity) <= 0) continue;
    const met = atLimit(train, l);
    if (l.kind === 'engagement' || train.movesFreely(l)) return met;
    // Led against it while other things move freely: what follows would be a matter of how the source gives way.
    return { kind: met.kind, id: met.id, message: `${met.message} what its source leads on: the run ends here`, ends: true };
  }
  return undefined;
}

function stopLeft(train: Train): Happening | undefined {
  const { mode, forces, led, driven } = train;
  for (const l of mode.stops) {
    const k = led.indexOf(l.coordinate[0], driven.length);
    const push = k < 0 ? 0 : forces.state.input[k] * (l.which === 'upper' ? -1 : 1);
    if (push < -SLACK) {
      return {
        kind: 'stop-left',
        id: l.id,
        message: `${train.nameOf(l.id)} leaves its ${l.which} stop`,
        change: () => void mode.stops.delete(l),
      };
    }
  }
  return undefined;
}

/** Where the speed that a cam gives jumps, it strikes its follower, or drops away from under it; only inertia makes that felt. */
function cornerPassed(train: Train): Happening | undefined {
  const { mode, forces, pose, nameOf } = train;
  const { grips, rows } = pose.kinematics;
  for (const r of grips) {
    const { grip, coupling, ports } = rows[r];
    if (!grip?.touches || mode.flying.has(r)) continue;
    const by = pose.jumpOf(r, forces.velocity);
    if (Math.abs(by) <= SLACK) continue;
    if (by < 0) return { kind: grip.lets.kind, id: coupling, message: grip.lets.say(nameOf(coupling)), change: () => void mode.flying.add(r) };
    const speed = ports[1].slide ? `${say(by * 1e3)} mm/s` : `${say((by * 30) / Math.PI)} rev/min`;
    return {
      kind: 'follower-struck',
      id: coupling,
      message: `the cam strikes the follower of ${nameOf(coupling)}: its speed jumps by ${speed}`,
      rebound: reboundOf(train, r),
    };
  }
  return undefined;
}

/** A follower that lands, or is struck, and goes off again. */
function reboundOf({ pose }: Train, row: number): Rebound | undefined {
  const grip = pose.kinematics.rows[row].grip!;
  if (!(grip.restitution > 0) || !grip.parting) return undefined;
  return { restitution: grip.restitution, parting: (v) => grip.parting!(pose.q, v), part: (mode) => void mode.flying.add(row) };
}

const say = (x: number): string => String(Number(x.toPrecision(3)));

/**
 * What a pawl, a clutch or a follower does. A follower that would have
 * to pull leaves its cam where inertia counts: only then is it thrown.
 */
function gripChanges(train: Train, t: number, inertia: boolean): Happening | undefined {
  const { mode, forces, pose, nameOf } = train;
  const k = pose.kinematics;
  for (const r of k.grips) {
    const { grip, coupling } = k.rows[r];
    if (!grip || grip.lifted) continue;
    const on = grip.touches ? !mode.flying.has(r) : mode.grips.has(r);
    if (!on) {
      if (!(pose.gapOf(r) < -SLACK) || grip.speed(forces.velocity) >= 0 || !pose.gripsStand) continue;
      return {
        kind: grip.holds.kind,
        id: coupling,
        message: grip.holds.say(nameOf(coupling)),
        change: () => void (grip.touches ? mode.flying.delete(r) : train.takeHold(r, t)),
        rebound: reboundOf(train, r),
      };
    }
    // It would have to pull.
    if ((grip.touches && !(t > 0 && inertia)) || forces.work.rows[r].lambda * grip.sense >= -SLACK) continue;
    return {
      kind: grip.lets.kind,
      id: coupling,
      message: grip.lets.say(nameOf(coupling)),
      change: () => void (grip.touches ? mode.flying.add(r) : mode.grips.delete(r)),
    };
  }
  return undefined;
}

/**
 * What slides and has come to rest is held by friction; what friction
 * holds starts to move where it would have to bear more than it can.
 */
function frictionChanges(train: Train): Happening | undefined {
  const { mode, forces, pose, nameOf } = train;
  const joint = (c: number): Id => pose.compiled.structure.coordinates[c].joint.id;
  for (const [c, sense] of mode.sliding) {
    if (forces.velocity[c] * sense >= -AT_REST) continue;
    const id = joint(c);
    return { kind: 'comes-to-rest', id, message: `${nameOf(id)} comes to rest`, change: () => train.stick(c) };
  }
  for (const c of mode.stuck.keys()) {
    if (mode.locked.has(c)) continue;
    const held = train.heldWith(c);
    if (Math.abs(held) <= (train.bears.get(c) ?? 0) * (1 + 1e-9) + SLACK) continue;
    const id = joint(c);
    return {
      kind: 'starts-to-move',
      id,
      message: startsToMove(nameOf(id)),
      change: () => train.slip(c, held > 0 ? -1 : 1),
    };
  }
  return undefined;
}

/** Rate against the sense of sliding that counts as having turned back, rad/s or m/s. */
const AT_REST = 1e-12;

export const startsToMove = (name: string): string => `${name} starts to move: friction no longer holds it`;
