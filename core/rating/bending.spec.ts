import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { STEEL } from '../forces/index';
import { Builder } from '../testing/designs';
import { ratingFixes } from './fixes';
import { ratingOf } from './trial';
import { savedRuns } from './instants';
import type { RatingLine } from './protocol';
import { rate } from './rate';
import { criticalSpeed, gearDeflection } from './shaft-bending';

const off = (got: number, wanted: number): number => Math.abs(got / wanted - 1);
const inertia = (d: number): number => (Math.PI * d ** 4) / 64;
const bar = (from: number, to: number, outer: number) => ({ from, to, outer, inner: 0 });
/** rad/s of masses in kg, lengths in mm. */
const radians = (...args: Parameters<typeof criticalSpeed>): number => (criticalSpeed(...args)! * 2 * Math.PI) / 60;

describe('critical speed of a shaft', () => {
  it('a weight in the middle: √(48·E·I/(m·l³)); overhung: √(3·E·I/(m·a²·(l + a))) (textbook)', () => {
    const [m, l, d] = [12, 600, 30];
    expect(off(radians([{ at: l / 2, mass: m }], [0, l], [bar(0, l, d)]) ** 2, (48e3 * STEEL * inertia(d)) / (m * l ** 3))).toBeLessThan(1e-9);
    const a = 200;
    const over = radians([{ at: l + a, mass: m }], [0, l], [bar(0, l + a, d)]) ** 2;
    expect(off(over, (3e3 * STEEL * inertia(d)) / (m * a * a * (l + a)))).toBeLessThan(1e-6);
  });
  it('a bar by its own weight: π²/l²·√(E·I/(ρ·A)) (Timoshenko)', () => {
    const [l, d, n] = [1000, 25, 24];
    const mass = (7.85e-6 * Math.PI * d * d * l) / 4;
    const lumps = Array.from({ length: n }, (_, k) => ({ at: (l * (k + 0.5)) / n, mass: mass / n }));
    const closed = (Math.PI / l) ** 2 * Math.sqrt((1e3 * STEEL * inertia(d) * l) / mass);
    expect(off(radians(lumps, [0, l], [bar(0, l, d)]), closed)).toBeLessThan(0.002);
  });
  it('Shigley, example 7-5: 35 lbf at 7 in and 55 lbf at 20 in on 31 in of 1 in: about 125 rad/s (from memory; E of 30 Mpsi there)', () => {
    const [inch, lbf] = [25.4, 0.45359237];
    // His influence coefficients: 2.061e-4, 2.224e-4 and 3.534e-4 in/lbf. By Rayleigh 124.8 rad/s, never below the lowest.
    const d = 1 * inch;
    const found = radians(
      [
        { at: 7 * inch, mass: 35 * lbf },
        { at: 20 * inch, mass: 55 * lbf },
      ],
      [0, 31 * inch],
      [bar(0, 31 * inch, d)],
    );
    const [d11, d12, d22] = [2.061e-4, 2.224e-4, 3.534e-4];
    const [w1, w2, g] = [35, 55, 386.1];
    const [sum, product] = [(w1 * d11 + w2 * d22) / g, (w1 * w2 * (d11 * d22 - d12 * d12)) / g / g];
    const lowest = Math.sqrt(1 / ((sum + Math.sqrt(sum * sum - 4 * product)) / 2));
    expect(off(lowest, 124.8)).toBeLessThan(0.01);
    expect(off(found, lowest)).toBeLessThan(0.02);
  });
  it('is the same whichever way it lies; lengths × k and masses × k³ divide it by k; nothing without two supports', () => {
    const weights = [
      { at: 100, mass: 4 },
      { at: 350, mass: 7 },
      { at: 520, mass: 2 },
    ];
    const here = radians(weights, [0, 450], [bar(-20, 540, 28)]);
    const turned = radians(
      weights.map((w) => ({ ...w, at: -w.at })),
      [-450, 0],
      [bar(-540, 20, 28)],
    );
    expect(off(turned, here)).toBeLessThan(1e-8);
    const larger = radians(
      weights.map((w) => ({ at: 3 * w.at, mass: 27 * w.mass })),
      [0, 1350],
      [bar(-60, 1620, 84)],
    );
    expect(off(3 * larger, here)).toBeLessThan(1e-8);
    expect(criticalSpeed(weights, [0], [bar(0, 540, 28)])).toBeUndefined();
    expect(criticalSpeed(weights, [0, 450], [])).toBeUndefined();
  });
});

