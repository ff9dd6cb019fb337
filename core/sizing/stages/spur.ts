import { StageBuilder } from './builder';
import { cylindrical } from './cylindrical';
import type { StageKind } from './protocol';
import { ANGLE, MODULE, WIDTH, teeth, PAIR_BOUNDS, pairFor, quotient } from './sizes';

export const spur: StageKind = {
  kind: 'spur',
  label: 'Spur pair',
  does: 'turn to turn, opposite sense',
  ratio: 'turns',
  usual: 8,
  fields: [teeth('z1', 'Teeth of the pinion', 20), teeth('z2', 'Teeth of the wheel', 60), MODULE, WIDTH, ANGLE],
  forRatio: pairFor,
  gives: quotient('z1', 'z2'),
  bounds: PAIR_BOUNDS,
  build: (b: StageBuilder): void => cylindrical(b, 0),
};
