import type { Id } from '../../fields/types';
import { Vec3, piToNumber } from '../../math/index';
import type { Efficiency, Port } from '../protocol';

export const MM = 1e-3;
export const TURN = 2 * Math.PI;

/** What a law needs to know of the train to be bound to it. Bodies are numbers; 0 is the frame. */
export interface Binding {
  bodyOf(member: Id): number;
  /** SI units for one exact unit of each coordinate: rad per turn, or m per mm. */
  readonly scale: Float64Array;
}

/** A port bound to coordinates. Its share of the row is Σ value · coordinate. */
export interface BoundPort {
  readonly body: number;
  readonly carrier: number;
  readonly slide: boolean;
  readonly coordinate: Int32Array;
  readonly value: Float64Array;
  /** Where each of these stands among the row's coordinates. */
  readonly slot: Int32Array;
  /** Share of the row for one unit of the member's own motion, SI. */
  readonly share: number;
  /** Of its axis in the reference position: a point (m) and a direction. */
  readonly point: Vec3;
  readonly axis: Vec3;
  /**
   * Coinciding bodies between which the way from carrier to member crosses where a loop closes: what acts on the member acts on
   * the first and back on the second.
   */
  readonly crossings: readonly (readonly [number, number])[];
  /** What creep leaves of its motion; 1 where nothing creeps. */
  readonly kept: number;
  /** Where its force acts instead of a couple (m), in which direction, and its arm, m. */
  readonly lever?: { readonly point: Vec3; readonly along: Vec3; readonly arm: number };
  /** The coordinate whose own motion it is; −1 where there is none. */
  readonly own: number;
}

/** What a coupling may do between two instants, as runs report it. */
export type GripEvent = 'pawl-grips' | 'pawl-lets-go' | 'follower-lifts' | 'follower-lands';

/** How a row holds and lets go: its motion may not fall below a limit, and it can only push. */
export interface Grip {
  /** Whether it holds unless it is told to let go (a follower on its cam), or lets go unless it is passed (a pawl). */
  readonly touches: boolean;
  /** Taken out by hand: never holds. */
  readonly lifted: boolean;
  /** Way from tooth to tooth, rad; 0 where it holds at once, or touches. */
  readonly pitch: number;
  /** Sense of the row's force in which it pushes: +1 or −1. */
  readonly sense: number;
  /** How far the motion stands from where it is held; negative once it is passed. */
  gap(q: Float64Array, limit: number): number;
  speed(rates: Float64Array): number;
  /** The limit that this pose has come to; of what touches, how far its first port has come. */
  catchAt(q: Float64Array): number;
  /**
   * Of what touches: by how much the speed of its second port jumps on the way from where its first had come to, positive
   * where it is struck, negative where the cam drops away.
   */
  jump?(since: number, q: Float64Array, rates: Float64Array): number;
  /** Of what touches: the speed at which the second port moves off from the first. */
  parting?(q: Float64Array, rates: Float64Array): number;
  /** Coefficient of restitution of an impact. */
  readonly restitution: number;
  readonly holds: { kind: GripEvent; say(name: string): string };
  readonly lets: { kind: GripEvent; say(name: string): string };
}

/** What one row carries at one pose. SI. */
export interface RowForce {
  /** The row's multiplier. */
  lambda: number;
  /** Share of each port at this pose, and what losses leave of its force. */
  readonly gain: Float64Array;
  readonly factor: Float64Array;
  /** Force or torque on each port's member, on its own motion, in N or N·m. */
  readonly port: Float64Array;
  /** Speed of each port's motion relative to the carrier, rad/s or m/s. */
  readonly speed: Float64Array;
  /** Which port takes power in (its member drives), or −1 at rest. */
  driving: number;
  /** Power lost, W. */
  loss: number;
  /** Tangential force at the contact, N, if it has one; of a cam the whole force between the profiles. */
  tangential: number;
  /** Radial and axial parts at the contact, N; none of a cam. */
  radial: number;
  axial: number;
  /** Tension of every strand of a belt or chain, N; empty for others and for a belt's further rows. */
  readonly strands: number[];
}

/**
 * Takes what rows put on bodies: forces and couples given in a carrier's reference position, N, N·m and m, on one body and
 * back on the other.
 */
