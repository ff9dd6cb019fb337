import { type Frame, WORLD, frameIn, within } from '../math/index';
import { type Compiled, type Pose, movedFrame, poseOf } from '../kinematics/index';
import type { RunResult } from '../motion/index';
import type { Assembly } from './assembly';

/** Where the members of an assembly are at the frames of a run, as moved from where the assembly shows them. */
export interface MemberMotion {
  /** s */
  time: Float64Array;
  /** Places of each member, in its order; undefined for one that stands still. */
  places: (Frame[] | undefined)[];
}

/** The motion of an assembly's members in a run. `shown` is the pose that the assembly was made at. */
export function memberMotion(compiled: Compiled, shown: Pose, a: Assembly, r: RunResult): MemberMotion {
  // A body's placement as a frame, and back from it: R x + t undone.
  const back = a.members.map((m) => frameIn(movedFrame(shown, m.member, WORLD), WORLD));
  const pose = poseOf(compiled);
  const places: Frame[][] = a.members.map(() => []);
  for (let f = 0; f < r.frames; f++) {
    pose.q.set(r.q.subarray(f * r.coordinates, (f + 1) * r.coordinates));
    pose.replace();
    a.members.forEach((m, i) => places[i].push(within(movedFrame(pose, m.member, WORLD), back[i])));
  }
  const still = (list: readonly Frame[]): boolean => list.every((p) => [...p.o, p.x[0] - 1, p.y[1] - 1, p.z[2] - 1].every((v) => Math.abs(v) < 1e-9));
  return { time: Float64Array.from(r.time.subarray(0, r.frames)), places: places.map((p) => (still(p) ? undefined : p)) };
}
