import { ITEM_FORMS, ITEM_LISTS, namedBy, same } from '../document/index';
import type { Design, Id } from '../fields/types';
import { removeItems } from './items';

/** An item by name, and what kind of item it is, in a word. */
export interface NamedItem {
  id: Id;
  name: string;
  word: string;
}

/** What deleting brings about beside what is deleted itself. */
export interface DeletionEffects {
  /** Items that go along, because they stand on what goes or speak of it. */
  along: NamedItem[];
  /** Members that nothing carries any more. */
  loose: NamedItem[];
  /** Items that stay and lose something that they speak of: a belt's wheel, a wanted output's joint. */
  losing: NamedItem[];
}

/** What is kept beside the items and refers to them. */
const KEPT = [
  ['cases', 'Load case'],
  ['runs', 'Run'],
  ['sheets', 'Load sheet'],
  ['drawings', 'Drawing'],
  ['variants', 'Variant'],
] as const;

/** What deleting these items would bring about; the design stays as it is. */
export function deletionEffects(d: Design, ids: readonly Id[]): DeletionEffects {
  const after = removeItems(d, ids);
  const asked = new Set([...ids, ...(d.groups ?? []).filter((g) => ids.includes(g.id)).flatMap((g) => g.items)]);
  const named = (word: string, x: { id: Id; name?: string }): NamedItem => ({ id: x.id, name: x.name ?? x.id, word: word.toLowerCase() });
  const along: NamedItem[] = [];
  const losing: NamedItem[] = [];
  for (const list of ITEM_LISTS) {
    const left = new Map(after[list].map((x) => [x.id, x]));
    for (const x of d[list]) {
      const now = left.get(x.id);
      if (!now) {
        if (!asked.has(x.id)) along.push(named(ITEM_FORMS[list].title, x));
      } else if (namedBy(list, now).length < namedBy(list, x).length) losing.push(named(ITEM_FORMS[list].title, x));
    }
  }
  for (const [list, word] of KEPT) {
    const left = new Map((after[list] ?? []).map((x) => [x.id, x]));
    for (const x of d[list] ?? []) {
      if (asked.has(x.id)) continue;
      if (!left.has(x.id)) along.push(named(word, x));
      else if (!same(left.get(x.id), x)) losing.push(named(word, x));
    }
  }
  const carried = new Set(after.joints.map((j) => j.child));
  const loose = after.members
    .filter((m) => !carried.has(m.id) && d.joints.some((j) => j.child === m.id))
    .map((m) => named(ITEM_FORMS.members.title, m));
  return { along, loose, losing };
}
