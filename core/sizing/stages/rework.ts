import { type ItemList, namedBy, withReferences } from '../../document/index';
import { type Design, type Element, FRAME, type Id, type Joint } from '../../fields/types';
import { compile } from '../../kinematics/index';
import {
  type Frame,
  type Vec3,
  WORLD,
  frameOf,
  toLocalPoint,
  toLocalVector,
  toWorldPoint,
  toWorldVector,
  vadd,
  vscale,
  within,
} from '../../math/index';
import { copyItems, freshId, idsOf, pasteItems, removeItems, tidy } from '../edits';
import { planetarySets } from '../planetary';
import { StageBuilder } from './builder';
import { insertStage } from './insert';
import { canBegin, stageKind } from './kinds';
import type { StageMade, StageRequest } from './protocol';

/** A stage as it stands in a train: what it is made of, the member at which it begins (nearer the source), and the one that it drives. */
export interface StagePart {
  coupling: Id;
  couplings: Set<Id>;
  elements: Set<Id>;
  /** Members that are the stage's own: the driven one and what it carries inside, without the one at which it begins. */
  members: Set<Id>;
  from: Id;
  output: Id;
  group?: Id;
}

/** Why a stage cannot be taken out of its train; undefined where it can. */
export interface Reworked extends StageMade {
  problem?: undefined;
}
export interface NotReworked {
  problem: string;
}
const NO_STAGE: NotReworked = { problem: 'this coupling joins no two members that move: there is no stage to work on' };
const CLOSED: NotReworked = {
  problem: 'the train closes behind this stage: what hangs behind it is also held elsewhere. Delete one coupling of the ring first',
};

const frameOfMember = (d: Design, id: Id): Frame => {
  const m = d.members.find((x) => x.id === id);
  return m ? frameOf(m.at ?? [0, 0, 0], m.axis, m.up) : WORLD;
};
const placeOf = (d: Design, e: Element): Frame =>
  within(frameOfMember(d, e.member), frameOf(e.at ?? [0, 0, 0], e.axis ?? [0, 0, 1], e.up ?? (e.axis ? undefined : [1, 0, 0])));
const shifted = (f: Frame, z: number): Frame => ({ ...f, o: vadd(f.o, vscale(f.z, z)) });

/** Members at the ends of a coupling, without the frame. */
function endsOf(d: Design, coupling: Id): Id[] {
  const c = d.couplings.find((x) => x.id === coupling);
  if (!c) return [];
  const members = namedBy('couplings', c).map((n) => d.elements.find((e) => e.id === n)?.member ?? d.joints.find((j) => j.id === n)?.child);
  return [...new Set(members)].filter((m): m is Id => m !== undefined && m !== FRAME);
}

/** How many couplings and carryings lie between a member and the nearest source. */
function fromSources(d: Design): Map<Id, number> {
  const start = d.sources.flatMap((s) => d.joints.find((j) => j.id === String(s.joint).split(':')[0])?.child ?? []);
  const out = new Map(start.map((m) => [m, 0]));
  const queue = [...start];
  const ends = d.couplings.map((c) => endsOf(d, c.id));
  while (queue.length) {
    const m = queue.shift()!;
    const near = [...ends.filter((e) => e.includes(m)).flat(), ...d.joints.filter((j) => j.parent === m).map((j) => j.child)];
    for (const x of near) {
      if (out.has(x)) continue;
      out.set(x, out.get(m)! + 1);
      queue.push(x);
    }
  }
  return out;
}

