import { type ItemList, namedBy, unusedName, withReferences } from '../../document/index';
import { type Design, type Element, FRAME, type Id, type Joint } from '../../fields/types';
import { type Compiled, compile, distancesFromSources, exactRatio } from '../../kinematics/index';
import { type Frame, piToNumber, vadd, vscale } from '../../math/index';
import { copyItems, freshId, idsOf, pasteItems, removeItems } from '../../edits/items';
import { carryElements, carryMembers, coupledMembers, fromTo, memberFrame } from '../../edits/frames';
import { planetarySets } from '../planetary';
import { StageBuilder } from './builder';
import { insertStage } from './insert';
import { canBegin, stageKind } from './kinds';
import type { StageMade, StageRequest } from './protocol';

/**
 * A stage as it stands in a train: what it is made of, the member at
 * which it begins (nearer the source), and the one that it drives.
 */
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

/** The train with a stage reworked; or why it cannot be. */
export interface Reworked extends StageMade {
  problem?: undefined;
}
/** Why a stage could not be changed. */
export interface NotReworked {
  problem: string;
}
const NO_STAGE: NotReworked = { problem: 'this coupling joins no two members that move: there is no stage to work on' };
const CLOSED: NotReworked = {
  problem: 'the train closes behind this stage: what hangs behind it is also held elsewhere. Delete one coupling of the ring first',
};

const RIDES: NotReworked = {
  problem: 'in this stage the drive itself travels, with what carries it: delete it and insert it again where it is to be',
};

const shifted = (f: Frame, z: number): Frame => ({ ...f, o: vadd(f.o, vscale(f.z, z)) });
const carrierOf = (d: Design, m: Id): Id => d.joints.find((j) => j.child === m)?.parent ?? FRAME;
/** What carries a member, what carries that, and so on, with the frame; each once, whatever ring the document states. */
function carriersOf(d: Design, member: Id): Set<Id> {
  const out = new Set<Id>();
  for (let m = carrierOf(d, member); !out.has(m); m = carrierOf(d, m)) out.add(m);
  return out.add(FRAME);
}

/**
 * The stage that a coupling belongs to: as it was put in (a group), a planetary set, or the
 * coupling with what it joins. `compiled`: the design as it stands, where it is at hand.
 */
