import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import type { Design } from '../fields/types';
import { Builder } from '../testing/designs';
import { spur } from '../testing/gears';
import { type GearData, gearOutline, pairData } from '../teeth/index';
import { accuracyNumber, agmaAllowable, agmaBendingLife, agmaContactLife, agmaDistribution, agmaDynamic } from './agma';
import { agmaForm, loadShare, pittingFactor, pittingPoint } from './agma-form';
import { ratingOf } from './trial';
import { gearMaterial } from './gear-material';
import type { RatingLine } from './protocol';

const off = (is: number, due: number): number => Math.abs(is / due - 1);

describe('geometry factors of AGMA 908', () => {
  // Lewis's form factors, 20° full depth, load at the tip: Shigley, table 14-2; from memory. Y = t²/(6·l).
  it.each([
    [17, 0.303],
    [20, 0.322],
    [24, 0.337],
    [30, 0.359],
    [38, 0.384],
    [50, 0.409],
    [75, 0.435],
    [100, 0.447],
    [300, 0.472],
    [1e5, 0.485],
  ])('Lewis: %i teeth have Y %f', (z, Y) => {
    const f = agmaForm(spur(z, 1), 1, 'spur');
    expect(off(f.thickness ** 2 / (6 * f.height), Y)).toBeLessThan(0.035);
  });
  it('the section stands on the fillet of the generated tooth, and no other of it bends more', () => {
    for (const [teeth, shift] of [
      [20, 0],
      [35, 0.3],
      [60, -0.2],
    ]) {
      const g = spur(teeth, 1, { shift });
      const f = agmaForm(g, 1, 'spur');
      const top = g.baseRadius / Math.cos(f.loadAngle);
      // The tooth stands about the x axis.
      const flat = gearOutline(g, 0, { flank: 40, fillet: 800 });
      const points = Array.from({ length: flat.length / 2 }, (_, k) => [flat[2 * k], flat[2 * k + 1]] as const).filter(
        ([x, y]) => x > 0 && Math.abs(Math.atan2(y, x)) < Math.PI / teeth,
      );
      const least = Math.min(...points.filter(([x, y]) => x < top && y > 0 && Math.hypot(x, y) < g.pitchRadius).map(([x, y]) => (y * y) / (top - x)));
      expect(off(f.thickness ** 2 / 4 / f.height, least)).toBeLessThan(1e-3);
    }
  });
  it('bending: 17 teeth with 52 have YJ 0.30, 52 with 17 have 0.40 (Shigley, example 14-4, read off AGMA’s curves; from memory)', () => {
    // The rack of those curves: 1.4 deep with a tip of 0.35; teeth thinned by 0.024 for backlash.
    const rack = { dedendum: 1.4, fillet: 0.35, thinning: 0.024 };
    const [p, w] = [spur(17, 1, rack), spur(52, 1, rack)];
    const pair = pairData(p, w, 10);
    const J = (g: GearData): number => {
      const f = agmaForm(g, pair.transverseContactRatio, 'spur');
      return f.form / f.correction;
    };
    expect(off(J(p), 0.3)).toBeLessThan(0.04);
    expect(off(J(w), 0.4)).toBeLessThan(0.04);
  });
  it('pitting: at the pitch point cos φ·sin φ/2·i/(i + 1) (Shigley, eq. 14-23), 0.121 of 17 and 52 teeth; less at the inner point of single contact', () => {
    const [p, w] = [spur(17, 1), spur(52, 1)];
    const pair = pairData(p, w, 10);
    const phi = Math.PI / 9;
    const i = 52 / 17;
    const at = pittingFactor(p, w, pair, p.baseRadius * Math.tan(pair.workingAngle));
    expect(at).toBeCloseTo((Math.cos(phi) * Math.sin(phi) * i) / (2 * (i + 1)), 9);
    expect(at).toBeCloseTo(0.121, 3);
    expect(pittingFactor(p, w, pair, pittingPoint(p, w, pair, 'spur'))).toBeLessThan(at);
    expect(() => pittingFactor(p, w, pair, -1)).toThrow('below their base circles');
  });
  // 20°, whole depth 2.25, edge of the tool 0.25, thinned by 0.024, load at the highest point of single contact: I, J, J.
  it.each([
    [21, 21, 0.078, 0.33, 0.33],
    [21, 26, 0.084, 0.33, 0.35],
    [21, 35, 0.091, 0.34, 0.37],
    [21, 55, 0.102, 0.34, 0.4],
    [21, 135, 0.118, 0.35, 0.43],
    [26, 26, 0.079, 0.35, 0.35],
    [26, 35, 0.088, 0.36, 0.38],
    [26, 55, 0.101, 0.37, 0.41],
    [26, 135, 0.121, 0.38, 0.44],
    [35, 35, 0.08, 0.39, 0.39],
    [35, 55, 0.095, 0.4, 0.42],
    [35, 135, 0.12, 0.41, 0.45],
    [55, 55, 0.08, 0.43, 0.43],
    [55, 135, 0.112, 0.45, 0.47],
    [135, 135, 0.08, 0.49, 0.49],
  ])('tables of I and J: %i and %i teeth (AGMA 908-B89, from memory)', (z1, z2, I, J1, J2) => {
    const rack = { dedendum: 1.25, fillet: 0.25, thinning: 0.024 };
    const [p, w] = [spur(z1, 1, rack), spur(z2, 1, rack)];
    const pair = pairData(p, w, 10);
    const J = (g: GearData): number => {
      const f = agmaForm(g, pair.transverseContactRatio, 'spur');
      return f.form / f.correction;
    };
    expect(Math.abs(pittingFactor(p, w, pair, pittingPoint(p, w, pair, 'spur')) - I)).toBeLessThan(0.0006);
    // The tables print two figures, of which some are cut and not rounded.
    expect(Math.abs(J(p) - J1)).toBeLessThan(0.0105);
    expect(Math.abs(J(w) - J2)).toBeLessThan(0.0105);
  });
  it('helical: 17 and 52 teeth of 30° share by mN 0.665 about (Shigley, example 14-5: mN = pN/(0.95·Z); from memory)', () => {
    const beta = Math.PI / 6;
    const [p, w] = [spur(17, 2.54, { beta }), spur(52, 2.54, { beta: -beta })];
    const pair = pairData(p, w, 38.1);
    const share = loadShare(p, pair, 38.1, 'helical');
    const cosBase = Math.sqrt(1 - (Math.sin(beta) * Math.cos(p.alpha)) ** 2);
    // The textbook takes 0.95 of the longest lines of contact for their mean.
    expect(off(share, cosBase / (0.95 * pair.transverseContactRatio))).toBeLessThan(0.06);
    expect(pair.overlapRatio).toBeGreaterThan(1);
  });
});

