/** A place in the plane of an outline, mm. */
export type Point = readonly [number, number];

/**
 * One piece of an outline, from where the one before it ends: a straight line, an arc about a centre through a signed angle
 * (rad, counter-clockwise positive; a whole turn is a circle), or a cubic Bézier curve with its two inner control points.
 */
export type Piece =
  | { readonly kind: 'line'; readonly to: Point }
  | { readonly kind: 'arc'; readonly to: Point; readonly centre: Point; readonly angle: number }
  | { readonly kind: 'curve'; readonly to: Point; readonly c1: Point; readonly c2: Point };

/** A closed curve: its last piece ends where the first begins. mm */
export interface Outline {
  readonly start: Point;
  readonly pieces: readonly Piece[];
}

/** Points x0, y0, x1, y1, … of a closed polygon, mm. */
export type Loop = readonly number[];

const TURN = 2 * Math.PI;
const near = (a: Point, b: Point): boolean => Math.hypot(a[0] - b[0], a[1] - b[1]) < 1e-9;

export const line = (to: Point): Piece => ({ kind: 'line', to });

/** An arc about a centre from a point through an angle. Where it ends is worked out. */
export function arc(from: Point, centre: Point, angle: number): Piece {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const [x, y] = [from[0] - centre[0], from[1] - centre[1]];
  return { kind: 'arc', centre, angle, to: Math.abs(angle) >= TURN ? from : [centre[0] + c * x - s * y, centre[1] + s * x + c * y] };
}

/** The outline of straight lines through points. */
export function polygon(points: Loop): Outline {
  const start: Point = [points[0], points[1]];
  const pieces: Piece[] = [];
  for (let i = 2; i < points.length; i += 2) pieces.push(line([points[i], points[i + 1]]));
  return { start, pieces: [...pieces, line(start)] };
}

/** The outline of pieces that follow each other; a straight line closes it where it is open. */
export function outline(start: Point, pieces: readonly Piece[]): Outline {
  const end = pieces.at(-1)?.to ?? start;
  return near(end, start) ? { start, pieces } : { start, pieces: [...pieces, line(start)] };
}

/** A circle, counter-clockwise from the side to which x points. */
export const circle = (r: number, cx = 0, cy = 0): Outline => ({
  start: [cx + r, cy],
  pieces: [{ kind: 'arc', to: [cx + r, cy], centre: [cx, cy], angle: TURN }],
});

export const rectangle = (x0: number, y0: number, x1: number, y1: number): Outline => polygon([x0, y0, x1, y0, x1, y1, x0, y1]);

/** Each piece with where it begins. */
export function eachPiece(o: Outline, see: (from: Point, piece: Piece) => void): void {
  let from = o.start;
  for (const p of o.pieces) {
    see(from, p);
    from = p.to;
  }
}

/** The place on a piece at a share 0 … 1 of it. */
export function placeOn(from: Point, p: Piece, t: number): Point {
  if (p.kind === 'line') return [from[0] + t * (p.to[0] - from[0]), from[1] + t * (p.to[1] - from[1])];
  if (p.kind === 'arc') {
    const [c, s] = [Math.cos(p.angle * t), Math.sin(p.angle * t)];
    const [x, y] = [from[0] - p.centre[0], from[1] - p.centre[1]];
    return [p.centre[0] + c * x - s * y, p.centre[1] + s * x + c * y];
  }
  const u = 1 - t;
  const [a, b, c, d] = [u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t];
  return [a * from[0] + b * p.c1[0] + c * p.c2[0] + d * p.to[0], a * from[1] + b * p.c1[1] + c * p.c2[1] + d * p.to[1]];
}

/** The derivative of `placeOn` by the share, mm. */
export function slopeOn(from: Point, p: Piece, t: number): Point {
  if (p.kind === 'line') return [p.to[0] - from[0], p.to[1] - from[1]];
  if (p.kind === 'arc') {
    const [x, y] = placeOn(from, p, t);
    return [-p.angle * (y - p.centre[1]), p.angle * (x - p.centre[0])];
  }
  const u = 1 - t;
  const [a, b, c] = [3 * u * u, 6 * u * t, 3 * t * t];
  const at = (k: 0 | 1): number => a * (p.c1[k] - from[k]) + b * (p.c2[k] - p.c1[k]) + c * (p.to[k] - p.c2[k]);
  return [at(0), at(1)];
}

