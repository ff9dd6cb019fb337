import { ITEM_FORMS, ITEM_LISTS, OTHER_FORMS, OTHER_LISTS } from './form';
import { namedBy, namedIn } from './references';
import type { Design, Group, Id } from '../fields/types';

/** Two JSON values that say the same, whatever the order of their fields; a field that is not stated is no field. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null || Array.isArray(a) !== Array.isArray(b)) return false;
  if (Array.isArray(a)) return a.length === (b as unknown[]).length && a.every((x, i) => same(x, (b as unknown[])[i]));
  const [p, q] = [a as Record<string, unknown>, b as Record<string, unknown>];
  for (const key of new Set([...Object.keys(p), ...Object.keys(q)])) if (!same(p[key], q[key])) return false;
  return true;
}

export interface Merge {
  design: Design;
  /** What both have changed differently, in words; where there is any, a person must choose. Mine stands in `design` there. */
  clashes: string[];
}

interface Listed {
  id: string;
  name?: string;
}
type Touched = Map<string, { removed: boolean; item?: Listed; word: string; names: readonly Id[] }>;

/** One value of three: what one side left alone follows the other. */
function pick<T>(base: T, mine: T, theirs: T, clash: () => void): T {
  if (same(mine, base)) return theirs;
  if (!same(theirs, base) && !same(mine, theirs)) clash();
  return mine;
}

function mergeList(
  base: Listed[],
  mine: Listed[],
  theirs: Listed[],
  word: string,
  clashes: string[],
  by: { mine: Touched; theirs: Touched },
  namesOf: (x: Listed) => readonly Id[],
): Listed[] {
  const of = (l: Listed[]): Map<string, Listed> => new Map(l.map((x) => [x.id, x]));
  const [b, m, t] = [of(base), of(mine), of(theirs)];
  // The order is theirs, with what is new of mine behind, or mine where they left the order alone.
  const order = same([...t.keys()], [...b.keys()]) ? [...mine, ...theirs] : [...theirs, ...mine];
  const out: Listed[] = [];
  const done = new Set<string>();
  for (const [id, old] of b) {
    for (const [side, now] of [
      ['mine', m.get(id)],
      ['theirs', t.get(id)],
    ] as const) {
      if (!same(now, old)) by[side].set(id, { removed: !now, item: now, word, names: now ? namesOf(now) : [] });
    }
  }
  for (const [side, list] of [
    ['mine', m],
    ['theirs', t],
  ] as const) {
    for (const [id, x] of list) if (!b.has(id)) by[side].set(id, { removed: false, item: x, word, names: namesOf(x) });
  }
  for (const { id } of order) {
    if (done.has(id)) continue;
    done.add(id);
    const x = pick(b.get(id), m.get(id), t.get(id), () => {
      const named = m.get(id) ?? t.get(id) ?? b.get(id)!;
      clashes.push(`${word} “${named.name ?? id}” was ${m.get(id) && t.get(id) ? 'changed in both' : 'changed in one and deleted in the other'}`);
    });
    if (x) out.push(x);
  }
  return out;
}

/**
 * Joins two states of a design that grew from one: each item follows the side that touched it. An item that
 * both touched differently, and an item of one that speaks of what the other has deleted, are clashes.
 */
export function mergeDesigns(base: Design, mine: Design, theirs: Design): Merge {
  const clashes: string[] = [];
  const by = { mine: new Map() as Touched, theirs: new Map() as Touched };
  const lists: Record<string, Listed[]> = {};
  for (const list of ITEM_LISTS) {
    lists[list] = mergeList(base[list], mine[list], theirs[list], ITEM_FORMS[list].title, clashes, by, (x) => namedBy(list, x));
  }
  for (const list of OTHER_LISTS) {
    const { title, fields } = OTHER_FORMS[list];
    const joined = mergeList(base[list] ?? [], mine[list] ?? [], theirs[list] ?? [], title, clashes, by, (x) => namedIn(fields, x));
    if (joined.length || mine[list] || theirs[list]) lists[list] = joined;
  }
  for (const [one, other] of [
    [by.mine, by.theirs],
    [by.theirs, by.mine],
  ]) {
    for (const { removed, item, word, names } of one.values()) {
      if (removed || !item) continue;
      for (const id of new Set(names)) {
        if (other.get(id)?.removed) {
          clashes.push(`${word} “${item.name ?? item.id}” needs ${other.get(id)!.word.toLowerCase()} “${id}”, which was deleted in the other`);
        }
      }
    }
  }
  // A group holds what is there.
  const there = new Set(ITEM_LISTS.flatMap((list) => lists[list].map((x) => x.id)));
  if (lists['groups']) {
    lists['groups'] = (lists['groups'] as Group[]).map((g) => ({ ...g, items: g.items.filter((x) => there.has(x)) })).filter((g) => g.items.length);
  }
  const value = <K extends 'name' | 'note' | 'settings'>(key: K, word: string): Design[K] =>
    pick(base[key], mine[key], theirs[key], () => clashes.push(`${word} was changed in both`));
  const typed: Record<string, string> = {};
  for (const key of new Set([...Object.keys(mine.typed ?? {}), ...Object.keys(theirs.typed ?? {})])) {
    const text = pick(base.typed?.[key], mine.typed?.[key], theirs.typed?.[key], () => undefined);
    if (text !== undefined) typed[key] = text;
  }
  const design = {
    ...theirs,
    ...lists,
    name: value('name', 'The name'),
    note: value('note', 'The note'),
    settings: value('settings', 'The settings'),
    typed,
  } as Design;
  for (const key of ['note', 'settings'] as const) if (design[key] === undefined) delete design[key];
  if (!Object.keys(typed).length) delete design.typed;
  return { design, clashes: [...new Set(clashes)] };
}
