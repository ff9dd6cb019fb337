import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import { camOf } from '../elements/index';
import type { Design } from '../fields/types';
import { ratingOf } from './fixes';
import { linePressure, toothBending } from './hertz';

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
});
