import { ITEM_FORMS, type Item, type ItemList, fieldsOfItem, namedBy, referenceKeys } from '../document/index';
import { type Gear, num } from '../elements/index';
import { type Field, statedBy } from '../fields/fields';
import { type Design, FRAME, type Id, emptyDesign } from '../fields/types';
import { type Frame, type Vec3, WORLD, norm, vscale, vsub } from '../math/index';
import { carryMembers, elementFrame, fromTo, memberFrame, turnedAbout } from './frames';
import { copyItems, freshId, idsOf, pasteItems, removeItems, withoutGaps } from './items';
import { namesQuantity } from './quantities';
import { settle } from './settle';

/**
 * A piece is a design of its own: it goes through the clipboard, onto the shelf, and into any design. Its group `connected-to`
 * holds what it was connected to, with the places that this had; everything else of it is the piece, also what is added later.
 */
export const OUTSIDE = 'connected-to';
/** Lists that a piece holds items of. */
const HELD = ['members', 'joints', 'elements', 'couplings', 'sources', 'loads'] as const;
type Held = (typeof HELD)[number];

/** A connection of a piece to what is outside of it. */
export interface Connection {
  /** What it was connected to, by its id in the piece. */
  id: Id;
  list: 'members' | 'elements' | 'joints';
  name: string;
  /** What of the piece is connected there. */
  of: string;
}

const each = (d: Design): { list: Held; item: { id: Id; name?: string; type?: string } }[] =>
  HELD.flatMap((list) => d[list].map((item) => ({ list, item })));
const named = (list: ItemList, x: { id: Id; name?: string }): string => x.name ?? `${ITEM_FORMS[list].title} ${x.id}`;

/** The items of a piece: all but what it was connected to. */
export function itemsOf(piece: Design): Set<Id> {
  const outside = new Set(piece.groups?.find((g) => g.id === OUTSIDE)?.items);
  return new Set(each(piece).flatMap((x) => (outside.has(x.item.id) ? [] : [x.item.id])));
}

/**
 * The piece that selected items are, with what it is connected to: of a member its joint and elements; couplings with an end in
 * it; loads and sources that act on it alone. Undefined where nothing of it can be copied by itself.
 */
export function pieceOf(design: Design, ids: readonly Id[], name: string): Design | undefined {
  const f = copyItems(design, ids);
  const own = new Set([...f.members, ...f.joints, ...f.elements].map((x) => x.id));
  if (!own.size) return undefined;
  const parts = (list: ItemList, x: Item): Id[] => namedBy(list, x).filter((n) => n !== FRAME);
  const asked = new Set(ids);
  const couplings = design.couplings.filter((c) => {
    const ends = parts('couplings', c);
    return asked.has(c.id) || ends.some((n) => own.has(n));
  });
  for (const c of couplings) own.add(c.id);
  const alone = (list: 'sources' | 'loads', x: Item): boolean => {
    const all = parts(list, x);
    return asked.has(x.id) || (all.length > 0 && all.every((n) => own.has(n)));
  };
  const sources = design.sources.filter((x) => alone('sources', x)),
    loads = design.loads.filter((x) => alone('loads', x));
  for (const x of [...sources, ...loads]) own.add(x.id);
  // What it speaks of outside, and what that stands on.
  const needed = new Set<Id>();
  const need = (id: Id): void => {
    if (id === FRAME || own.has(id) || needed.has(id)) return;
    needed.add(id);
    const e = design.elements.find((x) => x.id === id);
    if (e) need(e.member);
    const j = design.joints.find((x) => x.id === id);
    if (j) [j.parent, j.child].forEach(need);
  };
  for (const { list, item } of each(design)) if (own.has(item.id)) parts(list, item as Item).forEach(need);
  const has = (x: { id: Id }): boolean => own.has(x.id) || needed.has(x.id);
  const isFormula = namesQuantity(design);
  // Formulas stay behind with the quantities that they name; their values go along.
  const typed = Object.fromEntries(Object.entries(design.typed ?? {}).filter(([k, t]) => own.has(k.split('.')[0]) && !isFormula(t)));
  const groups = (design.groups ?? []).filter((g) => g.id !== OUTSIDE && g.items.every((i) => own.has(i)));
  if (needed.size) groups.push({ id: OUTSIDE, name: 'Connected to', items: [...needed] });
  return {
    ...emptyDesign(name),
    ...(design.settings && { settings: design.settings }),
    members: design.members.filter(has),
    joints: design.joints.filter(has),
    elements: design.elements.filter(has),
    couplings,
    sources,
    loads,
    ...(groups.length && { groups }),
    ...(Object.keys(typed).length && { typed }),
  };
}

