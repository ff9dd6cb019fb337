/**
 * Tolerances of a gear by its accuracy grade, μm; module and sizes mm (ISO 1328-1:1995, formulas of clause 6, runout of ISO
 * 1328-2; from memory). At the sizes themselves, where the tables take the middle of a range.
 */
export interface Deviations {
  readonly singlePitch: number;
  readonly profileForm: number;
  readonly helixSlope: number;
  readonly helixTotal: number;
}
/** All tolerances that a gear drawing states. */
export interface GearTolerances extends Deviations {
  readonly totalPitch: number;
  readonly profileTotal: number;
  readonly runout: number;
}
/** The formulas give grade 5; each further grade is √2 coarser. */
export function deviations(grade: number, module: number, diameter: number, width: number): GearTolerances {
  const step = Math.SQRT2 ** (grade - 5);
  const [m, d, b] = [module, Math.sqrt(diameter), Math.sqrt(width)];
  return {
    singlePitch: step * (0.3 * (m + 0.4 * d) + 4),
    totalPitch: step * (0.3 * m + 1.25 * d + 7),
    profileTotal: step * (3.2 * Math.sqrt(m) + 0.22 * d + 0.7),
    runout: step * (0.24 * m + d + 5.6),
    profileForm: step * (2.5 * Math.sqrt(m) + 0.17 * d + 0.5),
    helixSlope: step * (0.07 * d + 0.45 * b + 3),
    helixTotal: step * (0.1 * d + 0.63 * b + 4.2),
  };
}
