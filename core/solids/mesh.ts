import earcut from 'earcut';
import { type Frame, WORLD } from '../math/index';
import { type Fineness, type Loop, flattened } from './outline';
import type { Solid } from './solid';

/** A closed surface: points x, y, z, … mm; three corners a triangle, counter-clockwise seen from outside. */
export interface Mesh {
  points: Float64Array;
  triangles: Uint32Array;
}

/** Direction changes by at most 5° from one line to the next, or a chord passes within 2 µm. */
export const FINE_MESH: Fineness = { turn: Math.PI / 36, tolerance: 2e-3 };

const signedArea = (p: Loop): number => {
  let a = 0;
  for (let i = 0, n = p.length; i < n; i += 2) a += p[i] * p[(i + 3) % n] - p[(i + 2) % n] * p[i + 1];
  return a / 2;
};
const run = (p: Loop, ccw: boolean): number[] => {
  if (signedArea(p) > 0 === ccw) return [...p];
  const out: number[] = [];
  for (let i = p.length - 2; i >= 0; i -= 2) out.push(p[i], p[i + 1]);
  return out;
};

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
  let reach = 0;
  for (let i = 0; i < section.length; i += 2) reach = Math.max(reach, section[i]);
  const byChord = f.tolerance > 0 && f.tolerance < reach ? Math.PI / Math.acos(1 - f.tolerance / reach) : f.tolerance > 0 ? 8 : Infinity;
  const steps = Math.max(12, Math.ceil(Math.min(f.turn > 0 ? (2 * Math.PI) / f.turn : Infinity, byChord)));
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
  if (s.kind === 'turned') return spun(run(flattened(s.section, f), true), f);
  const loops = [run(flattened(s.outline, f), true), ...(s.holes ?? []).map((h) => run(flattened(h, f), false))];
  if (s.kind === 'taper') {
    return stacked(loops, 1, (x, y, k) => {
      const share = k ? 1 : s.inner;
      return [x * share, y * share, s.height * share];
    });
  }
  const twist = s.twist ?? 0;
  // A slice turns by little enough that its corners' chords stay as near as the outline's.
  let reach = 0;
  for (let i = 0; i < loops[0].length; i += 2) reach = Math.max(reach, Math.hypot(loops[0][i], loops[0][i + 1]));
  const most = Math.min(f.turn > 0 ? f.turn : 0.05, 2 * Math.acos(Math.max(0.9, 1 - f.tolerance / (reach || 1))) || 0.01);
  const layers = twist === 0 ? 1 : Math.max(2, Math.ceil(Math.abs(twist) / most));
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

/** What a closed surface holds, mm³ (divergence theorem); negative where it looks inward. */
export function meshVolume({ points: p, triangles: t }: Mesh): number {
  let v = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    v +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
      p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return v / 6;
}

/** Edges that do not have exactly one triangle on either side: none on a closed surface. */
export function openEdges({ triangles: t }: Mesh): number {
  const seen = new Map<string, number>();
  for (let i = 0; i < t.length; i += 3) {
    for (const [a, b] of [
      [t[i], t[i + 1]],
      [t[i + 1], t[i + 2]],
      [t[i + 2], t[i]],
    ]) {
      const key = a < b ? `${a} ${b}` : `${b} ${a}`;
      seen.set(key, (seen.get(key) ?? 0) + (a < b ? 1 : 1_000_000));
    }
  }
  return [...seen.values()].filter((n) => n !== 1_000_001).length;
}
