import { type Point, rangeOf } from '../solids/index';
import type { Path } from './marks';

/** What is seen of bodies in a view, mm of the world along its right and up. */
export interface Projection {
  visible: Path[];
  hidden: Path[];
  /** What a section cuts of each solid: its edges, x0, y0, x1, y1 each, in no order; and which hatching its body has. */
  cuts: { edges: number[]; hatch: number }[];
}

/** Lengths below this, mm, and angles of that length on their circle, are none. */
const NONE = 1e-4;

/** Straight lines and arcs that lie on each other: which line or circle they are on, and from where to where along it. */
interface Run {
  key: string;
  from: number;
  to: number;
  /** Of a circle, how long a whole turn is. */
  turn?: number;
  path(from: number, to: number): Path;
}
const rounded = (x: number, to = NONE * 10): number => Math.round(x / to) + 0;

/** A path as a run along its line or circle; undefined of another curve. */
function runOf({ start, pieces }: Path): Run | undefined {
  const [p] = pieces;
  if (pieces.length !== 1 || p.kind === 'curve') return undefined;
  if (p.kind === 'line') {
    let [dx, dy] = [p.to[0] - start[0], p.to[1] - start[1]];
    const length = Math.hypot(dx, dy);
    if (length < NONE) return undefined;
    [dx, dy] = [dx / length, dy / length];
    if (dx < -1e-7 || (Math.abs(dx) <= 1e-7 && dy < 0)) [dx, dy] = [-dx, -dy];
    const off = start[0] * dy - start[1] * dx;
    const along = (q: Point): number => q[0] * dx + q[1] * dy;
    const at = (t: number): Point => [t * dx + off * dy, t * dy - off * dx];
    const [a, b] = [along(start), along(p.to)].sort((x, y) => x - y);
    return {
      key: `line ${rounded(dx, 1e-6)} ${rounded(dy, 1e-6)} ${rounded(off)}`,
      from: a,
      to: b,
      path: (s, e) => ({ start: at(s), pieces: [{ kind: 'line', to: at(e) }] }),
    };
  }
  const { centre, angle } = p;
  const r = Math.hypot(start[0] - centre[0], start[1] - centre[1]);
  const first = Math.atan2(start[1] - centre[1], start[0] - centre[0]);
  const from = angle < 0 ? first + angle : first;
  const turn = 2 * Math.PI;
  const base = ((from % turn) + turn) % turn;
  const at = (t: number): Point => [centre[0] + r * Math.cos(t / r), centre[1] + r * Math.sin(t / r)];
  return {
    key: `arc ${rounded(centre[0])} ${rounded(centre[1])} ${rounded(r)}`,
    from: base * r,
    to: (base + Math.abs(angle)) * r,
    turn: turn * r,
    path: (s, e) => ({ start: at(s), pieces: [{ kind: 'arc', centre, angle: (e - s) / r, to: at(e) }] }),
  };
}

type Span = [from: number, to: number];

/** Spans that overlap or touch as one. */
function joined(spans: readonly Span[]): Span[] {
  const out: Span[] = [];
  for (const [a, b] of [...spans].sort((x, y) => x[0] - y[0])) {
    const last = out.at(-1);
    if (last && a <= last[1] + NONE) last[1] = Math.max(last[1], b);
    else out.push([a, b]);
  }
  return out;
}
/** What of sorted spans others leave. */
function without(spans: readonly Span[], others: readonly Span[]): Span[] {
  return spans.flatMap(([a, b]) => {
    const out: Span[] = [];
    let from = a;
    for (const [c, d] of others) {
      if (d <= from || c >= b) continue;
      if (c > from) out.push([from, c]);
      from = Math.max(from, d);
    }
    if (from < b) out.push([from, b]);
    return out.filter(([s, e]) => e - s > NONE);
  });
}

/**
 * Lines drawn once: straight lines and arcs that lie on each other are joined, and what is hidden below a visible line goes.
 * Time n log n.
 */
export function drawnOnce({ visible, hidden, cuts }: Projection): Projection {
  const sorted = (paths: readonly Path[]): { runs: Map<string, { first: Run; spans: Span[] }>; others: Path[] } => {
    const runs = new Map<string, { first: Run; spans: Span[] }>();
    const others: Path[] = [];
    const seen = new Set<string>();
    for (const p of paths) {
      const run = runOf(p);
      if (run) {
        const group = runs.get(run.key);
        const { turn } = run;
        // An arc over the zero of its circle is two.
        const spans: Span[] =
          turn !== undefined && run.to > turn + NONE
            ? [
                [run.from, turn],
                [0, Math.min(run.to - turn, turn)],
              ]
            : [[run.from, run.to]];
        if (group) group.spans.push(...spans);
        else runs.set(run.key, { first: run, spans });
        continue;
      }
      const [a, b] = [p.start, p.pieces.at(-1)?.to ?? p.start].map((q) => `${rounded(q[0])} ${rounded(q[1])}`).sort();
      const middle = p.pieces[Math.floor(p.pieces.length / 2)]?.to ?? p.start;
      const key = `${a} ${b} ${rounded(middle[0], 0.01)} ${rounded(middle[1], 0.01)}`;
      if (!seen.has(key)) {
        seen.add(key);
        others.push(p);
      }
    }
    for (const g of runs.values()) g.spans = joined(g.spans);
    return { runs, others };
  };
  const [v, h] = [sorted(visible), sorted(hidden)];
  const paths = ({ first, spans }: { first: Run; spans: readonly Span[] }): Path[] => overZero(spans, first.turn).map(([a, b]) => first.path(a, b));
  return {
    visible: [...[...v.runs.values()].flatMap(paths), ...v.others],
    hidden: [...[...h.runs].flatMap(([key, g]) => paths({ first: g.first, spans: without(g.spans, v.runs.get(key)?.spans ?? []) })), ...h.others],
    cuts,
  };
}
/** Arcs that meet at the zero of their circle are one. */
function overZero(spans: readonly Span[], turn: number | undefined): readonly Span[] {
  const [first, last] = [spans.at(0), spans.at(-1)];
  if (turn === undefined || !first || !last || first === last || first[0] > NONE || last[1] < turn - NONE) return spans;
  return [...spans.slice(1, -1), [last[0], turn + first[1]]];
}

/** x0, y0, x1, y1: the box round paths. Undefined of none. */
export type Box = readonly [number, number, number, number];

export function boxOf(paths: readonly Path[]): Box | undefined {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const path of paths) {
    const [x, y] = [rangeOf(path, [1, 0]), rangeOf(path, [0, 1])];
    [x0, y0, x1, y1] = [Math.min(x0, x[0]), Math.min(y0, y[0]), Math.max(x1, x[1]), Math.max(y1, y[1])];
  }
  return x1 >= x0 ? [x0, y0, x1, y1] : undefined;
}
