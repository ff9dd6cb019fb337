import type { Pose } from '../kinematics/index';
import { type Vec3, cross, dot, norm, vscale } from '../math/index';
import { slidesAt } from '../kinematics/index';

/** A force at a point and a couple, in the world, m. */
export interface Unit {
  point: Vec3;
  force: Vec3;
  moment: Vec3;
}

const NONE: Vec3 = [0, 0, 0];

/**
 * The force or couple between the two ends of a joint that does work on one of its freedoms and on none of
 * its others, for a size of one: a force goes through the axis about which the joint also turns; of a joint
 * that turns about three axes the couple is square to the other two. `place`: where along its axis it is, m.
 */
export function unitAlong(pose: Pose, coordinate: number, out: Unit, place = 0): void {
  const k = pose.kinematics;
  const { axisNow: a, pointNow: o } = pose;
  const axis = (i: number): Vec3 => [a[3 * i], a[3 * i + 1], a[3 * i + 2]];
  const pointAlong = (i: number, a: Vec3): Vec3 => [o[3 * i] + place * a[0], o[3 * i + 1] + place * a[1], o[3 * i + 2] + place * a[2]];
  const { turns } = k.ends[k.endOf[coordinate]];
  if (slidesAt(k, coordinate)) {
    const at = turns.length ? turns[0] : coordinate;
    out.force = axis(coordinate);
    out.point = pointAlong(at, out.force);
    out.moment = NONE;
    return;
  }
  const own = axis(coordinate);
  out.point = pointAlong(coordinate, own);
  out.force = NONE;
  const others = turns.filter((i) => i !== coordinate);
  if (others.length < 2) {
    out.moment = own;
    return;
  }
  const square = cross(axis(others[0]), axis(others[1]));
  // Where two of the three axes fall together the third still has a couple of its own; theirs is without bound, and a finding.
  out.moment = norm(square) < IN_LINE ? own : vscale(square, 1 / squareness(square, own));
}
/** Axes that are nearer to each other than this, rad, fall together as far as numbers tell. */
const IN_LINE = 1e-12;
/**
 * How square an axis stands to two others whose product is given, with its sign: 1 where all three are square, and no less than
 * numbers tell where they lie in a plane. What acts along the axis alone is as many times larger.
 */
export function squareness(product: Vec3, axis: Vec3): number {
  const part = dot(product, axis);
  return Math.abs(part) < IN_LINE ? IN_LINE : part;
}
