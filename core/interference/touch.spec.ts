import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Element } from '../fields/types';
import { type Frame, type Vec3, WORLD, frameOf, norm, vadd, vscale, vsub } from '../math/index';
import { type Bulk, bulksOf, common, depthIn, touching } from './index';

const made = (type: string, fields: object): Bulk => bulksOf({ id: 'e', name: 'e', type, member: 'm', ...fields } as Element)[0];
const block = (length: number, depth: number, height: number): Bulk => made('block', { length, depth, height });
const rod = (diameter: number, length: number, bore = 0): Bulk => made('rod', { diameter, length, bore });
const at = (o: Vec3, z: Vec3 = [0, 0, 1]): Frame => ({ ...frameOf(o, z) });

describe('what two bodies have in common', () => {
  it('is as thick as two blocks are pushed into each other, and nothing where they lie flush', () => {
    const a = block(40, 30, 20);
    for (const into of [0.5, 1, 5]) expect(common(a, WORLD, a, at([40 - into, 0, 0]))!.depth).toBeCloseTo(into, 1);
    for (const away of [40, 40.001, 60]) expect(common(a, WORLD, a, at([away, 0, 0]))).toBeUndefined();
    expect(common(a, WORLD, a, at([0, 30, 20]))).toBeUndefined();
  });

  it('of two crossing bars is the ball in the thinner one, or as far as their axes leave room', () => {
    const [a, b] = [rod(20, 200), rod(12, 200)];
    expect(common(a, WORLD, b, at([0, 0, 0], [1, 0, 0]))!.depth).toBeCloseTo(12, 1);
    // Axes 13 mm apart: 10 + 6 − 13.
    expect(common(a, WORLD, b, at([0, 13, 0], [1, 0, 0]))!.depth).toBeCloseTo(3, 1);
    expect(common(a, WORLD, b, at([0, 16, 0], [1, 0, 0]))).toBeUndefined();
  });

  it('is nothing of a bar in a bore that fits, and the wall where it does not', () => {
    const sleeve = rod(40, 50, 20);
    expect(common(sleeve, WORLD, rod(20, 200), WORLD)).toBeUndefined();
    expect(common(sleeve, WORLD, rod(26, 200), WORLD)!.depth).toBeCloseTo(3, 1);
    expect(common(sleeve, WORLD, rod(20, 200), at([0, 0, 0], [0, 0, -1]))).toBeUndefined();
    // Off the middle by 4 mm, it enters the wall by 4 mm.
    expect(common(sleeve, WORLD, rod(20, 200), at([4, 0, 0]))!.depth).toBeCloseTo(4, 1);
  });

  it('takes turning teeth to their tips, and a bevel gear as its cone', () => {
    const gear = made('gear', { teeth: 20, module: 2, width: 10 });
    // Tips on a circle of 44 mm: a block whose face is 21.5 mm from the axis stands in it.
    expect(common(gear, WORLD, block(20, 20, 20), at([31.5, 0, 0]))!.depth).toBeCloseTo(0.5, 1);
    expect(common(gear, WORLD, block(20, 20, 20), at([32.1, 0, 0]))).toBeUndefined();
  });

  it('is found wherever a ball larger than what counts as touching fits in both, and nowhere else', () => {
    const size = fc.integer({ min: 4, max: 60 });
    const part = fc.oneof(
      fc.tuple(size, size, size).map(([a, b, c]) => block(a, b, c)),
      fc.tuple(size, size).map(([d, l]) => rod(d, l)),
      fc.tuple(size, size).map(([d, l]) => rod(d + 10, l, d)),
      fc.tuple(size, size).map(([l, d]) => made('lever', { length: l + 20, eye: d + 4, hole: 2, thickness: d / 2 })),
    );
    const unit = fc
      .tuple(fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }), fc.integer({ min: -9, max: 9 }))
      .filter((v) => norm(v) > 0)
      .map((v): Vec3 => vscale(v, 1 / norm(v)));
    const found = { yes: 0, no: 0 };
    fc.assert(
      fc.property(
        part,
        part,
        unit,
        unit,
        fc.integer({ min: 0, max: 80 }),
        fc.array(fc.tuple(unit, fc.double({ min: 0, max: 1, noNaN: true })), { minLength: 200, maxLength: 200 }),
        (a, b, z, way, apart, places) => {
          const [fa, fb] = [WORLD, at(vscale(way, apart), z)];
          const local = (f: Frame, p: Vec3): Vec3 => {
            const d = vsub(p, f.o);
            return [f.x, f.y, f.z].map((n) => n[0] * d[0] + n[1] * d[1] + n[2] * d[2]) as unknown as Vec3;
          };
          const inBoth = (p: Vec3): number => Math.min(depthIn(a, ...local(fa, p)), depthIn(b, ...local(fb, p)));
          const got = common(a, fa, b, fb);
          found[got ? 'yes' : 'no']++;
          // A search that was given up says how much there can be at most.
          if (got?.undecided) {
            for (const [d, far] of places) expect(2 * inBoth(vadd(fb.o, vscale(d, far * 60)))).toBeLessThanOrEqual(got.depth + 1e-9);
            return;
          }
          if (got) {
            expect(inBoth(got.at)).toBeCloseTo(got.depth / 2, 6);
            expect(got.depth / 2).toBeGreaterThan(touching(a, b) * (1 - 1e-9));
            return;
          }
          // No place tried by chance lies deeper in both.
          for (const [d, far] of places) expect(inBoth(vadd(fb.o, vscale(d, far * 60)))).toBeLessThanOrEqual(touching(a, b));
        },
      ),
      { numRuns: 300 },
    );
    expect(Math.min(found.yes, found.no)).toBeGreaterThan(30);
  });
});
