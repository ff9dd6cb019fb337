import { BEARINGS_FIELD } from './bearings';
import type { JointKind } from './protocol';

/** Turning about and sliding along z, each on its own. */
export const cylindrical: JointKind = {
  type: 'cylindrical',
  label: 'Cylindrical',
  freedoms: [
    { motion: 'turn', axis: 'z', label: 'turn' },
    { motion: 'slide', axis: 'z', label: 'travel' },
  ],
  fields: [BEARINGS_FIELD],
  allows: 'turning about and sliding along its axis',
};