describe('how far shafts bend', () => {
  function shaft(torque = 200, settings: object = {}): Design {
    const b = new Builder();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([120, 0, 0])];
    b.mesh(b.gear(s1.member, 20, 3, { width: 30 }), b.gear(s2.member, 60, 3, { width: 30, name: 'Wheel' }));
    b.motor(s1.joint, 300);
    b.load('joint-load', { joint: s2.joint, value: -torque, place: 100 });
    b.element('rod', s2.member, { diameter: 40, length: 240 });
    b.weightless();
    Object.assign(
      b.design.members.find((m) => m.id === s2.member)!,
      { name: 'Shaft', kind: 'shaft', steel: 'E335' },
    );
    const bearing = (at: number, rolls: string): object => ({
      at,
      thrust: 'takes',
      form: 'rolling',
      inner: 40,
      outer: 80,
      width: 18,
      block: 'no',
      rolls,
    });
    Object.assign(
      b.design.joints.find((j) => j.id === s2.joint)!,
      { name: 'Carried', bearings: [bearing(-100, 'balls'), bearing(100, 'rollers')] },
    );
    return { ...b.design, settings: { ...b.design.settings, ...settings } };
  }
  const linesOf = (d: Design): RatingLine[] => ratingOf(d).lines.filter((l) => /slope|deflection|critical/.test(l.what));
  const force = 200 / 0.09 / Math.cos(Math.PI / 9);

  it('slopes F·L²/16EI at the bearings, F·L³/48EI at the wheel, none there; limits after Shigley, of module 3 0.254 mm (from memory)', () => {
    const lines = linesOf(shaft());
    const of = (what: string, name: string): RatingLine => lines.find((l) => l.what === what && l.name.includes(name))!;
    const EI = STEEL * inertia(40);
    const slope = (force * 200 ** 2) / 16 / EI;
    expect(off(of('shaft, slope', 'bearing 1').value, 0.001 / slope)).toBeLessThan(1e-6);
    expect(off(of('shaft, slope', 'bearing 2').value, 0.0008 / slope)).toBeLessThan(1e-6);
    expect(off(of('shaft, deflection', 'Wheel').value, 0.254 / ((force * 200 ** 3) / 48 / EI))).toBeLessThan(1e-6);
    expect(of('shaft, slope', 'Wheel').value).toBeGreaterThan(1e6);
    expect(of('shaft, critical speed', 'Shaft').figures.find((f) => f.symbol === 'n')!.value).toBeCloseTo(100, 9);
    expect([3, 2, 1, 0.3].map(gearDeflection)).toEqual([0.254, 0.127, 0.0762, undefined]);
  });
  it('goes with load and application factor; a run at constant load gives what its load case gives', () => {
    const value = (d: Design): number => linesOf(d).find((l) => l.what === 'shaft, deflection')!.reserve;
    expect(off(value(shaft(400)) * 2, value(shaft()))).toBeLessThan(1e-9);
    expect(off(value(shaft(200, { applicationFactor: 2 })) * 2, value(shaft()))).toBeLessThan(1e-9);
    const d = { ...shaft(), runs: [{ id: 'r', name: 'Steady', duration: 2, frames: 21 }] };
    const run = rate(analyse(d).compiled, savedRuns(d)).lines;
    for (const l of linesOf(shaft()).filter((x) => x.value < 1e6)) {
      expect(off(run.find((x) => x.what === l.what && x.name === l.name)!.value, l.value), l.name).toBeLessThan(1e-6);
    }
  });
  it('what bends too far is not cured by a steel, and its strength is still offered one', () => {
    const bare = shaft(800);
    expect(linesOf(bare).some((l) => l.reserve < 1)).toBe(true);
    const more = { notches: [{ at: 0, form: 'plain' }], tensileStrength: 300, yieldStrength: 100 };
    const d = { ...bare, members: bare.members.map((m) => (m.name === 'Shaft' ? { ...m, ...more } : m)) } as Design;
    expect(ratingOf(d).lines.filter((l) => l.what === 'shaft, yield' && l.reserve < 1)).toHaveLength(1);
    expect(ratingFixes(d, d.members.find((m) => m.name === 'Shaft')!.id).map((f) => f.changes[0].field)).toEqual(['steel']);
  });
  it('says so where it is not carried twice', () => {
    const d = shaft();
    Object.assign(d.joints[1], { bearings: undefined });
    expect(ratingOf(d).unrated.map((u) => u.why)).toContain('without round bars on two bearings neither deflection nor critical speed is rated');
  });
});
