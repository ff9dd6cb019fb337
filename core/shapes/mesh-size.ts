import type { Vec3 } from '../math/index';
import type { Mesh } from '../solids/index';
import type { ShapeSize } from './shape';

/** Points nearer than this part of the mesh's reach are one. */
const WELDED = 1e-7;

/** The box of points: least and greatest x, y, z. Zeros where there are none. */
export function boxOfPoints(p: ArrayLike<number>): [Vec3, Vec3] {
  if (!p.length) {
    return [
      [0, 0, 0],
      [0, 0, 0],
    ];
  }
  const lo: [number, number, number] = [Infinity, Infinity, Infinity],
    hi: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < p.length; i++) {
    const k = i % 3;
    if (p[i] < lo[k]) lo[k] = p[i];
    if (p[i] > hi[k]) hi[k] = p[i];
  }
  return [lo, hi];
}

/** A mesh whose triangles share the points at which they meet; triangles without an area are left out. */
export function welded({ points, triangles }: Mesh): Mesh {
  const [lo, hi] = boxOfPoints(points);
  const step = Math.max(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]) * WELDED || 1;
  const known = new Map<string, number>();
  const out: number[] = [];
  const to = new Uint32Array(points.length / 3);
  for (let i = 0; i < to.length; i++) {
    const [x, y, z] = [points[3 * i], points[3 * i + 1], points[3 * i + 2]];
    const key = `${Math.round((x - lo[0]) / step)} ${Math.round((y - lo[1]) / step)} ${Math.round((z - lo[2]) / step)}`;
    let k = known.get(key);
    if (k === undefined) {
      known.set(key, (k = out.length / 3));
      out.push(x, y, z);
    }
    to[i] = k;
  }
  const kept: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [to[triangles[t]], to[triangles[t + 1]], to[triangles[t + 2]]];
    if (a !== b && b !== c && c !== a) kept.push(a, b, c);
  }
  return { points: Float64Array.from(out), triangles: Uint32Array.from(kept) };
}

/** Whether a welded mesh bounds a body: every edge is passed as often one way as the other. */
function isClosed({ points, triangles }: Mesh): boolean {
  const count = points.length / 3;
  const ways = new Map<number, number>();
  for (let t = 0; t < triangles.length; t += 3) {
    for (let k = 0; k < 3; k++) {
      const a = triangles[t + k],
        b = triangles[t + ((k + 1) % 3)];
      const key = a < b ? a * count + b : b * count + a;
      ways.set(key, (ways.get(key) ?? 0) + (a < b ? 1 : -1));
    }
  }
  for (const n of ways.values()) if (n !== 0) return false;
  return triangles.length > 0;
}

/**
 * Volume, centroid, moments and reach of a mesh, by tetrahedra over its triangles (Tonon 2004, from memory; exact of a
 * polyhedron). What is turned inside out is turned round: the mesh given back looks outward. Without volume where it is open.
 */
export function sizeOfMesh(mesh: Mesh): { mesh: Mesh; size: ShapeSize } {
  const { points: p, triangles: t } = mesh;
  const [least, most] = boxOfPoints(p);
  const middle: Vec3 = [(least[0] + most[0]) / 2, (least[1] + most[1]) / 2, (least[2] + most[2]) / 2];
  const open: ShapeSize = { volume: 0, centroid: middle, inertia: [0, 0, 0, 0, 0, 0], least, most, closed: false };
  if (!isClosed(mesh)) return { mesh, size: open };
  // About the middle of the box, so that what is far from the origin loses no digits.
  let v = 0;
  const first = [0, 0, 0];
  /** ∫ x², y², z², xy, yz, zx, each times 120 over six times the volume of a tetrahedron. */
  const second = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < t.length; i += 3) {
    const at = (k: number): Vec3 => {
      const j = 3 * t[i + k];
      return [p[j] - middle[0], p[j + 1] - middle[1], p[j + 2] - middle[2]];
    };
    const [a, b, c] = [at(0), at(1), at(2)];
    const det = a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
    v += det / 6;
    for (let k = 0; k < 3; k++) {
      first[k] += (det * (a[k] + b[k] + c[k])) / 24;
      const m = (k + 1) % 3;
      const sum = (i1: number, j1: number): number =>
        a[i1] * a[j1] + b[i1] * b[j1] + c[i1] * c[j1] + (a[i1] + b[i1] + c[i1]) * (a[j1] + b[j1] + c[j1]);
      second[k] += (det * sum(k, k)) / 120;
      second[3 + k] += (det * sum(k, m)) / 120;
    }
  }
  if (v < 0) {
    const turned = Uint32Array.from(t);
    for (let i = 0; i < turned.length; i += 3) [turned[i + 1], turned[i + 2]] = [turned[i + 2], turned[i + 1]];
    return { mesh: { points: p, triangles: turned }, size: sizeOfMesh({ points: p, triangles: turned }).size };
  }
  if (!(v > 0)) return { mesh, size: open };
  const [x, y, z] = first.map((s) => s / v);
  const [xx, yy, zz] = [second[0] / v - x * x, second[1] / v - y * y, second[2] / v - z * z];
  return {
    mesh,
    size: {
      volume: v,
      centroid: [x + middle[0], y + middle[1], z + middle[2]],
      inertia: [yy + zz, zz + xx, xx + yy, x * y - second[3] / v, y * z - second[4] / v, z * x - second[5] / v],
      least,
      most,
      closed: true,
    },
  };
}
