import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { NOTCH_FORMS, SHAFT_STEELS } from '../fields/shaft-rating';
import { Builder } from '../testing/designs';
import {
  STRESSES,
  type Section,
  type SectionStress,
  concentration,
  fatigueSafety,
  notchFactors,
  sectionOf,
  sectionStrength,
  yieldSafety,
} from './din-743';
import { ratingOf } from './trial';
import { enduranceLimit, goodmanSafety, notchSensitivity } from './goodman';
import { savedRuns } from './instants';
import { fitHolds, fitPressure, fitStress } from './press-fit';
import type { RatingLine } from './protocol';
import { pinStress, splinePressure } from './splines';
import { rate } from './rate';
import { keyPressure } from './keys';
import { parallelKey } from '../elements/index';
import { strengthOf } from './shaft-steel';

const off = (got: number, wanted: number): number => Math.abs(got / wanted - 1);

describe('strength of shafts by DIN 743', () => {
  it('α of shoulders: the fits A·(r/d)^b that Norton’s Machine Design prints to Peterson’s charts, within 7 and 10 % (from memory)', () => {
    const bending: [number, number, number][] = [
      [2, 0.90879, -0.28598],
      [1.5, 0.93836, -0.25759],
      [1.2, 0.97098, -0.21796],
      [1.1, 0.9512, -0.23757],
    ];
    const torsion: [number, number, number][] = [
      [2, 0.86331, -0.23865],
      [1.33, 0.84897, -0.23161],
      [1.2, 0.83425, -0.21649],
    ];
    // Fillets that are whole quarters of a circle, as the charts show them: r ≤ t.
    for (const r of [0.05, 0.1, 0.15, 0.2]) {
      for (const [D, A, b] of bending.filter(([ratio]) => r <= (ratio - 1) / 2 + 1e-9)) {
        expect(off(concentration('shoulder', 'bending', 100, 100 * D, 100 * r), A * r ** b), `${D} ${r}`).toBeLessThan(0.07);
      }
      for (const [D, A, b] of torsion.filter(([ratio]) => r <= (ratio - 1) / 2 + 1e-9)) {
        expect(off(concentration('shoulder', 'torsion', 100, 100 * D, 100 * r), A * r ** b), `${D} ${r}`).toBeLessThan(0.1);
      }
    }
  });
  it('a deep shallow-curved groove goes to the smooth bar, a sharp one grows with 1/√r; a shoulder has less than a groove', () => {
    for (const kind of ['along', 'bending', 'torsion'] as const) {
      const at = (r: number): number => concentration('round groove', kind, 40, 50, r) - 1;
      expect(at(1e5)).toBeLessThan(1e-3);
      expect(at(1e-4) / at(4e-4)).toBeCloseTo(2, 2);
      expect(concentration('shoulder', kind, 40, 50, 2)).toBeLessThan(concentration('round groove', kind, 40, 50, 2));
    }
  });
  it('size: 42CrMo4 keeps its 1 100 MPa up to 16 mm and has two thirds of it at 300 mm; structural steel keeps its up to 100 mm (DIN 743-2, from memory)', () => {
    expect(strengthOf('42CrMo4 quenched and tempered', 16)).toMatchObject({ tensile: 1100, yield: 900, hard: false });
    expect(strengthOf('42CrMo4 quenched and tempered', 300).tensile / 1100).toBeCloseTo(0.669, 3);
    expect(strengthOf('E335', 100).tensile).toBe(590);
    expect(strengthOf('E335', 100).yield / 335).toBeCloseTo(1 - 0.26 * Math.log10(100 / 32), 9);
    expect(strengthOf('16MnCr5 case-hardened', 160).tensile / 1000).toBeCloseTo(0.6, 2);
    for (const s of SHAFT_STEELS) {
      for (let d = 5; d < 500; d *= 1.2) expect(strengthOf(s, d * 1.2).tensile).toBeLessThanOrEqual(strengthOf(s, d).tensile);
    }
  });
  it('β of a keyway and a press fit on 40 mm: 3.0 and 2.7 at 1 000 MPa (DIN 743-2, table 1, from memory)', () => {
    const steel = { tensile: 1000, yield: 800, hard: false, said: '' };
    const on = (form: Section['form'], diameter = 40): ReturnType<typeof notchFactors>['beta'] =>
      notchFactors({ form, diameter, bore: 0, roughness: 10 }, steel).beta;
    expect(on('keyway').bending).toBeCloseTo(3, 9);
    expect(on('keyway').torsion).toBeCloseTo(1.78, 9);
    expect(on('press fit').bending).toBeCloseTo(2.7, 9);
    expect(on('press fit').torsion).toBeCloseTo(1.755, 9);
    expect(on('two keyways').bending).toBeGreaterThan(on('keyway').bending);
    expect(on('keyway', 100).bending).toBeGreaterThan(on('keyway').bending);
  });

  const stress = (mean: Partial<SectionStress['mean']>, amplitude: Partial<SectionStress['mean']>): SectionStress => {
    const none = { along: 0, bending: 0, torsion: 0 };
    const [m, a] = [
      { ...none, ...mean },
      { ...none, ...amplitude },
    ];
    return { mean: m, amplitude: a, greatest: { along: m.along + a.along, bending: m.bending + a.bending, torsion: m.torsion + a.torsion } };
  };
  const plain: Section = { form: 'plain', diameter: 20, bore: 0, roughness: 1 };
  const steel = strengthOf('C45E quenched and tempered', 16);
  it('a small polished bar bears half its tensile strength reversed in bending, 0.3 in torsion, 0.4 along (DIN 743-3)', () => {
    const small = { ...plain, diameter: 7.5 };
    const strength = sectionStrength(small, steel);
    for (const [kind, part] of [
      ['bending', 0.5],
      ['torsion', 0.3],
      ['along', 0.4],
    ] as const) {
      expect(fatigueSafety(stress({}, { [kind]: part * 700 }), strength)).toBeCloseTo(1, 9);
    }
    // Torsion that is steady wears nothing; pulsating, it bears less than reversed counts by its mean: Smith's line by hand.
    expect(fatigueSafety(stress({ torsion: 200 }, {}), strength)).toBe(Infinity);
    const psi = 210 / (2 * 700 - 210);
    expect(fatigueSafety(stress({ torsion: 100 }, { torsion: 100 }), strength)).toBeCloseTo(210 / (1 + psi) / 100, 9);
  });
  it('yields by distortion energy: 1.2·σS in bending, 1.2·σS/√3 in torsion of a full bar, and by both', () => {
    const strength = sectionStrength(plain, steel);
    expect(yieldSafety(stress({ bending: 490 }, {}), strength)).toBeCloseTo(1.2, 9);
    expect(yieldSafety(stress({ torsion: 490 / Math.sqrt(3) }, {}), strength)).toBeCloseTo(1.2, 9);
    expect(yieldSafety(stress({ along: 490 }, {}), strength)).toBeCloseTo(1, 9);
    expect(yieldSafety(stress({ bending: 490, torsion: 490 / Math.sqrt(3) }, {}), strength)).toBeCloseTo(1.2 / Math.SQRT2, 9);
  });
  it('twice the load has half the safety, whatever the notch; a sharper fillet concentrates more, a rougher surface and a bore bear less', () => {
    const seen = new Set<string>();
    fc.assert(
      fc.property(
        fc.constantFrom(...NOTCH_FORMS, 'keyway' as const, 'two keyways' as const),
        fc.constantFrom(...SHAFT_STEELS),
        fc.double({ min: 8, max: 140, noNaN: true }),
        fc.double({ min: 0.02, max: 0.4, noNaN: true }),
        fc.double({ min: 1.02, max: 1.6, noNaN: true }),
        fc.array(fc.double({ min: 0.1, max: 300, noNaN: true }), { minLength: 6, maxLength: 6 }),
        (form, named, d, r, D, [a, b, c, e, f, g]) => {
          seen.add(form).add(named);
          const s: Section = { form, diameter: d, bore: 0, outer: D * d, radius: r * d, width: 0.1 * d, roughness: 6 };
          const m = strengthOf(named, d);
          const at = (k: number): SectionStress =>
            stress({ along: k * a, bending: k * b, torsion: k * c }, { along: k * e, bending: k * f, torsion: k * g });
          const S = fatigueSafety(at(1), sectionStrength(s, m));
          expect(S).toBeGreaterThan(0);
          expect(fatigueSafety(at(2), sectionStrength(s, m)) / S).toBeCloseTo(0.5, 9);
          expect(yieldSafety(at(2), sectionStrength(s, m)) / yieldSafety(at(1), sectionStrength(s, m))).toBeCloseTo(0.5, 9);
          const [bears, rough] = [sectionStrength(s, m), sectionStrength({ ...s, roughness: 25 }, m)];
          for (const k of STRESSES) expect(rough.reversed[k]).toBeLessThanOrEqual(bears.reversed[k]);
          if (form === 'shoulder' || form === 'round groove') {
            const alpha = (radius: number): number => concentration(form, 'bending', d, D * d, radius);
            expect(alpha((r * d) / 3)).toBeGreaterThan(alpha(r * d));
          }
          const [full, hollow] = [sectionOf(s), sectionOf({ ...s, bore: d / 2 })];
          expect(hollow.bending).toBeLessThan(full.bending);
          expect(hollow.torsion).toBe(2 * hollow.bending);
        },
      ),
      { seed: 743, numRuns: 400 },
    );
    expect([...seen].length).toBe(NOTCH_FORMS.length + 2 + SHAFT_STEELS.length);
  });
  it('Shigley, example 7-1: a shoulder 1.1/1.65 in, r 0.11 in, 1 260 lbf·in reversed, 1 100 lbf·in steady, 105 ksi: q 0.85, qs 0.92, Se 29.3 ksi, n 1.62 (from memory)', () => {
    const [inch, ksi, lbfIn] = [25.4, 6.894757, 112.98483];
    const tensile = 105 * ksi;
    expect(Math.abs(notchSensitivity(tensile, 0.11 * inch, false) - 0.85)).toBeLessThan(0.02);
    expect(Math.abs(notchSensitivity(tensile, 0.11 * inch, true) - 0.92)).toBeLessThan(0.05);
    const Se = enduranceLimit(tensile, 1.1 * inch);
    expect(off(Se, 29.3 * ksi)).toBeLessThan(0.01);
    const W = sectionOf({ diameter: 1.1 * inch, bore: 0 });
    const n = goodmanSafety({ bending: [(1260 * lbfIn) / W.bending, 0], torsion: [0, (1100 * lbfIn) / W.torsion], Kf: 1.58, Kfs: 1.39 }, Se, tensile);
    expect(off(n, 1.62)).toBeLessThan(0.01);
    // Kt and Kts that he reads off the charts: 1.68 and 1.42.
    expect(off(concentration('shoulder', 'bending', 1.1, 1.65, 0.11), 1.68)).toBeLessThan(0.05);
    expect(off(concentration('shoulder', 'torsion', 1.1, 1.65, 0.11), 1.42)).toBeLessThan(0.06);
  });
  it('keys: 14 × 9 with t1 5.5 on 48 mm, 10 × 8 with 5 on 36 mm (DIN 6885-1, from memory); two share a torque by 1.5', () => {
    expect(parallelKey(48)).toEqual({ height: 9, depth: 5.5 });
    expect(parallelKey(36)).toEqual({ height: 8, depth: 5 });
    expect(parallelKey(30)).toEqual({ height: 7, depth: 4 });
    expect([parallelKey(5), parallelKey(400)]).toEqual([undefined, undefined]);
    const one = { height: 9, depth: 5.5, length: 36, count: 1 };
    expect(keyPressure(200, 48, one)).toBeCloseTo(4e5 / (48 * 3.5 * 36), 9);
    expect(keyPressure(200, 48, one) / keyPressure(200, 48, { ...one, count: 2 })).toBeCloseTo(1.5, 9);
  });
});

