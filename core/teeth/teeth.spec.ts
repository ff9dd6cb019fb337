import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  formRadius,
  gearOutline,
  inverseInvolute,
  involute,
  isUndercut,
  pairData,
  pointedTip,
  basePitch,
  halfToothAt,
  spanRadius,
  rackContactLine,
  rackOutline,
  spanOverTeeth,
  spanTeeth,
  transverseAngle,
  undercutLimit,
} from './index';
import { spur } from '../testing/gears';

const RAD = Math.PI / 180;
describe('involute function', () => {
  // Published tables of inv α: Dudley's Gear Handbook, table of involute functions (from memory).
  it.each([
    [14.5, 0.0055448],
    [20, 0.0149044],
    [22.5, 0.0215145],
    [25, 0.0299753],
    [30, 0.0537515],
  ])('inv %f° is %f', (deg, inv) => {
    expect(involute(deg * RAD)).toBeCloseTo(inv, 6);
  });
  it('is undone by its inverse over the whole range', () => {
    fc.assert(fc.property(fc.double({ min: 0.02, max: 1.4, noNaN: true }), (a) => void expect(inverseInvolute(involute(a))).toBeCloseTo(a, 9)));
    expect(inverseInvolute(-1)).toBeNaN();
  });
});

describe('gear data', () => {
  // ISO 53:1998 profile A (haP = 1 m, hfP = 1.25 m, ρfP = 0.38 m, α = 20°) with ISO 21771:2007 diameters.
  it.each([
    [1, 20, 20, 22, 17.5],
    [2.5, 24, 60, 65, 53.75],
    [4, 18, 72, 80, 62],
    [10, 17, 170, 190, 145],
  ])('module %f with %i teeth has pitch, tip and root diameters %f, %f, %f', (m, z, d, da, df) => {
    const g = spur(z, m);
    expect(2 * g.pitchRadius).toBeCloseTo(d, 12);
    expect(2 * g.tipRadius).toBeCloseTo(da, 12);
    expect(2 * g.rootRadius).toBeCloseTo(df, 12);
    expect(2 * g.baseRadius).toBeCloseTo(d * Math.cos(20 * RAD), 12);
  });

  // Base tangent lengths for module 1, α = 20°: handbook tables (e.g.
  // Machinery's Handbook, measurement over several teeth); values from memory.
  it.each([
    [20, 3, 7.6604],
    [30, 4, 10.7526],
    [17, 2, 4.6663],
    [50, 6, 16.937],
  ])('the span of %i teeth over %i is %f', (z, k, w) => {
    expect(spanOverTeeth(spur(z), k)).toBeCloseTo(w, 3);
    expect(spanTeeth(spur(z), formRadius(spur(z)))).toBe(k);
  });

  // αt of a 20° / 15° helix: 20.6469°, a worked value of several textbooks (from memory).
  it('has the transverse pressure angle of a helical gear', () => expect(transverseAngle(20 * RAD, 15 * RAD) / RAD).toBeCloseTo(20.6469, 4));

  // Least teeth without undercut: 2 / sin² α = 17.097 at 20°, 31.9 at 14.5° (every textbook, e.g. Shigley, section 13-7).
  it('is undercut below 17.1 teeth at 20° and below 32 at 14.5°', () => {
    expect(undercutLimit(20 * RAD, 0, 0)).toBeCloseTo(17.097, 3);
    expect(undercutLimit(14.5 * RAD, 0, 0)).toBeCloseTo(31.9, 1);
    expect(isUndercut(spur(17))).toBe(true);
    expect(isUndercut(spur(18))).toBe(false);
    expect(isUndercut(spur(12, 1, { shift: 0.3 }))).toBe(false);
  });
});

