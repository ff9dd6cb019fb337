import type { Joint } from '../fields/types';
import { type Stated, choiceField, exactField, numberField } from '../fields/fields';
import { cylindrical } from './cylindrical';
import type { JointKind } from './protocol';

/** Whether a screw's thread is stated to rub. */
export const rubs = (j: { friction?: number }): boolean => (j.friction ?? 0) > 0;

const FIELDS = [
  exactField('lead', 'Lead', { unit: 'mm', symbol: 'Ph', required: true, above: 0, max: 1e5, help: 'Travel per turn.' }),
  choiceField('hand', 'Hand', ['right', 'left'], { initial: 'right' }),
  numberField('friction', 'Thread friction', { symbol: 'f', initial: 0, min: 0, max: 0.9 }),
  numberField('diameter', 'Pitch diameter of the thread', { unit: 'mm', symbol: 'd2', above: 0, max: 1e5, when: rubs }),
  choiceField('form', 'Thread form', ['trapezoidal', 'metric', 'square', 'ball'], { initial: 'trapezoidal', when: rubs }),
];
/** What is stated of one, from its fields. */
export type ScrewJoint = Joint & Stated<typeof FIELDS>;

/**
 * Turning about z, with a travel of `lead` along z for each turn (right hand: a positive turn travels towards
 * +z). Where the thread rubs it turns and travels, and the thread ties the two (couplings: `threadOf`).
 */
export const screw: JointKind = {
  type: 'screw',
  label: 'Screw',
  freedoms: [{ motion: 'helix', axis: 'z', label: 'turn' }],
  freedomsOf: (j: { friction?: number }) => (rubs(j) ? cylindrical.freedoms : screw.freedoms),
  fields: FIELDS,
  allows: 'turning about its axis, with travel in step',
};
