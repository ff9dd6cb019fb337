/** Tolerances of a gear by its accuracy grade, μm; module and sizes mm (ISO 1328-1:1995, formulas of clause 6; from memory). */
export interface Deviations {
  readonly singlePitch: number;
  readonly profileForm: number;
  readonly helixSlope: number;
  readonly helixTotal: number;
}
/** The formulas give grade 5; each further grade is √2 coarser. */
export function deviations(grade: number, module: number, diameter: number, width: number): Deviations {
  const step = Math.SQRT2 ** (grade - 5);
  const [m, d, b] = [module, Math.sqrt(diameter), Math.sqrt(width)];
  return {
    singlePitch: step * (0.3 * (m + 0.4 * d) + 4),
    profileForm: step * (2.5 * Math.sqrt(m) + 0.17 * d + 0.5),
    helixSlope: step * (0.07 * d + 0.45 * b + 3),
    helixTotal: step * (0.1 * d + 0.63 * b + 4.2),
  };
}
