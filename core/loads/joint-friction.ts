import { numberField, refField } from '../fields/fields';
import type { LoadKind } from './protocol';
import { number } from './stated';

/** Speeds below which dry friction, where it is smoothed, is not yet whole: rad/s and m/s. */
const WHOLE_AT = { turn: 1e-2, slide: 1e-4 } as const;

/** Dry friction along a joint: against the motion, whichever way it goes. */
export const jointFriction: LoadKind = {
  type: 'joint-friction',
  label: 'Friction of a joint',
  fields: [
    refField('joint', 'Joint', 'coordinate', { required: true }),
    numberField('value', 'Friction', { required: true, min: 0, max: 1e7, help: 'N·m or N against the motion, whichever way it goes.' }),
  ],
  bind(load, bodies) {
    const coordinate = bodies.coordinateOf(load['joint']);
    if (!coordinate) return undefined;
    const { index, slide } = coordinate;
    const size = number(load['value']);
    const whole = WHOLE_AT[slide ? 'slide' : 'turn'];
    return {
      on: 'coordinate',
      id: load.id,
      ...coordinate,
      value: ({ velocity, smoothFriction }) =>
        -size * (smoothFriction ? Math.max(-1, Math.min(1, velocity[index] / whole)) : Math.sign(velocity[index])),
    };
  },
};
