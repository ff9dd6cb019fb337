/**
 * Shafts by the line of Goodman with distortion energy, after Shigley's Mechanical Engineering Design, chapter 7: a second
 * opinion beside DIN 743. Formulas from memory. Lengths mm, stresses MPa.
 */

const KSI = 6.894757;
const INCH = 25.4;

/** Notch sensitivity by Neuber's constant, whose polynomials are in inch and ksi. */
export function notchSensitivity(tensile: number, radius: number, torsion: boolean): number {
  const S = tensile / KSI;
  const [a, b, c] = torsion ? [0.19, 2.51e-3, 1.35e-5] : [0.246, 3.08e-3, 1.51e-5];
  const root = a - b * S + c * S * S - 2.67e-8 * S ** 3;
  return 1 / (1 + root / Math.sqrt(radius / INCH));
}

/** Endurance of a machined bar in bending, 99 % reliable: Se = ka·kb·ke·0.5·Sut, MPa. */
export function enduranceLimit(tensile: number, d: number): number {
  const ka = 4.51 * tensile ** -0.265;
  const kb = d <= 51 ? 1.24 * d ** -0.107 : 1.51 * d ** -0.157;
  return ka * kb * 0.814 * Math.min(0.5 * tensile, 700);
}

/** Amplitude and mean of bending (with what is along it) and of torsion, MPa, with the factors of the notch. */
export interface GoodmanStress {
  readonly bending: readonly [amplitude: number, mean: number];
  readonly torsion: readonly [amplitude: number, mean: number];
  readonly Kf: number;
  readonly Kfs: number;
}
/** Factor of safety n: 1/n = σa′/Se + σm′/Sut, both stresses by distortion energy. */
export function goodmanSafety({ bending, torsion, Kf, Kfs }: GoodmanStress, endurance: number, tensile: number): number {
  const at = (k: 0 | 1): number => Math.hypot(Kf * bending[k], Math.sqrt(3) * Kfs * torsion[k]);
  return 1 / (at(0) / endurance + at(1) / tensile);
}
