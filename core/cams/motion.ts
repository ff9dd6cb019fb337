import { Law, Share, lawAt } from './laws';

export interface Segment {
  /** Angle of the cam that it takes, deg. */
  angle: number;
  /** Rise of the follower over it: mm, or deg of a swinging follower. */
  rise: number;
  law: Law;
}

/** A stated point of a cam's motion: cam angle deg, follower mm or deg. */
export interface Point {
  angle: number;
  value: number;
}

/** Follower motion over one turn: share of it at a cam angle (rad), with derivatives per rad. Units of the values as stated. */
export interface CamMotion {
  at(phi: number): Share;
  /** Cam angles at which one law ends and the next begins, rad. */
  corners: number[];
  least: number;
  most: number;
}

const TURN = 2 * Math.PI;
const wrap = (phi: number): number => phi - TURN * Math.floor(phi / TURN);

/** What is wrong with a list of segments, or undefined. */
export function segmentsProblem(segments: readonly Segment[]): string | undefined {
  const angle = segments.reduce((s, x) => s + x.angle, 0);
  if (Math.abs(angle - 360) > 1e-6) return `its angles add up to ${Number(angle.toFixed(4))}° and must make one turn, 360°`;
  const rise = segments.reduce((s, x) => s + (x.law === 'dwell' ? 0 : x.rise), 0);
  if (Math.abs(rise) > 1e-6) return `rises and falls add up to ${Number(rise.toFixed(4))} and must return to where the turn began`;
  return undefined;
}

/** The motion that segments one after the other make. */
export function motionOfSegments(segments: readonly Segment[]): CamMotion {
  const starts: number[] = [],
    base: number[] = [];
  let phi = 0,
    y = 0,
    least = 0,
    most = 0;
  for (const s of segments) {
    starts.push(phi);
    base.push(y);
    phi += (s.angle * Math.PI) / 180;
    if (s.law !== 'dwell') y += s.rise;
    least = Math.min(least, y);
    most = Math.max(most, y);
  }
  return {
    at(angle) {
      const p = wrap(angle);
      let k = segments.length - 1;
      while (k > 0 && starts[k] > p) k--;
      const s = segments[k],
        span = (s.angle * Math.PI) / 180;
      const [share, v, a] = lawAt(s.law, Math.min(1, Math.max(0, (p - starts[k]) / span)));
      return [base[k] + s.rise * share, (s.rise * v) / span, (s.rise * a) / (span * span)];
    },
    corners: starts,
    least,
    most,
  };
}

/** Beside a corner, rad; and the part of the steepest slope by which both sides must differ there. */
const BESIDE = 1e-9;
const SAME_SLOPE = 1e-6;

/**
 * Where the follower's speed jumps: at corners at which one law ends with
 * another slope than the next begins. Cam angle rad, values as stated per rad.
 */
export function jumpsOf(motion: CamMotion): { at: number; by: number }[] {
  const sides = motion.corners.map((at) => ({ at, before: motion.at(at - BESIDE)[1], after: motion.at(at + BESIDE)[1] }));
  const steepest = Math.max(0, ...sides.flatMap((s) => [Math.abs(s.before), Math.abs(s.after)]));
  return sides.map(({ at, before, after }) => ({ at, by: after - before })).filter((j) => Math.abs(j.by) > SAME_SLOPE * steepest);
}

/** What is wrong with a table of points, or undefined. */
export function pointsProblem(points: readonly Point[]): string | undefined {
  if (points.length < 3) return 'a table needs at least three points';
  for (let i = 1; i < points.length; i++) if (!(points[i].angle > points[i - 1].angle)) return 'the angles of the table must rise from row to row';
  if (points[points.length - 1].angle - points[0].angle > 360 + 1e-9) return 'the table goes over more than one turn';
  const last = points[points.length - 1];
  if (Math.abs(last.angle - points[0].angle - 360) < 1e-9 && Math.abs(last.value - points[0].value) > 1e-9) {
    return 'the last point is one turn after the first and must have its value';
  }
  return undefined;
}

/**
 * The smooth closed motion through a table of points: a periodic
 * cubic spline (de Boor, A Practical Guide to Splines, ch. IV).
 */
export function motionOfPoints(points: readonly Point[]): CamMotion {
  const closing = Math.abs(points[points.length - 1].angle - points[0].angle - 360) < 1e-9;
  const list = closing ? points.slice(0, -1) : points;
  const n = list.length;
  const x = list.map((p) => (p.angle * Math.PI) / 180),
    y = list.map((p) => p.value);
  const h = x.map((v, i) => (i < n - 1 ? x[i + 1] - v : x[0] + TURN - v));
  // Second derivatives: cyclic tridiagonal system, by Gauss–Seidel
  // (diagonally dominant by two to one, so it halves the error each round).
  const m = new Float64Array(n);
  for (let round = 0; round < 200; round++) {
    let change = 0;
    for (let i = 0; i < n; i++) {
      const p = (i + n - 1) % n,
        q = (i + 1) % n;
      const right = 6 * ((y[q] - y[i]) / h[i] - (y[i] - y[p]) / h[p]);
      const next = (right - h[p] * m[p] - h[i] * m[q]) / (2 * (h[p] + h[i]));
      change = Math.max(change, Math.abs(next - m[i]));
      m[i] = next;
    }
    if (change < 1e-13) break;
  }
  const at = (angle: number): Share => {
    const p = x[0] + wrap(angle - x[0]);
    let k = n - 1;
    while (k > 0 && x[k] > p) k--;
    const q = (k + 1) % n,
      a = x[k] + h[k] - p,
      b = p - x[k],
      H = h[k];
    return [
      (m[k] * a ** 3 + m[q] * b ** 3) / (6 * H) + (y[k] / H - (m[k] * H) / 6) * a + (y[q] / H - (m[q] * H) / 6) * b,
      (-m[k] * a * a + m[q] * b * b) / (2 * H) - (y[k] / H - (m[k] * H) / 6) + (y[q] / H - (m[q] * H) / 6),
      (m[k] * a + m[q] * b) / H,
    ];
  };
  let least = Infinity,
    most = -Infinity;
  for (let i = 0; i < 720; i++) {
    const [v] = at((i * TURN) / 720);
    least = Math.min(least, v);
    most = Math.max(most, v);
  }
  return { at, corners: [], least, most };
}
