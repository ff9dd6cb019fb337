import { numberField, refField } from '../fields/fields';
import type { LoadKind } from './protocol';
import { number } from './stated';

/** A constant torque or force along a joint. */
export const jointLoad: LoadKind = {
  type: 'joint-load',
  label: 'Load on a joint',
  fields: [
    refField('joint', 'Joint', 'coordinate', { required: true }),
    numberField('value', 'Load', {
      unit: 'N·m',
      required: true,
      help: 'N·m of a turning joint, N of a sliding one; positive drives the joint forward.',
    }),
  ],
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load['joint']);
    const stated = number(load['value']);
    return coordinate && { on: 'coordinate', id: load.id, ...coordinate, value: () => stated };
  },
};
