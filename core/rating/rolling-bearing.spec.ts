import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type StatedBearing, axialFactors, lifeFactor, rateSpectrum, referenceViscosity } from './rolling-bearing';

describe('rolling bearings', () => {
  /** Under one load. */
  const rateBearing = (b: StatedBearing, radial: number, axial: number, speed: number, hours: number) => {
    const r = rateSpectrum(b, [{ part: 1, radial, axial, speed }], hours);
    return r && { ...r.at, ...r };
  };
  it('mean load of a spectrum: 2 kN and 4 kN for half the time each make 3.302 kN for balls (∛((2³ + 4³)/2)), more at more turns', () => {
    const b = { dynamic: 30_000, static: 1e9, rolls: 'balls' } as const;
    const at = (n1: number, n2: number) =>
      rateSpectrum(
        b,
        [
          { part: 0.5, radial: 2000, axial: 0, speed: n1 },
          { part: 0.5, radial: 4000, axial: 0, speed: n2 },
        ],
        1000,
      )!;
    expect(at(100, 100).load).toBeCloseTo(1000 * Math.cbrt(36), 6);
    expect(at(100, 300).load).toBeCloseTo(1000 * Math.cbrt((8 + 3 * 64) / 4), 6);
    expect(at(100, 300).speed).toBe(200);
    expect(at(100, 0).load).toBeCloseTo(2000, 9);
    expect(at(100, 0).staticLoad).toBe(4000);
    // Lives add up as damages do: 1/L = Σ part/L.
    const one = (radial: number, speed: number): number => rateBearing(b, radial, 0, speed, 1000)!.hours;
    expect(1 / at(100, 300).hours).toBeCloseTo(0.5 / one(2000, 100) + 0.5 / one(4000, 300), 12);
  });
  it('Shigley, example 11-1: 400 lbf, 5 000 h at 1 725 rev/min want C = 14.3 kN (from memory)', () => {
    const r = rateBearing({ dynamic: 14_300, rolls: 'balls' }, 400 * 4.448222, 0, 1725, 5000)!;
    expect(Math.abs(r.needed / 1000 - 14.3)).toBeLessThan(0.05);
    expect(Math.abs(r.hours / 5000 - 1)).toBeLessThan(0.01);
  });
  it('L10 of balls and rollers by their exponents 3 and 10/3; life in hours at 1 000 rev/min (ISO 281, 5)', () => {
    expect(rateBearing({ dynamic: 30_000, rolls: 'balls' }, 5000, 0, 1000, 1)!.turns).toBeCloseTo(216, 9);
    expect(rateBearing({ dynamic: 30_000, rolls: 'balls' }, 5000, 0, 1000, 1)!.hours).toBeCloseTo(3600, 6);
    expect(rateBearing({ dynamic: 30_000, rolls: 'rollers' }, 5000, 0, 1000, 1)!.turns).toBeCloseTo(6 ** (10 / 3), 9);
    expect(rateBearing({ dynamic: 30_000, rolls: 'rollers' }, 5000, 100, 1000, 1)).toBeUndefined();
  });
  it('e and Y of the table, and between its lines (ISO 281, table 3, from memory)', () => {
    expect(axialFactors(0.172)).toEqual({ e: 0.19, Y: 2.3 });
    expect(axialFactors(6.89)).toEqual({ e: 0.44, Y: 1 });
    expect(axialFactors(100)).toEqual({ e: 0.44, Y: 1 });
    const r = rateBearing({ dynamic: 30_000, static: 14_000, rolls: 'balls' }, 1000, 1030, 1000, 1)!;
    expect([r.e, r.Y, r.X].map((x) => Number(x.toFixed(3)))).toEqual([0.28, 1.55, 0.56]);
    expect(r.load).toBeCloseTo(560 + 1.55 * 1030, 6);
    expect(r.staticLoad).toBeCloseTo(Math.max(1000, 600 + 515), 9);
  });
  it('life falls with the third power of the load, and with the speed', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 10, max: 1e5, noNaN: true }),
        fc.double({ min: 0, max: 1e5, noNaN: true }),
        fc.double({ min: 1, max: 1e4, noNaN: true }),
        (fr, fa, n) => {
          const b = { dynamic: 5e4, static: 1e9, rolls: 'balls' } as const;
          const [one, two] = [rateBearing(b, fr, fa, n, 1)!, rateBearing({ ...b, static: 2e9 }, 2 * fr, 2 * fa, n, 1)!];
          expect(one.hours / two.hours).toBeCloseTo(8, 6);
          expect(rateBearing(b, fr, fa, 2 * n, 1)!.hours).toBeCloseTo(one.hours / 2, 6);
        },
      ),
    );
  });
});

describe('the modified life of rolling bearings (ISO 281)', () => {
  const film = { pitchDiameter: 50, viscosity: 100, contamination: 0.5, fatigueLimit: 500 };
  it('ν1 is 45 000·n^−0.83/√D below 1 000 rev/min and 4 500/√(n·D) above; both meet within 2 %', () => {
    expect(referenceViscosity(100, 500)).toBeCloseTo((45_000 * 500 ** -0.83) / 10, 9);
    expect(referenceViscosity(100, 4000)).toBeCloseTo(4500 / Math.sqrt(4000) / 10, 9);
    expect(Math.abs(referenceViscosity(50, 999.999) / referenceViscosity(50, 1000) - 1)).toBeLessThan(0.025);
  });
  it('its lines for κ meet at 0.4 and 1, and end at 4; below 0.1 there are none', () => {
    for (const rolls of ['balls', 'rollers'] as const) {
      const at = (kappa: number): number => lifeFactor(rolls, kappa, 2000, film);
      for (const k of [0.4, 1]) expect(Math.abs(at(k - 1e-9) / at(k) - 1)).toBeLessThan(2e-3);
      expect(at(9)).toBe(at(4));
      expect(() => at(0.09)).toThrow('below 0.1');
    }
  });
  it('grows with the film and with cleanness, never above 50, and comes to 0.1 in dirt', () => {
    for (const rolls of ['balls', 'rollers'] as const) {
      let before = 0;
      for (const k of [0.1, 0.3, 0.6, 1, 2, 4]) {
        const now = lifeFactor(rolls, k, 3000, film);
        expect(now).toBeGreaterThan(before);
        before = now;
      }
      expect(lifeFactor(rolls, 4, 10, film)).toBe(50);
      expect(lifeFactor(rolls, 1, 3000, { ...film, contamination: 1e-12 })).toBeCloseTo(0.1, 2);
    }
  });
});
