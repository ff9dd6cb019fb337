import type { Design } from '../fields/types';
import { type Gear, type Rack, facetedOf, gearOf, asShape, num, rackOf } from '../elements/index';
import { type Faceted, circle, flattened } from '../solids/index';
import { compile } from '../kinematics/index';
import { Frame, Vec3, WORLD, cross, dot, norm, toWorldPoint, unit, within } from '../math/index';
import { COARSE, gearOutline, rackOutline } from '../teeth/index';

/** A flat picture of a design: closed curves in a box, y downward, for start pages and reports. */
export interface Sketch {
  /** x, y, width, height in mm. */
  box: [number, number, number, number];
  curves: { kind: 'gear' | 'rack' | 'body'; path: string }[];
}

const MOST_CURVES = 80;
/** A sketch is no longer than this as JSON, bytes: small enough to be listed by the dozen. */
export const LARGEST_SKETCH = 8 * 1024;
/** Beyond so many teeth a wheel is drawn by its tip circle: in a small picture the teeth run together anyway. */
const MOST_TEETH = 120;
type Detail = 'teeth' | 'tooth corners' | 'circles';
type Flat = { kind: Sketch['curves'][number]['kind']; points: [number, number][] };

/** The direction that most gears turn about, seen along which a train shows its teeth. */
function viewAxis(frames: Frame[]): Vec3 {
  let best: Vec3 = [0, 1, 0],
    most = 0;
  for (const f of frames) {
    const n = frames.filter((g) => norm(cross(f.z, g.z)) < 1e-6).length;
    if (n > most) [most, best] = [n, f.z];
  }
  // Seen from the side of the greatest component, as on a drawing.
  const k = [0, 1, 2].reduce((a, b) => (Math.abs(best[b]) > Math.abs(best[a]) + 1e-9 ? b : a), 0);
  const positive = best[k] > 0;
  const flip = (k === 1) === positive;
  return flip ? ([-best[0], -best[1], -best[2]] as Vec3) : best;
}

/** A circle about the origin by n points. */
const round = (r: number, n: number): number[] => flattened(circle(r), { turn: (2 * Math.PI) / n, tolerance: 0 });

function outlines(e: Gear & Rack, detail: Detail): { kind: 'gear' | 'rack' | 'body'; solid: Faceted }[] {
  if (e.type === 'gear') {
    const g = gearOf(e);
    const teeth =
      detail === 'circles' || g.teeth > MOST_TEETH
        ? round(g.tipRadius, 48)
        : gearOutline(g, (num(e.phase) * Math.PI) / 180, detail === 'tooth corners' || g.teeth > 60 ? { flank: 1, fillet: 1 } : COARSE);
    const ring = g.internal
      ? [round(Math.max(num(e.rim) / 2, g.rootRadius + 1.5 * g.module), 48)]
      : num(e.bore) > 0
        ? [round(num(e.bore) / 2, 24)]
        : [];
    return [teeth, ...ring].map((outline) => ({ kind: 'gear' as const, solid: { kind: 'prism' as const, outline, from: 0, to: 1 } }));
  }
  if (e.type === 'rack') {
    return [{ kind: 'rack', solid: { kind: 'prism', outline: rackOutline(rackOf(e), num(e.phase), { flank: 1, fillet: 1 }), from: 0, to: 1 } }];
  }
  // An imported shape by the box round it: its surface is not here.
  const { least: lo, most: hi } = asShape(e) ?? {};
  if (lo && hi) {
    const outline = [lo[0], lo[1], hi[0], lo[1], hi[0], hi[1], lo[0], hi[1]];
    return [{ kind: 'body', solid: { kind: 'prism', outline, from: lo[2], to: hi[2] } }];
  }
  return facetedOf(e).map((solid) => ({ kind: 'body' as const, solid }));
}

/** Corner points of a solid in its frame: the outline at both ends, or the silhouette box of a turned body. */
function shadow(s: Faceted, f: Frame, view: Vec3): Vec3[] {
  if (s.kind === 'prism') {
    const pts: Vec3[] = [];
    const face = Math.abs(dot(f.z, view)) > 0.99;
    for (const z of face ? [s.from] : [s.from, s.to]) {
      for (let i = 0; i < s.outline.length; i += 2) pts.push(toWorldPoint(f, [s.outline[i] + (s.lean ?? 0) * z, s.outline[i + 1], z]));
    }
    return pts;
  }
  if (s.kind === 'taper') {
    const pts: Vec3[] = [];
    for (const k of [1, s.inner]) {
      for (let i = 0; i < s.outline.length; i += 2) pts.push(toWorldPoint(f, [k * s.outline[i], k * s.outline[i + 1], k * s.height]));
    }
    return pts;
  }
  const rs = s.section.filter((_, i) => i % 2 === 0),
    zs = s.section.filter((_, i) => i % 2 === 1);
  const r = Math.max(...rs),
    lo = Math.min(...zs),
    hi = Math.max(...zs);
  const ring = round(r, 24);
  const pts: Vec3[] = [];
  for (const z of [lo, hi]) for (let i = 0; i < ring.length; i += 2) pts.push(toWorldPoint(f, [ring[i], ring[i + 1], z]));
  return pts;
}

/** Convex hull of flat points, counter-clockwise (Andrew's monotone chain). */
function hull(points: [number, number][]): [number, number][] {
  const p = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list: [number, number][]): [number, number][] => {
    const out: [number, number][] = [];
    for (const q of list) {
      while (out.length > 1) {
        const [a, b] = [out[out.length - 2], out[out.length - 1]];
        if ((b[0] - a[0]) * (q[1] - a[1]) - (b[1] - a[1]) * (q[0] - a[0]) > 0) break;
        out.pop();
      }
      out.push(q);
    }
    return out.slice(0, -1);
  };
  return p.length < 3 ? p : [...half(p), ...half(p.reverse())];
}

