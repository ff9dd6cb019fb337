import { type Along, type Outline, type Piece, type Point, TRUE_TO, along as piecesAlong, line } from '../solids/index';
import type { CamMotion } from './motion';

/**
 * How a follower stands to its cam, in the plane across the cam's axis. u points from the cam's centre along the
 * follower's way (translating) or to its pivot (swinging), v a quarter turn left of it. Lengths mm, angles rad.
 */
export interface FollowerShape {
  form: 'knife' | 'roller' | 'flat';
  /** Radius of the roller, mm; zero for others. */
  roller: number;
  base: number;
  motion: 'translating' | 'swinging';
  /** Translating: offset of the follower's line towards v. */
  offset: number;
  /** Swinging: distance of the pivot and length of the arm; side on which the arm lies, +1 towards v. */
  distance: number;
  arm: number;
  side: 1 | -1;
}

/** One place of the follower on the cam: trace point, contact, and the direction in which the cam pushes, in (u, v). */
export interface Touch {
  trace: [number, number];
  contact: [number, number];
  /** Unit normal from the cam into the follower. */
  normal: [number, number];
  /** Angle between the normal and the way of the follower, rad. */
  pressureAngle: number;
  /** Newtons along the normal for one newton (or N·m, with the arm in m) of the follower's own motion. */
  scale: number;
}

/** What is wrong with the sizes, or undefined. */
export function shapeProblem(f: FollowerShape): string | undefined {
  const rp = f.base + f.roller;
  if (f.motion === 'translating') {
    return Math.abs(f.offset) >= rp ? 'the offset is as large as the base circle: the follower would pass beside it' : undefined;
  }
  if (f.form === 'flat') return f.base >= f.distance ? 'the pivot lies inside the base circle' : undefined;
  return Math.abs(f.distance - f.arm) >= rp || f.distance + f.arm <= rp
    ? 'with this arm and pivot distance the follower cannot stand on the base circle'
    : undefined;
}

/** Angle of a swinging arm from u while it stands on the base circle, rad, towards v. */
export function armAtBase(f: FollowerShape): number {
  if (f.form === 'flat') return f.side * (Math.PI - Math.asin(f.base / f.distance));
  const rp = f.base + f.roller;
  return f.side * Math.acos((rp * rp - f.distance ** 2 - f.arm ** 2) / (2 * f.distance * f.arm));
}

/**
 * Where follower and cam touch when the lift is y (mm or rad) and changes by dy per rad of the cam. The
 * normal follows from the speeds at the contact being alike along it: n · (v_follower − v_cam) = 0.
 */
export function touch(f: FollowerShape, y: number, dy: number): Touch {
  if (f.motion === 'translating') {
    if (f.form === 'flat') {
      const r = f.base + y;
      return { trace: [r, f.offset], contact: [r, -dy], normal: [1, 0], pressureAngle: 0, scale: 1 };
    }
    const d = Math.sqrt((f.base + f.roller) ** 2 - f.offset ** 2) + y;
    const t = Math.atan2(dy + f.offset, d);
    const n: [number, number] = [Math.cos(t), Math.sin(t)];
    return { trace: [d, f.offset], contact: [d - f.roller * n[0], f.offset - f.roller * n[1]], normal: n, pressureAngle: t, scale: 1 / n[0] };
  }
  // Lift brings the arm away from the cam: the angle from u falls in size.
  const beta = armAtBase(f) - f.side * y,
    rate = -f.side * dy;
  const c = Math.cos(beta),
    s = Math.sin(beta);
  if (f.form === 'flat') {
    const reach = (f.distance * c) / (rate - 1);
    const at: [number, number] = [f.distance + reach * c, reach * s];
    const n: [number, number] = [f.side * s, -f.side * c];
    return { trace: at, contact: at, normal: n, pressureAngle: 0, scale: reach !== 0 ? 1000 / reach : 0 };
  }
  const trace: [number, number] = [f.distance + f.arm * c, f.arm * s];
  const wx = -rate * f.arm * s + trace[1],
    wy = rate * f.arm * c - trace[0];
  const len = Math.hypot(wx, wy) || 1;
  let n: [number, number] = [-wy / len, wx / len];
  if (n[0] * trace[0] + n[1] * trace[1] < 0) n = [-n[0], -n[1]];
  // Way of the trace point for growing lift.
  const way: [number, number] = [f.side * s, -f.side * c];
  const along = n[0] * way[0] + n[1] * way[1];
  return {
    trace,
    contact: [trace[0] - f.roller * n[0], trace[1] - f.roller * n[1]],
    normal: n,
    pressureAngle: Math.acos(Math.min(1, Math.max(-1, along))),
    scale: along !== 0 ? 1000 / (f.arm * along) : 0,
  };
}

/** Everything about a cam's outline: points in the cam's own frame, and where it is worst. */
export interface CamProfile {
  /** Closed outline x0, y0, x1, y1 …, counter-clockwise, mm. */
  outline: number[];
  /** The same as a true curve, within a third of a micrometre. */
  curve: Outline;
  /** Largest pressure angle by size, rad, and the cam angle of it. */
  pressureAngle: number;
  pressureAt: number;
  /** Smallest radius of curvature of the outline where it bulges, mm. */
  curvature: number;
  curvatureAt: number;
  /**
   * First cam angle at which the contact runs back over the profile, which the follower's own cutter would take away:
   * undercut.
   */
  undercut: number | undefined;
}

