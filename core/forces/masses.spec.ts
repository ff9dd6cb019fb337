import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { compile } from '../kinematics/index';
import type { Member } from '../fields/types';
import { Builder } from '../testing/designs';
import { type Vec3, cross } from '../math/index';
import { bodyMasses } from './body-masses';
import { massesOf } from './masses';

/** A bar of steel, 200 × 20 × 10 mm along x with its middle 30 mm out, on a member of which more is stated. */
function bar(more: Partial<Member>) {
  const b = new Builder();
  const s = b.shaft([0, 0, 0], 'frame', more);
  b.element('block', s.member, { length: 200, depth: 20, height: 10, at: [30, 0, 0] });
  return { b, m: massesOf(compile(b.design)).get(s.member)! };
}
const MASS = 7850 * 0.2 * 0.02 * 0.01;
/** kg·mm² about the middle, by a²+b² over 12 (Meriam & Kraige, table D/4). */
const ALONG_Z = (MASS * (200 ** 2 + 20 ** 2)) / 12;

describe('mass, centre and inertia of a member', () => {
  it('come from its shapes where nothing is stated', () => {
    const { m } = bar({});
    expect(m.mass).toBeCloseTo(MASS, 12);
    expect(m.centre[0]).toBeCloseTo(30, 9);
    expect(m.inertia[2]).toBeCloseTo(ALONG_Z, 6);
  });
  it('a stated centre counts without a mass, and takes the shapes’ mass and inertia with it', () => {
    const { m } = bar({ massCentre: [0, 5, 0] });
    expect(m.mass).toBeCloseTo(MASS, 12);
    expect(m.centre).toEqual([0, 5, 0]);
    expect(m.inertia[2]).toBeCloseTo(ALONG_Z, 6);
  });
  it('a stated inertia counts without a mass', () => {
    const { m } = bar({ inertia: [0.1, 0.2, 0.25] });
    expect(m.mass).toBeCloseTo(MASS, 12);
    expect(m.centre[0]).toBeCloseTo(30, 9);
    expect(m.inertia.slice(0, 3).map((x) => x / 1e6)).toEqual([0.1, 0.2, 0.25].map((x) => expect.closeTo(x, 12)));
  });
  it('a stated mass with inertia but no centre keeps the shapes’ centre', () => {
    const { m } = bar({ mass: 2, inertia: [0.1, 0.2, 0.25] });
    expect(m.mass).toBe(2);
    expect(m.centre[0]).toBeCloseTo(30, 9);
    expect(m.inertia[2] / 1e6).toBeCloseTo(0.25, 12);
  });
  it('a stated mass alone scales the inertia of the shapes', () => {
    const { m } = bar({ mass: 3 * MASS });
    expect(m.inertia[2]).toBeCloseTo(3 * ALONG_Z, 6);
  });
  it('moments of inertia that no body has are a stop finding, a flat plate’s are not', () => {
    const codes = (inertia: [number, number, number]): string[] => analyse(bar({ inertia }).b.design).findings.map((f) => f.code);
    expect(codes([1, 2, 3.1])).toContain('inertia-impossible');
    expect(codes([1, 2, 3])).not.toContain('inertia-impossible');
  });
  it('a freedom of a member without mass is named', () => {
    const b = new Builder();
    b.shaft([0, 0, 0]);
    expect(analyse(b.design).findings.map((f) => f.code)).toContain('freedom-massless');
    expect(analyse(bar({}).b.design).findings.map((f) => f.code)).not.toContain('freedom-massless');
  });
});

describe('the inertia of a source’s rotor', () => {
  it('is about the axis that it turns, whatever way that points, and about no other', () => {
    const axis: Vec3 = [2 / 7, -3 / 7, 6 / 7];
    const b = new Builder();
    b.shaft([0, 100, 0]);
    b.shaft([0, 200, 0]);
    const s = b.shaft([0, 0, 0], 'frame', { axis });
    b.motor(s.joint, 60, { rotor: 0.35 });
    const { inertia, heavy } = bodyMasses(compile(b.design));
    const [xx, yy, zz, xy, yz, zx] = inertia.subarray(18, 24);
    const times = (v: Vec3): number[] => [xx * v[0] + xy * v[1] + zx * v[2], xy * v[0] + yy * v[1] + yz * v[2], zx * v[0] + yz * v[1] + zz * v[2]];
    times(axis).forEach((x, k) => expect(x).toBeCloseTo(0.35 * axis[k], 12));
    for (const across of [cross(axis, [1, 0, 0]), cross(axis, [0, 0, 1])]) times(across).forEach((x) => expect(x).toBeCloseTo(0, 12));
    expect([...heavy]).toEqual([0, 0, 0, 1]);
  });
});
