import type { Load } from '../fields/types';
import { type Stated, numberField, refField } from '../fields/fields';
import { COIL_FIELDS } from './coil';
import type { LoadKind } from './protocol';
import { MM, PLACE_ALONG, number, placeOf } from './stated';

const FIELDS = [
  refField('joint', 'Joint', 'coordinate', { required: true }),
  numberField('rate', 'Rate', { required: true, min: 0, max: 1e6, help: 'N·m/deg of a turning joint, N/mm of a sliding one.' }),
  numberField('free', 'Unloaded at', { initial: 0, min: -1e6, max: 1e6, help: 'deg or mm.' }),
  numberField('preload', 'Preload', { initial: 0, min: -1e7, max: 1e7, help: 'N·m or N on the joint at the unloaded place.' }),
  numberField('damping', 'Damping', { initial: 0, min: 0, max: 1e6, help: 'N·m·s/deg or N·s/mm.' }),
  PLACE_ALONG,
  ...COIL_FIELDS,
];
/** What is stated of one, from its fields. */
export type JointSpring = Load & Stated<typeof FIELDS>;

/** A spring with damper along a joint, stated per degree or per mm. */
export const jointSpring: LoadKind<JointSpring> = {
  type: 'joint-spring',
  label: 'Spring of a joint',
  fields: FIELDS,
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load.joint);
    if (!coordinate) return undefined;
    const { index } = coordinate;
    // SI from here: per rad or per m.
    const unit = coordinate.slide ? MM : Math.PI / 180;
    const rate = number(load.rate) / unit;
    const free = number(load.free) * unit;
    const preload = number(load.preload);
    const damping = number(load.damping) / unit;
    return {
      on: 'coordinate',
      id: load.id,
      ...coordinate,
      place: placeOf(load, coordinate),
      value: ({ q, velocity }) => preload - rate * (q[index] - free) - damping * velocity[index],
      lost: ({ velocity }) => damping * velocity[index] ** 2,
    };
  },
};
