import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import { spur } from '../testing/gears';
import { pairData } from '../teeth/index';
import { deviations } from './accuracy';
import { rateMesh } from './cylindrical';
import { gearMaterial } from './gear-material';
import { flankChanges, flankLife, rootChanges, rootLife } from './life';
import { dynamicFactor, loadFactors } from './load-factors';
import { type RatedGear, type RatedMesh, meshStiffness } from './mesh';
import { damageOf, safetyOf } from './spectrum';

const DEG = Math.PI / 180;
const CONDITIONS = { application: 1, hours: 10_000, viscosity: 220 };
type Material = Parameters<typeof gearMaterial>[0];
function rated(
  teeth: number,
  module: number,
  width: number,
  more: { beta?: number; shift?: number; internal?: boolean; grade?: number; material?: Material } = {},
): RatedGear {
  const gear = spur(teeth, module, { beta: (more.beta ?? 0) * DEG, shift: more.shift ?? 0, internal: more.internal ?? false });
  const material = gearMaterial(more.material ?? { materialGroup: 'case-hardened steel' });
  if (typeof material === 'string') throw new Error(material);
  return {
    gear,
    width,
    bore: 0,
    density: 7850,
    material,
    deviations: deviations(more.grade ?? 6, module, 2 * gear.pitchRadius, width),
    roughness: 3,
  };
}
const meshed = (pinion: RatedGear, wheel: RatedGear, faceLoad?: number): RatedMesh => ({
  pinion,
  wheel,
  pair: pairData(pinion.gear, wheel.gear, pinion.width),
  width: Math.min(pinion.width, wheel.width),
  ...(faceLoad !== undefined && { faceLoad }),
});

