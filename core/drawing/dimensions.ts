import type { Point } from '../solids/index';
import { ARROW, type Mark, stroke, text, textWidth } from './marks';
import type { Box } from './projection';
import type { InView } from './sizes';

/** A dimension to be placed: on paper, mm, and what is written. */
export interface Dimension {
  at: InView;
  written: string;
  /** Outermost on its side. */
  outer?: true;
}

/** Height of figures, distance of dimension lines from the view and from each other, mm (ISO 129-1, ISO 3098). */
export const FIGURE = 3.5;
const FIRST = 10,
  NEXT = 8;
/** What extension lines leave free at the body, and stand out beyond the dimension line. */
const GAP = 1,
  BEYOND = 2;

type SideOf = 'below' | 'above' | 'left' | 'right';

/** Where a figure stands: between the ends of its dimension, or where they are too close beyond the one or the other. */
type Figured = 'inside' | 'after' | 'before';
interface Span {
  from: number;
  to: number;
  /** Where the figure is. */
  figure: readonly [number, number];
  where: Figured;
}

/** A lane is looked for so far out: there is one, unless nothing can be clear of all. */
const MOST_LANES = 200;
/** What stays free at both sides of a figure that a line passes, mm. */
const FREE = 1.5;

/** The place nearest to `from`, going one way, where nothing passes through a figure so wide. */
function clearOf(passing: readonly number[], from: number, wide: number, way: 1 | -1): number {
  let at = from;
  for (let again = true; again;) {
    again = false;
    for (const x of passing) {
      if (x <= at - FREE + 1e-9 || x >= at + wide + FREE - 1e-9) continue;
      at = way > 0 ? x + FREE : x - FREE - wide;
      again = true;
    }
  }
  return at;
}

/** Where the figure of a dimension can stand, best first: no line that passes goes through it. */
function spansOf({ at: { from, to }, written }: Dimension, passing: readonly number[]): Span[] {
  const wide = textWidth(written, FIGURE);
  const middle = (from + to - wide) / 2;
  const out: Span[] = [];
  if (to - from >= wide + 2 * ARROW[0] + 1) {
    for (const way of [1, -1] as const) {
      const at = clearOf(passing, middle, wide, way);
      if (at >= from + ARROW[0] && at + wide <= to - ARROW[0]) out.push({ from, to, figure: [at, at + wide], where: 'inside' });
    }
    out.sort((a, b) => Math.abs(a.figure[0] - middle) - Math.abs(b.figure[0] - middle));
  }
  const [l, r] = [from - ARROW[0] - 3, to + ARROW[0] + 3];
  const after = clearOf(passing, r + 0.5, wide, 1),
    before = clearOf(passing, l - 0.5 - wide, wide, -1);
  const beside: Span[] = [
    { from: l, to: after + wide + 0.5, figure: [after, after + wide], where: 'after' },
    { from: before - 0.5, to: r, figure: [before, before + wide], where: 'before' },
  ];
  return [...out, ...beside.sort((a, b) => a.to - a.from - (b.to - b.from))];
}

/**
 * Dimension lines in lanes, the shorter nearer to the view: none in a lane touches another, and no extension line of one further
 * out goes through a figure.
 */
function lanesOf(list: readonly Dimension[]): { lane: number; span: Span }[] {
  const order = list.map((_, i) => i).sort((a, b) => Number(list[a].outer ?? 0) - Number(list[b].outer ?? 0) || length(list[a]) - length(list[b]));
  const lanes: Span[][] = [];
  const out = new Map<number, { lane: number; span: Span }>();
  let least = 0;
  order.forEach((i, nth) => {
    if (list[i].outer) least = Math.max(least, lanes.length);
    const ends = [list[i].at.from, list[i].at.to];
    const later = order.slice(nth + 1).flatMap((j) => [list[j].at.from, list[j].at.to]);
    const free = (k: number, s: Span): boolean => !lanes[k]?.some((o) => s.from < o.to + 2 && o.from < s.to + 2);
    for (let lane = least; ; lane++) {
      // Extension lines pass of all that stands further out, or may come to.
      const further = [...out].flatMap(([j, o]) => (o.lane > lane ? [list[j].at.from, list[j].at.to] : []));
      // Nor may its own go through figures that stand nearer.
      const through = lanes.slice(0, lane).some((l) => l.some((o) => ends.some((x) => x > o.figure[0] - 0.5 && x < o.figure[1] + 0.5)));
      const span = through ? undefined : spansOf(list[i], [...later, ...further]).find((s) => free(lane, s));
      if (!span && lane < least + MOST_LANES) continue;
      const taken = span ?? spansOf(list[i], [])[0];
      while (lanes.length <= lane) lanes.push([]);
      lanes[lane].push(taken);
      out.set(i, { lane, span: taken });
      return;
    }
  });
  return list.map((_, i) => out.get(i)!);
}
const length = ({ at }: Dimension): number => at.to - at.from;

