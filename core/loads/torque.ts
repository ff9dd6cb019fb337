import { type Load, FRAME } from '../fields/types';
import { type Stated, flagField, refField, vectorField } from '../fields/fields';
import { PLACEMENT, movePoint, moveVector } from '../math/index';
import type { LoadKind } from './protocol';
import { directionOn, pointOn } from './stated';

const FIELDS = [
  refField('member', 'Acts on', 'member', { required: true }),
  vectorField('at', 'Point on the member', { unit: 'mm', rare: true, help: 'Where it acts: it counts for the torsion of the shaft between.' }),
  vectorField('torque', 'Torque', { unit: 'N·m', required: true }),
  flagField('follows', 'Turns with the member', {
    initial: false,
    help: 'Stated along the member’s own axes, as its point is, and turning with them; otherwise along the world’s.',
  }),
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
    const follows = load.follows === true;
    const [mx, my, mz] = directionOn(member, load.torque, follows, bodies);
    const [px, py, pz] = pointOn(member, load.at, bodies);
    const h = Float64Array.of(mx, my, mz, 0, 0, 0);
    return {
      on: 'bodies',
      apply({ placements }, into) {
        if (follows) moveVector(h, 0, placements, PLACEMENT * body, mx, my, mz);
        movePoint(h, 3, placements, PLACEMENT * body, px, py, pz);
        into.couple(load.id, body, h[3], h[4], h[5], h[0], h[1], h[2]);
      },
    };
  },
};
