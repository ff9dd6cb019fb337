import type { Load } from '../fields/types';
import { type Stated, numberField, refField } from '../fields/fields';
import { againstMotion } from './dry';
import type { LoadKind } from './protocol';
import { PLACE_ALONG, number, placeOf } from './stated';

const FIELDS = [
  refField('joint', 'Joint', 'coordinate', { required: true }),
  numberField('value', 'Friction', { required: true, min: 0, max: 1e7, help: 'N·m or N against the motion, whichever way it goes.' }),
  PLACE_ALONG,
];
/** What is stated of one, from its fields. */
export type JointFriction = Load & Stated<typeof FIELDS>;

/** Dry friction along a joint: against the motion, whichever way it goes. */
export const jointFriction: LoadKind<JointFriction> = {
  type: 'joint-friction',
  label: 'Friction of a joint',
  fields: FIELDS,
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load.joint);
    const stated = number(load.value);
    return coordinate && againstMotion({ id: load.id, coordinate, place: placeOf(load, coordinate), size: () => stated, lost: true });
  },
};
