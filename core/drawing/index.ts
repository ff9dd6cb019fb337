import type { Worked } from '../checks/index';
import { unitsOf } from '../document/index';
import type { Compiled } from '../kinematics/index';
import { DRAWING_SCALES, type SeenAlong } from '../fields/common';
import type { Id, KeptDrawing } from '../fields/types';
import { dot } from '../math/index';
import { mapShapes } from '../map/index';
import type { Point } from '../solids/index';
import { type Cell, heading, shownIn, standingTables } from '../tables/index';
import { type Units, listedUpTo } from '../units/index';
import { type Placed, arranged } from './arrange';
import { type DrawnBody, isRound, takenBy } from './bodies';
import { type Dimension, placeDimensions } from './dimensions';
import { type Area, type GearTable, PAPER_SIZES, type TitleData, areaOf, formOf, mostWheels } from './form';
import { centreLines, hatching, surfaceLines } from './lines';
import { mapMarks } from './map-marks';
import { type Mark, type Path, type Sheet, stroke, text } from './marks';
import { type Box, type Projection, boxOf } from './projection';
import { type InView, type Size, sizeIn, sizesOf } from './sizes';
import { type View, inView, viewsOf } from './views';

export { type DrawnBody, bodiesOf, takenBy } from './bodies';
export { PAPER_SIZES, type PaperSize, type TitleData } from './form';
export { ARROW, LINES, LINE_KINDS, type LineKind, type Mark, type Path as DrawnPath, type Sheet, type TextMark, textWidth } from './marks';
export { type Projection, drawnOnce } from './projection';
export { type Size as DrawingSize, sizesOf } from './sizes';
export { type View as DrawnView, inView, viewsOf } from './views';

/** A drawing as it is made: the sheet, what could be written on it, and where its bodies are. */
export interface Drawn {
  sheet: Sheet;
  /** Scale as it is written: 1:2. */
  scale: string;
  /** All sizes that the bodies have, and which of them stand on the drawing. */
  sizes: readonly (Pick<Size, 'size' | 'a' | 'b' | 'name' | 'value'> & { shown: boolean })[];
  /** Where each body is on paper, in every view: box x0, y0, x1, y1, mm. */
  areas: readonly { element: Id; box: Box }[];
  /** Planes through the axes of its round bodies, as sections state them. */
  planes: readonly { element: Id; name: string; along: SeenAlong; at: number }[];
  /** What is left out, and why. */
  notes: readonly string[];
}

const ratioOf = (scale: string): number => {
  const [a, b] = scale.split(':').map(Number);
  return a / b;
};

const key = (s: Pick<Size, 'size' | 'a' | 'b'>): string => `${s.size} ${s.a} ${s.b}`;

/** The wheels of a drawing as its table of gear data: figures of ISO 1340 and ISO 1341, a column a wheel. */
function gearData(worked: Worked, bodies: readonly DrawnBody[], units: Units, most: number): { table?: GearTable; left: number } {
  // Two wheels of different members may have one name.
  const memberOf = new Map(worked.compiled.design.members.map((m) => [m.id, m.name]));
  const names = new Set(
    bodies.filter((b) => b.type === 'gear' || b.type === 'bevel-gear').map((b) => `${b.name}\n${memberOf.get(b.member) ?? 'Frame'}`),
  );
  if (!names.size) return { left: 0 };
  const cell = (c: Cell): string => (c === undefined ? '' : typeof c === 'number' ? units.number(c, '', 6) : c);
  const heads: string[] = [];
  const rows = new Map<string, string[]>();
  let left = 0;
  for (const t of standingTables(worked).filter((x) => x.key === 'gears' || x.key === 'bevels')) {
    const shown = shownIn(t, units);
    const seen = new Map<string, number>();
    for (const row of shown.rows) {
      const name = cell(row[0]);
      const known = `${name}\n${cell(row[1])}`;
      if (!names.has(known)) continue;
      // A wheel in several meshes has one column; its other meshes follow in the same cells.
      const had = seen.get(known);
      if (had === undefined && heads.length >= most) {
        left++;
        continue;
      }
      const at = had ?? heads.push(name) - 1;
      seen.set(known, at);
      shown.columns.forEach((c, k) => {
        if (k === 0 || c.label === 'Member') return;
        // Factors of the profile stand in the heading here: a column is narrow.
        const profile = c.label === 'Reference profile';
        const label = profile ? 'Profile ha*, hf*, ρf*' : heading(c);
        const cells = rows.get(label) ?? [];
        const is = profile
          ? cell(row[k])
              .replace(/[^\d., ]/g, '')
              .replace(/ +/g, ' ')
              .trim()
          : cell(row[k]);
        cells[at] = had === undefined || cells[at] === is || !is ? (cells[at] ?? is) : `${cells[at]}; ${is}`;
        rows.set(label, cells);
      });
    }
  }
  if (!heads.length) return { left };
  return {
    table: { heads, rows: [...rows].filter(([, c]) => c.some(Boolean)).map(([label, c]) => [label, ...heads.map((_, k) => c[k] ?? '')]) },
    left,
  };
}