const extent = ({ points }: Flat): number => {
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  return Math.hypot(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
};

/**
 * The points of an open curve that lie more than `tolerance` from
 * the straight line between those kept (Douglas and Peucker, 1973).
 */
function simplified(points: [number, number][], tolerance: number): [number, number][] {
  const keep = new Uint8Array(points.length);
  keep[0] = keep[points.length - 1] = 1;
  const spans: [number, number][] = [[0, points.length - 1]];
  for (let span = spans.pop(); span; span = spans.pop()) {
    const [a, b] = span;
    const [dx, dy] = [points[b][0] - points[a][0], points[b][1] - points[a][1]];
    const length = Math.hypot(dx, dy);
    let [most, at] = [tolerance, -1];
    for (let i = a + 1; i < b; i++) {
      const [px, py] = [points[i][0] - points[a][0], points[i][1] - points[a][1]];
      const away = length > 1e-9 ? Math.abs(px * dy - py * dx) / length : Math.hypot(px, py);
      if (away > most) [most, at] = [away, i];
    }
    if (at < 0) continue;
    keep[at] = 1;
    spans.push([a, at], [at, b]);
  }
  return points.filter((_, i) => keep[i]);
}

/** How far a drawn curve may stand off the true one, as a share of the picture. */
const TOLERANCE: Readonly<Record<Detail, number>> = { teeth: 1 / 3000, 'tooth corners': 1 / 800, circles: 1 / 250 };

/** The flat curves of a design, mm, at a level of detail. */
function flats(design: Design, frames: ReadonlyMap<string, Frame>, detail: Detail): Flat[] {
  const gears = design.elements
    .filter((e) => e.type === 'gear')
    .map((e) => frames.get(e.id))
    .filter((f): f is Frame => !!f);
  const view = viewAxis(gears.slice(0, 200));
  const upish: Vec3 = Math.abs(view[2]) > 0.9 ? [0, 1, 0] : [0, 0, 1];
  const right = unit(cross(upish, view));
  const up = cross(view, right);
  const out: Flat[] = [];
  for (const e of design.elements) {
    const f = frames.get(e.id);
    if (!f) continue;
    for (const { kind, solid } of outlines(e, detail)) {
      const place = within(f, solid.place ?? WORLD);
      let points = shadow(solid, place, view).map((p): [number, number] => [dot(p, right), -dot(p, up)]);
      if (solid.kind !== 'prism' || Math.abs(dot(place.z, view)) <= 0.99) points = hull(points);
      if (points.length >= 3) out.push({ kind, points });
    }
    if (out.length >= MOST_CURVES) break;
  }
  const whole = Math.max(0, ...out.map(extent));
  return out.map((c) => ({ ...c, points: simplified(c.points, whole * TOLERANCE[detail]) })).filter((c) => c.points.length >= 3);
}

/** Paths in steps of a 1500th of the picture, each point relative to the last: short, and exact to a line's width. */
function drawn(curves: readonly Flat[]): Sketch {
  if (!curves.length) return { box: [0, 0, 100, 60], curves: [] };
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { points } of curves) {
    for (const [x, y] of points) {
      [x0, x1] = [Math.min(x0, x), Math.max(x1, x)];
      [y0, y1] = [Math.min(y0, y), Math.max(y1, y)];
    }
  }
  const step = 10 ** Math.floor(Math.log10(Math.max(x1 - x0, y1 - y0, 1) / 1500));
  const places = Math.max(0, -Math.round(Math.log10(step)));
  const said = (k: number): string => String(Number((k * step).toFixed(places)));
  const path = (points: readonly [number, number][]): string => {
    const grid = points.map(([x, y]): [number, number] => [Math.round(x / step), Math.round(y / step)]);
    let text = `M${said(grid[0][0])} ${said(grid[0][1])}l`;
    for (let i = 1; i < grid.length; i++) {
      const [dx, dy] = [grid[i][0] - grid[i - 1][0], grid[i][1] - grid[i - 1][1]];
      if (dx || dy) text += `${said(dx)} ${said(dy)} `;
    }
    return `${text.trimEnd().replace(/l$/, '')}Z`;
  };
  const order = { body: 0, rack: 1, gear: 2 };
  const box = [x0, y0, Math.max(1, x1 - x0), Math.max(1, y1 - y0)].map((v) => Number(v.toFixed(places))) as Sketch['box'];
  return { box, curves: curves.map((c) => ({ kind: c.kind, path: path(c.points) })).sort((a, b) => order[a.kind] - order[b.kind]) };
}

/**
 * Draws a design flat, seen along the axis that most of its gears turn about, bodies behind teeth; at most LARGEST_SKETCH
 * long: with fewer points to a tooth where there are many, then with circles, then without the smallest things.
 */
export function sketch(design: Design): Sketch {
  const frames = compile(design).elementFrames;
  const fits = (s: Sketch): boolean => JSON.stringify(s).length <= LARGEST_SKETCH;
  let curves: Flat[] = [];
  for (const detail of ['teeth', 'tooth corners', 'circles'] as const) {
    curves = flats(design, frames, detail);
    const s = drawn(curves);
    if (fits(s)) return s;
  }
  const large = [...curves].sort((a, b) => extent(b) - extent(a));
  for (let n = large.length >> 1; n > 0; n >>= 1) {
    const s = drawn(large.slice(0, n));
    if (fits(s)) return s;
  }
  return drawn([]);
}
