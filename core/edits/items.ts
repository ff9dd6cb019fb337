import { ITEM_LISTS, type ItemList, OTHER_LISTS, type WantedOutput, namedBy, unusedName, withReferences } from '../document/index';
import { Coupling, Design, Element, Id, Joint, Load, Member, Settings, Source } from '../fields/types';
import { Vec3, toLocalVector, vadd } from '../math/index';
import { elementFrame, memberFrame, statedOn, tidy } from './frames';

/** Items that a copy takes along: everything that belongs to them alone. */
export interface Fragment {
  members: Member[];
  joints: Joint[];
  elements: Element[];
  couplings: Coupling[];
  sources?: Source[];
  loads?: Load[];
}

/** An object without the keys whose value is undefined. */
export function withoutGaps<T extends object>(x: T): T {
  const out = { ...x };
  for (const k of Object.keys(out) as (keyof T)[]) if (out[k] === undefined) delete out[k];
  return out;
}

/** A list with one of its things changed; the same list where it is not there. */
export const changed = <T extends { id: Id }>(list: readonly T[], id: Id, to: (x: T) => T): T[] => list.map((x) => (x.id === id ? to(x) : x));

/** Every id in use. */
export const idsOf = (d: Design): Set<Id> => new Set([...ITEM_LISTS, ...OTHER_LISTS].flatMap((list) => (d[list] ?? []).map((x) => x.id)));

/** The first of prefix1, prefix2, … that is not in use. */
export function freshId(used: ReadonlySet<Id>, prefix: string): Id {
  let k = 1;
  while (used.has(`${prefix}${k}`)) k++;
  return `${prefix}${k}`;
}

/** What rides on a slide that goes is carried by what carried the slide. */
function setDown(design: Design, gone: ReadonlySet<Id>): Design {
  const under = new Map(design.joints.filter((j) => j.type === 'prismatic' && gone.has(j.child)).map((j) => [j.child, j.parent]));
  const moved = (j: Joint): boolean => under.has(j.parent) && !gone.has(j.child) && !gone.has(under.get(j.parent)!) && !gone.has(j.id);
  return design.joints.some(moved)
    ? { ...design, joints: design.joints.map((j) => (moved(j) ? { ...j, parent: under.get(j.parent)! } : j)) }
    : design;
}

/**
 * Takes items out of a design with everything that cannot stand without them: joints,
 * elements and loads of a member, couplings of an element or joint, sources and
 * wanted outputs of a joint. What rides on a slide stays, on what carried the slide.
 */
export function removeItems(from: Design, ids: readonly Id[]): Design {
  const gone = new Set(ids);
  const design = setDown(from, gone);
  const lists = ['joints', 'elements', 'couplings', 'sources', 'loads'] as const;
  for (let grew = true; grew;) {
    grew = false;
    for (const list of lists) {
      for (const x of design[list]) {
        const { id } = x;
        if (gone.has(id)) continue;
        const { wheels }: Partial<Coupling> = x;
        const lost = namedBy(list, x).filter((n) => gone.has(n));
        // A belt goes on over the wheels that are left, as long as there are two.
        const keeps = wheels && lost.every((n) => wheels.includes(n)) && wheels.filter((w) => !gone.has(w)).length >= 2;
        if (lost.length && !keeps) grew = !!gone.add(id);
      }
    }
  }
  const keep = <T extends { id: Id }>(list: T[]): T[] => list.filter((x) => !gone.has(x.id));
  const out: Design = {
    ...design,
    members: keep(design.members),
    joints: keep(design.joints),
    elements: keep(design.elements),
    couplings: keep(design.couplings).map((c) => {
      const { wheels } = c;
      return wheels?.some((w) => gone.has(w)) ? { ...c, wheels: wheels.filter((w) => !gone.has(w)) } : c;
    }),
    sources: keep(design.sources),
    loads: keep(design.loads),
    // A wanted output stays, and asks for another joint or source.
    wanted: keep(design.wanted).map((w) => {
      const next: WantedOutput = { ...w };
      if (gone.has(String(next.joint ?? '').split(':')[0])) delete next.joint;
      if (gone.has(next.source ?? '')) delete next.source;
      return next;
    }),
  };
  const groups = design.groups
    ?.map((g) => withoutGaps({ ...g, items: g.items.filter((x) => !gone.has(x)), originItems: g.originItems?.filter((x) => !gone.has(x.item)) }))
    .filter((g) => g.items.length && !gone.has(g.id));
  if (design.cases) {
    out.cases = design.cases
      .filter((c) => !gone.has(c.id))
      .map((c) => withoutGaps({ ...c, loads: c.loads?.filter((x) => !gone.has(x.load)), speeds: c.speeds?.filter((x) => !gone.has(x.source)) }));
    if (!out.cases.length) delete out.cases;
  }
  if (design.runs) {
    out.runs = design.runs
      .filter((r) => !gone.has(r.id))
      .map((r) =>
        withoutGaps({ ...r, case: gone.has(r.case ?? '') ? undefined : r.case, starts: r.starts?.filter((x) => !gone.has(x.joint.split(':')[0])) }),
      );
    if (!out.runs.length) delete out.runs;
  }
  if (design.sheets) {
    // One that is of nothing any more goes with what it was of.
    out.sheets = design.sheets
      .filter((s) => ![s.id, s.member, s.run ?? ''].some((x) => gone.has(x)))
      .map((s) =>
        withoutGaps({ ...s, case: gone.has(s.case ?? '') ? undefined : s.case, starts: s.starts?.filter((x) => !gone.has(x.joint.split(':')[0])) }),
      );
    if (!out.sheets.length) delete out.sheets;
  }
  if (design.drawings) {
    const stays = (id: Id): boolean => !gone.has(id);
    out.drawings = design.drawings
      .filter((x) => stays(x.id) && stays(x.member ?? ''))
      .map((x) =>
        withoutGaps({
          ...x,
          dimensions: x.dimensions?.filter((k) => stays(k.a) && stays(k.b)),
          starts: x.starts?.filter((k) => stays(k.joint.split(':')[0])),
        }),
      );
    if (!out.drawings.length) delete out.drawings;
  }
  if (design.variants) {
    out.variants = design.variants
      .filter((v) => !gone.has(v.id))
      .map((v) => withoutGaps({ ...v, changes: v.changes?.filter((c) => !gone.has(c.item)), suppressed: v.suppressed?.filter((i) => !gone.has(i)) }));
    if (!out.variants.length) delete out.variants;
  }
  if (design.accepted) {
    out.accepted = design.accepted.filter((x) => !gone.has(x.id) && !x.items?.some((i) => gone.has(i)));
    if (!out.accepted.length) delete out.accepted;
  }
  if (groups?.length) out.groups = groups;
  else delete out.groups;
  if (design.typed) {
    const typed = Object.fromEntries(Object.entries(design.typed).filter(([k]) => !gone.has(k.split('.')[0])));
    if (Object.keys(typed).length) out.typed = typed;
    else delete out.typed;
  }
  return out;
}

