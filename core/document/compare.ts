import { type Field, statedBy } from '../fields/fields';
import { ITEM_FORMS, ITEM_LISTS, type ItemList, OTHER_FORMS, OTHER_LISTS } from './form';
import { type Item, fieldsOfItem, itemsOf } from './item-fields';
import { same } from './merge';
import { SETTINGS_FIELDS } from '../fields/common';
import type { Design } from '../fields/types';

/** One difference between two states of a design, in words. */
export interface Difference {
  change: 'added' | 'removed' | 'changed';
  /** Such as `Element “Crank pinion”`. */
  what: string;
  /** Such as `Teeth: 18 → 20`; empty where a whole item came or went. */
  detail: string;
}

const NONE = 'not stated';

function valueText(f: Field | undefined, v: unknown, names: ReadonlyMap<string, string>): string {
  if (v === undefined || v === null || v === '') return NONE;
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (Array.isArray(v)) {
    if (f?.kind === 'table') return `${v.length} ${v.length === 1 ? 'row' : 'rows'}`;
    if (f?.kind === 'refs') return v.map((x) => names.get(String(x).split(':')[0]) ?? String(x)).join(', ');
    return `${v.map((x) => (typeof x === 'number' ? String(x) : '…')).join(', ')}${f?.unit ? ` ${f.unit}` : ''}`;
  }
  if (typeof v === 'object') return '…';
  if (f?.kind === 'ref') return names.get(String(v).split(':')[0]) ?? String(v);
  return `${String(v)}${f?.unit ? ` ${f.unit}` : ''}`;
}

const sayItem = (list: ItemList, x: Item): string => `${ITEM_FORMS[list].title} “${x.name ?? x.type ?? x.id}”`;

function changesOf(list: ItemList, before: Item, after: Item, names: ReadonlyMap<string, string>): Difference[] {
  const what = sayItem(list, after);
  const fields = [...ITEM_FORMS[list].own, ...fieldsOfItem(list, after)];
  const [a, b] = [statedBy(before), statedBy(after)];
  const out: Difference[] = [];
  for (const key of new Set([...Object.keys(a), ...Object.keys(b)])) {
    if (key === 'id' || same(a[key], b[key])) continue;
    const f = fields.find((x) => x.key === key);
    const label = key === 'name' ? 'Name' : key === 'type' ? 'Kind' : (f?.label ?? key);
    const [from, to] = [valueText(f, a[key], names), valueText(f, b[key], names)];
    out.push({ change: 'changed', what, detail: from === to ? `${label}: changed` : `${label}: ${from} → ${to}` });
  }
  return out;
}

/** What has changed from one state of a design to another, in the order of its lists, in words. */
export function compareDesigns(from: Design, to: Design): Difference[] {
  const names = new Map<string, string>();
  for (const d of [from, to]) for (const list of ITEM_LISTS) for (const x of itemsOf(d, list)) names.set(x.id, x.name ?? x.id);
  const out: Difference[] = [];
  if (from.name !== to.name) out.push({ change: 'changed', what: 'Design', detail: `Name: ${from.name} → ${to.name}` });
  if ((from.note ?? '') !== (to.note ?? '')) out.push({ change: 'changed', what: 'Design', detail: 'Note: changed' });
  for (const f of SETTINGS_FIELDS) {
    const [a, b] = [from.settings, to.settings].map((s) => statedBy(s ?? {})[f.key]);
    if (!same(a, b)) out.push({ change: 'changed', what: 'Design', detail: `${f.label}: ${valueText(f, a, names)} → ${valueText(f, b, names)}` });
  }
  for (const list of ITEM_LISTS) {
    const before = new Map(itemsOf(from, list).map((x) => [x.id, x]));
    const after = new Map(itemsOf(to, list).map((x) => [x.id, x]));
    for (const [id, x] of before) if (!after.has(id)) out.push({ change: 'removed', what: sayItem(list, x), detail: '' });
    for (const [id, x] of after) {
      const old = before.get(id);
      if (!old) out.push({ change: 'added', what: sayItem(list, x), detail: '' });
      else out.push(...changesOf(list, old, x, names));
    }
    const kept = [...before.keys()].filter((id) => after.has(id));
    if (
      !same(
        kept,
        [...after.keys()].filter((id) => before.has(id)),
      )
    ) {
      out.push({ change: 'changed', what: `${ITEM_FORMS[list].title}s`, detail: 'Order: changed' });
    }
  }
  for (const key of OTHER_LISTS) {
    const [before, after] = [from[key] ?? [], to[key] ?? []];
    if (!same(before, after)) out.push({ change: 'changed', what: `${OTHER_FORMS[key].title}s`, detail: `${before.length} → ${after.length}` });
  }
  return out;
}
