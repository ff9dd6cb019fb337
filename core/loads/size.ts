import type { Load } from '../fields/types';
import { type Units, motionUnit } from '../units/index';
import type { Force } from './force';
import type { JointLoad } from './joint-load';
import type { Spring } from './spring';

/** A load with the fields that name what it acts on, whatever its kind. */
export type ActingLoad = Force & Spring & JointLoad;

const length = (v: readonly number[] | undefined): number => Math.hypot(...(v ?? [0]));

/**
 * How large a load is, in a few words: the size of a force or torque,
 * the rate of a spring. `slide`: the joint that it acts on slides.
 */
export function loadSize(load: Load, slide: boolean, units: Units): string {
  const l: Stating = load;
  const own = motionUnit(slide).effort;
  switch (l.type) {
    case 'force':
      return units.text(length(l.force), 'N', 4);
    case 'torque':
      return units.text(length(l.torque), 'N·m', 4);
    case 'spring':
      return units.text(l.rate ?? 0, 'N/mm', 4);
    case 'joint-spring':
      return units.text(l.rate ?? 0, slide ? 'N/mm' : 'N·m/deg', 4);
    case 'joint-rubbing':
      return `μ ${units.text(l.coefficient ?? 0, '', 3)}`;
    case 'joint-brake':
      return l.released ? 'released' : `holds ${units.text(l.value ?? 0, own, 4)}`;
    case 'joint-resistance':
    case 'joint-friction':
      return `${units.text(l.value ?? 0, own, 4)} against the motion`;
    default:
      return units.text(l.value ?? 0, own, 4);
  }
}
type Stating = ActingLoad & { torque?: readonly number[]; coefficient?: number; released?: boolean };
