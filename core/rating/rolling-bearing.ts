/**
 * What is stated of a rolling bearing: basic ratings C and C0, N, and whether it rolls on balls or on rollers that take no
 * thrust.
 */
export interface StatedBearing {
  readonly dynamic: number;
  readonly static?: number;
  readonly rolls: 'balls' | 'rollers';
}
/** What it comes to under one load: equivalent loads, N, and the factors by which they were found. */
export interface EquivalentLoad {
  readonly load: number;
  readonly staticLoad: number;
  readonly X: number;
  readonly Y: number;
  readonly e: number;
}
/** Forces on a bearing for a part of the time, N, and its speed, rev/min. */
export interface BearingStep {
  readonly part: number;
  readonly radial: number;
  readonly axial: number;
  readonly speed: number;
}
/** What it comes to under loads that follow each other. */
export interface SpectrumRating {
  /** Mean equivalent load over the turns, and the largest static one, N. */
  readonly load: number;
  readonly staticLoad: number;
  /** Mean speed, rev/min. */
  readonly speed: number;
  /** Basic rating life L10 in millions of turns, and in hours (infinite where it does not turn, or carries nothing). */
  readonly turns: number;
  readonly hours: number;
  /** C that the wanted life needs, N. */
  readonly needed: number;
  /** The step with the largest equivalent load, what it comes to there, and the one with the largest static load. */
  readonly worst: number;
  readonly at: EquivalentLoad;
  readonly worstStatic: number;
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
 * Equivalent loads of a bearing under radial and axial force, N (ISO 281:2007, 5 to 8; ISO 76:2006, 5). Undefined with rollers
 * under an axial force, which they do not take.
 */
export function equivalentLoad(b: StatedBearing, radial: number, axial: number): EquivalentLoad | undefined {
  const [fr, fa] = [Math.abs(radial), Math.abs(axial)];
  if (b.rolls === 'rollers') return fa > 1e-6 * fr ? undefined : { load: fr, staticLoad: fr, X: 1, Y: 0, e: 0 };
  // Without C0 the light end of the table holds: the least e and the largest Y, which is the least favourable.
  const { e, Y } = axialFactors(b.static === undefined ? 0 : (F0 * fa) / b.static);
  const [X, Yn] = fa > e * fr ? [0.56, Y] : [1, 0];
  return { load: X * fr + Yn * fa, staticLoad: Math.max(fr, 0.6 * fr + 0.5 * fa), X, Y: Yn, e };
}

/**
 * Life of a bearing under loads that follow each other, against a wanted life, h: by the mean equivalent load over its turns
 * (ISO 281:2007, 5, with the linear damage rule that it implies). Undefined where it does not take one of the loads.
 */
export function rateSpectrum(b: StatedBearing, steps: readonly BearingStep[], hours: number): SpectrumRating | undefined {
  const p = b.rolls === 'balls' ? 3 : 10 / 3;
  const all: EquivalentLoad[] = [];
  for (const s of steps) {
    const one = equivalentLoad(b, s.radial, s.axial);
    if (!one) return undefined;
    all.push(one);
  }
  const largest = (of: (e: EquivalentLoad) => number): number => all.reduce((most, e, k) => (of(e) > of(all[most]) ? k : most), 0);
  const speed = steps.reduce((n, s) => n + s.part * Math.abs(s.speed), 0);
  const worst = largest((e) => e.load);
  // In parts of the largest, so that no power of a large load is beyond numbers.
  const scale = all[worst].load;
  const worn = steps.reduce((sum, s, k) => sum + s.part * Math.abs(s.speed) * (scale > 0 ? all[k].load / scale : 0) ** p, 0);
  const load = speed > 0 ? scale * (worn / speed) ** (1 / p) : scale;
  const turns = load > 0 ? (b.dynamic / load) ** p : Infinity;
  const perHour = 60 * speed;
  const worstStatic = largest((e) => e.staticLoad);
  return {
    load,
    staticLoad: all[worstStatic].staticLoad,
    speed,
    turns,
    hours: perHour > 0 ? (turns * 1e6) / perHour : Infinity,
    needed: load * ((perHour * hours) / 1e6) ** (1 / p),
    worst,
    at: all[worst],
    worstStatic,
  };
}

/** What the modified rating life asks for beside the loads. Sizes mm, viscosity in operation mm²/s. */
export interface Lubrication {
  readonly pitchDiameter: number;
  readonly viscosity: number;
  readonly contamination: number;
  /** Fatigue load limit Cu, N. */
  readonly fatigueLimit: number;
}
/** Viscosity ratios between which the standard's lines hold; above the most it counts as that. */
const LEAST_KAPPA = 0.1,
  MOST_KAPPA = 4;
/** The factor is no more than this (ISO 281:2007, 9.3.3). */
const MOST_FACTOR = 50;
/** Reference viscosity ν1, mm²/s, by pitch diameter, mm, and speed, rev/min (ISO 281:2007, eq. 30 and 31). */
export const referenceViscosity = (pitchDiameter: number, speed: number): number =>
  (speed < 1000 ? 45_000 * speed ** -0.83 : 4500 * speed ** -0.5) / Math.sqrt(pitchDiameter);

/**
 * Life modification factor aISO of radial ball and roller bearings for a load, N, and a viscosity ratio κ (ISO 281:2007, eq.
 * 34 to 36
 * and 41 to 43; from memory). Throws RangeError below κ = 0.1, where the standard has none.
 */
export function lifeFactor(rolls: StatedBearing['rolls'], kappa: number, load: number, { contamination, fatigueLimit }: Lubrication): number {
  if (kappa < LEAST_KAPPA) throw new RangeError(`its oil is too thin for ISO 281: κ is ${kappa.toPrecision(2)}, below ${LEAST_KAPPA}`);
  const k = Math.min(MOST_KAPPA, kappa);
  const line = k < 0.4 ? 0 : k < 1 ? 1 : 2;
  const balls = [2.2649 / k ** 0.054381, 1.9987 / k ** 0.19087, 1.9987 / k ** 0.071739][line];
  const rollers = [1.3993 / k ** 0.054381, 1.2348 / k ** 0.19087, 1.2348 / k ** 0.071739][line];
  const relative = load > 0 ? (contamination * fatigueLimit) / load : Infinity;
  const inside = rolls === 'balls' ? 1 - (2.5671 - balls) ** 0.83 * Math.cbrt(relative) : 1 - (1.5859 - rollers) * relative ** 0.4;
  if (inside <= 0) return MOST_FACTOR;
  return Math.min(MOST_FACTOR, 0.1 * inside ** (rolls === 'balls' ? -9.3 : -9.185));
}
