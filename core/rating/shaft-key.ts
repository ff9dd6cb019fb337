/** Parallel keys of DIN 6885-1, high form: up to which shaft diameter; width, height, depth in the shaft. mm, from memory. */
const KEYS: readonly (readonly [upTo: number, width: number, height: number, depth: number])[] = [
  [8, 2, 2, 1.2],
  [10, 3, 3, 1.8],
  [12, 4, 4, 2.5],
  [17, 5, 5, 3],
  [22, 6, 6, 3.5],
  [30, 8, 7, 4],
  [38, 10, 8, 5],
  [44, 12, 8, 5],
  [50, 14, 9, 5.5],
  [58, 16, 10, 6],
  [65, 18, 11, 7],
  [75, 20, 12, 7.5],
  [85, 22, 14, 9],
  [95, 25, 14, 9],
  [110, 28, 16, 10],
  [130, 32, 18, 11],
  [150, 36, 20, 12],
  [170, 40, 22, 13],
  [200, 45, 25, 15],
  [230, 50, 28, 17],
];
const LEAST = 6;

/** Height and depth of the key that DIN 6885-1 has for a shaft; none beyond its diameters. mm */
export function standardKey(d: number): { height: number; depth: number } | undefined {
  const found = d > LEAST ? KEYS.find(([upTo]) => d <= upTo) : undefined;
  return found && { height: found[2], depth: found[3] };
}

/** Of two keys the torque is not shared evenly. DIN 6892, method C */
const SHARED = 0.75;
/** What of the yield strength the flanks of a key bear. DIN 6892, method C */
export const OF_YIELD = 0.9;

/**
 * Pressure on the flanks of parallel keys, MPa: p = 2·T/(d·(h − t1)·l·i·φ). DIN 6892, method C, from memory. T in N·m,
 * lengths in mm.
 */
export const keyPressure = (torque: number, d: number, k: { height: number; depth: number; length: number; count: number }): number =>
  (2e3 * torque) / (d * (k.height - k.depth) * k.length * k.count * (k.count > 1 ? SHARED : 1));
