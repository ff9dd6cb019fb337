import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import type { Design } from '../fields/types';
import { Builder } from '../testing/designs';
import {
  bendingStress,
  bucklingDeflection,
  curvatureFactor,
  helixRate,
  leastGap,
  shearStress,
  solidLength,
  springFatigue,
  torsionRate,
  wireStrength,
} from './coil';
import { ratingOf } from './trial';
import type { RatingLine } from './protocol';

const INCH = 25.4;
const LBF = 4.448_221_615;
const PSI = 6.894_757_293e-3;

describe('helical springs', () => {
  it('Shigley, example 10-1: wire 0.037 in, coil 0.400 in, 10.5 active coils, G 11.85 Mpsi: 4.13 lbf/in (from memory)', () => {
    const helix = { wire: 0.037 * INCH, mean: 0.4 * INCH, coils: 10.5 };
    expect((helixRate(helix, 11.85e6 * PSI) * INCH) / LBF).toBeCloseTo(4.13, 2);
  });
  it('Shigley, example 10-4: wire 0.092 in, coil 0.4705 in, 5 to 35 lbf: τa 29.7 and τm 39.6 kpsi, by Gerber 1.20 (from memory)', () => {
    const helix = { wire: 0.092 * INCH, mean: 0.4705 * INCH, coils: 21 };
    // His KB = (4C + 2)/(4C − 3).
    const C = 0.4705 / 0.092;
    const KB = (4 * C + 2) / (4 * C - 3);
    expect(KB).toBeCloseTo(1.287, 2);
    const [ta, tm] = [KB * shearStress(helix, 15 * LBF), KB * shearStress(helix, 20 * LBF)];
    expect(ta / PSI / 1e3).toBeCloseTo(29.7, 1);
    expect(tm / PSI / 1e3).toBeCloseTo(39.6, 1);
    const tensile = (201e3 / 0.092 ** 0.145) * PSI;
    expect(springFatigue(ta, tm, tensile)).toBeCloseTo(1.2, 1);
    // The factor of EN 13906 differs by little.
    expect(Math.abs(curvatureFactor(helix) / KB - 1)).toBeLessThan(0.01);
  });
  it('a torsion spring gives E·d⁴/(64·D·n) a radian, and 32·M/(π·d³) is the stress of a bent bar', () => {
    const helix = { wire: 4, mean: 32, coils: 6 };
    expect(Math.abs((torsionRate(helix) * 180) / Math.PI / ((206_000 * 4 ** 4) / (64 * 32 * 6)) - 1)).toBeLessThan(1e-4);
    expect(bendingStress(helix, 1000)).toBeCloseTo(1000 / ((Math.PI * 64) / 32), 9);
  });
  it('on parallel seats never buckles up to L0/D = 5.2, and later the longer it is the sooner (EN 13906-1; Shigley, eq. 10-12)', () => {
    const of = (length: number): number => bucklingDeflection({ wire: 2, mean: 20, coils: 8 }, length);
    expect(of(5.1 * 20)).toBe(Infinity);
    expect(of(5.3 * 20)).toBeLessThan(Infinity);
    expect(of(160) / 160).toBeLessThan(of(120) / 120);
    // Very slender: π²·D²·(2G + E)/(2·ν²·L0·(2G·(…))) tends to the Euler form, in which s·L0 is constant.
    expect((of(4000) * 4000) / (of(8000) * 8000)).toBeCloseTo(1, 2);
  });
  it('solid length and least gaps (EN 13906-1): (n + 2)·d, n·(0.0015·D²/d + 0.1·d)', () => {
    const helix = { wire: 2, mean: 20, coils: 8 };
    expect(solidLength(helix)).toBe(20);
    expect(leastGap(helix)).toBeCloseTo(4, 9);
  });
  it('wire of 1 mm bears 1 720, 1 980 and 2 220 MPa, thicker wire less (EN 10270-1, by its lines; from memory)', () => {
    expect((['SL', 'SM', 'SH'] as const).map((w) => wireStrength(w, 1))).toEqual([1720, 1980, 2220]);
    expect(wireStrength('SH', 10)).toBeCloseTo(1400, 9);
  });
});

