import { BEARINGS_FIELD } from './bearings';
import type { JointKind } from './protocol';

/** One turn about z. */
export const revolute: JointKind = {
  type: 'revolute',
  label: 'Revolute',
  freedoms: [{ motion: 'turn', axis: 'z', label: 'turn' }],
  fields: [BEARINGS_FIELD],
  allows: 'turning about its axis',
};
