import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { piRatio, ratio } from '../math/index';
import { type LinearRow, eliminate, exactRatio } from './eliminate';

const term = (coordinate: number, n: number, pi = 0): LinearRow['terms'][number] => ({ coordinate, coefficient: piRatio(ratio(n), pi) });

describe('exact elimination', () => {
  it('keeps nothing of a row that would add different powers of π, and does not depend on the order of rows', () => {
    const rows: LinearRow[] = [
      { coupling: 'a', terms: [term(0, 1), term(1, -20, 1)] },
      // Turns and travels together: no one power of π fits.
      { coupling: 'b', terms: [term(0, 1), term(2, 3), term(1, 1)] },
      { coupling: 'c', terms: [term(2, 1), term(0, -7, 1)] },
      { coupling: 'd', terms: [term(3, 5), term(2, -1)] },
    ];
    fc.assert(
      fc.property(fc.shuffledSubarray([0, 1, 2, 3], { minLength: 4 }), (order) => {
        const r = eliminate(
          4,
          order.map((k) => rows[k]),
          [1],
        );
        expect(r.mixed.map((k) => rows[order[k]].coupling)).toEqual(['b']);
        expect(exactRatio(r, 0, 1)).toEqual(piRatio(ratio(20), 1));
        expect(exactRatio(r, 2, 1)).toEqual(piRatio(ratio(140), 2));
        expect(exactRatio(r, 3, 1)).toEqual(piRatio(ratio(28), 2));
      }),
    );
  });
});
