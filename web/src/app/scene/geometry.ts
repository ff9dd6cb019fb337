import { BufferAttribute, BufferGeometry, ShapeUtils, Vector2 } from 'three';
import { Element } from '@unirota/core/document';
import { type Gear, type Thread, byShape, elementKind, gearOf, num } from '@unirota/core/elements';
import { type Faceted, type Solid, circle, faceted, flattened } from '@unirota/core/solids';
import { gearOutline } from '@unirota/core';
import { Vec3, WORLD, cross, toWorldPoint, toWorldVector, unit } from '@unirota/core/math';

/** A solid's surface and the lines that a draughtsman would draw of it, in the element's frame, mm. */
export interface Drawn {
  surface: BufferGeometry;
  lines: BufferGeometry;
}

/** Cosine of the corner beyond which an outline's edge is drawn and shaded sharp. */
const SHARP = Math.cos((28 * Math.PI) / 180);
const TURNED_STEPS = 48;

class Mesh {
  readonly p: number[] = [];
  readonly n: number[] = [];
  readonly l: number[] = [];
  triangle(a: readonly number[], b: readonly number[], c: readonly number[], na: readonly number[], nb = na, nc = na): void {
    this.p.push(...a, ...b, ...c);
    this.n.push(...na, ...nb, ...nc);
  }
  line(a: readonly number[], b: readonly number[]): void {
    this.l.push(...a, ...b);
  }
}

function prism(s: Extract<Faceted, { kind: 'prism' }>, out: Mesh): void {
  const twist = s.twist ?? 0;
  const slices = twist === 0 ? 1 : Math.max(2, Math.min(24, Math.ceil(Math.abs(twist) / 0.12)));
  const at = (x: number, y: number, k: number): [number, number, number] => {
    const t = k / slices;
    const a = twist * (t - 0.5),
      c = Math.cos(a),
      d = Math.sin(a);
    const z = s.from + (s.to - s.from) * t;
    return [c * x - d * y + (s.lean ?? 0) * z, d * x + c * y, z];
  };
  const turn = (x: number, y: number, k: number): [number, number, number] => {
    const a = twist * (k / slices - 0.5),
      c = Math.cos(a),
      d = Math.sin(a);
    return [c * x - d * y, d * x + c * y, 0];
  };
  const loops = [s.outline, ...(s.holes ?? [])];
  const contours = loops.map((l) => Array.from({ length: l.length / 2 }, (_, i) => new Vector2(l[2 * i], l[2 * i + 1])));
  const faces = ShapeUtils.triangulateShape(contours[0], contours.slice(1));
  const flat = contours.flat();
  for (const [a, b, c] of faces) {
    const tri = [flat[a], flat[b], flat[c]];
    const area = (tri[1].x - tri[0].x) * (tri[2].y - tri[0].y) - (tri[1].y - tri[0].y) * (tri[2].x - tri[0].x);
    const order = area > 0 ? [0, 1, 2] : [0, 2, 1];
    const [p, q, r] = order.map((i) => tri[i]);
    out.triangle(at(p.x, p.y, slices), at(q.x, q.y, slices), at(r.x, r.y, slices), [0, 0, 1]);
    out.triangle(at(p.x, p.y, 0), at(r.x, r.y, 0), at(q.x, q.y, 0), [0, 0, -1]);
  }
  contours.forEach((c, li) => {
    const n = c.length;
    let area = 0;
    for (let i = 0; i < n; i++) area += c[i].x * c[(i + 1) % n].y - c[(i + 1) % n].x * c[i].y;
    // Outward: right of the direction for a counter-clockwise outline, the other way for holes.
    const sense = (area > 0 ? 1 : -1) * (li === 0 ? 1 : -1);
    const normal = c.map((a, i) => {
      const b = c[(i + 1) % n];
      const len = Math.hypot(b.x - a.x, b.y - a.y) || 1;
      return [(sense * (b.y - a.y)) / len, (-sense * (b.x - a.x)) / len];
    });
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n,
        h = (i + n - 1) % n;
      const a = c[i],
        b = c[j],
        me = normal[i],
        before = normal[h],
        after = normal[j];
      const smooth = (x: number[], y: number[]): number[] => {
        if (x[0] * y[0] + x[1] * y[1] < SHARP) return me;
        const len = Math.hypot(x[0] + y[0], x[1] + y[1]) || 1;
        return [(x[0] + y[0]) / len, (x[1] + y[1]) / len];
      };
      const na = smooth(before, me),
        nb = smooth(me, after);
      for (let k = 0; k < slices; k++) {
        const A = at(a.x, a.y, k),
          B = at(b.x, b.y, k),
          C = at(b.x, b.y, k + 1),
          D = at(a.x, a.y, k + 1);
        const NA = turn(na[0], na[1], k),
          NB = turn(nb[0], nb[1], k),
          NC = turn(nb[0], nb[1], k + 1),
          ND = turn(na[0], na[1], k + 1);
        const cross = (B[0] - A[0]) * me[1] - (B[1] - A[1]) * me[0];
        if (cross < 0) {
          out.triangle(A, B, C, NA, NB, NC);
          out.triangle(A, C, D, NA, NC, ND);
        } else {
          out.triangle(A, C, B, NA, NC, NB);
          out.triangle(A, D, C, NA, ND, NC);
        }
        if (before[0] * me[0] + before[1] * me[1] < SHARP) out.line(A, D);
      }
      out.line(at(a.x, a.y, 0), at(b.x, b.y, 0));
      out.line(at(a.x, a.y, slices), at(b.x, b.y, slices));
    }
  });
}

