import { numberField } from '../fields/fields';
import { type Frame, type Vec3, WORLD, toWorldVector } from '../math/index';
import type { Bodies, LoadedCoordinate } from './protocol';

export const MM = 1e-3;

/** Where along the axis of a joint something acts that is stated of the joint. */
export const PLACE_ALONG = numberField('place', 'Place along the axis', {
  unit: 'mm',
  initial: 0,
  min: -1e6,
  max: 1e6,
  rare: true,
  help: 'From the joint’s own point: it counts for the torsion of the shaft between.',
});
/** That place along the coordinate's axis, m. */
export const placeOf = (of: { place?: number }, { sign }: Pick<LoadedCoordinate, 'sign'>): number => sign * MM * number(of.place);

/** A stated number; `initial` where nothing is stated. */
export const number = (v: unknown, initial = 0): number => (v === undefined ? initial : Number(v));
export const vector = (v: unknown): Vec3 => (Array.isArray(v) && v.length === 3 ? [Number(v[0]), Number(v[1]), Number(v[2])] : [0, 0, 0]);

/**
 * A stated direction in the reference position: along the member's own axes where it turns
 * with the member, as points are stated; along the world's where it keeps its direction.
 */
export function directionOn(member: string, v: unknown, follows: boolean, bodies: Bodies): Vec3 {
  const [x, y, z] = vector(v);
  return follows ? toWorldVector(bodies.frameOf(member) ?? WORLD, [x, y, z]) : [x, y, z];
}

/** A stated point of a member in the reference position, m. */
export function pointOn(member: string, at: unknown, bodies: Bodies): Vec3 {
  const f: Frame = bodies.frameOf(member) ?? WORLD;
  const [x, y, z] = vector(at);
  const along = (k: 0 | 1 | 2): number => MM * (f.o[k] + f.x[k] * x + f.y[k] * y + f.z[k] * z);
  return [along(0), along(1), along(2)];
}
