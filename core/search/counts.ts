import { MOST_COUNTS } from './trains';

/** Fewest and most teeth that a wheel of a search may have. */
const [FEWEST, MOST] = [4, 2000];

/** Tooth counts in a text: from-to, or a set, 20,24,25; what is wrong with it, in a sentence. */
export function toothCounts(text: string): readonly number[] | string {
  const range = /^\s*(\d+)\s*[-–]\s*(\d+)\s*$/.exec(text);
  const [a, b] = range ? [Number(range[1]), Number(range[2])] : [0, -1];
  const all = range ? Array.from({ length: Math.max(0, Math.min(b - a + 1, MOST_COUNTS + 1)) }, (_, k) => a + k) : text.split(',').map(Number);
  if (!all.length || all.some((z) => !Number.isInteger(z) || z < FEWEST || z > MOST)) {
    return `Tooth counts must be whole numbers from ${FEWEST} to ${MOST}: 12-120, or 20,24,25,30`;
  }
  return all.length > MOST_COUNTS ? `At most ${MOST_COUNTS} tooth counts can be searched` : all;
}
