import { GUIDE_FIELDS } from './guides';
import type { JointKind } from './protocol';

/** One slide along z. */
export const prismatic: JointKind = {
  type: 'prismatic',
  label: 'Prismatic',
  freedoms: [{ motion: 'slide', axis: 'z', label: 'travel' }],
  fields: GUIDE_FIELDS,
  allows: 'sliding along its axis',
};
