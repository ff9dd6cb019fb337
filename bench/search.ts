/** npm run bench:search: the search for trains beside a plain loop over all of them, in one run. */
import { parseRatio, toNumber } from '../core/math/index';
import { findTrains } from '../core/search/index';
import { line, ms } from './measure';

const from = (a: number, b: number): number[] => Array.from({ length: b - a + 1 }, (_, k) => a + k);
const RATIO = parseRatio('10/373')!;
const WITHIN = parseRatio('1e-6')!;
const timed = (work: () => unknown): number => {
  const start = performance.now();
  work();
  return performance.now() - start;
};

/** Every train of three pairs, one after the other. */
function plain(teeth: readonly number[]): number {
  const wanted = toNumber(RATIO);
  let found = 0;
  for (const a of teeth) {
    for (const b of teeth) {
      for (const c of teeth) {
        for (const d of teeth) {
          for (const e of teeth) for (const f of teeth) if (Math.abs((a * c * e) / (b * d * f) / wanted - 1) <= 1e-6) found++;
        }
      }
    }
  }
  return found;
}

console.log('Three pairs, 1 : 37.3 within 1 ppm');
for (const [a, b] of [
  [12, 24],
  [12, 32],
] as const) {
  const teeth = from(a, b);
  const [ours, loop] = [timed(() => findTrains({ ratio: RATIO, within: WITHIN, pairs: 3, teeth })), timed(() => plain(teeth))];
  line(`  ${a} to ${b} teeth`, ms(ours));
  line('  plain loop over it', (loop / ours).toFixed(0));
}
line('  12 to 120 teeth, about 10¹² trains', ms(timed(() => findTrains({ ratio: RATIO, within: WITHIN, pairs: 3, teeth: from(12, 120) }))));
