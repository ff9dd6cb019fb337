import { numberField } from '../../fields/fields';
import { StageBuilder } from './builder';
import { cylindrical } from './cylindrical';
import type { StageKind } from './protocol';
import { ANGLE, MODULE, WIDTH, teeth, PAIR_BOUNDS, pairFor, quotient } from './sizes';

export const helical: StageKind = {
  kind: 'helical',
  label: 'Helical pair',
  does: 'the same, quietly',
  ratio: 'turns',
  usual: 8,
  fields: [
    teeth('z1', 'Teeth of the pinion', 20),
    teeth('z2', 'Teeth of the wheel', 60),
    MODULE,
    WIDTH,
    numberField('helix', 'Helix angle', { unit: 'deg', symbol: 'β', initial: 15, above: 0, max: 45 }),
    ANGLE,
  ],
  forRatio: pairFor,
  gives: quotient('z1', 'z2'),
  bounds: PAIR_BOUNDS,
  build: (b: StageBuilder): void => cylindrical(b, b.n('helix')),
};