describe('the rating of a design’s shafts', () => {
  /**
   * A wheel of 60 teeth in the middle of a shaft on two bearings, 100 mm to each side, that drives a load at its upper
   * bearing.
   */
  function shaft(more: object, at: { torque?: number; speed?: number; settings?: object; bar?: object[] } = {}): Design {
    const b = new Builder();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([120, 0, 0])];
    b.mesh(b.gear(s1.member, 20, 3, { width: 30 }), b.gear(s2.member, 60, 3, { width: 30, name: 'Wheel' }));
    b.motor(s1.joint, at.speed ?? 300);
    b.load('joint-load', { joint: s2.joint, value: -(at.torque ?? 200), place: 100 });
    for (const rod of at.bar ?? [{ diameter: 40, length: 240 }]) b.element('rod', s2.member, { at: [0, 0, 0], ...rod });
    b.weightless();
    Object.assign(
      b.design.members.find((m) => m.id === s2.member)!,
      { name: 'Shaft', kind: 'shaft', ...more },
    );
    Object.assign(
      b.design.joints.find((j) => j.id === s2.joint)!,
      {
        bearings: [-100, 100].map((z) => ({
          at: z,
          thrust: z < 0 ? 'takes' : 'free',
          form: 'rolling',
          inner: 40,
          outer: 80,
          width: 18,
          block: 'no',
        })),
      },
    );
    return { ...b.design, ...(at.settings && { settings: { ...b.design.settings, ...at.settings } }) };
  }
  const C45 = { steel: 'C45E quenched and tempered' };
  const linesOf = (d: Design): RatingLine[] => ratingOf(d).lines.filter((l) => ['shaft, fatigue', 'shaft, yield', 'key'].includes(l.what));
  const reasons = (d: Design): string[] =>
    ratingOf(d)
      .unrated.filter((u) => u.name === 'Shaft')
      .map((u) => u.why);

  it('bending and torque by hand: a tooth force F = 200/0.09/cos 20° in the middle bends by F·L/4 and the section’s stress is M/W', () => {
    const d = shaft({ ...C45, notches: [{ at: 0, form: 'plain' }] });
    const [fatigue] = linesOf(d).filter((l) => l.what === 'shaft, fatigue');
    const F = 200 / 0.09 / Math.cos(Math.PI / 9);
    expect(figure(fatigue, 'Mb')).toBeCloseTo((F * 0.2) / 4, 6);
    expect(figure(fatigue, 'T')).toBeCloseTo(200, 6);
    const W = (Math.PI * 40 ** 3) / 32;
    expect(figure(fatigue, 'σba')).toBeCloseTo((F * 0.05 * 1e3) / W, 6);
    expect(figure(fatigue, 'σbm')).toBe(0);
    // Pulsating torque: half of it is mean, half amplitude.
    expect(figure(fatigue, 'τta')).toBeCloseTo(200e3 / (2 * W) / 2, 6);
    expect(figure(fatigue, 'τtm')).toBeCloseTo(figure(fatigue, 'τta'), 9);
    const [yields] = linesOf(d).filter((l) => l.what === 'shaft, yield');
    expect(figure(yields, 'σbmax')).toBeCloseTo(figure(fatigue, 'σba'), 9);
    // A notch half way to the bearing bends half as much.
    const half = linesOf(shaft({ ...C45, notches: [{ at: 50, form: 'plain' }] }))[0];
    expect(figure(half, 'Mb')).toBeCloseTo(figure(fatigue, 'Mb') / 2, 6);
  });
  it('torque that stays steady wears less than pulsating, reversing more; a shaft that stands bends once', () => {
    const value = (course: string, speed = 300): number =>
      linesOf(shaft({ ...C45, loadCourse: course, notches: [{ at: 0, form: 'press fit' }] }, { speed })).find((l) => l.what === 'shaft, fatigue')!
        .value;
    expect(value('steady')).toBeGreaterThan(value('pulsating'));
    expect(value('pulsating')).toBeGreaterThan(value('reversing'));
    expect(value('pulsating', 0)).toBeGreaterThan(value('pulsating'));
    expect(value('steady', 0)).toBe(Infinity);
  });
  it('a run at constant load bears what its load case bears; to and fro through a tenth of a turn, bending hardly counts', () => {
    const d = shaft({ ...C45, notches: [{ at: 0, form: 'press fit' }], keys: [{ at: 0, length: 28 }] });
    const runs = [{ id: 'r', name: 'Steady', duration: 2, frames: 41 }];
    const run = rate(analyse({ ...d, runs }).compiled, savedRuns({ ...d, runs })).lines;
    const own = linesOf(d);
    expect(own.map((l) => l.what).sort()).toEqual(['key', 'shaft, fatigue', 'shaft, fatigue', 'shaft, yield', 'shaft, yield']);
    for (const l of own) expect(run.find((x) => x.what === l.what && x.name === l.name)!.value / l.value, l.name).toBeCloseTo(1, 6);
    const short = [{ id: 'r', name: 'Short', duration: 0.05, frames: 41 }];
    const little = rate(analyse({ ...d, runs: short }).compiled, savedRuns({ ...d, runs: short })).lines;
    const fatigue = (lines: readonly RatingLine[]): number => lines.find((x) => x.what === 'shaft, fatigue')!.value;
    expect(fatigue(little)).toBeGreaterThan(1.1 * fatigue(run));
  });
  it('a key carries the torque that goes over at its wheel, and none where no wheel is', () => {
    const key = (at: number): RatingLine => linesOf(shaft({ ...C45, keys: [{ at, length: 28 }] })).find((l) => l.what === 'key')!;
    expect(figure(key(0), 'T')).toBeCloseTo(200, 6);
    expect(figure(key(0), 'p')).toBeCloseTo(4e5 / (40 * 3 * 28), 6);
    expect(key(0).value).toBeCloseTo((0.9 * strengthOf('C45E quenched and tempered', 40).yield) / figure(key(0), 'p'), 9);
    expect(key(50).value).toBe(Infinity);
    const weaker = linesOf(shaft({ ...C45, keys: [{ at: 0, length: 28, strength: 200, count: 2 }] })).find((l) => l.what === 'key')!;
    expect(figure(weaker, 'pzul')).toBe(180);
  });
  it('the load counts with the application factor, the wanted safety as stated; twice the torque has half the reserve', () => {
    const notches = [{ at: 0, form: 'round groove', diameter: 36, radius: 2 }];
    const of = (at: object): number => linesOf(shaft({ ...C45, notches }, at)).find((l) => l.what === 'shaft, fatigue')!.reserve;
    expect(of({ torque: 400 }) / of({})).toBeCloseTo(0.5, 9);
    expect(of({ settings: { applicationFactor: 2 } }) / of({})).toBeCloseTo(0.5, 9);
    expect(of({ settings: { shaftSafety: 2.4 } }) / of({})).toBeCloseTo(0.5, 9);
  });
  it('a shoulder takes its diameters from the bars that meet there', () => {
    const bar = [
      { diameter: 40, length: 120, at: [0, 0, -60] },
      { diameter: 50, length: 120, at: [0, 0, 60] },
    ];
    const [l] = linesOf(shaft({ ...C45, notches: [{ at: 0, form: 'shoulder', radius: 2 }] }, { bar }));
    expect([figure(l, 'd'), figure(l, 'D'), figure(l, 'r')]).toEqual([40, 50, 2]);
    const turned = linesOf(
      shaft(
        { ...C45, notches: [{ at: 0, form: 'shoulder', radius: 2 }] },
        {
          bar: [
            { ...bar[0], at: [0, 0, 60] },
            { ...bar[1], at: [0, 0, -60] },
          ],
        },
      ),
    );
    expect(figure(turned[0], 'd')).toBe(40);
  });
  it('names what it lacks: steel, sections, sizes, and steps that nobody stated', () => {
    expect(reasons(shaft({}))).toEqual(['the steel of the shaft is not stated']);
    expect(reasons(shaft(C45))).toEqual(['no shoulder, groove, fit or key of the shaft is stated']);
    const lacks = (notch: object): string[] => reasons(shaft({ ...C45, notches: [{ at: 10, ...notch }] }));
    expect(lacks({ form: 'shoulder', radius: 1 })).toEqual(['its shoulder at 10 mm needs a larger diameter beside it']);
    expect(lacks({ form: 'shoulder', diameter: 30 })).toEqual(['its shoulder at 10 mm needs its fillet radius']);
    expect(lacks({ form: 'ring groove', diameter: 37.5, radius: 0.2 })).toEqual(['its ring groove at 10 mm needs its width']);
    expect(lacks({ form: 'round groove', radius: 1 })).toEqual(['its round groove at 10 mm needs the diameter at its bottom']);
    expect(reasons(shaft({ ...C45, notches: [{ at: 300, form: 'plain' }] }))[0]).toMatch(/at 300 mm has no diameter/);
    expect(reasons(shaft({ ...C45, keys: [{ at: 300, length: 10 }] }))[0]).toMatch(/key at 300 mm has no diameter/);
    expect(reasons(shaft({ ...C45, keys: [{ at: 0, length: 20, height: 5, depth: 5 }] }))[0]).toMatch(/not higher/);
    const bar = [
      { diameter: 40, length: 120, at: [0, 0, -60] },
      { diameter: 50, length: 120, at: [0, 0, 60] },
    ];
    expect(reasons(shaft({ ...C45, keys: [{ at: 50, length: 20 }] }, { bar }))).toEqual(['its step at 0 mm is not stated as a shoulder or groove']);
    expect(reasons(shaft({ ...C45, notches: [{ at: 0, form: 'plain', diameter: 20 }] }, { bar: [{ diameter: 40, length: 240, bore: 30 }] }))).toEqual(
      ['its section at 0 mm is bored through'],
    );
  });
  it('a wheel whose bore has a keyway asks for its key', () => {
    const d = shaft({ ...C45, notches: [{ at: 50, form: 'plain' }] });
    const keyed = { ...d, elements: d.elements.map((e) => (e.name === 'Wheel' ? { ...e, bore: 40, keyway: 'DIN 6885' } : e)) } as Design;
    expect(reasons(keyed)).toEqual(['the key of “Wheel” is not stated']);
    const stated = { ...keyed, members: keyed.members.map((m) => (m.name === 'Shaft' ? { ...m, keys: [{ at: 4, length: 20 }] } : m)) } as Design;
    expect(reasons(stated)).toEqual([]);
  });
  it('stated strengths stand in place of the steel’s', () => {
    const [l] = linesOf(shaft({ tensileStrength: 600, yieldStrength: 400, notches: [{ at: 0, form: 'plain' }] })).filter(
      (x) => x.what === 'shaft, yield',
    );
    expect(figure(l, 'σbFK')).toBeCloseTo(1.2 * 400, 9);
  });
});

