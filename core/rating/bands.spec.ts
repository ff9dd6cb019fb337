import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import type { Design } from '../fields/types';
import { Builder } from '../testing/designs';
import { strandLine } from './bands';
import { centrifugalPull, meshFactor, slipReserve, toothedBelt, toothedLimit, widthFactor, wrapFactor } from './belt';
import { chainPower, rollerChain } from './chain';
import { ratingFixes } from './fixes';
import { ratingOf, withRatingFix } from './trial';
import type { RatingLine } from './protocol';
import { ROPE_CLASSES } from './ropes';

const HP = 745.7;
const LBF = 4.448_221_615;
const lineOf = (d: Design, what: RatingLine['what']): RatingLine => {
  const found = ratingOf(d).lines.find((l) => l.what === what);
  if (!found) throw new Error(`${what} is not rated: ${JSON.stringify(ratingOf(d).unrated)}`);
  return found;
};
const reasons = (d: Design): string[] => ratingOf(d).unrated.map((u) => u.why);

describe('belts', () => {
  it('Shigley, example 17-1: a polyamide belt at 2 749 ft/min weighs 0.393 lbf/ft and is pulled by 25.6 lbf (from memory)', () => {
    const mass = (0.393 * LBF) / 9.80665 / 0.3048;
    expect(centrifugalPull(mass, (2749 * 0.3048) / 60) / LBF).toBeCloseTo(25.6, 1);
  });
  it('Shigley, example 17-1: 420 and 172.4 lbf over 172.8° hold with μ 0.328, which is what its reserve of 1 says', () => {
    const [F1, F2, Fc] = [420, 172.4, 25.6];
    const mu = Math.log((F1 - Fc) / (F2 - Fc)) / 3.0165;
    expect(mu).toBeCloseTo(0.328, 3);
    const [a, b] = [F1 - Fc, F2 - Fc];
    expect(slipReserve(a, b, (a + b) / 2, Math.exp(mu * 3.0165))).toBeCloseTo(1, 9);
    // With the friction of the belt, 0.8, the load may grow until the slack strand is e^(0.8·φ) less.
    const times = slipReserve(a, b, (a + b) / 2, Math.exp(0.8 * 3.0165));
    const [high, low] = [(a + b) / 2 + (times * (a - b)) / 2, (a + b) / 2 - (times * (a - b)) / 2];
    expect(high / low).toBeCloseTo(Math.exp(0.8 * 3.0165), 6);
  });
  it('a V-belt that is wrapped by 180° transmits its rated power, by 120° 0.82 of it (Shigley, table 17-13)', () => {
    expect(wrapFactor(180)).toBeCloseTo(1, 3);
    expect(wrapFactor(120)).toBeCloseTo(0.82, 2);
    expect(wrapFactor(90)).toBeCloseTo(0.69, 2);
  });
  it('ISO 5295: kz 1 from six teeth on, 0.8 with five; a belt H of 76.2 mm bears 2 100.85 N, half as wide 0.454 of it (from memory)', () => {
    expect([8, 6, 5, 4].map(meshFactor)).toEqual([1, 1, 0.8, 0.6]);
    expect(widthFactor(38.1, 76.2)).toBeCloseTo(0.454, 3);
    const h = toothedBelt(12.7)!;
    expect(h.code).toBe('H');
    expect(toothedLimit(h, 76.2, 6)).toEqual({ force: 2100.85, mass: expect.closeTo(0.448, 9) as number });
    expect(toothedBelt(8)).toBeUndefined();
  });

  /** A motor shaft and a driven one, 300 mm apart, with `torque` on the driven. */
  function belt(wheel: object, more: object, torque = 6, motor: object = {}): Design {
    const b = new Builder().weightless();
    const s1 = b.shaft([0, 0, 0], 'frame', { name: 'Motor shaft' });
    const s2 = b.shaft([300, 0, 0]);
    const a = b.element('pulley', s1.member, { form: 'flat', diameter: 80, width: 30, ...wheel });
    const e = b.element('pulley', s2.member, { form: 'flat', diameter: 160, width: 30, ...wheel, ...((wheel as { big?: object }).big ?? {}) });
    b.couple('belt', { name: 'Drive belt', wheels: [a, e], efficiency: 1, ...more });
    b.motor(s1.joint, 600, motor);
    b.load('joint-load', { joint: s2.joint, value: -torque });
    return b.design;
  }
  it('a flat belt by hand: strands, slip by Euler and the force that its pre-tension leaves', () => {
    const d = belt({}, { pretension: 100, friction: 0.3, strandLimit: 150, massPerLength: 0.2 });
    const pull = 6000 / 80;
    const strand = lineOf(d, 'belt, strand force');
    expect(figure(strand, 'F1') - figure(strand, 'F2')).toBeCloseTo(pull, 6);
    const v = (Math.PI * 80 * 10) / 1000;
    expect(figure(strand, 'FC')).toBeCloseTo(0.2 * v * v, 6);
    expect(strand.value).toBeCloseTo(150 / (100 + pull / 2 + 0.2 * v * v), 3);
    // What the load adds is half the pull: the reserve is how often that fits.
    expect(strand.reserve).toBeCloseTo((150 - 100 - 0.2 * v * v) / (pull / 2), 2);
    const slip = lineOf(d, 'belt, slip');
    const wrap = Math.PI - 2 * Math.asin(40 / 300);
    const m = Math.exp(0.3 * wrap);
    expect(figure(slip, 'm')).toBeCloseTo(m, 6);
    expect(slip.value).toBeCloseTo((100 * (m - 1)) / (((m + 1) * pull) / 2), 2);
  });
  it('the application factor raises what the load adds, and not the pre-tension', () => {
    const at = (KA: number): RatingLine => {
      const d = belt({}, { pretension: 100, strandLimit: 300 });
      return lineOf({ ...d, settings: { ...d.settings, applicationFactor: KA } }, 'belt, strand force');
    };
    expect(300 / at(2).value - 100).toBeCloseTo(2 * (300 / at(1).value - 100), 2);
    expect(at(2).reserve).toBeCloseTo(at(1).reserve / 2, 6);
  });
  it('a belt that slips says how tight it must be', () => {
    const d = belt({}, { pretension: 40, friction: 0.3 });
    expect(lineOf(d, 'belt, slip').reserve).toBeLessThan(1);
    const fixes = ratingFixes(d, d.couplings[0].id);
    expect(fixes.map((f) => f.label)).toContainEqual(expect.stringMatching(/^Pre-tension \d+ N instead of 40 N$/));
    for (const f of fixes) expect(lineOf(withRatingFix(d, f), 'belt, slip').reserve).toBeGreaterThanOrEqual(1);
  });
  it('a toothed belt of ISO 5296 takes its limit and its mass from ISO 5295; one of another pitch wants it stated', () => {
    const H = { form: 'toothed', diameter: undefined, pitch: 12.7, teeth: 20, width: 25.4, big: { teeth: 40 } };
    const d = belt(H, { pretension: 50 });
    const l = lineOf(d, 'belt, strand force');
    expect(l.method).toContain('ISO 5295');
    expect(figure(l, 'Fzul')).toBeCloseTo(2100.85 * (25.4 / 76.2) ** 1.14, 6);
    expect(figure(l, 'zm')).toBe(Math.floor((20 * (180 - (2 * Math.asin((20 * 12.7) / (2 * Math.PI) / 300) * 180) / Math.PI)) / 360));
    expect(reasons(belt({ ...H, pitch: 8 }, { pretension: 50 })).join()).toContain('its pitch is none of ISO 5296');
    const weak = belt(H, { pretension: 50 }, 80);
    expect(lineOf(weak, 'belt, strand force').reserve).toBeLessThan(1);
    expect(ratingFixes(weak, weak.couplings[0].id)[0].label).toMatch(/^Pulleys and belt \d+ mm wide instead of 25.4 mm$/);
  });
  it('a wheel that only guides the band limits nothing: neither its few teeth in mesh nor its wrap count', () => {
    const make = (wheel: object, idler: object, more: object): Design => {
      const b = new Builder().weightless();
      const at: [number, number, number][] = [
        [0, 0, 0],
        [300, 0, 0],
        [150, 26, 0],
      ];
      const shafts = at.map((place) => b.shaft(place));
      const [a, e, i] = shafts.map((s, k) => b.element('pulley', s.member, { width: 25.4, ...wheel, ...(k === 2 && idler) }));
      b.couple('belt', { name: 'Belt', wheels: [a, e, i], outside: [i], efficiency: 1, pretension: 200, ...more });
      b.motor(shafts[0].joint, 600);
      b.load('joint-load', { joint: shafts[1].joint, value: -6 });
      return b.design;
    };
    const H = { form: 'toothed', pitch: 12.7, teeth: 20 };
    const toothed = lineOf(make(H, { teeth: 12 }, {}), 'belt, strand force');
    expect(figure(toothed, 'zm')).toBeGreaterThanOrEqual(9);
    const vee = lineOf(make({ form: 'v', diameter: 80, groove: 38 }, {}, { ratedPower: 900 }), 'belt, power');
    expect(figure(vee, 'φ')).toBeGreaterThan(150);
  });
  it('V-belts side by side bear their rated power each, less for the wrap', () => {
    const V = { form: 'v', groove: 38 };
    const d = belt(V, { pretension: 400, ratedPower: 150, belts: 1 });
    const l = lineOf(d, 'belt, power');
    expect(figure(l, 'P')).toBeCloseTo((6000 / 80) * Math.PI * 0.08 * 10, 4);
    const wrap = 180 - (2 * Math.asin(40 / 300) * 180) / Math.PI;
    expect(l.value).toBeCloseTo((150 * wrapFactor(wrap)) / figure(l, 'P'), 6);
    expect(l.reserve).toBeLessThan(1);
    expect(ratingFixes(d, d.couplings[0].id).map((f) => f.label)).toContain('2 belts instead of 1');
    expect(reasons(belt(V, { pretension: 400 }))).toContain('the rated power of one belt is not stated');
  });
});

