import type { Vec3 } from '../math/index';

/**
 * Second-order tetrahedra. Points x, y, z, … in mm; ten nodes an element: the corners 0 1 2 3, then
 * the middles of the edges 01 12 02 03 13 23. The corners turn so that the volume is positive.
 */
export interface SolidMesh {
  points: Float64Array;
  tets: Uint32Array;
}

/** Corners of each face of a tetrahedron, seen from outside counter-clockwise, then the middles of its edges. */
const FACES = [
  [0, 2, 1, 6, 5, 4],
  [0, 1, 3, 4, 8, 7],
  [1, 2, 3, 5, 9, 8],
  [2, 0, 3, 6, 7, 9],
] as const;
const EDGES = [
  [0, 1],
  [1, 2],
  [0, 2],
  [0, 3],
  [1, 3],
  [2, 3],
] as const;

/** Place of a node, mm. */
export const pointAt = (mesh: SolidMesh, node: number): Vec3 => [mesh.points[3 * node], mesh.points[3 * node + 1], mesh.points[3 * node + 2]];

/** Six times the volume of a tetrahedron of four nodes, mm³, by its corners. */
function sixVolume(p: Float64Array, a: number, b: number, c: number, d: number): number {
  const ux = p[3 * b] - p[3 * a],
    uy = p[3 * b + 1] - p[3 * a + 1],
    uz = p[3 * b + 2] - p[3 * a + 2];
  const vx = p[3 * c] - p[3 * a],
    vy = p[3 * c + 1] - p[3 * a + 1],
    vz = p[3 * c + 2] - p[3 * a + 2];
  const wx = p[3 * d] - p[3 * a],
    wy = p[3 * d + 1] - p[3 * a + 1],
    wz = p[3 * d + 2] - p[3 * a + 2];
  return wx * (uy * vz - uz * vy) + wy * (uz * vx - ux * vz) + wz * (ux * vy - uy * vx);
}

/** Gradients of the ten shape functions by the three natural coordinates, at one place. */
function gradients(r: number, s: number, t: number): number[][] {
  const q = 1 - r - s - t;
  return [
    [1 - 4 * q, 1 - 4 * q, 1 - 4 * q],
    [4 * r - 1, 0, 0],
    [0, 4 * s - 1, 0],
    [0, 0, 4 * t - 1],
    [4 * (q - r), -4 * r, -4 * r],
    [4 * s, 4 * r, 0],
    [-4 * s, 4 * (q - s), -4 * s],
    [-4 * t, -4 * t, 4 * (q - t)],
    [4 * t, 0, 4 * r],
    [0, 4 * t, 4 * s],
  ];
}
const A = 0.1381966011250105,
  B = 0.5854101966249685;
/** Gauss's four points of a tetrahedron, and its corners. */
const PLACES = [
  [A, A, A],
  [B, A, A],
  [A, B, A],
  [A, A, B],
  [0, 0, 0],
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
].map(([r, s, t]) => gradients(r, s, t));

/** Does a curved element fold over itself somewhere? */
function folds({ points, tets }: SolidMesh, e: number): boolean {
  for (const g of PLACES) {
    const j = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    for (let n = 0; n < 10; n++) {
      for (let x = 0; x < 3; x++) for (let k = 0; k < 3; k++) j[3 * x + k] += points[3 * tets[10 * e + n] + x] * g[n][k];
    }
    const det = j[0] * (j[4] * j[8] - j[5] * j[7]) - j[1] * (j[3] * j[8] - j[5] * j[6]) + j[2] * (j[3] * j[7] - j[4] * j[6]);
    if (!(det > 0)) return true;
  }
  return false;
}

/**
 * Makes every element one that can be computed with: corners turned the
 * right way, curved edges that fold an element over made straight. In place.
 */
export function mendMesh(mesh: SolidMesh): void {
  const { points, tets } = mesh;
  for (let o = 0; o < tets.length; o += 10) {
    if (sixVolume(points, tets[o], tets[o + 1], tets[o + 2], tets[o + 3]) >= 0) continue;
    for (const [a, b] of [
      [1, 2],
      [4, 6],
      [8, 9],
    ]) {
      [tets[o + a], tets[o + b]] = [tets[o + b], tets[o + a]];
    }
  }
  // To make an edge straight can fold a neighbour that shares it.
  for (let round = 0; round < 5; round++) {
    let straightened = 0;
    for (let e = 0; 10 * e < tets.length; e++) {
      if (!folds(mesh, e)) continue;
      straightened++;
      EDGES.forEach(([a, b], k) => {
        for (let x = 0; x < 3; x++) {
          points[3 * tets[10 * e + 4 + k] + x] = (points[3 * tets[10 * e + a] + x] + points[3 * tets[10 * e + b] + x]) / 2;
        }
      });
    }
    if (!straightened) return;
  }
}

/** The surface: six nodes a face (corners, then middles), and the area (mm²) and middle of each by its corners. */
export interface Surface {
  faces: Uint32Array;
  areas: Float64Array;
  centres: Float64Array;
}

/** The faces that only one element has. */
export function surfaceOf({ points, tets }: SolidMesh): Surface {
  const once = new Map<string, number>();
  for (let e = 0; 10 * e < tets.length; e++) {
    for (let f = 0; f < 4; f++) {
      const [a, b, c] = [0, 1, 2].map((k) => tets[10 * e + FACES[f][k]]).sort((x, y) => x - y);
      const key = `${a} ${b} ${c}`;
      if (!once.delete(key)) once.set(key, 4 * e + f);
    }
  }
  const count = once.size;
  const faces = new Uint32Array(6 * count),
    areas = new Float64Array(count),
    centres = new Float64Array(3 * count);
  let i = 0;
  for (const at of once.values()) {
    FACES[at % 4].forEach((k, n) => (faces[6 * i + n] = tets[10 * (at >> 2) + k]));
    const [a, b, c] = [faces[6 * i], faces[6 * i + 1], faces[6 * i + 2]].map((n) => 3 * n);
    const u = [0, 1, 2].map((k) => points[b + k] - points[a + k]),
      v = [0, 1, 2].map((k) => points[c + k] - points[a + k]);
    areas[i] = Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
    for (let k = 0; k < 3; k++) centres[3 * i + k] = (points[a + k] + points[b + k] + points[c + k]) / 3;
    i++;
  }
  return { faces, areas, centres };
}

/**
 * What each node has of the volume, mm³: a body force is spread so (corners
 * −V/20, middles V/5 of each element, as its shape functions ask).
 */
export function volumesOf({ points, tets }: SolidMesh): Float64Array {
  const out = new Float64Array(points.length / 3);
  for (let o = 0; o < tets.length; o += 10) {
    const v = Math.abs(sixVolume(points, tets[o], tets[o + 1], tets[o + 2], tets[o + 3])) / 6;
    for (let n = 0; n < 10; n++) out[tets[o + n]] += n < 4 ? -v / 20 : v / 5;
  }
  return out;
}

/** The piece that each node belongs to, counted from 0: a body that hangs together is one piece. */
export function piecesOf({ points, tets }: SolidMesh): { count: number; of: Uint32Array } {
  const parent = Uint32Array.from({ length: points.length / 3 }, (_, i) => i);
  const root = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]];
    return i;
  };
  for (let o = 0; o < tets.length; o += 10) for (let n = 1; n < 10; n++) parent[root(tets[o + n])] = root(tets[o]);
  const numbers = new Map<number, number>();
  const of = parent.map((_, i) => {
    const r = root(i);
    const had = numbers.get(r) ?? numbers.size;
    numbers.set(r, had);
    return had;
  });
  return { count: numbers.size, of };
}