export function stageOf(d: Design, coupling: Id, compiled?: Compiled): StagePart | undefined {
  const group = d.groups?.filter((g) => g.items.includes(coupling)).sort((a, b) => a.items.length - b.items.length)[0];
  const inGroup = new Set(group?.items);
  const set = group ? undefined : planetarySets(compiled ?? compile(d)).find((s) => s.couplings.includes(coupling));
  const couplings = new Set(group ? d.couplings.filter((c) => inGroup.has(c.id)).map((c) => c.id) : (set?.couplings ?? [coupling]));
  const ends = coupledMembers(d);
  const touched = [...new Set([...couplings].flatMap((c) => ends.get(c) ?? []))];
  if (set && !touched.includes(set.carrier) && set.carrier !== FRAME) touched.push(set.carrier);
  if (!touched.length) return undefined;
  const away = distancesFromSources(d);
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
  // Of a set that was drawn by hand the carrier's plate and pins belong to it as well.
  const carries = (e: Element): boolean => e.type === 'rod' && e.member === set?.carrier && members.has(e.member);
  const elements = new Set(d.elements.filter((e) => (inGroup.has(e.id) || named.has(e.id) || carries(e)) && !elsewhere.has(e.id)).map((e) => e.id));
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

/**
 * Everything that hangs on some members over couplings and carryings,
 * never past `stop`; `without` couplings are not followed.
 */
function behind(d: Design, start: Iterable<Id>, stop: Id, without: ReadonlySet<Id>): Set<Id> {
  const out = new Set(start);
  const under = carriersOf(d, stop).add(stop);
  const ends = [...coupledMembers(d)].filter(([c]) => !without.has(c)).map(([, e]) => e);
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

/** The members that a stage moves, with all that hang behind them. */
export const membersBehind = (d: Design, s: StagePart): Set<Id> => behind(d, s.members, s.from, new Set());

/** Whether a coupling or joint ties what moves to something that stays, other than through `links`. */
function tiedElsewhere(d: Design, moved: ReadonlySet<Id>, links: ReadonlySet<Id>): boolean {
  const mixed = [...coupledMembers(d)].some(([c, e]) => !links.has(c) && e.some((m) => moved.has(m)) && e.some((m) => !moved.has(m)));
  // A second joint of a member that moves ties it to what stays: a linkage.
  const joints = (j: Joint): boolean =>
    moved.has(j.child) && !moved.has(j.parent) && d.joints.some((o) => o !== j && o.child === j.child && !moved.has(o.parent));
  return mixed || d.joints.some(joints);
}

/**
 * Carries part of a train to another member as one rigid thing: the members themselves, the elements named,
 * what meshes with them on the frame, and the joints that carried them where `old` was or what carried `old`.
 */
function transplant(d: Design, part: { elements: ReadonlySet<Id>; members: ReadonlySet<Id> }, old: Id, a: Frame, onto: Id, b: Frame): Design {
  const go = fromTo(a, b);
  const [carriedOld, carriedNew] = [carrierOf(d, old), carrierOf(d, onto)];
  const going = new Set(d.elements.filter((e) => part.elements.has(e.id) || part.members.has(e.member)).map((e) => e.id));
  const meshing = new Set(
    d.couplings
      .map((c) => namedBy('couplings', c))
      .filter((n) => n.some((x) => going.has(x)))
      .flat(),
  );
  const loose = d.elements.filter((e) => (part.elements.has(e.id) && !part.members.has(e.member)) || (e.member === FRAME && meshing.has(e.id)));
  const moved = carryElements(carryMembers(d, part.members, go), new Set(loose.map((e) => e.id)), go, onto);
  const joints = d.joints.map((j) => {
    if (!part.members.has(j.child) || part.members.has(j.parent)) return j;
    if (j.parent === old) return { ...j, parent: onto };
    return j.parent === carriedOld ? { ...j, parent: carriedNew } : j;
  });
  return { ...moved, joints };
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
        !out.sources.some((x) => out.joints.some((j) => j.child === m && namedBy('sources', x).includes(j.id))) &&
        ![...coupledMembers(out).values()].some((e) => e.includes(m)),
    );
    gone = bare.length > 0;
    if (gone) out = removeItems(out, bare);
  }
  return out;
}
const groupLoads = (d: Design, group: Id): Id[] => {
  const items = d.groups?.find((g) => g.id === group)?.items ?? [];
  return d.loads.filter((l) => items.includes(l.id)).map((l) => l.id);
};

/**
 * A stage with all that hangs behind it, to be carried elsewhere: its
 * wheels where it begins, and the members that move; or why it cannot be.
 */
function carriedPart(d: Design, coupling: Id): { s: StagePart; own: Set<Id>; members: Set<Id>; problem?: undefined } | NotReworked {
  const s = stageOf(d, coupling);
  if (!s) return NO_STAGE;
  if ([...carriersOf(d, s.from)].some((m) => s.members.has(m))) return RIDES;
  const own = new Set([...s.elements].filter((id) => d.elements.find((e) => e.id === id)?.member === s.from));
  const start = [...s.members].filter((m) => m !== s.from);
  const members = behind(d, start, s.from, new Set());
  return tiedElsewhere(d, members, s.couplings) ? CLOSED : { s, own, members };
}

/**
 * Puts a stage in between a member and the stage that a coupling belongs
 * to: that stage, and all behind it, moves on to the new stage's output.
 */
export function insertBefore(d: Design, coupling: Id, request: Omit<StageRequest, 'from'>): Reworked | NotReworked {
  const part = carriedPart(d, coupling);
  if (part.problem !== undefined) return part;
  const { s, own, members } = part;
  if (!own.size) return { problem: 'this stage has no wheel of its own on the member at which it begins: put the new one in behind it' };
  const vacate = new Set([...own, ...d.elements.filter((e) => members.has(e.member)).map((e) => e.id)]);
  const made = insertStage(d, { ...request, from: s.from, vacate });
  if (!made) return { problem: 'a stage of this kind cannot begin at this member' };
  const joint = made.design.joints.find((j) => j.child === made.output);
  if (made.output === s.from || !joint || (joint.type !== 'revolute' && joint.type !== 'cylindrical')) {
    return { problem: 'this kind moves something to and fro: what follows needs a shaft that turns' };
  }
  const from = shifted(memberFrame(d, s.from), placeAlong(d, own, s.from));
  const to = shifted(memberFrame(made.design, made.output), roomOn(made.design, own, made.output));
  // A wanted output that the new stage took for its own is not one between two stages.
  return { ...made, design: transplant({ ...made.design, wanted: d.wanted }, { elements: own, members }, s.from, from, made.output, to) };
}