describe('gear pairs', () => {
  // KHK, Gear Technical Reference, profile shifted spur gear: m 3, z 12/24, x 0.6/0.36 → αw 26.0886°, a 56.4999 mm (from memory).
  it('finds the working distance of profile-shifted gears', () => {
    const p = pairData(spur(12, 3, { shift: 0.6 }), spur(24, 3, { shift: 0.36 }));
    expect(p.workingAngle / RAD).toBeCloseTo(26.0886, 3);
    expect(p.workingDistance).toBeCloseTo(56.4999, 3);
  });
  // The same reference, internal pair: m 3, z 16/24, x 0/0.5 → αw 31.0937°, a 13.1683 mm (from memory).
  it('finds the working distance of an internal pair', () => {
    const p = pairData(spur(16, 3), spur(24, 3, { internal: true, shift: 0.5 }));
    expect(p.workingAngle / RAD).toBeCloseTo(31.0937, 3);
    expect(p.workingDistance).toBeCloseTo(13.1683, 3);
  });
  // Independent formula: contact ratio from the angles of approach and recess (Norton, Design of Machinery, eq. 9.6).
  it('has the contact ratio that the length of action gives', () => {
    const a = spur(20, 2),
      b = spur(40, 2);
    const C = a.pitchRadius + b.pitchRadius,
      phi = 20 * RAD;
    const Z =
      Math.sqrt((a.pitchRadius + 2) ** 2 - (a.pitchRadius * Math.cos(phi)) ** 2) +
      Math.sqrt((b.pitchRadius + 2) ** 2 - (b.pitchRadius * Math.cos(phi)) ** 2) -
      C * Math.sin(phi);
    expect(pairData(a, b).transverseContactRatio).toBeCloseTo(Z / (Math.PI * 2 * Math.cos(phi)), 12);
    // With a rack: 2·ha/sin 2α and the pinion's own part (Norton, the same with one radius without end).
    const r = rackContactLine(a, 2, 3, a.pitchRadius);
    const recess = Math.sqrt(22 ** 2 - (20 * Math.cos(phi)) ** 2) - 20 * Math.sin(phi);
    // ISO 53 profile A: 1.25 less 0.38·(1 − sin 20°) leaves 0.99997 of straight flank to cut with.
    expect(r.length).toBeCloseTo(recess + 2 / Math.sin(phi), 3);
    expect(r.length / basePitch(a)).toBeGreaterThan(pairData(a, spur(200, 2)).transverseContactRatio);
  });
});

describe('the path of contact', () => {
  it('ends where an undercut flank begins, and at a pointed tip', () => {
    // An undercut pinion loses the part of the line below its form circle: the same pair with its whole length of action is longer.
    const [a, b] = [spur(8), spur(40)];
    const p = pairData(a, b);
    const far = p.workingDistance * Math.sin(p.workingAngle);
    const rho = (g: typeof a, r: number): number => Math.sqrt(r * r - g.baseRadius ** 2);
    expect(formRadius(a)).toBeGreaterThan(a.baseRadius);
    expect(p.contact.length).toBeCloseTo(rho(a, pointedTip(a, a.tipRadius)) - Math.max(rho(a, formRadius(a)), far - rho(b, b.tipRadius)), 9);
    const sharp = spur(12, 1, { shift: 0.9 });
    expect(pointedTip(sharp, sharp.tipRadius)).toBeLessThan(sharp.tipRadius);
    const q = pairData(sharp, b);
    const [low, high] = [q.workingDistance * Math.sin(q.workingAngle) - rho(b, b.tipRadius), rho(sharp, pointedTip(sharp, sharp.tipRadius))];
    expect(q.contact.length).toBeCloseTo(high - Math.max(low, rho(sharp, formRadius(sharp))), 9);
  });
  it('never reaches past a base tangent point', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 5, max: 30 }),
        fc.integer({ min: 12, max: 120 }),
        fc.double({ min: -0.4, max: 0.6, noNaN: true }),
        (z1, z2, x) => {
          const [a, b] = [spur(z1, 2, { shift: x }), spur(z2, 2)];
          const p = pairData(a, b);
          if (p.workingAngle > 0) expect(p.contact.length).toBeLessThanOrEqual(p.workingDistance * Math.sin(p.workingAngle) + 1e-9);
        },
      ),
    );
  });
  it('of an internal pair is that of the textbook while the flanks reach it', () => {
    // Length of action of an internal pair: ρa1 − ρa2 + a·sin α (Norton; KHK, contact ratio of internal gears).
    const [a, b] = [spur(24, 2, { tipCut: 0.1 }), spur(72, 2, { internal: true, tipCut: 0.3 })];
    const p = pairData(a, b);
    const rho = (g: typeof a): number => Math.sqrt(g.tipRadius ** 2 - g.baseRadius ** 2);
    expect(p.contact.length).toBeCloseTo(rho(a) - rho(b) + 48 * Math.sin(20 * RAD), 9);
    // With full tips the ring would reach below the involute that a rack leaves on the wheel.
    expect(pairData(spur(24, 2), spur(72, 2, { internal: true })).contact.beyondFirst).toBeGreaterThan(0.5);
  });
  it('on a rack, ends where the rack’s straight flank does', () => {
    const g = spur(30, 2);
    expect(rackContactLine(g, 2, 0.5, g.pitchRadius).length).toBeCloseTo((2 + 0.5) / Math.sin(20 * RAD), 3);
  });
});

