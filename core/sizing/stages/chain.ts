import { exactField } from '../../fields/fields';
import { StageBuilder } from './builder';
import type { StageKind } from './protocol';
import { ANGLE, WIDTH, DISTANCE, teeth, chainCounts } from './sizes';
import { wrapped } from './wrapped';

export const chain: StageKind = {
  kind: 'chain',
  label: 'Chain',
  does: 'turn at a distance, no slip',
  ratio: 'turns',
  fields: [
    teeth('z1', 'Teeth of the driver', 17, 9),
    teeth('z2', 'Teeth of the driven', 34, 9),
    exactField('pitch', 'Chain pitch', { unit: 'mm', symbol: 'p', initial: 12.7, above: 0, max: 200 }),
    { ...WIDTH, label: 'Width', initial: 8 },
    DISTANCE,
    ANGLE,
  ],
  forRatio: chainCounts(17, 31),
  build: (b: StageBuilder): void => wrapped(b, 'sprocket'),
};
