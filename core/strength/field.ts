import { type SolidMesh, pointAt } from './mesh';

/**
 * What a strength analysis found, for looking at: the corners of the elements alone. Points
 * x, y, z in mm; equivalent stress in MPa and change of shape (x, y, z, mm) for each; four
 * corners an element, its volume positive; `skin`: the triangles of the outside.
 */
export interface StressField {
  points: Float32Array;
  stress: Float32Array;
  change: Float32Array;
  tets: Uint32Array;
  skin: Uint32Array;
}

/** The field on a mesh of second-order elements: `stress` a node, `change` three a node. */
export function stressField(mesh: SolidMesh, stress: ArrayLike<number>, change: ArrayLike<number>): StressField {
  const at = new Map<number, number>();
  const corners: number[] = [];
  const tets = new Uint32Array((mesh.tets.length / 10) * 4);
  for (let e = 0, k = 0; e < mesh.tets.length; e += 10) {
    for (let c = 0; c < 4; c++, k++) {
      const node = mesh.tets[e + c];
      let n = at.get(node);
      if (n === undefined) {
        at.set(node, (n = corners.length));
        corners.push(node);
      }
      tets[k] = n;
    }
  }
  return {
    points: Float32Array.from(corners.flatMap((n) => [...pointAt(mesh, n)])),
    stress: Float32Array.from(corners, (n) => stress[n]),
    change: Float32Array.from(corners.flatMap((n) => [change[3 * n], change[3 * n + 1], change[3 * n + 2]])),
    tets,
    skin: skinOf(tets),
  };
}

/** Faces of a tetrahedron by its corners, seen from outside counter-clockwise. */
const FACES = [
  [0, 2, 1],
  [0, 1, 3],
  [1, 2, 3],
  [2, 0, 3],
] as const;

/**
 * The triangles of the outside, three corners each, seen from
 * outside counter-clockwise: those that belong to one element alone.
 */
export function skinOf(tets: Uint32Array): Uint32Array {
  // Faces by two of their corners, then by the third: numbers are found faster than texts.
  const count = tets.reduce((most, n) => Math.max(most, n + 1), 0);
  const once = new Map<number, [third: number, face: number][]>();
  for (let e = 0; e < tets.length; e += 4) {
    for (let f = 0; f < FACES.length; f++) {
      const [a, b, c] = FACES[f].map((i) => tets[e + i]);
      const [lo, hi] = [Math.min(a, b, c), Math.max(a, b, c)];
      const third = a + b + c - lo - hi;
      const key = lo * count + hi;
      const had = once.get(key);
      const same = had?.findIndex(([n]) => n === third) ?? -1;
      if (!had) once.set(key, [[third, FACES.length * e + f]]);
      else if (same >= 0) had.splice(same, 1);
      else had.push([third, FACES.length * e + f]);
    }
  }
  const out: number[] = [];
  for (const faces of once.values()) {
    for (const [, at] of faces) {
      const e = Math.floor(at / FACES.length);
      for (const i of FACES[at % FACES.length]) out.push(tets[e + i]);
    }
  }
  return Uint32Array.from(out);
}

/** A plane cut through a field: points with their stress, and triangles between them. */
export interface Cut {
  points: Float32Array;
  stress: Float32Array;
  triangles: Uint32Array;
}

/**
 * The cut across one axis (0, 1, 2 for x, y, z) at a place, mm, of the body as it is deformed by `factor`; stress
 * goes straight along the edges that are cut. The triangles have no sense: they are to be seen from both sides.
 */
export function cutAcross(f: Omit<StressField, 'skin'>, axis: 0 | 1 | 2, place: number, factor = 0): Cut {
  const points: number[] = [],
    stress: number[] = [],
    triangles: number[] = [];
  const at = (n: number, x: number): number => f.points[3 * n + x] + factor * f.change[3 * n + x];
  const known = new Map<number, number>();
  const count = f.stress.length;
  // One point for each edge that is cut, whichever element asks.
  const crossing = (a: number, b: number): number => {
    const [lo, hi] = a < b ? [a, b] : [b, a];
    const key = lo * count + hi;
    let k = known.get(key);
    if (k !== undefined) return k;
    const part = (place - at(lo, axis)) / (at(hi, axis) - at(lo, axis));
    known.set(key, (k = stress.length));
    for (let x = 0; x < 3; x++) points.push(at(lo, x) + part * (at(hi, x) - at(lo, x)));
    stress.push(f.stress[lo] + part * (f.stress[hi] - f.stress[lo]));
    return k;
  };
  for (let e = 0; e < f.tets.length; e += 4) {
    const over: number[] = [],
      under: number[] = [];
    for (let c = 0; c < 4; c++) (at(f.tets[e + c], axis) >= place ? over : under).push(f.tets[e + c]);
    if (!over.length || !under.length) continue;
    if (over.length === 2) {
      // Round the four edges that are cut.
      const [a, b] = over,
        [c, d] = under;
      const [p, q, r, s] = [crossing(a, c), crossing(b, c), crossing(b, d), crossing(a, d)];
      triangles.push(p, q, r, p, r, s);
    } else {
      const [[one], three] = over.length === 1 ? [over, under] : [under, over];
      triangles.push(crossing(one, three[0]), crossing(one, three[1]), crossing(one, three[2]));
    }
  }
  return { points: Float32Array.from(points), stress: Float32Array.from(stress), triangles: Uint32Array.from(triangles) };
}