/** Optional references of members and joints: what may be stood in, faces that stops follow. They may be left out. */
const LOOSE: Readonly<Partial<Record<Held, readonly string[]>>> = {
  members: ['mayOverlap', 'stopsAt'],
  joints: ['on', 'lowerFaces', 'upperFaces'],
};
/** What an item cannot be without. */
function essentials(list: Held, item: Item): Id[] {
  const bare = { ...item };
  for (const key of LOOSE[list] ?? []) delete (bare as Record<string, unknown>)[key];
  return namedBy(list, bare);
}

/** What a piece is connected to outside, each once; the frame is every design's and not asked for. */
export function connectionsOf(piece: Design): Connection[] {
  const inside = itemsOf(piece);
  const out = new Map<Id, Connection>();
  for (const { list, item } of each(piece)) {
    if (!inside.has(item.id)) continue;
    for (const n of essentials(list, item as Item)) {
      if (n === FRAME || inside.has(n)) continue;
      for (const to of ['elements', 'joints', 'members'] as const) {
        const x = piece[to].find((y) => y.id === n);
        if (!x) continue;
        const of = named(list, item);
        const had = out.get(n);
        if (!had) out.set(n, { id: n, list: to, name: named(to, x), of });
        else if (!had.of.split(', ').includes(of)) had.of = `${had.of}, ${of}`;
        break;
      }
    }
  }
  return [...out.values()];
}

/** What a connection can be made to in a design: of the same kind. In the design that it came from the same item is first. */
export function targetsOf(design: Design, piece: Design, c: Connection): { id: Id; name: string }[] {
  const was = piece[c.list].find((x) => x.id === c.id) as { id: Id; type?: string } | undefined;
  const all = design[c.list].filter((x) => c.list === 'members' || (x as { type?: string }).type === was?.type);
  const found = all.map((x) => ({ id: x.id, name: named(c.list, x) }));
  return [
    ...found.filter((x) => x.id === c.id && x.name === c.name),
    ...(c.list === 'members' ? [{ id: FRAME as Id, name: 'Frame' }] : []),
    ...found.filter((x) => x.id !== c.id || x.name !== c.name),
  ];
}

/** Where connections go without being asked, in the design that a piece came from: each to the very item that it came from. */
export const sameTargets = (design: Design, piece: Design): Map<Id, Id> =>
  new Map(
    connectionsOf(piece)
      .filter((c) => design[c.list].some((x) => x.id === c.id && named(c.list, x) === c.name))
      .map((c) => [c.id, c.id]),
  );

/** What wheels that mesh have in common, how it is called, and what holds where it is not stated. */
const TOOTH = [
  ['module', 'module', 0],
  ['pressureAngle', 'pressure angle', 20],
  ['helix', 'helix', 0],
] as const;
const MESHES: ReadonlySet<string> = new Set(['gear-pair', 'rack-mesh', 'sector-mesh', 'bevel-pair']);
const otherHand = (e: Gear): 'right' | 'left' => (e.hand === 'left' ? 'right' : 'left');