const upright = (d: Point): 'across' | 'up' | 'slanting' => (Math.abs(d[0]) > 1 - 1e-9 ? 'across' : Math.abs(d[1]) > 1 - 1e-9 ? 'up' : 'slanting');

/**
 * One dimension line on paper, with its arrows, extension lines and figure. `across` is where it stands, on the normal of its
 * direction.
 */
function drawn({ at, written }: Dimension, across: number, starts: number | undefined, span: Span): Mark[] {
  const [dx, dy] = at.direction;
  const on = (s: number, n: number): Point => [s * dx - n * dy, s * dy + n * dx];
  const inside = span.where === 'inside';
  const out: Mark[] = [];
  if (starts !== undefined) {
    const way = Math.sign(across - starts) || 1;
    for (const s of [at.from, at.to]) out.push(stroke('thin', on(s, starts + way * GAP), on(s, across + way * BEYOND)));
  }
  out.push(stroke('thin', on(span.from, across), on(span.to, across)));
  const way = inside ? 1 : -1;
  out.push(
    { kind: 'arrow', tip: on(at.from, across), along: [-way * dx, -way * dy] },
    { kind: 'arrow', tip: on(at.to, across), along: [way * dx, way * dy] },
  );
  let turn = (Math.atan2(dy, dx) * 180) / Math.PI;
  // Figures are read from below and from the right (ISO 129-1).
  let above = 1;
  if (turn > 90 + 1e-6 || turn <= -90 + 1e-6) {
    turn += turn > 0 ? -180 : 180;
    above = -1;
  }
  const middle = (span.figure[0] + span.figure[1]) / 2;
  out.push(text(on(middle, across + above), written, FIGURE, 'middle', { turn: Math.round(turn * 1e3) / 1e3 }));
  return out;
}

/** Room that dimensions take round a view, mm: below, above, at its left and right. */
export interface Room {
  below: number;
  above: number;
  left: number;
  right: number;
}

/**
 * Dimensions round a view on paper, in lanes beside it, so that no figure touches another; those that slant stand between their
 * ends. The box is that of the view.
 */
export function placeDimensions(list: readonly Dimension[], [x0, y0, x1, y1]: Box): { marks: Mark[]; room: Room } {
  const sides: Record<SideOf, Dimension[]> = { below: [], above: [], left: [], right: [] };
  const slanting: Dimension[] = [];
  for (const d of list) {
    const how = upright(d.at.direction);
    const middle = (d.at.low + d.at.high) / 2;
    if (how === 'across') sides[d.outer || middle <= (y0 + y1) / 2 + 1e-6 ? 'below' : 'above'].push(d);
    // The normal of an upward direction looks to the left.
    else if (how === 'up') sides[d.outer || -middle <= (x0 + x1) / 2 - 1e-6 ? 'left' : 'right'].push(d);
    else slanting.push(d);
  }
  const marks: Mark[] = [];
  const room: Room = { below: 0, above: 0, left: 0, right: 0 };
  let out = room;
  // Figures that stand out beyond the foot or the head of the view come first: lanes below and above keep clear of them.
  for (const side of ['left', 'right', 'below', 'above'] as const) {
    const own = sides[side];
    if (side === 'below') out = { ...room };
    if (!own.length) continue;
    const lanes = lanesOf(own);
    own.forEach((d, i) => {
      const { lane, span } = lanes[i];
      const off = FIRST + NEXT * lane;
      if (side === 'below') marks.push(...drawn(d, y0 - out.below - off, d.at.low, span));
      else if (side === 'above') marks.push(...drawn(d, y1 + out.above + off, d.at.high, span));
      else if (side === 'left') marks.push(...drawn(d, -(x0 - off), d.at.high, span));
      else marks.push(...drawn(d, -(x1 + off), d.at.low, span));
    });
    room[side] = (side === 'below' || side === 'above' ? out[side] : 0) + FIRST + NEXT * Math.max(...lanes.map((x) => x.lane)) + FIGURE + 2;
    // Figures beside their ends stand out at both sides.
    const spans = lanes.map((x) => x.span);
    const [from, to] = [Math.min(...spans.map((s) => s.from)), Math.max(...spans.map((s) => s.to))];
    const [lo, hi, less, more] = side === 'below' || side === 'above' ? ([x0, x1, 'left', 'right'] as const) : ([y0, y1, 'below', 'above'] as const);
    room[less] = Math.max(room[less], lo - from);
    room[more] = Math.max(room[more], to - hi);
  }
  for (const d of slanting) marks.push(...drawn(d, (d.at.low + d.at.high) / 2, undefined, spansOf(d, [])[0]));
  return { marks, room };
}
