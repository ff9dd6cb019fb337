import { cylindrical } from './cylindrical';
import { fixed } from './fixed';
import { pinInSlot } from './pin-in-slot';
import { planar } from './planar';
import { prismatic } from './prismatic';
import type { JointKind } from './protocol';
import { revolute } from './revolute';
import { screw } from './screw';

import { spherical } from './spherical';

export * from './bearings';
export * from './protocol';
export type { ScrewJoint } from './screw';

/** Every kind of joint; a new one is a new file and a line here. */
export const JOINT_KINDS: readonly JointKind[] = [fixed, revolute, prismatic, cylindrical, screw, planar, spherical, pinInSlot];
const byType = new Map(JOINT_KINDS.map((k) => [k.type, k]));
export const jointKind = (type: string): JointKind | undefined => byType.get(type);