describe('factors of ISO 6336', () => {
  it('ZE as tables give it: steel on steel 189.8, on nodular iron 181.4, on grey iron 162.0 √MPa (ISO 6336-2, from memory)', () => {
    const with_ = (group: Material['materialGroup'], hardness?: number): number => {
      const m = meshed(rated(20, 4, 40), rated(60, 4, 40, { material: { materialGroup: group!, hardness: hardness ?? 200 } }));
      return figure(rateMesh(m, { force: 5000, speed: 100 }, CONDITIONS).flank[0], 'ZE');
    };
    expect(
      Math.abs(figure(rateMesh(meshed(rated(20, 4, 40), rated(60, 4, 40)), { force: 5000, speed: 100 }, CONDITIONS).flank[0], 'ZE') - 189.8),
    ).toBeLessThan(0.05);
    expect(Math.abs(with_('nodular iron') - 181.4)).toBeLessThan(0.1);
    expect(Math.abs(with_('grey iron') - 162)).toBeLessThan(0.1);
  });
  it('ZH of zero gears: 2.495 spur, and less with helix (ISO 6336-2, figure 1, from memory)', () => {
    const zone = (beta: number): number =>
      figure(rateMesh(meshed(rated(20, 4, 40, { beta }), rated(60, 4, 40, { beta: -beta })), { force: 5000, speed: 100 }, CONDITIONS).flank[0], 'ZH');
    expect(zone(0)).toBeCloseTo(2.495, 3);
    expect(zone(15)).toBeCloseTo(2.42, 1);
    expect(zone(30)).toBeLessThan(zone(15));
  });
  it('life factors at the corners of their curves (ISO 6336-2, table 2; ISO 6336-3, table 1; from memory)', () => {
    expect([1e4, 1e5, 5e7, 1e10].map((n) => Number(flankLife('hard', n).toFixed(3)))).toEqual([1.6, 1.6, 1, 0.85]);
    expect([1e5, 2e6, 1e10].map((n) => Number(flankLife('gas', n).toFixed(3)))).toEqual([1.3, 1, 0.85]);
    expect([1e4, 3e6, 1e10, 1e12].map((n) => Number(rootLife('tough', n).toFixed(3)))).toEqual([2.5, 1, 0.85, 0.85]);
    expect([1e3, 3e6].map((n) => Number(rootLife('hard', n).toFixed(3)))).toEqual([2.5, 1]);
    expect([1e3, 3e6].map((n) => Number(rootLife('gas', n).toFixed(3)))).toEqual([1.6, 1]);
    // The exponents that the standard prints: 0.0756 of the flank, 0.16 and 0.115 of the root.
    expect(Math.log(1.6) / Math.log(5e7 / 1e5)).toBeCloseTo(0.0756, 4);
    expect(Math.log(2.5) / Math.log(3e6 / 1e4)).toBeCloseTo(0.16, 2);
    expect(Math.log(2.5) / Math.log(3e6 / 1e3)).toBeCloseTo(0.115, 2);
  });
  it('mesh stiffness near c′ = 14 and cγ = 20 N/(mm·μm), which the standard names for usual steel gears', () => {
    const s = meshStiffness(meshed(rated(25, 4, 40), rated(75, 4, 40)), 40 * 300);
    expect(Math.abs(s.single - 14)).toBeLessThan(1.5);
    expect(Math.abs(s.mesh - 20)).toBeLessThan(2.5);
    // Teeth under little load are softer.
    expect(meshStiffness(meshed(rated(25, 4, 40), rated(75, 4, 40)), 40 * 50).single).toBeCloseTo(s.single / 2, 9);
  });
  it('endurance limits of materials (ISO 6336-5, quality MQ, from memory)', () => {
    const of = (m: Material): [number, number] => {
      const r = gearMaterial(m) as { contactLimit: number; bendingLimit: number };
      return [Math.round(r.contactLimit), Math.round(r.bendingLimit)];
    };
    expect(of({ materialGroup: 'case-hardened steel' })).toEqual([1500, 461]);
    expect(of({ materialGroup: 'nitrided steel' })).toEqual([1250, 420]);
    expect(of({ materialGroup: 'through-hardened steel', hardness: 300 })).toEqual([767, 315]);
    expect(of({ materialGroup: 'grey iron', hardness: 200 })).toEqual([339, 59]);
    expect(of({ materialGroup: 'grey iron', contactLimit: 400, bendingLimit: 70 })).toEqual([400, 70]);
    expect(gearMaterial({ materialGroup: 'through-hardened steel' })).toMatch(/hardness is not stated/);
    expect(gearMaterial({ materialGroup: 'through-hardened steel', hardness: 500 })).toMatch(/outside 200 to 360/);
    expect(gearMaterial({})).toMatch(/group is not stated/);
  });
  it('tolerances of grade 6 as tables print them (ISO 1328-1:1995, from memory): m 4, d 100, b 40', () => {
    // ISO 1328-1 and -2, tables of grade 7 over 50 to 125 mm and 2 to 3.5 mm of module: fpt 12, Fp 38, Fr 30 μm; from memory.
    const t = deviations(7, Math.sqrt(2 * 3.5), Math.sqrt(50 * 125), 20);
    expect([t.singlePitch, t.totalPitch, t.runout].map(Math.round)).toEqual([12, 38, 30]);
    const d = deviations(6, 4, 100, 40);
    // fpt 9.0 (3.5 < m ≤ 6, 50 < d ≤ 125), Fβ 13 (40 < b ≤ 80 begins): the tables take means of their ranges.
    expect(Math.abs(d.singlePitch - 9)).toBeLessThan(0.7);
    expect(Math.abs(d.helixTotal - 13)).toBeLessThan(0.6);
    expect(deviations(8, 4, 100, 40).singlePitch).toBeCloseTo(2 * d.singlePitch, 9);
  });
  it('the dynamic factor is 1 at rest, grows to resonance and is the same from both sides of every border', () => {
    const m = meshed(rated(20, 4, 40), rated(60, 4, 40));
    expect(dynamicFactor(m, 12_000, 0).factor).toBe(1);
    const at = (speed: number) => dynamicFactor(m, 12_000, speed);
    const resonant = 1 / (at(1000).resonance / 1000);
    for (const border of [1.15, 1.5]) {
      // Running-in has steps at speeds of its own, which are far from here.
      const [a, b] = [at(resonant * border * (1 - 1e-9)).factor, at(resonant * border * (1 + 1e-9)).factor];
      expect(Math.abs(a - b)).toBeLessThan(1e-6);
    }
    expect(at(0.8 * resonant).factor).toBeGreaterThan(at(0.4 * resonant).factor);
  });
});

