import { type Vec3, vadd, vscale } from '../math/index';
import type { SolidMesh, Surface } from './mesh';
import { type Patch, patchAt, spread } from './spread';

/**
 * One equation between displacements: Σ coefficient · u = 0. The first
 * is the one that follows from the others, and is in no other equation.
 */
export type Equation = { node: number; direction: 0 | 1 | 2; coefficient: number }[];

/** Two pieces of a body that do not touch, held together where they come nearest. */
export interface Tie {
  /** The pieces, by number. */
  pieces: [number, number];
  /** mm between them. */
  gap: number;
  equations: Equation[];
}

const centre = (s: Surface, i: number): Vec3 => [s.centres[3 * i], s.centres[3 * i + 1], s.centres[3 * i + 2]];

function ofPiece(s: Surface, of: Uint32Array, piece: number): Surface {
  const own = [...s.areas.keys()].filter((i) => of[s.faces[6 * i]] === piece);
  return {
    faces: Uint32Array.from(own.flatMap((i) => [...s.faces.subarray(6 * i, 6 * i + 6)])),
    areas: Float64Array.from(own, (i) => s.areas[i]),
    centres: Float64Array.from(own.flatMap((i) => centre(s, i))),
  };
}

/** The distance of each face of `a` from the nearest face of `b`, by their middles. */
function distancesTo(a: Surface, b: Surface): Float64Array {
  return Float64Array.from(a.areas, (_, i) => {
    let least = Infinity;
    const [x, y, z] = centre(a, i);
    for (let k = 0; k < b.centres.length; k += 3) {
      const d = (b.centres[k] - x) ** 2 + (b.centres[k + 1] - y) ** 2 + (b.centres[k + 2] - z) ** 2;
      if (d < least) least = d;
    }
    return Math.sqrt(least);
  });
}

/** The middle of where two pieces come nearest: on the axis, where one goes round the other. */
function meeting(a: Surface, b: Surface, size: number): { at: Vec3; gap: number } {
  const sides = [distancesTo(a, b), distancesTo(b, a)];
  const gap = sides[0].reduce((m, d) => Math.min(m, d), Infinity);
  let at: Vec3 = [0, 0, 0],
    sum = 0;
  [a, b].forEach((s, k) =>
    sides[k].forEach((d, i) => {
      if (d > 1.2 * gap + 0.5 * size) return;
      at = vadd(at, vscale(centre(s, i), s.areas[i]));
      sum += s.areas[i];
    }),
  );
  return { at: vscale(at, 1 / sum), gap };
}

/**
 * Six equations: two patches, each taken by its mean displacement and mean turn about a point,
 * go along together. Turns are taken by `scale`, mm, to be of the size of displacements.
 */
function equationsOf(mesh: SolidMesh, patches: [Patch, Patch], point: Vec3, scale: number): Equation[] | undefined {
  const columns = patches.flatMap((p) => [...p.nodes].flatMap((node) => ([0, 1, 2] as const).map((direction) => ({ node, direction }))));
  const rows: Float64Array[] = [];
  for (let k = 0; k < 6; k++) {
    const unit: Vec3 = [k % 3 === 0 ? 1 : 0, k % 3 === 1 ? 1 : 0, k % 3 === 2 ? 1 : 0];
    const [force, moment]: Vec3[] = k < 3 ? [unit, [0, 0, 0]] : [[0, 0, 0], vscale(unit, scale)];
    const [f, g] = patches.map((p) => spread(mesh, p, force, moment, point));
    if (!f || !g) return undefined;
    rows.push(Float64Array.from([...f, ...g.map((v) => -v)]));
  }
  // Solved for six displacements, so that each of these follows from one equation.
  const chosen: number[] = [];
  rows.forEach((row, k) => {
    const best = row.reduce((b, v, j) => (Math.abs(v) > Math.abs(row[b]) ? j : b), 0);
    chosen.push(best);
    const pivot = row[best];
    for (let j = 0; j < row.length; j++) row[j] /= pivot;
    rows.forEach((other, i) => {
      const part = other[best];
      if (i !== k && part !== 0) for (let j = 0; j < row.length; j++) other[j] -= part * row[j];
    });
  });
  return rows.map((row, k) => {
    const terms = columns.flatMap((c, j) => (j !== chosen[k] && Math.abs(row[j]) > 1e-12 ? [{ ...c, coefficient: row[j] }] : []));
    return [{ ...columns[chosen[k]], coefficient: 1 }, ...terms];
  });
}

/**
 * Holds the pieces of a body together, each to the one that is nearest to it, as if by a stiff
 * part between the faces that come nearest: what passes is spread over them as any force is.
 */
export function tiesOf(mesh: SolidMesh, surface: Surface, of: Uint32Array, count: number, size: number): Tie[] {
  const pieces = Array.from({ length: count }, (_, k) => ofPiece(surface, of, k));
  const reached = new Set([0]);
  const out: Tie[] = [];
  while (reached.size < count) {
    let best: { pieces: [number, number]; at: Vec3; gap: number } | undefined;
    for (const a of reached) {
      for (let b = 0; b < count; b++) {
        if (reached.has(b)) continue;
        const m = meeting(pieces[a], pieces[b], size);
        if (!best || m.gap < best.gap) best = { pieces: [a, b], ...m };
      }
    }
    const { pieces: pair, at, gap } = best!;
    reached.add(pair[1]);
    const patches = pair.map((k) => patchAt(mesh, pieces[k], at, size)) as [Patch, Patch];
    const equations = equationsOf(mesh, patches, at, Math.max(size, ...patches.map((p) => p.away)));
    if (equations) out.push({ pieces: pair, gap, equations });
  }
  return out;
}
