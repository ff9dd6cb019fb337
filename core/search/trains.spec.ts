import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Ratio, mul, parseRatio, ratio, toNumber } from '../math/index';
import { type TrainSearch, findTrains } from './index';

const from = (a: number, b: number): number[] => Array.from({ length: b - a + 1 }, (_, k) => a + k);
const search = (text: string, within: string, pairs: 1 | 2 | 3, teeth: readonly number[], most?: number) =>
  findTrains({ ratio: parseRatio(text)!, within: parseRatio(within)!, pairs, teeth, ...(most && { most }) });
const product = (pairs: readonly (readonly [number, number])[]): Ratio => pairs.reduce((r, [a, b]) => mul(r, ratio(a, b)), ratio(1));

describe('trains for a ratio', () => {
  it('π by two pairs: 355/113, known since Zu Chongzhi, as 71 · 60 over 113 · 12', () => {
    const { trains, complete } = search('3.14159265358979', '1e-6', 2, from(12, 120));
    expect(complete).toBe(true);
    expect(trains[0].ratio).toEqual({ n: 355n, d: 113n });
    expect(trains[0].error).toBeCloseTo(8.49e-8, 9);
    expect(trains.every((t) => product(t.pairs).n === t.ratio.n)).toBe(true);
  });

  it('the gear train of Sandgren (1990), 1/6.931 with 12 to 60 teeth: 19 · 16 over 43 · 49, squared error 2.7e-12', () => {
    const { trains } = search('1000/6931', '1e-4', 2, from(12, 60));
    const [best] = trains;
    expect(toNumber(best.ratio)).toBeCloseTo((19 * 16) / (43 * 49), 15);
    const squared = (1 / 6.931 - toNumber(best.ratio)) ** 2;
    expect(squared).toBeCloseTo(2.7e-12, 13);
    expect(best.pairs.flat().sort((a, b) => a - b)).toEqual([16, 19, 43, 49]);
  });

  it('exact ratios without error: a clock’s 1 : 12, and 1 : 37.3 not by two pairs', () => {
    expect(search('1/12', '0', 2, from(8, 60)).trains.every((t) => t.error === 0)).toBe(true);
    expect(search('1/12', '0', 2, from(8, 60)).count).toBeGreaterThan(10);
    // 373 is a prime: no wheel of up to 120 teeth has it.
    expect(search('10/373', '0', 3, from(12, 120)).count).toBe(0);
    expect(search('10/373', '1e-6', 3, from(12, 120)).trains[0].error).not.toBe(0);
  });

  it('of change gears takes those of the set alone', () => {
    const set = [20, 24, 25, 28, 30, 35, 40, 45, 50, 60, 70, 80, 100, 127];
    // 127/120 of an inch thread on a metric lead screw: common practice with a 127 wheel.
    const { trains } = search('127/120', '0', 2, set);
    expect(trains.length).toBeGreaterThan(0);
    for (const t of trains) for (const z of t.pairs.flat()) expect(set).toContain(z);
  });

  it('finds what a plain loop over all trains finds, and counts as many', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 5, max: 9 }),
        fc.integer({ min: 2, max: 7 }),
        fc.constantFrom(1, 2, 3),
        fc.tuple(fc.integer({ min: 1, max: 300 }), fc.integer({ min: 1, max: 300 })),
        fc.integer({ min: 0, max: 200 }),
        (least, many, pairs, [a, b], part) => {
          const teeth = from(least, least + many);
          const wanted: TrainSearch = { ratio: ratio(a, b), within: ratio(part, 1000), pairs: pairs as 1 | 2 | 3, teeth, most: 5 };
          const found = findTrains(wanted);
          const single = [...new Map(teeth.flatMap((x) => teeth.map((y) => ratio(x, y))).map((r) => [`${r.n}/${r.d}`, r])).values()].sort(
            (x, y) => toNumber(x) - toNumber(y),
          );
          let count = 0;
          let best = Infinity;
          const loop = (k: number, i: number, r: Ratio): void => {
            if (k === 0) {
              const off = r.n * BigInt(b) - r.d * BigInt(a);
              const size = off < 0n ? -off : off;
              if (size * 1000n > BigInt(part) * r.d * BigInt(a)) return;
              count++;
              best = Math.min(best, Number(size) / Number(r.d * BigInt(a)));
              return;
            }
            for (let j = i; j < single.length; j++) loop(k - 1, j, mul(r, single[j]));
          };
          loop(pairs, 0, ratio(1));
          expect(found.count).toBe(count);
          expect(found.complete).toBe(true);
          if (count) expect(Math.abs(found.trains[0].error)).toBeCloseTo(best, 14);
          const errors = found.trains.map((t) => Math.abs(t.error));
          expect(errors).toEqual([...errors].sort((x, y) => x - y));
          expect(found.trains).toHaveLength(Math.min(5, count));
        },
      ),
      { seed: 25, numRuns: 150 },
    );
  });

  it('says where there are too many to be counted, and refuses what it cannot search', () => {
    expect(search('1', '0.5', 3, from(12, 60)).complete).toBe(false);
    expect(() => search('-2', '0.1', 2, from(12, 60))).toThrow(/above zero/);
    expect(() => search('2', '1', 2, from(12, 60))).toThrow(/tolerance/);
    expect(() => search('2', '0.1', 2, [])).toThrow(/tooth counts/);
    expect(() => search('2', '0.1', 2, [12.5])).toThrow(/whole numbers/);
    expect(() => search('2', '0.1', 2, from(1, 401))).toThrow(/400/);
  });
});