describe('the rating of a mesh', () => {
  const random = fc.record({
    z1: fc.integer({ min: 17, max: 60 }),
    z2: fc.integer({ min: 17, max: 200 }),
    m: fc.double({ min: 1, max: 10, noNaN: true }),
    beta: fc.constantFrom(0, 8, 15, 25),
    x: fc.double({ min: -0.1, max: 0.5, noNaN: true }),
    internal: fc.boolean(),
    per: fc.double({ min: 20, max: 800, noNaN: true }),
    speed: fc.double({ min: 1, max: 3000, noNaN: true }),
  });
  type Random = typeof random extends fc.Arbitrary<infer T> ? T : never;
  const make = ({ z1, z2, m, beta, x, internal }: Random, k = 1): RatedMesh => {
    const [a, b] = [Math.min(z1, z2), Math.max(z1, z2)];
    const width = 10 * m * k;
    const wheel = internal ? a + Math.max(15, b) : b;
    return meshed(
      rated(a, m * k, width, { beta, shift: x }),
      rated(wheel, m * k, width, { beta: internal ? beta : -beta, shift: internal ? x : 0, internal }),
      1.2,
    );
  };

  it('has stresses that go with force and size as mechanics wants: σF ∝ F, σH ∝ √F, both the same for all lengths × k and force × k²', () => {
    fc.assert(
      fc.property(random, (r) => {
        const mesh = make(r);
        // Accuracy grades do not scale with size: compared without what they bring, at rest and with a stated KHβ.
        const exact = { singlePitch: 0, profileForm: 0, helixSlope: 0, helixTotal: 0 };
        const still = (x: RatedMesh): RatedMesh => ({ ...x, pinion: { ...x.pinion, deviations: exact }, wheel: { ...x.wheel, deviations: exact } });
        const force = r.per * mesh.width;
        const at = (x: RatedMesh, f: number) => rateMesh(still(x), { force: f, speed: 0 }, CONDITIONS);
        const [one, four] = [at(mesh, force), at(mesh, 4 * force)];
        for (const k of [0, 1] as const) {
          expect(four.root[k].stress / one.root[k].stress).toBeCloseTo(4, 6);
          expect(four.flank[k].stress / one.flank[k].stress).toBeCloseTo(2, 6);
        }
        // Half the face and a stated KHβ: KFβ depends on b/h alone, which stays.
        const twice = at(make(r, 2), 4 * force);
        for (const k of [0, 1] as const) {
          expect(twice.root[k].stress / one.root[k].stress).toBeCloseTo(1, 6);
          expect(twice.flank[k].stress / one.flank[k].stress).toBeCloseTo(1, 6);
        }
      }),
      { numRuns: 150 },
    );
  });
  it('has no NaN, no factor of load below 1, and a safety that falls as force, speed of life and application grow', () => {
    let internal = 0;
    fc.assert(
      fc.property(random, (r) => {
        const mesh = make(r);
        if (mesh.wheel.gear.internal) internal++;
        const force = r.per * mesh.width;
        const f = loadFactors(mesh, { force, speed: r.speed }, 1.25);
        for (const x of Object.values(f)) expect(Number.isFinite(x)).toBe(true);
        for (const x of [f.dynamic, f.faceContact, f.faceBending, f.transverseContact, f.transverseBending]) expect(x).toBeGreaterThanOrEqual(1);
        const a = rateMesh(mesh, { force, speed: r.speed }, CONDITIONS);
        const worse = [
          rateMesh(mesh, { force, speed: r.speed }, { ...CONDITIONS, application: 1.5 }),
          rateMesh(mesh, { force, speed: r.speed }, { ...CONDITIONS, hours: 50_000 }),
        ];
        for (const part of ['flank', 'root'] as const) {
          for (const k of [0, 1] as const) {
            expect(a[part][k].safety).toBeGreaterThan(0);
            for (const w of worse) expect(w[part][k].safety).toBeLessThanOrEqual(a[part][k].safety * (1 + 1e-9));
          }
        }
      }),
      { numRuns: 200 },
    );
    expect(internal).toBeGreaterThan(40);
  });
  it('ZB and ZD as ISO 6336-2 prints them, 6.2 (from memory): by the tip circles and the contact ratio, teeth of internal gears negative', () => {
    let internal = 0;
    let above = 0;
    fc.assert(
      fc.property(random, (r) => {
        const made = make({ ...r, beta: 0 });
        // Internal teeth are cut short, as in practice: else they reach where the pinion has no involute.
        const short = { internal: true, shift: made.wheel.gear.shift, addendum: 0.6 };
        const gear = made.wheel.gear.internal ? spur(made.wheel.gear.teeth, r.m, short) : made.wheel.gear;
        const mesh = meshed(made.pinion, { ...made.wheel, gear }, 1.2);
        const [g1, g2] = [mesh.pinion.gear, gear];
        const reach = (g: typeof g1): number => Math.sqrt((g.tipRadius / g.baseRadius) ** 2 - 1);
        const tan = Math.tan(mesh.pair.workingAngle);
        // The printed form holds where contact goes from tip to tip: no flank begins later than the other's tip reaches.
        const between = (g2.baseRadius + (g2.internal ? -1 : 1) * g1.baseRadius) * tan;
        const start = g2.internal ? reach(g2) * g2.baseRadius - between : between - reach(g2) * g2.baseRadius;
        const path = reach(g1) * g1.baseRadius - start;
        const whole = (mesh.pair.transverseContactRatio * 2 * Math.PI * g1.baseRadius) / g1.teeth;
        fc.pre(start > 0 && Math.abs(path / whole - 1) < 1e-9);
        const [p1, p2] = [(2 * Math.PI) / g1.teeth, ((g2.internal ? -1 : 1) * 2 * Math.PI) / g2.teeth];
        const e = mesh.pair.transverseContactRatio;
        const M1 = tan / Math.sqrt((reach(g1) - p1) * (reach(g2) - (e - 1) * p2));
        const M2 = g2.internal ? 1 : tan / Math.sqrt((reach(g2) - p2) * (reach(g1) - (e - 1) * p1));
        const [a, b] = rateMesh(mesh, { force: 1000, speed: 10 }, CONDITIONS).flank;
        expect(figure(a, 'ZB') / Math.max(1, M1)).toBeCloseTo(1, 6);
        expect(figure(b, 'ZD') / Math.max(1, M2)).toBeCloseTo(1, 6);
        if (g2.internal) internal++;
        if (M1 > 1.001) above++;
      }),
      { numRuns: 150 },
    );
    expect(Math.min(internal, above)).toBeGreaterThan(20);
  });
  it('a soft wheel bears more beside a smooth hard pinion, and less beside a rough one (ZW, ISO 6336-2, 13, from memory)', () => {
    const soft = { materialGroup: 'through-hardened steel', hardness: 200 } as const;
    const work = (roughness: number): number => {
      const mesh = meshed({ ...rated(20, 4, 40), roughness }, rated(60, 4, 40, { material: soft }), 1.2);
      return figure(rateMesh(mesh, { force: 4000, speed: 1500 }, CONDITIONS).flank[1], 'ZW');
    };
    // 1.2 − (200 − 130)/1700 beside a pinion that counts as smooth.
    expect(work(0.5)).toBeCloseTo(1.2 - 70 / 1700, 9);
    expect(work(60)).toBeCloseTo((1.2 - 70 / 1700) * (3 / 16) ** 0.15, 9);
    expect(figure(rateMesh(meshed(rated(20, 4, 40), rated(60, 4, 40)), { force: 4000, speed: 1500 }, CONDITIONS).flank[1], 'ZW')).toBe(1);
  });
  it('helix → 0 gives the spur gear', () => {
    const of = (beta: number) =>
      rateMesh(meshed(rated(22, 3, 30, { beta }), rated(55, 3, 30, { beta: -beta }), 1.2), { force: 4000, speed: 500 }, CONDITIONS);
    const [a, b] = [of(0), of(1e-6)];
    for (const part of ['flank', 'root'] as const) for (const k of [0, 1] as const) expect(b[part][k].safety).toBeCloseTo(a[part][k].safety, 4);
  });
});

