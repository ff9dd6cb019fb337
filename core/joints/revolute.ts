import type { JointKind } from './protocol';

/** One turn about z. */
export const revolute: JointKind = {
  type: 'revolute',
  label: 'Revolute',
  freedoms: [{ motion: 'turn', axis: 'z', label: 'turn' }],
  allows: 'turning about its axis',
};
