/** Modulus of steel, MPa. */
const STEEL = 206_000;

/** A hub pressed on a shaft, both of steel: joint, outside and bore diameters, length, mm. */
export interface PressFit {
  readonly diameter: number;
  readonly outer: number;
  readonly bore: number;
  readonly length: number;
}
/**
 * Pressure of an elastic press fit, MPa, by its interference in the diameter, mm (Lamé; DIN 7190-1): p = (U/d)·E/((1 +
 * QA²)/(1 − QA²)
 * + (1 + QI²)/(1 − QI²)) with QA = d/D and QI = di/d, for hub and shaft of one material (Poisson's ratio cancels out).
 */
export function fitPressure({ diameter: d, outer, bore }: PressFit, interference: number): number {
  const [qa, qi] = [(d / outer) ** 2, (bore / d) ** 2];
  return ((interference / d) * STEEL) / ((1 + qa) / (1 - qa) + (1 + qi) / (1 - qi));
}
/** Roughness Rz of a seat and its shaft where none is stated, μm: as ground or finely turned (common practice). */
export const USUAL_SEAT_ROUGHNESS = 6.3;
/**
 * What of an interference is smoothed away when the joint is pressed together, mm: 0.8·(RzA + RzI) (DIN 7190-1), both of
 * `roughness`, μm.
 */
export const smoothing = (roughness: number): number => (0.8 * 2 * roughness) / 1000;
/** Force along the joint that its friction holds, N. */
export const fitHolds = ({ diameter, length }: PressFit, pressure: number, friction: number): number =>
  friction * pressure * Math.PI * diameter * length;
/** Equivalent stresses at the bore of the hub, and of the shaft (at its own bore where it has one), MPa: distortion energy. */
export function fitStress({ diameter: d, outer, bore }: PressFit, pressure: number): { hub: number; shaft: number } {
  const [qa, qi] = [(d / outer) ** 2, (bore / d) ** 2];
  return { hub: (pressure * Math.sqrt(3 + qa * qa)) / (1 - qa), shaft: bore > 0 ? (2 * pressure) / (1 - qi) : pressure };
}
