import type { Design, Element } from '../design/types';
import { elementKind, gearOf, num, rackOf, type Solid, circle } from '../elements/index';
import { compile } from '../mechanism/index';
import { Frame, Vec3, WORLD, cross, dot, norm, toWorldPoint, unit, within } from '../numeric/index';
import { COARSE, gearOutline, rackOutline } from '../teeth/index';

/** A flat picture of a design: closed curves in a box, y downward, for start pages and reports. */
export interface Sketch {
  /** x, y, width, height in mm. */
  box: [number, number, number, number];
  curves: { kind: 'gear' | 'rack' | 'body'; path: string }[];
}

const MOST_CURVES = 80;

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

const round = (v: number): number => Math.round(v * 10) / 10;

function outlines(e: Element): { kind: 'gear' | 'rack' | 'body'; solid: Solid }[] {
  if (e.type === 'gear') {
    const g = gearOf(e);
    const teeth = gearOutline(g, (num(e.phase) * Math.PI) / 180, g.teeth > 60 ? { flank: 1, fillet: 1 } : COARSE);
    const ring = g.internal
      ? [circle(Math.max(num(e.rim) / 2, g.rootRadius + 1.5 * g.module), 48)]
      : num(e.bore) > 0
        ? [circle(num(e.bore) / 2, 24)]
        : [];
    return [teeth, ...ring].map((outline) => ({ kind: 'gear' as const, solid: { kind: 'prism' as const, outline, from: 0, to: 1 } }));
  }
  if (e.type === 'rack') {
    return [{ kind: 'rack', solid: { kind: 'prism', outline: rackOutline(rackOf(e), num(e.phase), { flank: 1, fillet: 1 }), from: 0, to: 1 } }];
  }
  return (elementKind(e.type)?.shape(e) ?? []).map((solid) => ({ kind: 'body' as const, solid }));
}

/** Corner points of a solid in its frame: the outline at both ends, or the silhouette box of a turned body. */
function shadow(s: Solid, f: Frame, view: Vec3): Vec3[] {
  if (s.kind === 'prism') {
    const pts: Vec3[] = [];
    const face = Math.abs(dot(f.z, view)) > 0.99;
    for (const z of face ? [s.from] : [s.from, s.to]) {
      for (let i = 0; i < s.outline.length; i += 2) pts.push(toWorldPoint(f, [s.outline[i], s.outline[i + 1], z]));
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
  const ring = circle(r, 24);
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

/** Draws a design flat, seen along the axis that most of its gears turn about. Bodies go behind teeth. */
export function sketch(design: Design): Sketch {
  const compiled = compile(design);
  const frames = design.elements
    .filter((e) => e.type === 'gear')
    .map((e) => compiled.elementFrames.get(e.id))
    .filter((f): f is Frame => !!f);
  const view = viewAxis(frames.slice(0, 200));
  const upish: Vec3 = Math.abs(view[2]) > 0.9 ? [0, 1, 0] : [0, 0, 1];
  const right = unit(cross(upish, view));
  const up = cross(view, right);
  const curves: Sketch['curves'] = [];
  let x0 = Infinity,
    y0 = Infinity,
    x1 = -Infinity,
    y1 = -Infinity;
  for (const e of design.elements) {
    const f = compiled.elementFrames.get(e.id);
    if (!f) continue;
    for (const { kind, solid } of outlines(e)) {
      const place = within(f, solid.place ?? WORLD);
      let flat = shadow(solid, place, view).map((p): [number, number] => [round(dot(p, right)), round(-dot(p, up))]);
      if (solid.kind !== 'prism' || Math.abs(dot(place.z, view)) <= 0.99) flat = hull(flat);
      if (flat.length < 3) continue;
      for (const [x, y] of flat) {
        x0 = Math.min(x0, x);
        x1 = Math.max(x1, x);
        y0 = Math.min(y0, y);
        y1 = Math.max(y1, y);
      }
      curves.push({ kind, path: `M${flat.map((p) => p.join(' ')).join('L')}Z` });
    }
    if (curves.length >= MOST_CURVES) break;
  }
  const order = { body: 0, rack: 1, gear: 2 };
  curves.sort((a, b) => order[a.kind] - order[b.kind]);
  return { box: curves.length ? [x0, y0, Math.max(1, round(x1 - x0)), Math.max(1, round(y1 - y0))] : [0, 0, 100, 60], curves };
}
