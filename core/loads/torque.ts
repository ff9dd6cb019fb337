import { type Load, FRAME } from '../fields/types';
import { type Stated, flagField, refField, vectorField } from '../fields/fields';
import { PLACEMENT, moveVector } from '../math/index';
import type { LoadKind } from './protocol';
import { vector } from './stated';

const FIELDS = [
  refField('member', 'Acts on', 'member', { required: true }),
  vectorField('torque', 'Torque', { unit: 'N·m', required: true }),
  flagField('follows', 'Turns with the member', { initial: false }),
];
/** What is stated of one, from its fields. */
export type Torque = Load & Stated<typeof FIELDS>;

/** A couple on a member, in the directions of the world or of the member. */
export const torque: LoadKind<Torque> = {
  type: 'torque',
  label: 'Torque',
  fields: FIELDS,
  bind(load, bodies) {
    const member = String(load.member);
    const body = bodies.bodyOf(member);
    if (body === undefined || member === FRAME) return undefined;
    const [mx, my, mz] = vector(load.torque);
    const follows = load.follows === true;
    const h = Float64Array.of(mx, my, mz);
    return {
      on: 'bodies',
      apply({ placements }, into) {
        if (follows) moveVector(h, 0, placements, PLACEMENT * body, mx, my, mz);
        into.couple(load.id, body, h[0], h[1], h[2]);
      },
    };
  },
};
