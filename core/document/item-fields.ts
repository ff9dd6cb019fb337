import type { Field } from '../fields/fields';
import type { Design } from '../fields/types';
import { ITEM_FORMS, type ItemList } from './form';

export interface Item {
  readonly id: string;
  readonly name?: string;
  readonly type?: string;
}

export const itemsOf = (d: Design, list: ItemList): readonly Item[] => d[list];

/** What may be stated of an item, besides its id, its name, its type and what its list's items cannot be without. */
export function fieldsOfItem(list: ItemList, item: Item): readonly Field[] {
  const form = ITEM_FORMS[list];
  return [...(form.kinds?.find((k) => k.type === item.type)?.fields ?? []), ...form.fields];
}
