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
/** The other way: how many changes are borne at a factor of the endurance limit; none above the start, any below the end. */
function borne({ from, most, to, end }: Curve, factor: number): number {
  if (factor > most) return 0;
  if (factor >= end) return from * (most / factor) ** (Math.log(to / from) / Math.log(most / end));
  return factor >= LATE_FACTOR ? to * (end / factor) ** (Math.log(LATE / to) / Math.log(end / LATE_FACTOR)) : Infinity;
}
export type LifeCurve = 'hard' | 'tough' | 'gas';
const flankCurve = (curve: LifeCurve): Curve =>
  curve === 'gas' ? { from: 1e5, most: 1.3, to: 2e6, end: 1 } : { from: 1e5, most: 1.6, to: 5e7, end: 1 };
const rootCurve = (curve: LifeCurve): Curve =>
  curve === 'gas' ? { from: 1e3, most: 1.6, to: 3e6, end: 1 } : { from: curve === 'hard' ? 1e3 : 1e4, most: 2.5, to: 3e6, end: 1 };

/** Life factor of the flank ZNT (ISO 6336-2:2006, 11, table 2, no pitting permitted). */
export const flankLife = (curve: LifeCurve, changes: number): number => along(flankCurve(curve), changes);
/** Load changes that a flank bears at a stress of so many endurance limits; the inverse of the life factor. */
export const flankChanges = (curve: LifeCurve, factor: number): number => borne(flankCurve(curve), factor);

/** Life factor of the root YNT (ISO 6336-3:2006, 11, table 1). */
export const rootLife = (curve: LifeCurve, changes: number): number => along(rootCurve(curve), changes);
/** Load changes that a root bears at a stress of so many endurance limits. */
export const rootChanges = (curve: LifeCurve, factor: number): number => borne(rootCurve(curve), factor);
