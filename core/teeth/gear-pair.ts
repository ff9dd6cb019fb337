import { type ContactLine, basePitch, contactLine } from './contact';
import { GearData, cosBaseHelix, halfToothAt } from './gear-data';
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
  contact: ContactLine;
  transverseContactRatio: number;
  /**
   * Play of the flanks: on the working circle, square to the flanks
   * (mm), and as a turn of either wheel while the other is held (rad).
   */
  backlash: number;
  normalBacklash: number;
  turnA: number;
  turnB: number;
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
  const contact = contactLine(a, b, at, angle);
  // Thicknesses at the working circles fill the pitch there up to the play.
  const [ra, rb] = [a.baseRadius / Math.cos(angle), b.baseRadius / Math.cos(angle)];
  const pitch = (2 * Math.PI * ra) / a.teeth;
  const left = pitch - 2 * ra * halfToothAt(a, ra) - 2 * rb * halfToothAt(b, rb);
  // What is left of a pitch by rounding alone is no play.
  const play = Math.abs(left) < 1e-9 * pitch ? 0 : left;
  return {
    referenceDistance: reference,
    workingDistance: working,
    workingAngle: angle,
    ratio: (b.internal ? 1 : -1) * (b.teeth / a.teeth),
    contact,
    transverseContactRatio: Math.max(0, contact.length) / basePitch(a),
    backlash: play,
    normalBacklash: play * Math.cos(angle) * cosBaseHelix(a),
    turnA: play / ra,
    turnB: play / rb,
    overlapRatio: (Math.max(0, width) * Math.sin(Math.abs(a.beta))) / (Math.PI * a.module),
  };
}
