/** A roller chain of ISO 606, series B: breaking forces of one, two and three strands, N, and mass of one, kg/m. */
interface RollerChain {
  readonly code: string;
  readonly breaks: readonly number[];
  readonly mass: number;
}
/** ISO 606, table of series B, by pitch, mm; from memory. */
const CHAINS: ReadonlyMap<number, RollerChain> = new Map([
  [8, { code: '05B', breaks: [4400, 7800, 11_100], mass: 0.18 }],
  [9.525, { code: '06B', breaks: [8900, 16_900, 24_900], mass: 0.41 }],
  [12.7, { code: '08B', breaks: [17_800, 31_100, 44_500], mass: 0.7 }],
  [15.875, { code: '10B', breaks: [22_200, 44_500, 66_700], mass: 0.95 }],
  [19.05, { code: '12B', breaks: [28_900, 57_800, 86_700], mass: 1.25 }],
  [25.4, { code: '16B', breaks: [60_000, 106_000, 160_000], mass: 2.7 }],
  [31.75, { code: '20B', breaks: [95_000, 170_000, 250_000], mass: 3.6 }],
  [38.1, { code: '24B', breaks: [160_000, 280_000, 425_000], mass: 6.7 }],
  [44.45, { code: '28B', breaks: [200_000, 360_000, 530_000], mass: 8.3 }],
  [50.8, { code: '32B', breaks: [250_000, 450_000, 670_000], mass: 10.5 }],
]);
/** The chain of a pitch, mm; undefined where the series has none. */
export const rollerChain = (pitch: number): RollerChain | undefined => CHAINS.get(Number(pitch.toPrecision(6)));

const INCH = 25.4;
const HORSEPOWER = 745.7;
/** Of chains that are not of the smallest sizes (Shigley, eq. 17-33: Kr = 17 for numbers 40 to 240, 29 for 25 and 35). */
const rollerConstant = (pitch: number): number => (pitch < 12.7 ? 29 : 17);
/** What several strands bear, of one (Shigley, table 17-23; from memory). */
const STRANDS = [1, 1.7, 2.5, 3.3, 3.9, 4.6];

/**
 * Power that a roller chain transmits for 15 000 h, W: the lesser of what its plates and what its rollers and bushes bear, with
 * the small sprocket's teeth and speed, rev/min, and the pitch, mm (American Chain Association, in Shigley, eq. 17-32 and 17-33;
 * from memory): 0.004·z^1.08·n^0.9·p^(3 − 0.07p) and 1000·Kr·z^1.5·p^0.8/n^1.5 hp with p in inches.
 */
export function chainPower(teeth: number, speed: number, pitch: number, strands = 1): { power: number; by: 'plates' | 'rollers' } {
  const p = pitch / INCH;
  const plates = 0.004 * teeth ** 1.08 * speed ** 0.9 * p ** (3 - 0.07 * p);
  const rollers = speed > 0 ? (1000 * rollerConstant(pitch) * teeth ** 1.5 * p ** 0.8) / speed ** 1.5 : Infinity;
  const several = STRANDS[Math.min(strands, STRANDS.length) - 1];
  return { power: Math.min(plates, rollers) * several * HORSEPOWER, by: plates <= rollers ? 'plates' : 'rollers' };
}
