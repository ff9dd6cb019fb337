import type { JointKind } from './protocol';

/** Sliding along x and y and turning about z. */
export const planar: JointKind = {
  type: 'planar',
  label: 'Planar',
  freedoms: [
    { motion: 'slide', axis: 'x', label: 'travel along x' },
    { motion: 'slide', axis: 'y', label: 'travel along y' },
    { motion: 'turn', axis: 'z', label: 'turn' },
  ],
  allows: 'sliding on a plane and turning in it',
};
