import { dot } from '../math/index';
import { type Point, moved, turned } from '../solids/index';
import type { Placed } from './arrange';
import { type DrawnBody, takenBy } from './bodies';
import { type Dimension, placeDimensions } from './dimensions';
import { centreLines, hatching, surfaceLines } from './lines';
import { type LineKind, type Mark, type Path, drawn, stroke, text } from './marks';
import type { Box, Projection } from './projection';
import type { InView } from './sizes';
import { type View, inView } from './views';

/** A view as it is to be laid out: what it shows, mm of the world, and its dimensions. */
export interface Shown {
  view: View;
  projection: Projection;
  /** Round all its lines. */
  box: Box;
  dimensions: readonly Dimension[];
  /** Sections whose planes are marked in it. */
  marked: readonly View[];
}

/** A view at a scale, on paper about its own middle. */
export interface Laid extends Placed {
  view: View;
  marks: Mark[];
  /** The place of the world, in the view, that its middle is. */
  middle: Point;
}

/** Length of a section's arrows, height of its letters, and how far the ends of its plane stand out, mm. */
const ARROWS = 7,
  LETTER = 5,
  ENDS = 4;
/** What the letters of sections take beside a view, mm. */
const LETTERED = 14;

const scaled = (p: Path, scale: number, [ox, oy]: Point): Path => moved(turned(p, 0, scale), ox, oy);

/** A size in a view as it is on paper. */
function onPaper(at: InView, scale: number, [ox, oy]: Point): InView {
  const [dx, dy] = at.direction;
  const [s, n] = [ox * dx + oy * dy, oy * dx - ox * dy];
  return { direction: at.direction, from: scale * at.from + s, to: scale * at.to + s, low: scale * at.low + n, high: scale * at.high + n };
}

/** Where a section cuts: the ends of its plane, which the view shows edge on, with arrows and letters. */
function planeMarks(view: View, { cut }: View, own: Box, scale: number, off: Point): Mark[] {
  const { along, at, letter } = cut!;
  const [ax, ay] = inView(view, along);
  const place = scale * at + off[0] * ax + off[1] * ay;
  const on = (t: number): Point => [ax * place - ay * t, ay * place + ax * t];
  const ends = [own[0], own[2]].flatMap((x) => [own[1], own[3]].map((y) => ax * y - ay * x));
  const [low, high] = [Math.min(...ends) - ENDS, Math.max(...ends) + ENDS];
  const marks = [stroke('axis', on(low), on(high)), stroke('visible', on(low), on(low + ENDS)), stroke('visible', on(high - ENDS), on(high))];
  for (const [t, way] of [
    [low, -1],
    [high, 1],
  ]) {
    const [x, y] = on(t);
    const beyond = ARROWS + 3;
    marks.push(stroke('thin', [x - ARROWS * ax, y - ARROWS * ay], [x, y]), { kind: 'arrow', tip: [x, y], along: [ax, ay] });
    marks.push(text([x - beyond * ax - way * ay, y - beyond * ay + way * ax - LETTER * 0.35], letter, LETTER, 'middle', { bold: true }));
  }
  return marks;
}

/** What a view draws at a scale, about its own middle. */
export function laid({ view, projection: p, box, dimensions, marked }: Shown, bodies: readonly DrawnBody[], scale: number): Laid {
  const middle: Point = [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
  const off: Point = [-scale * middle[0], -scale * middle[1]];
  const put = (kind: LineKind, paths: readonly Path[]): Mark[] => paths.map((x) => drawn(kind, scaled(x, scale, off)));
  const seen = bodies.filter((b) => takenBy(view, b) !== 'gone');
  const surfaces = view.side === 'pictorial' ? [] : seen.map((b) => surfaceLines(b, view, scale));
  const own: Box = [scale * box[0] + off[0], scale * box[1] + off[1], scale * box[2] + off[0], scale * box[3] + off[1]];
  const marks: Mark[] = [
    ...p.cuts.flatMap(({ edges, hatch }) => {
      const onSheet = edges.map((x, i) => scale * x + off[i % 2]);
      return hatching(onSheet, hatch).map((path) => drawn('thin', path));
    }),
    ...put('hidden', p.hidden),
    ...(view.side === 'pictorial' ? [] : put('axis', [...surfaces.flatMap((s) => s.pitch), ...centreLines(seen, view, scale)])),
    ...surfaces.flatMap((s) => put('thin', s.core)),
    ...put('visible', p.visible),
    ...marked.flatMap((s) => planeMarks(view, s, own, scale, off)),
  ];
  // Dimensions stand outside the letters of sections.
  const clear: [number, number, number, number] = [...own];
  for (const { cut } of marked) {
    const k = Math.abs(dot(view.up, cut!.along)) > 0.5 ? 0 : 1;
    [clear[k], clear[k + 2]] = [own[k] - 12, own[k + 2] + 12];
  }
  const placed = placeDimensions(
    dimensions.map((d): Dimension => ({ ...d, at: onPaper(d.at, scale, off) })),
    clear,
  );
  const { room } = placed;
  if (marked.length) for (const side of ['below', 'above', 'left', 'right'] as const) room[side] = Math.max(room[side], LETTERED);
  return { view, side: view.side, box: own, room, marks: [...marks, ...placed.marks], middle };
}

/** A mark elsewhere on the sheet. */
export function markAt(m: Mark, dx: number, dy: number): Mark {
  const to = ([x, y]: Point): Point => [x + dx, y + dy];
  if (m.kind === 'text') return { ...m, at: to(m.at) };
  return m.kind === 'arrow' ? { ...m, tip: to(m.tip) } : { ...m, path: moved(m.path, dx, dy) };
}
