import { type Vec3, cross, dot, listAt, norm, unit, vadd, vscale, vsub } from '../math/index';
import { type Mesh, normalOf } from '../solids/index';
import type { ShapePlace } from './shape';

/** Triangles whose normals differ by less than this lie in one flat face: cosine of 0.1°. */
const FLAT = Math.cos((0.1 * Math.PI) / 180);
/** An edge is drawn where faces meet at more than 20°. */
const SHARP = Math.cos((20 * Math.PI) / 180);
/** A loop of at least so many points, all as far from its middle within this part, is a circle. */
const ROUND = { points: 12, within: 2e-3 };
/** Two circles on one axis within this part of their radius are one hole or bar. */
const SAME = 1e-3;

const pointAt = (p: ArrayLike<number>, k: number): Vec3 => [p[3 * k], p[3 * k + 1], p[3 * k + 2]];

/** A flat face of a mesh: its triangles, outward normal, area and middle. */
interface Region {
  triangles: number[];
  normal: Vec3;
  area: number;
  middle: Vec3;
}

/** Triangles over each edge, by the two points in order: `a * count + b`. */
function edgesOf({ points, triangles }: Mesh): Map<number, number> {
  const count = points.length / 3;
  const out = new Map<number, number>();
  for (let i = 0; i < triangles.length; i++) {
    const a = triangles[i],
      b = triangles[i - (i % 3) + ((i + 1) % 3)];
    out.set(a * count + b, Math.floor(i / 3));
  }
  return out;
}

function regionsOf(mesh: Mesh, normals: readonly Vec3[], over: ReadonlyMap<number, number>): { regions: Region[]; of: Int32Array } {
  const count = mesh.points.length / 3;
  const of = new Int32Array(normals.length).fill(-1);
  const regions: Region[] = [];
  for (let seed = 0; seed < normals.length; seed++) {
    if (of[seed] >= 0) continue;
    const first = unit(normals[seed]);
    const mine = [seed];
    of[seed] = regions.length;
    let sum: Vec3 = [0, 0, 0],
      middle: Vec3 = [0, 0, 0],
      area = 0;
    for (let head = 0; head < mine.length; head++) {
      const t = mine[head];
      const size = norm(normals[t]) / 2;
      const [a, b, c] = [0, 1, 2].map((k) => pointAt(mesh.points, mesh.triangles[3 * t + k]));
      middle = vadd(middle, vscale(vadd(a, vadd(b, c)), size / 3));
      area += size;
      sum = vadd(sum, normals[t]);
      for (let k = 0; k < 3; k++) {
        const p = mesh.triangles[3 * t + k],
          q = mesh.triangles[3 * t + ((k + 1) % 3)];
        const next = over.get(q * count + p);
        if (next === undefined || of[next] >= 0 || dot(unit(normals[next]), first) < FLAT) continue;
        of[next] = regions.length;
        mine.push(next);
      }
    }
    regions.push({ triangles: mine, normal: unit(sum), area, middle: area > 0 ? vscale(middle, 1 / area) : middle });
  }
  return { regions, of };
}

/** The loops of points round a flat face, each in its order. */
function loopsOf(mesh: Mesh, region: number, r: Region, of: Int32Array, over: ReadonlyMap<number, number>): number[][] {
  const count = mesh.points.length / 3;
  const next = new Map<number, number>();
  for (const t of r.triangles) {
    for (let k = 0; k < 3; k++) {
      const a = mesh.triangles[3 * t + k],
        b = mesh.triangles[3 * t + ((k + 1) % 3)];
      const beside = over.get(b * count + a);
      if (beside === undefined || of[beside] !== region) next.set(a, b);
    }
  }
  const loops: number[][] = [];
  while (next.size) {
    const loop: number[] = [];
    let [at] = next.keys();
    for (let to = next.get(at); to !== undefined; to = next.get(at)) {
      next.delete(at);
      loop.push(at);
      at = to;
    }
    loops.push(loop);
  }
  return loops;
}

/** The circle that a loop is; undefined where it is none. */
function circleOf(p: readonly Vec3[], normal: Vec3): ShapePlace | undefined {
  if (p.length < ROUND.points) return undefined;
  // The middle by area, so that uneven points do not pull it aside.
  let area = 0,
    middle: Vec3 = [0, 0, 0];
  for (let i = 1; i + 1 < p.length; i++) {
    const a = dot(cross(vsub(p[i], p[0]), vsub(p[i + 1], p[0])), normal);
    area += a;
    middle = vadd(middle, vscale(vadd(p[0], vadd(p[i], p[i + 1])), a / 3));
  }
  if (Math.abs(area) < 1e-12) return undefined;
  const point = vscale(middle, 1 / area);
  const radii = p.map((q) => norm(vsub(q, point)));
  const r = Math.max(...radii);
  const longest = Math.max(...p.map((q, i) => norm(vsub(q, p[(i + 1) % p.length]))));
  if (Math.min(...radii) < r * (1 - ROUND.within) || longest > r) return undefined;
  return { kind: 'centre', point, direction: normal, size: 2 * r };
}

