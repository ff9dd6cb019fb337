import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import type { Design } from '../fields/types';
import { Builder } from '../testing/designs';
import { type BevelMesh, bevelDynamicFactor, bevelMiddle, bevelPitchDeviation, rateBevel } from './bevel';
import { ratingFixes } from './fixes';
import { ratingOf, withRatingFix } from './trial';
import { gearMaterial } from './gear-material';
import type { RatingLine } from './protocol';
import { toothForm } from './tooth-form';

const RAD = Math.PI / 180;

const STEEL = (() => {
  const m = gearMaterial({ materialGroup: 'case-hardened steel' } as never);
  if (typeof m === 'string') throw new Error(m);
  return m;
})();
/** A pair at a right angle, module 4, with everything k times as large. */
function pair(z1: number, z2: number, k = 1, width = 20): BevelMesh {
  const cone = Math.atan(z1 / z2);
  const one = (teeth: number, own: number) => ({
    given: { teeth, module: 4 * k, alpha: 20 * RAD, cone: own, width: width * k },
    material: STEEL,
    grade: 6,
    roughness: 5,
    density: 7850,
  });
  return { pinion: one(z1, cone), wheel: one(z2, Math.PI / 2 - cone), mounting: 1.25 };
}
const CONDITIONS = { application: 1, hours: 10_000, viscosity: 220 };