describe('factors of AGMA 2101', () => {
  it('Shigley, examples 14-4: Kv 1.377 of Qv 6 at 4.07 m/s, KH 1.22 of 1.5 in on 1.7 in; life factors 0.977 and 0.948 at 10⁸ (from memory)', () => {
    expect(agmaDynamic(6, (Math.PI * 1.7 * 25.4 * 1800) / 60_000)).toBeCloseTo(1.377, 2);
    expect(agmaDistribution(1.5 * 25.4, 1.7 * 25.4)).toBeCloseTo(1.22, 2);
    const steel = (hardness: number): Exclude<ReturnType<typeof gearMaterial>, string> => {
      const m = gearMaterial({ materialGroup: 'through-hardened steel', hardness });
      if (typeof m === 'string') throw new Error(m);
      return m;
    };
    expect(agmaBendingLife(steel(240), 1e8)).toBeCloseTo(0.977, 3);
    expect(agmaContactLife(1e8)).toBeCloseTo(0.948, 3);
    // 240 HB: 31 350 and 106 400 psi.
    const allowed = agmaAllowable(steel(240)) as { bending: number; contact: number };
    expect(off(allowed.bending, 31_350 * 0.00689476)).toBeLessThan(0.002);
    expect(off(allowed.contact, 106_400 * 0.00689476)).toBeLessThan(0.002);
    // The lines of bending life meet at 3·10⁶ to what the figure shows.
    for (const hb of [200, 250, 360]) expect(off(agmaBendingLife(steel(hb), 3e6), agmaBendingLife(steel(hb), 3.0001e6))).toBeLessThan(0.02);
    expect(off(agmaContactLife(1e7), agmaContactLife(1.0001e7))).toBeLessThan(0.01);
  });
  it('what the standard does not give is a reason, not a figure', () => {
    expect(agmaDynamic(6, 60)).toBeUndefined();
    expect(accuracyNumber(7)).toBe(10);
    const iron = gearMaterial({ materialGroup: 'grey iron', hardness: 200 });
    expect(agmaAllowable(iron as never)).toMatch(/no stresses of AGMA for grey iron/);
  });
});

