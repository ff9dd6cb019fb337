import { exactField } from '../../fields/fields';
import { StageBuilder } from './builder';
import type { StageKind } from './protocol';
import { ANGLE, WIDTH, DISTANCE, teeth, chainCounts, quotient } from './sizes';
import { wrapped } from './wrapped';

export const chain: StageKind = {
  kind: 'chain',
  label: 'Chain',
  does: 'turn at a distance, no slip',
  ratio: 'turns',
  usual: 7,
  fields: [
    teeth('z1', 'Teeth of the driver', 17),
    teeth('z2', 'Teeth of the driven', 34),
    exactField('pitch', 'Chain pitch', { unit: 'mm', symbol: 'p', initial: 12.7, above: 0, max: 1000 }),
    { ...WIDTH, label: 'Width', initial: 8 },
    DISTANCE,
    ANGLE,
  ],
  forRatio: chainCounts(17, 31),
  gives: quotient('z1', 'z2'),
  bounds: 'the smaller wheel has 17 to 31 teeth, the larger at most 400',
  build: (b: StageBuilder): void => wrapped(b, 'sprocket'),
};