describe('Miner’s rule', () => {
  it('load changes that are borne are the inverse of the life factor, on every curve', () => {
    for (const curve of ['hard', 'tough', 'gas'] as const) {
      for (const n of [2e5, 1e6, 3e7, 1e9]) {
        expect(flankChanges(curve, flankLife(curve, n)) / n).toBeCloseTo(1, 9);
        expect(rootChanges(curve, rootLife(curve, n)) / n).toBeCloseTo(1, 9);
      }
      expect(rootChanges(curve, 2.51)).toBe(0);
      expect(rootChanges(curve, 0.84)).toBe(Infinity);
    }
  });
  const hard = (x: number): number => rootChanges('hard', x);
  it('one load gives the safety of the life factor; cut into parts, the same', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 5, noNaN: true }),
        fc.double({ min: 2, max: 11, noNaN: true }),
        fc.integer({ min: 1, max: 9 }),
        (stress, decades, parts) => {
          const changes = 10 ** decades;
          const safety = safetyOf([{ stress, changes }], hard);
          expect(safety / (rootLife('hard', changes) / stress)).toBeCloseTo(1, 6);
          expect(safetyOf(Array(parts).fill({ stress, changes: changes / parts }), hard) / safety).toBeCloseTo(1, 6);
        },
      ),
    );
  });
  it('two loads by hand: half the life of each is a whole life; what stands still must hold, and does not wear', () => {
    const steps = [
      { stress: 1.2, changes: hard(1.2) / 2 },
      { stress: 1.6, changes: hard(1.6) / 2 },
    ];
    expect(damageOf(steps, hard)).toBeCloseTo(1, 12);
    expect(safetyOf(steps, hard)).toBeCloseTo(1, 9);
    expect(safetyOf([{ stress: 1.25, changes: 0 }], hard)).toBeCloseTo(2, 9);
    expect(safetyOf([{ stress: 0, changes: 1e9 }], hard)).toBe(Infinity);
    // More of anything is never better.
    expect(safetyOf([...steps, { stress: 0.9, changes: 1e7 }], hard)).toBeLessThan(1);
  });
});
