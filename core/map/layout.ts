import { type Compiled } from '../kinematics/index';
import { type Id } from '../document/index';
import { type MapTrain, type PlanetarySet, type TrainEdge, coaxial, mapTrain, setText, statedOf } from './train';
import {
  type Cell,
  type MapLayout,
  type Row,
  type Column,
  type Columns,
  LINE,
  widthOf,
  LIVE,
  RATIO,
  LEFT,
  TOP,
  ABOVE,
  BELOW,
  APART,
  boxHeight,
} from './cells';
import { draw } from './drawing';

export { type Cell, LIVE, type MapCoupling, type MapLayout, type MapMember, type SetDrawing, type Touch, widthOf } from './cells';
export { ratioText } from './drawing';

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
