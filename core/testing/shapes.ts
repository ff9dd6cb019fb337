import type { Mesh } from '../solids/index';
import { type ShapeData, placesOfMesh, sizeOfMesh } from '../shapes/index';

/** The corners of a box, and its twelve triangles that look outward. */
export function boxMesh(x: number, y: number, z: number): Mesh {
  const points = Float64Array.from([0, 0, 0, x, 0, 0, x, y, 0, 0, y, 0, 0, 0, z, x, 0, z, x, y, z, 0, y, z]);
  const quads = [
    [0, 3, 2, 1],
    [4, 5, 6, 7],
    [0, 1, 5, 4],
    [1, 2, 6, 5],
    [2, 3, 7, 6],
    [3, 0, 4, 7],
  ];
  return { points, triangles: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])) };
}

/** A mesh as an imported part. */
export function shapeFrom(mesh: Mesh, part = 'Plate', file = 'plate.stl'): ShapeData {
  const sized = sizeOfMesh(mesh);
  return { part, file, mesh: sized.mesh, size: sized.size, ...placesOfMesh(sized.mesh) };
}