/** The stage that a coupling belongs to: as it was put in (a group), a planetary set, or the coupling with what it joins. */
export function stageOf(d: Design, coupling: Id): StagePart | undefined {
  const group = d.groups?.filter((g) => g.items.includes(coupling)).sort((a, b) => a.items.length - b.items.length)[0];
  const inGroup = new Set(group?.items);
  const set = group ? undefined : planetarySets(compile(d)).find((s) => s.couplings.includes(coupling));
  const couplings = new Set(group ? d.couplings.filter((c) => inGroup.has(c.id)).map((c) => c.id) : (set?.couplings ?? [coupling]));
  const touched = [...new Set([...couplings].flatMap((c) => endsOf(d, c)))];
  if (set && !touched.includes(set.carrier) && set.carrier !== FRAME) touched.push(set.carrier);
  if (!touched.length) return undefined;
  const away = fromSources(d);
  const distance = (m: Id): number => away.get(m) ?? Infinity;
  // What carries or bears a part of a group without being of it is where it begins as well: a carrier that drives its planets.
  const bears = [
    ...d.joints.filter((j) => inGroup.has(j.child)).map((j) => j.parent),
    ...d.elements.filter((e) => inGroup.has(e.id)).map((e) => e.member),
  ];
  const outside = [...new Set([...touched, ...bears])].filter((m) => !inGroup.has(m) && m !== FRAME);
  const from = [...(outside.length ? outside : touched)].sort((a, b) => distance(a) - distance(b))[0];
  const named = new Set(d.couplings.filter((c) => couplings.has(c.id)).flatMap((c) => namedBy('couplings', c)));
  const elsewhere = new Set(d.couplings.filter((c) => !couplings.has(c.id)).flatMap((c) => namedBy('couplings', c)));
  const members = new Set(group ? d.members.filter((m) => inGroup.has(m.id)).map((m) => m.id) : touched.filter((m) => m !== from));
  const elements = new Set(d.elements.filter((e) => (inGroup.has(e.id) || named.has(e.id)) && !elsewhere.has(e.id)).map((e) => e.id));
  // Of what it moves, the output is what others build on; else what is not carried inside the stage; else what came last.
  const carriedInside = (m: Id): boolean => d.joints.some((j) => j.child === m && members.has(j.parent));
  const builtOn = (m: Id): number =>
    d.elements.filter((e) => e.member === m && !elements.has(e.id)).length +
    d.joints.filter((j) => j.parent === m && !members.has(j.child)).length +
    d.wanted.filter((w) => d.joints.some((j) => j.child === m && namedBy('wanted', w).includes(j.id))).length;
  const own = [...members].filter((m) => m !== from);
  const candidates = own.filter((m) => !carriedInside(m));
  const output = [...(candidates.length ? candidates : own)].sort((a, b) => builtOn(b) - builtOn(a) || own.indexOf(b) - own.indexOf(a))[0];
  return from === undefined ? undefined : { coupling, couplings, elements, members, from, output: output ?? from, group: group?.id };
}

/** Everything that hangs on some members over couplings and carryings, never past `stop`; `without` couplings are not followed. */
function behind(d: Design, start: Iterable<Id>, stop: Id, without: ReadonlySet<Id>): Set<Id> {
  const out = new Set(start);
  const under = new Set([stop, FRAME]);
  for (let m = stop; m !== FRAME;) under.add((m = d.joints.find((j) => j.child === m)?.parent ?? FRAME));
  const ends = d.couplings.filter((c) => !without.has(c.id)).map((c) => endsOf(d, c.id));
  for (let grew = true; grew;) {
    grew = false;
    for (const e of ends) if (e.some((m) => out.has(m))) for (const m of e) if (m !== stop && !out.has(m)) grew = !!out.add(m);
    for (const j of d.joints) {
      if (out.has(j.parent) && j.child !== stop && !out.has(j.child)) grew = !!out.add(j.child);
      // What carries a planet goes with it; what carries the stop as well stays.
      if (out.has(j.child) && !under.has(j.parent) && !out.has(j.parent)) grew = !!out.add(j.parent);
    }
  }
  return out;
}

/** Whether a coupling or joint ties what moves to something that stays, other than through `links`. */
function tiedElsewhere(d: Design, moved: ReadonlySet<Id>, links: ReadonlySet<Id>): boolean {
  const mixed = d.couplings.some((c) => {
    const e = endsOf(d, c.id);
    return !links.has(c.id) && e.some((m) => moved.has(m)) && e.some((m) => !moved.has(m));
  });
  // A second joint of a member that moves ties it to what stays: a linkage.
  const joints = (j: Joint): boolean =>
    moved.has(j.child) && !moved.has(j.parent) && d.joints.some((o) => o !== j && o.child === j.child && !moved.has(o.parent));
  return mixed || d.joints.some(joints);
}

/**
 * Carries part of a train to another member as one rigid thing: the members themselves, the elements named, what meshes with them on the frame, and the joints
 * that carried them where `old` was or what carried `old`.
 */
