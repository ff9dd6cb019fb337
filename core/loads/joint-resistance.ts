import type { Load } from '../fields/types';
import { type Stated, numberField, refField } from '../fields/fields';
import { againstMotion } from './dry';
import type { LoadKind } from './protocol';
import { PLACE_ALONG, number, placeOf } from './stated';

const FIELDS = [
  refField('joint', 'Joint', 'coordinate', { required: true }),
  numberField('value', 'Load', {
    required: true,
    min: 0,
    max: 1e7,
    help: 'N·m or N against the motion, whichever way it goes: what a cutter, a rake or a fan resists with. It is work that is done, not a loss.',
  }),
  PLACE_ALONG,
];
/** What is stated of one, from its fields. */
export type JointResistance = Load & Stated<typeof FIELDS>;

/** A resisting load: always against the motion, and nothing at rest. */
export const jointResistance: LoadKind<JointResistance> = {
  type: 'joint-resistance',
  label: 'Resisting load on a joint',
  fields: FIELDS,
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load.joint);
    const stated = number(load.value);
    return coordinate && againstMotion({ id: load.id, coordinate, place: placeOf(load, coordinate), size: () => stated, lost: false });
  },
};
