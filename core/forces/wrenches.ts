import type { Pose } from '../kinematics/index';
import { PLACEMENT, Vec3, cross, movePoint, vadd, vscale, vsub } from '../math/index';
import type { BodyMasses } from './body-masses';
import { type Unit, unitAlong } from './ends';
import type { Wrench } from './external';

const NONE: Vec3 = [0, 0, 0];

/** The reactions of all joints as wrenches on both bodies, split from what a source gives on the joint's own freedom. */
export function jointWrenches(
  pose: Pose,
  state: { reaction: Float64Array; input: Float64Array; inputCoordinate: Int32Array },
  given: Float64Array,
  out: Wrench[],
): void {
  const k = pose.kinematics;
  const { reaction: R, inputCoordinate } = state;
  const { sources } = k.compiled;
  const both = (kind: Wrench['kind'], id: string, body: number, parent: number, point: Vec3, force: Vec3, moment: Vec3, source?: string): void => {
    out.push({ kind, id, source, body, point, force, moment });
    out.push({ kind, id, source, body: parent, point, force: vscale(force, -1), moment: vscale(moment, -1) });
  };
  const unit: Unit = { point: NONE, force: NONE, moment: NONE };
  for (const { joint, first, parent, child, chain } of k.ends) {
    const c = 3 * first;
    const point: Vec3 = [pose.pointNow[c], pose.pointNow[c + 1], pose.pointNow[c + 2]];
    let force: Vec3 = [R[6 * first], R[6 * first + 1], R[6 * first + 2]],
      moment: Vec3 = [R[6 * first + 3], R[6 * first + 4], R[6 * first + 5]];
    for (const i of chain) {
      const slot = inputCoordinate.indexOf(i);
      const size = (slot >= 0 ? state.input[slot] : 0) + given[i];
      if (size === 0) continue;
      const led = sources.find((x) => x.coordinate === i);
      unitAlong(pose, i, unit, led?.place);
      const [f, m] = [vscale(unit.force, size), vscale(unit.moment, size)];
      both('source', joint, child, parent, unit.point, f, m, led?.source.id);
      force = vsub(force, f);
      moment = vsub(moment, vadd(m, cross(vsub(unit.point, point), f)));
    }
    both('joint', joint, child, parent, point, force, moment);
  }
}

/** What bodies resist with, as wrenches at their centres of mass. */
export function inertiaWrenches(pose: Pose, { heavy, centre }: BodyMasses, own: Float64Array, out: Wrench[]): void {
  const at = new Float64Array(3);
  for (let b = 1; b < pose.kinematics.bodies; b++) {
    if (!heavy[b]) continue;
    const n = own.subarray(6 * b, 6 * b + 6);
    movePoint(at, 0, pose.placements, PLACEMENT * b, centre[3 * b], centre[3 * b + 1], centre[3 * b + 2]);
    const point: Vec3 = [at[0], at[1], at[2]],
      force: Vec3 = [-n[3], -n[4], -n[5]];
    out.push({ kind: 'inertia', id: '', body: b, point, force, moment: vsub([-n[0], -n[1], -n[2]], cross(point, force)) });
  }
}