/** A prism drawn from the small end to the large one, then shrunk towards the apex slice by slice. */
function taper(s: Extract<Faceted, { kind: 'taper' }>, out: Mesh): void {
  const flat = new Mesh();
  prism({ kind: 'prism', outline: s.outline, holes: s.holes, from: s.inner, to: 1 }, flat);
  for (const [from, to] of [
    [flat.p, out.p],
    [flat.l, out.l],
  ]) {
    for (let i = 0; i < from.length; i += 3) to.push(from[i] * from[i + 2], from[i + 1] * from[i + 2], s.height * from[i + 2]);
  }
  for (const v of flat.n) out.n.push(v);
}

function turned(s: Extract<Faceted, { kind: 'turned' }>, out: Mesh): void {
  const n = s.section.length / 2;
  let area = 0;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    area += s.section[2 * i] * s.section[2 * j + 1] - s.section[2 * j] * s.section[2 * i + 1];
  }
  const sense = area > 0 ? 1 : -1;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const r0 = s.section[2 * i],
      z0 = s.section[2 * i + 1],
      r1 = s.section[2 * j],
      z1 = s.section[2 * j + 1];
    const len = Math.hypot(r1 - r0, z1 - z0);
    if (len === 0 || (r0 === 0 && r1 === 0)) continue;
    const nr = (sense * (z1 - z0)) / len,
      nz = (-sense * (r1 - r0)) / len;
    for (let k = 0; k < TURNED_STEPS; k++) {
      const a = (2 * Math.PI * k) / TURNED_STEPS,
        b = (2 * Math.PI * (k + 1)) / TURNED_STEPS;
      const ca = Math.cos(a),
        sa = Math.sin(a),
        cb = Math.cos(b),
        sb = Math.sin(b);
      const A = [r0 * ca, r0 * sa, z0],
        B = [r0 * cb, r0 * sb, z0],
        C = [r1 * cb, r1 * sb, z1],
        D = [r1 * ca, r1 * sa, z1];
      const na = [nr * ca, nr * sa, nz],
        nb = [nr * cb, nr * sb, nz];
      if (sense > 0) {
        out.triangle(A, B, C, na, nb, nb);
        out.triangle(A, C, D, na, nb, na);
      } else {
        out.triangle(A, C, B, na, nb, nb);
        out.triangle(A, D, C, na, na, nb);
      }
      if (r0 > 0) out.line(A, B);
    }
  }
}

