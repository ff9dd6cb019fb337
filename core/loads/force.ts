import { type Load, FRAME } from '../fields/types';
import { type Stated, flagField, refField, vectorField } from '../fields/fields';
import { PLACEMENT, movePoint, moveVector } from '../math/index';
import type { LoadKind } from './protocol';
import { directionOn, pointOn } from './stated';

const FIELDS = [
  refField('member', 'Acts on', 'member', { required: true }),
  vectorField('at', 'Point on the member', { unit: 'mm' }),
  vectorField('force', 'Force', { unit: 'N', required: true }),
  flagField('follows', 'Turns with the member', {
    initial: false,
    help: 'Stated along the member’s own axes, as its point is, and turning with them; otherwise along the world’s.',
  }),
];
/** What is stated of one, from its fields. */
export type Force = Load & Stated<typeof FIELDS>;

/** A force at a point of a member, in the directions of the world or of the member. */
export const force: LoadKind<Force> = {
  type: 'force',
  label: 'Force',
  fields: FIELDS,
  bind(load, bodies) {
    const member = String(load.member);
    const body = bodies.bodyOf(member);
    if (body === undefined || member === FRAME) return undefined;
    const [px, py, pz] = pointOn(member, load.at, bodies);
    const follows = load.follows === true;
    const [fx, fy, fz] = directionOn(member, load.force, follows, bodies);
    const h = Float64Array.of(0, 0, 0, fx, fy, fz);
    return {
      on: 'bodies',
      apply({ placements }, into) {
        movePoint(h, 0, placements, PLACEMENT * body, px, py, pz);
        if (follows) moveVector(h, 3, placements, PLACEMENT * body, fx, fy, fz);
        into.force(load.id, body, h[0], h[1], h[2], h[3], h[4], h[5]);
      },
    };
  },
};
