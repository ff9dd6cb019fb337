import type { MaterialGroup, RatedStatement } from '../elements/index';

/**
 * What ISO 6336-5 says of a group at quality MQ: limits A·hardness + B in MPa between two hardnesses; and what other parts
 * use of it.
 */
interface GroupData {
  /** Hardness (HBW of soft groups, HV) between which the lines hold. */
  readonly hardness: readonly [least: number, most: number];
  readonly contact: readonly [a: number, b: number];
  readonly bending: readonly [a: number, b: number];
  /** Modulus of elasticity, MPa. */
  readonly modulus: number;
  /** Thickness of the slip layer ρ′, mm (ISO 6336-3, table 2). */
  readonly slipLayer: number;
  /** Which curve of life: of the flank and of the root (ISO 6336-2, table 2; ISO 6336-3, table 1). */
  readonly life: 'hard' | 'tough' | 'gas';
  /** Which line of relative roughness (ISO 6336-3, 14) and of size. */
  readonly surface: 'steel' | 'soft' | 'iron';
  readonly size: 'steel' | 'hard' | 'iron';
  /** Running-in (ISO 6336-1, 7.3 and 8.3). */
  readonly runningIn: 'steel' | 'hard' | 'iron';
}

/** Poisson's ratio of all groups (ISO 6336-2, table 1). */
export const POISSON = 0.3;

const STEEL = { modulus: 206_000, surface: 'steel', size: 'steel', runningIn: 'steel' } as const;
const SURFACE_HARDENED = { ...STEEL, slipLayer: 0.003, life: 'hard', size: 'hard', runningIn: 'hard' } as const;

/** ISO 6336-5:2003, table 1, and the tables named above; from memory. Slip layers at a usual proof stress of the group. */
export const MATERIALS: Readonly<Record<MaterialGroup, GroupData>> = {
  'normalized steel': {
    ...STEEL,
    hardness: [110, 210],
    contact: [1, 190],
    bending: [0.455, 69],
    slipLayer: 0.0833,
    life: 'tough',
    surface: 'soft',
  },
  'through-hardened steel': {
    ...STEEL,
    hardness: [200, 360],
    contact: [1.313, 373],
    bending: [0.425, 187],
    slipLayer: 0.0194,
    life: 'tough',
  },
  'case-hardened steel': { ...SURFACE_HARDENED, hardness: [660, 800], contact: [0, 1500], bending: [0, 461] },
  'induction-hardened steel': { ...SURFACE_HARDENED, hardness: [500, 615], contact: [0.541, 882], bending: [0.138, 290] },
  'nitrided steel': {
    ...SURFACE_HARDENED,
    hardness: [650, 900],
    contact: [0, 1250],
    bending: [0, 420],
    slipLayer: 0.1005,
    life: 'gas',
    surface: 'iron',
  },
  'grey iron': {
    hardness: [150, 240],
    contact: [1.033, 132],
    bending: [0.256, 8],
    modulus: 118_000,
    slipLayer: 0.31,
    life: 'gas',
    surface: 'iron',
    size: 'iron',
    runningIn: 'iron',
  },
  'nodular iron': {
    ...STEEL,
    hardness: [175, 300],
    contact: [1.434, 211],
    bending: [0.35, 119],
    modulus: 173_000,
    slipLayer: 0.0281,
    life: 'tough',
  },
};

/** Endurance limits σHlim and σFlim, MPa, with what they are taken from. */
export interface GearMaterial extends GroupData {
  readonly group: MaterialGroup;
  readonly hardnessNow: number;
  readonly contactLimit: number;
  readonly bendingLimit: number;
  readonly from: string;
}

/** The limits of a gear's material (ISO 6336-5, quality MQ), or what is missing, in words. */
export function gearMaterial({ materialGroup: group, hardness, contactLimit, bendingLimit }: RatedStatement): GearMaterial | string {
  if (group === undefined) return 'its material group is not stated';
  const data = MATERIALS[group];
  const needs = data.contact[0] !== 0 || data.bending[0] !== 0;
  const [least, most] = data.hardness;
  if (needs && hardness === undefined && (contactLimit === undefined || bendingLimit === undefined)) return 'its hardness is not stated';
  const now = hardness ?? (least + most) / 2;
  const outside = now < least || now > most;
  if (outside && (contactLimit === undefined || bendingLimit === undefined)) {
    return `its hardness ${now} is outside ${least} to ${most}, for which ISO 6336-5 gives limits of ${group}`;
  }
  const line = ([a, b]: readonly [number, number]): number => a * now + b;
  return {
    ...data,
    group,
    hardnessNow: now,
    contactLimit: contactLimit ?? line(data.contact),
    bendingLimit: bendingLimit ?? line(data.bending),
    from:
      contactLimit !== undefined && bendingLimit !== undefined ? 'limits as stated' : `${group}, hardness ${Math.round(now)}, ISO 6336-5 quality MQ`,
  };
}
