import type { Design, KeptRun } from '../fields/types';
import { type Quantity, type RunResult, quantities, run } from '../motion/index';
import type { Compiled } from '../kinematics/index';
import { planRun } from '../sizing/index';

/** A run of the design, computed. */
export interface ReportedRun {
  readonly name: string;
  readonly compiled: Compiled;
  readonly result: RunResult;
  readonly quantities: readonly Quantity[];
  /** What could not be done as stated. */
  readonly said: readonly string[];
}

/** A run as the design states it, where none is kept with it. */
const statedRun = (d: Design): KeptRun => ({ id: 'run', name: 'Run as stated', duration: d.settings?.duration, frames: d.settings?.frames });

/** Every run that is kept with a design, computed; the stated one where none is kept and something drives. */
export function computedRuns(d: Design): ReportedRun[] {
  const kept = d.runs?.length ? d.runs : d.sources.length ? [statedRun(d)] : [];
  return kept.map((k) => {
    const { compiled, options, start, said } = planRun(d, k);
    const result = run(compiled, options, start);
    return { name: k.name, compiled, result, quantities: quantities(compiled, result), said };
  });
}
