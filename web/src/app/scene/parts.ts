import { type BufferGeometry, type Group, type LineSegments, Matrix4, type Mesh, type MeshLambertMaterial } from 'three';
import type { SwingingPawl } from '@unirota/core';
import type { Element, Id } from '@unirota/core/document';
import { type Frame, PLACEMENT } from '@unirota/core/math';

/** An element in the picture. */
export interface Part {
  element: Id;
  member: Id;
  body: number;
  group: Group;
  surface: Mesh<BufferGeometry, MeshLambertMaterial>;
  lines: LineSegments;
  still: Matrix4;
  /** Of a pawl: how it swings about its pin. */
  swing?: SwingingPawl;
  shape: Element;
  /** Radius of the ball round it, mm. */
  size: number;
  rough: boolean;
}

/** A thing that stands still on a body. */
export interface OnBody {
  group: Group;
  body: number;
}

export const place = (f: Frame): Matrix4 =>
  new Matrix4().set(f.x[0], f.y[0], f.z[0], f.o[0], f.x[1], f.y[1], f.z[1], f.o[1], f.x[2], f.y[2], f.z[2], f.o[2], 0, 0, 0, 1);

/** A body's placement (m) as a matrix in mm; allocates nothing. */
export function readPlacement(into: Matrix4, t: Float64Array, body: number): void {
  const b = PLACEMENT * body;
  into.set(
    t[b],
    t[b + 1],
    t[b + 2],
    t[b + 3] * 1000,
    t[b + 4],
    t[b + 5],
    t[b + 6],
    t[b + 7] * 1000,
    t[b + 8],
    t[b + 9],
    t[b + 10],
    t[b + 11] * 1000,
    0,
    0,
    0,
    1,
  );
}
