import { describe, expect, it } from 'vitest';
import { WORLD, frameOf } from '../math/index';
import type { Element } from '../fields/types';
import { bar, massOf, placeMass, rectangle, sumMass } from '../solids/index';
import { elementKind } from './index';

// Textbook moments of inertia (Meriam & Kraige, Dynamics, table D/4).
describe('mass from shape', () => {
  it('of a block', () => {
    const m = massOf([{ kind: 'prism', outline: rectangle(-50, -20, 50, 20), from: -10, to: 10 }], 7850);
    const mass = 7850 * 0.1 * 0.04 * 0.02;
    expect(m.mass).toBeCloseTo(mass, 12);
    expect(m.inertia[0]).toBeCloseTo((mass * (40 ** 2 + 20 ** 2)) / 12, 9);
    expect(m.inertia[2]).toBeCloseTo((mass * (100 ** 2 + 40 ** 2)) / 12, 9);
  });
  it('of a hollow bar', () => {
    const m = massOf([bar(30, 0, 100, 10)], 1000);
    const mass = 1000 * Math.PI * (0.03 ** 2 - 0.01 ** 2) * 0.1;
    expect(m.mass).toBeCloseTo(mass, 12);
    expect(m.centre[2]).toBeCloseTo(50, 9);
    expect(m.inertia[2]).toBeCloseTo((mass * (30 ** 2 + 10 ** 2)) / 2, 9);
    expect(m.inertia[0]).toBeCloseTo((mass * (3 * (30 ** 2 + 10 ** 2) + 100 ** 2)) / 12, 9);
  });
  it('of a curved rail: that of its plan, whichever way it bends; a wide one becomes a straight one', () => {
    const rail = (curve: number, length = 1500): ReturnType<typeof massOf> =>
      massOf(elementKind('track')!.shape({ id: 't', name: 'T', type: 'track', member: 'm', length, width: 60, height: 80, curve } as Element), 7850);
    for (const curve of [1000, -1000]) {
      const m = rail(curve);
      expect(m.mass).toBeCloseTo(7850 * 1.5 * 0.06 * 0.08, 9);
      expect(m.centre[0]).toBeCloseTo(0, 9);
      expect(m.centre[1]).toBeCloseTo(-40, 9);
      // Centroid of an arc, R (1 − sin α/α), with the breadth's share b²/12R² (Meriam & Kraige, Dynamics, table D/3).
      expect(m.centre[2] * Math.sign(curve)).toBeCloseTo(1000 - 1000 * (Math.sin(0.75) / 0.75) * (1 + 60 ** 2 / 12 / 1000 ** 2), 9);
    }
    expect(rail(1000, 2 * Math.PI * 1000).centre[2]).toBeCloseTo(1000, 6);
    const wide = rail(1e7),
      straight = rail(0);
    expect(wide.mass).toBeCloseTo(straight.mass, 6);
    wide.inertia.forEach((x, i) => expect(Math.abs(x - straight.inertia[i])).toBeLessThan(1e-3 * straight.inertia[0]));
  });
  it('moves to another axis by Steiner’s theorem, and turns with its frame', () => {
    const one = massOf([bar(10, -50, 50)], 7850);
    const two = sumMass([one, { ...one, centre: [100, 0, 0] }]);
    expect(two.centre[0]).toBeCloseTo(50, 9);
    expect(two.inertia[2]).toBeCloseTo(2 * one.inertia[2] + 2 * one.mass * 50 ** 2, 6);
    const turned = placeMass(one, { ...frameOf([0, 0, 5], [1, 0, 0]) });
    expect(turned.inertia[0]).toBeCloseTo(one.inertia[2], 9);
    expect(placeMass(one, WORLD)).toEqual(one);
  });
});