/** A place on a curve and its derivative by the curve's own parameter. */
export interface Along {
  at: Point;
  slope: Point;
}

/** The cubic that has a curve's places and derivatives at two places (Hermite). */
const paced = (a: Along, b: Along, h: number): Piece => ({
  kind: 'curve',
  c1: [a.at[0] + h * a.slope[0], a.at[1] + h * a.slope[1]],
  c2: [b.at[0] - h * b.slope[0], b.at[1] - h * b.slope[1]],
  to: b.at,
});

/**
 * The cubic that has a curve's places and directions at two places and goes through a third in its middle; undefined where
 * there is none.
 */
function throughMiddle(a: Along, m: Point, b: Along): Piece | undefined {
  const [la, lb] = [Math.hypot(...a.slope), Math.hypot(...b.slope)];
  if (!(la > 0 && lb > 0)) return undefined;
  const chord: Point = [b.at[0] - a.at[0], b.at[1] - a.at[1]];
  // The sense in which the parameter runs.
  const sense = Math.sign(a.slope[0] * chord[0] + a.slope[1] * chord[1]) || 1;
  const u: Point = [(sense * a.slope[0]) / la, (sense * a.slope[1]) / la],
    v: Point = [(sense * b.slope[0]) / lb, (sense * b.slope[1]) / lb];
  const turn = u[0] * v[1] - u[1] * v[0];
  if (Math.abs(turn) < 1e-3) return undefined;
  // The middle of a cubic: half the ends' sum and 3/8 of the difference of its handles.
  const w: Point = [(8 / 3) * (m[0] - (a.at[0] + b.at[0]) / 2), (8 / 3) * (m[1] - (a.at[1] + b.at[1]) / 2)];
  const p = (w[0] * v[1] - w[1] * v[0]) / turn,
    q = (w[0] * u[1] - w[1] * u[0]) / turn;
  const size = Math.hypot(...chord);
  if (!(p > 0.05 * size && q > 0.05 * size && p < size && q < size)) return undefined;
  return { kind: 'curve', c1: [a.at[0] + p * u[0], a.at[1] + p * u[1]], c2: [b.at[0] - q * v[0], b.at[1] - q * v[1]], to: b.at };
}

/** A curve that stands for an element's true one passes within this of it, mm: a third of a micrometre. */
export const TRUE_TO = 3e-4;

/** No curve is divided more often than this: 2¹⁰ pieces. */
const DEEPEST = 10;

/**
 * Cubic pieces along a curve between two values of its parameter: each has the curve's ends and directions there, and is divided
 * until it passes within `tolerance` mm of the curve at its quarters and its middle.
 */
export function along(curve: (t: number) => Along, t0: number, t1: number, tolerance: number): Piece[] {
  const out: Piece[] = [];
  const fit = (ta: number, a: Along, tb: number, b: Along, deep: number): void => {
    const tm = (ta + tb) / 2,
      m = curve(tm);
    const quarters = [curve((ta + tm) / 2), m, curve((tm + tb) / 2)];
    // Across the curve: along it the two may run at different paces.
    const off = (p: Piece): number =>
      Math.max(
        ...quarters.map(({ at, slope }, i) => {
          const [px, py] = placeOn(a.at, p, (i + 1) / 4);
          const length = Math.hypot(...slope);
          const [dx, dy] = [at[0] - px, at[1] - py];
          return length > 0 ? Math.abs(dx * slope[1] - dy * slope[0]) / length : Math.hypot(dx, dy);
        }),
      );
    const tries = [paced(a, b, (tb - ta) / 3), throughMiddle(a, m.at, b)].flatMap((p) => (p ? [{ p, off: off(p) }] : []));
    const best = tries.reduce((x, y) => (y.off < x.off ? y : x));
    // What is not a number will not become one by being divided.
    if (deep >= DEEPEST || !(best.off > tolerance)) {
      out.push(best.p);
      return;
    }
    fit(ta, a, tm, m, deep + 1);
    fit(tm, m, tb, b, deep + 1);
  };
  fit(t0, curve(t0), t1, curve(t1), 0);
  return out;
}