describe('chains', () => {
  it('number 40 with 17 teeth: 0.37, 0.69, 2.93, 5.48 and 8.96 hp at 50, 100, 500, 1 000 and 1 800 rev/min (Shigley, table 17-20, from memory)', () => {
    const of = (n: number): number => chainPower(17, n, 12.7).power / HP;
    for (const [n, hp] of [
      [50, 0.37],
      [100, 0.69],
      [500, 2.93],
      [1000, 5.48],
      [1800, 8.96],
    ]) {
      expect(Math.abs(of(n) - hp)).toBeLessThan(0.005 + 0.001 * hp);
    }
    expect(chainPower(17, 1000, 12.7).by).toBe('plates');
    expect(chainPower(17, 1800, 12.7).by).toBe('rollers');
    // More teeth by z^1.08 where plates decide, by z^1.5 where rollers do; two strands bear 1.7 times as much.
    expect(chainPower(34, 100, 12.7).power / chainPower(17, 100, 12.7).power).toBeCloseTo(2 ** 1.08, 9);
    expect(chainPower(34, 3000, 12.7).power / chainPower(17, 3000, 12.7).power).toBeCloseTo(2 ** 1.5, 9);
    expect(chainPower(17, 100, 12.7, 2).power / chainPower(17, 100, 12.7).power).toBeCloseTo(1.7, 9);
  });
  it('ISO 606: 08B breaks at 17 800 N, in two strands at 31 100 N; 16B at 60 000 N (from memory)', () => {
    expect(rollerChain(12.7)).toMatchObject({ code: '08B', breaks: [17_800, 31_100, 44_500] });
    expect(rollerChain(25.4)!.breaks[0]).toBe(60_000);
    expect(rollerChain(13)).toBeUndefined();
  });
  function chain(more: object = {}, torque = 100): Design {
    const b = new Builder().weightless();
    const s1 = b.shaft([0, 0, 0]);
    const s2 = b.shaft([400, 0, 0]);
    const wheel = (member: string, teeth: number): string => b.element('pulley', member, { form: 'sprocket', pitch: 12.7, teeth, width: 7 });
    b.couple('chain', { name: 'Lifting chain', wheels: [wheel(s1.member, 17), wheel(s2.member, 51)], efficiency: 1, ...more });
    b.motor(s1.joint, 300);
    b.load('joint-load', { joint: s2.joint, value: -torque });
    return b.design;
  }
  it('a chain by hand: its pull, its breaking force against 7, and its power at the small sprocket', () => {
    const d = chain();
    const pull = (100 * 2000 * Math.PI) / (51 * 12.7);
    const v = (17 * 12.7 * 5) / 1000;
    const breaking = lineOf(d, 'chain, breaking');
    expect(breaking.value).toBeCloseTo(17_800 / (pull + 0.7 * v * v), 6);
    expect(breaking).toMatchObject({ wanted: 7 });
    const power = lineOf(d, 'chain, power');
    expect(figure(power, 'n1')).toBeCloseTo(300, 6);
    expect(figure(power, 'P')).toBeCloseTo(pull * v, 6);
    expect(power.value).toBeCloseTo(chainPower(17, 300, 12.7).power / (pull * v), 6);
  });
  it('one that is too weak bears what is wanted with more strands', () => {
    const d = chain({}, 200);
    const fixes = ratingFixes(d, d.couplings[0].id);
    expect(fixes.map((f) => f.label)).toEqual(['2 strands instead of 1']);
    const cured = withRatingFix(d, fixes[0]);
    expect(ratingOf(cured).lines.filter((l) => l.item === d.couplings[0].id && l.reserve < 1)).toEqual([]);
    expect(lineOf(chain({ breakingForce: 20_000 }), 'chain, breaking').assumptions).toContain('breaking force as stated');
  });
});

