import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import type { PoseState } from '../kinematics/index';

/**
 * A motion in time from where the run begins: place, speed and acceleration at time t (s). SI:
 * rad or m. Says why it cannot be given where it follows from a train that does not reach it.
 */
export type MotionProfile = (t: number, out: Float64Array) => PoseState | void;

/**
 * Share of the way at progress u (0 … 1), with its derivatives: a trapezoid of speed in
 * thirds, an S-shaped one (even jerk), half a cosine, or the polynomial 10u³ − 15u⁴ + 6u⁵,
 * whose acceleration begins and ends with nothing (VDI 2143 calls it 3-4-5; from memory).
 */
export function wayShare(shape: string, u: number): [number, number, number] {
  if (u < 0) return [0, 0, 0];
  if (u >= 1) return [1, 0, 0];
  if (shape === 'harmonic') {
    return [(1 - Math.cos(Math.PI * u)) / 2, (Math.PI / 2) * Math.sin(Math.PI * u), (Math.PI ** 2 / 2) * Math.cos(Math.PI * u)];
  }
  if (shape === 'polynomial 3-4-5') {
    return [u ** 3 * (10 - 15 * u + 6 * u * u), 30 * u * u * (1 - u) ** 2, 60 * u * (1 - u) * (1 - 2 * u)];
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

/** Greatest speed and acceleration of the shapes, of the way over its time and over the square of it. */
const PEAKS: Readonly<Record<string, readonly [speed: number, acceleration: number]>> = {
  trapezoid: [1.5, 4.5],
  'S-shaped': [1.5, 9],
  harmonic: [Math.PI / 2, Math.PI ** 2 / 2],
  'polynomial 3-4-5': [1.875, 10 / Math.sqrt(3)],
};

/** A way from 0 to `way` in `time`. */
export interface Move {
  time: number;
  at(t: number, out: Float64Array): void;
}

const standing = (time: number): Move => ({ time, at: (_t, out) => void out.fill(0, 0, 3) });

/** A way of a shape in a time. */
function shapedMove(way: number, time: number, shape: string): Move {
  return {
    time,
    at(t, out) {
      const [s, v, a] = wayShare(shape, t / time);
      out[0] = way * s;
      out[1] = (way * v) / time;
      out[2] = (way * a) / (time * time);
    },
  };
}

/**
 * The quickest way within a speed, an acceleration and, where stated, a jerk: acceleration in a trapezoid
 * (even without a jerk), a stretch at full speed where there is room for it, and the same back. All above
 * zero; m and s, or rad. By integration of the phases; the lengths are common practice in motion control.
 */
export function limitedMove(way: number, speed: number, acceleration: number, jerk = Infinity): Move {
  const D = Math.abs(way);
  if (D === 0) return standing(0);
  const most = Math.min(acceleration, Math.sqrt(speed * jerk));
  // Time in which the acceleration rises, and how far the way up to a speed is: v/2 times its duration.
  const rise = (a: number): number => (jerk === Infinity ? 0 : a / jerk);
  let v = speed,
    a = most;
  if (v * (v / a + rise(a)) > D) {
    // No room for full speed: the two ramps meet.
    const r = rise(acceleration) * acceleration;
    v = (-r + Math.sqrt(r * r + 4 * acceleration * D)) / 2;
    a = acceleration;
    if (v < a * rise(a)) {
      v = Math.cbrt((D * D * jerk) / 4);
      a = Math.sqrt(v * jerk);
    }
  }
  const tj = rise(a),
    ta = Math.max(0, v / a - tj),
    tv = Math.max(0, D / v - (2 * tj + ta));
  // Phases by their time and jerk; without a jerk the acceleration jumps.
  const j = tj > 0 ? a / tj : 0;
  const phases: readonly (readonly [time: number, jerk: number, starts: number])[] = [
    [tj, j, 0],
    [ta, 0, a],
    [tj, -j, a],
    [tv, 0, 0],
    [tj, -j, 0],
    [ta, 0, -a],
    [tj, j, -a],
  ];
  const from = [0],
    states: [number, number][] = [[0, 0]];
  for (const [n, [T, k, start]] of phases.entries()) {
    const [s0, v0] = states[n];
    states.push([s0 + v0 * T + (start * T * T) / 2 + (k * T ** 3) / 6, v0 + start * T + (k * T * T) / 2]);
    from.push(from[n] + T);
  }
  const time = from[phases.length],
    sign = Math.sign(way);
  return {
    time,
    at(t, out) {
      if (t <= 0 || t >= time) {
        out[0] = t <= 0 ? 0 : way;
        out[1] = out[2] = 0;
        return;
      }
      let n = 0;
      while (n < phases.length - 1 && t >= from[n + 1]) n++;
      const [, k, start] = phases[n],
        d = t - from[n],
        [s0, v0] = states[n];
      out[0] = sign * (s0 + v0 * d + (start * d * d) / 2 + (k * d ** 3) / 6);
      out[1] = sign * (v0 + start * d + (k * d * d) / 2);
      out[2] = sign * (start + k * d);
    },
  };
}

const isWay = (kind: string): boolean => kind === 'part turn' || kind === 'to and fro';

/** What is wrong with a source's motion profile, or undefined. */
export function profileProblem(source: DrivingSource): { field: string; message: string } | undefined {
  const kind = source.profile ?? 'constant speed';
  if (isWay(kind)) {
    if (source.amount === undefined) return { field: 'amount', message: 'state the distance or angle' };
    const timing = source.timing ?? 'time';
    if (timing.includes('speed') && !source.topSpeed) return { field: 'topSpeed', message: 'state the maximum speed' };
    if (timing.includes('acceleration') && !source.topAcceleration) return { field: 'topAcceleration', message: 'state the maximum acceleration' };
    const jerky = timing === 'speed and acceleration' && source.speedShape === 'S-shaped';
    return jerky && !source.jerk ? { field: 'jerk', message: 'state the jerk' } : undefined;
  }
  if (kind !== 'ramps' && kind !== 'table') return undefined;
  const rows = source[kind] ?? [];
  if (rows.length < 2) return { field: kind, message: 'a table of motion needs at least two rows' };
  return rising(rows) ? undefined : { field: kind, message: 'the times of the table must rise from row to row' };
}

/** The way of a part turn, or of to and fro in one sense, as it is stated: by its time, or as quick as its limits let it. */
function moveOf(source: DrivingSource, turning: boolean): Move {
  const place = turning ? Math.PI / 180 : 1e-3,
    speed = (turning ? Math.PI / 30 : 1e-3) * num(source.topSpeed),
    acceleration = (turning ? 1 : 1e-3) * num(source.topAcceleration);
  const way = num(source.amount) * place,
    shape = source.speedShape ?? 'trapezoid',
    timing = source.timing ?? 'time';
  const [peakSpeed, peakAcceleration] = PEAKS[shape];
  const D = Math.abs(way);
  if (timing === 'time') return shapedMove(way, (source.time ?? 1) * (source.profile === 'to and fro' ? 0.5 : 1), shape);
  if (D === 0) return standing(0);
  if (timing === 'speed') return shapedMove(way, (peakSpeed * D) / speed, shape);
  if (timing === 'acceleration') return shapedMove(way, Math.sqrt((peakAcceleration * D) / acceleration), shape);
  if (shape === 'trapezoid') return limitedMove(way, speed, acceleration);
  if (shape === 'S-shaped') return limitedMove(way, speed, acceleration, (turning ? 1 : 1e-3) * num(source.jerk));
  // The slower of the two keeps both.
  return shapedMove(way, Math.max((peakSpeed * D) / speed, Math.sqrt((peakAcceleration * D) / acceleration)), shape);
}

/** How long a source's profile goes on before it stands or begins again, s; undefined where it goes on at one speed. */
export function profileLength(source: DrivingSource, turning: boolean): number | undefined {
  if (profileProblem(source)) return undefined;
  const kind = source.profile ?? 'constant speed';
  if (isWay(kind)) return (kind === 'to and fro' ? 2 : 1) * (moveOf(source, turning).time + num(source.dwell)) * Math.max(1, num(source.repeats));
  return kind === 'ramps' || kind === 'table' ? source[kind]!.at(-1)!.time : undefined;
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

/** A way, with the time at rest behind it, again and again: on and on for part turns, there and back for to and fro. */
function repeated(source: DrivingSource, turning: boolean): MotionProfile {
  const move = moveOf(source, turning);
  const back = source.profile === 'to and fro';
  const one = move.time + num(source.dwell);
  const cycle = back ? 2 * one : one;
  const end = new Float64Array(3);
  move.at(move.time, end);
  const [way] = end;
  // Without a number a part turn is done once, to and fro without end.
  const times = num(source.repeats, back ? Infinity : 1);
  return (t, out) => {
    const k = cycle > 0 ? Math.max(0, Math.min(times - 1, Math.floor(t / cycle))) : 0;
    const d = t - k * cycle;
    const returns = back && d > one;
    move.at(returns ? d - one : d, out);
    if (returns) {
      out[0] = way - out[0];
      out[1] = -out[1];
      out[2] = -out[2];
    } else if (!back) out[0] += k * way;
  };
}

/**
 * The motion of a source in time. `turning` says what its joint does; documents
 * state rev/min and deg, or mm/s and mm. A profile that is incomplete stands still.
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
  if (isWay(kind)) return repeated(source, turning);
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
