import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Builder } from '../testing/designs';
import { type RatchetWheel, elementProblems, ratchetDiameter, ratchetOutline } from './index';

const wheel = (more: Partial<RatchetWheel>): RatchetWheel => ({
  id: 'w',
  name: 'W',
  type: 'ratchet-wheel',
  member: 'm',
  teeth: 24,
  diameter: 120,
  depth: 8,
  width: 12,
  ...more,
});
const points = (o: number[]): [number, number][] => Array.from({ length: o.length / 2 }, (_, i) => [o[2 * i], o[2 * i + 1]]);
const area = (o: number[]): number =>
  points(o).reduce((s, [x, y], i, all) => s + (x * all[(i + 1) % all.length][1] - y * all[(i + 1) % all.length][0]) / 2, 0);

describe('the profile of a ratchet wheel', () => {
  it('by module and teeth has their product for its diameter', () => {
    expect(ratchetDiameter(wheel({ diameter: undefined, module: 5 }))).toBe(120);
    expect(elementProblems(wheel({ diameter: undefined })).map((p) => p.key)).toEqual(['ratchet-size']);
  });
  it('has faces at the stated angle to the radius: radial, hooked, or leaning back', () => {
    for (const faceAngle of [0, 12, -15]) {
      const [root, tip] = points(ratchetOutline(wheel({ faceAngle })));
      // At the tip, between the radius and the face from there down to the root; hooked faces have their root behind the tip.
      const down = [root[0] - tip[0], root[1] - tip[1]];
      const angle = Math.atan2(tip[0] * down[1] - tip[1] * down[0], -(tip[0] * down[0] + tip[1] * down[1]));
      expect((angle * 180) / Math.PI).toBeCloseTo(faceAngle, 9);
      expect(Math.hypot(...root)).toBeCloseTo(52, 9);
      expect(Math.hypot(...tip)).toBeCloseTo(60, 9);
    }
  });
  it('has tips of the stated land, and curved backs stand above straight ones', () => {
    const o = points(ratchetOutline(wheel({ land: 3 })));
    expect(Math.atan2(o[2][1], o[2][0]) * 60).toBeCloseTo(3, 9);
    expect(area(ratchetOutline(wheel({ back: 'curved', backRadius: 30 })))).toBeGreaterThan(area(ratchetOutline(wheel({}))));
    expect(elementProblems(wheel({ land: 15 })).map((p) => p.key)).toEqual(['no-tooth']);
  });
  it('of the other hand is its mirror, and any is one closed line round the axis', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 6, max: 60 }),
        fc.integer({ min: -30, max: 20 }),
        fc.double({ min: 0, max: 2, noNaN: true }),
        fc.constantFrom<'straight' | 'curved'>('straight', 'curved'),
        (teeth, faceAngle, land, back) => {
          const one = ratchetOutline(wheel({ teeth, faceAngle, land, back, depth: 5 }));
          const other = ratchetOutline(wheel({ teeth, faceAngle, land, back, depth: 5, free: 'back' }));
          expect(area(one)).toBeGreaterThan(0);
          expect(area(other)).toBeCloseTo(area(one), 6);
          const mirrored = points(other).map(([x, y]) => [x, -y]);
          expect(mirrored.reverse()[0].map((v) => v.toFixed(9))).toEqual(points(one)[0].map((v) => v.toFixed(9)));
          expect(Math.max(...points(one).map((p) => Math.hypot(...p)))).toBeLessThan(60 + 3);
        },
      ),
    );
  });
});

describe('the force of a pawl', () => {
  const held = (faceAngle: number, free: 'forward' | 'back' = 'forward') => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    const w = b.element('ratchet-wheel', s.member, { teeth: 24, diameter: 120, depth: 8, width: 12, faceAngle, free });
    // Its nose at the tips on the +x side, 60 mm from the axis.
    const p = b.element('pawl', 'frame', {
      length: 50,
      width: 10,
      at: [60, free === 'forward' ? -50 : 50, 0],
      axis: [0, 0, 1],
      up: [0, free === 'forward' ? 1 : -1, 0],
    });
    b.couple('ratchet', { a: w, b: p });
    b.load('joint-load', { joint: s.joint, value: free === 'forward' ? -12 : 12 });
    const a = analyse(b.design);
    a.forces.evaluate();
    return { a, r: a.forces.reactions() };
  };
  it('stands at its nose, so that the wheel’s bearing carries torque over radius', () => {
    // 12 N·m at 60 mm: 200 N along y on the wheel, and as much back from its bearing.
    for (const [free, sign] of [
      ['forward', -1],
      ['back', 1],
    ] as const) {
      const { r } = held(0, free);
      expect(r[1] * sign).toBeCloseTo(200, 6);
      expect(r[0]).toBeCloseTo(0, 6);
    }
  });
  it('of a hooked face pulls the pawl in, and leans on the bearing by tan κ; one that leans back past friction is said to let go', () => {
    const hooked = held(12);
    expect(hooked.r[0]).toBeCloseTo(-200 * Math.tan((12 * Math.PI) / 180), 6);
    expect(hooked.a.findings.map((f) => f.code)).not.toContain('ratchet-lets-go');
    expect(held(-12).a.findings.map((f) => f.code)).toContain('ratchet-lets-go');
    expect(held(-7).a.findings.map((f) => f.code)).not.toContain('ratchet-lets-go');
  });
});