export interface Bearer {
  push(coupling: Id, carrier: number, body: number, other: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void;
  /** On the one body alone: what answers it stands elsewhere in the same row. */
  pull(coupling: Id, carrier: number, body: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void;
  pair(coupling: Id, carrier: number, body: number, other: number, px: number, py: number, pz: number, mx: number, my: number, mz: number): void;
  /** As push() and pair(), where the way to a member crosses between bodies that coincide: no force of its own. */
  cross(carrier: number, body: number, other: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void;
  crossPair(carrier: number, body: number, other: number, mx: number, my: number, mz: number): void;
  /** A force or torque along a coordinate, between what its joint joins, N or N·m. `inner`: part of the joint's own reaction. */
  along(coupling: Id, coordinate: number, size: number, inner: boolean): void;
}

/**
 * One row of a coupling, bound to a train. It never changes: poses and forces belong to whoever asks. Kinematics and forces loop
 * over rows and know no kind of coupling.
 */
export interface BoundRow {
  readonly coupling: Id;
  readonly ports: readonly BoundPort[];
  /** The coordinates that enter the row, each once. */
  readonly coordinate: Int32Array;
  readonly efficiency: Efficiency;
  /** Found by the solver at every pose; the other rows are eliminated, exactly, at compile time. */
  readonly numeric: boolean;
  readonly grip?: Grip;
  /** How many strand tensions it reports. */
  readonly strands: number;
  /** Share of each port at a pose, while the row holds: the row's gradient is Σ gain · value. */
  shares(q: Float64Array, gain: Float64Array): void;
  /** By how much a pose misses the row, while it holds. */
  residual(q: Float64Array, limit: number): number;
  /** What the row's second derivative is short of, for accelerations. */
  bend(q: Float64Array, rates: Float64Array): number;
  /**
   * Sets loss factors from the side that drives now, for itself and, of a band, for the rows that follow it. Powers of at most
   * `least` (W) are rounding beside the train's: nothing drives there. True when any changed.
   */
  lose(forces: readonly RowForce[], at: number, velocity: Float64Array, least: number): boolean;
  /** Fills in what it reports beyond the ports' own forces; `forces[at]` is its own. */
  report(forces: readonly RowForce[], at: number, q: Float64Array): void;
  /** Forces and couples that it puts on bodies. */
  bear(f: RowForce, q: Float64Array, into: Bearer): void;
}

/**
 * The ports of a row as a law works with them, and the coordinates that enter it. Rows of functions and holds count in SI, others
 * in turns and mm.
 */
export function bindPorts(ports: readonly Port[], to: Binding, si: boolean): { ports: BoundPort[]; coordinate: Int32Array } {
  const coordinate = [...new Set(ports.flatMap((p) => p.terms.map((t) => t.coordinate)))];
  return { ports: ports.map((p) => bindPort(p, to, si, coordinate)), coordinate: Int32Array.from(coordinate) };
}

export function bindPort(p: Port, to: Binding, si: boolean, row: readonly number[]): BoundPort {
  const unit = p.motion === 'slide' ? MM : TURN;
  const k = piToNumber(p.coefficient);
  return {
    body: to.bodyOf(p.member),
    carrier: to.bodyOf(p.carrier),
    slide: p.motion === 'slide',
    coordinate: Int32Array.from(p.terms, (t) => t.coordinate),
    slot: Int32Array.from(p.terms, (t) => row.indexOf(t.coordinate)),
    value: Float64Array.from(p.terms, (t) => (k * piToNumber(t.factor) * (si ? unit : 1)) / to.scale[t.coordinate]),
    share: k / (si ? 1 : unit),
    point: metres(p.point),
    axis: p.axis,
    crossings: p.terms.flatMap((t) => t.crossings ?? []),
    kept: 1 - (p.creep ?? 0),
    lever: p.lever && { point: metres(p.lever.point), along: p.lever.along, arm: p.lever.arm * MM },
    own: p.own ?? -1,
  };
}

/** A point in mm, in m. */
export const metres = (p: Vec3): Vec3 => [p[0] * MM, p[1] * MM, p[2] * MM];

/** A port's share of the row for coordinates, or rates of them. */
export function along(p: BoundPort, q: Float64Array): number {
  let s = 0;
  for (let k = 0; k < p.coordinate.length; k++) s += p.value[k] * q[p.coordinate[k]];
  return s;
}

/** A port's force where no contact bears it: between its member and its carrier. */
export function bearPort(coupling: Id, p: BoundPort, size: number, into: Bearer, inner = false): void {
  if (size === 0) return;
  if (p.own >= 0) return into.along(coupling, p.own, size, inner);
  if (p.lever) {
    const { point, along, arm } = p.lever;
    const F = size / arm;
    return pushOn(coupling, p, p.carrier, point, F * along[0], F * along[1], F * along[2], into);
  }
  const [x, y, z] = [p.axis[0] * size, p.axis[1] * size, p.axis[2] * size];
  if (p.slide) pushOn(coupling, p, p.carrier, p.point, x, y, z, into);
  else pairOn(coupling, p, p.carrier, p.point, x, y, z, into);
}

/** A force on a port's member and back on another body, also where the way to the member crosses. */
export function pushOn(coupling: Id, p: BoundPort, other: number, point: Vec3, x: number, y: number, z: number, into: Bearer): void {
  into.push(coupling, p.carrier, p.body, other, point[0], point[1], point[2], x, y, z);
  crossOn(p, point, x, y, z, 1, into);
}

/**
 * A couple on a port's member and back on another body, also where the way to the member crosses; where it acts counts for
 * what is inside the members.
 */
export function pairOn(coupling: Id, p: BoundPort, other: number, point: Vec3, x: number, y: number, z: number, into: Bearer): void {
  into.pair(coupling, p.carrier, p.body, other, point[0], point[1], point[2], x, y, z);
  crossPairOn(p, x, y, z, 1, into);
}

/** A force between the members of two ports, on the first's. */
export function pushBetween(coupling: Id, a: BoundPort, b: BoundPort, point: Vec3, x: number, y: number, z: number, into: Bearer): void {
  pushOn(coupling, a, b.body, point, x, y, z, into);
  crossOn(b, point, x, y, z, -1, into);
}

/** A couple between the members of two ports, on the first's. */
export function pairBetween(coupling: Id, a: BoundPort, b: BoundPort, point: Vec3, x: number, y: number, z: number, into: Bearer): void {
  pairOn(coupling, a, b.body, point, x, y, z, into);
  crossPairOn(b, x, y, z, -1, into);
}

function crossOn(p: BoundPort, point: Vec3, x: number, y: number, z: number, sense: number, into: Bearer): void {
  for (let k = 0; k < p.crossings.length; k++) {
    const [first, second] = p.crossings[k];
    into.cross(p.carrier, first, second, point[0], point[1], point[2], sense * x, sense * y, sense * z);
  }
}

function crossPairOn(p: BoundPort, x: number, y: number, z: number, sense: number, into: Bearer): void {
  for (let k = 0; k < p.crossings.length; k++) into.crossPair(p.carrier, p.crossings[k][0], p.crossings[k][1], sense * x, sense * y, sense * z);
}

/** Ideal power that a row gives to one of its ports, W. */
export const portPower = (p: BoundPort, f: RowForce, port: number, velocity: Float64Array): number => along(p, velocity) * f.gain[port] * f.lambda;

/** Powers smaller than this part of the largest of a coupling are rounding. */
export const NO_POWER = 1e-12;

/** Sets a loss factor. True when it changed. */
export function setFactor(f: RowForce, port: number, want: number): boolean {
  if (f.factor[port] === want) return false;
  f.factor[port] = want;
  return true;
}

/**
 * Losses of a row by itself: power that the coupling takes from a port is negative there; that side drives, and its force stands
 * in full. What losses leave is judged at the first two ports, between which the loss acts; further ones (helical teeth that
 * travel along their axis) have their force in full.
 */
export function losePower(row: Pick<BoundRow, 'ports' | 'efficiency'>, f: RowForce, velocity: Float64Array, least: number): boolean {
  const { ports, efficiency } = row;
  if (efficiency.forward === 1 && efficiency.backward === 1) return false;
  let most = 0;
  for (let k = 0; k < ports.length; k++) most = Math.max(most, Math.abs(portPower(ports[k], f, k, velocity)));
  const tiny = most <= least || Math.abs(portPower(ports[0], f, 0, velocity)) <= NO_POWER * most;
  let changed = false;
  for (let k = 0; k < ports.length; k++) {
    const drives = tiny || k > 1 || portPower(ports[k], f, k, velocity) <= 0;
    if (setFactor(f, k, drives ? 1 : k === 0 ? efficiency.backward : efficiency.forward)) changed = true;
  }
  return changed;
}

export const LOSSLESS: Efficiency = { forward: 1, backward: 1 };
