import { COUPLING_KINDS } from '../couplings/index';
import { ELEMENT_KINDS } from '../elements/index';
import {
  ACCEPTED_FIELDS,
  CASE_FIELDS,
  DRAWING_FIELDS,
  ELEMENT_FIELDS,
  ELEMENT_OWN,
  GROUP_FIELDS,
  JOINT_OWN,
  KEPT_RUN_FIELDS,
  KEPT_SHEET_FIELDS,
  MEMBER_FIELDS,
  ORIGIN_FIELDS,
  PLACE_FIELDS,
  QUANTITY_FIELDS,
  VARIANT_FIELDS,
  VIEW_FIELDS,
} from '../fields/common';
import { type Field, MOST_ITEMS } from '../fields/fields';
import { JOINT_KINDS } from '../joints/index';
import { LOAD_KINDS } from '../loads/index';
import { JOINT_STOPS, SOURCE_KINDS, WANTED_KINDS } from './kinds';

/**
 * The form of a design document, stated once: its lists and what an item of each states.
 * The Yup schema, the JSON Schema, the server's quick check, comparing, merging and docs/design-format.md are made from it.
 */
export interface ListForm {
  /** One item in a sentence, and as a title; several of them. */
  readonly one: string;
  readonly title: string;
  readonly many: string;
  /** Must an item have a name? */
  readonly named: boolean;
  /** Kinds that its items may have, each with fields of its own. */
  readonly kinds?: readonly { readonly type: string; readonly label: string; readonly fields?: readonly Field[] }[];
  /** What an item cannot be without, whatever its kind: the members that a joint joins. Not on the data sheet. */
  readonly own: readonly Field[];
  /** What every item may state, whatever its kind. */
  readonly fields: readonly Field[];
  readonly most: number;
}

const form = (one: string, title: string, many: string, rest: Partial<ListForm>): ListForm => ({
  one,
  title,
  many,
  named: true,
  own: [],
  fields: [],
  most: MOST_ITEMS,
  ...rest,
});

/** The lists that every design has, in the order in which they depend on each other. No two items of them share an id. */
export const ITEM_FORMS = {
  members: form('a member', 'Member', 'members', { fields: [...MEMBER_FIELDS, ...PLACE_FIELDS] }),
  joints: form('a joint', 'Joint', 'joints', { named: false, own: JOINT_OWN, kinds: JOINT_KINDS, fields: [...JOINT_STOPS, ...PLACE_FIELDS] }),
  elements: form('an element', 'Element', 'elements', {
    own: ELEMENT_OWN,
    kinds: ELEMENT_KINDS,
    fields: [...ELEMENT_FIELDS, ...PLACE_FIELDS],
  }),
  couplings: form('a coupling', 'Coupling', 'couplings', { named: false, kinds: COUPLING_KINDS }),
  sources: form('a source', 'Source', 'sources', { kinds: SOURCE_KINDS }),
  loads: form('a load', 'Load', 'loads', { kinds: LOAD_KINDS }),
  wanted: form('a wanted output', 'Wanted output', 'wanted outputs', { kinds: WANTED_KINDS }),
} satisfies Record<string, ListForm>;

/** The lists that a design may have besides. */
export const OTHER_FORMS = {
  groups: form('a group', 'Group', 'groups', { own: GROUP_FIELDS, fields: ORIGIN_FIELDS, most: 2000 }),
  cases: form('a load case', 'Load case', 'load cases', { fields: CASE_FIELDS, most: 50 }),
  runs: form('a run', 'Run', 'runs', { fields: KEPT_RUN_FIELDS, most: 200 }),
  sheets: form('a load sheet', 'Load sheet', 'load sheets', { fields: KEPT_SHEET_FIELDS, most: 200 }),
  views: form('a view', 'View', 'views', { fields: VIEW_FIELDS, most: 200 }),
  variants: form('a variant', 'Variant', 'variants', { fields: VARIANT_FIELDS, most: 50 }),
  accepted: form('an accepted finding', 'Accepted finding', 'accepted findings', { named: false, fields: ACCEPTED_FIELDS, most: 2000 }),
  quantities: form('a named quantity', 'Named quantity', 'named quantities', { fields: QUANTITY_FIELDS, most: 500 }),
  drawings: form('a drawing', 'Drawing', 'drawings', { fields: DRAWING_FIELDS, most: 200 }),
} satisfies Record<string, ListForm>;

/** Most characters of a design's note, of a name; entries and characters of texts as they were typed. */
export const LONGEST = { note: 20_000, name: 120, typedEntries: 20_000, typed: 200 } as const;

export type ItemList = keyof typeof ITEM_FORMS;
export type OtherList = keyof typeof OTHER_FORMS;
export const ITEM_LISTS = Object.keys(ITEM_FORMS) as readonly ItemList[];
export const OTHER_LISTS = Object.keys(OTHER_FORMS) as readonly OtherList[];
/** The lists that decide motion and forces: all of them but what is wanted. */
export const MECHANICS_LISTS = ITEM_LISTS.filter((list): list is Exclude<ItemList, 'wanted'> => list !== 'wanted');

/** Every field of a list's items, of whatever kind they are. */
export const fieldsOfList = (f: ListForm): readonly Field[] => [...f.own, ...f.fields];
