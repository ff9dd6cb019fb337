import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { poseOf } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { type LostMotion, lostMotion } from './lost-motion';

const at = (d: Design, joint: string, held = [0]): LostMotion => {
  const [found] = lostMotion(poseOf(analyse(d).compiled), held, [joint]);
  if (!('worst' in found)) throw new Error(found.why);
  return found;
};

describe('lost motion', () => {
  /** Two pairs in a row; teeth thinned, mm at the reference circle. */
  function row(thin: readonly [number, number]): { design: Design; joint: string } {
    const b = new Builder().weightless();
    const [s1, s2, s3] = [b.shaft([0, 0, 0]), b.shaft([80, 0, 0]), b.shaft([180, 0, 0])];
    b.mesh(b.gear(s1.member, 20, 2, { thinning: thin[0] }), b.gear(s2.member, 60, 2));
    b.mesh(b.gear(s2.member, 25, 2, { at: [0, 0, 40], thinning: thin[1] }), b.gear(s3.member, 75, 2, { at: [0, 0, 40] }));
    b.motor(s1.joint, 60);
    return { design: b.design, joint: s3.joint };
  }
  const deg = (mm: number, radius: number): number => (mm / radius) * (180 / Math.PI);
  it('by hand: thinning over the radius; the first pair’s is divided by the second’s ratio', () => {
    const { design, joint } = row([0.1, 0.2]);
    const m = at(design, joint);
    const first = deg(0.1, 60) / 3;
    const second = deg(0.2, 75);
    expect(m.worst).toBeCloseTo(first + second, 9);
    // Plays as drawn are certain: nothing is left to chance.
    expect([m.least, m.statistical]).toEqual([m.worst, m.worst]);
    expect(m.parts.map((p) => p.part)[0]).toBeCloseTo(second, 9);
    expect(m).toMatchObject({ slide: false });
  });
  it('none without play, and none where a pair is held from behind', () => {
    const { design, joint } = row([0, 0]);
    expect(at(design, joint)).toMatchObject({ worst: 0, statistical: 0, parts: [] });
  });
  it('of a screw behind a pair: along the slide, in mm', () => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([80, 0, 0])];
    const table = b.slide([80, 0, 0], [0, 0, 1]);
    b.mesh(b.gear(s1.member, 20, 2, { thinning: 0.3 }), b.gear(s2.member, 60, 2));
    b.couple('screw-drive', {
      a: b.element('screw', s2.member, { diameter: 20, pitch: 4, length: 300 }),
      b: b.element('nut', table.member, { outside: 40, bore: 20, length: 30 }),
      play: 0.05,
    });
    b.motor(s1.joint, 60);
    const m = at(b.design, table.joint);
    const byTeeth = (deg(0.3, 60) / 360) * 4;
    expect(m.slide).toBe(true);
    expect(m.worst).toBeCloseTo(0.05 + byTeeth, 9);
    expect(m.parts.map((p) => p.from)).toEqual(['as stated', 'backlash as drawn']);
  });
  it('between limits: all plays at their least and greatest; likely by their middles and the root of the squares of half their ranges', () => {
    const { design, joint } = row([0.1, 0.2]);
    const cd25 = { thicknessAllowance: 'cd', thicknessTolerance: '25' };
    const limited = { ...design, elements: design.elements.map((e) => ({ ...e, ...cd25 })) } as Design;
    const m = at(limited, joint);
    // DIN 3967, cd 25: −54 to −84 μm up to 50 mm, −70 to −110 up to 125, −95 to −145 up to 280.
    const first = [deg(0.124, 60) / 3, deg(0.194, 60) / 3];
    const second = [deg(0.054 + 0.095, 75), deg(0.084 + 0.145, 75)];
    expect(m.least).toBeCloseTo(first[0] + second[0], 9);
    expect(m.worst).toBeCloseTo(first[1] + second[1], 9);
    const middle = (first[0] + first[1] + second[0] + second[1]) / 2;
    expect(m.statistical).toBeCloseTo(middle + Math.hypot((first[1] - first[0]) / 2, (second[1] - second[0]) / 2), 9);
    expect(m.parts.map((p) => p.from)).toEqual(['backlash by its limits', 'backlash by its limits']);
  });
  it('is not known where the teeth of a mesh do not run together', () => {
    const { design, joint } = row([0.1, 0.2]);
    const apart = { ...design, elements: design.elements.map((e, k) => (k === 0 ? { ...e, helix: 60 } : e)) } as Design;
    const [lost] = lostMotion(poseOf(analyse(apart).compiled), [0], [joint]);
    expect(lost).toEqual({ joint, why: expect.stringMatching(/backlash of “.*” is not known/) });
  });
  it('says where an output moves freely', () => {
    const { design, joint } = row([0.1, 0.2]);
    const [free] = lostMotion(poseOf(analyse(design).compiled), [], [joint]);
    expect(free).toEqual({ joint, why: 'it can move while the sources stand still' });
  });
  it('of planets one path counts: three with the same play give what one gives', () => {
    const planets = (count: number): Design => {
      const b = new Builder().weightless();
      const sun = b.shaft([0, 0, 0]);
      const carrier = b.shaft([0, 0, 0]);
      const g = b.gear(sun.member, 20, 2, { thinning: 0.1 });
      const ring = b.gear('frame', 80, 2, { internal: true });
      for (let k = 0; k < count; k++) {
        const angle = (2 * Math.PI * k) / count;
        const p = b.shaft([50 * Math.cos(angle), 50 * Math.sin(angle), 0], carrier.member);
        const wheel = b.gear(p.member, 30, 2);
        b.mesh(g, wheel);
        b.mesh(wheel, ring);
      }
      b.motor(sun.joint, 60);
      return { ...b.design, wanted: [] };
    };
    const of = (n: number): LostMotion => {
      const d = planets(n);
      return at(d, d.joints[1].id);
    };
    expect(of(1).worst).toBeGreaterThan(0);
    expect(of(3).worst).toBeCloseTo(of(1).worst, 9);
  });
});
