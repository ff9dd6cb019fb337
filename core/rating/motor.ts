import type { DrivingSource } from '../document/kinds';

/** What a motor gives for a part of the time. */
export interface MotorStep {
  readonly part: number;
  /** N·m or N, and rev/min or mm/s. */
  readonly load: number;
  readonly speed: number;
}
/** Greatest torque at a speed, between the rows of a torque line over rising speeds, N·m or N; nothing above the last speed. */
export function limitAt(rows: readonly { readonly speed: number; readonly torque: number }[], speed: number): number {
  const next = rows.findIndex((r) => r.speed >= speed);
  if (next < 0) return 0;
  const { speed: n, torque } = rows[next];
  if (next === 0 || n === speed) return torque;
  const before = rows[next - 1];
  return before.torque + ((torque - before.torque) * (speed - before.speed)) / (n - before.speed);
}
/** Rows of a torque limit over speed, in the order that they need. */
export const risesIn = (rows: readonly { readonly speed: number }[]): boolean => rows.every((r, k) => k === 0 || r.speed > rows[k - 1].speed);
/** The most that a source can give at a speed, N·m or N, by its stated limits; undefined where it states none. */
export function limitOf({ mostTorque, torqueLimits }: Pick<DrivingSource, 'mostTorque' | 'torqueLimits'>, speed: number): number | undefined {
  const over = torqueLimits?.length ? limitAt(torqueLimits, Math.abs(speed)) : undefined;
  return mostTorque === undefined ? over : Math.min(mostTorque, over ?? Infinity);
}
/** How often a cycle that repeats starts from rest; what is slower than `still` rests. */
export const startsIn = (steps: readonly MotorStep[], still: number): number =>
  steps.filter((s, k) => Math.abs(s.speed) > still && Math.abs(steps[(k + steps.length - 1) % steps.length].speed) <= still).length;
/** Root of the mean square of the torque over a cycle: by what a motor warms. */
export const rootMeanSquare = (steps: readonly MotorStep[]): number => Math.sqrt(steps.reduce((s, x) => s + x.part * x.load * x.load, 0));

/**
 * Torque that would warm a motor, held without end, as much as its cycle does at its warmest, where the cycle repeats: losses go
 * by the square of the torque, and the warming follows them with one time constant (first-order thermal model, IEC 60034-1 duty
 * types S1 to S8; any text on drives). `lasts`: the cycle's length, s. A short cycle comes to the root mean square, a long one to
 * the peak.
 */
export function warmestTorque(steps: readonly MotorStep[], lasts: number, constant: number): number {
  // Over one cycle θ goes to a·θ + b; where it repeats, θ = b/(1 − a) at its start.
  let [a, b] = [1, 0];
  for (const s of steps) {
    const stays = Math.exp((-s.part * lasts) / constant);
    [a, b] = [a * stays, b * stays + s.load * s.load * (1 - stays)];
  }
  let now = a < 1 ? b / (1 - a) : rootMeanSquare(steps) ** 2;
  let most = now;
  for (const s of steps) {
    const stays = Math.exp((-s.part * lasts) / constant);
    now = now * stays + s.load * s.load * (1 - stays);
    most = Math.max(most, now);
  }
  return Math.sqrt(most);
}

/**
 * Work that a source gives and that it takes back in a cycle, J: power by its torque and speed (SI: N·m with rad/s, N with
 * m/s).
 */
export function energyOf(steps: readonly MotorStep[], lasts: number, toSi: number): { given: number; taken: number } {
  let [given, taken] = [0, 0];
  for (const s of steps) {
    const work = s.load * s.speed * toSi * s.part * lasts;
    if (work >= 0) given += work;
    else taken -= work;
  }
  return { given, taken };
}