/**
 * What a copy of the given items takes along: of a member its joint and elements, and every coupling and joint whose
 * ends are all in the copy or on a member outside that carries or drives it. Items of groups count with the group.
 */
export function copyItems(design: Design, ids: readonly Id[]): Fragment {
  const wanted = new Set(ids.flatMap((id) => [id, ...(design.groups?.find((g) => g.id === id)?.items ?? [])]));
  for (const c of design.couplings) {
    if (!wanted.has(c.id)) continue;
    for (const n of namedBy('couplings', c)) wanted.add(n);
  }
  for (const e of design.elements) if (wanted.has(e.member)) wanted.add(e.id);
  const members = design.members.filter((m) => wanted.has(m.id));
  const inside = new Set(members.map((m) => m.id));
  const elements = design.elements.filter((e) => wanted.has(e.id));
  const joints = design.joints.filter((j) => inside.has(j.child));
  const has = new Set([...members, ...elements, ...joints].map((x) => x.id));
  const couplings = design.couplings.filter((c) => {
    const parts = namedBy('couplings', c).filter((n) => design.elements.some((e) => e.id === n) || design.joints.some((j) => j.id === n));
    return parts.length > 0 && parts.every((n) => has.has(n));
  });
  return { members, joints, elements, couplings };
}

/**
 * Puts a copy into a design under new ids and names, moved by an offset (mm). What it hung on stays what it hangs on, unless
 * `outside` names something else by its id.
 */
export function pasteItems(
  design: Design,
  f: Fragment,
  by: Vec3 = [0, 0, 0],
  outside: ReadonlyMap<Id, Id> = new Map(),
): { design: Design; made: Id[] } {
  const ids = idsOf(design);
  const names = new Set(
    [...design.members, ...design.elements, ...design.joints, ...design.couplings, ...design.sources, ...design.loads].map((x) => x.name),
  );
  const { sources = [], loads = [] } = f;
  const renamed = new Map<Id, Id>();
  for (const x of [...f.members, ...f.joints, ...f.elements, ...f.couplings, ...sources, ...loads]) {
    const stem = x.id.replace(/-?\d+$/, '') || 'item';
    let k = 1;
    while (ids.has(`${stem}-${k}`.slice(-64))) k++;
    const id = `${stem}-${k}`.slice(-64);
    ids.add(id);
    renamed.set(x.id, id);
  }
  const nameOf = (name: string | undefined): string | undefined => {
    if (name === undefined) return undefined;
    if (!names.has(name)) {
      names.add(name);
      return name;
    }
    const stem = name.replace(/ \d+$/, '');
    let k = 2;
    while (names.has(`${stem} ${k}`)) k++;
    names.add(`${stem} ${k}`);
    return `${stem} ${k}`;
  };
  const again = <T extends { id: Id; name?: string }>(list: ItemList, x: T): T =>
    withoutGaps({ ...withReferences(list, x, (id) => renamed.get(id) ?? outside.get(id)), id: renamed.get(x.id) ?? x.id, name: nameOf(x.name) });
  const inside = new Set(f.members.map((m) => m.id));
  const made = [...renamed.values()];
  return {
    made,
    design: {
      ...design,
      members: [...design.members, ...f.members.map((m) => ({ ...again('members', m), at: tidy(vadd(m.at ?? [0, 0, 0], by)) }))],
      joints: [...design.joints, ...f.joints.map((j) => again('joints', j))],
      // Parts on a member that is not copied stand beside the old ones on it.
      elements: [
        ...design.elements,
        ...f.elements.map((e) => {
          const made = again('elements', e);
          const stays = inside.has(e.member) || by.every((x) => x === 0);
          return stays ? made : { ...made, at: tidy(vadd(e.at ?? [0, 0, 0], toLocalVector(memberFrame(design, made.member), by))) };
        }),
      ],
      couplings: [...design.couplings, ...f.couplings.map((c) => again('couplings', c))],
      sources: [...design.sources, ...sources.map((x) => again('sources', x))],
      loads: [...design.loads, ...loads.map((x) => again('loads', x))],
    },
  };
}

