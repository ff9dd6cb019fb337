import type { Frame } from '../math/index';
import { type Fineness, type Loop, type Outline, flattened, reachOf } from './outline';
import type { Solid } from './solid';

/** A solid whose outlines are polygons: for drawing, and for looking for overlaps. */
export type Faceted =
  | { kind: 'prism'; outline: Loop; holes?: readonly Loop[]; from: number; to: number; twist?: number; lean?: number; place?: Frame }
  | { kind: 'turned'; section: Loop; place?: Frame }
  | { kind: 'taper'; outline: Loop; holes?: readonly Loop[]; height: number; inner: number; place?: Frame };

/** Direction changes by no more than 7.5° from line to line; a chord that stays within 1/8 000 of the reach will do. */
const fineness = (o: Outline): Fineness => ({ turn: Math.PI / 24, tolerance: reachOf(o) / 8000 });

/** A solid by polygons: as fine as it is drawn, unless stated otherwise. */
export function faceted(s: Solid, how: (o: Outline) => Fineness = fineness): Faceted {
  if (s.kind === 'turned') return { ...s, section: flattened(s.section, how(s.section)) };
  const f = how(s.outline);
  return {
    ...s,
    outline: flattened(s.outline, f),
    holes: s.holes?.map((h) => flattened(h, { ...f, tolerance: Math.min(f.tolerance, how(h).tolerance) })),
  };
}
