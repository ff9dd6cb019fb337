import type { RunResult } from './recorder';

/**
 * Coordinates of a run at any time of it (rad, m), between the recorded instants too: by the cubic through places and speeds of both; where something happens between them, on
 * from the instant before it or back from the one after, with their speeds and accelerations, so that a stop is met where it stands. Times beyond the ends give the ends.
 */
export function coordinatesAt(run: RunResult, time: number): (coordinate: number) => number {
  const last = run.frames - 1;
  const t = Math.max(run.time[0], Math.min(run.time[last], time));
  let f = 0;
  for (let hi = last; f < hi;) {
    const mid = (f + hi + 1) >> 1;
    if (run.time[mid] <= t) f = mid;
    else hi = mid - 1;
  }
  const n = run.coordinates,
    a = f * n,
    next = Math.min(last, f + 1);
  const h = run.time[next] - run.time[f];
  if (next === f || h <= 0 || t === run.time[f]) return (i) => run.q[a + i];
  const b = next * n;
  const on = t - run.time[f],
    back = t - run.time[next];
  const event = run.events.find((e) => e.time > run.time[f] && e.time < run.time[next]);
  if (event) {
    const [from, by] = t <= event.time ? [a, on] : [b, back];
    return (i) => run.q[from + i] + by * (run.v[from + i] + (by * run.a[from + i]) / 2);
  }
  const s = on / h;
  const [h00, h10, h01, h11] = [(1 + 2 * s) * (1 - s) ** 2, s * (1 - s) ** 2, s * s * (3 - 2 * s), s * s * (s - 1)];
  return (i) => h00 * run.q[a + i] + h10 * h * run.v[a + i] + h01 * run.q[b + i] + h11 * h * run.v[b + i];
}