/** Puts a stage of another kind (or other sizes) in the place of one: what stood behind the old one stands behind the new one. */
export function replaceStage(d: Design, coupling: Id, request: Omit<StageRequest, 'from'>): Reworked | NotReworked {
  const s = stageOf(d, coupling);
  if (!s || s.output === s.from) return NO_STAGE;
  if ([...carriersOf(d, s.from)].some((m) => s.members.has(m))) return RIDES;
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
  const from = shifted(memberFrame(d, s.output), slides ? 0 : placeAlong(d, riding, s.output));
  const to = shifted(memberFrame(made.design, made.output), slides || !riding.length ? 0 : roomOn(made.design, riding, made.output));
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
  out = emptied(out, s);
  // A name that a person gave to the output stays with it.
  if (old && fresh && !out.members.some((m) => m.name === old.name)) {
    out = { ...out, members: out.members.map((m) => (m.id === fresh.id ? { ...m, name: old.name } : m)) };
  }
  return { ...made, design: out };
}

/** Moves a stage with all behind it to another member of the train. */
export function moveStage(d: Design, coupling: Id, onto: Id): Reworked | NotReworked {
  const part = carriedPart(d, coupling);
  if (part.problem !== undefined) return part;
  const { s, own, members } = part;
  if (onto === s.from) return { problem: 'it stands behind this member already' };
  if (members.has(onto)) return { problem: 'this member hangs behind the stage itself: choose one before it' };
  if (!canBegin(d, 'spur', onto)) return { problem: 'this member does not turn about its own axis: choose a shaft' };
  const from = shifted(memberFrame(d, s.from), placeAlong(d, own, s.from));
  const to = shifted(memberFrame(d, onto), roomOn(d, own, onto));
  return { design: transplant(d, { elements: own, members }, s.from, from, onto, to), made: [], output: s.output, coupling };
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
    memberFrame(d, s.from),
    placeAlong(
      d,
      fragment.elements.map((e) => e.id),
      s.from,
    ),
  );
  const to = shifted(memberFrame(d, onto), roomOn(d, own, onto));
  let out = transplant(pasted.design, { elements: new Set(own), members }, s.from, from, onto, to);
  const name = d.groups?.find((g) => g.id === s.group)?.name ?? d.couplings.find((c) => c.id === coupling)?.name ?? 'Stage';
  const fresh = unusedName(name, new Set([name, ...(out.groups ?? []).map((g) => g.name)]));
  out = { ...out, groups: [...(out.groups ?? []), { id: freshId(idsOf(out), 'group'), name: fresh, items: pasted.made }] };
  return { design: out, made: pasted.made, output: again(s.output), coupling: again(s.coupling) };
}

/** The kinds that could stand in the place of a stage: those that begin where it begins and move their output as it does. */
export const couldReplace = (d: Design, s: StagePart, kind: string): boolean => {
  const slides = d.joints.find((j) => j.child === s.output)?.type === 'prismatic';
  return canBegin(d, kind, s.from) && stageKind(kind)?.ratio === (slides ? 'travel' : 'turns');
};

/**
 * What a stage does now: turns of the member at which it begins for one of the driven, or mm
 * that this travels for one turn; without its sense. Undefined where it follows another law.
 */
export function stageRatio(c: Compiled, s: StagePart): number | undefined {
  const at = (m: Id): number | undefined => {
    const joint = c.design.joints.find((j) => j.child === m);
    return joint && c.structure.firstOf.get(joint.id);
  };
  const [from, out] = [at(s.from), at(s.output)];
  if (from === undefined || out === undefined) return undefined;
  const exact = exactRatio(c.reduction, out, from);
  const ratio = exact && Math.abs(piToNumber(exact));
  if (!ratio) return undefined;
  return c.structure.coordinates[out].motion === 'slide' ? ratio : 1 / ratio;
}
