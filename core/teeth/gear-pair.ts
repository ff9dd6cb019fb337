import { GearData } from './gear-data';
import { inverseInvolute, involute } from './involute';

/** How two cylindrical gears of one basic rack run together, mm and rad. */
export interface PairData {
  /** Sum of pitch radii (difference for an internal pair). */
  referenceDistance: number;
  /** Distance at which the flanks touch without play, from the profile shifts. */
  workingDistance: number;
  /** Transverse pressure angle at that distance. */
  workingAngle: number;
  ratio: number;
  transverseContactRatio: number;
  overlapRatio: number;
}

/**
 * Working distance from profile shifts: inv αwt = inv αt + 2 (x1 ± x2) tan αn / (z1 ± z2); a = (z1 ± z2) mt cos αt / (2 cos αwt)
 * (ISO 21771-1:2007, gear pairs). Gear `b` may be internal; shifts then count away from the axis on both.
 * Fields are NaN where no such pair exists.
 */
export function pairData(a: GearData, b: GearData, width = 0, distance?: number): PairData {
  const s = b.internal ? -1 : 1;
  const sum = b.teeth + s * a.teeth;
  const reference = b.pitchRadius + s * a.pitchRadius;
  const shift = b.internal ? b.shift - a.shift : a.shift + b.shift;
  const inv = involute(a.alphaT) + (2 * shift * Math.tan(a.alpha)) / sum;
  const tight = inverseInvolute(inv);
  const working = (reference * Math.cos(a.alphaT)) / Math.cos(tight);
  const at = distance ?? working;
  const angle = Math.acos((reference * Math.cos(a.alphaT)) / at);
  const reach = (g: GearData): number => Math.sqrt(Math.max(0, g.tipRadius ** 2 - g.baseRadius ** 2));
  const path = b.internal ? reach(a) - reach(b) + at * Math.sin(angle) : reach(a) + reach(b) - at * Math.sin(angle);
  return {
    referenceDistance: reference,
    workingDistance: working,
    workingAngle: angle,
    ratio: (b.internal ? 1 : -1) * (b.teeth / a.teeth),
    transverseContactRatio: path / (Math.PI * a.moduleT * Math.cos(a.alphaT)),
    overlapRatio: (width * Math.sin(Math.abs(a.beta))) / (Math.PI * a.module),
  };
}

/** Contact ratio of a gear with a rack of the given addendum (mm): pinion's path plus the rack's tip line. */
export function rackContactRatio(a: GearData, rackAddendum: number): number {
  const approach = Math.sqrt(Math.max(0, a.tipRadius ** 2 - a.baseRadius ** 2)) - a.pitchRadius * Math.sin(a.alphaT);
  const recess = (rackAddendum - a.shift * a.module) / Math.sin(a.alphaT);
  return (approach + recess) / (Math.PI * a.moduleT * Math.cos(a.alphaT));
}