describe('the greatest force of a strand', () => {
  const drawn = (rest: number, grows: number): Parameters<typeof strandLine>[0][number] => ({
    tensions: [],
    mean: rest,
    most: rest + grows,
    speed: 0,
  });
  it('in a run: the safety of the greatest force, the reserve of where least more load is borne', () => {
    // 300 and 500 N more by the load; then 890 and 10 N, which is more in all, but bears eleven times the load.
    const line = strandLine([drawn(300, 500), drawn(890, 10)], 1000, 1, undefined);
    expect(line.value).toBeCloseTo(1000 / 900, 12);
    expect(line.reserve).toBeCloseTo((1000 - 300) / 500, 12);
  });
  it('no load is borne where the band is beyond its limit without one; any load where none acts', () => {
    expect(strandLine([drawn(1001, 5)], 1000, 1, undefined).reserve).toBe(0);
    expect(strandLine([drawn(400, 0)], 1000, 1, undefined).reserve).toBe(Infinity);
  });
});

describe('ropes', () => {
  it('ISO 4308-1: class M5 asks for 4.5 and a drum of 18 rope diameters, M8 for 9 and 25 (from memory)', () => {
    expect(ROPE_CLASSES.M5).toEqual([4.5, 18]);
    expect(ROPE_CLASSES.M8).toEqual([9, 25]);
    // Each class asks for more than the one before.
    const all = Object.values(ROPE_CLASSES);
    for (let k = 1; k < all.length; k++) for (const i of [0, 1]) expect(all[k][i]).toBeGreaterThan(all[k - 1][i]);
  });
  it('a hoist by hand: the pull in two falls, and the bend on the drum', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    const l = b.slide([100, -500, 0], [0, 1, 0]);
    const drum = b.element('drum', s.member, { diameter: 150, rope: 8, width: 300 });
    b.couple('rope', { name: 'Hoist', a: drum, b: l.joint, efficiency: 1, wound: 5, falls: 2, breakingForce: 40_000, mechanismClass: 'M4' });
    b.motor(s.joint, 20);
    b.load('joint-load', { joint: l.joint, value: -9000 });
    const breaking = lineOf(b.design, 'rope, breaking');
    expect(figure(breaking, 'S')).toBeCloseTo(4500, 6);
    expect(breaking).toMatchObject({ wanted: 4 });
    expect(breaking.value).toBeCloseTo(40_000 / 4500, 6);
    const bend = lineOf(b.design, 'rope, bending');
    expect(bend).toMatchObject({ value: 158 / 8, wanted: 16 });
  });
});