/** A shaft of 40 mm that 200 N·m go over to from a wheel at its origin; what else is stated of it. */
function wheelOnShaft(stated: object): Design {
  const b = new Builder().weightless();
  const s = b.shaft([0, 0, 0], 'frame', { name: 'Shaft', steel: 'C45E quenched and tempered', ...stated } as object);
  const far = b.shaft([150, 0, 0]);
  b.element('rod', s.member, { diameter: 40, length: 300 });
  b.mesh(b.gear(s.member, 40, 2.5, { width: 50 }), b.gear(far.member, 80, 2.5, { width: 50 }));
  b.motor(s.joint, 100, { place: -140 });
  b.load('joint-load', { joint: far.joint, value: -400 });
  return b.design;
}

describe('press fits', () => {
  const FIT = { diameter: 40, outer: 80, bore: 0, length: 50 };
  it('Shigley, eq. 3-56 of one material: p = E·δ/(2·d³)·(D² − d²)·(d² − di²)/(D² − di²), by another arrangement', () => {
    for (const bore of [0, 15]) {
      const [d, D, di, delta] = [40, 80, bore, 0.03];
      const shigley = ((206_000 * delta) / (2 * d ** 3)) * (((D * D - d * d) * (d * d - di * di)) / (D * D - di * di));
      expect(fitPressure({ ...FIT, bore }, delta)).toBeCloseTo(shigley, 9);
    }
    // A hub without end: half as much again as one twice as thick as the shaft … by 1/(1 − (d/D)²).
    expect(fitPressure({ ...FIT, outer: 1e9 }, 0.03) / fitPressure(FIT, 0.03)).toBeCloseTo(1 / (1 - 0.25), 6);
  });
  it('stress of the hub at its bore: hoop p·(1 + Q²)/(1 − Q²) and −p across, by distortion energy', () => {
    const p = 60;
    const [hoop, across] = [(p * 1.25) / 0.75, -p];
    expect(fitStress(FIT, p).hub).toBeCloseTo(Math.sqrt(hoop ** 2 - hoop * across + across ** 2), 9);
    expect(fitStress(FIT, p).shaft).toBe(p);
    expect(fitStress({ ...FIT, bore: 20 }, p).shaft).toBeCloseTo((2 * p) / 0.75, 9);
    expect(fitHolds(FIT, p, 0.15)).toBeCloseTo(0.15 * p * Math.PI * 40 * 50, 9);
  });
  it('in a design: the torque that goes over from the wheel, against what friction holds', () => {
    const make = (fit: object): Design => wheelOnShaft({ fits: [{ at: 0, length: 50, interference: 0.03, outer: 80, ...fit }] });
    const lines = ratingOf(make({ friction: 0.15 })).lines.filter((l) => l.what.startsWith('press fit'));
    const slip = lines.find((l) => l.what === 'press fit, slip')!;
    const p = fitPressure(FIT, 0.03);
    expect(figure(slip, 'T')).toBeCloseTo(200, 6);
    expect(slip.value).toBeCloseTo(fitHolds(FIT, p, 0.15) / (200_000 / 20), 6);
    expect(lines.find((l) => l.what === 'press fit, stress')!.figures.find((f) => f.symbol === 'p')!.value).toBeCloseTo(p, 9);
    expect(ratingOf(make({ outer: 30 })).unrated.map((u) => u.why)).toContain('its press fit at 0 mm needs a hub that is larger than the shaft');

    // H7/s6 at 40 mm: hole 0 to 25 μm, shaft 43 to 59; Rz 4 of both smooth away 6.4 μm.
    const fit = (more: object): Design => make({ interference: undefined, fit: 'H7/s6', friction: 0.15, ...more });
    const [holds, yields] = ['press fit, slip', 'press fit, stress'].map((what) =>
      ratingOf(fit({ roughness: 4 })).lines.find((l) => l.what === what)!,
    );
    expect([figure(holds, 'U'), figure(yields, 'U')]).toEqual([expect.closeTo(0.018 - 0.0064, 9), expect.closeTo(0.059 - 0.0064, 9)]);
    expect(holds.value).toBeCloseTo(fitHolds(FIT, fitPressure(FIT, 0.0116), 0.15) / 10_000, 6);
    const why = (more: object): string =>
      ratingOf(fit(more))
        .unrated.map((u) => u.why)
        .join();
    expect(why({ fit: 'H7/k6' })).toMatch(/may have play: of H7\/k6 at 40 mm no interference is left/);
    expect(why({ fit: 'H7/za6' })).toMatch(/no limits in our tables of ISO 286 for H7\/za6/);
    expect(why({ fit: undefined })).toMatch(/states neither a fit nor its interference/);
  });
});