/** A size in a view on paper, its figure written. */
function onPaper(at: InView, scale: number, [ox, oy]: Point): InView {
  const [dx, dy] = at.direction;
  const [s, n] = [ox * dx + oy * dy, oy * dx - ox * dy];
  return { direction: at.direction, from: scale * at.from + s, to: scale * at.to + s, low: scale * at.low + n, high: scale * at.high + n };
}

/** Which dimensions stand in which view: each where it is seen best, then where it is seen first; and those that none shows. */
function dimensionsIn(
  d: KeptDrawing,
  views: readonly View[],
  boxes: readonly (Box | undefined)[],
  chosen: readonly Size[],
  units: Units,
): { dims: (InView & { written: string; outer?: true })[][]; unseen: string[] } {
  const unseen: string[] = [];
  const out = views.map((): (InView & { written: string; outer?: true })[] => []);
  const flat = views.map((v, i) => ({ v, i })).filter(({ v, i }) => v.side !== 'pictorial' && boxes[i]);
  const figure = (mm: number): string => units.number(Math.round(mm * 1e3) / 1e3, 'mm', 6);
  for (const s of chosen) {
    const seen = flat.flatMap(({ v, i }) => {
      const at = sizeIn(s, v);
      return at ? [{ i, ...at }] : [];
    });
    const best = seen.find((x) => x.best) ?? seen.at(0);
    if (best) out[best.i].push({ ...best.at, written: `${s.sign}${figure(s.value)}` });
    else unseen.push(s.name);
  }
  if (d.overall === false) return { dims: out, unseen };
  // Length and height in the first view, depth in the next that shows it; what a chosen size says is not said twice.
  const done: (readonly number[])[] = [];
  const said = (value: number): boolean => chosen.some((s) => Math.abs(s.value - value) < 1e-3);
  for (const { v, i } of flat) {
    const [x0, y0, x1, y1] = boxes[i]!;
    for (const [axis, at] of [
      [v.right, { direction: [1, 0] as Point, from: x0, to: x1, low: y0, high: y1 }],
      [v.up, { direction: [0, 1] as Point, from: y0, to: y1, low: -x1, high: -x0 }],
    ] as const) {
      if (done.some((a) => Math.abs(dot(a as [number, number, number], axis)) > 0.5)) continue;
      done.push(axis);
      if (said(at.to - at.from)) continue;
      out[i].push({ ...at, written: figure(at.to - at.from), outer: true });
    }
  }
  return { dims: out, unseen };
}

/** Parts of a view at a scale, on paper about the origin of its own middle. */
interface Laid extends Placed {
  marks: Mark[];
  middle: Point;
}

const scaled = (p: Path, scale: number, [ox, oy]: Point): Path => {
  const to = ([x, y]: Point): Point => [ox + scale * x, oy + scale * y];
  return {
    start: to(p.start),
    pieces: p.pieces.map((q) =>
      q.kind === 'line'
        ? { kind: 'line', to: to(q.to) }
        : q.kind === 'arc'
          ? { kind: 'arc', to: to(q.to), centre: to(q.centre), angle: q.angle }
          : { kind: 'curve', to: to(q.to), c1: to(q.c1), c2: to(q.c2) },
    ),
  };
};

