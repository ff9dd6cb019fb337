import type { Joint } from '../fields/types';
import { type Stated, choiceField, exactField } from '../fields/fields';
import type { JointKind } from './protocol';

const FIELDS = [
  exactField('lead', 'Lead', { unit: 'mm', symbol: 'Ph', required: true, above: 0, max: 1e5, help: 'Travel per turn.' }),
  choiceField('hand', 'Hand', ['right', 'left'], { initial: 'right' }),
];
/** What is stated of one, from its fields. */
export type ScrewJoint = Joint & Stated<typeof FIELDS>;

/** Turning about z, with a travel of `lead` along z for each turn (right hand: a positive turn travels towards +z). */
export const screw: JointKind = {
  type: 'screw',
  label: 'Screw',
  freedoms: [{ motion: 'helix', axis: 'z', label: 'turn' }],
  fields: FIELDS,
  allows: 'turning about its axis, with travel in step',
};
