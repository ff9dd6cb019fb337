import { type Stated, flagField, numberField, refsField } from '../../fields/fields';
import type { Coupling } from '../../fields/types';
import { EFFICIENCY_FIELD } from '../common';

const COMMON = [
  refsField('wheels', 'Wheels, in the order of the run', 'element', { required: true, least: 2 }),
  refsField('outside', 'Wheels that bear from outside', 'element'),
  flagField('otherWay', 'Laid the other way', {
    initial: false,
    rare: true,
    help: 'Where a band can lie round its wheels in two ways it takes the shorter one: this takes the longer, as for an idler past the line of centres.',
  }),
];
const PRETENSION = numberField('pretension', 'Pre-tension of a strand', { unit: 'N', symbol: 'F0', initial: 0, min: 0, max: 1e7 });

export const BELT_FIELDS = [
  ...COMMON,
  flagField('crossed', 'Crossed', { initial: false }),
  numberField('creep', 'Creep', { initial: 0, min: 0, max: 0.2, help: 'Part by which a friction belt falls behind; none for toothed belts.' }),
  numberField('friction', 'Friction on the wheels', { symbol: 'μ', initial: 0.3, min: 0, max: 2 }),
  PRETENSION,
  { ...EFFICIENCY_FIELD, initial: 0.96 },
];
/** What is stated of one, from its fields. */
export type Belt = Coupling & Stated<typeof BELT_FIELDS>;

export const CHAIN_FIELDS = [...COMMON, PRETENSION, { ...EFFICIENCY_FIELD, initial: 0.97 }];
/** What is stated of one, from its fields. */
export type Chain = Coupling & Stated<typeof CHAIN_FIELDS>;

/** A belt or a chain. */
export type Run = Belt | (Chain & Pick<Belt, 'crossed' | 'creep' | 'friction'>);
