import type { Pose } from '../kinematics/index';
import { PLACEMENT, Vec3 } from '../math/index';
import type { BodyMasses } from './body-masses';
import type { External } from './external';

/** Weight of every body at its centre of mass. Gravity m/s². */
export function weigh(pose: Pose, { mass, centre }: BodyMasses, gravity: Vec3, into: External): void {
  const T = pose.placements;
  for (let b = 1; b < pose.kinematics.bodies; b++) {
    const w = mass[b];
    if (w === 0) continue;
    const k = 3 * b,
      t = PLACEMENT * b;
    const x = centre[k],
      y = centre[k + 1],
      z = centre[k + 2];
    into.at(
      'weight',
      '',
      b,
      T[t] * x + T[t + 1] * y + T[t + 2] * z + T[t + 3],
      T[t + 4] * x + T[t + 5] * y + T[t + 6] * z + T[t + 7],
      T[t + 8] * x + T[t + 9] * y + T[t + 10] * z + T[t + 11],
      w * gravity[0],
      w * gravity[1],
      w * gravity[2],
    );
  }
}