describe('the rating of springs', () => {
  /** A slide pressed by a spring of 3 N/mm by 20 mm at its reference position. */
  function pressed(coil: object, type: 'joint-spring' | 'spring' = 'joint-spring'): Design {
    const b = new Builder().weightless();
    const s = b.slide([0, 0, 0], [1, 0, 0]);
    b.motor(s.joint, 10);
    const stated = { rate: 3, free: type === 'spring' ? 80 : 20, ...coil };
    if (type === 'joint-spring') b.load(type, { joint: s.joint, ...stated });
    else b.load(type, { member: s.member, at: [0, 0, 0], otherAt: [100, 0, 0], ...stated });
    return b.design;
  }
  // R = 81 500·2⁴/(8·20³·6.79) = 3.0 N/mm
  const COIL = { coil: 'compression', wireDiameter: 2, coilDiameter: 20, coils: 6.79, wire: 'SM', coilLength: 60 };
  const lines = (d: Design): RatingLine[] => ratingOf(d).lines.filter((l) => l.what.startsWith('spring'));
  it.each(['joint-spring', 'spring'] as const)('a %s by hand: 60 N in a coil of 2 × 20 mm, stress, travel and its rate', (type) => {
    const all = lines(pressed(COIL, type));
    const stress = all.find((l) => l.what === 'spring, stress')!;
    expect(figure(stress, 'F')).toBeCloseTo(60, 6);
    expect(figure(stress, 'τ')).toBeCloseTo((8 * 20 * 60) / (Math.PI * 8), 6);
    expect(stress.value).toBeCloseTo((0.5 * (1980 - 740 * Math.log10(2))) / figure(stress, 'τ'), 9);
    expect(stress.assumptions.join()).not.toContain('% off');
    const travel = all.find((l) => l.what === 'spring, travel')!;
    expect(travel.value).toBeCloseTo((60 - 8.79 * 2 - 6.79 * 0.5) / (60 / figure(travel, 'R')), 6);
    expect(all.map((l) => l.what)).not.toContain('spring, buckling');
    expect(lines(pressed({ ...COIL, coilLength: 140 }, type)).map((l) => l.what)).toContain('spring, buckling');
  });
  it('says where the coil does not give the rate that is stated, and what is not stated', () => {
    const off = lines(pressed({ ...COIL, coils: 4 }))[0];
    expect(off.assumptions.join()).toContain('its coil gives a rate of 5.09 N/mm, 70 % off that stated');
    const whys = (coil: object): string[] => ratingOf(pressed(coil)).unrated.map((u) => u.why);
    expect(whys({})).toContain('the coil of the spring is not stated');
    expect(whys({ coil: 'compression' })).toContain('wire, diameter or coils of the spring are not stated');
    expect(whys({ ...COIL, wire: undefined })).toContain('the wire of the spring is not stated');
    expect(whys({ ...COIL, coil: 'torsion' })).toContain('a torsion spring is rated at a turning joint');
    expect(whys({ ...COIL, coilLength: undefined })).toContain('the unloaded length of its coil is not stated: no solid length or buckling');
  });
  it('a torsion spring of a turning joint: moment, stress against 0.7 Rm', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    b.motor(s.joint, 10);
    b.load('joint-spring', { joint: s.joint, rate: 0.02, free: 90, coil: 'torsion', wireDiameter: 3, coilDiameter: 24, coils: 9.5, wire: 'SH' });
    const [l] = lines(b.design);
    expect(figure(l, 'M')).toBeCloseTo(1.8, 6);
    expect(l.value).toBeCloseTo((0.7 * (2220 - 820 * Math.log10(3))) / ((32 * 1800) / (Math.PI * 27)), 6);
  });
  it('in a run: fatigue by the least and the greatest force', () => {
    const d = pressed(COIL);
    d.sources[0] = { ...d.sources[0], ...{ profile: 'to and fro', amount: 15, time: 2 } };
    const design: Design = { ...d, runs: [{ id: 'r1', name: 'Strokes', until: 'time', duration: 2, frames: 41 }] };
    const fatigue = lines(design).find((l) => l.what === 'spring, fatigue')!;
    expect(fatigue.case).toBe('Strokes');
    const k = (10 + 0.5) / (10 - 0.75);
    // From 60 N at home to 15 N at the end of its way.
    expect(figure(fatigue, 'τa')).toBeCloseTo((k * (8 * 20 * 45)) / (Math.PI * 8) / 2, 4);
    expect(figure(fatigue, 'τm')).toBeCloseTo((k * (8 * 20 * 75)) / (Math.PI * 8) / 2, 4);
  });
});
