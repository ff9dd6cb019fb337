import type { Pose } from '../kinematics/index';
import { PLACEMENT, Vec3, cross, movePoint, vscale, vsub } from '../math/index';
import type { BodyMasses } from './body-masses';
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
  const both = (kind: Wrench['kind'], id: string, body: number, parent: number, point: Vec3, force: Vec3, moment: Vec3): void => {
    out.push({ kind, id, body, point, force, moment });
    out.push({ kind, id, body: parent, point, force: vscale(force, -1), moment: vscale(moment, -1) });
  };
  for (let b = 1; b < k.bodies; b++) {
    const i = k.bodyCoordinate[b],
      c = 3 * i;
    const point: Vec3 = [pose.pointNow[c], pose.pointNow[c + 1], pose.pointNow[c + 2]];
    let force: Vec3 = [R[6 * i], R[6 * i + 1], R[6 * i + 2]],
      moment: Vec3 = [R[6 * i + 3], R[6 * i + 4], R[6 * i + 5]];
    const { id } = k.compiled.structure.coordinates[i].joint;
    const slot = inputCoordinate.indexOf(i);
    if (slot >= 0 || given[i] !== 0) {
      const v = (slot >= 0 ? state.input[slot] : 0) + given[i];
      const own: Vec3 = [pose.axisNow[c] * v, pose.axisNow[c + 1] * v, pose.axisNow[c + 2] * v];
      const [f, t] = k.motion[i] === 1 ? [own, NONE] : [NONE, own];
      both('source', id, b, k.parentOf[b], point, f, t);
      force = vsub(force, f);
      moment = vsub(moment, t);
    }
    both('joint', id, b, k.parentOf[b], point, force, moment);
  }
}

/** What bodies resist with, as wrenches at their centres of mass. */
export function inertiaWrenches(pose: Pose, { mass, centre }: BodyMasses, own: Float64Array, out: Wrench[]): void {
  const at = new Float64Array(3);
  for (let b = 1; b < pose.kinematics.bodies; b++) {
    if (mass[b] === 0) continue;
    const n = own.subarray(6 * b, 6 * b + 6);
    movePoint(at, 0, pose.placements, PLACEMENT * b, centre[3 * b], centre[3 * b + 1], centre[3 * b + 2]);
    const point: Vec3 = [at[0], at[1], at[2]],
      force: Vec3 = [-n[3], -n[4], -n[5]];
    out.push({ kind: 'inertia', id: '', body: b, point, force, moment: vsub([-n[0], -n[1], -n[2]], cross(point, force)) });
  }
}
