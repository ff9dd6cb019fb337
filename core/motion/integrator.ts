/**
 * Dormand and Prince's pair of orders 5 and 4 (Hairer, Nørsett, Wanner, Solving Ordinary
 * Differential Equations I, 2nd ed., table II.5.2): where the stages stand, how each is
 * made of those before it, and the difference of both orders as the measure of the error.
 */
export const STAGE_AT = [0, 1 / 5, 3 / 10, 4 / 5, 8 / 9, 1, 1];
export const STAGE_OF = [
  [],
  [1 / 5],
  [3 / 40, 9 / 40],
  [44 / 45, -56 / 15, 32 / 9],
  [19372 / 6561, -25360 / 2187, 64448 / 6561, -212 / 729],
  [9017 / 3168, -355 / 33, 46732 / 5247, 49 / 176, -5103 / 18656],
  [35 / 384, 0, 500 / 1113, 125 / 192, -2187 / 6784, 11 / 84],
];
export const ERROR_OF = [71 / 57600, 0, -71 / 16695, 71 / 1920, -17253 / 339200, 22 / 525, -1 / 40];

/** Rates of the state y at time t into `out`; false where there is no such state. */
export type Rate = (t: number, y: Float64Array, out: Float64Array) => boolean;

/** A state below this size counts as this large where its error is weighed. */
const SMALL = 1e-3;

/** Steps of the pair over a state of any size; the stages are kept between steps of one size. */
export class DormandPrince {
  private stages: Float64Array[] = [];

  constructor(
    private readonly rate: Rate,
    /** Part of each number by which a step may be wrong. */
    private readonly tolerance: number,
  ) {}

  /**
   * One step from (t, y) by h: the new state, and its error in tolerances
   * (1 is the limit). Undefined where a state on the way does not exist.
   */
  step(t: number, y: Float64Array, h: number): { y: Float64Array; error: number } | undefined {
    const n = y.length;
    if (this.stages.length === 0 || this.stages[0].length !== n) this.stages = Array.from({ length: 7 }, () => new Float64Array(n));
    const k = this.stages;
    const next = new Float64Array(n);
    for (let s = 0; s < 7; s++) {
      const of = STAGE_OF[s];
      for (let i = 0; i < n; i++) {
        let x = y[i];
        for (let j = 0; j < s; j++) x += h * of[j] * k[j][i];
        next[i] = x;
      }
      if (!this.rate(t + STAGE_AT[s] * h, next, k[s])) return undefined;
    }
    let error = 0;
    for (let i = 0; i < n; i++) {
      let e = 0;
      for (let s = 0; s < 7; s++) e += h * ERROR_OF[s] * k[s][i];
      error = Math.max(error, Math.abs(e) / (this.tolerance * (SMALL + Math.max(Math.abs(y[i]), Math.abs(next[i])))));
    }
    return { y: next, error };
  }
}

/** By how much the next step may be longer, or must be shorter, than the one with this error: order 5, with a little in hand. */
export const stepFactor = (error: number): number => 0.9 * Math.max(error, 1e-6) ** -0.2;
