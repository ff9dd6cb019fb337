import type { ActingLoad, LoadEffect } from '@unirota/core';
import type { Load } from '@unirota/core/document';
import type { Units } from '@unirota/core/units';
import { motionUnit } from '@unirota/core/units';

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
      return $localize`${units.text(l.value ?? 0, own, 4)} against the motion`;
    default:
      return units.text(l.value ?? 0, own, 4);
  }
}
type Stating = ActingLoad & { torque?: readonly number[]; coefficient?: number; released?: boolean };

const EFFECTS: Readonly<Record<LoadEffect, readonly [mark: string, text: string]>> = {
  opposes: ['◁', $localize`opposes the motion`],
  drives: ['▷', $localize`drives the train`],
  idle: ['–', $localize`does not load the train`],
};
/** What a load does in steady motion, in words; nothing while everything stands. */
export const effectText = (effect: LoadEffect | undefined): string => (effect ? `${EFFECTS[effect][0]} ${EFFECTS[effect][1]}` : '');
/** The same as a mark beside its name. */
export const effectMark = (effect: LoadEffect | undefined): string => (effect ? `${EFFECTS[effect][0]} ` : '');
