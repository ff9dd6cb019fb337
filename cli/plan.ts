import { MOST_COUNTS, findTrains } from '../core/engine';
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

/** Tooth counts in a text: from-to, or a set; what is wrong with it, in a sentence. */
export function toothCounts(text: string): readonly number[] | string {
  const range = /^(\d+)-(\d+)$/.exec(text);
  const all = range
    ? Array.from({ length: Math.max(0, Math.min(Number(range[2]) - Number(range[1]) + 1, MOST_COUNTS + 1)) }, (_, k) => Number(range[1]) + k)
    : text.split(',').map(Number);
  if (!all.length || all.some((z) => !Number.isInteger(z) || z < 4 || z > 2000)) {
    return 'They must be whole numbers from 4 to 2000: 12-120, or 20,24,25,30.';
  }
  return all.length > MOST_COUNTS ? `At most ${MOST_COUNTS} counts can be searched.` : all;
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
