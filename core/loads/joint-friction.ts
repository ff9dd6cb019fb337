import type { Load } from '../fields/types';
import { type Stated, numberField, refField } from '../fields/fields';
import { BY_SPEED, type LoadKind, type Moment } from './protocol';
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
    if (!coordinate) return undefined;
    const { index } = coordinate;
    const size = number(load.value);
    const rub = ({ velocity, frictionSense, tendency, still }: Moment): number => {
      if (frictionSense[index] !== BY_SPEED) return -size * frictionSense[index];
      const rate = (tendency ?? velocity)[index];
      return Math.abs(rate) <= still ? 0 : -size * Math.sign(rate);
    };
    return {
      on: 'coordinate',
      id: load.id,
      ...coordinate,
      place: placeOf(load, coordinate),
      friction: size,
      value: rub,
      lost: (at) => -rub(at) * at.velocity[index],
    };
  },
};
