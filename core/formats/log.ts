import Papa from 'papaparse';
import { type Dialect, dialectOf, numberIn, separatorOf } from './csv';

/** One column of a log: its name, the unit that its heading says, and its values; what is missing is not a number. */
export interface LogColumn {
  readonly name: string;
  readonly unit?: string;
  readonly values: Float64Array;
}
/** What an instrument has written down, by columns; or what is wrong with it. */
export type LogRead = { columns: LogColumn[]; dialect: Dialect; problem?: undefined } | { problem: string; columns?: undefined };

const MOST_ROWS = 200_000;
const MOST_COLUMNS = 60;

/** A heading's name and unit: `Travel [mm]`, `Travel (mm)`, `Travel, mm`. */
function nameAndUnit(text: string): { name: string; unit?: string } {
  const m = /^(.*?)\s*(?:\[([^\]]*)\]|\(([^)]*)\)|,\s*([^,\s]+))\s*$/.exec(text);
  const unit = (m?.[2] ?? m?.[3] ?? m?.[4])?.trim();
  return m?.[1] && unit ? { name: m[1].trim(), unit } : { name: text.trim() };
}

/**
 * Reads a log: columns of numbers with a heading or without, commas, semicolons or tabs
 * between, decimals with a point or a comma. Cells that are empty or no number are gaps.
 * Lines before the heading are passed over. Columns without two numbers are left out.
 */
export function readLog(text: string): LogRead {
  const plain = text.replace(/^\uFEFF/, '');
  const separator = separatorOf(plain.split(/\r\n|\r|\n/));
  const rows = Papa.parse<string[]>(plain, { delimiter: separator === 'tab' ? '\t' : separator, skipEmptyLines: 'greedy' }).data;
  const dialect = dialectOf(separator, rows.flat());
  if ('problem' in dialect) return dialect;
  const { decimal } = dialect;
  if (rows.length > MOST_ROWS) return { problem: `the log has more than ${MOST_ROWS} lines` };
  const numbers = (r: readonly string[]): number => r.filter((c) => numberIn(c, decimal) !== undefined).length;
  const first = rows.findIndex((r) => r.length > 1 && numbers(r) >= 2);
  if (first < 0) return { problem: 'no line of this log has two numbers' };
  const heading = first > 0 ? rows[first - 1] : [];
  const data = rows.slice(first);
  const width = data.reduce((most, r) => Math.min(MOST_COLUMNS, Math.max(most, r.length)), 0);
  const columns: LogColumn[] = [];
  for (let k = 0; k < width; k++) {
    const values = Float64Array.from(data, (r) => numberIn(r[k] ?? '', decimal) ?? NaN);
    if (values.filter((v) => !Number.isNaN(v)).length < 2) continue;
    columns.push({ ...(heading[k]?.trim() ? nameAndUnit(heading[k]) : { name: `Column ${k + 1}` }), values });
  }
  return columns.length < 2 ? { problem: 'a log needs a column of times and one of values' } : { columns, dialect };
}

export interface LogCurve {
  /** Rising times from nothing, s, and values. */
  time: Float64Array;
  value: Float64Array;
  /** Lines without a time or a value. */
  gaps: number;
}

/**
 * The curve of one column over another; `problem` where its times
 * do not rise. Factors bring both to s and to the unit wanted.
 */
export function curveOf(time: LogColumn, value: LogColumn, timeFactor = 1, valueFactor = 1): LogCurve | { problem: string } {
  const t: number[] = [],
    v: number[] = [];
  let begin: number | undefined;
  for (let i = 0; i < time.values.length; i++) {
    if (Number.isNaN(time.values[i]) || Number.isNaN(value.values[i])) continue;
    begin ??= time.values[i];
    const at = (time.values[i] - begin) * timeFactor;
    if (t.length && at === t[t.length - 1]) continue;
    if (t.length && at < t[t.length - 1]) return { problem: `the times of “${time.name}” do not rise: ${time.values[i]} comes after a later one` };
    t.push(at);
    v.push(value.values[i] * valueFactor);
  }
  if (t.length < 2) return { problem: `“${value.name}” has fewer than two values with a time` };
  return { time: Float64Array.from(t), value: Float64Array.from(v), gaps: time.values.length - t.length };
}

type Points = Pick<LogCurve, 'time' | 'value'>;

/**
 * As few of a curve's points as keep it within `off` of the straight
 * lines between them (Douglas and Peucker, 1973), ends included.
 */
export function fewer({ time, value }: Points, off: number): number[] {
  const keep = new Set([0, time.length - 1]);
  const parts: [number, number][] = [[0, time.length - 1]];
  for (let part = parts.pop(); part; part = parts.pop()) {
    const [a, b] = part;
    let worst = 0,
      at = -1;
    for (let i = a + 1; i < b; i++) {
      const line = value[a] + ((value[b] - value[a]) * (time[i] - time[a])) / (time[b] - time[a]);
      const by = Math.abs(value[i] - line);
      if (by > worst) [worst, at] = [by, i];
    }
    if (at < 0 || worst <= off) continue;
    keep.add(at);
    parts.push([a, at], [at, b]);
  }
  return [...keep].sort((a, b) => a - b);
}

/**
 * At most so many points of a curve, and how far the lines between them
 * may then be off; as few as go through all of it where that is enough.
 */
export function thinnedTo(curve: Points, most: number): { at: number[]; off: number } {
  let lo = Infinity,
    hi = -Infinity;
  for (const v of curve.value) [lo, hi] = [Math.min(lo, v), Math.max(hi, v)];
  let off = 0,
    at = fewer(curve, off);
  for (let part = 1e-5; at.length > most && part < 1; part *= 2) at = fewer(curve, (off = part * (hi - lo)));
  return { at, off };
}