/** A map of the plane that keeps lines straight and circles round: turned by an angle, then made `scale` times as large. */
export function turned(o: Outline, angle: number, scale = 1): Outline {
  const [c, s] = [scale * Math.cos(angle), scale * Math.sin(angle)];
  const put = ([x, y]: Point): Point => [c * x - s * y, s * x + c * y];
  return { start: put(o.start), pieces: o.pieces.map((p) => placed(p, put, 1)) };
}

/** The mirror image in the x axis, which runs the other way round. */
export function mirrored(o: Outline): Outline {
  const put = ([x, y]: Point): Point => [x, -y];
  return { start: put(o.start), pieces: o.pieces.map((p) => placed(p, put, -1)) };
}

/** The same outline moved. */
export function moved(o: Outline, dx: number, dy: number): Outline {
  const put = ([x, y]: Point): Point => [x + dx, y + dy];
  return { start: put(o.start), pieces: o.pieces.map((p) => placed(p, put, 1)) };
}

/** A piece under a similarity of the plane; `sense` −1 where that is a mirror. */
function placed(p: Piece, put: (p: Point) => Point, sense: 1 | -1): Piece {
  if (p.kind === 'line') return line(put(p.to));
  if (p.kind === 'arc') return { kind: 'arc', to: put(p.to), centre: put(p.centre), angle: sense * p.angle };
  return { kind: 'curve', c1: put(p.c1), c2: put(p.c2), to: put(p.to) };
}

/** The same curve run through the other way. */
export function reversed(o: Outline): Outline {
  const pieces: Piece[] = [];
  eachPiece(o, (from, p) => {
    if (p.kind === 'line') pieces.push(line(from));
    else if (p.kind === 'arc') pieces.push({ kind: 'arc', to: from, centre: p.centre, angle: -p.angle });
    else pieces.push({ kind: 'curve', to: from, c1: p.c2, c2: p.c1 });
  });
  return { start: o.start, pieces: pieces.reverse() };
}

/** The same curve, run through counter-clockwise; the other way round. */
export const counterClockwise = (o: Outline): Outline => (areaOf(o) > 0 ? o : reversed(o));
export const clockwise = (o: Outline): Outline => reversed(counterClockwise(o));

/** How finely a curve is drawn by straight lines: until one of the two holds. Zero: it never does. */
export interface Fineness {
  /** The direction changes by no more than this from one line to the next, rad. */
  turn: number;
  /** A line passes as near to the curve as this, mm. */
  tolerance: number;
}

/** How many straight lines a piece takes. */
function linesOf(from: Point, p: Piece, f: Fineness): number {
  if (p.kind === 'line') return 1;
  if (p.kind === 'arc') {
    const r = Math.hypot(from[0] - p.centre[0], from[1] - p.centre[1]);
    const size = Math.abs(p.angle);
    // The sagitta of a chord is r (1 − cos(a/2)).
    const byChord = f.tolerance < r ? size / (2 * Math.acos(1 - f.tolerance / r)) : 0;
    // A whole circle is still seen as one.
    return Math.max(size > Math.PI ? 12 : 1, Math.ceil(Math.min(size / f.turn, byChord) - 1e-9));
  }
  // A cubic leaves its chord by no more than the greatest second difference of its control points, times 3/4 ∕ n².
  const bend = (k: 0 | 1): number => Math.max(Math.abs(from[k] - 2 * p.c1[k] + p.c2[k]), Math.abs(p.c1[k] - 2 * p.c2[k] + p.to[k]));
  const byChord = Math.sqrt((0.75 * Math.hypot(bend(0), bend(1))) / f.tolerance);
  const a = [p.c1[0] - from[0], p.c1[1] - from[1]],
    b = [p.c2[0] - p.c1[0], p.c2[1] - p.c1[1]],
    c = [p.to[0] - p.c2[0], p.to[1] - p.c2[1]];
  const between = (u: number[], v: number[]): number => Math.abs(Math.atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1]));
  return Math.max(1, Math.ceil(Math.min((between(a, b) + between(b, c)) / f.turn, byChord) - 1e-9));
}

/** An outline as a polygon: corners stay, curves are divided evenly. */
export function flattened(o: Outline, f: Fineness): number[] {
  const out: number[] = [];
  eachPiece(o, (from, p) => {
    const n = linesOf(from, p, f);
    for (let k = 0; k < n; k++) out.push(...placeOn(from, p, k / n));
  });
  return out;
}

