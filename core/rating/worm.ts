import type { WormBronze } from '../elements/index';
import { convert } from '../units/index';

/** Inches from mm, and ft/min from m/s: the units of the source's formulas. */
const inches = (mm: number): number => mm / 25.4;
const feetPerMinute = (v: number): number => convert(v, 'm/s', 'ft/min');
const POUND = 4.448_221_615;

/** Sliding speed of a worm's thread, m/s: its reference diameter, mm, lead angle, rad, and speed, rev/min. */
export const slidingSpeed = (diameter: number, leadAngle: number, speed: number): number =>
  (Math.PI * diameter * 1e-3 * Math.abs(speed)) / 60 / Math.cos(leadAngle);

/** Materials factor Cs of a bronze, by the centre distance and the diameter of the wheel, in (AGMA 6034-B92). */
export function materialFactor(bronze: WormBronze, distance: number, wheel: number): number {
  if (distance <= 3) return 720 + 10.37 * distance ** 3;
  if (bronze === 'sand-cast bronze') return wheel <= 2.5 ? 1000 : 1190 - 477 * Math.log10(wheel);
  if (bronze === 'chill-cast bronze') return wheel <= 8 ? 1000 : 1412 - 456 * Math.log10(wheel);
  return wheel <= 25 ? 1000 : 1251 - 180 * Math.log10(wheel);
}
/** Ratio factor Cm, for ratios of 3 and more. */
export function ratioFactor(ratio: number): number {
  if (ratio <= 20) return 0.02 * Math.sqrt(-(ratio ** 2) + 40 * ratio - 76) + 0.46;
  if (ratio <= 76) return 0.0107 * Math.sqrt(-(ratio ** 2) + 56 * ratio + 5145);
  return 1.1483 - 0.00658 * ratio;
}
/** Speed factor Cv, by the sliding speed, ft/min. */
export function speedFactor(sliding: number): number {
  if (sliding < 700) return 0.659 * Math.exp(-0.0011 * sliding);
  return sliding < 3000 ? 13.31 * sliding ** -0.571 : 65.52 * sliding ** -0.774;
}
/** Ratios for which the source has factors. */
export const LEAST_RATIO = 3;
export const MOST_RATIO = 100;
/** A worm wheel is no wider than this part of its worm's diameter, as far as its rating goes. */
const WIDEST = 0.67;

/** What a worm drive is, for its rating: lengths mm. */
export interface RatedWorm {
  readonly bronze: WormBronze;
  readonly wormDiameter: number;
  readonly wheelDiameter: number;
  readonly width: number;
  readonly ratio: number;
}
/**
 * Rated tangential load of a worm wheel, N, at a sliding speed, m/s: Wt = Cs·D^0.8·F·Cm·Cv (AGMA 6034-B92, in Shigley, eq.
 * 15-28 to
 * 15-37; from memory), of a bronze wheel with a worm of steel that is case-hardened to 58 HRC and ground, for a nominal life of
 * 25 000 h. Throws RangeError for ratios that the source has no factors for.
 */
export function wormCapacity(w: RatedWorm, sliding: number): { force: number; material: number; ratio: number; speed: number; width: number } {
  if (w.ratio < LEAST_RATIO || w.ratio > MOST_RATIO) throw new RangeError(`AGMA 6034 has factors for ratios of ${LEAST_RATIO} to ${MOST_RATIO}`);
  const width = Math.min(w.width, WIDEST * w.wormDiameter);
  const material = materialFactor(w.bronze, inches((w.wormDiameter + w.wheelDiameter) / 2), inches(w.wheelDiameter));
  const [ratio, speed] = [ratioFactor(w.ratio), speedFactor(feetPerMinute(sliding))];
  return { force: material * inches(w.wheelDiameter) ** 0.8 * inches(width) * ratio * speed * POUND, material, ratio, speed, width };
}

/** Lewis form factor y of worm wheel teeth, by the normal pressure angle, deg (Buckingham, in Shigley, 15-38; from memory). */
export function wormForm(pressureAngle: number): number | undefined {
  return [
    [14.5, 0.1],
    [20, 0.125],
    [25, 0.15],
    [30, 0.175],
  ].find(([a]) => Math.abs(a - pressureAngle) < 1e-6)?.[1];
}
/** Bending stress of a worm wheel's teeth, MPa (Buckingham: σ = W/(pn·F·y)): force N, normal pitch and width mm. */
export const wormBending = (force: number, normalPitch: number, width: number, form: number): number => force / (normalPitch * width * form);