describe('splines and pins', () => {
  it('by hand after Roloff/Matek: 8 × 32 × 36 splines 40 mm long, a pin of 8 mm through a shaft of 40 and a hub of 70 mm', () => {
    expect(splinePressure(200, { inner: 32, outer: 36, length: 40, teeth: 8 })).toBeCloseTo(400_000 / (34 * 2 * 40 * 8 * 0.75), 9);
    const { hub, shaft, shear } = pinStress(100, { pin: 8, shaft: 40, outer: 70 });
    expect(hub).toBeCloseTo(100_000 / (8 * 15 * 55), 9);
    expect(shaft).toBeCloseTo(600_000 / (8 * 1600), 9);
    // Two sections of the pin at half the shaft's diameter carry the torque.
    expect(shear).toBeCloseTo(100_000 / (2 * ((Math.PI * 64) / 4) * 20), 9);
    // What the hub bears, at the middle of its walls, is the torque again.
    expect(2 * hub * 8 * 15 * (55 / 2)).toBeCloseTo(100_000, 6);
    // The pressure in the shaft rises evenly from its axis: ∫ p·(2·r/D)·d·r dr over both sides.
    expect(2 * shaft * 8 * (2 / 40) * (20 ** 3 / 3)).toBeCloseTo(100_000, 6);
  });
  const line = (stated: object, what: string): RatingLine => ratingOf(wheelOnShaft(stated)).lines.find((l) => l.what === what)!;
  it('in a design: the torque that goes over to the wheel, also where keys and fits are stated beside them', () => {
    const splines = [{ at: 0, length: 50, teeth: 8, inner: 36, outer: 40, strength: 300 }];
    const l = line({ splines }, 'splines');
    expect(figure(l, 'T')).toBeCloseTo(200, 6);
    expect(l.value).toBeCloseTo(200 / splinePressure(200, { inner: 36, outer: 40, length: 50, teeth: 8 }), 6);
    const beside = {
      notches: [{ at: 60, form: 'plain' }],
      keys: [{ at: -100, length: 20 }],
      fits: [{ at: 100, length: 20, interference: 0.02, outer: 80 }],
    };
    expect(figure(line({ splines, ...beside }, 'splines'), 'T')).toBeCloseTo(200, 6);
    const pins = [{ at: 0, diameter: 10, outer: 80, pinStrength: 600, strength: 400 }];
    const p = line({ pins, ...beside }, 'pin');
    expect(figure(p, 'T')).toBeCloseTo(200, 6);
    const stress = pinStress(200, { pin: 10, shaft: 40, outer: 80 });
    const tensile = Math.min(600, figure(p, 'pzul,W') / 0.25);
    expect(p.value).toBeCloseTo(Math.min((0.25 * 400) / stress.hub, (0.25 * tensile) / stress.shaft, (0.15 * 600) / stress.shear), 6);
    // A load that reverses is borne less.
    expect(line({ pins, loadCourse: 'reversing' }, 'pin').value).toBeLessThan(p.value);
    expect(line({ pins, loadCourse: 'steady' }, 'pin').value).toBeGreaterThan(p.value);
  });
  it('what does not go together is said', () => {
    const why = (stated: object): string =>
      ratingOf(wheelOnShaft(stated))
        .unrated.map((u) => u.why)
        .join();
    expect(why({ splines: [{ at: 0, length: 50, teeth: 8, inner: 40, outer: 36 }] })).toMatch(/splines at 0 mm need a diameter outside/);
    expect(why({ pins: [{ at: 0, diameter: 45, outer: 80 }] })).toMatch(/as thick as the shaft/);
    expect(why({ pins: [{ at: 0, diameter: 10, outer: 30 }] })).toMatch(/needs a hub that is larger/);
    expect(why({ pins: [{ at: 200, diameter: 10, outer: 80 }] })).toMatch(/no round bar is there/);
  });
});
