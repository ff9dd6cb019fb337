/** A line of a curve of life: up to so many load changes the factor of the start, then by a power. */
interface Curve {
  readonly from: number;
  readonly most: number;
  readonly to: number;
  readonly end: number;
}
/** Where no more than 1e10 changes are reckoned with, the factor falls to this at them (ISO 6336-2 and -3; from memory). */
const LATE = 1e10,
  LATE_FACTOR = 0.85;
function along({ from, most, to, end }: Curve, changes: number): number {
  if (changes <= from) return most;
  if (changes <= to) return most * (changes / from) ** (Math.log(end / most) / Math.log(to / from));
  return changes >= LATE ? LATE_FACTOR : end * (changes / to) ** (Math.log(LATE_FACTOR / end) / Math.log(LATE / to));
}
export type LifeCurve = 'hard' | 'tough' | 'gas';

/** Life factor of the flank ZNT (ISO 6336-2:2006, 11, table 2, no pitting permitted). */
export const flankLife = (curve: LifeCurve, changes: number): number =>
  along(curve === 'gas' ? { from: 1e5, most: 1.3, to: 2e6, end: 1 } : { from: 1e5, most: 1.6, to: 5e7, end: 1 }, changes);

/** Life factor of the root YNT (ISO 6336-3:2006, 11, table 1). */
export const rootLife = (curve: LifeCurve, changes: number): number =>
  along(curve === 'gas' ? { from: 1e3, most: 1.6, to: 3e6, end: 1 } : { from: curve === 'hard' ? 1e3 : 1e4, most: 2.5, to: 3e6, end: 1 }, changes);