function geometry(values: number[], normals?: number[]): BufferGeometry {
  const g = new BufferGeometry();
  g.setAttribute('position', new BufferAttribute(Float32Array.from(values), 3));
  if (normals) g.setAttribute('normal', new BufferAttribute(Float32Array.from(normals), 3));
  return g;
}

/** A closed band along a line, as wide as stated, across the given axis: a belt. World, mm. */
export function band(points: readonly Vec3[], width: number, axis: Vec3): Drawn {
  const out = new Mesh();
  const side = (p: Vec3, s: number): Vec3 => [p[0] + s * axis[0], p[1] + s * axis[1], p[2] + s * axis[2]];
  const n = points.length;
  for (let i = 0; i < n; i++) {
    const a = points[i];
    const b = points[(i + 1) % n];
    const along: Vec3 = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
    const normal = unit(cross(along, axis));
    const [A, B, C, D] = [side(a, -width / 2), side(b, -width / 2), side(b, width / 2), side(a, width / 2)];
    out.triangle(A, B, C, normal);
    out.triangle(A, C, D, normal);
    out.line(A, B);
    out.line(D, C);
  }
  return { surface: geometry(out.p, out.n), lines: geometry(out.l) };
}

/** The same element for seeing it from far: gears with a few points a tooth and only their circles drawn. Others as they are. */
export const drawnRoughly = (e: Gear): Drawn => (e.type !== 'gear' || e.internal === true ? drawn(e) : roughly(e));

/** A circle about the origin by n points. */
const round = (r: number, n: number): number[] => flattened(circle(r), { turn: (2 * Math.PI) / n, tolerance: 0 });

const roughly = byShape((e: Gear): Drawn => {
  const g = gearOf(e),
    b = num(e.width) / 2,
    bore = Math.min(num(e.bore) / 2, 0.9 * g.rootRadius);
  const out = new Mesh();
  prism(
    {
      kind: 'prism',
      outline: gearOutline(g, (num(e.phase) * Math.PI) / 180, { flank: 1, fillet: 1 }),
      holes: bore > 0 ? [round(bore, 12)] : [],
      from: -b,
      to: b,
      twist: g.beta === 0 ? 0 : (2 * b * Math.tan(g.beta)) / g.pitchRadius,
    },
    out,
  );
  out.l.length = 0;
  for (const z of [-b, b]) {
    const c = round(g.tipRadius, 36);
    for (let i = 0; i < c.length; i += 2) out.line([c[i], c[i + 1], z], [c[(i + 2) % c.length], c[(i + 3) % c.length], z]);
  }
  return { surface: geometry(out.p, out.n), lines: geometry(out.l) };
});

/** Lines through points one after the other, closed or open. mm */
export function polyline(points: readonly Vec3[], closed: boolean): BufferGeometry {
  const l: number[] = [];
  for (let i = 0; i < points.length - (closed ? 0 : 1); i++) l.push(...points[i], ...points[(i + 1) % points.length]);
  return geometry(l);
}

/** Pieces of one pattern of a chain line: a long dash of five, a gap, a short dash, a gap. */
const CHAIN = [true, true, true, true, true, false, true, false];

/**
 * A chain line through points one after the other, as drawings show axes and pitch circles (ISO 128-2, line type 04).
 * Closed with a multiple of eight points, or open with five pieces more, it ends in whole dashes. mm
 */
export function chainLine(points: readonly Vec3[], closed: boolean): BufferGeometry {
  const l: number[] = [];
  const pieces = points.length - (closed ? 0 : 1);
  for (let i = 0; i < pieces; i++) if (CHAIN[i % CHAIN.length]) l.push(...points[i], ...points[(i + 1) % points.length]);
  return geometry(l);
}

