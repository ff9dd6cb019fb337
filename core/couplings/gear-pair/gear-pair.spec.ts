import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse, overlapOf } from '../../checks/index';
import { setPhases } from '../../kinematics/index';
import { Builder } from '../../testing/designs';

/** Two wheels at a distance from each other, the second so far along its shaft. */
function pair(z1: number, z2: number, more1: Record<string, unknown> = {}, more2: Record<string, unknown> = {}, distance = z1 + z2, along = 0) {
  const b = new Builder();
  const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([distance, 0, along])];
  b.mesh(b.gear(s1.member, z1, 2, more1), b.gear(s2.member, z2, 2, more2));
  b.motor(s1.joint, 60);
  const a = analyse(b.design);
  const derived = (key: string): number => a.compiled.couplings[0].model.derived!.find((d) => d.key === key)!.value as number;
  return { a, derived, said: (code: string) => a.findings.filter((f) => f.code === code) };
}

describe('what flanks can do', () => {
  it('a contact ratio below 1.2 is a caution, below 1 a stop', () => {
    const at = (tipCut: number) => pair(20, 20, { tipCut }, { tipCut });
    const near = [0.3, 0.5, 0.7, 0.9, 1.1].map((cut) => ({
      ratio: at(cut).derived('contactRatio'),
      found: at(cut).said('low-contact-ratio')[0]?.severity,
    }));
    for (const { ratio, found } of near) expect(found).toBe(ratio < 1 ? 'fault' : ratio < 1.2 ? 'caution' : undefined);
    expect(new Set(near.map((x) => x.found)).size).toBe(3);
  });
  it('helical overlap counts the face that both have: wheels shifted along their shafts have less', () => {
    const helical = (along: number) =>
      pair(20, 40, { helix: 20, hand: 'left', width: 20 }, { helix: 20, hand: 'right', width: 30 }, 60 / Math.cos(Math.PI / 9), along);
    const overlap = (common: number): number => (common * Math.sin(Math.PI / 9)) / (Math.PI * 2);
    const [full, less, none] = [helical(0), helical(15), helical(25)].map((x) => x.derived('contactRatio'));
    expect(full - less).toBeCloseTo(overlap(20) - overlap(10), 9);
    expect(less - none).toBeCloseTo(overlap(10), 9);
    expect(helical(25).said('faces-apart')).toMatchObject([{ severity: 'fault' }]);
    expect(helical(15).said('faces-apart')).toMatchObject([{ severity: 'caution', message: expect.stringContaining('of 20 mm of face only 10 mm') }]);
    // Within the wider face the narrower one bears whole.
    expect(helical(5).said('faces-apart')).toEqual([]);
  });
  it('tips that run on the bottom of a space are a fault, by how much', () => {
    const { said } = pair(20, 20, { addendum: 1.4 });
    expect(said('tip-on-root')).toMatchObject([{ severity: 'fault', message: expect.stringContaining('0.3 mm') }]);
  });
  it('tips that reach below the other involute are said with the cut that cures it', () => {
    // A tall tip in deep spaces reaches below the form circle of an 18-tooth wheel that is not undercut.
    const of = (cut: number) => pair(18, 60, { shift: 0.1 }, { addendum: 1.2, tipCut: cut, shift: -0.1 }, 78).said('tip-in-fillet');
    expect(of(0)).toHaveLength(1);
    const by = Number(/by ([\d.]+) mm/.exec(of(0)[0].message)![1]);
    expect(of(by + 0.002)).toEqual([]);
    expect(of(by - 0.01)).toHaveLength(1);
  });
  it('an internal pair of few teeth difference strikes beside the mesh', () => {
    const b = (z1: number, z2: number, tipCut = 0.4) =>
      pair(z1, z2, { tipCut: 0 }, { internal: true, tipCut, rim: 200 }, z2 - z1).said('trochoid-interference');
    expect(b(30, 34)).toHaveLength(1);
    expect(b(30, 60)).toEqual([]);
  });
});

describe('a helical rack', () => {
  const mesh = (hand1: string, hand2: string, along = 0) => {
    const b = new Builder();
    const beta = Math.PI / 9;
    const pinion = b.shaft([0, 20 / Math.cos(beta), 0]);
    const slide = b.slide([0, 0, along], [1, 0, 0]);
    // The slide's z is the travel; the rack lies with its x along it, its teeth up towards the pinion.
    const rack = b.element('rack', slide.member, {
      teeth: 21,
      module: 2,
      width: 20,
      height: 20,
      helix: 20,
      hand: hand2,
    });
    const member = b.design.members.find((m) => m.id === slide.member)!;
    Object.assign(member, { axis: [1, 0, 0], up: [0, 0, 1] });
    Object.assign(
      b.design.elements.find((e) => e.id === rack)!,
      { axis: [1, 0, 0], up: [0, 0, 1] },
    );
    b.mesh(b.gear(pinion.member, 20, 2, { helix: 20, hand: hand1, width: 20 }), rack);
    Object.assign(b.design.couplings[0], { type: 'rack-mesh' });
    b.motor(pinion.joint, 60);
    return b.design;
  };
  it('takes a pinion of the other hand only', () => {
    const differs = (one: string, other: string): boolean => analyse(mesh(one, other)).findings.some((f) => f.code === 'helix-differs');
    expect(differs('right', 'left')).toBe(false);
    expect(differs('left', 'right')).toBe(false);
    expect(differs('right', 'right')).toBe(true);
    expect(differs('left', 'left')).toBe(true);
  });
  it('has its tooth in space also when it stands off along the axis: true profiles do not overlap half way between', () => {
    fc.assert(
      fc.property(fc.double({ min: -14, max: 14, noNaN: true }), fc.boolean(), (along, right) => {
        const d = setPhases(mesh(right ? 'right' : 'left', right ? 'left' : 'right', along)).design;
        const a = analyse(d);
        const o = overlapOf(a.pose, a.compiled.couplings[0]);
        expect(o).toBeDefined();
        expect(o!.area).toBeLessThan(2e-3 * 4);
      }),
      { numRuns: 30 },
    );
  });
});
