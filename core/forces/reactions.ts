import { ARM, type Pose, slidesAt } from '../kinematics/index';
import { PLACEMENT, movePoint, moveVector } from '../math/index';
import type { CoordinateLoad, Moment } from '../loads/index';
import { type Unit, unitAlong } from './ends';
import type { External } from './external';
import { sumTowardsFrame } from './newton-euler';

const at = new Float64Array(3);
const way = new Float64Array(3);

/** What loads along coordinates put on what their joints join. */
export function bearCoordinateLoads(loads: readonly CoordinateLoad[], moment: Moment, into: External): void {
  for (let n = 0; n < loads.length; n++) into.alongCoordinate('load', loads[n].id, loads[n].index, loads[n].value(moment), false, loads[n].place);
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
      into.turnBetween('joint', c.joint, c.reached, c.child, at[0], at[1], at[2], way[0] * f, way[1] * f, way[2] * f);
    }
  }
}

const unit: Unit = { point: [0, 0, 0], force: [0, 0, 0], moment: [0, 0, 0] };

/** Adds a force and a couple, times a size, to a force and moment about a point o (m), six numbers. */
function add(out: Float64Array, r: number, o: Float64Array, p: number, u: Unit, size: number): void {
  const [fx, fy, fz] = u.force;
  const x = u.point[0] - o[p],
    y = u.point[1] - o[p + 1],
    z = u.point[2] - o[p + 2];
  out[r] += size * fx;
  out[r + 1] += size * fy;
  out[r + 2] += size * fz;
  out[r + 3] += size * (u.moment[0] + y * fz - z * fy);
  out[r + 4] += size * (u.moment[1] + z * fx - x * fz);
  out[r + 5] += size * (u.moment[2] + x * fy - y * fx);
}

/**
 * Reactions at all joints: force and moment about the joint's point that the parent side exerts on the child side, six
 * numbers per coordinate in the world. For a joint of several freedoms the first coordinate's entry is the joint's
 * reaction: all that passes between what it joins, less what is stated along its freedoms under a name of its own.
 */
export function sumReactions(pose: Pose, own: Float64Array | undefined, external: External, wrench: Float64Array, out: Float64Array): void {
  const k = pose.kinematics;
  sumTowardsFrame(k, own, external.wrench, wrench);
  const { pointNow: o, axisNow: a } = pose;
  for (let b = 1; b < k.bodies; b++) {
    const i = k.bodyCoordinate[b],
      t = 6 * b,
      p = 3 * i,
      r = 6 * i;
    for (let x = 0; x < 3; x++) out[r + x] = wrench[t + 3 + x];
    out[r + 3] = wrench[t] - (o[p + 1] * wrench[t + 5] - o[p + 2] * wrench[t + 4]);
    out[r + 4] = wrench[t + 1] - (o[p + 2] * wrench[t + 3] - o[p] * wrench[t + 5]);
    out[r + 5] = wrench[t + 2] - (o[p] * wrench[t + 4] - o[p + 1] * wrench[t + 3]);
    // What acts along this very freedom, on the two bodies of its own, passes between the two ends too.
    const along = external.told[i] + external.inner[i];
    const f = slidesAt(k, i) ? r : r + 3;
    for (let x = 0; x < 3 && along !== 0; x++) out[f + x] += along * a[p + x];
  }
  for (let e = 0; e < k.ends.length; e++) {
    const { chain, turns, first } = k.ends[e];
    for (let n = 0; n < chain.length; n++) {
      const i = chain[n];
      const size = external.told[i];
      if (size === 0) continue;
      const c = 3 * i,
        r = 6 * first;
      if (!slidesAt(k, i) && turns.length < 3) {
        for (let x = 0; x < 3; x++) out[r + 3 + x] -= size * a[c + x];
      } else if (slidesAt(k, i) && chain.length === 1) {
        for (let x = 0; x < 3; x++) out[r + x] -= size * a[c + x];
      } else {
        unitAlong(pose, i, unit);
        add(out, r, o, 3 * first, unit, -size);
      }
    }
  }
}
