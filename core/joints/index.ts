import { cylindrical } from './cylindrical';
import { fixed } from './fixed';
import { pinInSlot } from './pin-in-slot';
import { planar } from './planar';
import { prismatic } from './prismatic';
import type { Joint } from '../fields/types';
import type { Freedom, JointKind } from './protocol';
import { revolute } from './revolute';
import { screw } from './screw';
import { spherical } from './spherical';

export * from './bearings';
export * from './guides';
export * from './protocol';
export { type ScrewJoint, rubs } from './screw';

/** Every kind of joint; a new one is a new file and a line here. */
export const JOINT_KINDS: readonly JointKind[] = [fixed, revolute, prismatic, cylindrical, screw, planar, spherical, pinInSlot];
const byType = new Map(JOINT_KINDS.map((k) => [k.type, k]));
/** The freedoms of one joint, in the order of its kind; none of an unknown kind. */
export function freedomsOf(j: Joint): readonly Freedom[] {
  const kind = jointKind(j.type);
  return kind?.freedomsOf?.(j) ?? kind?.freedoms ?? [];
}
/** The kind of a joint by its type. */
export const jointKind = (type: string): JointKind | undefined => byType.get(type);
