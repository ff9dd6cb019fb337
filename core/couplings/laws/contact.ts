import type { Id } from '../../fields/types';
import { cross, dot, norm, unit, vadd, vscale, vsub } from '../../math/index';
import type { Vec3 } from '../../math/index';
import type { Contact } from '../protocol';
import { type Bearer, type BoundPort, type RowForce, metres, pairBetween, pushBetween } from './protocol';

/** A contact between two ports of a row, bound. Points m, in the reference position of the carrier. */
export interface BoundContact extends Contact {
  /** What one newton along the contact gives the first port's own motion; and one along `alongB` the second's. */
  readonly arm: number;
  readonly armB: number;
  /** Length of `spread`. */
  readonly wide: number;
  /** Sense of the second side's force for a positive one of the first, without friction. */
  readonly sense: number;
  readonly shared: Shared;
}

/**
 * How a pair of equal and opposite forces along a line, and of couples about the axis
 * of relative rotation, moves both sides: the loss of a contact is a couple between
 * its two wheels (by statics: F = (T1 ± T2)/a), never one on what carries them.
 */
export interface Shared {
  readonly axis: Vec3;
  readonly armA: number;
  readonly armB: number;
  readonly turnA: number;
  readonly turnB: number;
  /** Zero where the two cannot turn against each other. */
  readonly det: number;
}

const armOf = (p: BoundPort, point: Vec3, direction: Vec3): number =>
  p.slide ? dot(p.axis, direction) : dot(p.axis, cross(vsub(point, p.point), direction));

/** Lengths below this part of the others are none. */
const NO_ARM = 1e-12;

/** The pair of forces along `direction` at `point` (m), on a's member and back on b's, with the couple that goes with it. */
export function sharedBy(a: BoundPort, b: BoundPort, point: Vec3, direction: Vec3): Shared {
  const armA = armOf(a, point, direction),
    armB = -armOf(b, point, direction);
  // The motion at which the force does no work: what turns then turns against each other about this axis.
  const against = vadd(a.slide ? [0, 0, 0] : vscale(a.axis, armB), b.slide ? [0, 0, 0] : vscale(b.axis, armA));
  const turning = norm(against) > NO_ARM * (Math.abs(armA) + Math.abs(armB));
  const axis = turning ? unit(against) : against;
  const turnA = a.slide ? 0 : dot(axis, a.axis),
    turnB = b.slide ? 0 : -dot(axis, b.axis);
  return { axis, armA, armB, turnA, turnB, det: turning ? armA * turnB - turnA * armB : 0 };
}

/** Size of the force that gives both sides what they feel, together with a couple. */
export const forceOf = (s: Shared, first: number, second: number): number =>
  s.det === 0 ? first / s.armA : (first * s.turnB - s.turnA * second) / s.det;

/** Size of that couple on the first side. */
export const coupleOf = (s: Shared, first: number, second: number): number => (s.det === 0 ? 0 : (s.armA * second - s.armB * first) / s.det);

export function bindContact(c: Contact, ports: readonly BoundPort[]): BoundContact {
  const point = metres(c.point);
  const [a, b] = [ports[c.a], ports[c.b]];
  const arm = armOf(a, point, c.along),
    armB = c.alongB ? armOf(b, point, c.alongB) : 1;
  return {
    ...c,
    point,
    arm,
    armB,
    sense: Math.sign(a.share * arm * b.share * armB) || 1,
    wide: norm(c.spread),
    shared: sharedBy(a, b, point, c.along),
  };
}

/**
 * Size of the force along `spread`: by the tangential force; where
 * friction acts at the contact, by what both sides feel across the flank.
 */
function spreadBy(c: BoundContact, F: number, G: number): number {
  if (!c.alongB) return Math.abs(F);
  return c.across ? Math.abs(c.across[0] * F * c.sense + c.across[1] * G) : Math.abs(G);
}

/** Tangential, radial and axial force at a contact on the first port's member, from the ports' forces. */
export function reportContact(c: BoundContact, ports: readonly BoundPort[], f: RowForce): void {
  if (c.arm === 0) return;
  if (c.alongB) {
    f.tangential = f.port[c.a] / c.arm;
    f.axial = c.armB !== 0 ? f.port[c.b] / c.armB : 0;
    f.radial = spreadBy(c, f.tangential, f.axial) * c.wide;
    return;
  }
  const size = forceOf(c.shared, f.port[c.a], f.port[c.b]);
  const { axis } = ports[c.a];
  const along = dot(c.along, axis),
    spread = dot(c.spread, axis);
  f.tangential = size;
  // What is neither along the axis nor tangential: towards it or away.
  f.radial = Math.abs(size) * Math.sqrt(Math.max(0, c.wide ** 2 - spread ** 2));
  f.axial = size * along + Math.abs(size) * spread;
}

/**
 * The force at a contact on both bodies, and the couple between them that its
 * loss is. False where it has no arm, so that the ports' forces act as couples.
 */
export function bearContact(coupling: Id, c: BoundContact, ports: readonly BoundPort[], f: RowForce, into: Bearer): boolean {
  if (c.arm === 0 || c.armB === 0) return false;
  const [pa, pb] = [ports[c.a], ports[c.b]];
  const [first, second] = [f.port[c.a], f.port[c.b]];
  const b = c.alongB;
  const F = b ? first / c.arm : forceOf(c.shared, first, second);
  const G = b ? second / c.armB : 0;
  const size = spreadBy(c, F, G);
  const x = F * c.along[0] + size * c.spread[0] - (b ? G * b[0] : 0),
    y = F * c.along[1] + size * c.spread[1] - (b ? G * b[1] : 0),
    z = F * c.along[2] + size * c.spread[2] - (b ? G * b[2] : 0);
  pushBetween(coupling, pa, pb, c.point, x, y, z, into);
  if (!b) bearLoss(coupling, c.shared, pa, pb, c.point, first, second, into);
  // A further motion of a side, along its axis: what the contact does not give it acts between the two.
  for (let k = 2; k < ports.length && !b; k++) {
    const p = ports[k];
    const mine = p.body === pa.body ? 1 : -1;
    const rest = f.port[k] - mine * (p.axis[0] * x + p.axis[1] * y + p.axis[2] * z);
    if (Math.abs(rest) > NO_ARM * Math.abs(F)) {
      pushBetween(coupling, p, mine > 0 ? pb : pa, p.point, p.axis[0] * rest, p.axis[1] * rest, p.axis[2] * rest, into);
    }
  }
  return true;
}

/** The couple between two sides that makes up for what they feel beyond their common force. */
export function bearLoss(coupling: Id, s: Shared, a: BoundPort, b: BoundPort, point: Vec3, first: number, second: number, into: Bearer): void {
  const m = coupleOf(s, first, second);
  // The remainder of figures that cancel is no couple.
  if (Math.abs(m) > NO_ARM * (Math.abs(first) + Math.abs(second))) {
    pairBetween(coupling, a, b, point, m * s.axis[0], m * s.axis[1], m * s.axis[2], into);
  }
}
