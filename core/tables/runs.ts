import type { Design, Id, KeptRun } from '../fields/types';
import { type Quantity, type RunResult, figuresOf, quantities, run, worstInstant } from '../motion/index';
import type { Compiled } from '../kinematics/index';
import { planRun } from '../sizing/index';
import type { Cell, Table } from './table';

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

/** Every run that is kept with a design, computed; the stated one where none is kept and something drives. */
export function computedRuns(d: Design): ComputedRun[] {
  const kept = d.runs?.length ? d.runs : d.sources.length ? [statedRun(d)] : [];
  return kept.map((k) => {
    const { compiled, options, start, said } = planRun(d, k);
    const result = run(compiled, options, start);
    return { id: k.id, name: k.name, compiled, result, quantities: quantities(compiled, result), said };
  });
}

/** Every quantity of the runs over their time: least, greatest, mean, RMS, and when it is largest by size. */
export function runTable(runs: readonly ComputedRun[]): Table {
  const figure = (label: string) => ({ label, number: true as const });
  return {
    key: 'runs',
    title: 'Runs',
    columns: [
      { label: 'Run' },
      { label: 'Quantity' },
      figure('Least'),
      figure('Greatest'),
      figure('Mean'),
      figure('RMS'),
      { label: 'Unit' },
      { ...figure('Largest at'), unit: 's' },
    ],
    rows: runs.flatMap(({ name, result, compiled, quantities: all }) =>
      // Where nothing can move there is nothing to tell.
      (compiled.structure.coordinates.length ? all : []).map((q): Cell[] => {
        const { least, greatest, mean, rms } = figuresOf(result.time, (f) => q.at(f), result.frames);
        return [name, q.label, least, greatest, mean, rms, q.unit, result.time[worstInstant(q, result.frames).frame]];
      }),
    ),
  };
}