/** Moves an element to another member without moving it in the world. */
export function fastenElement(design: Design, element: Id, member: Id): Design {
  return {
    ...design,
    elements: design.elements.map((e) => {
      if (e.id !== element || e.member === member) return e;
      return { ...e, member, ...statedOn(design, member, elementFrame(design, e)) };
    }),
  };
}

/** Fastens one member to another: its joints to what carried it give way to a fixed one. */
export function fastenMember(design: Design, member: Id, to: Id): Design {
  const old = design.joints.filter((j) => j.child === member).map((j) => j.id);
  const cleared = removeItems(design, old);
  const name = design.members.find((m) => m.id === member)?.name ?? member;
  return {
    ...cleared,
    joints: [...cleared.joints, { id: freshId(idsOf(cleared), 'seat'), name: `${name} seat`, type: 'fixed', parent: to, child: member }],
  };
}

/** Lets a fastened member go: a revolute joint in place of the fixed one. */
export const unfastenMember = (design: Design, member: Id): Design => ({
  ...design,
  joints: design.joints.map((j) => (j.child === member && j.type === 'fixed' ? { ...j, type: 'revolute' } : j)),
});

/** A name that none of the design's items has: as asked for, else with the next number. */
export function freeName(design: Design, wanted: string): string {
  return unusedName(wanted, new Set([...design.members, ...design.joints, ...design.elements, ...design.couplings].map((x) => x.name)));
}

/**
 * Gives a member another name; joints and elements that are called
 * after it (“Shaft bearing”, “Shaft bar”) are called after it still.
 */
export function renameMember(design: Design, member: Id, name: string): Design {
  const old = design.members.find((m) => m.id === member)?.name;
  if (old === undefined || old === name) return design;
  const after = (text: string): string => (text.startsWith(`${old} `) ? `${name}${text.slice(old.length)}` : text);
  return {
    ...design,
    members: design.members.map((m) => (m.id === member ? { ...m, name } : m)),
    joints: design.joints.map((j) => (j.child === member && j.name !== undefined ? { ...j, name: after(j.name) } : j)),
    elements: design.elements.map((e) => (e.member === member ? { ...e, name: after(e.name) } : e)),
  };
}

/** The settings of a design with some of them stated otherwise; what is undefined is stated no more. */
export function withSettings(design: Design, changes: Partial<Settings>): Design {
  const settings: Settings = withoutGaps({ ...design.settings, ...changes });
  return withoutGaps({ ...design, settings: Object.keys(settings).length ? settings : undefined });
}

/** A joint of another kind in the same place; what the new kind does not know goes. */
export const withJointKind = (design: Design, joint: Id, type: string): Design => ({
  ...design,
  joints: design.joints.map((j) => {
    if (j.id !== joint || j.type === type) return j;
    const { id, name, parent, child, at, axis, up } = j;
    return withoutGaps({ id, name, type, parent, child, at, axis, up, ...(type === 'screw' ? { lead: FIRST_LEAD } : {}) }) as Joint;
  }),
});
/** Lead that a screw joint begins with, mm. */
export const FIRST_LEAD = 5;

/** An element at another place along its member's axis, mm. */
export const placedAt = (design: Design, element: Id, z: number): Design => ({
  ...design,
  elements: design.elements.map((e) => (e.id === element ? { ...e, at: [e.at?.[0] ?? 0, e.at?.[1] ?? 0, z] } : e)),
});

/** A list with one of its things one place up or down; the same list where there is no such place. */
export function reorder<T extends { id: Id }>(list: readonly T[], id: Id, step: 1 | -1): readonly T[] {
  const i = list.findIndex((x) => x.id === id),
    j = i + step;
  if (i < 0 || j < 0 || j >= list.length) return list;
  const out = [...list];
  [out[i], out[j]] = [out[j], out[i]];
  return out;
}
