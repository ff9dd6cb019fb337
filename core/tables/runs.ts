import type { ComputedRun } from '../sizing/index';
import { figuresOf, worstInstant } from '../motion/index';
import type { Cell, Table } from './table';

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
