import type { Load } from '../fields/types';
import { type Stated, numberField, refField } from '../fields/fields';
import type { LoadKind } from './protocol';
import { PLACE_ALONG, number, placeOf } from './stated';

const FIELDS = [
  refField('joint', 'Joint', 'coordinate', { required: true }),
  numberField('value', 'Load', {
    unit: 'N·m',
    required: true,
    help: 'N·m of a turning joint, N of a sliding one; positive drives the joint forward.',
  }),
  PLACE_ALONG,
];
/** What is stated of one, from its fields. */
export type JointLoad = Load & Stated<typeof FIELDS>;

/** A constant torque or force along a joint. */
export const jointLoad: LoadKind<JointLoad> = {
  type: 'joint-load',
  label: 'Load on a joint',
  fields: FIELDS,
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load.joint);
    const stated = number(load.value);
    return coordinate && { on: 'coordinate', id: load.id, ...coordinate, place: placeOf(load, coordinate), value: () => stated };
  },
};
