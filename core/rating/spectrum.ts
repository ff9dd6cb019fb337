/** A step of a load spectrum: stress over the endurance limit as it counts there (without life factor), and load changes. */
export interface SpectrumStep {
  readonly stress: number;
  readonly changes: number;
}

/** Miner's sum of a spectrum whose stresses are `times` as large: 1 is the end of life; infinite where one load breaks it. */
export function damageOf(steps: readonly SpectrumStep[], borne: (factor: number) => number, times = 1): number {
  let sum = 0;
  for (const { stress, changes } of steps) {
    const bears = borne(stress * times);
    // What stands still under a load does not wear, but it must hold.
    if (bears === 0) return Infinity;
    sum += changes / bears;
  }
  return sum;
}

/** Safeties beyond this are as good as none needed. */
const MOST = 1e6;

/**
 * Safety of a spectrum (ISO 6336-6:2006, 5: the factor on all stresses with which Miner's sum is 1; from memory). Infinite where
 * nothing is stressed.
 */
export function safetyOf(steps: readonly SpectrumStep[], borne: (factor: number) => number): number {
  if (!steps.some((s) => s.stress > 0)) return Infinity;
  let [low, high] = [0, 1];
  while (damageOf(steps, borne, high) < 1) {
    [low, high] = [high, 2 * high];
    if (high > MOST) return Infinity;
  }
  while (high - low > 1e-12 * high) {
    const middle = (low + high) / 2;
    if (damageOf(steps, borne, middle) < 1) low = middle;
    else high = middle;
  }
  return high;
}
