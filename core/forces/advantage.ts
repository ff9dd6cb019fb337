import type { Pose } from '../kinematics/index';

/**
 * Ideal mechanical advantage at the present pose: load on the output coordinate for one unit of load
 * on the input coordinate, without losses; the rates' inverse ratio by virtual work. SI (N·m per
 * N·m, N per N·m …). Undefined where the output does not follow the input; infinite at a dead point.
 */
export function mechanicalAdvantage(m: Pose, input: number, output: number): number | undefined {
  const free = new Float64Array(m.kinematics.freeCount),
    rates = new Float64Array(m.kinematics.count);
  if (m.rates([input], [1], free) > 1e-9) return undefined;
  m.spreadRates(free, rates);
  if (Math.abs(rates[input] - 1) > 1e-9) return undefined;
  return rates[output] === 0 ? Infinity : 1 / rates[output];
}
