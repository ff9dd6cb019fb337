import { faceted } from '../solids/index';
import { type Vec3, cross, norm, vadd, vscale, vsub } from '../math/index';
import { type LoadLine, STEEL as STEEL_YOUNG } from '../forces/index';
import type { StrengthBody } from './body';
import { type SolidMesh, mendMesh, piecesOf, pointAt, surfaceOf, volumesOf } from './mesh';
import { type Patch, inertiaOf, patchAt, solveSymmetric, spread } from './spread';
import { type Support, supportsOf } from './supports';
import { type Tie, tiesOf } from './ties';

/** Elastic constants of a member. */
export interface Material {
  /** Young's modulus, MPa. */
  young: number;
  poisson: number;
}
/** Steel: 206 GPa and 0.3, as is common practice. */
export const STEEL: Material = { young: STEEL_YOUNG, poisson: 0.3 };

/** A line of the load sheet on the nodes that take it. */
export interface NodeForces {
  name: string;
  /** As stated: mm, N, N·m. */
  point: Vec3;
  force: Vec3;
  moment: Vec3;
  nodes: Uint32Array;
  /** Three a node, N. */
  forces: Float64Array;
  /** How far the body's surface is from the point, mm; 0 for what acts on the whole body. */
  away: number;
}

/** What a solver of finite elements is given: mm, N, MPa. */
export interface StrengthModel {
  name: string;
  mesh: SolidMesh;
  sets: NodeForces[];
  /** Pieces that do not touch, with the names of their elements. */
  ties: (Tie & { names: string[] })[];
  supports: Support[];
  /** Of each support, N/mm. */
  stiffness: number;
  material: Material;
}

/** Why there is no model; in words for the designer. */
export interface NoModel {
  sentence: string;
}

/** Sums of forces (N), and of moments about the origin (N·m), of a sheet's lines; with the greatest of what adds up to them. */
function unbalanced(lines: readonly Pick<LoadLine, 'point' | 'force' | 'moment'>[]): number {
  let f: Vec3 = [0, 0, 0],
    m: Vec3 = [0, 0, 0];
  let mostForce = 0,
    mostMoment = 0;
  for (const l of lines) {
    const couple = vscale(cross(l.point, l.force), 1e-3);
    f = vadd(f, l.force);
    m = vadd(m, vadd(l.moment, couple));
    mostForce = Math.max(mostForce, norm(l.force));
    mostMoment = Math.max(mostMoment, norm(l.moment), norm(couple));
  }
  return Math.max(norm(f) / (mostForce || 1), norm(m) / (mostMoment || 1));
}

/** More than this of the greatest force left over is not a sheet that adds up. */
const UNBALANCED = 1e-4;

/** The elements of each piece of a mesh that falls apart: by the piece of the node nearest to the element's middle. */
function pieceNames(body: StrengthBody, mesh: SolidMesh, of: Uint32Array, count: number): string[] {
  const names: string[][] = Array.from({ length: count }, () => []);
  for (const part of body.parts) {
    const s = faceted(part.solids[0]);
    const z = s.kind === 'prism' ? (s.from + s.to) / 2 : s.kind === 'taper' ? s.height : s.section[1];
    const [x, y] = s.kind === 'turned' ? [s.section[2], 0] : s.outline;
    const f = s.place!;
    const at: Vec3 = vadd(f.o, vadd(vscale(f.x, x), vadd(vscale(f.y, y), vscale(f.z, z))));
    let best = 0,
      least = Infinity;
    for (let n = 0; 3 * n < mesh.points.length; n++) {
      const d = norm(vsub(pointAt(mesh, n), at));
      if (d < least) [best, least] = [n, d];
    }
    names[of[best]].push(part.name);
  }
  return names.map((n) => n.join(', '));
}

/**
 * Puts a load sheet's lines (in the body's frame; mm, N, N·m) on the nodes of the body's mesh: forces at joints, contacts
 * and loads on the faces where they meet it, weight and inertia on all of it in proportion to the volume. Each sums
 * exactly to its line. Pieces that do not touch are held together where they come nearest. The mesh is mended in place.
 */
export function strengthModel(
  body: StrengthBody,
  mesh: SolidMesh,
  lines: readonly LoadLine[],
  { size, material }: { size: number; material: Material },
): StrengthModel | NoModel {
  mendMesh(mesh);
  if (!mesh.tets.length) return { sentence: `${body.name} has no body to mesh: put an element on it.` };
  if (unbalanced(lines) > UNBALANCED) {
    return { sentence: 'The load sheet does not add up to nothing, so its supports would carry something: take the sheet with inertia.' };
  }
  const surface = surfaceOf(mesh);
  const pieces = piecesOf(mesh);
  const found = pieces.count > 1 ? tiesOf(mesh, surface, pieces.of, pieces.count, size) : [];
  if (found.length < pieces.count - 1) {
    return { sentence: `${body.name} is meshed too coarsely to hold its pieces together: choose smaller elements.` };
  }
  const names = found.length ? pieceNames(body, mesh, pieces.of, pieces.count) : [];
  const all: Patch = { nodes: Uint32Array.from({ length: mesh.points.length / 3 }, (_, i) => i), weights: volumesOf(mesh), away: 0 };
  const sets: NodeForces[] = [];
  for (const l of lines) {
    const patch = l.kind === 'weight' || l.kind === 'inertia' ? all : patchAt(mesh, surface, l.point, size);
    const forces = spread(mesh, patch, l.force, vscale(l.moment, 1e3), l.point);
    if (!forces) return { sentence: `${body.name} is meshed too coarsely to take “${l.name}”: choose smaller elements.` };
    sets.push({ name: l.name, point: l.point, force: l.force, moment: l.moment, nodes: patch.nodes, forces, away: patch.away });
  }
  return {
    name: body.name,
    mesh,
    sets,
    ties: found.map((t) => ({ ...t, names: t.pieces.map((k) => names[k]) })),
    supports: supportsOf(mesh),
    stiffness: (material.young * size) / 10,
    material,
  };
}

/**
 * How each point goes by the body's change of shape alone, mm, three
 * a node: displacements less their mean, and less their mean turn.
 */
export function shapeChange(mesh: SolidMesh, displacements: ArrayLike<number>): Float64Array {
  const count = mesh.points.length / 3;
  const nodes = Uint32Array.from({ length: count }, (_, i) => i);
  const way = (i: number): Vec3 => [displacements[3 * i], displacements[3 * i + 1], displacements[3 * i + 2]];
  let g: Vec3 = [0, 0, 0],
    mean: Vec3 = [0, 0, 0],
    turning: Vec3 = [0, 0, 0];
  for (const i of nodes) {
    g = vadd(g, vscale(pointAt(mesh, i), 1 / count));
    mean = vadd(mean, vscale(way(i), 1 / count));
  }
  for (const i of nodes) turning = vadd(turning, cross(vsub(pointAt(mesh, i), g), way(i)));
  const turn = solveSymmetric(
    inertiaOf(mesh, nodes, g, () => 1),
    turning,
  ) ?? [0, 0, 0];
  const out = new Float64Array(3 * count);
  for (const i of nodes) out.set(vsub(vsub(way(i), mean), cross(turn, vsub(pointAt(mesh, i), g))), 3 * i);
  return out;
}

/** The greatest of these ways, mm. */
export function greatestChange(change: ArrayLike<number>): number {
  let most = 0;
  for (let k = 0; k < change.length; k += 3) most = Math.max(most, Math.hypot(change[k], change[k + 1], change[k + 2]));
  return most;
}
