import { findTrains } from '../core/engine';
import { writeTable } from '../core/formats/index';
import { parseRatio } from '../core/math/index';
import { Refused } from './files';

/** What is asked of a search. */
export interface PlanOptions {
  pairs: string;
  teeth: readonly number[];
  within: string;
  most: number;
  out?: string;
}

/** The best trains as a table, and how many there are. */
export function plan(text: string, { pairs, teeth, within, most }: PlanOptions): { text: string; note: string; count: number } {
  const [ratio, part] = [parseRatio(text), parseRatio(within)];
  if (!ratio || ratio.n <= 0n) {
    throw new Refused(`${text}: the ratio must be a number or a fraction above zero; its sense follows from how wheels are placed.`);
  }
  if (!part || part.n < 0n || part.n >= part.d) throw new Refused(`--within ${within}: it must be a part of the ratio, from 0 to below 1.`);
  const { trains, count, complete } = findTrains({ ratio, within: part, pairs: Number(pairs) as 1 | 2 | 3, teeth, most });
  return {
    text: writeTable(
      ['error in ppm', 'ratio', 'teeth in all', 'pairs'],
      trains.map((t) => [t.error * 1e6, `${t.ratio.n}/${t.ratio.d}`, t.teeth, t.pairs.map(([a, b]) => `${a}:${b}`).join(' ')]),
    ),
    note: complete
      ? `${count} trains, all that there are with these teeth`
      : `More than ${count} trains: state a smaller tolerance for a complete search`,
    count,
  };
}