const TURN = 2 * Math.PI;

/** In the cam's frame: the part of the outline for cam angle φ lies at the polar angle −φ. */
const turned = (phi: number, p: readonly [number, number]): [number, number] => {
  const c = Math.cos(phi),
    s = Math.sin(phi);
  return [c * p[0] + s * p[1], -s * p[0] + c * p[1]];
};

/** Steps of the derivatives of a contact's place by the cam angle, and how far off a corner both sides of it are taken, rad. */
const STEP = 1e-4,
  BESIDE = 1e-9;

/** A cam's outline as pieces between the corners of its motion, where it may bend or leap (joined by a line then). */
function trueCurve(point: (phi: number) => Point, corners: readonly number[]): Outline {
  const places = [...new Set([0, ...corners.map((c) => c - TURN * Math.floor(c / TURN)), TURN])].sort((a, b) => a - b);
  const pieces: Piece[] = [];
  let start: Point | undefined;
  // Counter-clockwise the cam angle falls.
  for (let k = places.length - 1; k > 0; k--) {
    const [from, to] = [places[k - 1] + BESIDE, places[k] - BESIDE];
    if (to - from < 1e-7) continue;
    const at = (phi: number): Along => {
      // Derivatives from inside the stretch: beyond a corner another law holds (second order, central or one-sided).
      const h = Math.min(STEP, (to - from) / 8);
      const [p, f] = [point(phi), (x: number): Point => point(phi + x * h)];
      const by = (x: 0 | 1): number =>
        phi - h < from
          ? (-3 * p[x] + 4 * f(1)[x] - f(2)[x]) / (2 * h)
          : phi + h > to
            ? (3 * p[x] - 4 * f(-1)[x] + f(-2)[x]) / (2 * h)
            : (f(1)[x] - f(-1)[x]) / (2 * h);
      return { at: p, slope: [by(0), by(1)] };
    };
    const first = point(to);
    if (!start) start = first;
    else if (Math.hypot(first[0] - pieces[pieces.length - 1].to[0], first[1] - pieces[pieces.length - 1].to[1]) > 1e-6) pieces.push(line(first));
    pieces.push(...piecesAlong(at, to, from, TRUE_TO));
  }
  const last = pieces.length - 1;
  const begin = start!;
  if (Math.hypot(begin[0] - pieces[last].to[0], begin[1] - pieces[last].to[1]) > 1e-6) pieces.push(line(begin));
  else pieces[last] = { ...pieces[last], to: begin };
  return { start: begin, pieces };
}

/**
 * Outline of a plate cam from its follower's motion (mm, or rad of a swinging follower): the envelope of
 * the follower in the cam's frame. Pressure angle and curvature are looked for at `count` cam angles.
 */
export function camProfile(f: FollowerShape, motion: CamMotion, count = 360): CamProfile {
  const point = (phi: number): [number, number] => {
    const [y, dy] = motion.at(phi);
    return turned(phi, touch(f, y, dy).contact);
  };
  const along = (phi: number): { at: [number, number]; normal: [number, number] } => {
    const [y, dy] = motion.at(phi);
    const t = touch(f, y, dy);
    return { at: turned(phi, t.contact), normal: turned(phi, t.normal) };
  };
  const reversed: [number, number][] = [];
  let pressure = 0,
    pressureAt = 0,
    curvature = Infinity,
    curvatureAt = 0,
    undercut: number | undefined;
  const h = 1e-3;
  const nearCorner = (phi: number): boolean => motion.corners.some((c) => Math.abs(phi - c - TURN * Math.round((phi - c) / TURN)) < 2 * h);
  for (let i = 0; i < count; i++) {
    const phi = (i / count) * TURN;
    const [y, dy, ddy] = motion.at(phi);
    reversed.push(point(phi));
    const t = touch(f, y, dy);
    if (Math.abs(t.pressureAngle) > Math.abs(pressure)) {
      pressure = t.pressureAngle;
      pressureAt = phi;
    }
    if (nearCorner(phi)) continue;
    // How the contact runs along the outline: forward as the cam turns, or back over what was cut before.
    const [ahead, behind] = [phi + h, phi - h].map((x) => along(x));
    const n = turned(phi, t.normal);
    const run = ((ahead.at[0] - behind.at[0]) * n[1] - (ahead.at[1] - behind.at[1]) * n[0]) / (2 * h);
    const turn = Math.asin(behind.normal[0] * ahead.normal[1] - behind.normal[1] * ahead.normal[0]) / (2 * h);
    if (run < -1e-6 && f.form !== 'knife') undercut ??= phi;
    // Clockwise with the growing angle the outline bulges where its normal turns clockwise as well.
    const rho = f.form === 'flat' && f.motion === 'translating' ? f.base + y + ddy : run / -turn;
    if (turn < -1e-9 && rho < curvature) {
      curvature = rho;
      curvatureAt = phi;
    }
  }
  return {
    outline: reversed.reverse().flat(),
    curve: trueCurve(point, motion.corners),
    pressureAngle: pressure,
    pressureAt,
    curvature,
    curvatureAt,
    undercut,
  };
}
