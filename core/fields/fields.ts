import type { Vec3 } from '../math/vec3';

export type Id = string;
/** A number, or an exact fraction in quotes: "25.4/12". */
export type Exact = number | string;

/**
 * What a person may state about an item of a design, said once: the server's and the page's validation, the JSON Schema
 * and the data sheet are all made from these lists.
 */
export type FieldKind = 'exact' | 'number' | 'whole' | 'choice' | 'flag' | 'text' | 'vector' | 'ref' | 'refs' | 'table';

/** What a reference points at. */
export type RefTo = 'member' | 'joint' | 'element' | 'coupling' | 'source' | 'load' | 'coordinate' | 'face' | 'case' | 'run' | 'item';

/** One field; of key K, holding a V. */
export interface Field<K extends string = string, V = unknown> {
  readonly key: K;
  readonly label: string;
  /** `exact` values are numbers, or fractions in quotes such as "25.4/12"; they enter ratios without rounding. */
  readonly kind: FieldKind;
  /** Unit in which the document keeps the value; '' for a plain number. */
  readonly unit?: string;
  readonly symbol?: string;
  /**
   * Inch designs state it the other way up, per inch, under another
   * name: a module as its diametral pitch. The document keeps `unit`.
   */
  readonly perInch?: { readonly label: string; readonly symbol: string };
  readonly required?: boolean;
  /** Value that holds where nothing is stated. */
  readonly initial?: number | string | boolean;
  readonly min?: number;
  readonly max?: number;
  /** Strictly greater than. */
  readonly above?: number;
  readonly below?: number;
  readonly choices?: readonly string[];
  readonly to?: RefTo;
  /** A reference that takes an id alone, never a part of what has it. */
  readonly idAlone?: boolean;
  /** Columns of a table. */
  readonly columns?: readonly Field[];
  /** How few entries a table or a list of references may have. */
  readonly least?: number;
  /** How many entries a table or a list of references, or characters a text, may have; MOST of its kind where not stated. */
  readonly most?: number;
  /** A vector that states a direction: it must have a length. */
  readonly direction?: boolean;
  /** One sentence for the data sheet. */
  readonly help?: string;
  /** What a text must be like. */
  readonly pattern?: RegExp;
  /** Comes with a file: not edited by hand. */
  readonly fromFile?: boolean;
  /** Seldom changed: folded away in the data sheet. */
  readonly rare?: boolean;
  /** Shown in the data sheet only while this says so. */
  when?(item: object): boolean;
  /** Never there: carries the type of what is stated, from which the types of items are inferred. */
  readonly holds?: V;
}

/**
 * What may be stated by a list of fields. Everything may be absent: it
 * then counts as its `initial`, and validation asks for what is required.
 */
export type Stated<F extends readonly Field[]> = { [X in F[number] as X['key']]?: NonNullable<X['holds']> };
/** A row of a table whose columns must all be stated. */
export type Row<C extends readonly Field[]> = { [X in C[number] as X['key']]: NonNullable<X['holds']> };

/** What may be stated by a list of fields, with some of them stated always. */
export type Needed<F extends readonly Field[], K extends string> = Stated<F> & {
  [X in F[number] as X['key'] extends K ? X['key'] : never]: NonNullable<X['holds']>;
};

type Extra = Partial<Omit<Field, 'key' | 'label' | 'kind' | 'holds'>>;
const make =
  <V>(kind: FieldKind) =>
  <const K extends string>(key: K, label: string, extra: Extra = {}): Field<K, V> => ({ key, label, kind, ...extra });

export const exactField = make<Exact>('exact');
export const numberField = make<number>('number');
/** A module, mm, which inch designs state as a diametral pitch. */
export const moduleField = (label: string, symbol: string, extra: Extra = {}): Field<'module', Exact> =>
  exactField('module', label, {
    perInch: { label: label.replace(/module/i, (m) => (m === 'Module' ? 'Diametral pitch' : 'diametral pitch')), symbol: 'P' },
    unit: 'mm',
    symbol,
    above: 0,
    max: 1000,
    ...extra,
  });
export const wholeField = make<number>('whole');
export const flagField = make<boolean>('flag');
export const textField = make<string>('text');
export const vectorField = make<Vec3>('vector');
export const choiceField = <const K extends string, const C extends string>(
  key: K,
  label: string,
  choices: readonly C[],
  extra: Extra = {},
): Field<K, C> => ({ key, label, kind: 'choice', choices, ...extra });
export const tableField = <const K extends string, C extends readonly Field[]>(
  key: K,
  label: string,
  extra: Extra & { readonly columns: C },
): Field<K, readonly Row<C>[]> => ({ key, label, kind: 'table', ...extra });
export const refField = <const K extends string>(key: K, label: string, to: RefTo, extra: Extra = {}): Field<K, Id> => ({
  key,
  label,
  kind: 'ref',
  to,
  ...extra,
});
export const refsField = <const K extends string>(key: K, label: string, to: RefTo, extra: Extra = {}): Field<K, readonly Id[]> => ({
  key,
  label,
  kind: 'refs',
  to,
  ...extra,
});

/** What an item states, by key: for what goes over fields without knowing kinds. An object's own keys can always be read so. */
export const statedBy = (item: object): Readonly<Record<string, unknown>> => item as Record<string, unknown>;

/**
 * What one field of a kind may hold, so that no document costs much
 * to read: entries of a table or a list, characters of a text.
 */
export const MOST = { table: 10_000, refs: 1000, text: 2000 } as const;
/** Items in one list of a design. */
export const MOST_ITEMS = 20_000;
/** Entries of all tables and lists of references of a design together. */
export const MOST_POINTS = 200_000;
/** How deep a document may be nested: a design holds lists of items, which hold tables of rows. */
export const DEEPEST = 6;

export const ID_PATTERN = /^[A-Za-z0-9_-]{1,64}$/;
/** An id with a part of what it names: one freedom of a joint, one face of an element, one place of a shape. */
const PART_PATTERN = /^[A-Za-z0-9_-]{1,64}(:([0-9]|[+-][xyz]|p[0-9]{1,6}))?$/;
/** What a reference of this field looks like. */
export const patternOf = (f: Field): RegExp => (f.idAlone ? ID_PATTERN : PART_PATTERN);

export const mostOf = (f: Field): number => f.most ?? MOST[f.kind as keyof typeof MOST] ?? Infinity;

/** The largest size in mm, or force in N, and so on, that a document may state: far beyond any drive, well inside doubles. */
export const LARGEST = 1e9;
