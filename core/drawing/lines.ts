import type { SurfaceLine } from '../elements/index';
import { type Vec3, dot, toWorldPoint, vadd, vscale } from '../math/index';
import { type Point, circle } from '../solids/index';
import type { DrawnBody } from './bodies';
import { type Path, through } from './marks';
import { type Looking, inView } from './views';

/** How far lines of axes and pitch surfaces stand out of what they are of, mm on paper. */
const OUT = 3;

const longer = (a: Point, b: Point, by: number): Path => {
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  if (length < 1e-9) return through(a, b);
  const [ux, uy] = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
  return through([a[0] - by * ux, a[1] - by * uy], [b[0] + by * ux, b[1] + by * uy]);
};

/** How a direction lies in a view: across the paper, in it, or neither. */
const liesIn = (v: Looking, axis: Vec3): 'across' | 'in' | 'neither' => {
  const c = Math.abs(dot(v.towards, axis));
  return c > 1 - 1e-9 ? 'across' : c < 1e-9 ? 'in' : 'neither';
};

/** Pitch surfaces and cores of threads of a body as lines of a view, mm of the world; `scale` is that of the paper. */
export function surfaceLines(b: DrawnBody, v: Looking, scale: number): { pitch: Path[]; core: Path[] } {
  const out = { pitch: [] as Path[], core: [] as Path[] };
  const { place } = b;
  const at = (p: Vec3): Point => inView(v, toWorldPoint(place, p));
  for (const l of b.lines) {
    const put = (p: Path): unknown => out[l.kind === 'pitch' ? 'pitch' : 'core'].push(p);
    const by = l.kind === 'pitch' ? OUT / scale : 0;
    if (l.flat) {
      const [z0, z1] = l.z;
      if (liesIn(v, place.z) === 'across') put(longer(at([...l.from, 0]), at([...l.to, 0]), by));
      else if (liesIn(v, place.x) === 'across') put(longer(at([l.from[0], l.from[1], z0]), at([l.from[0], l.from[1], z1]), by));
      continue;
    }
    const how = liesIn(v, place.z);
    if (how === 'in') {
      // Seen from beside: both sides of the surface; over an arc those of its ends that lie in the paper.
      const across = sideways(v, place.z);
      for (const s of [-1, 1]) {
        const on = ([r, z]: Point): Point => inView(v, vadd(toWorldPoint(place, [0, 0, z]), vscale(across, s * r)));
        if (!l.arc || within(l, Math.atan2(s * dot(across, place.y), s * dot(across, place.x)))) put(longer(on(l.from), on(l.to), by));
      }
    } else if (how === 'across') put(roundOf(l, b, v));
  }
  return out;
}
/** The direction of the paper across an axis that lies in it. */
const sideways = (v: Looking, axis: Vec3): Vec3 => {
  const [x, y] = [dot(v.right, axis), dot(v.up, axis)];
  return vadd(vscale(v.right, -y), vscale(v.up, x));
};
type Round = Extract<SurfaceLine, { flat?: undefined }>;
/** Is an angle within a line's arc? */
function within({ arc }: Round, angle: number): boolean {
  if (!arc) return true;
  const turn = 2 * Math.PI;
  return (((angle - arc[0]) % turn) + turn) % turn <= arc[1] - arc[0];
}
/** The greater circle of a surface seen along its axis, or its arc; of a thread's core three quarters (ISO 6410-1). */
function roundOf(l: Round, { place }: DrawnBody, v: Looking): Path {
  const r = Math.max(l.from[0], l.to[0]);
  const centre = inView(v, place.o);
  if (l.kind === 'pitch' && !l.arc) return circle(r, ...centre);
  const [a, b] = l.arc ?? [0, 1.5 * Math.PI];
  const on = (t: number): Point => inView(v, vadd(place.o, vadd(vscale(place.x, r * Math.cos(t)), vscale(place.y, r * Math.sin(t)))));
  return { start: on(a), pieces: [{ kind: 'arc', centre, angle: (dot(v.towards, place.z) > 0 ? 1 : -1) * (b - a), to: on(b) }] };
}

