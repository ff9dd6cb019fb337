import { ITEM_LISTS, type Item, type ItemList, fieldProblem, fieldsOfItem, itemsOf as listed, keptValue } from '../document/index';
import { type Field, statedBy } from '../fields/fields';
import type { Design, Id, NamedQuantity } from '../fields/types';
import { exactly } from '../math/index';
import { type Names, type NamedValue, namedValue, namesIn, readQuantity, replaceNames, symbolProblem } from '../units/index';
import { freshId, idsOf } from './items';

const VALUE: Pick<Field, 'kind'> = { kind: 'exact' };
/** The unit of a named quantity, as fields state units: '' for a plain number. */
export const unitOfQuantity = (q: Pick<NamedQuantity, 'unit'>): string => (q.unit === undefined || q.unit === 'number' ? '' : q.unit);

/** What the names of a design stand for, by the values that it states. */
export function namesOf(design: Design): Names {
  const all = new Map((design.quantities ?? []).map((q) => [q.symbol, q]));
  return (symbol) => {
    const q = all.get(symbol);
    return q && namedValue(exactly(q.value), unitOfQuantity(q));
  };
}

/**
 * A field whose text is a formula, with what it is of. Its key in the
 * document is “id.field”.
 */
interface FormulaField {
  readonly key: string;
  readonly list: ItemList;
  readonly item: Item;
  readonly field: Field;
  readonly text: string;
}
const NUMERIC: readonly string[] = ['exact', 'number', 'whole'];

/** Says of a text which quantities of the design it names. */
function naming(design: Pick<Design, 'quantities'>): (text: string) => string[] {
  const symbols = new Set((design.quantities ?? []).map((q) => q.symbol));
  return (text) => (symbols.size ? namesIn(text, (s) => symbols.has(s)) : []);
}
/** Says of a text whether it names a quantity of the design. */
export function namesQuantity(design: Design): (text: string) => boolean {
  const names = naming(design);
  return (text) => names(text).length > 0;
}

const itemsById = (design: Design): ReadonlyMap<Id, { readonly list: ItemList; readonly item: Item }> =>
  new Map(ITEM_LISTS.flatMap((list) => listed(design, list).map((item) => [item.id, { list, item }] as const)));
/** Every field of a design whose text names a quantity. */
function formulaFields(design: Design): FormulaField[] {
  const names = naming(design);
  const texts = Object.entries(design.typed ?? {}).filter(([, text]) => names(text).length > 0);
  if (!texts.length) return [];
  const items = itemsById(design);
  return texts.flatMap(([key, text]) => {
    const [id, name] = key.split('.');
    const found = items.get(id);
    const field = found && fieldsOfItem(found.list, found.item).find((f) => f.key === name && NUMERIC.includes(f.kind));
    return field ? [{ key, list: found.list, item: found.item, field, text }] : [];
  });
}
const inWords = ({ field, item }: FormulaField): string => `${field.label} of ${item.name ?? item.id}`;

/** What uses each quantity, by symbol: formulas of others, and fields, in words. */
export function usesOf(design: Design): ReadonlyMap<string, readonly string[]> {
  const names = naming(design);
  const uses = new Map((design.quantities ?? []).map((q) => [q.symbol, [] as string[]]));
  for (const q of design.quantities ?? []) for (const s of names(q.formula ?? '')) uses.get(s)?.push(q.symbol);
  for (const f of formulaFields(design)) for (const s of names(f.text)) uses.get(s)?.push(inWords(f));
  return uses;
}

/**
 * Works out every quantity by its formula. Gives values by symbol, or what is wrong, which names the way round where they
 * need each other.
 */
function valuesOf(quantities: readonly NamedQuantity[]): { values: Map<string, NamedQuantity['value']>; problem?: string } {
  const all = new Map<string, NamedQuantity>();
  const values = new Map<string, NamedQuantity['value']>();
  for (const q of quantities) {
    const bad = symbolProblem(q.symbol);
    if (bad) return { values, problem: bad };
    if (all.has(q.symbol)) return { values, problem: `two quantities have the symbol “${q.symbol}”: give each its own` };
    all.set(q.symbol, q);
  }
  const known = new Map<string, NamedValue | string>();
  const path: string[] = [];
  const names: Names = (symbol) => {
    const q = all.get(symbol);
    if (!q) return undefined;
    const had = known.get(symbol);
    if (had !== undefined) return had;
    const from = path.indexOf(symbol);
    if (from >= 0) return `these need each other: ${[...path.slice(from), symbol].join(' → ')}`;
    path.push(symbol);
    const is = value(q);
    path.pop();
    known.set(symbol, is);
    return is;
  };
  const value = (q: NamedQuantity): NamedValue | string => {
    const unit = unitOfQuantity(q);
    if (q.formula === undefined) {
      values.set(q.symbol, q.value);
      return namedValue(exactly(q.value), unit);
    }
    const read = readQuantity(q.formula, unit, names);
    if ('problem' in read) return `${q.symbol}: ${read.problem}`;
    values.set(q.symbol, keptValue(VALUE, read));
    return namedValue(read.exact ?? read.value, unit);
  };
  for (const q of quantities) {
    const is = names(q.symbol);
    if (typeof is === 'string') return { values, problem: is };
  }
  return { values };
}

