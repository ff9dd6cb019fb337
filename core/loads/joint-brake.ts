import type { Load } from '../fields/types';
import { type Stated, flagField, numberField, refField } from '../fields/fields';
import { againstMotion } from './dry';
import type { LoadKind } from './protocol';
import { PLACE_ALONG, number, placeOf } from './stated';

const FIELDS = [
  refField('joint', 'Joint', 'coordinate', { required: true }),
  numberField('value', 'Torque', {
    required: true,
    min: 0,
    max: 1e7,
    help: 'N·m or N up to which it holds, and with which it slips: of a brake at a joint on the frame, of a slip clutch at the joint between two shafts on one axis.',
  }),
  flagField('released', 'Released', { initial: false }),
  PLACE_ALONG,
];
/** What is stated of one, from its fields. */
export type JointBrake = Load & Stated<typeof FIELDS>;

/** A brake or a slip clutch: holds a joint up to its torque and slips beyond. */
export const jointBrake: LoadKind<JointBrake> = {
  type: 'joint-brake',
  label: 'Brake or slip clutch',
  fields: FIELDS,
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load.joint);
    const stated = load.released === true ? 0 : number(load.value);
    return coordinate && againstMotion({ id: load.id, coordinate, place: placeOf(load, coordinate), size: () => stated, lost: true });
  },
};
