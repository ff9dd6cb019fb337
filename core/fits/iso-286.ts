/** Sizes up to which a row of the tables holds, mm: over the one before, up to and with this. */
const STEPS = [3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500] as const;
/** Finer steps of the deviations r to z. */
const FINE = [3, 6, 10, 14, 18, 24, 30, 40, 50, 65, 80, 100, 120, 140, 160, 180, 200, 225, 250, 280, 315, 355, 400, 450, 500] as const;

/** Standard tolerances IT4 to IT11, μm (ISO 286-1:2010, table 1; from memory, held by the formula of the standard in a test). */
const TOLERANCES: Readonly<Record<number, readonly number[]>> = {
  4: [3, 4, 4, 5, 6, 7, 8, 10, 12, 14, 16, 18, 20],
  5: [4, 5, 6, 8, 9, 11, 13, 15, 18, 20, 23, 25, 27],
  6: [6, 8, 9, 11, 13, 16, 19, 22, 25, 29, 32, 36, 40],
  7: [10, 12, 15, 18, 21, 25, 30, 35, 40, 46, 52, 57, 63],
  8: [14, 18, 22, 27, 33, 39, 46, 54, 63, 72, 81, 89, 97],
  9: [25, 30, 36, 43, 52, 62, 74, 87, 100, 115, 130, 140, 155],
  10: [40, 48, 58, 70, 84, 100, 120, 140, 160, 185, 210, 230, 250],
  11: [60, 75, 90, 110, 130, 160, 190, 220, 250, 290, 320, 360, 400],
};
/**
 * Fundamental deviations of shafts, μm (ISO 286-1:2010, tables 4 and 5; from memory): upper of d to h, lower of k to p, by
 * steps.
 */
const DEVIATIONS: Readonly<Record<string, readonly number[]>> = {
  d: [-20, -30, -40, -50, -65, -80, -100, -120, -145, -170, -190, -210, -230],
  e: [-14, -20, -25, -32, -40, -50, -60, -72, -85, -100, -110, -125, -135],
  f: [-6, -10, -13, -16, -20, -25, -30, -36, -43, -50, -56, -62, -68],
  g: [-2, -4, -5, -6, -7, -9, -10, -12, -14, -15, -17, -18, -20],
  h: [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0],
  k: [0, 1, 1, 1, 2, 2, 2, 3, 3, 4, 4, 4, 5],
  m: [2, 4, 6, 7, 8, 9, 11, 13, 15, 17, 20, 21, 23],
  n: [4, 8, 10, 12, 15, 17, 20, 23, 27, 31, 34, 37, 40],
  p: [6, 12, 15, 18, 22, 26, 32, 37, 43, 50, 56, 62, 68],
};
/** The same of r to x by finer steps; t begins above 24 mm. */
const FINE_DEVIATIONS: Readonly<Record<string, readonly number[]>> = {
  r: [10, 15, 19, 23, 23, 28, 28, 34, 34, 41, 43, 51, 54, 63, 65, 68, 77, 80, 84, 94, 98, 108, 114, 126, 132],
  s: [14, 19, 23, 28, 28, 35, 35, 43, 43, 53, 59, 71, 79, 92, 100, 108, 122, 130, 140, 158, 170, 190, 208, 232, 252],
  t: [NaN, NaN, NaN, NaN, NaN, NaN, 41, 48, 54, 66, 75, 91, 104, 122, 134, 146, 166, 180, 196, 218, 240, 268, 294, 330, 360],
  u: [18, 23, 28, 33, 33, 41, 48, 60, 70, 87, 102, 124, 144, 170, 190, 210, 236, 258, 284, 315, 350, 390, 435, 490, 540],
  x: [20, 28, 34, 40, 45, 54, 64, 80, 97, 122, 146, 178, 210, 248, 280, 310, 350, 385, 425, 475, 525, 590, 660, 740, 820],
};
/** Deviations of a size from the nominal one, mm. */
export interface SizeLimits {
  readonly lower: number;
  readonly upper: number;
}
const rowOf = (steps: readonly number[], size: number): number => (size > 0 ? steps.findIndex((s) => size <= s) : -1);

/** Standard tolerance of a grade from 4 to 11 at a size up to 500 mm, mm; undefined beyond. */
export function standardTolerance(grade: number, size: number): number | undefined {
  const t = TOLERANCES[grade]?.[rowOf(STEPS, size)];
  return t === undefined ? undefined : t / 1000;
}

/** Limits of a shaft (`s6`): d to h, js, k to x. */
function shaftLimits(letter: string, grade: number, size: number): SizeLimits | undefined {
  const width = standardTolerance(grade, size);
  if (width === undefined) return undefined;
  if (letter === 'js') return { lower: -width / 2, upper: width / 2 };
  const coarse = DEVIATIONS[letter]?.[rowOf(STEPS, size)];
  const deviation = coarse ?? FINE_DEVIATIONS[letter]?.[rowOf(FINE, size)];
  if (deviation === undefined || Number.isNaN(deviation)) return undefined;
  // k of grades coarser than 7 begins at the nominal size.
  const mm = letter === 'k' && grade > 7 ? 0 : deviation / 1000;
  return letter <= 'h' ? { lower: mm - width, upper: mm } : { lower: mm, upper: mm + width };
}

/**
 * Limits of a tolerance class at a nominal size up to 500 mm: shafts `d9` to `x6`, holes `D10` to `H7` and `JS7` (ISO 286-1).
 * Undefined where the class is not in the tables: holes from K on, grades under 4 or over 11, `t` up to 24 mm.
 */
export function sizeLimits(toleranceClass: string, size: number): SizeLimits | undefined {
  const [, letter, grade] = /^([A-Za-z]{1,2})(\d{1,2})$/.exec(toleranceClass) ?? [];
  if (!letter) return undefined;
  const small = letter.toLowerCase();
  if (letter === small) return shaftLimits(small, Number(grade), size);
  if (letter !== letter.toUpperCase() || (small !== 'js' && small > 'h')) return undefined;
  // Holes up to H are shafts turned over.
  const shaft = shaftLimits(small, Number(grade), size);
  return shaft && { lower: 0 - shaft.upper, upper: 0 - shaft.lower };
}

/** A fit, hole first: `H7/s6`. */
export const FIT_PATTERN = /^[A-Z]{1,2}\d{1,2}\/[a-z]{1,2}\d{1,2}$/;

/** Least and greatest interference of a fit in the diameter, mm; below nothing it has play. Undefined outside of the tables. */
export function interferenceOf(fit: string, size: number): { least: number; greatest: number } | undefined {
  if (!FIT_PATTERN.test(fit)) return undefined;
  const [hole, shaft] = fit.split('/').map((c) => sizeLimits(c, size));
  if (!hole || !shaft) return undefined;
  return { least: shaft.lower - hole.upper, greatest: shaft.upper - hole.lower };
}
