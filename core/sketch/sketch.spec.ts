import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { row } from '../testing/designs';
import { LARGEST_SKETCH, sketch } from './sketch';

describe('a sketch', () => {
  it('shows a wheel by closed curves that fill its box: an 18-tooth pair spans both tip circles', () => {
    const s = sketch(row([[18, 54]]).design);
    const wide = Math.max(s.box[2], s.box[3]);
    // m = 1: from the one tip circle to the other, d1 + d2 + 2 addenda.
    expect(wide).toBeGreaterThan(18 + 54 + 1.8);
    expect(wide).toBeLessThan(18 + 54 + 2.01);
    for (const c of s.curves) expect(c.path).toMatch(/^M[-\d. ]+l[-\d. ]+Z$/);
  });

  it('is never longer than it may be, however many teeth and wheels there are', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 8, max: 2000 }), fc.integer({ min: 8, max: 2000 })), { minLength: 1, maxLength: 60 }),
        (pairs) => {
          expect(JSON.stringify(sketch(row(pairs).design)).length).toBeLessThanOrEqual(LARGEST_SKETCH);
        },
      ),
      { numRuns: 25 },
    );
  });
});
