import type { JointKind } from './protocol';

/** No freedom: the child is fastened to the parent and moves as one with it. */
export const fixed: JointKind = { type: 'fixed', label: 'Fixed', freedoms: [], allows: 'nothing: the two move as one' };
