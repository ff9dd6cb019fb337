import { ARM, type Pose, bendRows, spreadRates } from '../kinematics/index';
import { PLACEMENT, movePoint, moveVector } from '../math/index';
import { moveBodies } from './newton-euler';
import type { Workspace } from './workspace';

const at = new Float64Array(3);
const way = new Float64Array(3);
const apart = new Float64Array(3);
const turning = new Float64Array(3);

/**
 * What the closures' second derivatives are short of when no coordinate
 * accelerates, for the twists and accelerations of bodies at hand.
 */
function closureRight(pose: Pose, w: Workspace, right: Float64Array): void {
  const { twist: V, accel: A } = w;
  const { closures } = pose.kinematics;
  let row = 0;
  for (let n = 0; n < closures.length; n++) {
    const c = closures[n];
    movePoint(at, 0, pose.placements, PLACEMENT * c.reached, c.px, c.py, c.pz);
    const [x, y, z] = at;
    apart.fill(0);
    turning.fill(0);
    for (let end = 0; end < 2; end++) {
      const b = 6 * (end ? c.child : c.reached),
        s = end ? -1 : 1;
      const wx = V[b],
        wy = V[b + 1],
        wz = V[b + 2];
      const vx = V[b + 3] + wy * z - wz * y,
        vy = V[b + 4] + wz * x - wx * z,
        vz = V[b + 5] + wx * y - wy * x;
      apart[0] += s * (A[b + 3] + A[b + 1] * z - A[b + 2] * y + wy * vz - wz * vy);
      apart[1] += s * (A[b + 4] + A[b + 2] * x - A[b] * z + wz * vx - wx * vz);
      apart[2] += s * (A[b + 5] + A[b] * y - A[b + 1] * x + wx * vy - wy * vx);
      for (let k = 0; k < 3; k++) turning[k] += s * A[b + k];
    }
    for (let k = 0; k < c.position.length; k += 3, row++) {
      moveVector(way, 0, pose.placements, PLACEMENT * c.root, c.position[k], c.position[k + 1], c.position[k + 2]);
      right[row] = -(way[0] * apart[0] + way[1] * apart[1] + way[2] * apart[2]);
    }
    for (let k = 0; k < c.rotation.length; k += 3, row++) {
      moveVector(way, 0, pose.placements, PLACEMENT * c.root, c.rotation[k], c.rotation[k + 1], c.rotation[k + 2]);
      right[row] = -ARM * (way[0] * turning[0] + way[1] * turning[1] + way[2] * turning[2]);
    }
  }
}

/**
 * Accelerations of all coordinates, into the workspace, when the given ones accelerate as stated and the loops hold,
 * for the rates in it. SI. `right` and `free` are for what is worked out on the way. Gives what could not be met.
 */
export function accelerate(
  pose: Pose,
  w: Workspace,
  coordinates: ArrayLike<number>,
  accelerations: ArrayLike<number>,
  free: Float64Array,
  right: Float64Array,
  targets: number,
): number {
  const k = pose.kinematics;
  if (!k.linear) {
    pose.constraints();
    if (k.closures.length) {
      w.acceleration.fill(0);
      moveBodies(pose, w.velocity, w.acceleration, w);
      closureRight(pose, w, right);
    }
    bendRows(k, pose, w.velocity, right);
  }
  const missed = pose.rates(coordinates, accelerations, free, right, targets);
  spreadRates(k, free, w.acceleration);
  return missed;
}