function transplant(d: Design, part: { elements: ReadonlySet<Id>; members: ReadonlySet<Id> }, old: Id, a: Frame, onto: Id, b: Frame): Design {
  const point = (p: Vec3): Vec3 => toWorldPoint(b, toLocalPoint(a, p));
  const vector = (v: Vec3): Vec3 => toWorldVector(b, toLocalVector(a, v));
  const carrier = (m: Id): Id => d.joints.find((j) => j.child === m)?.parent ?? FRAME;
  const [carriedOld, carriedNew] = [carrier(old), carrier(onto)];
  const going = new Set(d.elements.filter((e) => part.elements.has(e.id) || part.members.has(e.member)).map((e) => e.id));
  const meshing = new Set(
    d.couplings
      .map((c) => namedBy('couplings', c))
      .filter((n) => n.some((x) => going.has(x)))
      .flat(),
  );
  const members = d.members.map((m) => {
    if (!part.members.has(m.id)) return m;
    const f = frameOfMember(d, m.id);
    return { ...m, at: tidy(point(f.o)), axis: tidy(vector(f.z)), up: tidy(vector(f.x)) };
  });
  const moved: Design = { ...d, members };
  const elements = d.elements.map((e) => {
    const own = part.elements.has(e.id) && !part.members.has(e.member);
    if (!own && !(e.member === FRAME && meshing.has(e.id))) return e;
    const f = placeOf(d, e);
    const member = e.member === FRAME ? FRAME : onto;
    const to = frameOfMember(moved, member);
    return {
      ...e,
      member,
      at: tidy(toLocalPoint(to, point(f.o))),
      axis: tidy(toLocalVector(to, vector(f.z))),
      up: tidy(toLocalVector(to, vector(f.x))),
    };
  });
  const joints = d.joints.map((j) => {
    if (!part.members.has(j.child) || part.members.has(j.parent)) return j;
    if (j.parent === old) return { ...j, parent: onto };
    return j.parent === carriedOld ? { ...j, parent: carriedNew } : j;
  });
  return { ...moved, elements, joints };
}

/** Where on a member's axis the first of some elements stands, mm; 0 where none does. */
function placeAlong(d: Design, elements: Iterable<Id>, member: Id): number {
  const on = [...elements].map((id) => d.elements.find((e) => e.id === id)).filter((e): e is Element => e?.member === member);
  return on.length ? Math.min(...on.map((e) => (e.at ?? [0, 0, 0])[2])) : 0;
}
/** Free place on a member's axis for what some elements take up. */
function roomOn(d: Design, elements: Iterable<Id>, member: Id): number {
  const widths = [...elements].map((id) => Number((d.elements.find((e) => e.id === id) as { width?: unknown } | undefined)?.width ?? 0));
  const width = Math.max(10, ...widths.filter(Number.isFinite));
  return new StageBuilder(d, member, {}).next(member, width);
}

/** Takes a stage out whole: its couplings and wheels, and the members that nothing else stands on. What others need stays. */
export function deleteStage(d: Design, coupling: Id): Reworked | NotReworked {
  const s = stageOf(d, coupling);
  if (!s) return NO_STAGE;
  return { design: emptied(d, s), made: [], output: s.from };
}

function emptied(d: Design, s: StagePart): Design {
  let out = removeItems(d, [...s.couplings, ...s.elements, ...(s.group ? groupLoads(d, s.group) : [])]);
  for (let gone = true; gone;) {
    const bare = [...s.members].filter(
      (m) =>
        m !== s.from &&
        out.members.some((x) => x.id === m) &&
        !out.elements.some((e) => e.member === m) &&
        !out.joints.some((j) => j.parent === m) &&
        !out.sources.some((x) => out.joints.some((j) => j.child === m && j.id === String(x.joint).split(':')[0])) &&
        !out.couplings.some((c) => endsOf(out, c.id).includes(m)),
    );
    gone = bare.length > 0;
    if (gone) out = removeItems(out, bare);
  }
  // What is named by a group that holds only the like of names is gone as well.
  return out;
}
const groupLoads = (d: Design, group: Id): Id[] => {
  const items = d.groups?.find((g) => g.id === group)?.items ?? [];
  return d.loads.filter((l) => items.includes(l.id)).map((l) => l.id);
};

