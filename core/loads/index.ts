import type { Load } from '../fields/types';
import { force } from './force';
import { jointBrake } from './joint-brake';
import { jointFriction } from './joint-friction';
import { jointLoad } from './joint-load';
import { jointResistance } from './joint-resistance';
import { jointRubbing } from './joint-rubbing';
import { jointSpring } from './joint-spring';
import type { Bodies, BoundLoad, LoadKind } from './protocol';
import { spring } from './spring';
import { torque } from './torque';

export * from './protocol';
export { PLACE_ALONG, placeOf } from './stated';
export { type ActingLoad, loadSize } from './size';
export type { JointBrake } from './joint-brake';
export type { JointSpring } from './joint-spring';
export { COIL_FORMS, type Coil, SPRING_WIRES, type SpringWire } from './coil';

/** Every kind of load. */
export const LOAD_KINDS: readonly LoadKind[] = [
  force,
  torque,
  jointLoad,
  jointResistance,
  spring,
  jointSpring,
  jointFriction,
  jointRubbing,
  jointBrake,
];

/** The loads of a design, bound to its bodies and coordinates; those that act on nothing that can move are left out. */
export function bindLoads(loads: readonly Load[], bodies: Bodies): BoundLoad[] {
  return loads.flatMap((load) => LOAD_KINDS.find((k) => k.type === load.type)?.bind(load, bodies) ?? []);
}
