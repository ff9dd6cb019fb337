import { type Element } from '../fields/types';
import { type Gear, type ShapeElement, asShape, facetedOf, gearOf, num } from '../elements/index';
import { type MeshTree, treeOf } from '../shapes/index';
import type { Faceted, Loop } from '../solids/index';
import { type Frame, type Vec3, WORLD } from '../math/index';

/**
 * The room that a part of an element takes, in its own frame, mm: a half section (r, z) turned about z, or a flat section (x, y)
 * between two planes across z. What turns with its teeth is taken to its tips.
 */
export interface Bulk {
  readonly round: boolean;
  /** Closed outlines, points x0, y0, x1, y1, …; all but the first are holes. */
  readonly loops: readonly Loop[];
  /** Ends along z. */
  readonly from: number;
  readonly to: number;
  /** Greatest distance from z. */
  readonly reach: number;
  /** The least of its extents: what is small beside it is no matter. */
  readonly least: number;
  /** In the element's frame. */
  readonly place: Frame;
  /** An imported shape: the room inside its surface; the section and the ends are those of the box round it. */
  readonly inside?: MeshTree;
}

const radii = (loop: Loop): { least: number; most: number } => {
  let least = Infinity,
    most = 0;
  for (let i = 0; i < loop.length; i += 2) {
    const r = Math.hypot(loop[i], loop[i + 1]);
    least = Math.min(least, r);
    most = Math.max(most, r);
  }
  return { least, most };
};

function turned(section: Loop, place: Frame): Bulk {
  let [from, to, reach, inner] = [Infinity, -Infinity, 0, Infinity];
  for (let i = 0; i < section.length; i += 2) {
    reach = Math.max(reach, section[i]);
    inner = Math.min(inner, section[i]);
    from = Math.min(from, section[i + 1]);
    to = Math.max(to, section[i + 1]);
  }
  return { round: true, loops: [section], from, to, reach, least: Math.min(to - from, inner > 0 ? reach - inner : 2 * reach), place };
}

/** A ring or a disc about z. */
const ring = (inner: number, outer: number, from: number, to: number, place: Frame): Bulk =>
  turned([inner, from, outer, from, outer, to, inner, to], place);

/** Least and greatest x and y of an outline. */
function boxOf(loop: Loop): [x0: number, x1: number, y0: number, y1: number] {
  let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < loop.length; i += 2) {
    x0 = Math.min(x0, loop[i]);
    x1 = Math.max(x1, loop[i]);
    y0 = Math.min(y0, loop[i + 1]);
    y1 = Math.max(y1, loop[i + 1]);
  }
  return [x0, x1, y0, y1];
}

function flat(loops: readonly Loop[], from: number, to: number, place: Frame): Bulk {
  const [x0, x1, y0, y1] = boxOf(loops[0]);
  return { round: false, loops, from, to, reach: radii(loops[0]).most, least: Math.min(to - from, x1 - x0, y1 - y0), place };
}

const sound = (b: Bulk): boolean => b.least > 0 && Number.isFinite(b.reach);

/** Kinds whose outline turns about their own axis: the room that they take is that of their tips. */
const TURNING = new Set(['gear', 'ratchet-wheel', 'pulley', 'worm', 'worm-wheel', 'bevel-gear', 'screw', 'nut', 'wheel', 'dial']);

/** Rectangle round an outline. */
function around(loop: Loop, more: number): Loop {
  const [x0, x1, y0, y1] = boxOf(loop);
  return [x0 - more, y0, x1 + more, y0, x1 + more, y1, x0 - more, y1];
}

function bulkOf(type: string, s: Faceted): Bulk {
  const place = s.place ?? WORLD;
  if (s.kind === 'turned') return turned(s.section, place);
  const inner = s.holes?.length ? Math.min(...s.holes.map((h) => radii(h).least)) : 0;
  const outer = radii(s.outline).most;
  if (s.kind === 'taper') {
    const [a, b] = [s.height * s.inner, s.height];
    return turned([inner * s.inner, a, outer * s.inner, a, outer, b, inner, b], place);
  }
  const [from, to] = [Math.min(s.from, s.to), Math.max(s.from, s.to)];
  if (TURNING.has(type)) return ring(inner, outer, from, to, place);
  if (type === 'rack') return flat([around(s.outline, (Math.abs(s.lean ?? 0) * (to - from)) / 2)], from, to, place);
  return flat([s.outline, ...(s.holes ?? [])], from, to, place);
}

/** A spur or helical wheel to its tips, without drawing its teeth. */
function wheel(e: Gear): Bulk[] {
  const { tipRadius } = gearOf(e);
  const half = num(e.width) / 2;
  return [ring(Math.min(num(e.bore) / 2, tipRadius), tipRadius, -half, half, WORLD)];
}

/** An imported shape, where its content is at hand and bounds a body; else nothing is known of its room. */
function shapeBulk(e: ShapeElement): Bulk[] {
  const inside = e.open || !e.least || !e.most ? undefined : treeOf(e.content ?? '');
  if (!inside) return [];
  const [[x0, y0, z0], [x1, y1, z1]] = [e.least!, e.most!];
  return [{ ...flat([[x0, y0, x1, y0, x1, y1, x0, y1]], z0, z1, WORLD), inside }];
}