/**
 * A piece whose teeth fit what its connections go to: where a wheel meshes with another one than before, it takes that one's
 * module, pressure angle and helix angle, and its hand in the same way.
 */
export function fittedTo(design: Design, piece: Design, to: ReadonlyMap<Id, Id>): { piece: Design; said: string[] } {
  const said: string[] = [];
  const inside = itemsOf(piece);
  let { elements } = piece;
  for (const c of piece.couplings) {
    if (!MESHES.has(c.type) || !c.a || !c.b) continue;
    const [own, other] = inside.has(c.a) ? [c.a, c.b] : [c.b, c.a];
    const target = design.elements.find((e) => e.id === to.get(other)) as Gear | undefined;
    const was = piece.elements.find((e) => e.id === other) as Gear | undefined;
    const mine = elements.find((e) => e.id === own) as Gear | undefined;
    if (!target || !was || !mine || !inside.has(own)) continue;
    const taken = TOOTH.filter(([key, , otherwise]) => num(target[key], otherwise) !== num(mine[key], otherwise));
    const turned = num(target.helix) !== 0 && (target.hand ?? 'right') !== (was.hand ?? 'right');
    if (!taken.length && !turned) continue;
    said.push(`${mine.name} takes ${[...taken.map(([, word]) => word), ...(turned ? ['hand'] : [])].join(', ')} of ${target.name}`);
    const changes = { ...Object.fromEntries(taken.map(([key]) => [key, target[key]])), ...(turned && { hand: otherHand(mine) }) };
    elements = elements.map((e) => (e.id === own ? withoutGaps({ ...e, ...changes }) : e));
  }
  return { piece: { ...piece, elements }, said };
}

/** How a piece goes in: what each of its connections goes to, by its id in the piece; those that go to nothing are left out. */
export interface Insertion {
  to: ReadonlyMap<Id, Id>;
  /** The design on the shelf that it is, and which revision of it. */
  origin?: { design: Id; revision: number };
  /** Its name as a group; none where it is not to be one. */
  group?: string;
}

/** How far beside what it is a copy of something goes where no mesh says better, mm along z. */
const BESIDE: Vec3 = [0, 0, 60];

/**
 * Puts a piece into a design under new ids and names. Places are remembered: it stands to what it is connected to now as it stood
 * to what it was connected to; a mesh first, then what carries it, else where it was in the world. What is left without a
 * connection is left out: couplings, joints, loads and sources, elements of members that are not there. Gives what was made.
 */
