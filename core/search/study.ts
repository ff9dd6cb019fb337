import { type Worked, analyse } from '../checks/index';
import { inCase, settle, withFormulas, withQuantity } from '../edits/index';
import type { Design, Id } from '../fields/types';
import { type Ratio, add, exactly, mul, ratio, sub, toNumber, toText } from '../math/index';

/** What a study goes over: a quantity that is stated (not by a formula) from a value to another, in steps; exact. */
export interface StudyRange {
  readonly quantity: Id;
  readonly from: Ratio;
  readonly to: Ratio;
  readonly step: Ratio;
}
/** A result that a study follows. */
export interface StudyColumn {
  readonly key: string;
  readonly label: string;
  readonly unit: string;
  /** For a wanted output: whether it is one. */
  readonly wanted?: true;
}
/** The results at one value; undefined where there is none. */
export interface StudyRow {
  readonly value: Ratio;
  readonly results: readonly (number | undefined)[];
  /** Wanted outputs that are missed, and faults. */
  readonly missed: number;
  readonly faults: number;
  /** Why the design cannot be made with this value. */
  readonly trouble?: string;
}
/** What a study found: its columns, a row for each value, and how much each result depends on the quantity. */
export interface Study {
  readonly columns: readonly StudyColumn[];
  readonly rows: readonly StudyRow[];
  /**
   * How much each result changes for a hundredth of the quantity's present value, in hundredths of itself: about the slope in
   * logarithms. Undefined where a result or the quantity is 0, or the design cannot be made beside its present value.
   */
  readonly sensitivities: readonly (number | undefined)[];
}

/** Values that one study may take. */
export const MOST_VALUES = 400;

/** The values of a range, both ends among them where the steps meet the last. What is wrong with the range, in words, instead. */
export function valuesOfRange({ from, to, step }: Omit<StudyRange, 'quantity'>): Ratio[] | string {
  if (step.n <= 0n) return 'Step must be above 0';
  const whole = sub(to, from);
  if (whole.n < 0n) return 'To must not be below From';
  const steps = (whole.n * step.d) / (whole.d * step.n);
  if (steps >= BigInt(MOST_VALUES)) return `this makes more than ${MOST_VALUES} values: state a larger step`;
  return Array.from({ length: Number(steps) + 1 }, (_, k) => add(from, mul(ratio(BigInt(k)), step)));
}

/** The design with a value of a quantity, its formulas worked out, and fitted where it fitted before. */
function withStated(design: Design, quantity: Id, value: Ratio, fits: boolean): Design | string {
  const text = value.d === 1n && value.n < 2n ** 53n && value.n > -(2n ** 53n) ? Number(value.n) : toText(value);
  const { design: made, problem } = withFormulas(withQuantity(design, quantity, { value: text, formula: undefined }));
  if (problem !== undefined) return problem;
  return fits ? settle(made).design : made;
}

/** What every row of a study of a design tells: wanted outputs, what sources give, efficiency, mass. */
function columnsOf({ compiled, ledger }: Worked): StudyColumn[] {
  const { design } = compiled;
  return [
    ...ledger.wanted.map((w): StudyColumn => ({
      key: `wanted ${w.wanted}`,
      label: design.wanted.find((x) => x.id === w.wanted)?.name ?? w.wanted,
      unit: w.unit,
      wanted: true,
    })),
    ...ledger.sources.flatMap((s): StudyColumn[] => {
      const source = compiled.sources.find((x) => x.source.id === s.source);
      const name = source?.source.name ?? s.source;
      const slides = source !== undefined && compiled.structure.coordinates[source.coordinate].motion === 'slide';
      return [
        { key: `load ${s.source}`, label: `${slides ? 'Force' : 'Torque'} of ${name}`, unit: slides ? 'N' : 'N·m' },
        { key: `power ${s.source}`, label: `Power of ${name}`, unit: 'W' },
      ];
    }),
    { key: 'efficiency', label: 'Efficiency', unit: '%' },
    { key: 'mass', label: 'Mass of all members', unit: 'kg' },
  ];
}
function resultsOf(w: Worked): ReadonlyMap<string, number | undefined> {
  const { ledger, masses } = w;
  return new Map<string, number | undefined>([
    ...ledger.wanted.map((x) => [`wanted ${x.wanted}`, x.value] as const),
    ...ledger.sources.flatMap((s) => [[`load ${s.source}`, s.load] as const, [`power ${s.source}`, s.power] as const]),
    ['efficiency', ledger.efficiency === undefined ? undefined : 100 * ledger.efficiency],
    ['mass', [...masses.values()].reduce((sum, m) => sum + m.mass, 0)],
  ]);
}

