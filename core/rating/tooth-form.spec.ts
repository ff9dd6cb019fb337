import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { spur } from '../testing/gears';
import { type GearData, gearOutline, pairData } from '../teeth/index';
import { toothForm, virtualTeeth } from './tooth-form';

const DEG = Math.PI / 180;
const gear = (teeth: number, more: Parameters<typeof spur>[2] = {}): GearData => spur(teeth, 1, more);

describe('form factor and stress correction factor', () => {
  // Form factor and stress correction factor for load at the tip, α = 20°, ha* = 1, c* = 0.25, ρf* = 0.38, x = 0: the table
  // that machine design textbooks give after ISO 6336-3, method C (from memory; rounded to 0.01).
  it.each([
    [17, 2.97, 1.52],
    [18, 2.91, 1.53],
    [19, 2.85, 1.54],
    [20, 2.8, 1.55],
    [21, 2.76, 1.56],
    [22, 2.72, 1.57],
    [23, 2.69, 1.575],
    [24, 2.65, 1.58],
    [25, 2.62, 1.59],
    [26, 2.6, 1.595],
    [27, 2.57, 1.6],
    [28, 2.55, 1.61],
    [29, 2.53, 1.62],
    [30, 2.52, 1.625],
    [35, 2.45, 1.65],
    [40, 2.4, 1.67],
    [45, 2.35, 1.68],
    [50, 2.32, 1.7],
    [60, 2.28, 1.73],
    [70, 2.24, 1.75],
    [80, 2.22, 1.77],
    [90, 2.2, 1.78],
    [100, 2.18, 1.79],
    [150, 2.14, 1.83],
    [200, 2.12, 1.865],
    [1e6, 2.06, 1.97],
  ])('of %i teeth loaded at the tip: YF %f, YS %f', (z, form, stress) => {
    const f = toothForm(gear(z), 1);
    // The table is rounded, and was read off curves.
    expect(Math.abs(f.form - form)).toBeLessThan(0.025);
    expect(Math.abs(f.stress - stress)).toBeLessThan(0.03);
  });

  it('stand on the section where a tangent at 30° touches the fillet of the generated tooth', () => {
    for (const [teeth, shift] of [
      [20, 0],
      [30, 0],
      [40, -0.3],
      [25, 0.4],
      [80, 0.5],
      [150, 0],
    ]) {
      const g = gear(teeth, { module: 5, shift });
      const points = gearOutline(g, 0, { flank: 40, fillet: 400 });
      // The tooth stands about the x axis: along its flank from the root outwards, the tangent makes 30° with it at one point.
      let chord = NaN;
      let nearest = Infinity;
      for (let i = 0; i + 3 < points.length; i += 2) {
        const [x0, y0, x1, y1] = points.slice(i, i + 4);
        const [x, y] = [(x0 + x1) / 2, (y0 + y1) / 2];
        const angle = Math.atan2(y, x);
        if (Math.abs(angle) > Math.PI / teeth || Math.hypot(x, y) > g.pitchRadius - 0.2 * g.module) continue;
        const slope = Math.atan2(Math.abs(y1 - y0), Math.abs(x1 - x0));
        const off = Math.abs(slope - 30 * DEG);
        if (off < nearest) {
          nearest = off;
          chord = (2 * Math.abs(y)) / g.module;
        }
      }
      expect(nearest).toBeLessThan(0.02);
      expect(Math.abs(toothForm(g, 1).chord / chord - 1), `${teeth} teeth, x ${shift}`).toBeLessThan(5e-3);
    }
  });

  it('do not depend on the size, and come to those of the rack with many teeth', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 17, max: 200 }),
        fc.double({ min: -0.2, max: 0.6, noNaN: true }),
        fc.double({ min: 0.3, max: 30, noNaN: true }),
        (z, x, k) => {
          const [a, b] = [gear(z, { shift: x }), gear(z, { shift: x, module: k })].map((g) => toothForm(g, 1.5));
          expect(b.form).toBeCloseTo(a.form, 9);
          expect(b.stress).toBeCloseTo(a.stress, 9);
        },
      ),
      { numRuns: 100 },
    );
    const rack = toothForm(gear(1e7), 1);
    expect(Math.abs(toothForm(gear(1e4), 1).form / rack.form - 1)).toBeLessThan(1e-3);
  });

  it('of a helical gear are those of the spur gear with its virtual teeth; helix → 0 changes nothing', () => {
    const helical = gear(40, { beta: 20 * DEG });
    const zn = virtualTeeth(helical);
    expect(zn).toBeCloseTo(40 / (Math.cos(Math.asin(Math.sin(20 * DEG) * Math.cos(20 * DEG))) ** 2 * Math.cos(20 * DEG)), 12);
    expect(toothForm(gear(40, { beta: 1e-7 }), 1.6).form).toBeCloseTo(toothForm(gear(40), 1.6).form, 9);
  });

  it('loaded at the outer point of single contact is less than at the tip', () => {
    for (const z of [20, 35, 90]) {
      const e = pairData(gear(z), gear(60)).transverseContactRatio;
      expect(toothForm(gear(z), e).form).toBeLessThan(0.85 * toothForm(gear(z), 1).form);
    }
  });
});
