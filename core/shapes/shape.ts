import type { Vec3 } from '../math/index';
import type { Mesh } from '../solids/index';

/**
 * What can be pointed at on a shape. `axis`: of a cylinder or cone; `centre`: of a circular edge or a ball; `face`: a flat face;
 * `edge`: a straight edge; `corner`: where edges end.
 */
export const PLACE_KINDS = ['axis', 'centre', 'face', 'edge', 'corner'] as const;
export type PlaceKind = (typeof PLACE_KINDS)[number];

/** A place of a shape, in the shape's own frame, mm. */
export interface ShapePlace {
  kind: PlaceKind;
  /** On the axis in the middle of its surface, the centre, the middle of the face or edge, the corner. */
  point: Vec3;
  /** Unit vector along the axis or edge, or out of the face; zero where there is none (corner, centre of a ball). */
  direction: Vec3;
  /** Diameter of an axis or centre (0 of a cone), mm; area of a face, mm²; length of an edge, mm. */
  size: number;
}

/** What a shape of density 1 weighs, and how far it reaches: mm, mm³. */
export interface ShapeSize {
  /** 0 where the surface is open. */
  volume: number;
  centroid: Vec3;
  /** Moments about the centroid over the volume, mm²: xx, yy, zz, xy, yz, zx with the sign of the tensor. */
  inertia: readonly [number, number, number, number, number, number];
  least: Vec3;
  most: Vec3;
  closed: boolean;
}

/** The content of an imported part: what the design document does not hold. */
export interface ShapeData {
  /** Name of the part, and of the file that it came from. */
  part: string;
  file: string;
  /** #rrggbb, where the file states one. */
  colour?: string;
  mesh: Mesh;
  /** Sharp edges for drawing: pairs of points x, y, z, mm. */
  edges: Float32Array;
  places: readonly ShapePlace[];
  size: ShapeSize;
  /** The exact solid as a STEP file, where the part came as one. */
  step?: Uint8Array;
}

/** Contents that are at hand, by the hash that elements name. */
export type Shapes = ReadonlyMap<string, ShapeData>;
export const NO_SHAPES: Shapes = new Map();
