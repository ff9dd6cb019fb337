import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { Builder } from '../testing/designs';
import { ratingFixes } from './fixes';
import { ratingOf, withRatingFix } from './trial';
import { savedRuns } from './instants';
import type { RatingLine } from './protocol';
import { rate } from './rate';
import { bucklingForce, coreStress, flankPressure, threadPressure, whirlingSpeed } from './screw';

const off = (got: number, wanted: number): number => Math.abs(got / wanted - 1);

describe('screws', () => {
  it('Shigley, example 8-1: 6.4 kN and 26.18 N·m on a square thread 32 × 4, core 28 mm: σ 10.39 MPa, τ 6.07 MPa (from memory)', () => {
    const { along, torsion, both } = coreStress(6400, 26.18, 28);
    expect(along).toBeCloseTo(10.39, 2);
    expect(torsion).toBeCloseTo(6.07, 2);
    expect(both).toBeCloseTo(Math.hypot(10.39, Math.sqrt(3) * 6.07), 1);
    // He lets one turn carry 0.38 of the force: 12.9 MPa. Of a nut one pitch long that carries all of it, 1/0.38 as much.
    expect(off(0.38 * flankPressure(6400, 4, 30, 2, 4), 12.9)).toBeLessThan(0.01);
  });
  it('permissible pressure of bronze: 1 600 psi up to 10 ft/min, 800 up to 40, 150 beyond; none of cast iron beyond 40 (Shigley, from memory)', () => {
    expect([0.02, 0.1, 1].map((v) => Number(threadPressure('bronze', v)!.toFixed(2)))).toEqual([11.03, 5.52, 1.03]);
    expect([0.02, 0.1].map((v) => Number(threadPressure('cast iron', v)!.toFixed(2)))).toEqual([12.41, 4.14]);
    expect(threadPressure('cast iron', 1)).toBeUndefined();
  });
  it('buckles by Euler when slender, by Johnson when stocky, which meet at half the yield; a short one yields', () => {
    const E = 206_000;
    const [d, l] = [20, 1000];
    expect(bucklingForce(d, l, 'guided and guided', 355)).toMatchObject({ by: 'Euler', slenderness: 200 });
    expect(off(bucklingForce(d, l, 'guided and guided', 355).force, (Math.PI ** 3 * E * d ** 4) / 64 / l ** 2)).toBeLessThan(1e-12);
    expect(off(bucklingForce(d, 2 * l, 'clamped and free', 355).force * 16, bucklingForce(d, 2 * l, 'clamped and clamped', 355).force)).toBeLessThan(
      1e-12,
    );
    const meets = (Math.PI * Math.sqrt((2 * E) / 355) * d) / 4;
    expect(
      off(bucklingForce(d, meets * 1.000001, 'guided and guided', 355).force, bucklingForce(d, meets * 0.999999, 'guided and guided', 355).force),
    ).toBeLessThan(1e-4);
    const short = bucklingForce(d, 1, 'guided and guided', 355);
    expect(short.by).toBe('Johnson');
    expect(off(short.force, (355 * Math.PI * d * d) / 4)).toBeLessThan(1e-4);
  });
  it('whirls at π²/l²·√(EI/ρA) between guides; clamped ends raise it by (4.730/π)² (Timoshenko)', () => {
    const [d, l] = [0.03, 1.5];
    const radians = (Math.PI / l) ** 2 * Math.sqrt(206e9 / 7850) * (d / 4);
    expect(off(whirlingSpeed(30, 1500, 'guided and guided'), (radians * 60) / (2 * Math.PI))).toBeLessThan(1e-9);
    expect(off(whirlingSpeed(30, 1500, 'clamped and clamped') / whirlingSpeed(30, 1500, 'guided and guided'), (4.73004 / Math.PI) ** 2)).toBeLessThan(
      1e-9,
    );
  });
});

