import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Gear, gearOf } from '../elements/index';
import type { Design } from '../fields/types';
import { specificSliding } from '../teeth/index';
import { Builder } from '../testing/designs';
import { settle } from './settle';
import { gearsOfPair, withBalancedShifts } from './shifts';

function pair(more: Record<string, unknown> = {}): { design: Design; mesh: string } {
  const b = new Builder().weightless();
  const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([80, 0, 0])];
  const mesh = b.mesh(b.gear(s1.member, 20, 2), b.gear(s2.member, 60, 2, more), { name: 'Pair' });
  b.motor(s1.joint, 60);
  return { design: settle(b.design).design, mesh };
}

describe('balanced sliding', () => {
  it('changes both shifts, not their sum: the pair runs at its distance as before, and slides alike', () => {
    const { design, mesh } = pair();
    const done = withBalancedShifts(design, mesh);
    if (done.problem !== undefined) throw new Error(done.problem);
    const [a, b] = gearsOfPair(done.design, mesh)!;
    expect(Number(a.shift) + Number(b.shift)).toBeCloseTo(0, 12);
    expect(Number(a.shift)).toBeGreaterThan(0.2);
    const [s1, s2] = specificSliding(gearOf(a), gearOf(b), 80);
    // Shifts have four decimals.
    expect(Math.abs(s1 / s2 - 1)).toBeLessThan(2e-3);
    const seen = analyse(done.design);
    expect(seen.findings.filter((f) => f.severity !== 'note').map((f) => f.code)).toEqual([]);
    const derived = seen.compiled.couplings[0].model.derived!;
    expect(derived.find((d) => d.key === 'slidingA')!.value).toBeCloseTo(s1, 9);
    expect(derived.find((d) => d.key === 'slidingB')!.value).toBeCloseTo(s2, 9);
    // Done twice it stays.
    const again = withBalancedShifts(done.design, mesh);
    expect(again.problem ?? (again.design.elements.find((e) => e.id === a.id) as Gear).shift).toBe(a.shift);
  });
  it('what was typed for a shift goes with it', () => {
    const { design, mesh } = pair();
    const [a] = gearsOfPair(design, mesh)!;
    const done = withBalancedShifts({ ...design, typed: { [`${a.id}.shift`]: '0/2' } }, mesh);
    expect(done.problem === undefined && done.design.typed).toBeUndefined();
  });
  it('says why not: an internal gear, a gear in another mesh, teeth too few', () => {
    const inside = pair({ internal: true, rim: 150 });
    expect(withBalancedShifts(inside.design, inside.mesh).problem).toMatch(/external gears/);
    const b = new Builder().weightless();
    const shafts = [0, 80, 160].map((x) => b.shaft([x, 0, 0]));
    const [z1, z2, z3] = [b.gear(shafts[0].member, 20, 2), b.gear(shafts[1].member, 60, 2), b.gear(shafts[2].member, 20, 2)];
    const mesh = b.mesh(z1, z2);
    b.mesh(z2, z3, { name: 'Second pair' });
    expect(withBalancedShifts(b.design, mesh).problem).toMatch(/is in “Second pair” too/);
    const few = new Builder().weightless();
    const [p, q] = [few.shaft([0, 0, 0]), few.shaft([26, 0, 0])];
    const small = few.mesh(few.gear(p.member, 6, 2), few.gear(q.member, 20, 2));
    expect(withBalancedShifts(few.design, small).problem).toMatch(/pointed or undercut/);
  });
});