describe('a design rated by AGMA too', () => {
  const make = (gears: object, more: object = {}): Design => {
    const b = new Builder();
    // Shigley, example 14-4 in millimetres: 17 and 52 teeth of diametral pitch 10, 1.5 in wide, 4 hp at 1800 rev/min.
    const m = 2.54;
    const far = (m * 69) / 2;
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([far, 0, 0])];
    const wheel = { width: 38.1, materialGroup: 'through-hardened steel', accuracyGrade: 11, ...gears };
    b.mesh(b.gear(s1.member, 17, m, { hardness: 240, ...wheel }), b.gear(s2.member, 52, m, { hardness: 200, ...wheel }));
    b.motor(s1.joint, 1800);
    const torque = 2982.8 / ((1800 * 2 * Math.PI) / 60);
    b.load('joint-load', { joint: s2.joint, value: (-torque * 52) / 17 });
    const settings = { gravity: [0, 0, 0] as const, agma: true, ratingHours: 1e8 / 60 / 1800, flankSafety: 1, rootSafety: 1 };
    return { ...b.design, settings: { ...settings, ...more } } as Design;
  };
  const of = (d: Design, what: string): RatingLine[] => ratingOf(d).lines.filter((l) => l.what === what);
  it('Shigley, example 14-4: SF 5.62 and 6.82, SH 1.69 and 1.52 at reliability 90 %, sizes 1.043 and 1.052, I at the pitch point (from memory)', () => {
    const d = make({});
    const [a, b] = [...of(d, 'root, AGMA')].sort((x, y) => x.name.localeCompare(y.name));
    expect(figure(a, 'Ft')).toBeCloseTo(733, -1);
    expect(figure(a, 'Kv')).toBeCloseTo(1.377, 2);
    expect(figure(a, 'KH')).toBeCloseTo(1.22, 2);
    // Read off curves for another rack: the geometry factors are a few per cent apart, and so are the safeties.
    const asThere = (l: RatingLine, size: number): number => l.value / 0.85 / size;
    expect(off(asThere(a, 1.043) * (0.3 / figure(a, 'YJ')), 5.62)).toBeLessThan(0.02);
    expect(off(asThere(b, 1.052) * (0.4 / figure(b, 'YJ')), 6.82)).toBeLessThan(0.02);
    const [fa, fb] = [...of(d, 'flank, AGMA')].sort((x, y) => x.name.localeCompare(y.name));
    const toPitch = (l: RatingLine): number => Math.sqrt(0.121 / figure(l, 'ZI'));
    expect(off((fa.value / 0.85 / Math.sqrt(1.043)) * toPitch(fa), 1.69)).toBeLessThan(0.03);
    expect(off((fb.value / 0.85 / Math.sqrt(1.052)) * toPitch(fb) * 1.005, 1.52)).toBeLessThan(0.03);
    for (const l of [a, b]) expect(l.method).toContain('AGMA 2101');
  });
  it('bending goes with the load, pressure with its root; ISO stands beside it; nothing is added unasked', () => {
    const [one, two] = [make({}), make({}, { applicationFactor: 2 })];
    const at = (d: Design, what: string): number => Math.min(...of(d, what).map((l) => l.value));
    expect(at(one, 'root, AGMA') / at(two, 'root, AGMA')).toBeCloseTo(2, 9);
    expect(at(one, 'flank, AGMA') / at(two, 'flank, AGMA')).toBeCloseTo(Math.SQRT2, 9);
    expect(of(one, 'root')).toHaveLength(2);
    expect(of(make({}, { agma: false }), 'root, AGMA')).toEqual([]);
  });
  it('what AGMA does not cover is named', () => {
    const why = (gears: object): string =>
      ratingOf(make(gears))
        .unrated.map((u) => u.why)
        .join();
    expect(why({ materialGroup: 'nitrided steel', hardness: 700 })).toMatch(/by AGMA: no stresses of AGMA for nitrided steel here/);
    expect(why({ hardness: 360, contactLimit: 900, bendingLimit: 300 })).not.toMatch(/by AGMA/);
  });
});