interface Studied {
  readonly design: Design;
  readonly case: Id | undefined;
  readonly quantity: Id;
  readonly fits: boolean;
  readonly columns: readonly StudyColumn[];
}
function rowOf({ design, case: loadCase, quantity, fits, columns }: Studied, value: Ratio): StudyRow {
  const made = withStated(design, quantity, value, fits);
  const nothing = columns.map(() => undefined);
  if (typeof made === 'string') return { value, results: nothing, missed: 0, faults: 0, trouble: made };
  const worked = analyse(inCase(made, loadCase));
  const results = resultsOf(worked);
  return {
    value,
    results: columns.map((c) => {
      const x = results.get(c.key);
      return x !== undefined && Number.isFinite(x) ? x : undefined;
    }),
    missed: worked.ledger.wanted.filter((w) => !w.met).length,
    faults: worked.findings.filter((f) => f.severity === 'fault').length,
  };
}

/** Part of the present value by which sensitivities are taken. */
const BESIDE = exactly('1/1000');

/**
 * Results of a design over a range of one of its named quantities: at each value the formulas are worked out, the train is
 * fitted where it fitted before, and all is analysed again in the home position, in a load case or as stated. Throws a
 * RangeError for a range that `valuesOfRange` refuses, and for a quantity that is not there or has a formula.
 */
export function study(design: Design, range: StudyRange, loadCase?: Id): Study {
  const q = design.quantities?.find((x) => x.id === range.quantity);
  if (!q) throw new RangeError('there is no such quantity');
  if (q.formula !== undefined) throw new RangeError(`“${q.symbol}” follows a formula: choose one that is stated`);
  const values = valuesOfRange(range);
  if (typeof values === 'string') throw new RangeError(values);
  const fits = !settle(design).steps.length;
  const columns = columnsOf(analyse(inCase(design, loadCase)));
  const studied: Studied = { design, case: loadCase, quantity: q.id, fits, columns };
  const at = (value: Ratio): StudyRow => rowOf(studied, value);
  const rows = values.map(at);
  return { columns, rows, sensitivities: sensitivitiesAt(exactly(q.value), range.step, at) };
}

/** By the values beside the present one; by steps of the range where a quantity takes whole values only. */
function sensitivitiesAt(x: Ratio, step: Ratio, at: (value: Ratio) => StudyRow): (number | undefined)[] {
  const half = mul(x, BESIDE);
  const beside = (by: Ratio): [StudyRow, StudyRow] => [at(sub(x, by)), at(add(x, by))];
  let [a, b] = beside(half);
  for (const k of [1n, 2n, 3n, 4n, 5n, 10n]) {
    if (a.trouble === undefined && b.trouble === undefined) break;
    [a, b] = beside(mul(step, ratio(k)));
  }
  const dx = toNumber(sub(b.value, a.value));
  const x0 = toNumber(x);
  return a.results.map((y1, k) => {
    const y2 = b.results[k];
    if (y1 === undefined || y2 === undefined || dx === 0 || x0 === 0 || y1 + y2 === 0) return undefined;
    return ((y2 - y1) / dx) * (x0 / ((y1 + y2) / 2));
  });
}