export function withPiece(
  design: Design,
  piece: Design,
  { to, origin, group }: Insertion,
): { design: Design; made: Id[]; of: { item: Id; of: Id }[] } {
  const inside = itemsOf(piece);
  const goesTo = (id: Id): Id | undefined => (id === FRAME || inside.has(id) ? id : to.get(id));
  /** Couplings of several wheels go on over those that are left, as long as there are two. */
  const stands = (list: Held, item: Item): boolean => {
    const there = (n: Id): boolean => (inside.has(n) ? kept.has(n) : goesTo(n) !== undefined);
    const { wheels } = item as { wheels?: readonly Id[] };
    const lost = essentials(list, item).filter((n) => !there(n));
    return lost.every((n) => wheels?.includes(n)) && (!wheels || wheels.filter(there).length >= 2);
  };
  // What cannot stand goes, then what speaks of what went.
  const kept = new Set(inside);
  for (let shrank = true; shrank;) {
    shrank = false;
    for (const { list, item } of each(piece)) if (kept.has(item.id) && !stands(list, item as Item)) shrank = kept.delete(item.id);
  }
  const connections = connectionsOf(piece);
  // Moved as one, by the first connection that has a place.
  const first =
    connections.find((c) => c.list === 'elements' && to.has(c.id)) ??
    connections.find((c) => c.list === 'members' && to.has(c.id) && to.get(c.id) !== FRAME);
  const own = new Set(piece.members.filter((m) => inside.has(m.id)).map((m) => m.id));
  const frameOfTarget = (c: Connection): Frame | undefined => {
    const e = c.list === 'elements' ? design.elements.find((x) => x.id === to.get(c.id)) : undefined;
    return e ? elementFrame(design, e) : c.list === 'members' ? memberFrame(design, to.get(c.id)!) : undefined;
  };
  const was = first && (first.list === 'elements' ? piece.elements.find((e) => e.id === first.id) : undefined);
  const from = first && (was ? elementFrame(piece, was) : first.list === 'members' ? memberFrame(piece, first.id) : undefined);
  const target = first && frameOfTarget(first);
  let moved = from && target ? carryMembers(piece, own, fromTo(from, target)) : piece;
  // Nothing stands in what it is a copy of: a wheel goes round the one that it meshes with, along a rack, else beside.
  const taken = design.members.map((m) => memberFrame(design, m.id).o);
  const clashing = (d: Design): boolean =>
    d.members.some((m) => own.has(m.id) && kept.has(m.id) && taken.some((o) => norm(vsub(o, m.at ?? [0, 0, 0])) < 1e-6));
  let beside = clashing(moved);
  if (beside && was && target) {
    const rack = was.type === 'rack';
    const ways = rack
      ? [1, -1, 2, -2].map((n) => fromTo(WORLD, { ...WORLD, o: vscale(target.x, n * BESIDE[2]) }))
      : [6, 3, 9, 4, 8, 2, 10, 5, 7, 1, 11].map((n) => turnedAbout(target.o, target.z, (n * Math.PI) / 6));
    const round = ways.map((go) => carryMembers(moved, own, go)).find((d) => !clashing(d));
    if (round) [moved, beside] = [round, false];
  }
  // What may be left out is: but what is the very same item here stays.
  const stubs = new Map(each(piece).map((x) => [x.item.id, x]));
  const loosely = (id: Id): boolean => {
    const stub = stubs.get(id);
    if (id === FRAME || kept.has(id) || to.has(id)) return true;
    return stub !== undefined && !inside.has(id) && design[stub.list].some((x) => x.id === id && named(stub.list, x) === named(stub.list, stub.item));
  };
  const trimmed = (list: Held, item: Item): Item => {
    const out: Record<string, unknown> = { ...item };
    for (const key of [...(LOOSE[list] ?? []), ...(list === 'couplings' ? ['wheels'] : [])]) {
      const v = out[key];
      if (v === undefined) continue;
      const left = [v].flat().filter((r) => typeof r === 'string' && loosely(r.split(':')[0]));
      if (!left.length || (key.endsWith('Faces') && left.length < 2)) delete out[key];
      else if (Array.isArray(v)) out[key] = left;
    }
    return out as unknown as Item;
  };
  const take = <L extends Held>(list: L): Design[L] =>
    (moved[list] as Item[]).filter((x) => kept.has(x.id)).map((x) => trimmed(list, x)) as unknown as Design[L];
  const fragment = {
    members: take('members'),
    joints: take('joints'),
    elements: take('elements'),
    couplings: take('couplings'),
    sources: take('sources'),
    loads: take('loads'),
  };
  const pasted = pasteItems(design, fragment, beside ? BESIDE : [0, 0, 0], to);
  let out = pasted.design;
  const ids = HELD.flatMap((list) => fragment[list].map((x) => x.id));
  const of = ids.map((id, k) => ({ item: pasted.made[k], of: id }));
  if (group !== undefined) {
    const id = freshId(idsOf(out), 'group');
    out = {
      ...out,
      groups: [
        ...(out.groups ?? []),
        { id, name: group, items: [...pasted.made], ...(origin && { origin: origin.design, originRevision: origin.revision, originItems: of }) },
      ],
    };
  }
  if (piece.typed) {
    const by = new Map(of.map((x) => [x.of, x.item]));
    const typed = Object.entries(piece.typed).flatMap(([k, v]) => {
      const [id, ...rest] = k.split('.');
      return by.has(id) ? [[[by.get(id), ...rest].join('.'), v] as const] : [];
    });
    if (typed.length) out = { ...out, typed: { ...out.typed, ...Object.fromEntries(typed) } };
  }
  // A mesh with a wheel of another size comes to its working distance, where everything else is at its own already.
  if (!beside && first?.list === 'elements' && !settle(design).steps.length) out = settle(out).design;
  return { design: out, made: pasted.made, of };
}

