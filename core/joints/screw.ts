import { choiceField, exactField } from '../fields/fields';
import type { JointKind } from './protocol';

/** Turning about z, with a travel of `lead` along z for each turn (right hand: a positive turn travels towards +z). */
export const screw: JointKind = {
  type: 'screw',
  label: 'Screw',
  freedoms: [{ motion: 'helix', axis: 'z', label: 'turn' }],
  fields: [
    exactField('lead', 'Lead', { unit: 'mm', symbol: 'Ph', required: true, above: 0, max: 1e5, help: 'Travel per turn.' }),
    choiceField('hand', 'Hand', ['right', 'left'], { initial: 'right' }),
  ],
  allows: 'turning about its axis, with travel in step',
};
