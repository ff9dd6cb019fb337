import * as yup from 'yup';
import { DEEPEST, type Field, ID_PATTERN, LARGEST, MOST_ITEMS, MOST_POINTS, mostOf, patternOf, statedBy } from '../fields/fields';
import { SETTINGS_FIELDS } from '../fields/common';
import { DESIGN_FORMAT, DESIGN_VERSION, type Design, FRAME } from '../fields/types';
import { parseRatio, toNumber } from '../math/index';
import { ITEM_FORMS, ITEM_LISTS, type ItemList, LONGEST, type ListForm, OTHER_FORMS, OTHER_LISTS, fieldsOfList } from './form';
import { isUnstated, withoutUnstated } from './stated';
import { migrate } from './versions';

/** A place in a document and what is wrong there, with the fix. */
export interface Problem {
  /** Such as `elements[2].teeth`. */
  path: string;
  message: string;
}

/** A direction all of whose parts are no larger has no length. */
export const NO_LENGTH = 1e-9;

const refers = (f: Field, value: unknown): boolean => typeof value === 'string' && patternOf(f).test(value);
/** How bounds are written: in which unit, and as which text. */
export interface BoundText {
  readonly unit: string;
  text(bound: number): string;
}
const asked = (f: { label: string; unit?: string }, as?: BoundText): string => {
  const unit = as ? as.unit : f.unit;
  return unit ? `${f.label} (${unit})` : f.label;
};

/**
 * What is wrong with one value of a field, or undefined; bounds as the document
 * keeps them, or in another unit. The same words stand beside the field in the page.
 */
export function fieldProblem(f: Field, value: unknown, as?: BoundText): string | undefined {
  if (isUnstated(value)) return f.required ? `${f.label} is missing: state it` : undefined;
  switch (f.kind) {
    case 'exact':
    case 'number':
    case 'whole': {
      const bound = (x: number): string => (as ? as.text(x) : String(x));
      const n = f.kind === 'exact' && typeof value === 'string' ? ((r) => r && toNumber(r))(parseRatio(value)) : value;
      if (typeof n !== 'number' || !Number.isFinite(n)) return `${asked(f, as)} must be a number`;
      if (f.kind === 'whole' && !Number.isInteger(n)) return `${f.label} must be a whole number`;
      if (f.above !== undefined && !(n > f.above)) return `${asked(f, as)} must be more than ${bound(f.above)}`;
      if (f.below !== undefined && !(n < f.below)) return `${asked(f, as)} must be less than ${bound(f.below)}`;
      if (f.min !== undefined && n < f.min) return `${asked(f, as)} must be at least ${bound(f.min)}`;
      if (f.max !== undefined && n > f.max) return `${asked(f, as)} must be at most ${bound(f.max)}`;
      if (Math.abs(n) > LARGEST) return `${asked(f, as)} must be at most ${bound(LARGEST)}`;
      return undefined;
    }
    case 'choice':
      return f.choices!.includes(value as string) ? undefined : `${f.label} must be one of: ${f.choices!.join(', ')}`;
    case 'flag':
      return typeof value === 'boolean' ? undefined : `${f.label} must be yes or no`;
    case 'text':
      if (typeof value !== 'string' || value.length > mostOf(f)) return `${f.label} must be a text of at most ${mostOf(f)} characters`;
      return !f.pattern || f.pattern.test(value) ? undefined : `${f.label} is not what it must be: ${f.help ?? f.pattern.source}`;
    case 'vector':
      if (!Array.isArray(value) || value.length !== 3 || !value.every((v) => typeof v === 'number' && Math.abs(v) <= LARGEST)) {
        return `${f.label} must be three numbers [x, y, z]`;
      }
      if (f.min !== undefined && value.some((v) => v < f.min!)) return `${asked(f)}: none of the three may be less than ${f.min}`;
      return f.direction && (value as number[]).every((v) => Math.abs(v) <= NO_LENGTH) ? `${f.label} must not be zero: it is a direction` : undefined;
    case 'ref':
      return refers(f, value) ? undefined : `${f.label} must name a ${f.to}`;
    case 'refs':
      if (!Array.isArray(value) || !value.every((v) => refers(f, v))) return `${f.label} must be a list of ${f.to} names`;
      if (value.length > mostOf(f)) return `${f.label} takes at most ${mostOf(f)} entries`;
      return value.length >= (f.least ?? 0) ? undefined : `${f.label} needs at least ${f.least ?? 0} entries`;
    case 'table': {
      if (!Array.isArray(value)) return `${f.label} must be a table`;
      if (value.length > mostOf(f)) return `${f.label} takes at most ${mostOf(f)} rows`;
      if (value.length < (f.least ?? 0)) return `${f.label} needs at least ${f.least} rows`;
      for (const [k, row] of value.entries()) {
        const cells = row as Record<string, unknown>;
        if (typeof row !== 'object' || row === null) return `${f.label}, row ${k + 1}: must hold ${f.columns!.map((c) => c.key).join(', ')}`;
        const extra = Object.keys(cells).find((key) => !f.columns!.some((c) => c.key === key));
        if (extra !== undefined) return `${f.label}, row ${k + 1}: has no column ${extra.slice(0, 40)}`;
        for (const c of f.columns!) {
          const bad = fieldProblem(c, cells[c.key]);
          if (bad) return `${f.label}, row ${k + 1}: ${bad}`;
        }
      }
      return undefined;
    }
  }
}

