import type { RunResult } from './recorder';

/** The recorded instants before and after a time of a run, and how far between them it lies, 0 … 1. Times beyond the ends are at the ends. */
export function framesAround(run: RunResult, time: number): { frame: number; next: number; part: number } {
  const last = run.frames - 1;
  const t = Math.max(run.time[0], Math.min(run.time[last], time));
  const frame = frameBefore(run, t);
  const next = Math.min(last, frame + 1);
  const h = run.time[next] - run.time[frame];
  return { frame, next, part: h > 0 ? (t - run.time[frame]) / h : 0 };
}

function frameBefore({ time, frames }: RunResult, t: number): number {
  let f = 0;
  for (let hi = frames - 1; f < hi;) {
    const mid = (f + hi + 1) >> 1;
    if (time[mid] <= t) f = mid;
    else hi = mid - 1;
  }
  return f;
}

/**
 * Coordinates of a run at any time of it (rad, m), into `out`; between the recorded instants too: by the cubic through places and speeds of both; where something happens between
 * them, on from the instant before it or back from the one after, with their speeds and accelerations, so that a stop is met where it stands. Times beyond the ends give the ends.
 * Allocates nothing.
 */
export function coordinatesAt(run: RunResult, time: number, out: Float64Array): void {
  const { q, v, a: accelerations, events, coordinates: n } = run;
  const last = run.frames - 1;
  const t = Math.max(run.time[0], Math.min(run.time[last], time));
  const f = frameBefore(run, t);
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
