import { ITEM_LISTS, type ItemList } from '../document/index';
import { statedBy } from '../fields/fields';
import type { Design, Id } from '../fields/types';
import { withRatchetSense } from './pawl';

/** A field to be stated on items of one list. */
export interface StatedValue {
  readonly list: ItemList;
  /** The item that is shown, and those that take the value with it. */
  readonly ids: readonly [Id, ...Id[]];
  readonly field: string;
  /** In the field's unit; undefined: stated no more. */
  readonly value: unknown;
  /** The text as it was typed, where it says more than the value. */
  readonly typed?: string;
  /** What the value comes to on one of the others; the same where it is not given. */
  readonly each?: (item: Readonly<Record<string, unknown>>, value: unknown) => unknown;
}

/**
 * States a field of one or several items. A stop that is typed no longer follows
 * faces; a ratchet wheel that lets the other sense pass takes its pawls to the other side.
 */
export function withValue(design: Design, { list, ids, field, value, typed, each }: StatedValue): Design {
  const [shown] = ids;
  const all = new Set<Id>(ids);
  const ratchets = list === 'elements' && field === 'free' ? design.elements.filter((e) => all.has(e.id) && e.type === 'ratchet-wheel') : [];
  const from = ratchets.reduce((d, e) => withRatchetSense(d, e.id, value === 'back' ? 'back' : 'forward'), design);
  const texts = { ...design.typed };
  for (const id of all) {
    if (typed) texts[`${id}.${field}`] = typed;
    else delete texts[`${id}.${field}`];
  }
  const out: Design = {
    ...from,
    [list]: from[list].map((x) => {
      if (!all.has(x.id)) return x;
      const next: Record<string, unknown> = { ...x };
      const stated = x.id === shown ? value : each ? each(statedBy(x), value) : value;
      if (stated === undefined) delete next[field];
      else next[field] = stated;
      if (list === 'joints' && (field === 'lower' || field === 'upper')) delete next[`${field}Faces`];
      return next;
    }),
    typed: texts,
  };
  if (!Object.keys(texts).length) delete out.typed;
  return out;
}

/**
 * An item of a design with some of its fields stated otherwise; what is undefined is stated no more. What was typed for such a
 * field, a formula for one, goes with its value.
 */
export function withItem(design: Design, id: Id, changes: Readonly<Record<string, unknown>>): Design {
  const list = ITEM_LISTS.find((l) => design[l].some((x) => x.id === id));
  if (!list) return design;
  const change = (x: { id: Id }): { id: Id } => {
    if (x.id !== id) return x;
    const next: Record<string, unknown> = { ...x, ...changes };
    for (const key of Object.keys(changes)) if (changes[key] === undefined) delete next[key];
    return next as unknown as { id: Id };
  };
  const out: Design = { ...design, [list]: design[list].map(change) };
  const gone = new Set(Object.keys(changes).map((key) => `${id}.${key}`));
  const texts = Object.entries(design.typed ?? {}).filter(([key]) => !gone.has(key));
  if (texts.length === Object.keys(design.typed ?? {}).length) return out;
  if (texts.length) out.typed = Object.fromEntries(texts);
  else delete out.typed;
  return out;
}

/** The design's note; none where the text is blank. */
export function withNote(design: Design, text: string): Design {
  const out = { ...design, note: text.trim() || undefined };
  if (!out.note) delete out.note;
  return out;
}

/** An end of a joint's travel. */
export type Limit = 'lower' | 'upper';

/** A stop that follows two faces (`element:+x`), which come together, instead of a number. */
export const withStopFaces = (design: Design, joint: Id, which: Limit, faces: readonly [string, string]): Design =>
  withItem(design, joint, { [`${which}Faces`]: [...faces], [which]: undefined });

/** A stop or the home of a joint as a number, deg or mm; a stop no longer follows faces. */
export const withJointPlace = (design: Design, joint: Id, which: Limit | 'home', value: number): Design =>
  withItem(design, joint, which === 'home' ? { home: value } : { [which]: value, [`${which}Faces`]: undefined });
