import { firstFound } from '../math/index';
import { happening } from './events';
import { stepFactor } from './integrator';
import type { Running } from './running';

/** Coordinates and rates beyond this are no motion any more: rad, m, rad/s, m/s. */
const RUNS_AWAY = 1e30;
const MOST_TRIES = 60;
const CANNOT_PASS = 'the mechanism comes to a place that it cannot pass';

/** One adaptive step of free motion, at most to `next`; made shorter until the first event stands at its end. */
export function integrate(run: Running, next: number): void {
  const { train, integrator, duration } = run;
  const { pose } = train;
  if (!(run.h > 0)) run.h = duration / (run.frames - 1) / 10;
  const least = 1e-9 * duration;
  let h = Math.min(run.h, next - run.t);
  const limits = Float64Array.from(pose.limit);
  const u0 = Float64Array.from(pose.u);
  const back = (): void => {
    pose.limit.set(limits);
    pose.setFree(u0);
  };
  for (let tries = 0; tries < MOST_TRIES; tries++) {
    const made = integrator.step(run.t, train.y, h);
    if (!made) {
      if (h <= least) return run.end('unreachable', '', CANNOT_PASS);
      h /= 4;
      back();
      continue;
    }
    // An error that is no number is one that is too large.
    if (!(made.error <= 1) && h > least) {
      h *= Math.max(0.2, stepFactor(Number.isFinite(made.error) ? made.error : Infinity));
      back();
      continue;
    }
    if (made.y.some((x) => !(Math.abs(x) < RUNS_AWAY))) {
      back();
      return run.giveUp();
    }
    train.settle(run.t + h, made.y, true);
    const hit = happening(train, run.t + h, true);
    if (!hit) {
      run.t += h;
      train.y.set(made.y);
      pose.latch();
      run.h = h * Math.min(4, stepFactor(made.error));
      return;
    }
    const first = firstFound(0, h, Math.max(least, 1e-13), { hit, y: Float64Array.from(made.y) }, (mid, found) => {
      back();
      const part = integrator.step(run.t, train.y, mid);
      if (!part) return found;
      train.settle(run.t + mid, part.y, true);
      const early = happening(train, run.t + mid, true);
      return early && { hit: early, y: Float64Array.from(part.y) };
    });
    back();
    // The rates with which it comes there: a jump has them changed already.
    const short = first.before > 0 ? integrator.step(run.t, train.y, first.before) : undefined;
    train.settle(run.t + (short ? first.before : 0), short?.y ?? train.y, true);
    const rates = Float64Array.from(train.forces.velocity);
    back();
    train.settle(run.t + first.at, first.found.y, true);
    run.t += first.at;
    pose.latch();
    run.happen(first.found.hit, rates);
    run.h = duration / (run.frames - 1) / 50;
    return;
  }
  run.end('unreachable', '', CANNOT_PASS);
}