/** Puts a stage in between a member and the stage that a coupling belongs to: that stage, and all behind it, moves on to the new stage's output. */
export function insertBefore(d: Design, coupling: Id, request: Omit<StageRequest, 'from'>): Reworked | NotReworked {
  const s = stageOf(d, coupling);
  if (!s) return NO_STAGE;
  const own = [...s.elements].filter((id) => d.elements.find((e) => e.id === id)?.member === s.from);
  if (!own.length) return { problem: 'this stage has no wheel of its own on the member at which it begins: put the new one in behind it' };
  const members = behind(
    d,
    [...s.members].filter((m) => m !== s.from),
    s.from,
    new Set(),
  );
  if (tiedElsewhere(d, members, s.couplings)) return CLOSED;
  const vacate = new Set([...own, ...d.elements.filter((e) => members.has(e.member)).map((e) => e.id)]);
  const made = insertStage(d, { ...request, from: s.from, vacate });
  if (!made) return { problem: 'a stage of this kind cannot begin at this member' };
  const joint = made.design.joints.find((j) => j.child === made.output);
  if (made.output === s.from || !joint || (joint.type !== 'revolute' && joint.type !== 'cylindrical')) {
    return { problem: 'this kind moves something to and fro: what follows needs a shaft that turns' };
  }
  const from = shifted(frameOfMember(d, s.from), placeAlong(d, own, s.from));
  const to = shifted(frameOfMember(made.design, made.output), roomOn(made.design, own, made.output));
  // A wanted output that the new stage took for its own is not one between two stages.
  const wanted = d.wanted;
  const design = transplant({ ...made.design, wanted }, { elements: new Set(own), members }, s.from, from, made.output, to);
  return { ...made, design };
}

/** Puts a stage of another kind (or other sizes) in the place of one: what stood behind the old one stands behind the new one. */
export function replaceStage(d: Design, coupling: Id, request: Omit<StageRequest, 'from'>): Reworked | NotReworked {
  const s = stageOf(d, coupling);
  if (!s || s.output === s.from) return NO_STAGE;
  if (!canBegin(d, request.kind, s.from)) return { problem: 'a stage of this kind cannot begin at this member' };
  const inner = [...s.members].filter((m) => m !== s.output);
  const attached = new Set([...behind(d, [s.output], s.from, s.couplings)].filter((m) => m !== s.output && !inner.includes(m)));
  if (tiedElsewhere(d, new Set([...attached, s.output, ...inner]), s.couplings)) return CLOSED;
  const riding = d.elements.filter((e) => e.member === s.output && !s.elements.has(e.id)).map((e) => e.id);
  const going = new Set([...s.elements, ...d.elements.filter((e) => attached.has(e.member) || s.members.has(e.member)).map((e) => e.id), ...riding]);
  const made = insertStage(d, { ...request, from: s.from, vacate: going });
  if (!made) return { problem: 'a stage of this kind cannot begin at this member' };
  const jointOf = (x: Design, m: Id): Joint | undefined => x.joints.find((j) => j.child === m);
  const [was, is] = [jointOf(d, s.output), jointOf(made.design, made.output)];
  if (!was || !is || made.output === s.from || (was.type === 'prismatic') !== (is.type === 'prismatic')) {
    return { problem: 'the output of this kind moves in another way: what hangs on the old one would not follow' };
  }
  const slides = was.type === 'prismatic';
  const from = shifted(frameOfMember(d, s.output), slides ? 0 : placeAlong(d, riding, s.output));
  const to = shifted(frameOfMember(made.design, made.output), slides || !riding.length ? 0 : roomOn(made.design, riding, made.output));
  let out = transplant({ ...made.design, wanted: d.wanted }, { elements: new Set(riding), members: attached }, s.output, from, made.output, to);
  // What named the old output or its joint names the new one.
  const renamed = new Map([
    [s.output, made.output],
    [was.id, is.id],
  ]);
  const point = <T extends { id: Id }>(list: ItemList, items: T[]): T[] =>
    items.map((x) => withReferences(list, x as never, (id) => renamed.get(id)) as T);
  out = { ...out, sources: point('sources', out.sources), loads: point('loads', out.loads), wanted: point('wanted', out.wanted) };
  out = { ...out, couplings: out.couplings.map((c) => (s.couplings.has(c.id) ? c : withReferences('couplings', c, (id) => renamed.get(id)))) };
  const old = out.members.find((m) => m.id === s.output),
    fresh = out.members.find((m) => m.id === made.output);
  out = emptied(out, { ...s, members: new Set([...s.members]) });
  // A name that a person gave to the output stays with it.
  if (old && fresh && !out.members.some((m) => m.name === old.name)) {
    out = { ...out, members: out.members.map((m) => (m.id === fresh.id ? { ...m, name: old.name } : m)) };
  }
  return { ...made, design: out };
}