describe('straight bevel gears by ISO 10300', () => {
  it('in the middle of the face: dm = de − b·sin δ, zv = z/cos δ; two that are equal at 90° have zv = z·√2', () => {
    const m = bevelMiddle(pair(20, 40));
    expect(m.diameters[0]).toBeCloseTo(80 - 20 * Math.sin(Math.atan(0.5)), 9);
    expect(m.diameters[1]).toBeCloseTo(160 - 20 * Math.cos(Math.atan(0.5)), 9);
    expect(m.virtual.pinion.gear.teeth).toBeCloseTo(20 / Math.cos(Math.atan(0.5)), 9);
    expect(bevelMiddle(pair(24, 24)).virtual.wheel.gear.teeth).toBeCloseTo(24 * Math.SQRT2, 9);
    // uv = u² at a right angle.
    expect(m.virtual.wheel.gear.teeth / m.virtual.pinion.gear.teeth).toBeCloseTo(4, 9);
  });
  it('pitch deviation: each grade √2 coarser; grade 4, module 4, 80 mm: 6.44 μm (ISO 17485, from memory)', () => {
    expect(bevelPitchDeviation(4, 4, 80)).toBeCloseTo(6.44, 9);
    expect(bevelPitchDeviation(8, 4, 80) / bevelPitchDeviation(6, 4, 80)).toBeCloseTo(2, 9);
  });
  it('by hand, standing still: root and flank stress from the formulas of parts 2 and 3', () => {
    const mesh = pair(20, 40);
    const m = bevelMiddle(mesh);
    const r = rateBevel(mesh, { force: 3000, speed: 0 }, CONDITIONS);
    const e = m.contactRatio;
    const line = (2 * 20 * Math.sqrt(e - 1)) / e;
    const form = toothForm(m.virtual.pinion.gear, 1);
    const Ye = 0.25 + 0.75 / e;
    const YK = (0.5 + line / 40) ** 2 * (20 / line);
    const root = figure(r.root[0], 'σF') / figure(r.root[0], 'KFα');
    expect(root).toBeCloseTo((3000 / (20 * m.module)) * form.form * form.stress * Math.max(0.625, Ye) * YK * 1.875, 6);
    expect(figure(r.flank[0], 'ZH')).toBeCloseTo(2.495, 3);
    expect(figure(r.flank[0], 'ZE')).toBeCloseTo(189.8, 1);
    const dv = m.diameters[0] / Math.cos(Math.atan(0.5));
    const flank = Math.sqrt((3000 / (dv * line)) * (5 / 4)) * figure(r.flank[0], 'ZM-B') * 2.4946 * 189.81 * 0.8 * Math.sqrt(1.875);
    expect(Math.abs(r.flank[0].stress / flank - 1)).toBeLessThan(2e-4);
    expect(r.flank[1].stress).toBe(r.flank[0].stress);
  });
  it('at rest root stress goes with the load and flank stress with its root', () => {
    const at = (force: number) => rateBevel(pair(20, 40), { force, speed: 0 }, { ...CONDITIONS, application: 1 });
    expect(at(8000).flank[0].stress / at(2000).flank[0].stress).toBeCloseTo(2, 9);
    const root = (force: number): number => at(force).root[0].stress / figure(at(force).root[0], 'KFα');
    expect(root(8000) / root(2000)).toBeCloseTo(4, 9);
  });
  it('all lengths twice and the force four times as large: the same stresses at rest', () => {
    const [a, b] = [
      rateBevel(pair(18, 45), { force: 2000, speed: 0 }, CONDITIONS),
      rateBevel(pair(18, 45, 2), { force: 8000, speed: 0 }, CONDITIONS),
    ];
    expect(b.flank[0].stress).toBeCloseTo(a.flank[0].stress, 6);
    expect(b.root[0].stress / figure(b.root[0], 'KFα')).toBeCloseTo(a.root[0].stress / figure(a.root[0], 'KFα'), 6);
  });
  it('at resonance by 1/z1·√(cγ/m): N is 1 there, Kv is largest, and it is continuous from range to range', () => {
    const mesh = pair(20, 40);
    const m = bevelMiddle(mesh);
    const of = (n: number) => bevelDynamicFactor(mesh, m, 5000, n);
    const mass = (d: number): number => ((7850e-9 / 8) * Math.PI * d * d) / Math.cos(20 * RAD) ** 2;
    const [m1, m2] = m.diameters.map(mass);
    const resonant = (30_000 / (20 * Math.PI)) * Math.sqrt((20 * (m1 + m2)) / (m1 * m2));
    expect(of(resonant).resonance).toBeCloseTo(1, 9);
    const at = (N: number): number => of(N * resonant).factor;
    expect(at(1.5 - 1e-9)).toBeCloseTo(at(1.5 + 1e-9), 6);
    expect(at(1)).toBeGreaterThan(at(0.5));
    expect(at(1)).toBeGreaterThan(at(2));
    expect(at(0)).toBe(1);
  });
  it('has no rating where the virtual gears do not mesh long enough', () => {
    const mesh = pair(20, 40);
    const steep = {
      ...mesh,
      pinion: { ...mesh.pinion, given: { ...mesh.pinion.given, alpha: 60 * RAD } },
      wheel: { ...mesh.wheel, given: { ...mesh.wheel.given, alpha: 60 * RAD } },
    };
    expect(() => rateBevel(steep, { force: 100, speed: 0 }, CONDITIONS)).toThrow('not above 1');
  });

  function drive(gear: object, more: object = {}, torque = 80): Design {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([0, 0, 0], 'frame', { axis: [1, 0, 0] })];
    const cone = Math.atan(0.5) / RAD;
    const one = (member: string, name: string, teeth: number, coneAngle: number): string =>
      b.element('bevel-gear', member, { name, teeth, module: 3, width: 15, coneAngle, ...gear });
    b.couple('bevel-pair', {
      name: 'Bevel pair',
      a: one(s1.member, 'Bevel pinion', 20, cone),
      b: one(s2.member, 'Bevel wheel', 40, 90 - cone),
      efficiency: 1,
      ...more,
    });
    b.motor(s1.joint, 300);
    b.load('joint-load', { joint: s2.joint, value: torque });
    return b.design;
  }
  it('in a design: the force in the middle of the face from the ledger, both gears rated; mounting raises the load', () => {
    const of = (d: Design): RatingLine[] => ratingOf(d).lines.filter((l) => l.method.includes('10300'));
    const lines = of(drive({ materialGroup: 'case-hardened steel' }));
    expect(lines.map((l) => l.what).sort()).toEqual(['flank', 'flank', 'root', 'root']);
    const middle = 60 - 15 * Math.sin(Math.atan(0.5));
    for (const l of lines) expect(figure(l, 'Fmt')).toBeCloseTo((40 * 2000) / middle, 3);
    expect(lines.every((l) => figure(l, 'KHβ') === 1.875)).toBe(true);
    const overhung = of(drive({ materialGroup: 'case-hardened steel' }, { mounting: 'both overhung' }));
    expect(figure(overhung[0], 'KHβ')).toBeCloseTo(2.25, 12);
    expect(overhung[0].value).toBeLessThan(lines.find((l) => l.element === overhung[0].element && l.what === overhung[0].what)!.value);
    expect(ratingOf(drive({})).unrated.map((u) => u.why)).toContain('Bevel pinion: its material group is not stated');
  });
  it('a pair that fails is cured by a harder steel, tried on the whole design', () => {
    const d = drive({ materialGroup: 'through-hardened steel', hardness: 250 }, {}, 150);
    const c = d.couplings[0].id;
    const fails = (x: Design): number => ratingOf(x).lines.filter((l) => l.item === c && l.reserve < 1).length;
    expect(fails(d)).toBeGreaterThan(0);
    const fixes = ratingFixes(d, c);
    expect(fixes.length).toBeGreaterThan(0);
    for (const f of fixes) expect(fails(withRatingFix(d, f))).toBe(0);
  });
});