const fieldSchema = (f: Field): yup.AnySchema =>
  yup.mixed().test(
    f.key,
    ({ value }) => fieldProblem(f, value) ?? '',
    (v) => fieldProblem(f, v) === undefined,
  );

const id = yup
  .string()
  .strict()
  .required('an id is missing: give every item one')
  .matches(ID_PATTERN, 'an id takes letters, digits, - and _, at most 64')
  .test('frame', `the id “${FRAME}” belongs to the fixed body: choose another`, (v) => v !== FRAME);
/** Names are one line of text: no line break, tab or other control character. */
const ONE_LINE = /^[^\u0000-\u001f\u007f]*$/;
const ONE_LINE_SAID = 'Name must be one line of text, without line breaks or control characters';
const name = yup
  .string()
  .strict()
  .required('Name is missing: give it one')
  .max(LONGEST.name, `Name must have at most ${LONGEST.name} characters`)
  .matches(ONE_LINE, ONE_LINE_SAID);
const optionalName = yup.string().strict().max(LONGEST.name, `Name must have at most ${LONGEST.name} characters`).matches(ONE_LINE, ONE_LINE_SAID);

type Shape = Record<string, yup.AnySchema>;
/** The schemas of fields, each by its key. */
export const fieldsShape = (fields: readonly Field[]): Shape => Object.fromEntries(fields.map((f) => [f.key, fieldSchema(f)]));

const closed = (what: string, shape: Shape): yup.AnySchema =>
  yup
    .object(shape)
    .strict()
    .noUnknown(true, ({ unknown }) => `${what} has no field ${unknown}: take it out`)
    .typeError(`${what} must be an object`);

/** An item of a list: of the shape that its type has, where the list's items have types. */
function itemSchema(form: ListForm): yup.AnySchema {
  const { one, kinds } = form;
  const common: Shape = { id, name: form.named ? name : optionalName, ...fieldsShape(fieldsOfList(form)) };
  if (!kinds) return closed(one, common);
  const schemas = new Map(kinds.map((k) => [k.type, closed(one, { ...common, type: yup.string(), ...fieldsShape(k.fields ?? []) })]));
  const types = kinds.map((k) => k.type);
  const unknown = closed(one, {
    ...common,
    type: yup
      .string()
      .strict()
      .oneOf(types, `the type of ${one} must be one of: ${types.join(', ')}`)
      .required(`${one} needs a type: one of ${types.join(', ')}`),
  });
  return yup.lazy((v: unknown) => schemas.get((v as { type?: string } | null)?.type ?? '') ?? unknown) as unknown as yup.AnySchema;
}

/** A list that every design has. */
const list = (form: ListForm): yup.AnySchema =>
  yup
    .array(itemSchema(form))
    .strict()
    .required(`the list of ${form.many} is missing: state it, if only empty`)
    .max(form.most, `at most ${form.most} ${form.many}`)
    .test(
      'ids',
      `two ${form.many} share an id: give each its own`,
      (v) => !v || new Set(v.map((x) => (x as { id?: string } | null)?.id)).size === v.length,
    );
/** A list that it may have. */
const otherList = (form: ListForm): yup.AnySchema =>
  yup.array(itemSchema(form)).strict().max(form.most, `at most ${form.most} ${form.many}`).default(undefined);
