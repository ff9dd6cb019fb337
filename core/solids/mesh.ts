import earcut from 'earcut';
import { type Frame, type Vec3, WORLD, cross, vsub } from '../math/index';
import { type Fineness, circle, clockwise, counterClockwise, flattened, reachOf } from './outline';
import type { Solid } from './solid';

/** A closed surface: points x, y, z, … mm; three corners a triangle, counter-clockwise seen from outside. */
export interface Mesh {
  points: Float64Array;
  triangles: Uint32Array;
}

/** A surface passes within 5 µm of the body's outlines. */
export const FINE_MESH: Fineness = { turn: 0, tolerance: 5e-3 };

/** Layers of one flat figure one above the other, its rims joined and its ends closed. `put` takes (x, y) into a layer. */
function stacked(loops: readonly number[][], layers: number, put: (x: number, y: number, layer: number) => [number, number, number]): Mesh {
  const flat = loops.flat();
  const count = flat.length / 2;
  const holes: number[] = [];
  let at = 0;
  for (const l of loops.slice(0, -1)) holes.push((at += l.length / 2));
  const points = new Float64Array(3 * count * (layers + 1));
  for (let k = 0; k <= layers; k++) for (let i = 0; i < count; i++) points.set(put(flat[2 * i], flat[2 * i + 1], k), 3 * (k * count + i));
  const cap = earcut(flat, holes);
  const out: number[] = [];
  const top = layers * count;
  for (let i = 0; i < cap.length; i += 3) {
    const [a, b, c] = [cap[i], cap[i + 1], cap[i + 2]];
    const ccw =
      (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) - (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a]) > 0;
    const [p, q] = ccw ? [b, c] : [c, b];
    out.push(top + a, top + p, top + q, a, q, p);
  }
  at = 0;
  for (const l of loops) {
    const n = l.length / 2;
    for (let i = 0; i < n; i++) {
      const [a, b] = [at + i, at + ((i + 1) % n)];
      for (let k = 0; k < layers; k++) {
        const [lo, hi] = [k * count, (k + 1) * count];
        out.push(lo + a, lo + b, hi + b, lo + a, hi + b, hi + a);
      }
    }
    at += n;
  }
  return { points, triangles: Uint32Array.from(out) };
}

/** A half section turned about z; points on the axis are one. */
function spun(section: number[], f: Fineness): Mesh {
  const n = section.length / 2;
  const reach = Math.max(...section.filter((_, i) => i % 2 === 0));
  const steps = flattened(circle(reach), f).length / 2;
  const points: number[] = [];
  /** The number of a section's point at a step round the axis. */
  const place: ((k: number) => number)[] = [];
  for (let i = 0; i < n; i++) {
    const [r, z] = [section[2 * i], section[2 * i + 1]];
    const first = points.length / 3;
    if (r < 1e-9) {
      points.push(0, 0, z);
      place.push(() => first);
      continue;
    }
    for (let k = 0; k < steps; k++) {
      const a = (2 * Math.PI * k) / steps;
      points.push(r * Math.cos(a), r * Math.sin(a), z);
    }
    place.push((k) => first + (k % steps));
  }
  const out: number[] = [];
  for (let i = 0; i < n; i++) {
    const [p, q] = [place[i], place[(i + 1) % n]];
    for (let k = 0; k < steps; k++) {
      const [a, b, c, d] = [p(k), p(k + 1), q(k + 1), q(k)];
      if (a !== b) out.push(a, b, c);
      if (c !== d && a !== d) out.push(a, c, d);
    }
  }
  return { points: Float64Array.from(points), triangles: Uint32Array.from(out) };
}

/** The surface of a solid by triangles, closed, in the frame that the solid is stated in. */
export function meshOf(s: Solid, f: Fineness = FINE_MESH): Mesh {
  const mesh = inOwnFrame(s, f);
  return s.place && s.place !== WORLD ? movedMesh(mesh, s.place) : mesh;
}

function inOwnFrame(s: Solid, f: Fineness): Mesh {
  // A closed half section that runs counter-clockwise in (r, z) looks outward when it is turned.
  if (s.kind === 'turned') return spun(flattened(counterClockwise(s.section), f), f);
  const loops = [counterClockwise(s.outline), ...(s.holes ?? []).map(clockwise)].map((o) => flattened(o, f));
  if (s.kind === 'taper') {
    return stacked(loops, 1, (x, y, k) => {
      const share = k ? 1 : s.inner;
      return [x * share, y * share, s.height * share];
    });
  }
  const twist = s.twist ?? 0;
  // A slice turns by little enough that its corners' chords stay as near as the outline's.
  const round = flattened(circle(reachOf(s.outline)), f).length / 2;
  const layers = twist === 0 ? 1 : Math.max(2, Math.ceil((Math.abs(twist) / (2 * Math.PI)) * round));
  return stacked(loops, layers, (x, y, k) => {
    const z = s.from + ((s.to - s.from) * k) / layers;
    const a = twist * (k / layers - 0.5),
      c = Math.cos(a),
      d = Math.sin(a);
    return [c * x - d * y + (s.lean ?? 0) * z, d * x + c * y, z];
  });
}

/** A mesh put into the frame that its own frame is stated in. */
export function movedMesh({ points, triangles }: Mesh, f: Frame): Mesh {
  const out = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 3) {
    const [x, y, z] = [points[i], points[i + 1], points[i + 2]];
    for (let k = 0; k < 3; k++) out[i + k] = f.o[k] + x * f.x[k] + y * f.y[k] + z * f.z[k];
  }
  return { points: out, triangles };
}

/** Several surfaces as one list of triangles. */
export function joinedMesh(meshes: readonly Mesh[]): Mesh {
  const points = new Float64Array(meshes.reduce((n, m) => n + m.points.length, 0));
  const triangles = new Uint32Array(meshes.reduce((n, m) => n + m.triangles.length, 0));
  let [p, t] = [0, 0];
  for (const m of meshes) {
    points.set(m.points, p);
    for (let i = 0; i < m.triangles.length; i++) triangles[t + i] = m.triangles[i] + p / 3;
    p += m.points.length;
    t += m.triangles.length;
  }
  return { points, triangles };
}

/** Twice the area of a triangle along its outward normal, mm². */
export function normalOf({ points: p, triangles: t }: Mesh, triangle: number): Vec3 {
  const at = (k: number): Vec3 => {
    const i = 3 * t[3 * triangle + k];
    return [p[i], p[i + 1], p[i + 2]];
  };
  const a = at(0);
  return cross(vsub(at(1), a), vsub(at(2), a));
}