/** Axes through circles that stand opposite each other. */
function axesOf(circles: readonly ShapePlace[]): ShapePlace[] {
  const out: ShapePlace[] = [];
  const used = new Set<number>();
  circles.forEach((a, i) => {
    if (used.has(i)) return;
    const j = circles.findIndex((b, k) => {
      if (k <= i || used.has(k) || Math.abs(b.size - a.size) > SAME * a.size || Math.abs(dot(a.direction, b.direction)) < FLAT) return false;
      const d = vsub(b.point, a.point);
      const along = dot(d, a.direction);
      return Math.abs(along) > SAME * a.size && norm(vsub(d, vscale(a.direction, along))) < SAME * a.size;
    });
    if (j < 0) return;
    used.add(j);
    out.push({ kind: 'axis', point: vscale(vadd(a.point, circles[j].point), 0.5), direction: a.direction, size: a.size });
  });
  return out;
}

/**
 * Places of a welded mesh: flat faces, circles round them, axes through two such circles, straight edges between flat faces,
 * corners of three; and the sharp edges that are drawn. Faces smaller than `least` of the whole surface are none.
 */
export function placesOfMesh(mesh: Mesh, least = 1e-4): { places: ShapePlace[]; edges: Float32Array } {
  const normals = Array.from({ length: mesh.triangles.length / 3 }, (_, t) => normalOf(mesh, t));
  const over = edgesOf(mesh);
  const count = mesh.points.length / 3;
  const { regions, of } = regionsOf(mesh, normals, over);
  const whole = regions.reduce((a, r) => a + r.area, 0);
  const flat = regions.map((r) => r.area > least * whole);
  const places: ShapePlace[] = [];
  const circles: ShapePlace[] = [];
  regions.forEach((r, k) => {
    if (!flat[k]) return;
    places.push({ kind: 'face', point: r.middle, direction: r.normal, size: r.area });
    for (const loop of loopsOf(mesh, k, r, of, over)) {
      const c = circleOf(
        loop.map((i) => pointAt(mesh.points, i)),
        r.normal,
      );
      if (c) circles.push(c);
    }
  });
  const lines: number[] = [];
  /** Flat faces at each point. */
  const at = new Map<number, Set<number>>();
  for (const [key, t] of over) {
    const a = Math.floor(key / count),
      b = key % count;
    const beside = over.get(b * count + a);
    const cosine = beside === undefined ? -1 : dot(unit(normals[t]), unit(normals[beside]));
    if (cosine < SHARP && (a < b || beside === undefined)) lines.push(...pointAt(mesh.points, a), ...pointAt(mesh.points, b));
    if (beside === undefined || of[t] === of[beside] || !flat[of[t]] || !flat[of[beside]]) continue;
    for (const p of [a, b]) at.set(p, (at.get(p) ?? new Set()).add(of[t]).add(of[beside]));
  }
  for (const [p, faces] of at) if (faces.size > 2) places.push({ kind: 'corner', point: pointAt(mesh.points, p), direction: [0, 0, 0], size: 0 });
  places.push(...straightEdges(mesh, of, flat, over), ...circles, ...axesOf(circles));
  return { places, edges: Float32Array.from(lines) };
}

/** Straight edges between two flat faces, end to end. */
function straightEdges(mesh: Mesh, of: Int32Array, flat: readonly boolean[], over: ReadonlyMap<number, number>): ShapePlace[] {
  const count = mesh.points.length / 3;
  const ends = new Map<string, [number, number][]>();
  for (const [key, t] of over) {
    const a = Math.floor(key / count),
      b = key % count;
    const beside = over.get(b * count + a);
    if (beside === undefined || a > b || of[t] === of[beside] || !flat[of[t]] || !flat[of[beside]]) continue;
    const name = of[t] < of[beside] ? `${of[t]} ${of[beside]}` : `${of[beside]} ${of[t]}`;
    listAt(ends, name).push([a, b]);
  }
  const out: ShapePlace[] = [];
  for (const pieces of ends.values()) {
    const [a, b] = pieces[0].map((k) => pointAt(mesh.points, k));
    const direction = unit(vsub(b, a));
    // Two faces can meet along several stretches of one line: each by itself.
    const along = pieces.map((p) => p.map((k) => dot(vsub(pointAt(mesh.points, k), a), direction)).sort((x, y) => x - y)).sort((x, y) => x[0] - y[0]);
    let [from, to] = along[0];
    const put = (): void => void out.push({ kind: 'edge', point: vadd(a, vscale(direction, (from + to) / 2)), direction, size: to - from });
    for (const [lo, hi] of along.slice(1)) {
      if (lo <= to + 1e-9 * (1 + Math.abs(to))) to = Math.max(to, hi);
      else {
        put();
        [from, to] = [lo, hi];
      }
    }
    put();
  }
  return out;
}
