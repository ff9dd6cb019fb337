import type { JointKind } from './protocol';

/**
 * Turning about every axis through the centre, counted as three turns
 * about x, y and z; the middle one must stay short of a quarter turn.
 */
export const spherical: JointKind = {
  type: 'spherical',
  label: 'Spherical',
  freedoms: [
    { motion: 'turn', axis: 'x', label: 'turn about x' },
    { motion: 'turn', axis: 'y', label: 'turn about y' },
    { motion: 'turn', axis: 'z', label: 'turn about z' },
  ],
  allows: 'turning every way about its centre',
};