/** What a view draws at a scale, about its own middle. */
function laid(
  view: View,
  bodies: readonly DrawnBody[],
  p: Projection,
  box: Box,
  scale: number,
  dims: readonly (InView & { written: string; outer?: true })[],
  hidden: boolean,
  others: readonly View[],
): Laid {
  const middle: Point = [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
  const off: Point = [-scale * middle[0], -scale * middle[1]];
  const put = (line: 'visible' | 'hidden' | 'axis' | 'thin', paths: readonly Path[]): Mark[] =>
    paths.map((x): Mark => ({ kind: 'stroke', line, path: scaled(x, scale, off) }));
  const cut = bodies.filter((b) => takenBy(view, b) !== 'gone');
  const surfaces = cut.map((b) => surfaceLines(b, view, scale));
  const marks: Mark[] = [
    ...p.cuts.flatMap(({ edges, hatch }) =>
      hatching(
        edges.map((x, i) => scale * x + off[i % 2]),
        hatch,
      ).map((path): Mark => ({ kind: 'stroke', line: 'thin', path })),
    ),
    ...(hidden && view.side !== 'pictorial' ? put('hidden', p.hidden) : []),
    ...(view.side === 'pictorial' ? [] : put('axis', [...surfaces.flatMap((s) => s.pitch), ...centreLines(cut, view, scale)])),
    ...put(
      'thin',
      surfaces.flatMap((s) => s.core),
    ),
    ...put('visible', p.visible),
  ];
  const own: Box = [scale * box[0] + off[0], scale * box[1] + off[1], scale * box[2] + off[0], scale * box[3] + off[1]];
  // Where sections cut: the ends of their planes, with arrows and letters, in the first view that shows the plane edge on.
  const out: [number, number, number, number] = [...own];
  for (const s of others) {
    const { along, at, letter } = s.cut!;
    const [ax, ay] = inView(view, along);
    const on = (t: number): Point => [ax * (scale * at + off[0] * ax + off[1] * ay) - ay * t, ay * (scale * at + off[0] * ax + off[1] * ay) + ax * t];
    const reach = [
      [own[0], own[1]],
      [own[2], own[1]],
      [own[0], own[3]],
      [own[2], own[3]],
    ].map(([x, y]) => -ay * x + ax * y);
    const [low, high] = [Math.min(...reach) - 4, Math.max(...reach) + 4];
    // Dimensions stand outside the letters.
    const k = Math.abs(ay) > 0.5 ? 0 : 1;
    [out[k], out[k + 2]] = [own[k] - 12, own[k + 2] + 12];
    marks.push(stroke('axis', on(low), on(high)), stroke('visible', on(low), on(low + 4)), stroke('visible', on(high - 4), on(high)));
    for (const [t, s1] of [
      [low, -1],
      [high, 1],
    ]) {
      const [x, y] = on(t);
      marks.push(stroke('thin', [x - 7 * ax, y - 7 * ay], [x, y]), { kind: 'arrow', tip: [x, y], along: [ax, ay] });
      marks.push(text([x - 10 * ax + s1 * -ay * 1, y - 10 * ay + s1 * ax * 1 - 1.75], letter, 5, 'middle', { bold: true }));
    }
  }
  const { marks: dimensions, room } = placeDimensions(
    dims.map(({ written, outer, ...at }): Dimension => ({ at: onPaper(at, scale, off), written, ...(outer && { outer }) })),
    out,
  );
  if (others.length) for (const side of ['below', 'above', 'left', 'right'] as const) room[side] = Math.max(room[side], 14);
  marks.push(...dimensions);
  return { side: view.side, box: own, room, marks, middle };
}

const moved = (m: Mark, dx: number, dy: number): Mark => {
  const to = ([x, y]: Point): Point => [x + dx, y + dy];
  if (m.kind === 'text') return { ...m, at: to(m.at) };
  if (m.kind === 'arrow') return { ...m, tip: to(m.tip) };
  return { ...m, path: scaled(m.path, 1, [dx, dy]) };
};

/** The kind of document that a drawing is. */
const kindOf = (d: KeptDrawing): string =>
  d.shows === 'train map' ? 'Kinematic diagram' : d.member === undefined ? 'Assembly drawing' : 'Part drawing';

/**
 * A drawing: its views arranged, with dimensions, gear data, border and title block, at the largest scale of ISO 5455 that fits
 * or the one that is stated. `projections` are what the kernel sees of each of `viewsOf(d)`, in their order.
 */
export function drawSheet(
  worked: Worked,
  d: KeptDrawing,
  bodies: readonly DrawnBody[],
  projections: readonly Projection[],
  title: TitleData,
  left: readonly string[] = [],
): Drawn {
  const { design } = worked.compiled;
  const units = unitsOf(design.settings);
  const paper = d.paper ?? 'A3';
  const third = d.angle === 'third angle';
  const notes = [...left];
  // Of a part: what its bodies are made of.
  const drawn = new Set(bodies.map((b) => b.element));
  const material =
    d.member === undefined ? '' : [...new Set(design.elements.flatMap((e) => (drawn.has(e.id) && e.material ? [e.material] : [])))].join(', ');
  const sheet = (marks: Mark[], scale: string, table?: GearTable): Sheet => ({
    title: `${design.name}: ${d.name}`,
    width: PAPER_SIZES[paper][0],
    height: PAPER_SIZES[paper][1],
    marks: [
      ...formOf(design, d, title, {
        scale,
        kind: kindOf(d),
        material,
        unit: units.of('mm'),
        third,
        symbol: d.shows !== 'train map',
        ...(table && { table }),
      }),
      ...marks,
    ],
  });
  if (d.shows === 'train map') {
    const map = mapShapes(worked.compiled, worked.ledger, units);
    if (!map) notes.push('The design has no member yet: there is no train to draw.');
    return { sheet: sheet(map ? mapMarks(map, areaOf(paper)) : [], '–'), scale: '–', sizes: [], areas: [], planes: [], notes };
  }
  const wheels = d.gearData === false ? { left: 0 } : gearData(worked, bodies, units, mostWheels(paper));
  const table = wheels.table;
  if (wheels.left) {
    notes.push(
      `The gear data of ${wheels.left} more ${wheels.left === 1 ? 'wheel is' : 'wheels are'} left out: a larger paper, or a drawing of one member, has room for them.`,
    );
  }
  const sizes = sizesOf(design, bodies);
  const planes = planesOf(bodies, d);
  const asked = new Set((d.dimensions ?? []).map(key));
  const chosen = sizes.filter((s) => asked.has(key(s)));
  if (chosen.length < asked.size) notes.push(`${asked.size - chosen.length} of the chosen dimensions are of nothing that is drawn.`);
  const views = viewsOf(d);
  const boxes = projections.map((p) => boxOf([...p.visible, ...p.hidden]));
  const { dims, unseen } = dimensionsIn(d, views, boxes, chosen, units);
  if (unseen.length && boxes.some(Boolean)) notes.push(`No view shows in true length: ${listedUpTo(5, unseen)}. Add a view from another side.`);
  views.forEach((v, i) => {
    if (!boxes[i] && bodies.length) notes.push(`${v.cut ? `Section ${v.cut.letter}–${v.cut.letter}` : `The view from ${v.side}`} shows nothing.`);
  });
  // Where each section is marked: in the first view that shows its plane edge on.
  const marked = views.map((): View[] => []);
  for (const s of views) {
    const at = s.cut
      ? views.findIndex((v, i) => v.side !== 'pictorial' && v !== s && !v.cut && boxes[i] && Math.abs(dot(v.towards, s.cut!.along)) < 1e-9)
      : -1;
    if (at >= 0) marked[at].push(s);
  }
  const area: Area = areaOf(paper, table);
  const some = views.map((_, i) => i).filter((i) => boxes[i]);
  const at = (scale: number): { parts: Laid[]; where: [number, number][] | undefined } => {
    const parts = some.map((i) => laid(views[i], bodies, projections[i], boxes[i]!, scale, dims[i], d.hidden === true, marked[i]));
    return { parts, where: arranged(parts, third, area.width, area.height) };
  };
  if (!some.length) {
    notes.push(bodies.length ? 'None of the views shows anything.' : 'There is no body to draw.');
    return { sheet: sheet([], '–', table), scale: '–', sizes: [], areas: [], planes: [], notes };
  }
  const stated = d.scale && d.scale !== 'largest that fits' ? d.scale : undefined;
  const scale = stated ?? DRAWING_SCALES.find((s) => at(ratioOf(s)).where) ?? DRAWING_SCALES[DRAWING_SCALES.length - 1];
  const { parts, where } = at(ratioOf(scale));
  if (!where) {
    notes.push(`The views do not fit on ${paper} at ${scale}: choose a larger paper, a smaller scale or fewer views.`);
    return { sheet: sheet([], scale, table), scale, sizes: shownSizes(sizes, asked), areas: [], planes, notes };
  }
  const areas: { element: Id; box: Box }[] = [];
  const marks = parts.flatMap((p, k) => {
    const view = views[some[k]];
    const [dx, dy] = [area.x + where[k][0], area.y + area.height - where[k][1]];
    areas.push(...bodyAreas(view, bodies, p, ratioOf(scale), [dx, dy]));
    const out = p.marks.map((m) => moved(m, dx, dy));
    if (view.cut) out.push(text([dx, dy + p.box[3] + p.room.above + 4], `${view.cut.letter}–${view.cut.letter}`, 5, 'middle', { bold: true }));
    return out;
  });
  return { sheet: sheet(marks, scale, table), scale, sizes: shownSizes(sizes, asked), areas, planes, notes };
}

const shownSizes = (sizes: readonly Size[], asked: ReadonlySet<string>): Drawn['sizes'] =>
  sizes.map(({ size, a, b, name, value }) => ({ size, a, b, name, value, shown: asked.has(key({ size, a, b })) }));

/** Where bodies are in a view on paper. */
function bodyAreas(view: View, bodies: readonly DrawnBody[], { middle }: Laid, scale: number, [dx, dy]: Point): { element: Id; box: Box }[] {
  return bodies.map((b) => {
    const { place, extent } = b;
    const [lo, hi] = extent;
    let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < 8; i++) {
      const c = [i & 1 ? hi[0] : lo[0], i & 2 ? hi[1] : lo[1], i & 4 ? hi[2] : lo[2]];
      const [x, y] = inView(
        view,
        [0, 1, 2].map((k) => place.o[k] + c[0] * place.x[k] + c[1] * place.y[k] + c[2] * place.z[k]) as [number, number, number],
      );
      [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
    }
    const [ox, oy] = [dx - scale * middle[0], dy - scale * middle[1]];
    return { element: b.element, box: [ox + scale * x0, oy + scale * y0, ox + scale * x1, oy + scale * y1] };
  });
}

/** Planes along the axes of round bodies that lie along the world's: seen as the front is, or across it where the axis is looked along. */
function planesOf(bodies: readonly DrawnBody[], d: KeptDrawing): Drawn['planes'] {
  const front = d.along ?? '+y';
  return bodies.flatMap((b) => {
    if (!b.round) return [];
    const across = ([front, '+x', '+y', '+z'] as const).find((along) => Math.abs(b.place.z['xyz'.indexOf(along[1])]) < 1e-6);
    return across ? [{ element: b.element, name: b.name, along: across, at: Math.round(b.place.o['xyz'.indexOf(across[1])] * 1e6) / 1e6 }] : [];
  });
}

/** What a new drawing shows: the whole design, or one member with its axis across the paper. */
export function newDrawing(compiled: Compiled, member?: Id): Omit<KeptDrawing, 'id'> {
  const { design } = compiled;
  if (member === undefined) {
    return {
      name: 'General arrangement',
      paper: 'A3',
      sides: [{ side: 'front' }, { side: 'left' }, { side: 'pictorial' }],
      gearData: false,
    };
  }
  const first = design.elements.find((e) => e.member === member && isRound(e.type));
  const axis = first && compiled.elementFrames.get(first.id)?.z;
  return {
    name: design.members.find((m) => m.id === member)?.name ?? 'Frame',
    member,
    paper: 'A3',
    ...(axis && Math.abs(axis[1]) > 0.7 && { along: '+x' as const }),
    sides: [{ side: 'front' }, { side: 'left' }],
  };
}