/** Numbers of a piece that are open to change when it is inserted: what its elements must state. */
export function numbersOf(piece: Design): { id: Id; name: string; fields: readonly Field[] }[] {
  const inside = itemsOf(piece);
  return piece.elements
    .filter((e) => inside.has(e.id))
    .map((e) => ({
      id: e.id,
      name: e.name,
      fields: fieldsOfItem('elements', e).filter(
        (f) => f.required && ['exact', 'number', 'whole'].includes(f.kind) && statedBy(e)[f.key] !== undefined,
      ),
    }))
    .filter((x) => x.fields.length);
}

/**
 * Takes the newer state of a piece over into a design. What of it is there states what the piece states now, but for names,
 * connections, and places of what hangs on the outside. What is new in it comes in, what went from it goes.
 */
export function withNewerPiece(design: Design, groupId: Id, piece: Design, revision: number): Design {
  const group = design.groups?.find((g) => g.id === groupId);
  if (!group?.origin) return design;
  const present = new Set(each(design).map((x) => x.item.id));
  const pairs = (group.originItems ?? []).filter((p) => present.has(p.item));
  const inside = itemsOf(piece);
  const here = new Map(pairs.filter((p) => inside.has(p.of)).map((p) => [p.of, p.item]));
  const old = new Map(pairs.map((p) => [p.item, p.of]));
  const hanging = new Set(piece.joints.filter((j) => !inside.has(j.parent)).map((j) => j.child));
  let out: Design = removeItems(
    design,
    pairs.filter((p) => !inside.has(p.of)).map((p) => p.item),
  );
  for (const list of HELD) {
    const now = new Map((piece[list] as Item[]).filter((x) => inside.has(x.id)).map((x) => [x.id, x]));
    out = {
      ...out,
      [list]: (out[list] as Item[]).map((x) => {
        const newer = now.get(old.get(x.id) ?? '');
        if (!newer) return x;
        // What is its own here: its name, what it refers to, and where it stands if it hangs on the outside.
        const own = new Set(['id', 'name', ...referenceKeys(list, x), ...(hanging.has(newer.id) ? ['at', 'axis', 'up'] : [])]);
        const part = (of: Item, its: boolean): object => Object.fromEntries(Object.entries(statedBy(of)).filter(([k]) => own.has(k) === its));
        return { ...part(newer, false), ...part(x, true) };
      }),
    };
  }
  // What is new in it, between what is there; its connections to the outside are made by hand.
  const fresh = new Set([...inside].filter((id) => !here.has(id)));
  if (fresh.size) {
    const known = each(piece).flatMap((x) => (fresh.has(x.item.id) ? [] : [x.item.id]));
    const added: Design = { ...piece, groups: [{ id: OUTSIDE, name: 'Connected to', items: known }] };
    const made = withPiece(out, added, { to: here });
    out = made.design;
    for (const p of made.of) here.set(p.of, p.item);
  }
  const items = new Set(HELD.flatMap((list) => out[list].map((x) => x.id)));
  return {
    ...out,
    groups: out.groups?.map((g) =>
      g.id === groupId
        ? {
            ...g,
            items: [...new Set([...g.items, ...here.values()])].filter((id) => items.has(id)),
            originRevision: revision,
            originItems: [...here].filter(([, item]) => items.has(item)).map(([of, item]) => ({ item, of })),
          }
        : g,
    ),
  };
}
