import { type Outline, type Point, type Solid, bar, circle } from '../solids/index';

/**
 * A line of a toothed or threaded surface, in the element's frame, mm: of revolution about z between two places (r, z), over
 * an arc of angles (rad) or all round; or flat, between two places (x, y) over a range of z.
 */
export type SurfaceLine = { kind: 'pitch' | 'core' } & (
  { flat?: undefined; from: Point; to: Point; arc?: readonly [number, number] } | { flat: true; from: Point; to: Point; z: readonly [number, number] }
);

/** A toothed or threaded body as drawings show it (ISO 2203 for gears, ISO 6410-1 for threads). */
export interface Simplified {
  /** Out to its tips. */
  whole: Solid[];
  /** What of it lies between roots and tips: not hatched where the body is cut along its axis. */
  ring: Solid[];
  lines: SurfaceLine[];
}

/** Of a cylinder with teeth, mm: radii of tips, roots and pitch circle, half the width, and its holes. */
export const roundTeeth = (tip: number, root: number, pitch: number, b: number, holes: readonly Outline[] = []): Simplified => ({
  whole: [{ kind: 'prism', outline: circle(tip), holes, from: -b, to: b }],
  ring: [bar(tip, -b, b, root)],
  lines: [{ kind: 'pitch', from: [pitch, -b], to: [pitch, b] }],
});
