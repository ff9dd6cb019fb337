import { type Field, statedBy } from '../fields/fields';
import type { Id } from '../fields/types';
import { ITEM_FORMS, type ItemList } from './form';
import { type Item, fieldsOfItem } from './item-fields';

const isReference = (f: Field): boolean => f.kind === 'ref' || f.kind === 'refs';

/** Keys under which an item names other items. A word that is chosen (a hand, a form) is never one, whatever ids there are. */
export const referenceKeys = (list: ItemList, item: Item): string[] =>
  [...ITEM_FORMS[list].own, ...fieldsOfItem(list, item)].filter(isReference).map((f) => f.key);

/** Ids that an item names in any of these fields, also in the rows of its tables. */
export function namedIn(fields: readonly Field[], item: object): Id[] {
  const stated = statedBy(item);
  return fields.flatMap((f): Id[] => {
    const v = stated[f.key];
    if (isReference(f)) {
      return [v ?? []]
        .flat()
        .filter((x) => typeof x === 'string')
        .map(idOf);
    }
    return f.columns && Array.isArray(v) ? v.flatMap((row: object) => namedIn(f.columns!, row)) : [];
  });
}

/** The id in a reference: "j3" of "j3:1", "collar" of "collar:+z". */
export const idOf = (reference: string): Id => reference.split(':')[0];

/** Ids that an item names, whatever its fields are called. */
export const namedBy = (list: ItemList, item: Item): Id[] =>
  referenceKeys(list, item)
    .flatMap((key) => statedBy(item)[key] ?? [])
    .filter((x) => typeof x === 'string')
    .map(idOf);

/** The item with other ids in place of those that it names; what stands behind the id in a reference stays. */
export function withReferences<T extends Item>(list: ItemList, item: T, to: (id: Id) => Id | undefined): T {
  const renamed = (reference: unknown): unknown => {
    if (typeof reference !== 'string') return reference;
    const head = idOf(reference);
    return `${to(head) ?? head}${reference.slice(head.length)}`;
  };
  const changed: Record<string, unknown> = {};
  for (const key of referenceKeys(list, item)) {
    const v = statedBy(item)[key];
    if (v !== undefined) changed[key] = Array.isArray(v) ? v.map(renamed) : renamed(v);
  }
  return { ...item, ...changed };
}