/** Moves a stage with all behind it to another member of the train. */
export function moveStage(d: Design, coupling: Id, onto: Id): Reworked | NotReworked {
  const s = stageOf(d, coupling);
  if (!s) return NO_STAGE;
  const own = [...s.elements].filter((id) => d.elements.find((e) => e.id === id)?.member === s.from);
  const members = behind(
    d,
    [...s.members].filter((m) => m !== s.from),
    s.from,
    new Set(),
  );
  if (onto === s.from) return { problem: 'it stands behind this member already' };
  if (members.has(onto)) return { problem: 'this member hangs behind the stage itself: choose one before it' };
  if (!canBegin(d, 'spur', onto)) return { problem: 'this member does not turn about its own axis: choose a shaft' };
  if (tiedElsewhere(d, members, s.couplings)) return CLOSED;
  const from = shifted(frameOfMember(d, s.from), placeAlong(d, own, s.from));
  const to = shifted(frameOfMember(d, onto), roomOn(d, own, onto));
  return { design: transplant(d, { elements: new Set(own), members }, s.from, from, onto, to), made: [], output: s.output, coupling };
}

/** Puts a copy of a stage in at a member, as it stands at its own: with its wheels on that member, meshed as they are. */
export function copyStage(d: Design, coupling: Id, onto: Id): Reworked | NotReworked {
  const s = stageOf(d, coupling);
  if (!s) return NO_STAGE;
  if (!canBegin(d, 'spur', onto)) return { problem: 'this member does not turn about its own axis: choose a shaft' };
  const joints = d.joints.filter((j) => s.members.has(j.child) && j.child !== s.from).map((j) => j.id);
  const part = copyItems(
    d,
    [...s.members, ...joints, ...s.elements, ...s.couplings].filter((id) => id !== s.from),
  );
  const fragment = {
    members: part.members.filter((m) => m.id !== s.from),
    joints: part.joints.filter((j) => j.child !== s.from),
    // Of the output's wheels only the stage's own come along.
    elements: part.elements.filter((e) => s.elements.has(e.id)),
    couplings: part.couplings.filter((c) => s.couplings.has(c.id)),
  };
  const pasted = pasteItems(d, fragment);
  const order = [...fragment.members, ...fragment.joints, ...fragment.elements, ...fragment.couplings].map((x) => x.id);
  const again = (id: Id): Id => pasted.made[order.indexOf(id)] ?? id;
  const own = fragment.elements.filter((e) => e.member === s.from).map((e) => again(e.id));
  const members = new Set(fragment.members.map((m) => again(m.id)));
  const from = shifted(
    frameOfMember(d, s.from),
    placeAlong(
      d,
      fragment.elements.map((e) => e.id),
      s.from,
    ),
  );
  const to = shifted(frameOfMember(d, onto), roomOn(d, own, onto));
  let out = transplant(pasted.design, { elements: new Set(own), members }, s.from, from, onto, to);
  const name = d.groups?.find((g) => g.id === s.group)?.name ?? d.couplings.find((c) => c.id === coupling)?.name ?? 'Stage';
  const names = new Set(out.groups?.map((g) => g.name));
  let k = 2;
  while (names.has(`${name} ${k}`)) k++;
  out = { ...out, groups: [...(out.groups ?? []), { id: freshId(idsOf(out), 'group'), name: `${name} ${k}`, items: pasted.made }] };
  return { design: out, made: pasted.made, output: again(s.output), coupling: again(s.coupling) };
}

/** The kinds that could stand in the place of a stage: those that begin where it begins and move their output as it does. */
export const couldReplace = (d: Design, s: StagePart, kind: string): boolean => {
  const slides = d.joints.find((j) => j.child === s.output)?.type === 'prismatic';
  return canBegin(d, kind, s.from) && stageKind(kind)?.ratio === (slides ? 'travel' : 'turns');
};
