import type { Worked } from '../checks/index';
import { unitsOf } from '../document/index';
import { DRAWING_SCALES, type SeenAlong } from '../fields/common';
import type { Id, KeptDrawing } from '../fields/types';
import type { Compiled } from '../kinematics/index';
import { mapShapes } from '../map/index';
import { dot } from '../math/index';
import { listedUpTo } from '../units/index';
import { arranged } from './arrange';
import { type DrawnBody, bodyReach, isRound } from './bodies';
import type { Dimension } from './dimensions';
import { type GearTable, PAPER_SIZES, type TitleData, areaOf, formOf, mostWheels } from './form';
import { gearData } from './gear-data';
import { type Laid, type Shown, laid, markAt } from './laid';
import { mapMarks } from './map-marks';
import { type Mark, type Sheet, text } from './marks';
import { type Box, type Projection, boxOf } from './projection';
import { type Size, saysReach, sizeIn, sizesOf } from './sizes';
import { type View, viewsOf } from './views';

export { type DrawnBody, bodiesOf, takenBy } from './bodies';
export { PAPER_SIZES, type PaperSize, type TitleData } from './form';
export { ARROW, LINES, LINE_KINDS, type LineKind, type Mark, type Path as DrawnPath, type Sheet, type TextMark } from './marks';
export { type Projection, drawnOnce } from './projection';
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

/** The size of a view on which dimensions are put. */
type Flat = Pick<Shown, 'view' | 'box'> & { dimensions: Dimension[] };

/** Puts each size into the view that shows it best, else the first that shows it; gives those that none shows. */
function putSizes(flat: readonly Flat[], chosen: readonly Size[], figure: (mm: number) => string): string[] {
  const unseen: string[] = [];
  for (const s of chosen) {
    const seen = flat.flatMap((into) => {
      const is = sizeIn(s, into.view);
      return is ? [{ into, ...is }] : [];
    });
    const best = seen.find((x) => x.best) ?? seen.at(0);
    if (best) best.into.dimensions.push({ at: best.at, written: `${s.sign}${figure(s.value)}` });
    else unseen.push(s.name);
  }
  return unseen;
}

/** Length and height in the first view, depth in the next that shows it; what a chosen size says is not said twice. */
function putOverall(flat: readonly Flat[], chosen: readonly Size[], figure: (mm: number) => string): void {
  const done: View['up'][] = [];
  for (const { view, box, dimensions } of flat) {
    const [x0, y0, x1, y1] = box;
    const both = [
      [view.right, { direction: [1, 0], from: x0, to: x1, low: y0, high: y1 }],
      [view.up, { direction: [0, 1], from: y0, to: y1, low: -x1, high: -x0 }],
    ] as const;
    for (const [axis, at] of both) {
      if (done.some((a) => Math.abs(dot(a, axis)) > 0.5)) continue;
      done.push(axis);
      if (!chosen.some((s) => saysReach(s, axis, at.from, at.to))) dimensions.push({ at, written: figure(at.to - at.from), outer: true });
    }
  }
}

/**
 * The views at the largest scale of ISO 5455 that fits, or the stated one: where each stands; undefined where they do not fit.
 */
function fitting(
  shown: readonly Shown[],
  bodies: readonly DrawnBody[],
  stated: string | undefined,
  third: boolean,
  room: { width: number; height: number },
): { scale: string; parts: Laid[]; where: [number, number][] | undefined } {
  const at = (scale: string): ReturnType<typeof fitting> => {
    const parts = shown.map((s) => laid(s, bodies, ratioOf(scale)));
    return { scale, parts, where: arranged(parts, third, room.width, room.height) };
  };
  if (stated) return at(stated);
  for (const scale of DRAWING_SCALES) {
    const made = at(scale);
    if (made.where) return made;
  }
  return at(DRAWING_SCALES[DRAWING_SCALES.length - 1]);
}

/** The kind of document that a drawing is. */
const kindOf = (d: KeptDrawing): string =>
  d.shows === 'train map' ? 'Kinematic diagram' : d.member === undefined ? 'Assembly drawing' : 'Part drawing';
