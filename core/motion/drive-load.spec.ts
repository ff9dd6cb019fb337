import { describe, expect, it } from 'vitest';
import { compile } from '../kinematics/index';
import { sliderCrank } from '../testing/mechanisms';
import { Builder, item } from '../testing/designs';
import { driveLoad, dutiesOf, run } from './index';

describe('a train that more than its source moves', () => {
  it('has no load of a drive: another freedom, or another source', () => {
    const train = (more: (b: Builder, slide: string) => void): boolean => {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0], 'frame', { inertia: [1e-3, 1e-3, 1e-3], mass: 1 }),
        t = b.slide([100, 0, 0], [1, 0, 0], 'frame', { mass: 1, inertia: [1e-3, 1e-3, 1e-3] });
      b.motor(s.joint, 60, { profile: 'part turn', amount: 90, time: 1 });
      more(b, t.joint);
      const c = compile(b.design);
      return driveLoad(c, run(c, { duration: 1, frames: 11 })) !== undefined;
    };
    expect(train((b, j) => b.couple('proportional', { a: b.design.joints[0].id, amountA: 1, b: j, amountB: 10 }))).toBe(true);
    expect(train(() => undefined)).toBe(false);
    expect(train((b, j) => b.motor(j, 10))).toBe(false);
  });
});

describe('the load of a slider-crank’s drive', () => {
  const [r, l] = [0.05, 0.16];
  const made = () => {
    const { b, crank, slider } = sliderCrank(50, 160, 0.6);
    Object.assign(
      b.design.members.find((m) => m.id === 'slider')!,
      { mass: 2 },
    );
    b.design.loads.push(item({ id: 'push', name: 'Push', type: 'joint-load', joint: slider.joint, value: -300 }));
    b.design.sources[0] = item({ ...b.design.sources[0], profile: 'part turn', amount: 360, time: 2, speedShape: 'harmonic' });
    const c = compile(b.design);
    return { c, crank, result: run(c, { duration: 2, frames: 401 }) };
  };
  /**
   * Travel of the slider for one rad of the crank, and its change, in closed form (Norton, Design of Machinery, section
   * 4.10, from memory).
   */
  const travel = (t: number): number => r * Math.cos(t) + Math.sqrt(l * l - (r * Math.sin(t)) ** 2);
  const slope = (t: number): number => -r * Math.sin(t) - (r * r * Math.sin(t) * Math.cos(t)) / Math.sqrt(l * l - (r * Math.sin(t)) ** 2);

  it('is J(φ) = m x′², J′ = 2 m x′ x″, and the force times x′', () => {
    const { c, result } = made();
    const d = driveLoad(c, result)!;
    const n = result.coordinates;
    for (const f of [20, 90, 170, 233, 380]) {
      const t = 0.6 + result.q[f * n];
      const x1 = slope(t);
      const h = 1e-5;
      const x2 = (slope(t + h) - slope(t - h)) / (2 * h);
      expect(d.inertia[f]).toBeCloseTo(2 * x1 * x1, 9);
      expect(d.slope[f]).toBeCloseTo(4 * x1 * x2, 8);
      // What the slider pushes back with, whatever the speed.
      expect(d.effort[f]).toBeCloseTo(300 * x1, 7);
    }
    expect(travel(0)).toBeCloseTo(0.21, 12);
  });

  it('gives duty figures: the inertia seen goes from nothing at the dead centres to its greatest, and the root mean square is that of a fine sum', () => {
    const { c, result } = made();
    const [d] = dutiesOf(c, result);
    const fine = Math.max(...Array.from({ length: 3601 }, (_, k) => 2 * slope((k * Math.PI) / 1800) ** 2));
    expect(d.inertia!.greatest).toBeCloseTo(fine, 5);
    expect(d.inertia!.least).toBeLessThan(1e-3 * fine);
    const half = run(c, { duration: 2, frames: 4001 });
    expect(d.rms / dutiesOf(c, half)[0].rms).toBeCloseTo(1, 3);
  });
});

describe('the load of a gear train’s drive', () => {
  it('has the inertia of the wheel behind it by the ratio squared', () => {
    const b = new Builder().weightless();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([30, 0, 0], 'frame', { mass: 1, massCentre: [0, 0, 0], inertia: [0.01, 0.02, 0.03] });
    b.mesh(b.gear(s1.member, 20), b.gear(s2.member, 40, 1, { phase: 4.5 }));
    Object.assign(
      b.design.members.find((m) => m.id === s1.member)!,
      { mass: 1, inertia: [1e-4, 1e-4, 1e-4] },
    );
    b.motor(s1.joint, 60);
    const c = compile(b.design);
    const d = driveLoad(c, run(c, { duration: 1, frames: 3 }))!;
    for (const f of [0, 1, 2]) expect(d.inertia[f]).toBeCloseTo(1e-4 + 0.03 / 4, 12);
  });
});
