import { exactField } from '../../fields/fields';
import { StageBuilder } from './builder';
import type { StageKind } from './protocol';
import { ANGLE, WIDTH, DISTANCE, teeth, chainCounts } from './sizes';
import { wrapped } from './wrapped';

export const toothedBelt: StageKind = {
  kind: 'toothed-belt',
  label: 'Toothed belt',
  does: 'turn at a distance, no slip',
  ratio: 'turns',
  fields: [
    teeth('z1', 'Teeth of the driver', 20, 10),
    teeth('z2', 'Teeth of the driven', 40, 10),
    exactField('pitch', 'Belt pitch', { unit: 'mm', symbol: 'p', initial: 5, above: 0, max: 100 }),
    { ...WIDTH, label: 'Width', initial: 15 },
    DISTANCE,
    ANGLE,
  ],
  forRatio: chainCounts(16, 36),
  build: (b: StageBuilder): void => wrapped(b, 'toothed'),
};
