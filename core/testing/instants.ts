import { type RunForces, type RunResult, forcesAt } from '../motion/index';
import type { Compiled } from '../kinematics/index';

/** How far the reactions found again at each instant are from those of the run itself, against the largest of the instant. */
export function worstAgain(compiled: Compiled, r: RunResult): number {
  let worst = 0,
    had: RunForces | undefined;
  for (let f = 0; f < r.frames; f++) {
    had = forcesAt(compiled, r, f, had);
    const again = had.forces.reactions(true);
    const then = r.reaction.subarray(6 * f * r.coordinates, 6 * (f + 1) * r.coordinates);
    const most = then.reduce((m, x) => Math.max(m, Math.abs(x)), 1e-3);
    for (let i = 0; i < then.length; i++) worst = Math.max(worst, Math.abs(again[i] - then[i]) / most);
  }
  return worst;
}
