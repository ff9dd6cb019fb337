/** Beyond so many times what nearly all values stay within, a peak would leave nothing else to be seen: it is cut. */
const TOO_FAR = 50;
/** Part of the values that the range is taken from then, and how much room it has besides. */
const NEARLY_ALL = 0.98;
const ROOM = 2.5;
/** Fewer values than these have no peak. */
const ENOUGH = 12;

/**
 * Least and greatest value that a chart shows between two places, zero included: all of them, but for peaks without bound (near a
 * dead centre), which would make a line on the axis of the rest. A peak that lasts longer than a fiftieth of the time is shown.
 */
export function rangeOf(curves: readonly { xs: ArrayLike<number>; ys: ArrayLike<number> }[], from: number, to: number): [number, number] {
  let [lo, hi] = [0, 0];
  const sizes: number[] = [];
  for (const { xs, ys } of curves) {
    for (let i = 0; i < ys.length; i++) {
      if (xs[i] < from || xs[i] > to || Number.isNaN(ys[i])) continue;
      lo = Math.min(lo, ys[i]);
      hi = Math.max(hi, ys[i]);
      sizes.push(Math.abs(ys[i]));
    }
  }
  if (sizes.length < ENOUGH) return [Math.max(lo, -Number.MAX_VALUE), Math.min(hi, Number.MAX_VALUE)];
  sizes.sort((a, b) => a - b);
  const most = sizes[Math.floor(NEARLY_ALL * (sizes.length - 1))];
  const far = TOO_FAR * most;
  if (!(most > 0) || Math.max(hi, -lo) <= far) return [lo, hi];
  return [lo < -far ? -ROOM * most : lo, hi > far ? ROOM * most : hi];
}
