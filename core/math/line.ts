/** The last index, up to `most`, whose place is not beyond `x`; the first where all are. Places rise. */
export function lastUpTo(places: ArrayLike<number>, x: number, most: number): number {
  let lo = 0,
    hi = Math.max(0, most);
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1;
    if (places[mid] <= x) lo = mid;
    else hi = mid - 1;
  }
  return lo;
}

/**
 * The value at `x` of the straight lines through points whose places rise; at
 * a place that stands twice, that behind the jump. Beyond the ends, the ends.
 */
export function lineAt(places: ArrayLike<number>, values: ArrayLike<number>, x: number): number {
  const i = lastUpTo(places, x, places.length - 2);
  const h = places[i + 1] - places[i];
  return h > 0 ? values[i] + (values[i + 1] - values[i]) * Math.min(1, Math.max(0, (x - places[i]) / h)) : (values[i] ?? 0);
}
