import { describe, expect, it } from 'vitest';
import { analyse } from '../../checks/index';
import type { Design, Element } from '../../fields/types';
import { elementProblems, gearOf, type Gear, elementKind } from '../../elements/index';
import { Builder } from '../../testing/designs';

const CD25 = { thicknessAllowance: 'cd', thicknessTolerance: '25' };
interface Said {
  readonly design: Design;
  readonly value: (key: string) => number;
  readonly codes: readonly string[];
}
function said(design: Design): Said {
  const s = analyse(design);
  const derived = s.compiled.couplings[0].model.derived ?? [];
  return { design, value: (key) => Number(derived.find((d) => d.key === key)?.value), codes: s.findings.map((f) => f.code) };
}
/** z 20 and 60 of module 2 at 80 mm; what both gears and the mesh state. */
function pair(gears: Record<string, unknown>, mesh: Record<string, unknown> = {}, far = 80): Said {
  const b = new Builder().weightless();
  const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([far, 0, 0])];
  b.mesh(b.gear(s1.member, 20, 2, gears), b.gear(s2.member, 60, 2, gears), mesh);
  b.motor(s1.joint, 60);
  return said(b.design);
}

describe('backlash between limits', () => {
  it('DIN 3967: j = −(As1 + As2) ± 2·Aa·tan α at the reference circle', () => {
    const { value, codes } = pair(CD25, { distanceTolerance: 0.023 });
    const byDistance = 2 * 0.023 * Math.tan(Math.PI / 9);
    // The formula takes the pressure angle of the reference circle; the true profiles differ by less than a part in a thousand.
    expect(value('backlashLeast') / (0.054 + 0.07 - byDistance)).toBeCloseTo(1, 3);
    expect(value('backlashMost') / (0.084 + 0.11 + byDistance)).toBeCloseTo(1, 3);
    expect(value('backlashAMost')).toBeCloseTo((value('backlashMost') / 20) * (180 / Math.PI), 3);
    expect(codes).not.toContain('tight-at-limits');
  });
  it('without stated limits there are none; what is drawn does not change by them', () => {
    expect(pair({}).value('backlashLeast')).toBeNaN();
    expect(pair(CD25).value('backlash')).toBe(pair({}).value('backlash'));
    for (const key of ['workingDistance', 'contactRatio']) expect(pair(CD25).value(key)).toBe(pair({}).value(key));
    expect(pair(CD25).value('contactRatio')).toBeGreaterThan(1);
  });
  it('an allowance of h with a tolerance of the distance may jam, and is said', () => {
    const tight = pair({ thicknessAllowance: 'h', thicknessTolerance: '22' }, { distanceTolerance: 0.05 });
    expect(tight.value('backlashLeast')).toBeLessThan(0);
    expect(tight.codes).toContain('tight-at-limits');
    // So near that the teeth have no place beside each other at all.
    const apart = pair(CD25, { distanceTolerance: 10 });
    expect(apart.codes).toContain('tight-at-limits');
    expect(apart.value('backlashLeast')).toBeNaN();
    expect(pair({ thicknessAllowance: 'h', thicknessTolerance: '22' }).codes).not.toContain('tight-at-limits');
  });
  it('deviations in numbers are the same as the series that they stand for', () => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([80, 0, 0])];
    b.mesh(
      b.gear(s1.member, 20, 2, { thicknessUpper: -0.054, thicknessLower: -0.084 }),
      b.gear(s2.member, 60, 2, { thicknessUpper: -0.07, thicknessLower: -0.11 }),
    );
    const by = said(b.design);
    for (const key of ['backlashLeast', 'backlashMost']) expect(by.value(key)).toBeCloseTo(pair(CD25).value(key), 12);
  });
  it('a ring is tightest where its wheel stands farthest out', () => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([40, 0, 0])];
    const limits = { thicknessUpper: -0.05, thicknessLower: -0.08 };
    b.mesh(b.gear(s1.member, 20, 2, limits), b.gear(s2.member, 60, 2, { internal: true, rim: 150, ...limits }), { distanceTolerance: 0.02 });
    const { value } = said(b.design);
    const byDistance = 2 * 0.02 * Math.tan(Math.PI / 9);
    expect(value('backlashLeast') / (0.1 - byDistance)).toBeCloseTo(1, 2);
    expect(value('backlashMost') / (0.16 + byDistance)).toBeCloseTo(1, 2);
  });
  it('on a rack: its own limits and those of its gear', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    const slide = b.slide([0, -20, 0], [1, 0, 0]);
    const up = { axis: [0, 1, 0], up: [0, 0, 1] };
    const gear = b.gear(s.member, 20, 2, CD25);
    const rack = b.element('rack', slide.member, {
      module: 2,
      teeth: 30,
      width: 20,
      height: 12,
      ...up,
      thicknessUpper: -0.03,
      thicknessLower: -0.06,
    });
    b.couple('rack-mesh', { a: gear, b: rack, distanceTolerance: 0.01 });
    b.motor(s.joint, 60);
    const { value } = said(b.design);
    const byDistance = 2 * 0.01 * Math.tan(Math.PI / 9);
    expect(value('backlashLeast')).toBeCloseTo(0.054 + 0.03 - byDistance, 9);
    expect(value('backlashMost')).toBeCloseTo(0.084 + 0.06 + byDistance, 9);
  });
  it('spans of the limits: the allowance across the flanks, ΔW = Esn·cos α (DIN 3960; from memory)', () => {
    const e = { id: 'g', type: 'gear', member: 'm', name: 'Wheel', teeth: 60, module: 2, width: 20, ...CD25 } as unknown as Element;
    const derived = elementKind('gear')!.derived!(e);
    const value = (key: string): number => Number(derived.find((d) => d.key === key)!.value);
    expect(value('span') - value('spanMost')).toBeCloseTo(0.07 * Math.cos(gearOf(e as Gear).alpha), 9);
    expect(value('span') - value('spanLeast')).toBeCloseTo(0.11 * Math.cos(gearOf(e as Gear).alpha), 9);
    expect(value('middleThinning')).toBeCloseTo(0.09, 12);
  });
  it.each([
    [{ thicknessAllowance: 'cd' }, 'thicknessTolerance'],
    [{ thicknessTolerance: '25' }, 'thicknessAllowance'],
    [{ thicknessUpper: -0.1 }, 'thicknessLower'],
    [{ thicknessLower: -0.1 }, 'thicknessUpper'],
    [{ thicknessUpper: -0.2, thicknessLower: -0.1 }, 'thicknessLower'],
    [{ ...CD25, teeth: 900 }, 'thicknessAllowance'],
  ])('%o is said beside its field', (stated, field) => {
    const e = { id: 'g', type: 'gear', member: 'm', name: 'Wheel', teeth: 30, module: 2, width: 20, ...stated } as unknown as Element;
    const [problem] = elementProblems(e).filter((p) => p.key === 'tooth-thickness');
    expect(problem.field).toBe(field);
  });
});