/**
 * A design whose formulas are worked out: quantities in the order in which they need each other, then every field whose text
 * names one. With the design `before` an edit, a field that it states by another value than its formula gives is led by the
 * formula no more. The same object where nothing changes. With a problem in words, which names the formula, the design is left
 * as it was.
 */
export function withFormulas(design: Design, before?: Design): { design: Design; problem?: string } {
  const quantities = design.quantities ?? [];
  if (!quantities.length) return { design };
  const { values, problem } = valuesOf(quantities);
  if (problem !== undefined) return { design, problem };
  const changed = quantities.some((q) => values.get(q.symbol) !== q.value);
  const worked = changed ? { ...design, quantities: quantities.map((q) => ({ ...q, value: values.get(q.symbol)! })) } : design;
  const names = namesOf(worked);
  const fields = formulaFields(worked);
  const old = before && fields.length ? itemsById(before) : undefined;
  const overruled = new Set<string>();
  const stated = new Map<Id, Record<string, number | string>>();
  for (const f of fields) {
    const { key, field, item, text } = f;
    const is = statedBy(item)[field.key];
    const read = readQuantity(text, field.unit, names);
    const value = 'problem' in read ? undefined : keptValue(field, read);
    const had = old?.get(item.id);
    if (had && before?.typed?.[key] === text && statedBy(had.item)[field.key] !== is && is !== value) {
      overruled.add(key);
      continue;
    }
    const bad = 'problem' in read ? read.problem : fieldProblem(field, value);
    if (value === undefined || bad) return { design, problem: `${inWords(f)} (${text}): ${bad}` };
    if (is !== value) stated.set(item.id, { ...stated.get(item.id), [field.key]: value });
  }
  if (!stated.size && !overruled.size) return { design: worked };
  const lists = new Set(fields.filter((f) => stated.has(f.item.id)).map((f) => f.list));
  const next = { ...worked };
  for (const list of lists) Object.assign(next, { [list]: listed(worked, list).map((x) => (stated.has(x.id) ? { ...x, ...stated.get(x.id) } : x)) });
  if (overruled.size) next.typed = Object.fromEntries(Object.entries(worked.typed ?? {}).filter(([key]) => !overruled.has(key)));
  return { design: next };
}

/** A quantity more, of a symbol that is free: a plain number 1 until it is stated. */
export function withNewQuantity(design: Design): Design {
  const used = new Set((design.quantities ?? []).flatMap((q) => [q.symbol, q.name]));
  let k = 1;
  while (used.has(`q_${k}`) || used.has(`Quantity ${k}`)) k++;
  const id = freshId(idsOf(design), 'quantity');
  return { ...design, quantities: [...(design.quantities ?? []), { id, name: `Quantity ${k}`, symbol: `q_${k}`, value: 1 }] };
}

/** A quantity with some of its fields stated otherwise; a new symbol is carried through all formulas. */
export function withQuantity(design: Design, id: Id, changes: Partial<Omit<NamedQuantity, 'id'>>): Design {
  const before = design.quantities?.find((q) => q.id === id);
  if (!before) return design;
  const after: Record<string, unknown> = { ...before, ...changes };
  for (const key of Object.keys(after)) if (after[key] === undefined) delete after[key];
  const out = { ...design, quantities: design.quantities!.map((q) => (q.id === id ? (after as unknown as NamedQuantity) : q)) };
  return changes.symbol === undefined || changes.symbol === before.symbol ? out : renamed(out, before.symbol, changes.symbol);
}
function renamed(design: Design, from: string, to: string): Design {
  const text = (t: string): string => replaceNames(t, (s) => (s === from ? to : s));
  return {
    ...design,
    quantities: design.quantities!.map((q) => (q.formula === undefined ? q : { ...q, formula: text(q.formula) })),
    ...(design.typed && { typed: Object.fromEntries(Object.entries(design.typed).map(([key, t]) => [key, text(t)])) }),
  };
}

/** The design without a quantity that nothing uses. Throws a RangeError where something does: ask `usesOf` before. */
export function withoutQuantity(design: Design, id: Id): Design {
  const q = design.quantities?.find((x) => x.id === id);
  if (!q) return design;
  const uses = usesOf(design).get(q.symbol) ?? [];
  if (uses.length) throw new RangeError(`“${q.symbol}” is used by ${uses.join(', ')}`);
  const quantities = design.quantities!.filter((x) => x.id !== id);
  const out = { ...design, quantities };
  if (!quantities.length) delete (out as Partial<Design>).quantities;
  return out;
}
