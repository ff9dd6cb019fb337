import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { Builder } from '../testing/designs';
import { figure } from '../testing/figures';
import { camOf } from '../elements/index';
import type { Design } from '../fields/types';
import { ratingOf } from './trial';
import { completeElliptic } from '../math/index';
import { crossedContact, linePressure, toothBending } from './hertz';

const demo = (name: string): Design => JSON.parse(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8')) as Design;

describe('contact along a line', () => {
  it('pH = 0.418·√(F·E/(b·R)) of steel, in the usual form (Timoshenko and Goodier, from memory)', () => {
    const [F, b, R] = [1200, 15, 12];
    expect(Math.abs(linePressure(F, b, 20, 30) / (0.418 * Math.sqrt((F * 206_000) / (b * R))) - 1)).toBeLessThan(1e-3);
  });
  it('by half-widths: p = 2F/(π·a·b), a = √(8·F·R·(1 − ν²)/(π·E·b)) for two bodies of one steel (Shigley, eq. 3-73 and 3-74)', () => {
    const [F, b, r1, r2] = [800, 10, 15, 40];
    const R = 1 / (1 / r1 + 1 / r2);
    const a = Math.sqrt((8 * F * R * (1 - 0.3 ** 2)) / (Math.PI * 206_000 * b));
    expect(linePressure(F, b, r1, r2)).toBeCloseTo((2 * F) / (Math.PI * a * b), 6);
    // A flat face has no curvature; a hollow one that fits has no contact along a line.
    expect(linePressure(F, b, r1, Infinity)).toBeLessThan(linePressure(F, b, r1, r2));
    expect(() => linePressure(F, b, 15, -15)).toThrow('fit into each other');
  });
  it('a tooth as a short beam: M = F·h in a section of b·s²/6', () => {
    expect(toothBending(1000, 6, 12, 20)).toBeCloseTo((1000 * 6) / ((20 * 12 * 12) / 6), 9);
  });
});

describe('contact in a point', () => {
  it('complete elliptic integrals of m = 0, 0.25, 0.5, 0.75, 0.99 (Abramowitz and Stegun, tables 17.1 and 17.2, from memory)', () => {
    const table: [number, number, number][] = [
      [0, Math.PI / 2, Math.PI / 2],
      [0.25, 1.685750355, 1.467462209],
      [0.5, 1.854074677, 1.350643881],
      [0.75, 2.156515648, 1.211056028],
      [0.99, 3.695637363, 1.015993546],
    ];
    for (const [m, K, E] of table) {
      const { first, second } = completeElliptic(1 - m);
      expect(first, `K(${m})`).toBeCloseTo(K, 8);
      expect(second, `E(${m})`).toBeCloseTo(E, 8);
    }
  });
  it('two equal cylinders square to each other: a circle, as of two spheres (Johnson, Contact Mechanics, from memory)', () => {
    const [F, R] = [500, 20];
    const E = 206_000 / (2 * (1 - 0.3 ** 2));
    const a = Math.cbrt((3 * F * R) / (4 * E));
    const c = crossedContact(F, R, R, Math.PI / 2);
    expect(c.long).toBeCloseTo(a, 6);
    expect(c.short).toBeCloseTo(a, 6);
    expect(c.pressure / Math.cbrt((6 * F * E * E) / (Math.PI ** 3 * R * R))).toBeCloseTo(1, 6);
  });
  // cos θ = (B − A)/(A + B): two equal cylinders that cross at θ. a = m·∛(3πF(k1 + k2)/4Σ), in another form.
  const TABLE: [number, number, number][] = [
    [30, 2.731, 0.493],
    [35, 2.397, 0.53],
    [40, 2.136, 0.567],
    [45, 1.926, 0.604],
    [50, 1.754, 0.641],
    [55, 1.611, 0.678],
    [60, 1.486, 0.717],
    [65, 1.378, 0.759],
    [70, 1.284, 0.802],
    [75, 1.202, 0.846],
    [80, 1.128, 0.893],
    [85, 1.061, 0.944],
    [90, 1, 1],
  ];
  it.each(TABLE)('half axes at θ = %s° (Timoshenko and Goodier, Theory of Elasticity, 140, from memory)', (theta, m, n) => {
    const [F, R] = [900, 12];
    const round = Math.cbrt((3 * F * R * 2 * (1 - 0.3 ** 2)) / (4 * 206_000));
    const c = crossedContact(F, R, R, (theta * Math.PI) / 180);
    // The table was worked out by hand: its last figure is off by up to 2.
    expect(Math.abs(c.long / round - m)).toBeLessThan(0.0025);
    expect(Math.abs(c.short / round - n)).toBeLessThan(0.0025);
  });
  it('as the angle gets small it is the line contact of so long a piece; none is left at 0', () => {
    const c = crossedContact(400, 15, 40, 1e-3);
    // The middle of the ellipse carries 3/2·F/(2a) for each unit of its length.
    expect(c.pressure / linePressure(400 * 1.5, 2 * c.long, 15, 40)).toBeCloseTo(1, 3);
    expect(() => crossedContact(400, 15, 40, 0)).toThrow('along a line');
  });
  it('pressure goes with the cube root of the force; lengths × k and force × k² leave it', () => {
    const p = crossedContact(400, 15, 40, 0.7).pressure;
    expect(crossedContact(3200, 15, 40, 0.7).pressure / p).toBeCloseTo(2, 9);
    expect(crossedContact(1600, 30, 80, 0.7).pressure / p).toBeCloseTo(1, 9);
  });
});

describe('the rating of cams and ratchets', () => {
  it('of the trip cam of the weed rake: the greatest force at the sharpest place', () => {
    const d = demo('weed-rake');
    const l = ratingOf(d).lines.find((x) => x.what === 'cam, pressure')!;
    const cam = d.elements.find((e) => e.type === 'cam')!;
    const data = camOf(cam as never);
    if (typeof data === 'string') throw new Error(data);
    expect(figure(l, 'pH')).toBeCloseTo(linePressure(figure(l, 'F'), figure(l, 'b'), data.profile.curvature, data.shape.roller), 9);
    expect(figure(l, 'F')).toBeGreaterThan(40);
    // Four times the force, twice the pressure: the reserve of load is the square of the safety.
    expect(l.reserve).toBeCloseTo(l.value ** 2, 9);
    const bare = { ...d, couplings: d.couplings.map((c) => (c.type === 'cam-contact' ? { ...c, contactLimit: undefined } : c)) };
    expect(ratingOf(bare).unrated.map((u) => u.why)).toContain('the permissible contact pressure of its cam is not stated');
  });
  it('of the paddle winding gear: the pawl holds in the run in which the crank is let go', () => {
    const d = demo('paddle-winding-gear');
    const l = ratingOf(d).lines.find((x) => x.what === 'ratchet tooth, bending')!;
    expect(l.case).toBe('Let go half way up: the pawl holds');
    // What it holds still without losses: 3 879 N by the rack's pinion and 18/108.
    expect(figure(l, 'T')).toBeGreaterThan(30);
    expect(figure(l, 'σ')).toBeCloseTo(toothBending(figure(l, 'F'), figure(l, 'h'), figure(l, 's'), figure(l, 'b')), 9);
  });
  it('of the trolley: a driven wheel grips by μ·FN over what drives it; free wheels hardly need it', () => {
    const d = demo('towpath-trolley');
    const { lines } = ratingOf(d);
    const driven = lines.find((l) => l.what === 'wheel, slip' && l.name === 'Outer wheel on its rail')!;
    // Two wheels share the 350 N of slope and drag at 6 m, and what the start of the run takes.
    expect(figure(driven, 'F')).toBeGreaterThan(350 / 2);
    expect(driven.value).toBeCloseTo((0.25 * 1800) / figure(driven, 'F'), 9);
    expect(lines.find((l) => l.what === 'wheel, slip' && l.name === 'Outer free wheel on its rail')!.value).toBeGreaterThan(20);
    const pressed = lines.find((l) => l.what === 'wheel, pressure')!;
    expect(figure(pressed, 'pH')).toBeCloseTo(linePressure(1800, 50, 160, Infinity), 9);
    const without = (key: string): string[] =>
      ratingOf({ ...d, couplings: d.couplings.map((c) => ({ ...c, [key]: undefined })) }, false).unrated.map((u) => u.why);
    expect(without('wheelLoad')).toContain('the wheel load is not stated');
    expect(without('adhesion')).toContain('its coefficient of adhesion is not stated: no slip');
    expect(without('contactLimit')).toContain('its permissible contact pressure is not stated');
  });
  it('two wheels press on each other by both radii', () => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([75, 0, 0])];
    const wheel = (member: string, diameter: number): string => b.element('wheel', member, { diameter, width: 20 });
    b.couple('rolling', { a: wheel(s1.member, 50), b: wheel(s2.member, 100), wheelLoad: 900, adhesion: 0.1, contactLimit: 400 });
    b.motor(s1.joint, 30);
    b.load('joint-load', { joint: s2.joint, value: -2 });
    const { lines } = ratingOf(b.design);
    expect(
      figure(
        lines.find((l) => l.what === 'wheel, pressure')!,
        'pH',
      ),
    ).toBeCloseTo(linePressure(900, 20, 25, 50), 9);
    // 2 N·m at 50 mm are 40 N of the 90 N that it grips.
    expect(lines.find((l) => l.what === 'wheel, slip')!.value).toBeCloseTo(90 / 40, 9);
  });
  it('of a one-way clutch: its rated torque over what it takes along; nothing while it runs ahead', () => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([0, 0, 0])];
    b.couple('one-way-clutch', { a: s1.joint, b: s2.joint, clutchTorque: 30 });
    b.motor(s1.joint, 30);
    const id = b.load('joint-load', { joint: s2.joint, value: -12 });
    const clutch = (d: Design): number => ratingOf(d).lines.find((l) => l.what === 'one-way clutch')!.value;
    expect(clutch(b.design)).toBeCloseTo(30 / 12, 9);
    expect(clutch({ ...b.design, settings: { ...b.design.settings, applicationFactor: 1.5 } })).toBeCloseTo(30 / 18, 9);
    expect(clutch({ ...b.design, loads: b.design.loads.map((l) => (l.id === id ? { ...l, value: 0 } : l)) })).toBe(Infinity);
  });
});
