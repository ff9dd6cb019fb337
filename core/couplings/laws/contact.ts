import type { Id } from '../../fields/types';
import { cross, dot, vsub } from '../../math/index';
import type { Vec3 } from '../../math/index';
import type { Contact } from '../protocol';
import { type Bearer, type BoundPort, type RowForce, metres } from './protocol';

/** A contact between two ports of a row, bound. Points m, in the reference position of the carrier. */
export interface BoundContact extends Contact {
  readonly carrier: number;
  /** What one newton along the contact gives each port's own motion. */
  readonly arm: number;
  readonly armB: number;
  /** Length of `spread`. */
  readonly wide: number;
  /** Sense of the second side's force for a positive one of the first, without friction. */
  readonly sense: number;
}

const armOf = (p: BoundPort, point: Vec3, direction: Vec3): number =>
  p.slide ? dot(p.axis, direction) : dot(p.axis, cross(vsub(point, p.point), direction));

export function bindContact(c: Contact, ports: readonly BoundPort[]): BoundContact {
  const point = metres(c.point);
  const arm = armOf(ports[c.a], point, c.along),
    armB = c.alongB ? armOf(ports[c.b], point, c.alongB) : 1;
  return {
    ...c,
    point,
    carrier: ports[c.a].carrier,
    arm,
    armB,
    sense: Math.sign(ports[c.a].share * arm * ports[c.b].share * armB) || 1,
    wide: Math.hypot(c.spread[0], c.spread[1], c.spread[2]),
  };
}

/** Size of the force along `spread`: by the tangential force; where friction acts at the contact, by what both sides feel across the flank. */
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
  const size = f.port[c.a] / f.factor[c.a] / c.arm;
  const { axis } = ports[c.a];
  const along = dot(c.along, axis),
    spread = dot(c.spread, axis);
  f.tangential = size;
  // What is neither along the axis nor tangential: towards it or away.
  f.radial = Math.abs(size) * Math.sqrt(Math.max(0, c.wide ** 2 - spread ** 2));
  f.axial = size * along + Math.abs(size) * spread;
}

/** The force at a contact on both bodies. False where it has no arm, so that the ports' forces act as couples. */
export function bearContact(coupling: Id, c: BoundContact, ports: readonly BoundPort[], f: RowForce, into: Bearer): boolean {
  if (c.arm === 0 || c.armB === 0) return false;
  const full = f.port[c.a];
  const ideal = f.factor[c.a] !== 0 ? full / f.factor[c.a] : 0;
  const b = c.alongB;
  const F = (b ? full : ideal) / c.arm;
  const G = b ? f.port[c.b] / c.armB : 0;
  const size = spreadBy(c, F, G);
  const bx = b ? G * b[0] : 0,
    by = b ? G * b[1] : 0,
    bz = b ? G * b[2] : 0;
  const [px, py, pz] = c.point;
  const fx = F * c.along[0] + size * c.spread[0] - bx,
    fy = F * c.along[1] + size * c.spread[1] - by,
    fz = F * c.along[2] + size * c.spread[2] - bz;
  const [pa, pb] = [ports[c.a], ports[c.b]];
  into.push(coupling, c.carrier, pa.body, pb.body, px, py, pz, fx, fy, fz);
  for (let k = 0; k < pa.crossings.length; k++) into.push(coupling, c.carrier, pa.crossings[k][0], pa.crossings[k][1], px, py, pz, fx, fy, fz);
  for (let k = 0; k < pb.crossings.length; k++) into.push(coupling, c.carrier, pb.crossings[k][1], pb.crossings[k][0], px, py, pz, fx, fy, fz);
  return true;
}
