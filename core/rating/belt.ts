/** A toothed belt of ISO 5296, whose limits ISO 5295 gives: of a base width, mm, tension, N, and mass, kg/m. */
interface ToothedBelt {
  readonly code: string;
  readonly width: number;
  readonly tension: number;
  readonly mass: number;
}
/** ISO 5295:1987, table of permissible working tensions and masses, by pitch, mm; from memory. */
const TOOTHED: ReadonlyMap<number, ToothedBelt> = new Map([
  [2.032, { code: 'MXL', width: 6.4, tension: 27, mass: 0.007 }],
  [3.175, { code: 'XXL', width: 6.4, tension: 31, mass: 0.01 }],
  [5.08, { code: 'XL', width: 9.5, tension: 50.17, mass: 0.022 }],
  [9.525, { code: 'L', width: 25.4, tension: 244.46, mass: 0.095 }],
  [12.7, { code: 'H', width: 76.2, tension: 2100.85, mass: 0.448 }],
  [22.225, { code: 'XH', width: 101.6, tension: 4048.9, mass: 1.484 }],
  [31.75, { code: 'XXH', width: 127, tension: 6398.03, mass: 2.473 }],
]);
/** The toothed belt of a pitch, mm; undefined where the standard has none. */
export const toothedBelt = (pitch: number): ToothedBelt | undefined => TOOTHED.get(Number(pitch.toPrecision(6)));

/** Teeth in mesh from which on a toothed belt bears all that it is rated for. */
const ENOUGH = 6;
/** Factor of teeth in mesh kz (ISO 5295: 1 from six on, 0.2 less for each that lacks). */
export const meshFactor = (teeth: number): number => (teeth >= ENOUGH ? 1 : Math.max(0, 1 - 0.2 * (ENOUGH - teeth)));
/** Factor of width kw = (b/b0)^1.14 (ISO 5295). */
export const widthFactor = (width: number, base: number): number => (width / base) ** 1.14;
/** What a toothed belt of a width, mm, bears in a strand with so many teeth in mesh, N, and its mass, kg/m (ISO 5295). */
export const toothedLimit = (b: ToothedBelt, width: number, teeth: number): { force: number; mass: number } => ({
  force: meshFactor(teeth) * widthFactor(width, b.width) * b.tension,
  mass: (b.mass * width) / b.width,
});

/** Pull of a band's own mass at speed, N: kg/m, m/s. */
export const centrifugalPull = (mass: number, speed: number): number => mass * speed * speed;

/**
 * Part of its rated power that a V-belt transmits with a wrap, deg (Shigley, table 17-13, curve fit of the footnote; from
 * memory).
 */
export const wrapFactor = (wrap: number): number => 0.143_543 + 0.007_468 * wrap - 0.000_015_052 * wrap * wrap;

/**
 * How many times the load of a wheel may grow before the band slips there: strands of tensions a and b, N, their mean by the
 * pre-tension, and the greatest ratio before slip (Euler–Eytelwein). The pull of the band's mass is not in them. Infinite where
 * it transmits nothing, or teeth hold it.
 */
export function slipReserve(a: number, b: number, mean: number, limit: number): number {
  if (limit === Infinity) return Infinity;
  const [high, low] = [Math.max(a, b) - mean, Math.min(a, b) - mean];
  const grows = high - limit * low;
  return grows > 1e-9 * mean ? (mean * (limit - 1)) / grows : Infinity;
}
