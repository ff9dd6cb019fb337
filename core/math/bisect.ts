/**
 * Halves an interval at whose end something is found and at whose beginning it is not, until
 * it is no wider than `width` (at most 50 times). `look` tells what is found at a place, given
 * what was found last, or undefined. Gives the last place without and the first with it.
 */
export function firstFound<T>(
  lo: number,
  hi: number,
  width: number,
  atEnd: T,
  look: (x: number, found: T) => T | undefined,
): { before: number; at: number; found: T } {
  let [before, at, found] = [lo, hi, atEnd];
  for (let k = 0; k < 50 && at - before > width; k++) {
    const mid = (before + at) / 2;
    const there = look(mid, found);
    if (there === undefined) before = mid;
    else [at, found] = [mid, there];
  }
  return { before, at, found };
}
