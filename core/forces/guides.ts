import { num } from '../elements/index';
import { FRAME, type Id } from '../fields/types';
import { type GuidedJoint, shoesStay } from '../joints/index';
import { type Vec3, cross, dot, localFrame, toWorldPoint, toWorldVector, vadd, vscale, vsub } from '../math/index';
import type { Forces } from './forces';
import { type Acting, frameNow, jointIn, reactionAt } from './load-sheet';

const ZERO: Vec3 = [0, 0, 0];

/** What the shoes of a guide carry: of each, square to the plane of the rails and across the rails in it, N. */
export interface GuideForces {
  readonly shoes: readonly (readonly [square: number, across: number])[];
  /** Moment about the travel that a single rail does not take, N·m; none with two. */
  readonly untaken: number;
  /** m/s */
  readonly speed: number;
}

/**
 * What each shoe of a sliding joint carries at the pose, after evaluate() with the same `inertia`; undefined where the joint
 * states no guide, or its forces are not known. Statics of shoes of one stiffness: forces go in equal parts, moments by pairs.
 */
export function guideForces(forces: Forces, id: Id, inertia = false, acting?: Acting): GuideForces | undefined {
  const { pose } = forces;
  const joint = jointIn(pose.compiled.design, id) as GuidedJoint | undefined;
  const first = pose.compiled.structure.firstOf.get(id);
  if (!joint || joint.type !== 'prismatic' || joint.shoeSpacing === undefined || first === undefined) return undefined;
  const whole = reactionAt(forces, id, 'child', FRAME, inertia, acting);
  if (!whole) return undefined;
  const child = frameNow(pose, joint.child);
  const own = localFrame(joint);
  const a = toWorldVector(child, own.z);
  const r = toWorldVector(child, joint.railsAlong === 'y' ? own.y : own.x);
  const n = cross(a, r);
  // Where the member was in the reference position: the travel is that of its coordinate, m.
  const axis: Vec3 = [pose.axisNow[3 * first], pose.axisNow[3 * first + 1], pose.axisNow[3 * first + 2]];
  const gone = shoesStay(joint) ? vscale(axis, 1e3 * pose.q[first]) : ZERO;
  const place = vsub(vadd(toWorldPoint(child, own.o), vscale(a, num(joint.shoesAt))), gone);
  // About the middle of the shoes.
  const moment = vadd(whole.moment, cross(vscale(vsub(whole.point, place), 1e-3), whole.force));
  const [L, S] = [joint.shoeSpacing * 1e-3, num(joint.railSpacing) * 1e-3];
  const [Fn, Fr, Ma, Mn, Mr] = [dot(whole.force, n), dot(whole.force, r), dot(moment, a), dot(moment, n), dot(moment, r)];
  const rails = S > 0 ? [-1, 1] : [0];
  const count = 2 * rails.length;
  const shoes = [-1, 1].flatMap((i) =>
    rails.map((j): readonly [number, number] => [
      Fn / count - (i * Mr) / (L * rails.length) + (S > 0 ? (j * Ma) / (2 * S) : 0),
      Fr / count + (i * Mn) / (L * rails.length),
    ]),
  );
  return { shoes, untaken: S > 0 ? 0 : Math.abs(Ma), speed: Math.abs(forces.velocity[first]) };
}