const each = <K extends string>(forms: Readonly<Record<K, ListForm>>, schema: (form: ListForm) => yup.AnySchema): Shape =>
  Object.fromEntries(Object.entries<ListForm>(forms).map(([key, form]) => [key, schema(form)]));

/** The Yup schema of a whole design document, version 3. The server and the page use this one. */
export const designSchema: yup.AnySchema = closed('a design', {
  format: yup
    .string()
    .strict()
    .required('not a design document: the field format is missing')
    .oneOf([DESIGN_FORMAT], `not a design document: format must be “${DESIGN_FORMAT}”`),
  version: yup
    .number()
    .strict()
    .required(`the version is missing: state ${DESIGN_VERSION}`)
    .test(
      'version',
      ({ value }) =>
        (value as number) > DESIGN_VERSION
          ? `this design is of version ${value}, newer than this program knows (${DESIGN_VERSION}): open it with a newer one`
          : `the version must be ${DESIGN_VERSION}`,
      (v) => v === DESIGN_VERSION,
    ),
  name: name.trim(),
  note: yup.string().strict().max(LONGEST.note, `Note must have at most ${LONGEST.note} characters`),
  settings: yup
    .object(fieldsShape(SETTINGS_FIELDS))
    .strict()
    .noUnknown(true, ({ unknown }) => `settings have no field ${unknown}`)
    .default(undefined),
  ...each(ITEM_FORMS, list),
  ...each(OTHER_FORMS, otherList),
  typed: yup
    .object()
    .strict()
    .test(
      'texts',
      'typed texts must be short strings',
      (v) =>
        !v || (Object.keys(v).length <= LONGEST.typedEntries && Object.values(v).every((x) => typeof x === 'string' && x.length <= LONGEST.typed)),
    )
    .default(undefined),
});

/**
 * Items that have passed once. Documents are never changed in place,
 * so what was right stays right; an edit of one item costs that item.
 */
const passed = new WeakSet<object>();

/** Items of one list that are to be looked at, with where they stand in it. */
interface Portion {
  key: ItemList;
  items: unknown[];
  places: number[];
}

/**
 * The items that have not passed before; `sound` where all lists are
 * lists of objects with ids of their own, as far as can be told here.
 */
function unknownParts(document: Record<string, unknown>): { parts: Portion[]; sound: boolean } {
  const parts: Portion[] = [];
  let sound = true;
  for (const key of ITEM_LISTS) {
    const all = document[key];
    if (!Array.isArray(all)) {
      sound = false;
      continue;
    }
    const ids = new Set<unknown>();
    const part: Portion = { key, items: [], places: [] };
    for (let i = 0; i < all.length; i++) {
      const x: unknown = all[i];
      const itemId = (x as { id?: unknown } | null)?.id;
      if (typeof x !== 'object' || x === null || ids.has(itemId)) sound = false;
      else if (passed.has(x)) {
        ids.add(itemId);
        continue;
      }
      ids.add(itemId);
      part.items.push(x);
      part.places.push(i);
    }
    parts.push(part);
  }
  return { parts, sound };
}

/** How many problems are named at most, and how many items are looked at before it is asked whether that is enough. */
const MOST_NAMED = 100;
const AT_ONCE = 200;

/** What the schema says of a document in which the lists hold `portion` alone, with the places in the whole. */
function problemsWith(document: Record<string, unknown>, portion: readonly Portion[]): Problem[] {
  const looked: Record<string, unknown> = { ...document };
  for (const p of portion) looked[p.key] = p.items;
  try {
    designSchema.validateSync(looked, { abortEarly: false, strict: true });
    return [];
  } catch (e) {
    if (!(e instanceof yup.ValidationError)) throw e;
    return (e.inner.length ? e.inner : [e]).slice(0, MOST_NAMED).map((x) => {
      const path = (x.path ?? '').replace(/^(\w+)\[(\d+)\]/, (all, key: string, i: string) => {
        const place = portion.find((p) => p.key === key)?.places[Number(i)];
        return place === undefined ? all : `${key}[${place}]`;
      });
      return { path: path.slice(0, 200), message: x.message.slice(0, 300) };
    });
  }
}

/**
 * The problems of a document, the first hundred; of a long one in
 * portions, so that a wrong one costs no more than a right one.
 */
