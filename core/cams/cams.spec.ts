import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { areaOf, flattened, polygon } from '../solids/index';
import { FollowerShape, LAWS, camProfile, lawAt, motionOfPoints, motionOfSegments, pointsProblem, segmentsProblem, touch } from './index';

const RAD = Math.PI / 180;

describe('motion laws', () => {
  // Norton, Design of Machinery, table 8-4 (factors from memory): peak
  // velocity and acceleration for one unit of rise in one unit of angle.
  it.each([
    ['constant velocity', 1, 0],
    ['harmonic', 1.5708, 4.9348],
    ['cycloidal', 2, 6.2832],
    ['modified sine', 1.7596, 5.528],
    ['modified trapezoid', 2, 4.8881],
    ['3-4-5', 1.875, 5.7735],
    ['4-5-6-7', 2.1875, 7.5132],
  ] as const)('%s has the published peak velocity %d and acceleration %d', (law, v, a) => {
    let pv = 0,
      pa = 0;
    for (let i = 0; i <= 20000; i++) {
      const [, x, y] = lawAt(law, i / 20000);
      pv = Math.max(pv, Math.abs(x));
      pa = Math.max(pa, Math.abs(y));
    }
    expect(pv).toBeCloseTo(v, 4);
    expect(pa).toBeCloseTo(a, 4);
  });

  it('goes from nothing to the whole rise, with derivatives that belong to it', () => {
    for (const law of LAWS) {
      if (law === 'dwell') continue;
      expect(lawAt(law, 0)[0]).toBeCloseTo(0, 12);
      expect(lawAt(law, 1)[0]).toBeCloseTo(1, 12);
      for (const t of [0.05, 0.124, 0.2, 0.37, 0.5, 0.63, 0.81, 0.9]) {
        const h = 1e-5;
        expect((lawAt(law, t + h)[0] - lawAt(law, t - h)[0]) / (2 * h)).toBeCloseTo(lawAt(law, t)[1], 6);
        expect((lawAt(law, t + h)[1] - lawAt(law, t - h)[1]) / (2 * h)).toBeCloseTo(lawAt(law, t)[2], 4);
      }
    }
  });
});

const riseAndFall = motionOfSegments([
  { angle: 120, rise: 30, law: 'cycloidal' },
  { angle: 60, rise: 0, law: 'dwell' },
  { angle: 120, rise: -30, law: '3-4-5' },
  { angle: 60, rise: 0, law: 'dwell' },
]);

describe('a cam’s motion', () => {
  it('stands at the whole rise while it dwells, and returns', () => {
    expect(riseAndFall.at(150 * RAD)[0]).toBeCloseTo(30, 12);
    expect(riseAndFall.at(330 * RAD)[0]).toBeCloseTo(0, 12);
    expect(riseAndFall.at(-30 * RAD)[0]).toBeCloseTo(riseAndFall.at(330 * RAD)[0], 12);
    expect([riseAndFall.least, riseAndFall.most]).toEqual([0, 30]);
  });

  it('says when angles or rises do not make one turn', () => {
    expect(segmentsProblem([{ angle: 350, rise: 0, law: 'dwell' }])).toMatch(/350°/);
    expect(
      segmentsProblem([
        { angle: 180, rise: 5, law: 'harmonic' },
        { angle: 180, rise: -4, law: 'harmonic' },
      ]),
    ).toMatch(/add up to 1/);
    expect(pointsProblem([{ angle: 0, value: 0 }])).toMatch(/three/);
    expect(pointsProblem([0, 90, 80].map((angle) => ({ angle, value: 1 })))).toMatch(/rise from row to row/);
  });

  it('goes through its table of points, smoothly round the turn', () => {
    const pts = [0, 40, 130, 200, 290].map((angle, i) => ({ angle, value: [0, 4, 11, 6, 1][i] }));
    const m = motionOfPoints(pts);
    for (const p of pts) expect(m.at(p.angle * RAD)[0]).toBeCloseTo(p.value, 10);
    for (const at of [0, 40, 200]) {
      for (const k of [0, 1, 2]) expect(m.at(at * RAD - 1e-9)[k]).toBeCloseTo(m.at(at * RAD + 1e-9)[k], 5);
    }
    // A sampled sine comes back to the accuracy of a cubic spline, 5/384 h⁴.
    const sine = motionOfPoints(Array.from({ length: 36 }, (_, i) => ({ angle: 10 * i, value: Math.sin(10 * i * RAD) })));
    for (let d = 0; d < 360; d += 7) expect(sine.at(d * RAD)[0]).toBeCloseTo(Math.sin(d * RAD), 4);
  });
});

