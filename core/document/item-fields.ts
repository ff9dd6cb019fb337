import { COUPLING_KINDS } from '../couplings/index';
import { ELEMENT_KINDS } from '../elements/index';
import { JOINT_KINDS } from '../joints/index';
import type { Field } from '../fields/fields';
import { LOAD_KINDS } from '../loads/index';
import { ELEMENT_FIELDS, JOINT_FIELDS, MEMBER_FIELDS, PLACE_FIELDS, SOURCE_KINDS, WANTED_KINDS } from './kinds';
import type { Design } from '../fields/types';

/** The lists of a design that hold items with an id of their own, in the order in which they depend on each other. */
export const ITEM_LISTS = ['members', 'joints', 'elements', 'couplings', 'sources', 'loads', 'wanted'] as const;
export type ItemList = (typeof ITEM_LISTS)[number];

/** One of each list, as people say it. */
export const ITEM_WORD: Readonly<Record<ItemList, string>> = {
  members: 'Member',
  joints: 'Joint',
  elements: 'Element',
  couplings: 'Coupling',
  sources: 'Source',
  loads: 'Load',
  wanted: 'Wanted output',
};

export interface Item {
  readonly id: string;
  readonly name?: string;
  readonly type?: string;
}

export const itemsOf = (d: Design, list: ItemList): readonly Item[] => d[list];

const KINDS: Partial<Record<ItemList, readonly { type: string; fields?: readonly Field[] }[]>> = {
  joints: JOINT_KINDS,
  elements: ELEMENT_KINDS,
  couplings: COUPLING_KINDS,
  sources: SOURCE_KINDS,
  loads: LOAD_KINDS,
  wanted: WANTED_KINDS,
};
const COMMON: Partial<Record<ItemList, readonly Field[]>> = {
  members: [...MEMBER_FIELDS, ...PLACE_FIELDS],
  joints: [...JOINT_FIELDS, ...PLACE_FIELDS],
  elements: [...ELEMENT_FIELDS, ...PLACE_FIELDS],
};

/** What may be stated of an item, besides its id, name and type. */
export const fieldsOfItem = (list: ItemList, item: Item): readonly Field[] => [
  ...(KINDS[list]?.find((k) => k.type === item.type)?.fields ?? []),
  ...(COMMON[list] ?? []),
];
