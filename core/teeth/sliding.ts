import { alongLine } from './contact';
import { type GearData, type GearGiven, gearData, halfToothAt } from './gear-data';
import { pairData } from './gear-pair';

/**
 * Specific sliding at the roots of both wheels of an external pair: how much faster the other flank goes than the own, as a
 * part of the own: 1 − ρ2/(u·ρ1) where the tip of the other wheel meets it (Niemann/Winter, Maschinenelemente II; ISO 21771-1,
 * sliding; from memory). Negative; the less the more it wears. NaN where the tip reaches below the base circle.
 */
export function specificSliding(a: GearData, b: GearData, distance: number): readonly [a: number, b: number] {
  const sum = a.baseRadius + b.baseRadius;
  const line = Math.sqrt(distance * distance - sum * sum);
  const at = (own: GearData, other: GearData): number => {
    const far = alongLine(other, other.tipRadius);
    const near = line - far;
    return near > 0 ? 1 - (far * own.teeth) / (near * other.teeth) : NaN;
  };
  return [at(a, b), at(b, a)];
}

/** Least thickness of a tip, in modules, that shifts are chosen for (common practice: 0.2 of soft teeth). */
const TIP = 0.2;
/** Modules that tips may reach beyond a flank by rounding. */
const ROUNDING = 1e-6;
const shifted = (g: GearGiven, shift: number): GearData => gearData({ ...g, shift });
/** Whether the tip of an external gear is thick enough. */
const sound = (g: GearData): boolean => 2 * halfToothAt(g, g.tipRadius) * g.tipRadius > TIP * g.module;

/**
 * Profile shifts of an external pair at which both roots slide alike, with the sum and so the distance as they are; undefined
 * where there are none with tips of 0.2 modules and flanks that reach as far as they are met. By bisection: the more the first
 * is shifted outward, the less its root slides and the more the other's.
 */
export function balancedShifts(a: GearGiven, b: GearGiven): readonly [a: number, b: number] | undefined {
  const sum = a.shift + b.shift;
  const { workingDistance } = pairData(gearData(a), gearData(b));
  const more = (x: number): number => {
    const [own, other] = specificSliding(shifted(a, x), shifted(b, sum - x), workingDistance);
    // Below the base circle there is no end of sliding.
    if (Number.isNaN(own)) return -Infinity;
    return Number.isNaN(other) ? Infinity : own - other;
  };
  let [low, high] = [Math.min(-1, sum - 1), Math.max(1.5, sum + 1)];
  if (!(more(low) < 0) || !(more(high) > 0)) return undefined;
  for (let k = 0; k < 60; k++) {
    const middle = (low + high) / 2;
    if (more(middle) < 0) low = middle;
    else high = middle;
  }
  const [x1, x2] = [low, sum - low];
  const [ga, gb] = [shifted(a, x1), shifted(b, x2)];
  if (!sound(ga) || !sound(gb)) return undefined;
  const { beyondFirst, beyondSecond } = pairData(ga, gb).contact;
  return Math.max(beyondFirst, beyondSecond) < ROUNDING * ga.module ? [x1, x2] : undefined;
}