const translating = (form: FollowerShape['form'], roller = 0, offset = 0, base = 40): FollowerShape => ({
  form,
  roller,
  base,
  offset,
  motion: 'translating',
  distance: 0,
  arm: 0,
  side: 1,
});
const swinging = (form: FollowerShape['form'], roller = 0): FollowerShape => ({
  form,
  roller,
  base: 40,
  offset: 0,
  motion: 'swinging',
  distance: 120,
  arm: 100,
  side: 1,
});

describe('a cam’s profile', () => {
  it('is a circle round the axis where nothing moves', () => {
    const still = motionOfSegments([{ angle: 360, rise: 0, law: 'dwell' }]);
    for (const f of [translating('roller', 10), translating('roller', 10, 8), translating('flat'), swinging('roller', 10), swinging('flat')]) {
      const p = camProfile(f, still, 90);
      for (let i = 0; i < p.outline.length; i += 2) expect(Math.hypot(p.outline[i], p.outline[i + 1])).toBeCloseTo(40, 9);
    }
  });

  it('has a true curve within a micrometre of where it touches its follower, closed, and with the area of many such places', () => {
    for (const f of [translating('roller', 10), translating('roller', 10, 8), translating('flat'), swinging('roller', 10), swinging('flat')]) {
      const rise = f.motion === 'swinging' ? 0.2 : 12;
      const m = motionOfSegments([
        { angle: 130, rise, law: 'cycloidal' },
        { angle: 40, rise: 0, law: 'dwell' },
        { angle: 190, rise: -rise, law: '3-4-5' },
      ]);
      const { curve, outline } = camProfile(f, m, 3600);
      expect(curve.pieces.at(-1)!.to).toEqual(curve.start);
      const fine = flattened(curve, { turn: 0, tolerance: 1e-5 });
      const n = fine.length / 2;
      for (let i = 0; i < outline.length; i += 180) {
        let near = Infinity;
        for (let k = 0; k < n; k++) {
          const [ax, ay, bx, by] = [fine[2 * k], fine[2 * k + 1], fine[2 * ((k + 1) % n)], fine[2 * ((k + 1) % n) + 1]];
          const [dx, dy] = [bx - ax, by - ay];
          const t = Math.max(0, Math.min(1, ((outline[i] - ax) * dx + (outline[i + 1] - ay) * dy) / (dx * dx + dy * dy || 1)));
          near = Math.min(near, Math.hypot(outline[i] - ax - t * dx, outline[i + 1] - ay - t * dy));
        }
        expect(near).toBeLessThan(1e-3);
      }
      expect(areaOf(curve) / areaOf(polygon(outline))).toBeCloseTo(1, 5);
    }
  });

  it('is an eccentric circle where the flat follower moves in simple harmonic motion', () => {
    // y = e (1 − cos φ): the classical eccentric; its outline is a circle of radius base + e round a centre e away.
    const e = 8;
    const m = motionOfSegments([
      { angle: 180, rise: 2 * e, law: 'harmonic' },
      { angle: 180, rise: -2 * e, law: 'harmonic' },
    ]);
    const p = camProfile(translating('flat'), m, 180);
    for (let i = 0; i < p.outline.length; i += 2) expect(Math.hypot(p.outline[i] + e, p.outline[i + 1])).toBeCloseTo(40 + e, 9);
    expect(p.curvature).toBeCloseTo(40 + e, 3);
    expect(p.undercut).toBeUndefined();
  });

  it('has the pressure angle of tan α = (ds/dφ + e)/(d + s)', () => {
    // Shigley & Uicker, Theory of Machines and Mechanisms, eq. 5.33 (from memory); offset counts by the side on which it lies.
    const f = translating('roller', 10, 6);
    for (const phi of [0.4, 1, 1.7, 3.9]) {
      const [s, v] = riseAndFall.at(phi);
      const d = Math.sqrt(50 * 50 - 36);
      expect(Math.tan(touch(f, s, v).pressureAngle)).toBeCloseTo((v + 6) / (d + s), 12);
    }
  });

  it('is undercut by a flat follower where base + s + s″ falls below zero', () => {
    const steep = motionOfSegments([
      { angle: 60, rise: 25, law: 'cycloidal' },
      { angle: 60, rise: -25, law: 'cycloidal' },
      { angle: 240, rise: 0, law: 'dwell' },
    ]);
    const least = (base: number): number => camProfile(translating('flat', 0, 0, base), steep, 720).curvature;
    const flip = 25 * ((2 * Math.PI) / (Math.PI / 3) ** 2);
    expect(camProfile(translating('flat', 0, 0, 40), steep, 720).undercut).toBeDefined();
    expect(camProfile(translating('flat', 0, 0, flip), steep, 720).undercut).toBeUndefined();
    expect(least(60) - least(40)).toBeCloseTo(20, 6);
  });

  it('that is not undercut is touched everywhere by its follower alone, and one that is, is cut into: flat and roller, translating and swinging', () => {
    const swinging = (form: 'flat' | 'roller', base: number, roller: number, distance: number, side: 1 | -1): FollowerShape => ({
      ...translating(form, roller, 0, base),
      motion: 'swinging',
      distance,
      arm: 0.8 * distance,
      side,
    });
    fc.assert(
      fc.property(
        fc.constantFrom<'flat' | 'roller'>('flat', 'roller'),
        fc.boolean(),
        fc.constantFrom<1 | -1>(1, -1),
        fc.double({ min: 15, max: 60, noNaN: true }),
        fc.double({ min: 3, max: 25, noNaN: true }),
        fc.integer({ min: 40, max: 170 }),
        (form, swings, side, base, lift, angle) => {
          const f = swings ? swinging(form, base, 8, 3 * base, side) : translating(form, form === 'roller' ? 8 : 0, 0, base);
          const rise = swings ? lift / (2.4 * base) : lift;
          const motion = motionOfSegments([
            { angle, rise, law: 'cycloidal' },
            { angle: 20, rise: 0, law: 'dwell' },
            { angle, rise: -rise, law: 'cycloidal' },
            { angle: 340 - 2 * angle, rise: 0, law: 'dwell' },
          ]);
          const p = camProfile(f, motion, 720);
          if (Math.abs(p.curvature) < 1) return;
          // Independent of curvature: how far the outline lies beyond the follower's face, or inside its roller, at any of its places.
          let deepest = 0;
          for (let k = 0; k < 240; k++) {
            const phi = (k / 240) * 2 * Math.PI;
            const [y, dy] = motion.at(phi);
            const t = touch(f, y, dy);
            const [c, s] = [Math.cos(phi), Math.sin(phi)];
            for (let i = 0; i < p.outline.length; i += 2) {
              // From the cam's frame back to where it stands at this angle.
              const [x, z] = [c * p.outline[i] - s * p.outline[i + 1], s * p.outline[i] + c * p.outline[i + 1]];
              const beyond =
                form === 'flat'
                  ? (x - t.contact[0]) * t.normal[0] + (z - t.contact[1]) * t.normal[1]
                  : f.roller - Math.hypot(x - t.trace[0], z - t.trace[1]);
              deepest = Math.max(deepest, beyond);
            }
          }
          if (p.undercut === undefined) expect(deepest).toBeLessThan(0.02);
          // Where it is hardly undercut it is hardly cut into: more than the outline's points let one see.
          else expect(deepest).toBeGreaterThan(0.002);
        },
      ),
      { numRuns: 60, examples: [['flat', false, 1, 44.090134509679636, 3.8558751329470726, 40]] },
    );
  });
  it('is undercut by a roller larger than the pitch curve is round', () => {
    const sharp = motionOfSegments([
      { angle: 40, rise: 12, law: 'cycloidal' },
      { angle: 40, rise: -12, law: 'cycloidal' },
      { angle: 280, rise: 0, law: 'dwell' },
    ]);
    expect(camProfile(translating('roller', 30), sharp, 720).undercut).toBeDefined();
    expect(camProfile(translating('roller', 2), sharp, 720).undercut).toBeUndefined();
  });

  it('never enters its follower, whatever the follower: the outline turned under it only touches', () => {
    const shapes = [translating('knife'), translating('roller', 10, 5), translating('flat'), swinging('roller', 12), swinging('flat')];
    fc.assert(
      fc.property(fc.constantFrom(...shapes), fc.double({ min: 0, max: 6.28, noNaN: true }), (f, phi) => {
        const swing = f.motion === 'swinging';
        const m = motionOfSegments([
          { angle: 150, rise: swing ? 0.2 : 18, law: 'modified sine' },
          { angle: 30, rise: 0, law: 'dwell' },
          { angle: 180, rise: swing ? -0.2 : -18, law: 'cycloidal' },
        ]);
        const p = camProfile(f, m, 720);
        const [y, dy] = m.at(phi);
        const t = touch(f, y, dy);
        const c = Math.cos(phi),
          s = Math.sin(phi);
        let nearest = Infinity;
        for (let i = 0; i < p.outline.length; i += 2) {
          const u = c * p.outline[i] - s * p.outline[i + 1],
            v = s * p.outline[i] + c * p.outline[i + 1];
          const d =
            f.form === 'roller'
              ? Math.hypot(u - t.trace[0], v - t.trace[1]) - f.roller
              : f.form === 'flat'
                ? t.normal[0] * (t.contact[0] - u) + t.normal[1] * (t.contact[1] - v)
                : Math.hypot(u - t.trace[0], v - t.trace[1]);
          nearest = Math.min(nearest, d);
        }
        expect(nearest).toBeGreaterThan(-0.003);
        expect(nearest).toBeLessThan(0.6);
      }),
      { numRuns: 60 },
    );
  });
});