/** Greatest distance of an outline's corners and control points from the origin, mm: no less than its reach. */
export function reachOf(o: Outline): number {
  let reach = Math.hypot(...o.start);
  for (const p of o.pieces) {
    reach = Math.max(reach, Math.hypot(...p.to));
    if (p.kind === 'curve') reach = Math.max(reach, Math.hypot(...p.c1), Math.hypot(...p.c2));
  }
  return reach;
}

/** Shares of a piece at which it runs across a direction: there it goes farthest along it, besides at its ends. */
function turningsOf(from: Point, p: Piece, [u, v]: Point): number[] {
  if (p.kind === 'line') return [];
  if (p.kind === 'arc') {
    // Where the radius points along the direction, or against it.
    const start = Math.atan2(from[1] - p.centre[1], from[0] - p.centre[0]);
    const half = Math.PI / Math.abs(p.angle);
    const some = (Math.atan2(v, u) - start) / p.angle;
    const first = some - half * Math.floor(some / half);
    return Array.from({ length: Math.max(0, Math.floor((1 - first) / half) + 1) }, (_, k) => first + k * half);
  }
  const along = (q: Point): number => q[0] * u + q[1] * v;
  const [a, b, c] = [along(p.c1) - along(from), along(p.c2) - along(p.c1), along(p.to) - along(p.c2)];
  // The derivative by Bernstein's polynomials: a (1 − t)² + 2 b t (1 − t) + c t².
  const [k2, k1, k0] = [a - 2 * b + c, 2 * (b - a), a];
  if (Math.abs(k2) < 1e-12 * (Math.abs(k1) + Math.abs(k0))) return k1 === 0 ? [] : [-k0 / k1];
  const root = Math.sqrt(k1 * k1 - 4 * k2 * k0);
  return Number.isNaN(root) ? [] : [(-k1 + root) / (2 * k2), (-k1 - root) / (2 * k2)];
}

/**
 * How far an outline reaches along a direction of its plane: least and greatest x u + y v, in mm where (u, v) is of length
 * one.
 */
export function rangeOf(o: Outline, direction: Point): [least: number, most: number] {
  let [least, most] = [Infinity, -Infinity];
  const see = ([x, y]: Point): void => {
    const at = x * direction[0] + y * direction[1];
    [least, most] = [Math.min(least, at), Math.max(most, at)];
  };
  see(o.start);
  eachPiece(o, (from, p) => {
    see(p.to);
    for (const t of turningsOf(from, p, direction)) if (t > 0 && t < 1) see(placeOn(from, p, t));
  });
  return [least, most];
}

/** Gauss's points and weights on 0 … 1: with six, exact to the eleventh degree. */
const GAUSS: readonly (readonly [number, number])[] = [
  [0.033765242898424, 0.0856622461895852],
  [0.1693953067668678, 0.1803807865240693],
  [0.3806904069584016, 0.2339569672863455],
  [0.6193095930415985, 0.2339569672863455],
  [0.8306046932331322, 0.1803807865240693],
  [0.966234757101576, 0.0856622461895852],
];

/**
 * The integral round an outline of f(place, derivative): exact for lines and curves where f is a polynomial up to the third
 * degree in the place, to rounding for arcs (they are divided at 30°).
 */
export function integrated(o: Outline, f: (x: number, y: number, dx: number, dy: number) => number): number {
  let sum = 0;
  eachPiece(o, (from, p) => {
    const parts = p.kind === 'arc' ? Math.max(1, Math.ceil(Math.abs(p.angle) / (Math.PI / 6))) : 1;
    for (let k = 0; k < parts; k++) {
      for (const [t, w] of GAUSS) {
        const at = (k + t) / parts;
        const [x, y] = placeOn(from, p, at),
          [dx, dy] = slopeOn(from, p, at);
        sum += (w / parts) * f(x, y, dx, dy);
      }
    }
  });
  return sum;
}

/** Area inside an outline, mm²; positive where it runs counter-clockwise. */
export const areaOf = (o: Outline): number => integrated(o, (x, y, dx, dy) => (x * dy - y * dx) / 2);

/** Length of an outline, mm. */
export const lengthOf = (o: Outline): number => integrated(o, (_x, _y, dx, dy) => Math.hypot(dx, dy));
