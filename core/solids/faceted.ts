import { type Fineness, type Outline, flattened, reachOf } from './outline';
import type { Faceted, Solid } from './solid';

/** As it is drawn: by lines that turn by no more than 7.5° each, or stay within 1/2 000 of the outline's reach. */
const drawn = (o: Outline): Fineness => ({ turn: Math.PI / 24, tolerance: reachOf(o) / 2000 });

/** A solid by polygons. */
export function faceted(s: Solid): Faceted {
  const flat = (o: Outline): number[] => flattened(o, drawn(o));
  if (s.kind === 'turned') return { ...s, section: flat(s.section) };
  return { ...s, outline: flat(s.outline), holes: s.holes?.map(flat) };
}
