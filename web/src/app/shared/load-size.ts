import type { ActingLoad } from '@unirota/core';
import type { Load } from '@unirota/core/document';
import { show } from '@unirota/core/units';

const length = (v: readonly number[] | undefined): number => Math.hypot(...(v ?? [0]));

/** How large a load is, in a few words: the size of a force or torque, the rate of a spring. `slide`: the joint that it acts on slides. */
export function loadSize(load: Load, slide: boolean): string {
  const l: Stating = load;
  const own = slide ? 'N' : 'N·m';
  switch (l.type) {
    case 'force':
      return `${show(length(l.force), 4)} N`;
    case 'torque':
      return `${show(length(l.torque), 4)} N·m`;
    case 'spring':
      return `${show(l.rate ?? 0, 4)} N/mm`;
    case 'joint-spring':
      return `${show(l.rate ?? 0, 4)} ${own}/${slide ? 'mm' : '°'}`;
    case 'joint-friction':
      return `${show(l.value ?? 0, 4)} ${own} against the motion`;
    default:
      return `${show(l.value ?? 0, 4)} ${own}`;
  }
}
type Stating = ActingLoad & { torque?: readonly number[] };
