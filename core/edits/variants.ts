import { ITEM_FORMS, ITEM_LISTS, type ItemList, fieldProblem, fieldsOfItem, unusedName } from '../document/index';
import { type Field, statedBy } from '../fields/fields';
import type { Design, Id, Variant } from '../fields/types';
import { changed, freshId, idsOf, removeItems, withoutGaps } from './items';
import { settle } from './settle';
import { withItem } from './values';

/** Kinds of fields that a variant may state otherwise. */
const VARIED: readonly Field['kind'][] = ['exact', 'number', 'whole', 'choice', 'flag', 'text'];

/** The item of an id with its list. */
function itemAt(design: Design, id: Id): { list: ItemList; item: { id: Id; name?: string; type?: string } } | undefined {
  for (const list of ITEM_LISTS) {
    const item = design[list].find((x) => x.id === id);
    if (item) return { list, item };
  }
  return undefined;
}

/** The fields of an item that a variant may state otherwise: numbers, choices, flags and texts. */
export function variedFields(design: Design, id: Id): Field[] {
  const at = itemAt(design, id);
  if (!at) return [];
  return fieldsOfItem(at.list, at.item).filter((f) => VARIED.includes(f.kind) && !f.fromFile && (!f.when || f.when(at.item)));
}

/** A value as a variant keeps it; nothing stated is an empty text. */
export const variedText = (value: unknown): string =>
  value === undefined || value === null ? '' : typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value as string);
/** The value of a field that a text of a variant is; undefined where it is stated no more. */
export function variedValue(f: Field, text: string | undefined): unknown {
  const t = (text ?? '').trim();
  if (t === '') return undefined;
  if (f.kind === 'flag') return t === 'yes' ? true : t === 'no' ? false : t;
  if (f.kind === 'number' || f.kind === 'whole') return Number.isFinite(Number(t)) ? Number(t) : t;
  return f.kind === 'exact' && Number.isFinite(Number(t)) ? Number(t) : t;
}

/** The base with the changes of a variant, as far as they hold; and what does not hold any more, in sentences. */
function applied(base: Design, variant: Variant): { design: Design; conflicts: string[] } {
  const conflicts: string[] = [];
  let design = base;
  for (const { item: id, field, value: text } of variant.changes ?? []) {
    const at = itemAt(base, id);
    // A field may be there because of a change before it.
    const f = at && variedFields(design, id).find((x) => x.key === field);
    const name = at?.item.name ?? id;
    if (!at) conflicts.push(`“${id}” is not in the design any more.`);
    else if (!f) conflicts.push(`${name} has no field “${field}” any more.`);
    else {
      const value = variedValue(f, text);
      const wrong = fieldProblem(f, value);
      if (wrong) conflicts.push(`${name}: ${wrong}.`);
      else design = withItem(design, id, { [field]: value });
    }
  }
  const out = (variant.suppressed ?? []).filter((id) => {
    const here = itemAt(base, id) !== undefined;
    if (!here) conflicts.push(`“${id}” is not in the design any more: it need not be left out.`);
    return here;
  });
  return { design: out.length ? removeItems(design, out) : design, conflicts };
}
/** The fields of an item that a variant may state otherwise, as it is in the variant. */
export const fieldsInVariant = (base: Design, variant: Variant, id: Id): Field[] => variedFields(applied(base, variant).design, id);
/** What of a variant does not hold any more, in sentences: quick enough for every change of the base. */
export const conflictsOf = (base: Design, variant: Variant): string[] => applied(base, variant).conflicts;

/**
 * The design that a variant is: the base with its changes, working distances and phases set where those of the base are; and what
 * of it does not hold any more, in sentences. Such changes are left out.
 */
export function variantOf(base: Design, variant: Variant): { design: Design; conflicts: string[] } {
  const { design, conflicts } = applied(base, variant);
  return { design: design !== base && !settle(base).steps.length ? settle(design).design : design, conflicts };
}

/** A variant without a change under the next free name. */
export function withVariant(design: Design, name: string): { design: Design; id: Id } {
  const id = freshId(idsOf(design), 'variant');
  const free = unusedName(name, new Set(design.variants?.map((v) => v.name)));
  return { design: { ...design, variants: [...(design.variants ?? []), { id, name: free }] }, id };
}

/** A variant stated otherwise; what is undefined is stated no more. */
export const withVariantChanged = (design: Design, id: Id, changes: Partial<Variant>): Design => ({
  ...design,
  variants: design.variants && changed(design.variants, id, (v) => withoutGaps({ ...v, ...changes })),
});

/** A field in a variant, by its text; as in the base again where `text` is undefined. */
export function withVaried(design: Design, id: Id, item: Id, field: string, text: string | undefined): Design {
  const v = design.variants?.find((x) => x.id === id);
  const others = (v?.changes ?? []).filter((c) => c.item !== item || c.field !== field);
  const at = (v?.changes ?? []).findIndex((c) => c.item === item && c.field === field);
  const changes =
    text === undefined
      ? others
      : at < 0
        ? [...others, { item, field, value: text }]
        : v!.changes!.map((c, k) => (k === at ? { item, field, value: text } : c));
  return withVariantChanged(design, id, { changes: changes.length ? changes : undefined });
}

/**
 * A variant becomes the base. What was the base stays as a variant of the new one, and so does every other variant: each is the
 * same design as before. Undefined where it leaves items out, which another may have, or has conflicts.
 */
export function withVariantAsBase(design: Design, id: Id, formerly: string): Design | undefined {
  const chosen = design.variants?.find((v) => v.id === id);
  if (!chosen || chosen.suppressed?.length) return undefined;
  const { design: made, conflicts } = variantOf(design, chosen);
  if (conflicts.length) return undefined;
  const undo = (chosen.changes ?? []).map((c) => ({ ...c, value: variedText(statedBy(itemAt(design, c.item)!.item)[c.field]) }));
  const others = (design.variants ?? [])
    .filter((v) => v.id !== id)
    .map((v) => {
      const own = new Set((v.changes ?? []).map((c) => `${c.item} ${c.field}`));
      const kept = undo.filter((c) => !own.has(`${c.item} ${c.field}`));
      const changes = [...(v.changes ?? []), ...kept];
      return withoutGaps({ ...v, changes: changes.length ? changes : undefined });
    });
  const name = unusedName(formerly, new Set(others.map((v) => v.name)));
  return { ...made, variants: [...others, withoutGaps({ id: chosen.id, name, changes: undo.length ? undo : undefined })] };
}

/** Fields in which a variant states something else than the base, in words: item, field, what the base has, what it has. */
export function variedLines(base: Design, variant: Variant): { item: Id; name: string; field?: Field; key: string; base: unknown; text: string }[] {
  const there = applied(base, variant).design;
  return (variant.changes ?? []).map((c) => {
    const at = itemAt(base, c.item);
    const field = variedFields(there, c.item).find((f) => f.key === c.field);
    const name = at ? (at.item.name ?? `${ITEM_FORMS[at.list].title} ${c.item}`) : c.item;
    return { item: c.item, name, field, key: c.field, base: at && statedBy(at.item)[c.field], text: c.value ?? '' };
  });
}
