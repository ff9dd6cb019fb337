import type { Design, Id, KeptRun } from '../fields/types';
import type { Compiled } from '../kinematics/index';
import { type Quantity, type RunResult, quantities, run } from '../motion/index';
import { planRun } from './kept-runs';

/** A run of the design, computed. */
export interface ComputedRun {
  readonly id: Id;
  readonly name: string;
  readonly compiled: Compiled;
  readonly result: RunResult;
  readonly quantities: readonly Quantity[];
  /** What could not be done as stated. */
  readonly said: readonly string[];
}

/** A run as the design states it, where none is kept with it. */
const statedRun = (d: Design): KeptRun => ({ id: 'run', name: 'Run as stated', duration: d.settings?.duration, frames: d.settings?.frames });

/**
 * Runs of designs that were computed, for as long as the design is held: a report, its checklist and a rating ask for the
 * same.
 */
const computed = new WeakMap<Design, readonly ComputedRun[]>();

/** Every run that is kept with a design, computed; the stated one where none is kept and something drives. */
export function computedRuns(d: Design): readonly ComputedRun[] {
  const had = computed.get(d);
  if (had) return had;
  const kept = d.runs?.length ? d.runs : d.sources.length ? [statedRun(d)] : [];
  const made = kept.map((k): ComputedRun => {
    const { compiled, options, start, said } = planRun(d, k);
    const result = run(compiled, options, start);
    return { id: k.id, name: k.name, compiled, result, quantities: quantities(compiled, result), said };
  });
  computed.set(d, made);
  return made;
}
