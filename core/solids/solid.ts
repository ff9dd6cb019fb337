import type { Frame } from '../math/index';
import { type Loop, type Outline, polygon } from './outline';

/**
 * How a body is made, in its element's frame, mm. A prism is an outline along z, twisted evenly by `twist` rad from end to end
 * (through 0 in the middle), or leaning by `lean` mm of x for each mm of z (a helical rack). A turned body is a half section
 * (r, z), closed, about z. A taper is an outline at z = height that shrinks straight towards the origin, cut off at the part
 * `inner` of the way (bevel gears).
 */
type Made<Edge> =
  | { kind: 'prism'; outline: Edge; holes?: readonly Edge[]; from: number; to: number; twist?: number; lean?: number; place?: Frame }
  | { kind: 'turned'; section: Edge; place?: Frame }
  | { kind: 'taper'; outline: Edge; holes?: readonly Edge[]; height: number; inner: number; place?: Frame };

export type Solid = Made<Outline>;
/** A solid whose outlines are polygons: for drawing, and for looking for overlaps. */
export type Faceted = Made<Loop>;

/** A round bar or ring along z as a turned body. */
export const bar = (radius: number, from: number, to: number, bore = 0, place?: Frame): Solid => ({
  kind: 'turned',
  section: polygon([bore, from, radius, from, radius, to, bore, to]),
  place,
});
