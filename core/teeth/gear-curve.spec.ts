import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { areaOf, eachPiece, flattened, placeOn, type Outline } from '../solids/index';
import {
  type GearData,
  formRadius,
  gearCurve,
  gearData,
  gearOutline,
  halfToothAt,
  isUndercut,
  outlineCrosses,
  rackCurve,
  rackOutline,
  teethCurve,
} from './index';
import { spur } from '../testing/gears';

const RAD = Math.PI / 180;
const gears = fc
  .record({
    teeth: fc.integer({ min: 8, max: 90 }),
    module: fc.constantFrom(0.5, 1.25, 3, 8),
    alpha: fc.constantFrom(14.5 * RAD, 20 * RAD, 25 * RAD),
    beta: fc.constantFrom(0, 15 * RAD),
    shift: fc.double({ min: -0.4, max: 1.3, noNaN: true }),
    internal: fc.boolean(),
    addendum: fc.constantFrom(0.8, 1),
    dedendum: fc.constantFrom(1.2, 1.25),
    fillet: fc.constantFrom(0, 0.2, 0.38),
    tipCut: fc.constantFrom(0, 0.05),
    thinning: fc.constantFrom(0, 0.04),
  })
  .map(gearData)
  .filter(
    (g) =>
      g.rootRadius > 0 && g.halfTooth > 0 && g.halfTooth < Math.PI / g.teeth && !outlineCrosses(g) && (!g.internal || g.tipRadius > g.baseRadius),
  );

/** Places along every piece, the ends of pieces among them. */
function placesOf(o: Outline, count: number): [number, number][] {
  const out: [number, number][] = [];
  eachPiece(o, (from, p) => {
    for (let k = 0; k < count; k++) out.push([...placeOn(from, p, k / count)]);
  });
  return out;
}
/** The angle from the middle of the nearest tooth, rad. */
const fromTooth = (g: GearData, x: number, y: number): number => {
  const pitch = (2 * Math.PI) / g.teeth,
    a = Math.atan2(y, x);
  return Math.abs(a - pitch * Math.round(a / pitch));
};

describe('the true curve of a gear', () => {
  it('has flanks within a micrometre of the involute, tips and roots on their circles', () => {
    const reached = { external: 0, internal: 0, undercut: 0, beyond: 0 };
    fc.assert(
      fc.property(gears, (g) => {
        reached[g.internal ? 'internal' : 'external']++;
        if (isUndercut(g)) reached.undercut++;
        // The cutter's corner passes on the near side of the pitch line, or beyond it.
        if (!g.internal && g.shift > g.dedendum - g.fillet) reached.beyond++;
        const form = formRadius(g);
        const radii: number[] = [];
        for (const [x, y] of placesOf(gearCurve(g), 4)) {
          const r = Math.hypot(x, y);
          radii.push(r);
          const onFlank = g.internal ? r < form - 1e-6 : r > form + 1e-6;
          const half = halfToothAt(g, r);
          // Tip lands lie inside the tooth.
          if (onFlank && fromTooth(g, x, y) > half - 1e-3 / r && half > 0) {
            const tip = Math.abs(r - (g.internal ? Math.max(g.tipRadius, g.baseRadius) : g.tipRadius)) < 1e-5;
            if (!tip) expect(Math.abs(fromTooth(g, x, y) - half) * r).toBeLessThan(1e-3);
          }
        }
        const root = g.internal ? Math.max(...radii) : Math.min(...radii);
        expect(root).toBeCloseTo(g.rootRadius, 3);
      }),
      { numRuns: 150 },
    );
    expect(Object.entries(reached).filter(([, n]) => n < 3)).toEqual([]);
  });
  it('goes through the points of the outline by points', () => {
    fc.assert(
      fc.property(gears, fc.double({ min: -3, max: 3, noNaN: true }), (g, phase) => {
        const fine = flattened(gearCurve(g, phase), { turn: 0, tolerance: 1e-5 * g.module });
        const xy = Array.from({ length: fine.length / 2 }, (_, i) => [fine[2 * i], fine[2 * i + 1]] as const);
        const off = (x: number, y: number): number =>
          Math.min(
            ...xy.map(([ax, ay], i) => {
              const [bx, by] = xy[(i + 1) % xy.length];
              const [dx, dy] = [bx - ax, by - ay];
              const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
              return Math.hypot(x - ax - t * dx, y - ay - t * dy);
            }),
          );
        const points = gearOutline(g, phase, { flank: 5, fillet: 4 });
        for (let i = 0; i < Math.min(points.length, 60); i += 2) expect(off(points[i], points[i + 1])).toBeLessThan(2e-4 + 1e-5 * g.module);
      }),
      { numRuns: 20 },
    );
  });
  it('of some teeth is the same curve, cut in the middle of the spaces at its ends', () => {
    const g = spur(24, 3, { fillet: 0.3 });
    const { start, pieces } = teethCurve(g, 0, 5);
    expect(Math.atan2(start[1], start[0])).toBeCloseTo(-Math.PI / 24, 9);
    const [x, y] = pieces.at(-1)!.to;
    expect(Math.atan2(y, x)).toBeCloseTo((9 * Math.PI) / 24, 9);
    for (const p of [start, [x, y]]) expect(Math.hypot(p[0], p[1])).toBeCloseTo(g.rootRadius, 9);
  });
});

describe('the true curve of a rack', () => {
  it('holds what the outline by many points holds', () => {
    const k = { module: 4, alpha: 20 * RAD, beta: 10 * RAD, teeth: 9, addendum: 1, dedendum: 1.25, fillet: 0.38, height: 20 };
    const byPoints = rackOutline(k, 1.5, { flank: 1, fillet: 400 });
    let area = 0;
    for (let i = 0, n = byPoints.length; i < n; i += 2) area += (byPoints[i] * byPoints[(i + 3) % n] - byPoints[(i + 2) % n] * byPoints[i + 1]) / 2;
    expect(areaOf(rackCurve(k, 1.5)) / area).toBeCloseTo(1, 7);
  });
});