describe('backlash', () => {
  const alpha = 20 * RAD;
  it('is the sum of the thinnings at the reference distance', () => {
    const p = pairData(spur(20, 2, { thinning: 0.05 }), spur(40, 2, { thinning: 0.03 }));
    expect(p.backlash).toBeCloseTo(0.08, 12);
    expect(p.normalBacklash).toBeCloseTo(0.08 * Math.cos(alpha), 12);
    expect(p.turnA).toBeCloseTo(0.08 / 20, 12);
    expect(p.turnB).toBeCloseTo(0.08 / 40, 12);
  });
  it('of a pair moved apart is 2·aw·(inv αw − inv α) (Dudley, Gear Handbook: exact; 2·Δa·tan α for little)', () => {
    const p = pairData(spur(20, 2), spur(40, 2), 0, 60.3);
    expect(p.backlash).toBeCloseTo(2 * 60.3 * (involute(p.workingAngle) - involute(alpha)), 9);
    expect(p.backlash / (2 * 0.3 * Math.tan(alpha))).toBeCloseTo(1, 1);
  });
  it('is none at the working distance, whatever the shifts, helix and sort', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 12, max: 40 }),
        fc.integer({ min: 60, max: 120 }),
        fc.double({ min: -0.3, max: 0.6, noNaN: true }),
        fc.double({ min: 0, max: 0.5, noNaN: true }),
        fc.boolean(),
        (z1, z2, x, beta, internal) => {
          const p = pairData(
            spur(z1, 3, { shift: x, beta }),
            spur(z2, 3, { internal, beta: internal ? beta : -beta, shift: internal ? x + 0.2 : 0.1 }),
          );
          expect(p.backlash).toBeCloseTo(0, 9);
        },
      ),
    );
  });
});

describe('measuring over teeth', () => {
  it('touches involutes: between the form circle and the tip, or is not offered', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 5, max: 150 }),
        fc.double({ min: -0.5, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 0.6, noNaN: true }),
        (z, x, beta) => {
          const g = spur(z, 2, { shift: x, beta });
          const k = spanTeeth(g, formRadius(g));
          if (k === undefined) return;
          expect(spanRadius(g, k)).toBeGreaterThanOrEqual(formRadius(g));
          expect(spanRadius(g, k)).toBeLessThanOrEqual(g.tipRadius);
          // There the anvils stand over k teeth: half the way round between them is k − 1 pitches and one tooth.
          const r = spanRadius(g, k);
          const between = (Math.PI * (k - 1)) / z + halfToothAt(g, r);
          if (beta === 0) expect(Math.asin(spanOverTeeth(g, k) / 2 / r)).toBeCloseTo(Math.acos(g.baseRadius / r), 9);
          expect(between).toBeGreaterThan(0);
        },
      ),
    );
  });
});

