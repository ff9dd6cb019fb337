import { ITEM_FORMS, ITEM_LISTS, type ItemList, OTHER_LISTS } from './form';
import { fieldsOfItem } from './item-fields';

/** What items state besides the fields of their kinds. */
const COMMON: ReadonlySet<string> = new Set(['id', 'name', 'type', ...ITEM_LISTS.flatMap((list) => ITEM_FORMS[list].own).map((f) => f.key)]);

/** Nothing, an empty string or a blank: not stated. */
export const isUnstated = (v: unknown): boolean => v === undefined || v === null || (typeof v === 'string' && v.trim() === '');

/** Items are never changed in place: what was found of one is kept with it. */
const known = new WeakMap<object, object>();

function onlyStated(item: object, list: ItemList | undefined): object {
  const had = known.get(item);
  if (had) return had;
  // What no item of its kind has is left for the reader to name.
  const fields = (): ReadonlySet<string> | undefined => list && new Set(fieldsOfItem(list, item as { id: string }).map((f) => f.key));
  const all = Object.entries(item);
  const some = all.some(([, v]) => isUnstated(v)) ? fields() : undefined;
  const open = new Set(all.filter(([key, v]) => isUnstated(v) && (!list || COMMON.has(key) || some?.has(key))).map(([key]) => key));
  const made = open.size ? Object.fromEntries(all.filter(([key]) => !open.has(key))) : item;
  known.set(item, made);
  known.set(made, made);
  return made;
}

/**
 * A design in which fields that state nothing (a null, an empty string, a blank) are not there, so
 * that everything behind it asks one question only. Looks at the fields of items and settings; gives
 * the same object where there is nothing to take out. Takes documents that have not been checked.
 */
export function withoutUnstated<T extends object>(document: T): T {
  const d = document as Record<string, unknown>;
  const changed: Record<string, unknown> = {};
  for (const key of ITEM_LISTS) {
    const list = d[key];
    if (!Array.isArray(list)) continue;
    const next = list.map((x: unknown) => (typeof x === 'object' && x !== null && !Array.isArray(x) ? onlyStated(x, key) : x));
    if (next.some((x, i) => x !== list[i])) changed[key] = next;
  }
  if (typeof d['settings'] === 'object' && d['settings'] !== null) {
    const settings = onlyStated(d['settings'], undefined);
    if (settings !== d['settings']) changed['settings'] = settings;
  }
  for (const key of ['note', 'settings', ...OTHER_LISTS, 'typed']) {
    if (key in d && d[key] === null) changed[key] = undefined;
  }
  if (!Object.keys(changed).length) return document;
  const out = { ...d, ...changed };
  for (const key of Object.keys(out)) if (out[key] === undefined) delete out[key];
  return out as T;
}