/**
 * Centre lines of a view, mm of the world: along axes that lie in it, through all that is round about them, and a cross where
 * one is looked along.
 */
export function centreLines(bodies: readonly DrawnBody[], v: Looking, scale: number): Path[] {
  const out: Path[] = [];
  const lines = new Map<string, { o: Point; u: Point; from: number; to: number }>();
  const crosses = new Map<string, { centre: Point; r: number }>();
  for (const { place, round } of bodies) {
    if (!round) continue;
    const how = liesIn(v, place.z);
    const [cx, cy] = inView(v, place.o);
    if (how === 'across') {
      const key = `${cx.toFixed(2)} ${cy.toFixed(2)}`;
      const had = crosses.get(key);
      if (!had || had.r < round.r) crosses.set(key, { centre: [cx, cy], r: round.r });
    } else if (how === 'in') {
      let [ux, uy] = [dot(v.right, place.z), dot(v.up, place.z)];
      const turned = ux < -1e-9 || (Math.abs(ux) <= 1e-9 && uy < 0);
      if (turned) [ux, uy] = [-ux, -uy];
      const key = `${ux.toFixed(5)} ${uy.toFixed(5)} ${(cx * uy - cy * ux).toFixed(2)}`;
      const had = lines.get(key);
      const along = had ? (cx - had.o[0]) * ux + (cy - had.o[1]) * uy : 0;
      const [z0, z1] = turned ? [-round.to, -round.from] : [round.from, round.to];
      if (had) [had.from, had.to] = [Math.min(had.from, along + z0), Math.max(had.to, along + z1)];
      else lines.set(key, { o: [cx, cy], u: [ux, uy], from: z0, to: z1 });
    }
  }
  const by = OUT / scale;
  for (const { o, u, from, to } of lines.values()) {
    out.push(through([o[0] + (from - by) * u[0], o[1] + (from - by) * u[1]], [o[0] + (to + by) * u[0], o[1] + (to + by) * u[1]]));
  }
  for (const { centre, r } of crosses.values()) {
    const [x, y] = centre;
    out.push(through([x - r - by, y], [x + r + by, y]), through([x, y - r - by], [x, y + r + by]));
  }
  return out;
}

/** Distance of hatching lines, mm on paper. */
const HATCH = 2.5;

/** Hatching of a cut face at 45°, on paper: neighbours by hatching lean the other way, or stand closer. Edges on paper, mm. */
export function hatching(edges: readonly number[], hatch: number): Path[] {
  const out: Path[] = [];
  const lean = hatch % 2 ? -1 : 1;
  const step = HATCH * (1 + 0.4 * (Math.floor(hatch / 2) % 3));
  const k = Math.SQRT1_2;
  // Along and across the lines of hatching.
  const turned: [number, number, number, number][] = [];
  for (let i = 0; i < edges.length; i += 4) {
    const [x0, y0, x1, y1] = [edges[i], edges[i + 1], edges[i + 2], edges[i + 3]];
    turned.push([k * (x0 + lean * y0), k * (y0 - lean * x0) * lean, k * (x1 + lean * y1), k * (y1 - lean * x1) * lean]);
  }
  const crossings = new Map<number, number[]>();
  for (const [s0, t0, s1, t1] of turned) {
    const [low, high] = [Math.min(t0, t1), Math.max(t0, t1)];
    // A corner counts for the edge above it alone.
    for (let n = Math.ceil(low / step); n * step < high; n++) {
      const s = s0 + ((n * step - t0) / (t1 - t0)) * (s1 - s0);
      const row = crossings.get(n);
      if (row) row.push(s);
      else crossings.set(n, [s]);
    }
  }
  for (const [n, row] of crossings) {
    row.sort((a, b) => a - b);
    const t = n * step * lean;
    for (let i = 0; i + 1 < row.length; i += 2) {
      const on = (s: number): Point => [k * (s - lean * t), k * (lean * s + t)];
      if (row[i + 1] - row[i] > 0.1) out.push(through(on(row[i]), on(row[i + 1])));
    }
  }
  return out;
}