const nameOf = ({ cut, side }: View): string => (cut ? `Section ${cut.letter}–${cut.letter}` : `The view from ${side}`);

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
  const finished = (marks: Mark[], rest: Pick<Drawn, 'scale' | 'sizes' | 'areas' | 'planes'>, table?: GearTable): Drawn => {
    const form = formOf(design, d, title, {
      scale: rest.scale,
      kind: kindOf(d),
      material: materialOf(worked, d, bodies),
      unit: units.of('mm'),
      third,
      symbol: d.shows !== 'train map',
      ...(table && { table }),
    });
    if (form.cut.length) {
      notes.push(
        `Too long for their places, and cut short: ${listedUpTo(
          4,
          [...new Set(form.cut)].map((t) => `“${t}”`),
        )}.`,
      );
    }
    const [width, height] = PAPER_SIZES[paper];
    return { ...rest, sheet: { title: `${design.name}: ${d.name}`, width, height, marks: [...form.marks, ...marks] }, notes };
  };
  if (d.shows === 'train map') {
    const map = mapShapes(worked.compiled, worked.ledger, units);
    if (!map) notes.push('The design has no member yet: there is no train to draw.');
    return finished(map ? mapMarks(map, areaOf(paper)) : [], { scale: '–', sizes: [], areas: [], planes: [] });
  }
  const wheels = d.gearData === false ? { left: 0 } : gearData(worked, bodies, units, mostWheels(paper));
  const { table } = wheels;
  if (wheels.left) {
    const more = `${wheels.left} more ${wheels.left === 1 ? 'wheel is' : 'wheels are'}`;
    notes.push(`The gear data of ${more} left out: a larger paper, or a drawing of one member, has room for them.`);
  }
  const all = sizesOf(design, bodies);
  const asked = new Set((d.dimensions ?? []).map(key));
  const chosen = all.filter((s) => asked.has(key(s)));
  if (chosen.length < asked.size) notes.push(`${asked.size - chosen.length} of the chosen dimensions are of nothing that is drawn.`);
  const rest = {
    scale: '–',
    sizes: all.map(({ size, a, b, name, value }) => ({ size, a, b, name, value, shown: asked.has(key({ size, a, b })) })),
    areas: [] as { element: Id; box: Box }[],
    planes: planesOf(bodies, d),
  };
  const shown: (Shown & Flat)[] = viewsOf(d).flatMap((view, i) => {
    const projection = projections[i];
    const box = boxOf([...projection.visible, ...projection.hidden]);
    if (!box && bodies.length) notes.push(`${nameOf(view)} shows nothing.`);
    return box ? [{ view, projection, box, dimensions: [], marked: [] }] : [];
  });
  if (!shown.length) {
    if (!bodies.length) notes.push('There is no body to draw.');
    return finished([], rest, table);
  }
  const flat = shown.filter((s) => s.view.side !== 'pictorial');
  const figure = (mm: number): string => units.number(Math.round(mm * 1e3) / 1e3, 'mm', 6);
  const unseen = putSizes(flat, chosen, figure);
  if (unseen.length) notes.push(`No view shows in true length: ${listedUpTo(5, unseen)}. Add a view from another side.`);
  if (d.overall !== false) putOverall(flat, chosen, figure);
  // Each section is marked in the first view that shows its plane edge on.
  const marked = (v: View): View[] =>
    shown.flatMap(({ view: s }) =>
      s.cut && flat.find((f) => !f.view.cut && Math.abs(dot(f.view.towards, s.cut!.along)) < 1e-9)?.view === v ? [s] : [],
    );
  const area = areaOf(paper, table);
  const stated = d.scale && d.scale !== 'largest that fits' ? d.scale : undefined;
  const { scale, parts, where } = fitting(
    shown.map((s) => ({ ...s, marked: marked(s.view) })),
    bodies,
    stated,
    third,
    area,
  );
  if (!where) {
    notes.push(`The views do not fit on ${paper} at ${scale}: choose a larger paper, a smaller scale or fewer views.`);
    return finished([], { ...rest, scale }, table);
  }
  const marks = parts.flatMap((p, k) => {
    const { view } = p;
    const [dx, dy] = [area.x + where[k][0], area.y + area.height - where[k][1]];
    rest.areas.push(...bodyAreas(p, bodies, ratioOf(scale), dx, dy));
    const over = view.cut ? [text([dx, dy + p.box[3] + p.room.above + 4], `${view.cut.letter}–${view.cut.letter}`, 5, 'middle', { bold: true })] : [];
    return [...p.marks.map((m) => markAt(m, dx, dy)), ...over];
  });
  return finished(marks, { ...rest, scale }, table);
}

/** Of a part: what its bodies are made of. */
function materialOf({ compiled }: Worked, d: KeptDrawing, bodies: readonly DrawnBody[]): string {
  if (d.member === undefined) return '';
  const shown = new Set(bodies.map((b) => b.element));
  return [...new Set(compiled.design.elements.flatMap((e) => (shown.has(e.id) && e.material ? [e.material] : [])))].join(', ');
}

/** Where bodies are in a view on paper. */
function bodyAreas({ view, middle }: Laid, bodies: readonly DrawnBody[], scale: number, dx: number, dy: number): { element: Id; box: Box }[] {
  return bodies.map((b) => {
    const [[x0, x1], [y0, y1]] = [bodyReach(b, view.right), bodyReach(b, view.up)];
    const [x, y] = [(u: number): number => dx + scale * (u - middle[0]), (u: number): number => dy + scale * (u - middle[1])];
    return { element: b.element, box: [x(x0), y(y0), x(x1), y(y1)] };
  });
}

/**
 * Planes along the axes of round bodies that lie along the world's: seen as the front is, or across it where the axis is looked
 * along.
 */
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
