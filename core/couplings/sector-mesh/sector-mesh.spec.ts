import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../../checks/index';
import { elementKind } from '../../elements/index';
import { massOf } from '../../solids/index';
import type { Element } from '../../fields/types';
import { compile, setPhases } from '../../kinematics/index';
import { Hand, run } from '../../motion/index';
import { Builder, item } from '../../testing/designs';

/** A 20-tooth pinion driving a sector of 60 teeth on the whole circle, module 2, centre distance 80 mm along x. */
function quadrant(
  arcTeeth = 15,
  first = -180 - (arcTeeth - 1) * 3,
  lever: { lower?: number; upper?: number } = {},
): Builder & { pinion: string; arm: string } {
  const b = new Builder();
  const p = b.shaft([0, 0, 0]),
    s = b.shaft([80, 0, 0]);
  const g = b.gear(p.member, 20, 2);
  const e = b.element('sector', s.member, { teeth: 60, arcTeeth, phase: first, module: 2, width: 18, bore: 20 });
  b.couple('sector-mesh', { a: e, b: g });
  b.motor(p.joint, 60);
  Object.assign(
    b.design.joints.find((j) => j.id === s.joint)!,
    lever,
  );
  return Object.assign(b, { pinion: p.joint, arm: s.joint });
}

describe('a sector gear', () => {
  it('turns as the wheel of which it is a part: 60 to 20, the other way', () => {
    const a = analyse(quadrant(15, undefined, { lower: -30, upper: 30 }).design);
    expect(a.ratios[0].decimal).toBeCloseTo(-1 / 3, 12);
    expect(a.findings.filter((f) => f.severity === 'fault')).toEqual([]);
    // Force at the pitch point by statics: the sum of both torques over the centre distance, 20 mm and 60 mm from the axes.
    const b = quadrant(15, undefined, { lower: -30, upper: 30 });
    b.design.loads.push(item({ id: 'l', name: 'Load', type: 'joint-load', joint: b.arm, value: 60 }));
    expect(Math.abs(analyse(b.design).ledger.couplings[0].tangential)).toBeCloseTo((60 + 60 / 3 / 0.98) / 0.08, 6);
  });

  it('meshes half a pitch beyond its first and its last tooth: 15 teeth of 60 are 90°, 45° each way from the middle', () => {
    const { design, pinion } = quadrant();
    const c = compile(design);
    const hand = new Hand(analyse(design).pose);
    const way = hand.interval(c.structure.firstOf.get(pinion)!);
    // Three turns of the pinion for one of the sector.
    expect(way.upper!.at).toBeCloseTo((45 / 360) * 3, 9);
    expect(way.lower!.at).toBeCloseTo((-45 / 360) * 3, 9);
    expect(way.upper!.leaves).toContain('15 teeth');
    const moved = hand.move(c.structure.firstOf.get(pinion)!, 10);
    expect(moved.held?.leaves).toContain('arc of 15 teeth');
    expect(moved.value / (2 * Math.PI)).toBeCloseTo(0.375, 9);
  });

  it('says where the stops let it leave mesh, that nothing stops it, or that it never was in mesh', () => {
    const codes = (b: Builder): string[] => analyse(b.design).findings.map((f) => f.code);
    expect(codes(quadrant(15, undefined, { lower: -30, upper: 30 }))).not.toContain('leaves-engagement');
    const beyond = analyse(quadrant(15, undefined, { lower: -30, upper: 60 }).design).findings.filter((f) => f.code === 'leaves-engagement');
    expect(beyond).toHaveLength(1);
    expect(beyond[0].message).toMatch(/ends at 45° and the stops let it go to 60°/);
    expect(codes(quadrant())).toContain('engagement-open');
    expect(codes(quadrant(15, 0))).toContain('out-of-engagement');
  });

  it('leaves mesh in a run at the time at which its arc is used up, and the run ends there', () => {
    const { design } = quadrant();
    // 60 rev/min of the pinion are 120°/s of the sector: 45° in 0.375 s.
    for (const frames of [3, 11, 500]) {
      const r = run(compile(design), { duration: 1, frames });
      expect(r.events.map((e) => e.kind)).toEqual(['leaves-engagement']);
      expect(r.events[0].time).toBeCloseTo(0.375, 6);
    }
  });

  it('puts its teeth into spaces by turning the gear', () => {
    const { design } = quadrant();
    const { design: set } = setPhases(design);
    const add = compile(set).couplings[0].model.phase!.add;
    expect(Math.abs(add)).toBeLessThan(1e-9);
  });

  it('weighs at most what the whole wheel weighs, and in step with its teeth', () => {
    const kind = elementKind('sector')!,
      wheel = elementKind('gear')!;
    const common = { id: 'e', name: 'E', member: 'm', teeth: 60, module: 2, width: 18 };
    const whole = massOf(wheel.shape({ ...common, type: 'gear' } as Element), 7850).mass;
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 50 }), (arcTeeth) => {
        const mass = (n: number): number => massOf(kind.shape({ ...common, type: 'sector', arcTeeth: n } as Element), 7850).mass;
        const one = mass(arcTeeth + 1) - mass(arcTeeth);
        expect(one).toBeGreaterThan(0);
        // A tooth more, less the part of the hub that it takes the place of.
        expect(one).toBeLessThan(whole / 60);
        expect(mass(arcTeeth)).toBeLessThan(whole);
      }),
      { numRuns: 20 },
    );
  });
});
