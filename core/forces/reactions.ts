import { ARM, type Pose } from '../kinematics/index';
import { PLACEMENT, movePoint, moveVector } from '../math/index';
import type { CoordinateLoad, Moment } from '../loads/index';
import type { External } from './external';
import { sumTowardsFrame } from './newton-euler';

const at = new Float64Array(3);
const way = new Float64Array(3);

/** What loads along coordinates put on the two bodies of the joint. */
export function bearCoordinateLoads(pose: Pose, loads: readonly CoordinateLoad[], moment: Moment, into: External): void {
  const { axisNow: a, pointNow: o } = pose;
  for (let n = 0; n < loads.length; n++) {
    const load = loads[n];
    const v = load.value(moment),
      k = 3 * load.index;
    const x = a[k] * v,
      y = a[k + 1] * v,
      z = a[k + 2] * v;
    if (load.slide) into.between('load', load.id, load.body, load.parent, o[k], o[k + 1], o[k + 2], x, y, z);
    else into.turnBetween('load', load.id, load.body, load.parent, x, y, z);
  }
}

/** Forces of the joints that close loops, from their multipliers `lambda` onward. */
export function bearClosures(pose: Pose, lambda: Float64Array, first: number, into: External): void {
  const { closures } = pose.kinematics;
  let u = first;
  for (let n = 0; n < closures.length; n++) {
    const c = closures[n];
    movePoint(at, 0, pose.placements, PLACEMENT * c.reached, c.px, c.py, c.pz);
    for (let k = 0; k < c.position.length; k += 3, u++) {
      moveVector(way, 0, pose.placements, PLACEMENT * c.root, c.position[k], c.position[k + 1], c.position[k + 2]);
      const f = lambda[u];
      into.between('joint', c.joint, c.reached, c.child, at[0], at[1], at[2], way[0] * f, way[1] * f, way[2] * f);
    }
    for (let k = 0; k < c.rotation.length; k += 3, u++) {
      moveVector(way, 0, pose.placements, PLACEMENT * c.root, c.rotation[k], c.rotation[k + 1], c.rotation[k + 2]);
      const f = lambda[u] * ARM;
      into.turnBetween('joint', c.joint, c.reached, c.child, way[0] * f, way[1] * f, way[2] * f);
    }
  }
}

/**
 * Reactions at all joints: force and moment about the joint's point that the parent side exerts on the child side, six numbers per coordinate
 * in the world. For a joint of several freedoms the first coordinate's entry is the joint's reaction.
 */
export function sumReactions(pose: Pose, own: Float64Array | undefined, external: Float64Array, wrench: Float64Array, out: Float64Array): void {
  const k = pose.kinematics;
  sumTowardsFrame(k, own, external, wrench);
  const o = pose.pointNow;
  for (let b = 1; b < k.bodies; b++) {
    const i = k.bodyCoordinate[b],
      t = 6 * b,
      p = 3 * i,
      r = 6 * i;
    for (let x = 0; x < 3; x++) out[r + x] = wrench[t + 3 + x];
    out[r + 3] = wrench[t] - (o[p + 1] * wrench[t + 5] - o[p + 2] * wrench[t + 4]);
    out[r + 4] = wrench[t + 1] - (o[p + 2] * wrench[t + 3] - o[p] * wrench[t + 5]);
    out[r + 5] = wrench[t + 2] - (o[p] * wrench[t + 4] - o[p + 1] * wrench[t + 3]);
  }
}