function problemsOf(document: Record<string, unknown>, { parts, sound }: ReturnType<typeof unknownParts>): Problem[] {
  const most = Math.max(0, ...parts.map((p) => p.items.length));
  const found = new Map<string, Problem>();
  for (let from = 0; from === 0 || (from < most && found.size < MOST_NAMED); from += AT_ONCE) {
    const portion = parts.map((p) => ({ ...p, items: p.items.slice(from, from + AT_ONCE), places: p.places.slice(from, from + AT_ONCE) }));
    for (const p of problemsWith(document, portion)) found.set(`${p.path} ${p.message}`, p);
  }
  // Two items far apart that have one id are seen only together.
  if (!found.size && !sound) return problemsWith(document, []);
  return [...found.values()].slice(0, MOST_NAMED);
}

/** Is a value nested deeper than a design can be? Looks no deeper than that itself. */
const tooDeep = (value: unknown, left: number): boolean =>
  typeof value === 'object' && value !== null && (left === 0 || Object.values(value).some((v) => tooDeep(v, left - 1)));

/**
 * Entries of all tables and lists of references of a document: lists
 * within its items, its load cases, its runs and its load sheets.
 */
function pointsOf(document: Record<string, unknown>): number {
  let points = 0;
  for (const key of [...ITEM_LISTS, ...OTHER_LISTS]) {
    const items = document[key];
    if (!Array.isArray(items)) continue;
    for (const item of items) {
      if (typeof item === 'object' && item !== null) for (const v of Object.values(item)) if (Array.isArray(v)) points += v.length;
    }
  }
  return points;
}

/** What makes a document too costly to be looked at closely, or undefined. */
export function costProblem(document: object): Problem | undefined {
  for (const key of ITEM_LISTS) {
    const items = (document as Record<string, unknown>)[key];
    if (Array.isArray(items) && items.length > MOST_ITEMS) return { path: key, message: `at most ${MOST_ITEMS} ${key}` };
  }
  if (tooDeep(document, DEEPEST)) return { path: '', message: `a design is nested at most ${DEEPEST} deep` };
  if (pointsOf(document as Record<string, unknown>) > MOST_POINTS) {
    return { path: '', message: `a design takes at most ${MOST_POINTS} points and references in all its tables and lists` };
  }
  return undefined;
}

/** Two items of different lists that have one id, or undefined. Two of one list are seen with the list. */
export function sharedId(document: object): Problem | undefined {
  const first = new Map<unknown, string>();
  for (const key of ITEM_LISTS) {
    const items = statedBy(document)[key];
    if (!Array.isArray(items)) continue;
    for (const [i, x] of items.entries()) {
      const own: unknown = typeof x === 'object' && x !== null ? statedBy(x)['id'] : undefined;
      const list = first.get(own);
      if (list !== undefined && list !== key) {
        const message = `“${String(own)}” is the id of one of the ${ITEM_FORMS[key].title.toLowerCase()}s and of one of the ${list}: give each its own`;
        return { path: `${key}[${i}].id`, message: message.slice(0, 300) };
      }
      if (typeof own === 'string') first.set(own, key);
    }
  }
  return undefined;
}

/** Reads a document: the design, or every problem found with its place. Never throws. */
export function readDesign(document: unknown): { design: Design; problems?: undefined } | { design?: undefined; problems: Problem[] } {
  if (typeof document !== 'object' || document === null || Array.isArray(document)) {
    return { problems: [{ path: '', message: 'a design is one JSON object' }] };
  }
  const costly = costProblem(document);
  if (costly) return { problems: [costly] };
  const d = document as { format?: unknown; version?: unknown };
  // A newer version is said alone: what else differs in it is not a mistake.
  if (d.format === DESIGN_FORMAT && typeof d.version === 'number' && d.version > DESIGN_VERSION) {
    return {
      problems: [
        {
          path: 'version',
          message: `this design is of version ${d.version}, newer than this program knows (${DESIGN_VERSION}): open it with a newer one`,
        },
      ],
    };
  }
  const current = withoutUnstated(migrate(document)) as Record<string, unknown>;
  const unknown = unknownParts(current);
  const problems = problemsOf(current, unknown);
  if (problems.length) return { problems };
  const shared = sharedId(current);
  if (shared) return { problems: [shared] };
  for (const p of unknown.parts) for (const x of p.items) if (typeof x === 'object' && x !== null) passed.add(x);
  return { design: current as unknown as Design };
}
