import type { JointKind } from './protocol';

/** A pin along z in a slot along x: sliding along the slot and turning about the pin. The slot belongs to the parent. */
export const pinInSlot: JointKind = {
  type: 'pin-in-slot',
  label: 'Pin in slot',
  freedoms: [
    { motion: 'slide', axis: 'x', label: 'travel along the slot' },
    { motion: 'turn', axis: 'z', label: 'turn' },
  ],
  allows: 'sliding along the slot and turning about the pin',
};