describe('outlines', () => {
  const polar = (o: number[]): { r: number; a: number }[] =>
    Array.from({ length: o.length / 2 }, (_, i) => ({ r: Math.hypot(o[2 * i], o[2 * i + 1]), a: Math.atan2(o[2 * i + 1], o[2 * i]) }));

  it('puts every flank point on the involute, by the string that unwinds from the base circle', () => {
    const g = spur(30, 2);
    const start = formRadius(g);
    for (const { r, a } of polar(gearOutline(g))
      .slice(0, 60)
      .filter((p) => p.r > start + 1e-6 && p.r < g.tipRadius - 1e-6)) {
      // Unwound string: roll t gives r = rb √(1+t²) at polar angle t − atan t from
      // where it left; the pitch point sits half a tooth from the centre line.
      const t = Math.sqrt((r / g.baseRadius) ** 2 - 1);
      const tp = Math.tan(20 * RAD);
      const off = Math.PI / (2 * 30) - (t - Math.atan(t)) + (tp - 20 * RAD);
      const tau = (2 * Math.PI) / 30;
      const fromCentre = Math.abs(a - tau * Math.round(a / tau));
      expect(fromCentre).toBeCloseTo(off, 9);
    }
  });

  it('stays between root and tip circle, goes round once, and repeats at the tooth pitch', () => {
    fc.assert(
      fc.property(fc.integer({ min: 8, max: 90 }), fc.double({ min: -0.2, max: 0.5, noNaN: true }), fc.boolean(), (z, shift, internal) => {
        const g = spur(z, 3, { shift, internal: internal && z > 40 });
        const o = gearOutline(g);
        let area = 0;
        for (let i = 0; i < o.length; i += 2) area += (o[i] * o[(i + 3) % o.length] - o[(i + 2) % o.length] * o[i + 1]) / 2;
        const lo = Math.min(g.rootRadius, g.tipRadius),
          hi = Math.max(g.rootRadius, g.tipRadius);
        expect(area).toBeGreaterThan(Math.PI * lo * lo * 0.98);
        expect(area).toBeLessThan(Math.PI * hi * hi);
        for (const { r } of polar(o)) {
          expect(r).toBeGreaterThan(lo - 1e-6);
          expect(r).toBeLessThan(hi + 1e-6);
        }
        expect((o.length / 2) % z).toBe(0);
      }),
      { numRuns: 60 },
    );
  });

  it('has half a pitch of tooth on the reference line of a rack', () => {
    const o = rackOutline({ module: 2, alpha: 20 * RAD, beta: 0, teeth: 5, addendum: 1, dedendum: 1.25, fillet: 0.38, height: 10 });
    const crossings: number[] = [];
    for (let i = 0; i < o.length; i += 2) {
      const [x0, y0, x1, y1] = [o[i], o[i + 1], o[(i + 2) % o.length], o[(i + 3) % o.length]];
      if (y0 * y1 < 0 && y0 + y1 > -15) crossings.push(x0 + ((x1 - x0) * y0) / (y0 - y1));
    }
    const inner = crossings.sort((a, b) => a - b).filter((x) => Math.abs(x) < 9);
    for (let i = 1; i < inner.length; i++) expect(inner[i] - inner[i - 1]).toBeCloseTo(Math.PI, 9);
  });

  it('cuts a pointed tip where the flanks meet', () => {
    const g = spur(10, 1, { shift: 1.1 });
    expect(pointedTip(g, g.tipRadius)).toBeLessThan(g.tipRadius);
    expect(pointedTip(spur(30), 16)).toBe(16);
  });
});
