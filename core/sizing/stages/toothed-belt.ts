import { exactField } from '../../fields/fields';
import { StageBuilder } from './builder';
import type { StageKind } from './protocol';
import { ANGLE, WIDTH, DISTANCE, teeth, chainCounts, quotient } from './sizes';
import { wrapped } from './wrapped';

export const toothedBelt: StageKind = {
  kind: 'toothed-belt',
  label: 'Toothed belt',
  does: 'turn at a distance, no slip',
  ratio: 'turns',
  usual: 8,
  fields: [
    teeth('z1', 'Teeth of the driver', 20),
    teeth('z2', 'Teeth of the driven', 40),
    exactField('pitch', 'Belt pitch', { unit: 'mm', symbol: 'p', initial: 5, above: 0, max: 1000 }),
    { ...WIDTH, label: 'Width', initial: 15 },
    DISTANCE,
    ANGLE,
  ],
  forRatio: chainCounts(16, 36),
  gives: quotient('z1', 'z2'),
  bounds: 'the smaller wheel has 16 to 36 teeth, the larger at most 400',
  build: (b: StageBuilder): void => wrapped(b, 'toothed'),
};
