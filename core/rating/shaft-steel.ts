import type { ShaftSteel } from '../fields/shaft-rating';
import type { Member } from '../fields/types';

/** How strength falls with size: structural, heat-treated throughout, or case-hardened without nickel. */
type Sort = 'structural' | 'heat-treated' | 'case-hardened';

/**
 * Tensile and yield strength at the size to which they belong, MPa: up to 16 mm of what is heat-treated, 32 (yield) and 100 mm
 * (tensile) of structural steel. After EN 10025-2, EN ISO 683 and DIN 743-3, from memory.
 */
const STEELS: Readonly<Record<ShaftSteel, readonly [tensile: number, yields: number, sort: Sort]>> = {
  S235: [360, 235, 'structural'],
  S275: [410, 275, 'structural'],
  S355: [470, 355, 'structural'],
  E295: [490, 295, 'structural'],
  E335: [590, 335, 'structural'],
  E360: [690, 360, 'structural'],
  'C45E quenched and tempered': [700, 490, 'heat-treated'],
  'C60E quenched and tempered': [850, 580, 'heat-treated'],
  '34CrMo4 quenched and tempered': [1000, 800, 'heat-treated'],
  '42CrMo4 quenched and tempered': [1100, 900, 'heat-treated'],
  '34CrNiMo6 quenched and tempered': [1200, 1000, 'heat-treated'],
  '16MnCr5 case-hardened': [1000, 695, 'case-hardened'],
  '18CrNiMo7-6 case-hardened': [1200, 850, 'heat-treated'],
};

/** A factor that is 1 up to `from`, falls with the logarithm of the size, and stays from `to` on. */
const falling =
  (slope: number, from: number, to: number) =>
  (d: number): number =>
    d <= from ? 1 : 1 - slope * Math.log10(Math.min(d, to) / from);

/** K1 of DIN 743-2 for tensile and yield strength, by the diameter at which it was heat-treated, mm. */
const SIZE: Readonly<Record<Sort, readonly [(d: number) => number, (d: number) => number]>> = {
  structural: [falling(0.23, 100, 300), falling(0.26, 32, 300)],
  'heat-treated': [falling(0.26, 16, 300), falling(0.26, 16, 300)],
  'case-hardened': [falling(0.41, 16, 150), falling(0.41, 16, 150)],
};

/** What a shaft's material bears, at its size. MPa */
export interface ShaftMaterial {
  readonly tensile: number;
  readonly yield: number;
  /** Its surface is hard, which brittle teeth of notches do not forgive. */
  readonly hard: boolean;
  readonly said: string;
}

/** Strength of a steel in a shaft whose stoutest place has a diameter of d, mm. DIN 743-2, K1; valid to 500 mm. */
export function strengthOf(steel: ShaftSteel, d: number): ShaftMaterial {
  const [tensile, yields, sort] = STEELS[steel];
  const [ofTensile, ofYield] = SIZE[sort];
  return { tensile: ofTensile(d) * tensile, yield: ofYield(d) * yields, hard: steel.endsWith('case-hardened'), said: steel };
}

/** What is stated of a shaft's or a screw's strength; what is not, by its steel at its stoutest, mm. */
export function materialOf(m: Member, stout: number): ShaftMaterial | undefined {
  const own = m.steel && strengthOf(m.steel, stout);
  const tensile = m.tensileStrength ?? own?.tensile;
  const yields = m.yieldStrength ?? own?.yield;
  if (tensile === undefined || yields === undefined) return undefined;
  return { tensile, yield: yields, hard: own?.hard ?? false, said: own?.said ?? 'a steel of stated strength' };
}
