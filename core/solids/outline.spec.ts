import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type Outline,
  along,
  arc,
  areaOf,
  circle,
  flattened,
  lengthOf,
  line,
  massOf,
  mirrored,
  outline,
  polygon,
  rangeOf,
  reachOf,
  reversed,
  turned,
} from './index';

/** A slot with round ends: 60 long between centres, 20 wide. */
const slot: Outline = outline([60, -10], [arc([60, -10], [60, 0], Math.PI), line([0, 10]), arc([0, 10], [0, 0], Math.PI)]);

describe('an outline', () => {
  it('of lines and arcs has the area and length that geometry says', () => {
    expect(areaOf(slot)).toBeCloseTo(60 * 20 + Math.PI * 100, 9);
    expect(lengthOf(slot)).toBeCloseTo(2 * 60 + 2 * Math.PI * 10, 9);
    expect(areaOf(circle(7, 3, -4))).toBeCloseTo(Math.PI * 49, 9);
    expect(areaOf(polygon([0, 0, 4, 0, 0, 3]))).toBeCloseTo(6, 12);
  });
  it('run the other way has its area with the other sign; turned, it keeps it; a mirror takes both', () => {
    expect(areaOf(reversed(slot))).toBeCloseTo(-areaOf(slot), 9);
    expect(areaOf(mirrored(slot))).toBeCloseTo(-areaOf(slot), 9);
    expect(areaOf(turned(slot, 1.2, 2))).toBeCloseTo(4 * areaOf(slot), 8);
    expect(areaOf(reversed(mirrored(slot)))).toBeCloseTo(areaOf(slot), 9);
  });
  it('as a polygon stays within the tolerance, and no line turns more than stated', () => {
    const points = flattened(circle(100), { turn: 0, tolerance: 0.01 });
    // The sagitta of a chord of n: r (1 − cos(π/n)).
    expect(100 * (1 - Math.cos((2 * Math.PI) / points.length))).toBeLessThan(0.01);
    expect(flattened(circle(100), { turn: Math.PI / 24, tolerance: 0 }).length).toBe(96);
    expect(reachOf(slot)).toBeCloseTo(Math.hypot(60, 10), 9);
  });
  it('reaches along any direction as far as its curves do, not as its corners', () => {
    const bent: Outline = outline([0, 0], [arc([0, 0], [30, 10], 2.1), { kind: 'curve', c1: [90, 60], c2: [-80, 70], to: [5, 20] }, line([0, 0])]);
    for (const o of [slot, circle(7, 3, -4), bent, reversed(bent), mirrored(slot)]) {
      const points = flattened(o, { turn: 0, tolerance: 1e-7 });
      for (let a = 0; a < 6.3; a += 0.37) {
        const along = Array.from({ length: points.length / 2 }, (_, i) => points[2 * i] * Math.cos(a) + points[2 * i + 1] * Math.sin(a));
        const [least, most] = rangeOf(o, [Math.cos(a), Math.sin(a)]);
        expect(least).toBeCloseTo(
          along.reduce((x, y) => Math.min(x, y)),
          6,
        );
        expect(most).toBeCloseTo(
          along.reduce((x, y) => Math.max(x, y)),
          6,
        );
      }
    }
    expect(rangeOf(slot, [1, 0])).toEqual([expect.closeTo(-10, 12), expect.closeTo(70, 12)]);
  });
  it('follows a curve within the tolerance, whichever way it is run through', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 40, noNaN: true }),
        fc.double({ min: 1e-5, max: 1e-2, noNaN: true }),
        fc.boolean(),
        (r, tolerance, back) => {
          const curve = (t: number) => ({
            at: [r * Math.cos(t) + t, r * Math.sin(2 * t)] as const,
            slope: [-r * Math.sin(t) + 1, 2 * r * Math.cos(2 * t)] as const,
          });
          const [a, b] = back ? [2, 0] : [0, 2];
          const pieces = along(curve, a, b, tolerance);
          const points = flattened(outline(curve(a).at, pieces), { turn: 0, tolerance: 1e-6 });
          const near = Array.from({ length: 4001 }, (_, k) => curve((2 * k) / 4000).at);
          for (let i = 0; i < points.length - 2; i += 20) {
            const d = Math.min(...near.map(([x, y]) => Math.hypot(x - points[i], y - points[i + 1])));
            // The nearest of the places looked at is up to half their distance off.
            expect(d).toBeLessThan(1.5 * tolerance + (2.3 * r + 1) / 4000);
          }
          expect(pieces.at(-1)!.to).toEqual(curve(b).at);
        },
      ),
      { numRuns: 12 },
    );
  });
});

describe('the mass of a body with round edges', () => {
  it('of a slotted plate is that of its parts: a block and two half discs', () => {
    const m = massOf([{ kind: 'prism', outline: slot, holes: [circle(3, 60, 0)], from: 0, to: 8 }], 1e9);
    expect(m.mass).toBeCloseTo((60 * 20 + Math.PI * 100 - Math.PI * 9) * 8, 7);
    expect(m.centre[0]).toBeCloseTo(((60 * 20 + Math.PI * 100) * 30 - Math.PI * 9 * 60) / (60 * 20 + Math.PI * 91), 9);
  });
  it('of a ball turned from half a disc is 4/3 π r³, with 2/5 m r² about each axis', () => {
    const half = outline([0, -5], [arc([0, -5], [0, 0], Math.PI), line([0, -5])]);
    const m = massOf([{ kind: 'turned', section: half }], 1e9);
    expect(m.mass).toBeCloseTo((4 / 3) * Math.PI * 125, 8);
    for (const k of [0, 1, 2]) expect(m.inertia[k] / ((2 / 5) * m.mass * 25)).toBeCloseTo(1, 9);
  });
});