describe('the rating of a screw drive', () => {
  function lift(screw: object = {}, nut: object = {}, member: object = {}, force = 5000): Design {
    const b = new Builder();
    const s = b.shaft([0, 0, 0], 'frame', { name: 'Screw shaft', ...member } as object);
    const table = b.slide([0, 0, 0], [0, 0, 1]);
    const a = b.element('screw', s.member, { diameter: 32, pitch: 6, length: 800, ...screw });
    const n = b.element('nut', table.member, { outside: 60, bore: 32, length: 60, ...nut });
    b.couple('screw-drive', { a, b: n, friction: 0.1 });
    b.motor(s.joint, 60);
    b.load('joint-load', { joint: table.joint, value: -force });
    return b.weightless().design;
  }
  const STEEL = { steel: 'C45E quenched and tempered' };
  const FREE = { freeLength: 700, ends: 'clamped and guided' };
  const linesOf = (d: Design): RatingLine[] => ratingOf(d).lines.filter((l) => l.what.includes('screw'));
  const reasons = (d: Design): string[] => ratingOf(d).unrated.map((u) => u.why);

  it('takes force, torque and speed from the ledger: pressure, strength, buckling and whirling by hand', () => {
    const d = lift(FREE, { nutMaterial: 'bronze' }, STEEL);
    const lines = linesOf(d);
    expect(lines.map((l) => l.what).sort()).toEqual(['screw, buckling', 'screw, strength', 'screw, threads', 'screw, whirling']);
    const of = (what: string): RatingLine => lines.find((l) => l.what === what)!;
    expect(figure(of('screw, threads'), 'p')).toBeCloseTo((5000 * 6) / (Math.PI * 29 * 3 * 60), 6);
    expect(figure(of('screw, threads'), 'v')).toBeCloseTo(Math.PI * 29, 6);
    expect(of('screw, threads').value).toBeCloseTo((800 * 6.894757293168361e-3) / figure(of('screw, threads'), 'p'), 6);
    // Tr 32 × 6: core 25 mm (ISO 2904).
    expect(figure(of('screw, strength'), 'd3')).toBeCloseTo(25, 9);
    expect(figure(of('screw, strength'), 'σ')).toBeCloseTo((4 * 5000) / (Math.PI * 625), 6);
    expect(figure(of('screw, buckling'), 'λ')).toBeCloseTo((0.699 * 700 * 4) / 25, 6);
    expect(of('screw, whirling').value).toBeCloseTo(whirlingSpeed(25, 700, 'clamped and guided') / 60, 6);
    const runs = [{ id: 'r', name: 'Steady', duration: 2, frames: 21 }];
    const run = rate(analyse({ ...d, runs }).compiled, savedRuns({ ...d, runs })).lines;
    for (const l of lines) expect(off(run.find((x) => x.what === l.what)!.value, l.value), l.what).toBeLessThan(1e-6);
  });
  it('the life of a ball screw by (Ca/F)³; its reserve is one of load', () => {
    const [life] = linesOf(lift({ form: 'ball' }, { dynamicRating: 30_000 })).filter((l) => l.what === 'ball screw life');
    expect(off(life.value, (6 ** 3 * 1e6) / 3600)).toBeLessThan(1e-6);
    const [heavier] = linesOf(lift({ form: 'ball' }, { dynamicRating: 30_000 }, {}, 5000 * life.reserve)).filter((l) => l.what === 'ball screw life');
    expect(off(heavier.value, heavier.wanted)).toBeLessThan(1e-6);
  });
  it('names what is not stated', () => {
    expect(reasons(lift())).toEqual(
      expect.arrayContaining([
        'the steel of its screw is not stated: no strength or buckling',
        'the free length of its screw is not stated: no buckling or whirling',
        'the material of its nut is not stated: no pressure',
      ]),
    );
    expect(reasons(lift({ form: 'ball' }))).toEqual(
      expect.arrayContaining([expect.stringMatching(/core of its ball screw is not known/), 'its dynamic rating Ca is not stated: no life']),
    );
    const fast = lift({}, { nutMaterial: 'cast iron' });
    Object.assign(fast.sources[0], { speed: 600 });
    expect(reasons(fast).join()).toMatch(/no permissible pressure for cast iron at 911 mm\/s/);
  });
  it('fixes: a longer nut bears the pressure, a stronger steel the stress; each was tried', () => {
    for (const d of [lift({}, { nutMaterial: 'bronze' }, {}, 20_000), lift({}, {}, { steel: 'S235' }, 90_000)]) {
      const { id } = d.couplings[0];
      const fixes = ratingFixes(d, id);
      expect(fixes.length).toBeGreaterThan(0);
      for (const f of fixes) {
        expect(
          linesOf(withRatingFix(d, f)).every((l) => l.reserve >= 1),
          f.label,
        ).toBe(true);
      }
    }
  });
});
