import { type Compiled, exactRatio } from '@unirota/core';
import { type Id, type WantedOutput } from '@unirota/core/document';
import { type PiRatio, piToText } from '@unirota/core/math';
import { gearOf } from '@unirota/core/elements';
import { type MapTrain, type PlanetarySet, type TrainEdge, coaxial, mapTrain, onFrame, setText, statedOf } from './map-train';

/** A place for a text: its left or right end on the line of writing, and the room that it has. */
export interface Cell {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A member as a line of the map. */
export interface MapMember {
  id: Id;
  name: string;
  slide: boolean;
  /** Of a slide that stands upright: whether its positive sense goes up (1) or down (−1); 0 of others. */
  upright: 1 | -1 | 0;
  /** Line from x0 to x1 at height y. */
  x0: number;
  x1: number;
  y: number;
  /** Where its name, speed and torque stand. */
  label: Cell;
  /** Members like it that are drawn with it. */
  alike: Id[];
  source?: { id: Id; type: string };
  wanted: Id[];
  joint?: Id;
  /** Middle of its bearing on the frame. */
  bearing?: number;
  loads: { id: Id; name: string }[];
}

/** One wheel, thread or pin on a line: where a coupling's vertical meets it. */
export interface Touch {
  member: Id;
  x: number;
  y: number;
}

/** A coupling as a symbol between lines. */
export interface MapCoupling {
  key: string;
  id: Id;
  name: string;
  type: string;
  x: number;
  /** From the driving line to the others, top to bottom of them all; of the frame it has a stub to `ground`. */
  touches: Touch[];
  /** Where the first two wheels meet, between both lines, and their far ends. */
  meet: number;
  farA: number;
  farB: number;
  /** End of the stub where one side is the frame. */
  ground?: { x: number; y: number };
  stated: string;
  ratio?: PiRatio;
  /** Unit of the ratio: of a turn that becomes a travel, or back. */
  unit: '' | 'mm/rev' | 'rev/mm';
  /** Coordinate of the first driven line, −1 where it has none. */
  driven: number;
  label: Cell;
  /** Lines that cross it without being tied: [x, y]. */
  crossings: [number, number][];
  /** The coupling's own second element stands on the first line. */
  turned: boolean;
  set?: SetDrawing;
  box?: { x: number; y: number; width: number; height: number; members: { id: Id; name: string }[]; joints: number };
}

/** A planetary set: its verticals, the pin of the planets, and what is held. */
export interface SetDrawing {
  verticals: { x: number; from: number; to: number; meet: number; held: boolean; ring: boolean; text: string }[];
  pin: { x: number; from: number; to: number };
}

export interface MapLayout {
  members: MapMember[];
  couplings: MapCoupling[];
  width: number;
  height: number;
}

/** Height of a text, and about how wide one of its letters is in the condensed face. */
const LINE = 15;
const LETTER = 6.1;
export const widthOf = (text: string): number => Math.ceil(text.length * LETTER) + 4;
/** Room for live figures: "−1234 rev/min ↻  1234 N·m". */
export const LIVE = widthOf('−1234 rev/min ↻ 12340 N·m');
/** Room for a ratio. */
const RATIO = widthOf('−102π mm/rev');
const LEFT = 58;
const TOP = 12;
/** Above a line stand loads and far ends of wheels, below it two lines of text. */
const ABOVE = 30;
const BELOW = 44;
/** Between lines that share a height without sharing an axis. */
const APART = 70;
const FAR = 24;

interface Row {
  members: Id[];
  /** Planets keep their height to themselves. */
  alone: boolean;
  below: number;
  above: number;
  y: number;
}

interface Column {
  edge: TrainEdge;
  /** The member from which the train comes to it. */
  from: Id;
  level: number;
  children: Id[];
  x: number;
  width: number;
  /** Where each end meets it. */
  at: Map<Id, number>;
}

/**
 * Places a train on a grid: rows are axes and slides, columns are couplings, from the sources at the left to
 * the outputs at the right. A member begins at the coupling that drives it, has a column of its own for its
 * name and figures, and ends at the last coupling that it drives; so no vertical crosses a text. Branches
 * are stacked, the farther one drawn off first, so that verticals seldom cross lines; where one does, it
 * bridges it. Lines that do not meet share a height: those of one axis, else those that stand well apart.
 */
export function mapLayout(compiled: Compiled, open: ReadonlySet<Id> = new Set()): MapLayout {
  const train = mapTrain(compiled, open);
  const columns = levelsOf(compiled, train);
  const depth = columns.depth;
  const rows = rowsOf(train, columns);
  const width = placeColumns(compiled, columns, rows, depth);
  const extent = extentsOf(train, columns, depth);
  share(compiled, rows, columns, extent, depth);
  const height = placeRows(rows);
  return draw(compiled, train, columns, rows, extent, width, height);
}

interface Columns {
  list: Column[];
  depth: Map<Id, number>;
  /** Left end of the column of texts of each level. */
  texts: number[];
  roots: Id[];
}

/** Breadth first from the sources: the level of every member and coupling, and which member it drives first. */
function levelsOf(compiled: Compiled, train: MapTrain): Columns {
  const { structure } = compiled;
  const depth = new Map<Id, number>();
  const list: Column[] = [];
  const roots: Id[] = [];
  const of = new Map<Id, TrainEdge[]>();
  for (const e of train.edges) for (const m of e.ends) of.set(m, [...(of.get(m) ?? []), e]);
  const used = new Set<TrainEdge>();
  const visit = (root: Id): void => {
    roots.push(root);
    depth.set(root, 0);
    const queue = [root];
    for (let head = 0; head < queue.length; head++) {
      const m = queue[head];
      for (const edge of of.get(m) ?? []) {
        if (used.has(edge)) continue;
        used.add(edge);
        const known = edge.ends.filter((x) => depth.has(x));
        const level = Math.max(...known.map((x) => depth.get(x)!));
        const children = [...edge.ends.filter((x) => !depth.has(x)), ...(edge.set?.classes.map((k) => k.planet) ?? [])];
        for (const x of children) {
          depth.set(x, level + 1);
          queue.push(x);
        }
        list.push({ edge, from: m, level, children, x: 0, width: 0, at: new Map() });
      }
    }
  };
  const drawn = new Set(train.members);
  for (const s of compiled.sources) {
    const { child, parent } = structure.coordinates[s.coordinate].joint;
    const m = drawn.has(child) ? child : parent;
    if (drawn.has(m) && !depth.has(m)) visit(m);
  }
  for (const m of train.members) if (!depth.has(m)) visit(m);
  return { list, depth, texts: [], roots };
}

/** A row for each member: what it drives below it, the planets of a set above. */
function rowsOf(train: MapTrain, { list, roots }: Columns): Row[] {
  const rows: Row[] = [];
  const of = new Map<Id, Row>();
  const add = (m: Id, at: number, alone = false): Row => {
    const row: Row = { members: [m], alone, above: ABOVE, below: BELOW, y: 0 };
    rows.splice(at, 0, row);
    of.set(m, row);
    return row;
  };
  const drives = new Map<Id, Column[]>();
  for (const c of list) drives.set(c.from, [...(drives.get(c.from) ?? []), c]);
  const later = (c: Column, m: Id): boolean =>
    list.some((o) => o !== c && o.edge.ends.includes(m) && (o.level > c.level || (o.edge.box && o.from === m)));
  // The last row of what hangs on a member.
  const place = (m: Id): Row => {
    let last = of.get(m)!;
    for (const c of drives.get(m) ?? []) {
      const { set, box } = c.edge;
      if (box) of.get(m)!.below = Math.max(BELOW, boxHeight(box.members.length - c.edge.ends.length) - 12);
      const planets = set?.classes.map((k) => k.planet) ?? [];
      for (const p of planets) add(p, rows.indexOf(of.get(m)!), true).above = ABOVE + (set!.contacts.some((x) => x.ring && !x.other) ? 28 : 0);
      const rings = new Set(set?.contacts.flatMap((x) => (x.ring && x.other ? [x.other] : [])));
      for (const child of c.children) {
        if (planets.includes(child)) continue;
        if (box && child === c.children[0] && !later(c, m)) {
          // The line ends at the linkage, and the first that leaves it begins on the other side.
          of.get(m)!.members.push(child);
          of.set(child, of.get(m)!);
        } else if (rings.has(child)) add(child, rows.indexOf(of.get(planets[0])!));
        else add(child, rows.indexOf(last) + 1);
        const end = place(child);
        if (rows.indexOf(end) > rows.indexOf(last)) last = end;
      }
      for (const p of planets) place(p);
    }
    return last;
  };
  for (const r of roots) {
    add(r, rows.length);
    place(r);
  }
  return rows;
}

const boxHeight = (members: number): number => 42 + LINE * Math.min(members, 6);
const rowIndex = (rows: readonly Row[]): Map<Id, number> => new Map(rows.flatMap((r, k) => r.members.map((m): [Id, number] => [m, k])));

/**
 * Gives texts and couplings their columns, level by level; of one level those
 * that go farthest come first, sets and linkages last. Gives the width.
 */
function placeColumns(compiled: Compiled, columns: Columns, rows: readonly Row[], depth: ReadonlyMap<Id, number>): number {
  const at = rowIndex(rows);
  const names = new Map(compiled.design.members.map((m) => [m.id, m.name]));
  const levels = Math.max(0, ...depth.values()) + 1;
  const reach = (c: Column): number => Math.max(...c.edge.ends.map((m) => at.get(m) ?? 0));
  const leads = (c: Column): number => (c.edge.ends.length > 1 ? 1 : 0);
  const wide = (c: Column): number => (c.edge.set || c.edge.box ? 1 : 0);
  const planets = new Set(columns.list.flatMap((c) => c.edge.set?.classes.map((k) => k.planet) ?? []));
  let x = LEFT;
  for (let level = 0; level < levels; level++) {
    columns.texts[level] = x;
    const here = [...depth].filter(([m, d]) => d === level && !planets.has(m)).map(([m]) => Math.max(LIVE, widthOf(names.get(m) ?? m)));
    x += here.length ? Math.max(...here) + 12 : 0;
    const list = columns.list.filter((c) => c.level === level).sort((a, b) => wide(a) - wide(b) || leads(a) - leads(b) || reach(b) - reach(a));
    for (const shared of sharing(list)) {
      const ends = shared.map((c) => placeColumn(compiled, c, x, names));
      x = Math.max(...ends);
      const at = Math.max(...shared.map((c) => c.x));
      if (shared.length > 1) for (const c of shared) standAt(c, at);
    }
  }
  return x + 70;
}

/**
 * What couples a member to the frame is a symbol at that member's
 * line: such symbols of different members stand in one column.
 */
function sharing(list: readonly Column[]): Column[][] {
  const out: Column[][] = [];
  const simple = (c: Column): boolean => c.edge.ends.length < 2 && !c.edge.set && !c.edge.box;
  for (const c of list) {
    const into = simple(c) ? out.find((o) => simple(o[0]) && o.every((x) => x.from !== c.from)) : undefined;
    if (into) into.push(c);
    else out.push([c]);
  }
  return out;
}

function standAt(c: Column, x: number): void {
  c.x = x;
  for (const m of c.edge.ends) c.at.set(m, x);
}

/** One coupling's column from x on: where its ends meet it. Gives where the next one may begin. */
function placeColumn(compiled: Compiled, c: Column, x: number, names: ReadonlyMap<Id, string>): number {
  const { edge } = c;
  if (edge.set) return placeSet(edge.set, c, x, names);
  if (edge.box) {
    const inner = Math.max(...edge.box.members.map((m) => widthOf(names.get(m) ?? m)), widthOf(edge.name) + 18, 120) + 24;
    for (const m of edge.ends) c.at.set(m, c.children.includes(m) ? x + inner : x);
    c.x = x;
    c.width = inner;
    return x + inner + 16;
  }
  const said = Math.max(widthOf(statedOf(compiled, edge, c.from)), edge.type === 'joint' ? 20 : RATIO, edge.ends.length < 2 ? widthOf(edge.name) : 0);
  c.x = x + said + (edge.type === 'belt' || edge.type === 'chain' ? 20 : 14);
  c.width = said;
  for (const m of edge.ends) c.at.set(m, c.x);
  return c.x + 26;
}

function placeSet(set: PlanetarySet, c: Column, x: number, names: ReadonlyMap<Id, string>): number {
  // The carrier's pin stands on the side from which it comes or to which it goes.
  const fromCarrier = c.from === set.carrier;
  let at = x + 14;
  if (fromCarrier) {
    c.at.set(set.carrier, at);
    at += 46;
  }
  // From the side of what drives: its own wheel first.
  const contacts = [...set.contacts].sort((p, q) => (q.other === c.from ? 1 : 0) - (p.other === c.from ? 1 : 0));
  const places: number[] = [];
  for (const k of contacts) {
    // A ring stands over its planet in the place of the sun under it.
    const same = contacts
      .slice(0, places.length)
      .findIndex((o) => o.planet === k.planet && o.ring !== k.ring && !set.classes.some((cl) => cl.planet === o.other));
    const free = same >= 0 && places.filter((p) => p === places[same]).length < 2;
    places.push(free ? places[same] : at);
    if (k.other && !set.classes.some((cl) => cl.planet === k.other)) c.at.set(k.other, places[places.length - 1]);
    if (!free) at += 54;
  }
  if (!fromCarrier) {
    c.at.set(set.carrier, at);
    at += 14;
  }
  c.x = x;
  contacts.forEach((k, i) => c.at.set(`${k.coupling} ${k.planet}`, places[i]));
  const said = Math.max(
    widthOf(setText(set)),
    ...set.classes.map((k) => Math.max(LIVE, widthOf(`${names.get(k.planet) ?? k.planet} × ${k.alike.length + 1}`))),
  );
  for (const k of set.classes) c.at.set(k.planet, at + 8);
  c.width = at - x;
  return at + said + 24;
}

/** From where to where each member's line runs. */
function extentsOf(train: MapTrain, { list, texts }: Columns, depth: ReadonlyMap<Id, number>): Map<Id, [number, number]> {
  const out = new Map<Id, [number, number]>();
  const planets = new Map(list.flatMap((c) => (c.edge.set?.classes ?? []).map((k): [Id, Column] => [k.planet, c])));
  for (const m of train.members) {
    const set = planets.get(m);
    if (set) {
      const xs = set.edge.set!.contacts.flatMap((k) => (k.planet === m || k.other === m ? [set.at.get(`${k.coupling} ${k.planet}`)!] : []));
      xs.push(set.at.get(set.edge.set!.carrier)!);
      const others = list.filter((c) => c !== set && c.at.has(m)).map((c) => c.at.get(m)!);
      out.set(m, [Math.min(...xs), Math.max(...xs, ...others)]);
      continue;
    }
    const own = list.filter((c) => c.at.has(m));
    const by = own.find((c) => c.children.includes(m));
    const level = depth.get(m)!;
    const x0 = by ? by.at.get(m)! : texts[level];
    const last = Math.max(...own.map((c) => c.at.get(m)!), -Infinity);
    // What drives nothing ends behind its texts.
    const behind = (texts[level + 1] ?? Infinity) > texts[level] + LIVE ? texts[level] + LIVE + 18 : texts[level + 1] - 6;
    out.set(m, [x0, last > x0 + 1 ? last : behind]);
  }
  return out;
}

/**
 * Brings lines to one height: those of one axis where they do not overlap,
 * and others beside what drives them where they stand well apart.
 */
function share(compiled: Compiled, rows: Row[], { list }: Columns, extent: ReadonlyMap<Id, [number, number]>, depth: ReadonlyMap<Id, number>): void {
  const from = new Map(list.flatMap((c) => c.children.map((m): [Id, Id] => [m, c.from])));
  const boxed = new Set(list.filter((c) => c.edge.box).flatMap((c) => c.edge.ends));
  const order = [...rows].sort((a, b) => Math.min(...a.members.map((m) => depth.get(m)!)) - Math.min(...b.members.map((m) => depth.get(m)!)));
  const apart = (a: Row, b: Row, by: number): boolean =>
    a.members.every((p) => b.members.every((q) => extent.get(p)![0] >= extent.get(q)![1] + by || extent.get(q)![0] >= extent.get(p)![1] + by));
  for (const row of order) {
    if (row.alone || !rows.includes(row) || row.members.some((m) => boxed.has(m))) continue;
    const driver = from.get(row.members[0]);
    const own = rows.indexOf(row);
    const parent = rows.findIndex((r) => driver !== undefined && r.members.includes(driver));
    const fits = (k: number): boolean => {
      const other = rows[k];
      if (!other || k === own || other.alone || other.members.some((m) => boxed.has(m))) return false;
      if (other.members.every((m) => row.members.every((n) => coaxial(compiled, m, n)))) return apart(row, other, 12);
      return parent >= 0 && k !== parent && Math.abs(k - parent) === 1 && apart(row, other, APART);
    };
    const axis = rows.findIndex((r, k) => fits(k) && r.members.every((m) => row.members.every((n) => coaxial(compiled, m, n))));
    const to = axis >= 0 ? axis : [parent - 1, parent + 1].find((k) => k >= 0 && fits(k));
    if (to === undefined || to < 0) continue;
    const into = rows[to];
    into.members.push(...row.members);
    into.below = Math.max(into.below, row.below);
    into.above = Math.max(into.above, row.above);
    rows.splice(own, 1);
  }
}

function placeRows(rows: readonly Row[]): number {
  let y = TOP;
  for (const r of rows) {
    y += r.above;
    r.y = y;
    y += r.below;
  }
  return rows.length ? y + 6 : 120;
}

function draw(
  compiled: Compiled,
  train: MapTrain,
  columns: Columns,
  rows: readonly Row[],
  extent: ReadonlyMap<Id, [number, number]>,
  width: number,
  height: number,
): MapLayout {
  const { design, structure } = compiled;
  const y = new Map(rows.flatMap((r) => r.members.map((m): [Id, number] => [m, r.y])));
  const jointOf = new Map<Id, Id>();
  for (const j of design.joints) if (!jointOf.has(j.child)) jointOf.set(j.child, j.id);
  const coordinate = (m: Id): number => structure.firstOf.get(jointOf.get(m) ?? '') ?? -1;
  const motion = (m: Id): string | undefined => structure.coordinates[coordinate(m)]?.motion;
  const sourceOf = new Map<Id, { id: Id; type: string }>();
  for (const s of compiled.sources) {
    const { child, parent } = structure.coordinates[s.coordinate].joint;
    const m = y.has(child) ? child : parent;
    if (!sourceOf.has(m)) sourceOf.set(m, { id: s.source.id, type: s.source.type });
  }
  const sets = new Map(
    columns.list.flatMap((c) =>
      (c.edge.set?.classes ?? []).map((k): [Id, { alike: Id[]; x: number }] => [k.planet, { alike: k.alike, x: c.at.get(k.planet)! }]),
    ),
  );
  const members = train.members.map((m): MapMember => {
    const stated = design.members.find((x) => x.id === m)!;
    const [x0, x1] = extent.get(m)!;
    const planet = sets.get(m);
    const text = planet?.x ?? columns.texts[columns.depth.get(m)!] + 8;
    const q = structure.coordinates[coordinate(m)];
    return {
      id: m,
      name: stated.name,
      slide: q?.motion === 'slide',
      upright: q && Math.abs(q.axis[2]) > 0.7 ? (q.axis[2] > 0 ? 1 : -1) : 0,
      x0,
      x1,
      y: y.get(m)!,
      label: { x: text, y: y.get(m)! + 16, width: LIVE, height: 2 * LINE },
      alike: planet?.alike ?? [],
      source: sourceOf.get(m),
      wanted: design.wanted.filter((w: WantedOutput) => String(w.joint ?? '').split(':')[0] === jointOf.get(m)).map((w) => w.id),
      joint: jointOf.get(m),
      bearing: !planet && onFrame(compiled, m) ? Math.min(text + Math.max(LIVE - 30, widthOf(stated.name) + 14), x1 - 14) : undefined,
      loads: (design.loads as { id: Id; name: string; member?: Id; joint?: Id }[]).filter(
        (l) => l.member === m || (l.joint !== undefined && String(l.joint).split(':')[0] === jointOf.get(m)),
      ),
    };
  });
  const couplings = columns.list.map((c) => symbolOf(compiled, c, y, motion, coordinate));
  for (const s of couplings) {
    const ends = new Set(s.touches.map((t) => t.member));
    const ys = s.touches.map((t) => t.y);
    if (!s.box) {
      for (const m of members) {
        if (!ends.has(m.id) && m.x0 < s.x - 3 && m.x1 > s.x + 3 && m.y > Math.min(...ys) + 1 && m.y < Math.max(...ys) - 1) {
          s.crossings.push([s.x, m.y]);
        }
      }
    }
  }
  return { members, couplings, width, height };
}

/** The symbol of one coupling between its lines. */
function symbolOf(
  compiled: Compiled,
  c: Column,
  y: ReadonlyMap<Id, number>,
  motion: (m: Id) => string | undefined,
  coordinate: (m: Id) => number,
): MapCoupling {
  const { edge } = c;
  const touches = [c.from, ...edge.ends.filter((m) => m !== c.from)].map((member): Touch => ({ member, x: c.at.get(member)!, y: y.get(member)! }));
  const [a, b] = touches;
  const upper = Math.min(...touches.map((t) => t.y));
  const base = {
    key: `${edge.id}:${c.from}`,
    id: edge.id,
    name: edge.name,
    type: edge.type,
    x: c.x,
    touches,
    meet: 0,
    farA: 0,
    farB: 0,
    stated: statedOf(compiled, edge, c.from),
    unit: b ? unitOf(motion(a.member), motion(b.member)) : '',
    driven: b ? coordinate(b.member) : -1,
    label: { x: c.x - (edge.type === 'belt' || edge.type === 'chain' ? 16 : 10), y: upper + 16, width: c.width, height: 2 * LINE },
    crossings: [],
    turned: isTurned(compiled, edge.id, a.member),
    ratio: b && edge.type !== 'joint' ? ratioOf(compiled, coordinate(a.member), coordinate(b.member)) : undefined,
  };
  if (edge.box) {
    const top = upper - 22;
    const bottom = Math.max(top + boxHeight(edge.box.members.length - edge.ends.length), Math.max(...touches.map((t) => t.y)) + 22);
    const names = new Map(compiled.design.members.map((m) => [m.id, m.name]));
    const box = {
      x: c.x,
      y: top,
      width: c.width,
      height: bottom - top,
      members: edge.box.members
        .filter((id) => !edge.ends.includes(id))
        .slice(0, 6)
        .map((id) => ({ id, name: names.get(id) ?? id })),
      joints: edge.box.joints.length,
    };
    return { ...base, ratio: undefined, label: { x: c.x + 10, y: top + 16, width: c.width - 20, height: bottom - top }, box };
  }
  if (edge.set) return drawSet(base, edge.set, c, y);
  if (!b) {
    const ground = { x: c.x, y: a.y - 22 };
    return { ...base, meet: a.y - 12, farA: a.y + 12, farB: ground.y, ground, ratio: undefined };
  }
  const reach = (m: Id): number => {
    const k = compiled.design.couplings.find((x) => x.id === edge.id);
    const e = [k?.a, k?.b].map((id) => compiled.elements.get(id!)).find((x) => x?.member === m);
    return e?.type === 'gear' || e?.type === 'sector' ? gearOf(e).pitchRadius : 0;
  };
  const [ra, rb] = [reach(a.member), reach(b.member)];
  const rack = edge.type === 'rack-mesh';
  const part = rack ? (rb === 0 ? 1 : 0) : ra + rb > 0 ? Math.min(0.72, Math.max(0.28, ra / (ra + rb))) : 0.5;
  const meet = a.y + (b.y - a.y) * part;
  const away = (line: number): number => line - Math.sign(meet - line) * Math.min(Math.abs(meet - line), FAR);
  return { ...base, meet, farA: away(a.y), farB: away(b.y) };
}

function isTurned(compiled: Compiled, id: Id, first: Id): boolean {
  const k = compiled.design.couplings.find((x) => x.id === id);
  return k?.b !== undefined && compiled.elements.get(k.b)?.member === first;
}

/** A ratio as the map writes it, short. */
export function ratioText(r: PiRatio, unit: string): string {
  const text = piToText(r).replace('-', '−');
  const short =
    text.length > 12 || (unit && r.q.d > 99n)
      ? `≈ ${Number(((Number(r.q.n) / Number(r.q.d)) * Math.PI ** r.pi).toPrecision(5))}`.replace('-', '−')
      : text;
  return unit ? `${short} ${unit}` : short;
}

function unitOf(from: string | undefined, to: string | undefined): MapCoupling['unit'] {
  if ((from === 'slide') === (to === 'slide')) return '';
  return to === 'slide' ? 'mm/rev' : 'rev/mm';
}

function ratioOf(compiled: Compiled, a: number, b: number): PiRatio | undefined {
  return a >= 0 && b >= 0 ? exactRatio(compiled.reduction, b, a) : undefined;
}

/** Where the wheels of a set meet: suns under their planet, rings over it, two planets between them. */
function drawSet(base: Omit<MapCoupling, 'set' | 'box' | 'ground'>, set: PlanetarySet, c: Column, y: ReadonlyMap<Id, number>): MapCoupling {
  const verticals = set.contacts.map((k) => {
    const x = c.at.get(`${k.coupling} ${k.planet}`)!;
    const from = y.get(k.planet)!;
    const to = k.other ? y.get(k.other)! : from - 40;
    const meet = k.other ? from + (to - from) * (k.ring ? 0.6 : 0.5) : from - 26;
    return { x, from, to, meet, held: !k.other, ring: k.ring, text: k.text };
  });
  const pin = { x: c.at.get(set.carrier)!, from: Math.min(...set.classes.map((k) => y.get(k.planet)!)), to: y.get(set.carrier)! };
  const line = y.get(c.from)!;
  const first = verticals[0];
  return {
    ...base,
    stated: setText(set),
    // Under the line from which the set is driven, behind its wheels.
    label: { x: c.x + c.width + 8, y: line + 16, width: LIVE, height: 2 * LINE },
    ratio: base.ratio,
    set: { verticals, pin },
    x: first.x,
  };
}

/** What lies where, for a look whether anything touches: texts as boxes, lines as thin ones. */
export function occupied(m: MapLayout): { texts: (Cell & { of: string })[]; lines: (Cell & { of: string })[] } {
  const texts: (Cell & { of: string })[] = [],
    lines: (Cell & { of: string })[] = [];
  const vertical = (of: string, x: number, a: number, b: number): void =>
    void lines.push({ of, x: x - 1, y: Math.min(a, b), width: 2, height: Math.abs(a - b) });
  for (const s of m.members) {
    texts.push({ of: s.id, x: s.label.x, y: s.label.y - 11, width: Math.max(LIVE, widthOf(s.name)), height: 2 * LINE - 2 });
    lines.push({ of: s.id, x: s.x0, y: s.y - 1, width: s.x1 - s.x0, height: 2 });
  }
  for (const c of m.couplings) {
    const of = c.key;
    if (c.box) {
      lines.push(
        { of, x: c.box.x, y: c.box.y, width: 1, height: c.box.height },
        { of, x: c.box.x + c.box.width, y: c.box.y, width: 1, height: c.box.height },
      );
      continue;
    }
    if (c.set) {
      for (const v of c.set.verticals) vertical(of, v.x, v.from, v.to);
      vertical(of, c.set.pin.x, c.set.pin.from, c.set.pin.to);
      for (const v of c.set.verticals) if (!v.held) vertical(of, v.x, v.to, v.to + 20 * Math.sign(v.to - v.from));
      texts.push({ of, x: c.label.x, y: c.label.y - 11, width: widthOf(c.stated), height: 2 * LINE - 2 });
      continue;
    }
    const said = Math.max(widthOf(c.stated), c.touches.length < 2 ? widthOf(c.name) : 0, 20);
    texts.push({ of, x: c.label.x - said, y: c.label.y - 11, width: said, height: c.stated && c.ratio ? 2 * LINE - 2 : LINE - 2 });
    const ys = [...c.touches.map((t) => t.y), c.farA, c.farB];
    vertical(of, c.x, Math.min(...ys), Math.max(...ys));
  }
  return { texts, lines };
}
