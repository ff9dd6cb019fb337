import { ITEM_LISTS, fieldProblem, fieldsOfItem, itemsOf as listed, keptValue } from '../document/index';
import type { Field } from '../fields/fields';
import { statedBy } from '../fields/fields';
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
  readonly list: (typeof ITEM_LISTS)[number];
  readonly id: Id;
  readonly field: Field;
  readonly text: string;
  readonly name: string;
}
const NUMERIC: readonly string[] = ['exact', 'number', 'whole'];

/** Every field of a design whose text names a quantity. */
function formulaFields(design: Design): FormulaField[] {
  const symbols = new Set((design.quantities ?? []).map((q) => q.symbol));
  const texts = Object.entries(design.typed ?? {}).filter(([, text]) => namesIn(text, (s) => symbols.has(s)).length > 0);
  if (!texts.length) return [];
  const items = new Map(ITEM_LISTS.flatMap((list) => listed(design, list).map((item) => [item.id, { list, item }] as const)));
  return texts.flatMap(([key, text]) => {
    const [id, name] = key.split('.');
    const found = items.get(id);
    const field = found && fieldsOfItem(found.list, found.item).find((f) => f.key === name && NUMERIC.includes(f.kind));
    return field ? [{ key, list: found.list, id, field, text, name: found.item.name ?? id }] : [];
  });
}

/** What uses a symbol: formulas of other quantities, and fields, in words. */
export function usesOf(design: Design, symbol: string): string[] {
  const uses = (text: string | undefined): boolean => text !== undefined && namesIn(text, (s) => s === symbol).length > 0;
  return [
    ...(design.quantities ?? []).filter((q) => uses(q.formula)).map((q) => q.symbol),
    ...formulaFields(design)
      .filter((f) => uses(f.text))
      .map((f) => `${f.field.label} of ${f.name}`),
  ];
}
/** Does a text name a quantity of the design? */
export const namesQuantity = (design: Design, text: string): boolean => {
  const symbols = new Set((design.quantities ?? []).map((q) => q.symbol));
  return namesIn(text, (s) => symbols.has(s)).length > 0;
};

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

/** A field that an edit states otherwise, without its formula, is led by it no more. */
function withoutOverruled(design: Design, before: Design): Design {
  const had = new Map(ITEM_LISTS.flatMap((list) => listed(before, list).map((item) => [item.id, item] as const)));
  const now = new Map(ITEM_LISTS.flatMap((list) => listed(design, list).map((item) => [item.id, item] as const)));
  const gone = formulaFields(design).filter(({ key, id, field, text }) => {
    const [old, is] = [had.get(id), now.get(id)];
    return old !== undefined && is !== undefined && before.typed?.[key] === text && statedBy(old)[field.key] !== statedBy(is)[field.key];
  });
  if (!gone.length) return design;
  const keys = new Set(gone.map((f) => f.key));
  return { ...design, typed: Object.fromEntries(Object.entries(design.typed ?? {}).filter(([key]) => !keys.has(key))) };
}

/**
 * A design whose formulas are worked out: quantities in the order in which they need each other, then every field whose text
 * names one. With the design `before` an edit, a field that it states by a value loses its formula. The same object where
 * nothing changes. With a problem in words, which names the formula, the design is left as it was.
 */
export function withFormulas(edited: Design, before?: Design): { design: Design; problem?: string } {
  const quantities = edited.quantities ?? [];
  if (!quantities.length) return { design: edited };
  const design = before ? withoutOverruled(edited, before) : edited;
  const { values, problem } = valuesOf(quantities);
  if (problem !== undefined) return { design: edited, problem };
  const changed = quantities.some((q) => values.get(q.symbol) !== q.value);
  const next = changed ? { ...design, quantities: quantities.map((q) => ({ ...q, value: values.get(q.symbol)! })) } : design;
  const names = namesOf(next);
  const stated = new Map<Id, { list: FormulaField['list']; fields: Record<string, number | string> }>();
  for (const f of formulaFields(next)) {
    const read = readQuantity(f.text, f.field.unit, names);
    const at = `${f.field.label} of ${f.name}`;
    if ('problem' in read) return { design: edited, problem: `${at} (${f.text}): ${read.problem}` };
    const value = keptValue(f.field, read);
    const bad = fieldProblem(f.field, value);
    if (bad) return { design: edited, problem: `${at} (${f.text}): ${bad}` };
    const own = stated.get(f.id) ?? { list: f.list, fields: {} };
    own.fields[f.field.key] = value;
    stated.set(f.id, own);
  }
  const lists: Partial<Record<FormulaField['list'], object[]>> = {};
  for (const list of new Set([...stated.values()].map((x) => x.list))) {
    const items = listed(next, list).map((item) => {
      const own = stated.get(item.id)?.fields;
      return own && Object.entries(own).some(([key, v]) => statedBy(item)[key] !== v) ? { ...item, ...own } : item;
    });
    if (items.some((x, k) => x !== listed(next, list)[k])) lists[list] = items;
  }
  return { design: Object.keys(lists).length ? ({ ...next, ...lists } as Design) : next };
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
  const uses = usesOf(design, q.symbol);
  if (uses.length) throw new RangeError(`“${q.symbol}” is used by ${uses.join(', ')}`);
  const quantities = design.quantities!.filter((x) => x.id !== id);
  const out = { ...design, quantities };
  if (!quantities.length) delete (out as Partial<Design>).quantities;
  return out;
}
