import { type Outline, type Piece, type Point, arc, eachPiece, line, placeOn } from './outline';

const minus = (a: Point, b: Point): Point => [a[0] - b[0], a[1] - b[1]];
const dot = (a: Point, b: Point): number => a[0] * b[0] + a[1] * b[1];
const cross = (a: Point, b: Point): number => a[0] * b[1] - a[1] * b[0];
const unit = (a: Point): Point => {
  const l = Math.hypot(...a) || 1;
  return [a[0] / l, a[1] / l];
};

/** The arc that leaves p in a unit direction and ends at q; a line where it would be straight. */
function arcTo(p: Point, direction: Point, q: Point): Piece {
  const chord = minus(q, p);
  // Chord and tangent include half of the arc's angle.
  const half = Math.atan2(cross(direction, chord), dot(direction, chord));
  if (Math.abs(half) < 1e-9) return line(q);
  const r = Math.hypot(...chord) / (2 * Math.sin(half));
  return { kind: 'arc', to: q, angle: 2 * half, centre: [p[0] - r * direction[1], p[1] + r * direction[0]] };
}

/** How far a point lies from the circle or line of a piece, mm. */
function distance(from: Point, p: Piece, x: Point): number {
  if (p.kind === 'arc') return Math.abs(Math.hypot(...minus(x, p.centre)) - Math.hypot(...minus(from, p.centre)));
  return Math.abs(cross(unit(minus(p.to, from)), minus(x, from)));
}

type Curve = Extract<Piece, { kind: 'curve' }>;

/**
 * Two arcs that leave the ends of a curve in its directions and meet in one (Bolton, Biarc curves, 1975, with equal lengths of
 * the two tangents); undefined where its directions are not known or the two would be turned about.
 */
function biarc(from: Point, c: Curve): [Piece, Piece] | undefined {
  const t0 = minus(Math.hypot(...minus(c.c1, from)) > 1e-12 ? c.c1 : c.c2, from),
    t1 = minus(c.to, Math.hypot(...minus(c.to, c.c2)) > 1e-12 ? c.c2 : c.c1);
  if (!(Math.hypot(...t0) > 1e-12 && Math.hypot(...t1) > 1e-12)) return undefined;
  const [a, b, v] = [unit(t0), unit(t1), minus(c.to, from)];
  const sum: Point = [a[0] + b[0], a[1] + b[1]];
  const q = 2 * (1 - dot(a, b)),
    vt = dot(v, sum),
    vv = dot(v, v);
  const d = q > 1e-12 ? (Math.sqrt(Math.max(0, vt * vt + q * vv)) - vt) / q : vv / (2 * vt);
  if (!(d > 0) || !Number.isFinite(d)) return undefined;
  const meet: Point = [(from[0] + c.to[0] + d * (a[0] - b[0])) / 2, (from[1] + c.to[1] + d * (a[1] - b[1])) / 2];
  const first = arcTo(from, a, meet);
  const back = arcTo(c.to, [-b[0], -b[1]], meet);
  const second: Piece = back.kind === 'arc' ? { kind: 'arc', to: c.to, centre: back.centre, angle: -back.angle } : line(c.to);
  return [first, second];
}

/** The two halves of a cubic (de Casteljau). */
function halves(from: Point, c: Curve): [Curve, Curve] {
  const mid = (p: Point, q: Point): Point => [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2];
  const [a, b, d] = [mid(from, c.c1), mid(c.c1, c.c2), mid(c.c2, c.to)];
  const [e, f] = [mid(a, b), mid(b, d)];
  const m = mid(e, f);
  return [
    { kind: 'curve', c1: a, c2: e, to: m },
    { kind: 'curve', c1: f, c2: d, to: c.to },
  ];
}

const DEEPEST = 12;
const SHARES = [0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875];

function curveByArcs(from: Point, c: Curve, tolerance: number, deep: number, out: Piece[]): void {
  if (Math.hypot(...minus(c.to, from)) < 1e-9) return;
  const two = biarc(from, c);
  if (two) {
    const off = SHARES.map((t) => {
      const x = placeOn(from, c, t);
      return Math.min(distance(from, two[0], x), distance(two[0].to, two[1], x));
    });
    if (deep >= DEEPEST || Math.max(...off) <= tolerance) {
      for (const p of two) if (Math.hypot(...minus(p.to, out.at(-1)?.to ?? from)) > 1e-9) out.push(p);
      return;
    }
  } else if (deep >= DEEPEST) {
    out.push(line(c.to));
    return;
  }
  const [a, b] = halves(from, c);
  curveByArcs(from, a, tolerance, deep + 1, out);
  curveByArcs(a.to, b, tolerance, deep + 1, out);
}

/** An outline by lines and arcs alone, within `tolerance` mm of it; whole circles as two halves. */
export function byArcs(o: Outline, tolerance: number): Outline {
  const pieces: Piece[] = [];
  eachPiece(o, (from, p) => {
    if (p.kind === 'curve') curveByArcs(from, p, tolerance, 0, pieces);
    else if (p.kind === 'arc' && Math.abs(p.angle) > 1.5 * Math.PI) {
      const first = arc(from, p.centre, p.angle / 2);
      pieces.push(first, { kind: 'arc', to: p.to, centre: p.centre, angle: p.angle / 2 });
    } else if (Math.hypot(...minus(p.to, from)) > 1e-9) pieces.push(p);
  });
  return { start: o.start, pieces };
}
