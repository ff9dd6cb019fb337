import { type Compiled, exactRatio } from '../kinematics/index';
import { type Id, type WantedOutput } from '../document/index';
import { gearOf } from '../elements/index';
import { type PiRatio, piToText } from '../math/index';
import {
  type MapMember,
  type Touch,
  type MapCoupling,
  type MapLayout,
  type Row,
  type Column,
  type Columns,
  LINE,
  widthOf,
  LIVE,
  FAR,
  boxHeight,
} from './cells';
import { type MapTrain, type PlanetarySet, onFrame, setText, statedOf } from './train';

/** Draws a placed train: its lines, and the symbols of couplings between them. */
export function draw(
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
