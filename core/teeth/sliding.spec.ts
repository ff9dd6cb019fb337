import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { spur } from '../testing/gears';
import { pairData } from './gear-pair';
import { balancedShifts, specificSliding } from './sliding';

describe('specific sliding', () => {
  it('by the velocities of both flanks where the tip of one meets the root of the other', () => {
    const [a, b] = [spur(20, 3), spur(50, 3)];
    const distance = 105;
    const angle = Math.PI / 9;
    // Along the line of action from the base point of the first: where the tip of the second is.
    const line = distance * Math.sin(angle);
    const far = Math.sqrt(b.tipRadius ** 2 - b.baseRadius ** 2);
    const [v1, v2] = [(line - far) * 1, far * (20 / 50)];
    expect(specificSliding(a, b, distance)[0]).toBeCloseTo((v1 - v2) / v1, 12);
    expect(specificSliding(b, a, distance)[1]).toBeCloseTo(specificSliding(a, b, distance)[0], 12);
  });
  it('equal wheels slide alike, and are balanced as they are', () => {
    const g = spur(30, 2, { shift: 0.1 });
    const { workingDistance } = pairData(g, g);
    const [p, q] = specificSliding(g, g, workingDistance);
    expect(p).toBeCloseTo(q, 12);
    const [x1, x2] = balancedShifts(g, g)!;
    expect([x1, x2]).toEqual([expect.closeTo(0.1, 9), expect.closeTo(0.1, 9)]);
  });
  it('balanced shifts of V-zero pairs lie where ISO/TR 4467 recommends them: x1 = λ·(z2 − z1)/(z2 + z1), λ 0.5 to 0.75 (from memory)', () => {
    for (const [z1, z2] of [
      [20, 40],
      [20, 60],
      [25, 75],
      [30, 50],
    ]) {
      const [x1] = balancedShifts(spur(z1, 1), spur(z2, 1))!;
      const lambda = (x1 * (z1 + z2)) / (z2 - z1);
      expect(lambda, `${z1} and ${z2}: x1 = ${x1}`).toBeGreaterThan(0.4);
      expect(lambda, `${z1} and ${z2}: x1 = ${x1}`).toBeLessThan(0.8);
    }
  });
  it('of any pair: both roots slide alike, the sum and the distance stay; most pairs can be balanced', () => {
    let balancing = 0;
    fc.assert(
      fc.property(
        fc.record({
          z1: fc.integer({ min: 14, max: 60 }),
          z2: fc.integer({ min: 14, max: 150 }),
          sum: fc.double({ min: -0.2, max: 1, noNaN: true }),
        }),
        ({ z1, z2, sum }) => {
          const [a, b] = [spur(z1, 2, { shift: sum / 2 }), spur(z2, 2, { shift: sum / 2 })];
          const balanced = balancedShifts(a, b);
          if (!balanced) return;
          balancing++;
          const [x1, x2] = balanced;
          expect(x1 + x2).toBeCloseTo(sum, 9);
          const [g1, g2] = [spur(z1, 2, { shift: x1 }), spur(z2, 2, { shift: x2 })];
          const pair = pairData(g1, g2);
          expect(pair.workingDistance).toBeCloseTo(pairData(a, b).workingDistance, 9);
          const [s1, s2] = specificSliding(g1, g2, pair.workingDistance);
          expect(Math.abs(s1 / s2 - 1)).toBeLessThan(1e-6);
          expect(pair.contact.beyondFirst).toBeLessThan(1e-5);
          expect(pair.contact.beyondSecond).toBeLessThan(1e-5);
        },
      ),
      { seed: 11, numRuns: 200 },
    );
    expect(balancing).toBeGreaterThan(100);
  });
});
