import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';

/** A motion in time from where the run begins: place, speed and acceleration at time t (s). SI: rad or m. */
export type MotionProfile = (t: number, out: Float64Array) => void;

/** Share of the way at progress u (0 … 1), with its derivatives: a trapezoid of speed in thirds, an S-shaped one (even jerk), or half a cosine. */
export function wayShare(shape: string, u: number): [number, number, number] {
  if (u < 0) return [0, 0, 0];
  if (u >= 1) return [1, 0, 0];
  if (shape === 'harmonic') {
    return [(1 - Math.cos(Math.PI * u)) / 2, (Math.PI / 2) * Math.sin(Math.PI * u), (Math.PI ** 2 / 2) * Math.cos(Math.PI * u)];
  }
  if (u > 0.5) {
    const [s, v, a] = wayShare(shape, 1 - u);
    return [1 - s, v, -a];
  }
  const third = 1 / 3;
  if (shape === 'S-shaped') {
    // Acceleration rises evenly to its peak at a sixth and falls to nothing at a third; the middle third runs at 1.5.
    const peak = 9;
    if (u < third / 2) return [(peak / (third / 2)) * (u ** 3 / 6), ((peak / (third / 2)) * u * u) / 2, (peak / (third / 2)) * u];
    if (u < third) {
      const r = third - u,
        k = peak / (third / 2);
      return [0.25 - 1.5 * r + (k * r ** 3) / 6, 1.5 - (k * r * r) / 2, k * r];
    }
    return [0.25 + 1.5 * (u - third), 1.5, 0];
  }
  if (u < third) return [2.25 * u * u, 4.5 * u, 4.5];
  return [0.25 + 1.5 * (u - third), 1.5, 0];
}

const rising = (rows: readonly { time: number }[]): boolean => rows.every((r, i) => i === 0 || r.time > rows[i - 1].time);

/** What is wrong with a source's motion profile, or undefined. */
export function profileProblem(source: DrivingSource): { field: string; message: string } | undefined {
  const kind = source.profile ?? 'constant speed';
  if (kind === 'part turn' || kind === 'to and fro') {
    return source.amount === undefined ? { field: 'amount', message: 'state by how much it goes' } : undefined;
  }
  if (kind !== 'ramps' && kind !== 'table') return undefined;
  const rows = source[kind] ?? [];
  if (rows.length < 2) return { field: kind, message: 'a table of motion needs at least two rows' };
  return rising(rows) ? undefined : { field: kind, message: 'the times of the table must rise from row to row' };
}

/** Second derivatives of the natural cubic spline through points (Press et al., Numerical Recipes, sec. 3.3). */
function natural(x: readonly number[], y: readonly number[]): Float64Array {
  const n = x.length,
    m = new Float64Array(n),
    u = new Float64Array(n);
  for (let i = 1; i < n - 1; i++) {
    const sig = (x[i] - x[i - 1]) / (x[i + 1] - x[i - 1]),
      p = sig * m[i - 1] + 2;
    m[i] = (sig - 1) / p;
    const d = (y[i + 1] - y[i]) / (x[i + 1] - x[i]) - (y[i] - y[i - 1]) / (x[i] - x[i - 1]);
    u[i] = ((6 * d) / (x[i + 1] - x[i - 1]) - sig * u[i - 1]) / p;
  }
  for (let i = n - 2; i >= 0; i--) m[i] = i === 0 ? 0 : m[i] * m[i + 1] + u[i];
  return m;
}

/**
 * The motion of a source in time. `turning` says what its joint does; documents state rev/min and deg, or mm/s and mm. A profile that is
 * incomplete stands still.
 */
export function motionProfile(source: DrivingSource, turning: boolean): MotionProfile {
  const place = turning ? Math.PI / 180 : 1e-3,
    speed = turning ? Math.PI / 30 : 1e-3;
  const kind = source.profile ?? 'constant speed';
  const still: MotionProfile = (_t, out) => void out.fill(0, 0, 3);
  if (profileProblem(source)) return still;
  if (kind === 'constant speed') {
    const v = (source.speed ?? 0) * speed;
    return (t, out) => {
      out[0] = v * t;
      out[1] = v;
      out[2] = 0;
    };
  }
  if (kind === 'part turn' || kind === 'to and fro') {
    const way = num(source.amount) * place,
      T = source.time ?? 1,
      shape = source.speedShape ?? 'trapezoid';
    const there = kind === 'part turn' ? T : T / 2;
    return (t, out) => {
      const k = kind === 'part turn' ? 0 : Math.floor(t / T);
      const u = (t - k * T) / there;
      const back = kind === 'to and fro' && u > 1;
      const [s, v, a] = wayShare(shape, back ? u - 1 : u);
      out[0] = way * (back ? 1 - s : s);
      out[1] = (way * (back ? -v : v)) / there;
      out[2] = (way * (back ? -a : a)) / (there * there);
    };
  }
  if (kind === 'ramps') {
    const rows = source.ramps ?? [];
    const x = rows.map((r) => r.time);
    const v = rows.map((r) => r.speed * speed);
    const sum = new Float64Array(x.length);
    for (let i = 1; i < x.length; i++) sum[i] = sum[i - 1] + ((v[i] + v[i - 1]) / 2) * (x[i] - x[i - 1]);
    return (t, out) => {
      const last = x.length - 1;
      if (t < x[0] || t >= x[last]) {
        const k = t < x[0] ? 0 : last;
        out[0] = sum[k] + v[k] * (t - x[k]);
        out[1] = v[k];
        out[2] = 0;
        return;
      }
      let k = 0;
      while (x[k + 1] < t) k++;
      const a = (v[k + 1] - v[k]) / (x[k + 1] - x[k]),
        d = t - x[k];
      out[0] = sum[k] + v[k] * d + (a * d * d) / 2;
      out[1] = v[k] + a * d;
      out[2] = a;
    };
  }
  const rows = source.table ?? [];
  const x = rows.map((r) => r.time);
  const y = rows.map((r) => r.value * place);
  const m = natural(x, y);
  return (t, out) => {
    const last = x.length - 1;
    if (t < x[0] || t >= x[last]) {
      out[0] = t < x[0] ? y[0] : y[last];
      out[1] = out[2] = 0;
      return;
    }
    let k = 0;
    while (x[k + 1] < t) k++;
    const h = x[k + 1] - x[k],
      a = (x[k + 1] - t) / h,
      b = (t - x[k]) / h;
    out[0] = a * y[k] + b * y[k + 1] + (((a ** 3 - a) * m[k] + (b ** 3 - b) * m[k + 1]) * h * h) / 6;
    out[1] = (y[k + 1] - y[k]) / h + ((-(3 * a * a - 1) * m[k] + (3 * b * b - 1) * m[k + 1]) * h) / 6;
    out[2] = a * m[k] + b * m[k + 1];
  };
}
