import type { JointKind } from './protocol';

/** One slide along z. */
export const prismatic: JointKind = {
  type: 'prismatic',
  label: 'Prismatic',
  freedoms: [{ motion: 'slide', axis: 'z', label: 'travel' }],
  allows: 'sliding along its axis',
};