/** The room that an element takes, in parts. */
export function bulksOf(e: Element & { internal?: boolean }): Bulk[] {
  const shape = asShape(e);
  if (shape) return shapeBulk(shape).filter(sound);
  if (e.type === 'gear' && e.internal !== true) return wheel(e).filter(sound);
  return facetedOf(e)
    .map((s) => bulkOf(e.type, s))
    .filter(sound);
}

/**
 * How deep a point (u, v) lies inside closed outlines with holes: its distance to the nearest edge, negative outside.
 * Edges on the axis of a turned section are none.
 */
function depthInLoops(loops: readonly Loop[], u: number, v: number, turns: boolean): number {
  let square = Infinity;
  let inside = false;
  for (const p of loops) {
    const n = p.length;
    let x0 = p[n - 2],
      y0 = p[n - 1];
    for (let i = 0; i < n; i += 2) {
      const x1 = p[i],
        y1 = p[i + 1];
      if (y0 > v !== y1 > v && u < x0 + ((v - y0) * (x1 - x0)) / (y1 - y0)) inside = !inside;
      if (!(turns && x0 === 0 && x1 === 0)) {
        const dx = x1 - x0,
          dy = y1 - y0;
        const l = dx * dx + dy * dy;
        const t = l > 0 ? Math.max(0, Math.min(1, ((u - x0) * dx + (v - y0) * dy) / l)) : 0;
        const ex = u - x0 - t * dx,
          ey = v - y0 - t * dy;
        square = Math.min(square, ex * ex + ey * ey);
      }
      x0 = x1;
      y0 = y1;
    }
  }
  const d = Math.sqrt(square);
  return inside ? d : -d;
}

/**
 * How deep a point of a bulk's own frame lies inside it: the radius of the ball round it that fits in, or minus its distance
 * (no more than that), mm.
 */
export function depthIn(b: Bulk, x: number, y: number, z: number): number {
  if (b.inside) return b.inside.depth(x, y, z);
  // A point on the axis of a full bar is inside.
  if (b.round) return depthInLoops(b.loops, Math.hypot(x, y) || 1e-12, z, true);
  return Math.min(depthInLoops(b.loops, x, y, false), z - b.from, b.to - z);
}

/** Ends of a bulk along a direction of its own frame, mm. */
export function extent(b: Bulk, x: number, y: number, z: number, out: { least: number; most: number }): void {
  let least = Infinity,
    most = -Infinity;
  const across = Math.hypot(x, y);
  const p = b.loops[0];
  for (let i = 0; i < p.length; i += 2) {
    const [lo, hi] = b.round ? [p[i + 1] * z - p[i] * across, p[i + 1] * z + p[i] * across] : [p[i] * x + p[i + 1] * y, p[i] * x + p[i + 1] * y];
    least = Math.min(least, lo);
    most = Math.max(most, hi);
  }
  if (!b.round) {
    least += Math.min(b.from * z, b.to * z);
    most += Math.max(b.from * z, b.to * z);
  }
  out.least = least;
  out.most = most;
}

/** Whether a line of the bulk's own frame passes through its room, bores filled: a point on it, and a unit direction. */
export function meetsLine(b: Bulk, p: Vec3, d: Vec3): boolean {
  // The part of the line between the ends, or as far as the bulk can reach.
  const far = Math.hypot(...p) + b.reach + Math.abs(b.from) + Math.abs(b.to);
  let [t0, t1] = [-far, far];
  if (Math.abs(d[2]) > 1e-9) {
    const [a, c] = [(b.from - p[2]) / d[2], (b.to - p[2]) / d[2]];
    t0 = Math.max(t0, Math.min(a, c));
    t1 = Math.min(t1, Math.max(a, c));
  } else if (p[2] < b.from || p[2] > b.to) return false;
  if (t0 > t1) return false;
  if (b.round) {
    const q = d[0] * d[0] + d[1] * d[1];
    const t = q > 1e-12 ? Math.max(t0, Math.min(t1, -(p[0] * d[0] + p[1] * d[1]) / q)) : t0;
    return Math.hypot(p[0] + t * d[0], p[1] + t * d[1]) <= 1.001 * b.reach;
  }
  // The stretch of the line in the flat: it begins inside, or crosses an edge.
  const [outline] = b.loops;
  const [x0, y0, x1, y1] = [p[0] + t0 * d[0], p[1] + t0 * d[1], p[0] + t1 * d[0], p[1] + t1 * d[1]];
  if (depthInLoops([outline], x0, y0, false) >= 0) return true;
  const side = (ax: number, ay: number, bx: number, by: number, x: number, y: number): number => (bx - ax) * (y - ay) - (by - ay) * (x - ax);
  for (let i = 0, j = outline.length - 2; i < outline.length; j = i, i += 2) {
    const [ax, ay, bx, by] = [outline[j], outline[j + 1], outline[i], outline[i + 1]];
    const crosses =
      side(ax, ay, bx, by, x0, y0) * side(ax, ay, bx, by, x1, y1) <= 0 && side(x0, y0, x1, y1, ax, ay) * side(x0, y0, x1, y1, bx, by) <= 0;
    if (crosses && Math.hypot(x1 - x0, y1 - y0) > 0) return true;
  }
  return false;
}
