import { type Vec3, cross, vadd, vscale, vsub } from '../math/index';
import { type SolidMesh, type Surface, pointAt } from './mesh';

/** Nodes and their weights. */
export interface Patch {
  nodes: Uint32Array;
  weights: Float64Array;
  /** How far the surface is from the point that asked, mm. */
  away: number;
}

/** Second moments of weighted nodes about a place: xx, yy, zz, xy, yz, zx. */
export function inertiaOf(mesh: SolidMesh, nodes: ArrayLike<number>, g: Vec3, weight: (i: number) => number): number[] {
  const t = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < nodes.length; i++) {
    const [x, y, z] = vsub(pointAt(mesh, nodes[i]), g);
    const w = weight(i);
    [y * y + z * z, z * z + x * x, x * x + y * y, -x * y, -y * z, -z * x].forEach((v, k) => (t[k] += w * v));
  }
  return t;
}

/** The solution of a symmetric system of three, given as xx, yy, zz, xy, yz, zx; undefined where it has none to speak of. */
export function solveSymmetric([xx, yy, zz, xy, yz, zx]: readonly number[], m: Vec3): Vec3 | undefined {
  const [c0, c1, c2] = [yy * zz - yz * yz, zx * yz - xy * zz, xy * yz - zx * yy];
  const det = xx * c0 + xy * c1 + zx * c2;
  if (!(det > 1e-9 * ((xx + yy + zz) / 3) ** 3)) return undefined;
  return [
    (c0 * m[0] + c1 * m[1] + c2 * m[2]) / det,
    (c1 * m[0] + (xx * zz - zx * zx) * m[1] + (xy * zx - xx * yz) * m[2]) / det,
    (c2 * m[0] + (xy * zx - xx * yz) * m[1] + (xx * yy - xy * xy) * m[2]) / det,
  ];
}

/**
 * Forces on nodes that make up a force F (N) and a moment M (N·mm) about a point P: fᵢ = wᵢ (a + b × rᵢ), r
 * from the nodes' weighted centre. With areas or volumes as weights it is the even or straight-line traction
 * of beam theory. Three a node, N; undefined where the nodes lie on a line and cannot take a moment.
 */
export function spread(mesh: SolidMesh, { nodes, weights }: Patch, force: Vec3, moment: Vec3, point: Vec3): Float64Array | undefined {
  let sum = 0;
  let g: Vec3 = [0, 0, 0];
  nodes.forEach((n, i) => {
    sum += weights[i];
    g = vadd(g, vscale(pointAt(mesh, n), weights[i]));
  });
  if (!(sum > 0)) return undefined;
  g = vscale(g, 1 / sum);
  const tensor = inertiaOf(mesh, nodes, g, (i) => weights[i]);
  const b = solveSymmetric(tensor, vadd(moment, cross(vsub(point, g), force)));
  if (!b) return undefined;
  const a = vscale(force, 1 / sum);
  const out = new Float64Array(3 * nodes.length);
  nodes.forEach((n, i) => {
    const f = vscale(vadd(a, cross(b, vsub(pointAt(mesh, n), g))), weights[i]);
    for (let k = 0; k < 3; k++) out[3 * i + k] = f[k];
  });
  return out;
}

/**
 * Faces within a distance of a point, as nodes with the areas that
 * their middles stand for (an even traction loads only those).
 */
function within(surface: Surface, distances: Float64Array, reach: number): Omit<Patch, 'away'> {
  const weights = new Map<number, number>();
  for (let i = 0; i < distances.length; i++) {
    if (distances[i] > reach) continue;
    for (let k = 3; k < 6; k++) weights.set(surface.faces[6 * i + k], (weights.get(surface.faces[6 * i + k]) ?? 0) + surface.areas[i] / 3);
  }
  return { nodes: Uint32Array.from(weights.keys()), weights: Float64Array.from(weights.values()) };
}

/**
 * Where a force at a point meets the body: the faces nearest to the point, out to a
 * third more than the nearest (so all round a bore or a journal whose axis the point is
 * on), at least an element far, and farther until they can take any force and moment.
 */
export function patchAt(mesh: SolidMesh, surface: Surface, point: Vec3, size: number): Patch {
  const { centres, areas } = surface;
  const distances = new Float64Array(areas.length);
  let away = Infinity;
  for (let i = 0; i < areas.length; i++) {
    distances[i] = Math.hypot(centres[3 * i] - point[0], centres[3 * i + 1] - point[1], centres[3 * i + 2] - point[2]);
    away = Math.min(away, distances[i]);
  }
  for (let reach = away + Math.max(size, away / 3); ; reach *= 1.25) {
    const patch = { ...within(surface, distances, reach), away };
    const all = distances.every((d) => d <= reach);
    if (all || (patch.nodes.length >= 9 && spread(mesh, patch, [1, 1, 1], [1, 1, 1], point))) return patch;
  }
}
