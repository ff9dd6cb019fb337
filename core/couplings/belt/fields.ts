import { type Stated, flagField, numberField, refsField, wholeField } from '../../fields/fields';
import type { Coupling } from '../../fields/types';
import { BREAKING_FORCE_FIELD, EFFICIENCY_FIELD } from '../common';

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

const MASS = numberField('massPerLength', 'Mass per length', {
  rare: true,
  unit: 'kg/m',
  symbol: 'q',
  above: 0,
  max: 1000,
  help: 'For the rating: what it pulls by itself at speed. Left open, that of its standard.',
});

const STIFFNESS = numberField('bandStiffness', 'Stiffness of the band', {
  rare: true,
  unit: 'N',
  symbol: 'EA',
  above: 0,
  max: 1e9,
  help: 'Force that would stretch it to twice its length, of its whole width: for natural frequencies and wind-up. Left open, it is rigid there.',
});

export const BELT_FIELDS = [
  ...COMMON,
  flagField('crossed', 'Crossed', { initial: false }),
  numberField('creep', 'Creep', { initial: 0, min: 0, max: 0.2, help: 'Part by which a friction belt falls behind; none for toothed belts.' }),
  numberField('friction', 'Friction on the wheels', { symbol: 'μ', initial: 0.3, min: 0, max: 2 }),
  PRETENSION,
  { ...EFFICIENCY_FIELD, initial: 0.96 },
  numberField('strandLimit', 'Permissible strand force', {
    rare: true,
    unit: 'N',
    above: 0,
    max: 1e7,
    help: 'Of the whole belt, for its rating. Of toothed belts with pitches of ISO 5296 left open, that of ISO 5295.',
  }),
  numberField('ratedPower', 'Rated power of one belt', {
    rare: true,
    unit: 'W',
    above: 0,
    max: 1e7,
    help: 'Of a V-belt at its speed and small pulley, wrapped by 180°, from its table; with the factor for its length.',
  }),
  wholeField('belts', 'Belts side by side', { rare: true, initial: 1, min: 1, max: 50 }),
  MASS,
  STIFFNESS,
];
/** What is stated of one, from its fields. */
export type Belt = Coupling & Stated<typeof BELT_FIELDS>;

export const CHAIN_FIELDS = [
  ...COMMON,
  PRETENSION,
  { ...EFFICIENCY_FIELD, initial: 0.97 },
  wholeField('strands', 'Strands', { rare: true, initial: 1, min: 1, max: 6, help: 'Of the chain, side by side.' }),
  { ...BREAKING_FORCE_FIELD, help: 'Least breaking force, for the rating. Left open, that of ISO 606, series B, for its pitch.' },
  MASS,
  STIFFNESS,
];
/** What is stated of one, from its fields. */
export type Chain = Coupling & Stated<typeof CHAIN_FIELDS>;

/** A belt or a chain. */
export type Run = Belt | (Chain & Pick<Belt, 'crossed' | 'creep' | 'friction'>);
