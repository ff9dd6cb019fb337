/**
 * What is stated of a rolling bearing: basic ratings C and C0, N, and whether it rolls on balls or on rollers that take no
 * thrust.
 */
export interface StatedBearing {
  readonly dynamic: number;
  readonly static?: number;
  readonly rolls: 'balls' | 'rollers';
}
/** What it comes to under a load. */
export interface BearingRating {
  /** Equivalent loads, N. */
  readonly load: number;
  readonly staticLoad: number;
  /** Basic rating life L10, millions of turns, and in hours (infinite where it does not turn, or carries nothing). */
  readonly turns: number;
  readonly hours: number;
  /** C that the wanted life needs, N. */
  readonly needed: number;
  /** Static safety C0/P0; nothing where C0 is not stated. */
  readonly staticSafety?: number;
  readonly X: number;
  readonly Y: number;
  readonly e: number;
}

/** Deep-groove ball bearings: f0·Fa/C0, e, Y (ISO 281:2007, table 3; from memory). */
const TABLE: readonly (readonly [load: number, e: number, Y: number])[] = [
  [0.172, 0.19, 2.3],
  [0.345, 0.22, 1.99],
  [0.689, 0.26, 1.71],
  [1.03, 0.28, 1.55],
  [1.38, 0.3, 1.45],
  [2.07, 0.34, 1.31],
  [3.45, 0.38, 1.15],
  [5.17, 0.42, 1.04],
  [6.89, 0.44, 1],
];
/** Calculation factor f0 of usual deep-groove bearings (12 to 16). */
const F0 = 14;
/** Reliability 90 to 99 %: the factor a1 (ISO 281:2007, table 12; from memory). */
export const RELIABILITY: readonly (readonly [percent: number, factor: number])[] = [
  [90, 1],
  [95, 0.64],
  [96, 0.55],
  [97, 0.47],
  [98, 0.37],
  [99, 0.25],
];

/** e and Y at an axial load, between the lines of the table by straight lines. */
export function axialFactors(relative: number): { e: number; Y: number } {
  const x = Math.min(TABLE.at(-1)![0], Math.max(TABLE[0][0], relative));
  const k = Math.max(
    1,
    TABLE.findIndex(([l]) => l >= x),
  );
  const [a, b] = [TABLE[k - 1], TABLE[k]];
  const part = (x - a[0]) / (b[0] - a[0]);
  return { e: a[1] + part * (b[1] - a[1]), Y: a[2] + part * (b[2] - a[2]) };
}

/**
 * Life and static safety of a bearing under radial and axial force, N, at a speed, rev/min, against a wanted life, h (ISO
 * 281:2007, 5 to 8; ISO 76:2006, 5). Undefined with rollers under an axial force, which they do not take.
 */
export function rateBearing(b: StatedBearing, radial: number, axial: number, speed: number, hours: number): BearingRating | undefined {
  const [fr, fa] = [Math.abs(radial), Math.abs(axial)];
  if (b.rolls === 'rollers' && fa > 1e-6 * fr) return undefined;
  // Without C0 the load stands at the heavy end of the table, where thrust counts most beside e.
  const { e, Y } = b.rolls === 'rollers' ? { e: 0, Y: 0 } : axialFactors(b.static === undefined ? 0 : (F0 * fa) / b.static);
  const tilted = b.rolls === 'balls' && fa > e * fr;
  const [X, Yn] = tilted ? [0.56, Y] : [1, 0];
  const load = X * fr + Yn * fa;
  const staticLoad = b.rolls === 'rollers' ? fr : Math.max(fr, 0.6 * fr + 0.5 * fa);
  const exponent = b.rolls === 'balls' ? 3 : 10 / 3;
  const turns = load > 0 ? (b.dynamic / load) ** exponent : Infinity;
  const perHour = 60 * Math.abs(speed);
  return {
    load,
    staticLoad,
    turns,
    hours: perHour > 0 ? (turns * 1e6) / perHour : Infinity,
    needed: load * ((perHour * hours) / 1e6) ** (1 / exponent),
    ...(b.static === undefined ? {} : { staticSafety: staticLoad > 0 ? b.static / staticLoad : Infinity }),
    X,
    Y: Yn,
    e,
  };
}
