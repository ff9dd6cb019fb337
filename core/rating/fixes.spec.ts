import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { Builder } from '../testing/designs';
import { ratingFixes } from './fixes';
import { ratingOf, withRatingFix } from './trial';

const least = (d: Design, coupling: string): number =>
  Math.min(
    ...ratingOf(d)
      .lines.filter((l) => l.item === coupling)
      .map((l) => l.reserve),
  );

/** A pair of through-hardened steel that carries too much. */
function weak(torque: number): Design {
  const b = new Builder();
  const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([120, 0, 0])];
  const material = { materialGroup: 'through-hardened steel', hardness: 250, width: 30 };
  b.mesh(b.gear(s1.member, 20, 3, material), b.gear(s2.member, 60, 3, material));
  b.motor(s1.joint, 300);
  b.load('joint-load', { joint: s2.joint, value: -torque });
  return b.design;
}

describe('fixes of a mesh that fails', () => {
  it('each cure it, tried on the whole design; the design itself is left as it was', () => {
    for (const torque of [300, 450]) {
      const d = weak(torque);
      const before = JSON.stringify(d);
      const [mesh] = d.couplings;
      expect(least(d, mesh.id)).toBeLessThan(1);
      const fixes = ratingFixes(d, mesh.id);
      expect(fixes.length).toBeGreaterThan(0);
      for (const f of fixes) expect(least(withRatingFix(d, f), mesh.id), f.label).toBeGreaterThanOrEqual(1);
      expect(JSON.stringify(d)).toBe(before);
    }
  });
  it('a larger module is of ISO 54, goes to both wheels, and brings them to their working distance', () => {
    const d = weak(450);
    const fix = ratingFixes(d, d.couplings[0].id).find((f) => f.changes.some((c) => c.field === 'module'))!;
    const after = withRatingFix(d, fix);
    const modules = new Set(after.elements.map((e) => (e as { module?: number }).module));
    expect(modules.size).toBe(1);
    expect([4, 5, 6, 8, 10]).toContain([...modules][0]);
    expect(analyse(after).findings.filter((f) => /mesh|distance/.test(f.code))).toEqual([]);
  });
  it('a face is not widened beyond 1.2 diameters of the pinion; where nothing does, nothing is offered', () => {
    const width = (d: Design): number[] =>
      ratingFixes(d, d.couplings[0].id).flatMap((f) => f.changes.flatMap((c) => (c.field === 'width' ? [Number(c.value)] : [])));
    for (const torque of [300, 450, 900]) for (const b of width(weak(torque))) expect(b).toBeLessThanOrEqual(1.2 * 60);
    expect(ratingFixes(weak(1e6), weak(1e6).couplings[0].id)).toEqual([]);
  });
  it('a harder material drops what was stated of the softer one', () => {
    const d = JSON.parse(readFileSync(new URL('../../demo/inspection-lift.json', import.meta.url), 'utf8')) as Design;
    const mesh = d.couplings.find((c) => c.type === 'gear-pair')!;
    const fix = ratingFixes(d, mesh.id).find((f) => f.changes.some((c) => c.field === 'materialGroup'))!;
    const gears = withRatingFix(d, fix).elements.filter((e) => e.type === 'gear') as { materialGroup?: string; hardness?: number }[];
    expect(gears.map((g) => [g.materialGroup, g.hardness])).toEqual([
      ['case-hardened steel', undefined],
      ['case-hardened steel', undefined],
    ]);
  });
});

describe('fixes of a shaft that fails', () => {
  const shaft = (torque: number, more: object): Design => {
    const d = weak(torque);
    Object.assign(d.members[1], { name: 'Shaft', kind: 'shaft', steel: 'S235', ...more });
    const bar = { id: 'bar', name: 'Bar', type: 'rod', member: d.members[1].id, diameter: 30, length: 200 };
    const bearings = [-80, 80].map((at) => ({
      at,
      thrust: 'free' as const,
      form: 'rolling' as const,
      inner: 30,
      outer: 60,
      width: 15,
      block: 'no' as const,
    }));
    return {
      ...d,
      elements: [...d.elements, bar],
      joints: d.joints.map((j, k) => (k === 1 ? { ...j, bearings } : j)),
    } as Design;
  };
  it('rounder fillets, a stronger steel, two keys: each cures it, the least that does', () => {
    const d = shaft(300, { notches: [{ at: 0, form: 'shoulder', diameter: 26, outer: 30, radius: 0.2 }], keys: [{ at: 0, length: 10 }] });
    const { id } = d.members[1];
    expect(least(d, id)).toBeLessThan(1);
    const fixes = ratingFixes(d, id);
    expect(fixes.length).toBeGreaterThan(0);
    for (const f of fixes) expect(least(withRatingFix(d, f), id), f.label).toBeGreaterThanOrEqual(1);
    expect(fixes.map((f) => f.changes[0].field)).toContain('steel');
    // Rounder only as far as the step is high: 2 mm.
    const sharp = shaft(120, { notches: [{ at: 0, form: 'shoulder', diameter: 26, outer: 30, radius: 0.05 }] });
    const round = ratingFixes(sharp, id).find((f) => f.changes[0].field === 'notches')!;
    const [{ radius }] = round.changes[0].value as { radius: number }[];
    expect(radius).toBeGreaterThan(0.05);
    expect(radius).toBeLessThanOrEqual(2);
  });
  it('a steel drops the strengths that were stated; where nothing does, nothing is offered', () => {
    const d = shaft(300, { tensileStrength: 200, yieldStrength: 120, notches: [{ at: 0, form: 'plain' }] });
    const { id } = d.members[1];
    const [fix] = ratingFixes(d, id);
    const after = withRatingFix(d, fix).members[1];
    expect([after.tensileStrength, after.yieldStrength]).toEqual([undefined, undefined]);
    expect(ratingFixes(shaft(1e5, { notches: [{ at: 0, form: 'plain' }] }), id)).toEqual([]);
  });
});
