import { lastUpTo } from '../math/index';
import type { RunResult } from './recorder';

/** Instants as a run records them, or an instrument. */
export interface Instants {
  readonly time: ArrayLike<number>;
  readonly frames: number;
}

/**
 * The recorded instants before and after a time, and how far between
 * them it lies, 0 … 1. Times beyond the ends are at the ends.
 */
export function framesAround({ time, frames }: Instants, at: number): { frame: number; next: number; part: number } {
  const last = frames - 1;
  const t = Math.max(time[0], Math.min(time[last], at));
  const frame = lastUpTo(time, t, last);
  const next = Math.min(last, frame + 1);
  const h = time[next] - time[frame];
  return { frame, next, part: h > 0 ? (t - time[frame]) / h : 0 };
}

/**
 * The first and the last instant that a stretch of time needs: those
 * within it, and one beyond either end. The whole where none is stated.
 */
export function framesWithin(of: Instants, stretch?: readonly [number, number]): [number, number] {
  if (!stretch) return [0, of.frames - 1];
  const from = framesAround(of, stretch[0]).frame,
    to = framesAround(of, stretch[1]);
  return [from, to.part > 0 ? to.next : to.frame];
}

/**
 * Coordinates of a run at any time of it (rad, m), into `out`; between the recorded instants
 * too: by the cubic through places and speeds of both; where something happens between them, on
 * from the instant before it or back from the one after, with their speeds and accelerations, so
 * that a stop is met where it stands. Times beyond the ends give the ends. Allocates nothing.
 */
export function coordinatesAt(run: RunResult, time: number, out: Float64Array): void {
  const { q, v, a: accelerations, events, coordinates: n } = run;
  const last = run.frames - 1;
  const t = Math.max(run.time[0], Math.min(run.time[last], time));
  const f = lastUpTo(run.time, t, last);
  const next = Math.min(last, f + 1);
  const a = f * n,
    b = next * n;
  const before = run.time[f],
    after = run.time[next];
  const h = after - before;
  if (h <= 0 || t === before) {
    for (let i = 0; i < n; i++) out[i] = q[a + i];
    return;
  }
  // The first thing that happens between the two.
  let happens = Infinity;
  for (let k = 0; k < events.length && happens === Infinity; k++) if (events[k].time > before && events[k].time < after) happens = events[k].time;
  if (happens < Infinity) {
    const from = t <= happens ? a : b,
      by = t <= happens ? t - before : t - after;
    for (let i = 0; i < n; i++) out[i] = q[from + i] + by * (v[from + i] + (by * accelerations[from + i]) / 2);
    return;
  }
  const s = (t - before) / h;
  const h00 = (1 + 2 * s) * (1 - s) ** 2,
    h10 = s * (1 - s) ** 2 * h,
    h01 = s * s * (3 - 2 * s),
    h11 = s * s * (s - 1) * h;
  for (let i = 0; i < n; i++) out[i] = h00 * q[a + i] + h10 * v[a + i] + h01 * q[b + i] + h11 * v[b + i];
}
