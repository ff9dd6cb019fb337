import type { Id } from '../fields/types';
import { Frame, PLACEMENT, Vec3, vadd, vmap } from '../math/index';
import type { Pose } from './pose';

/** A frame that goes with a body, at the present pose, mm. */
export function movedFrame(m: Pose, member: Id, f: Frame): Frame {
  const t = m.placements,
    b = PLACEMENT * (m.compiled.structure.bodyOf.get(member) ?? 0);
  const turn = (v: Vec3): Vec3 => vmap(v, (_, r) => t[b + 4 * r] * v[0] + t[b + 4 * r + 1] * v[1] + t[b + 4 * r + 2] * v[2]);
  return { o: vadd(turn(f.o), [1e3 * t[b + 3], 1e3 * t[b + 7], 1e3 * t[b + 11]]), x: turn(f.x), y: turn(f.y), z: turn(f.z) };
}
