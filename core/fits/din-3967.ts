import type { SizeLimits } from './iso-286';

/** Series of allowances of tooth thickness (DIN 3967). */
export const ALLOWANCE_SERIES = ['a', 'ab', 'b', 'bc', 'c', 'cd', 'd', 'e', 'f', 'g', 'h'] as const;
export type AllowanceSeries = (typeof ALLOWANCE_SERIES)[number];
/** Series of tolerances of tooth thickness (DIN 3967). */
export const TOLERANCE_SERIES = ['21', '22', '23', '24', '25', '26', '27', '28', '29', '30'] as const;
export type ToleranceSeries = (typeof TOLERANCE_SERIES)[number];

/** Reference diameters up to which a row holds, mm. */
const STEPS = [10, 50, 125, 280, 560, 1000, 1600] as const;
/** How much the thickest tooth is thinner than that without backlash, μm: table 1, a to h; from memory. */
const ALLOWANCES: readonly (readonly number[])[] = [
  [100, 85, 70, 58, 48, 40, 33, 22, 10, 5, 0],
  [135, 110, 95, 75, 65, 54, 44, 30, 14, 7, 0],
  [180, 150, 125, 105, 85, 70, 60, 40, 19, 9, 0],
  [250, 200, 170, 140, 115, 95, 80, 56, 26, 12, 0],
  [330, 280, 230, 190, 155, 130, 110, 75, 35, 17, 0],
  [450, 370, 310, 260, 210, 175, 145, 100, 48, 22, 0],
  [600, 500, 420, 340, 290, 240, 200, 135, 64, 30, 0],
];
/** Width of the tolerance, μm: table 2, 21 to 30; from memory. */
const WIDTHS: readonly (readonly number[])[] = [
  [3, 5, 8, 12, 20, 30, 50, 80, 130, 200],
  [5, 8, 12, 20, 30, 50, 80, 130, 200, 300],
  [6, 10, 16, 25, 40, 60, 100, 160, 250, 400],
  [8, 12, 20, 30, 50, 80, 130, 200, 300, 500],
  [10, 16, 25, 40, 60, 100, 160, 250, 400, 600],
  [12, 20, 30, 50, 80, 130, 200, 300, 500, 800],
  [16, 25, 40, 60, 100, 160, 250, 400, 600, 1000],
];

/**
 * Limits of the normal tooth thickness from that without backlash, mm, by series and reference diameter (DIN 3967:1978);
 * undefined above 1600 mm.
 */
export function thicknessLimits(allowance: AllowanceSeries, tolerance: ToleranceSeries, diameter: number): SizeLimits | undefined {
  const row = diameter > 0 ? STEPS.findIndex((s) => diameter <= s) : -1;
  if (row < 0) return undefined;
  const thinner = ALLOWANCES[row][ALLOWANCE_SERIES.indexOf(allowance)];
  return { upper: (0 - thinner) / 1000, lower: (0 - thinner - WIDTHS[row][TOLERANCE_SERIES.indexOf(tolerance)]) / 1000 };
}
