import { describe, expect, it } from 'vitest';
import { ALLOWANCE_SERIES, TOLERANCE_SERIES, interferenceOf, sizeLimits, standardTolerance, thicknessLimits } from './index';

const micro = (l: { lower: number; upper: number } | undefined): number[] | undefined => l && [l.lower, l.upper].map((x) => Math.round(x * 1000));

describe('limits and fits (ISO 286)', () => {
  it('standard tolerances above 3 mm are those of i = 0.45·∛D + 0.001·D at the geometric mean of their step (ISO 286-1, formula)', () => {
    const edges = [0, 3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500];
    const times: Record<number, number> = { 5: 7, 6: 10, 7: 16, 8: 25, 9: 40, 10: 64, 11: 100 };
    for (let k = 2; k < edges.length; k++) {
      const D = Math.sqrt(edges[k - 1] * edges[k]);
      const i = 0.45 * Math.cbrt(D) + 0.001 * D;
      for (const [grade, by] of Object.entries(times)) {
        const t = standardTolerance(Number(grade), edges[k])! * 1000;
        // The tables are rounded: to whole micrometres, coarse ones to 5 and 10.
        const off = Math.abs(t - by * i);
        expect(off, `IT${grade} at ${edges[k]}: ${t} beside ${by * i}`).toBeLessThanOrEqual(Math.max(1.2, 0.03 * t));
      }
    }
  });
  it.each([
    // Limits printed in every pocket book of tolerances, e.g. Roloff/Matek, tables; from memory.
    ['H7', 50, [0, 25]],
    ['h6', 50, [-16, 0]],
    ['k6', 30, [2, 15]],
    ['m6', 40, [9, 25]],
    ['n6', 60, [20, 39]],
    ['p6', 80, [32, 51]],
    ['r6', 100, [51, 73]],
    ['s6', 50, [43, 59]],
    ['u6', 120, [144, 166]],
    ['g6', 25, [-20, -7]],
    ['f7', 25, [-41, -20]],
    ['e8', 100, [-126, -72]],
    ['d9', 18, [-93, -50]],
    ['js7', 100, [-17.5, 17.5]],
    ['F8', 30, [20, 53]],
    ['E9', 60, [60, 134]],
    ['k9', 30, [0, 52]],
  ])('%s at %s mm lies between %s μm', (of, size, expected) => {
    const got = sizeLimits(of, size)!;
    expect(got.lower * 1000).toBeCloseTo(expected[0], 9);
    expect(got.upper * 1000).toBeCloseTo(expected[1], 9);
  });
  it('H7/s6 at 50 mm has 18 to 59 μm of interference, H7/g6 play', () => {
    expect(interferenceOf('H7/s6', 50)!.least).toBeCloseTo(0.018, 12);
    expect(interferenceOf('H7/s6', 50)!.greatest).toBeCloseTo(0.059, 12);
    expect(interferenceOf('H7/g6', 50)!.greatest).toBeLessThan(0);
  });
  it('what is not in the tables is not known', () => {
    for (const of of ['K7', 't6', 'h12', 'h3', 'Js7', 'q6', '7', 'hh', '']) expect(sizeLimits(of, 20), of).toBeUndefined();
    expect(sizeLimits('h6', 501)).toBeUndefined();
    expect(sizeLimits('h6', 0)).toBeUndefined();
    expect(interferenceOf('s6/H7', 50)).toBeUndefined();
  });
  it('deviations grow with the size and from letter to letter', () => {
    const letters = ['d', 'e', 'f', 'g', 'h', 'k', 'm', 'n', 'p', 'r', 's', 'u', 'x'];
    const sizes = [3, 6, 10, 14, 18, 24, 30, 40, 50, 65, 80, 100, 120, 140, 160, 180, 200, 225, 250, 280, 315, 355, 400, 450, 500];
    for (const size of sizes) {
      const middle = letters.map((l) => micro(sizeLimits(`${l}6`, size))!.reduce((a, b) => a + b));
      middle.forEach((m, k) => k && expect(m, `${letters[k]} at ${size}`).toBeGreaterThanOrEqual(middle[k - 1]));
    }
    for (const l of letters) {
      const far = sizes.map((s) => Math.abs(micro(sizeLimits(`${l}6`, s))!.reduce((a, b) => a + b)));
      far.forEach((m, k) => k && expect(m, `${l} at ${sizes[k]}`).toBeGreaterThanOrEqual(far[k - 1]));
    }
  });
});

describe('tooth thickness (DIN 3967)', () => {
  it('cd25 at 100 mm: −70 to −110 μm (Decker; Niemann/Winter, table of DIN 3967; from memory)', () => {
    expect(micro(thicknessLimits('cd', '25', 100))).toEqual([-110, -70]);
  });
  it('the thickest tooth of h is that without backlash; above 1600 mm nothing is known', () => {
    expect(thicknessLimits('h', '21', 10)!.upper).toBe(0);
    expect(thicknessLimits('h', '21', 1601)).toBeUndefined();
  });
  it('allowances fall from a to h, widths grow from 21 to 30, both grow with the diameter', () => {
    const sizes = [10, 50, 125, 280, 560, 1000, 1600];
    for (const d of sizes) {
      const tops = ALLOWANCE_SERIES.map((a) => thicknessLimits(a, '21', d)!.upper);
      tops.forEach((t, k) => k && expect(t).toBeGreaterThan(tops[k - 1]));
      const widths = TOLERANCE_SERIES.map((t) => thicknessLimits('h', t, d)!.lower);
      widths.forEach((w, k) => k && expect(w).toBeLessThan(widths[k - 1]));
    }
    for (const a of ALLOWANCE_SERIES) {
      for (const t of TOLERANCE_SERIES) {
        const lows = sizes.map((d) => thicknessLimits(a, t, d)!.lower);
        lows.forEach((l, k) => k && expect(l).toBeLessThan(lows[k - 1]));
      }
    }
  });
});
