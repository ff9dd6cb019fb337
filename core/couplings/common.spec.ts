import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Vec3, dot, frameOf, norm, vadd, vscale, vsub } from '../math/index';
import { perpendicular } from './common';

const coordinate = fc.double({ min: -100, max: 100, noNaN: true });
const vector = fc.tuple(coordinate, coordinate, coordinate) as fc.Arbitrary<Vec3>;
const direction = vector.filter((v) => norm(v) > 1);

describe('the common perpendicular of two axes', () => {
  it('stands square on both, from one to the other, and is as long as they are apart', () => {
    fc.assert(
      fc.property(vector, direction, vector, direction, (p, u, q, v) => {
        const [a, b] = [frameOf(p, u), frameOf(q, v)];
        const got = perpendicular(a, b);
        if (Math.abs(dot(a.z, b.z)) > 0.999) return;
        const { footA, footB, direction: d, distance } = got!;
        expect(norm(d)).toBeCloseTo(1, 9);
        expect(dot(d, a.z)).toBeCloseTo(0, 7);
        expect(dot(d, b.z)).toBeCloseTo(0, 7);
        expect(distance).toBeGreaterThanOrEqual(0);
        vsub(vadd(footA, vscale(d, distance)), footB).forEach((x) => expect(x).toBeCloseTo(0, 7));
        // Each foot lies on its axis.
        for (const [foot, f] of [
          [footA, a],
          [footB, b],
        ] as const) {
          const off = vsub(vsub(foot, f.o), vscale(f.z, dot(vsub(foot, f.o), f.z)));
          expect(norm(off)).toBeLessThan(1e-5);
        }
      }),
    );
  });
  it('of axes that meet has no length, and a direction all the same; of parallel ones there is none', () => {
    const meets = perpendicular(frameOf([0, 0, 0], [0, 0, 1]), frameOf([0, 0, 7], [1, 0, 0]))!;
    expect([meets.distance, norm(meets.direction)]).toEqual([0, 1]);
    expect(meets.footA).toEqual([0, 0, 7]);
    expect(perpendicular(frameOf([0, 0, 0], [0, 0, 1]), frameOf([5, 0, 7], [0, 0, -1]))).toBeUndefined();
  });
});
