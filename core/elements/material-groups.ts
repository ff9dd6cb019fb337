/** Groups of gear materials by how they are made hard. */
export const MATERIAL_GROUPS = [
  'normalized steel',
  'through-hardened steel',
  'case-hardened steel',
  'induction-hardened steel',
  'nitrided steel',
  'grey iron',
  'nodular iron',
] as const;
export type MaterialGroup = (typeof MATERIAL_GROUPS)[number];
/** Hardness that can be stated, HV. */
export const HARDNESS = { min: 50, max: 1200 } as const;