/** A flat surface inside a closed outline in space, mm. */
export function patch(points: readonly Vec3[], normal: Vec3): BufferGeometry {
  const x = unit(Math.abs(normal[0]) < 0.7 ? cross(normal, [1, 0, 0]) : cross(normal, [0, 1, 0]));
  const y = cross(normal, x);
  const flat = points.map((p) => new Vector2(p[0] * x[0] + p[1] * x[1] + p[2] * x[2], p[0] * y[0] + p[1] * y[1] + p[2] * y[2]));
  const out: number[] = [];
  for (const t of ShapeUtils.triangulateShape(flat, [])) for (const k of t) out.push(...points[k]);
  return geometry(out);
}

/** A coil spring along z from 0 to 1, as a line; its radius is one. Put in place by a matrix. */
export function coil(turns = 8): BufferGeometry {
  const points: Vec3[] = [[0, 0, 0]];
  const n = turns * 12;
  for (let i = 0; i <= n; i++) {
    const a = (2 * Math.PI * i) / 12;
    points.push([Math.cos(a), Math.sin(a), 0.08 + (0.84 * i) / n]);
  }
  points.push([0, 0, 1]);
  return polyline(points, false);
}

/** Surface and lines of an element. Equal elements are drawn once, however many there are and however often others are edited. */
export const drawn = byShape((e: Element): Drawn => {
  const kind = elementKind(e.type);
  const thread = kind?.thread?.(e);
  const body = drawnSolids(kind?.shape(e) ?? []);
  return thread ? { surface: body.surface, lines: withHelices(body.lines, thread) } : body;
});

/** Segments of a turn of a helix, and turns of one that are drawn at each of its ends at the most. */
const HELIX_STEPS = 24,
  MOST_TURNS = 400;

/** What a thread's lines say of themselves: how many are the bar's own (in points), and how far apart the others are, mm. */
export interface Helix {
  bare: number;
  step: number;
}

/** The lines of a threaded bar with its helices on the pitch cylinder: lead and hand are seen, nothing of the profile. */
function withHelices(lines: BufferGeometry, { pitch: radius, from, to, lead, starts }: Thread): BufferGeometry {
  const l = [...(lines.getAttribute('position').array as Float32Array)];
  const turns = (to - from) / Math.abs(lead || 1);
  const at = (k: number, s: number): Vec3 => {
    const t = k / HELIX_STEPS;
    const a = 2 * Math.PI * (Math.sign(lead) * t + s / starts);
    return [radius * Math.cos(a), radius * Math.sin(a), Math.min(to, from + Math.abs(lead) * t)];
  };
  const last = Math.ceil(turns * HELIX_STEPS);
  for (let s = 0; s < starts; s++) {
    for (let k = 0; k < last; k++) {
      if (k === MOST_TURNS * HELIX_STEPS && last > 2 * k) k = last - MOST_TURNS * HELIX_STEPS;
      l.push(...at(k, s), ...at(k + 1, s));
    }
  }
  const drawn = geometry(l);
  drawn.userData = { bare: lines.getAttribute('position').count, step: Math.abs(lead) / starts } satisfies Helix;
  return drawn;
}

/** Surface and lines of bodies that stand in one frame. */
export function drawnSolids(solids: readonly Solid[]): Drawn {
  const all = new Mesh();
  for (const s of solids.map((x) => faceted(x))) {
    const one = new Mesh();
    if (s.kind === 'prism') prism(s, one);
    else if (s.kind === 'taper') taper(s, one);
    else turned(s, one);
    const f = s.place ?? WORLD;
    const move = (from: number[], to: number[], point: boolean): void => {
      for (let i = 0; i < from.length; i += 3) {
        const v: [number, number, number] = [from[i], from[i + 1], from[i + 2]];
        const w = f === WORLD ? v : point ? toWorldPoint(f, v) : toWorldVector(f, v);
        to.push(w[0], w[1], w[2]);
      }
    };
    move(one.p, all.p, true);
    move(one.n, all.n, false);
    move(one.l, all.l, true);
  }
  return { surface: geometry(all.p, all.n), lines: geometry(all.l) };
}
