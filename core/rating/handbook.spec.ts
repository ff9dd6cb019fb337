import { describe, expect, it } from 'vitest';
import { convert } from '../units/index';
import { bendingCurvature, bendingStress, curvatureFactor, helixRate, shearStress, torsionRate } from './coil';
import { enduranceLimit, goodmanSafety, notchSensitivity } from './goodman';
import { keyPressure } from './keys';
import { axialFactors, equivalentLoad, rateSpectrum } from './rolling-bearing';

/** Worked examples of Shigley, Mechanical Engineering Design (8th to 10th editions), from memory; in its units. */
const [LBF, INCH, PSI] = [convert(1, 'lbf', 'N'), 25.4, convert(1, 'psi', 'MPa')];
const LBF_IN = (LBF * INCH) / 1e3;
const near = (got: number, printed: number, within = 0.005): void => expect(Math.abs(got / printed - 1)).toBeLessThan(within);

describe('worked examples of a handbook', () => {
  it('11-4: 500 lbf across and 400 along on a bearing of C 7 900, C0 4 450 lbf: Y 1.527, 890 lbf, 38 700 h at 300 rev/min', () => {
    // Its table goes by Fa/C0, the standard's by f0·Fa/C0: the same lines with f0 = 12.3.
    const { e, Y } = axialFactors((12.3 * 400) / 4450);
    expect(e).toBeCloseTo(0.285, 2);
    near(Y, 1.527);
    expect(400 / 500).toBeGreaterThan(e);
    const load = 0.56 * 500 + Y * 400;
    near(load, 890);
    const steps = [{ part: 1, radial: load * LBF, axial: 0, speed: 300 }];
    near(rateSpectrum({ dynamic: 7900 * LBF, rolls: 'balls' }, steps, 1)!.hours, 38_700, 0.01);
    // As the program has it, with f0 = 14 of usual bearings, the load is within 3 % of that.
    near(equivalentLoad({ dynamic: 7900 * LBF, static: 4450 * LBF, rolls: 'balls' }, 500 * LBF, 400 * LBF)!.load / LBF, 890, 0.03);
  });
  it('10-1: wire of 0.037 in on 0.4 in: KB 1.124, and 6.46 lbf bring it to 146 ksi', () => {
    const h = { wire: 0.037 * INCH, mean: 0.4 * INCH, coils: 10.5 };
    near(curvatureFactor(h), 1.124);
    near((curvatureFactor(h) * shearStress(h, 6.46 * LBF)) / PSI / 1e3, 146);
  });
  it('10-6: an extension spring of 0.035 in wire on 0.213 in, 12.57 turns, G 11.6 Mpsi: 17.91 lbf/in', () => {
    near(helixRate({ wire: 0.035 * INCH, mean: 0.213 * INCH, coils: 12.57 }, 11.6e6 * PSI) / (LBF / INCH), 17.91, 0.001);
  });
  it('10-8: a torsion spring of 0.072 in wire on 0.5218 in: Ki 1.115 by another factor, rate 29.2 lbf·in a turn with 10.8 for 10.2', () => {
    const h = { wire: 0.072 * INCH, mean: 0.5218 * INCH, coils: 4.658 };
    near(bendingCurvature(h), 1.115, 0.015);
    // The handbook puts 10.8 for 64/2π, since the coils rub.
    near((torsionRate(h, 28.5e6 * PSI) * 360) / 1e3 / LBF_IN, 29.2 * (10.8 / (64 / (2 * Math.PI))), 0.003);
    // A straight wire as long as the coil, bent by the same moment: σ = M/W.
    near(bendingStress(h, 1000), 1000 / ((Math.PI * h.wire ** 3) / 32), 1e-9);
  });
  it('7-6: 4 200 lbf·in on 1 7/16 in by a square key of 3/8 in, 65 ksi, factor 2.8: 1.34 in long', () => {
    const sizes = { height: 0.375 * INCH, depth: 0.1875 * INCH, count: 1 };
    near(keyPressure(4200 * LBF_IN, 1.4375 * INCH, { ...sizes, length: 1.34 * INCH }) / PSI / 1e3, 65 / 2.8);
  });
  it('6-6: Sut 690 MPa, r 3 mm: q 0.84 off the chart, Kf 1.55 of Kt 1.65', () => {
    const q = notchSensitivity(690, 3, false);
    near(q, 0.84, 0.015);
    near(1 + q * 0.65, 1.55);
  });
  it('6-3, 6-4 and the reliability of 99 %: 400 MPa on 32 mm: ka 0.923, kb 0.856, 0.814', () => {
    near(enduranceLimit(400, 32), 0.923 * 0.856 * 0.814 * 200);
  });
  it('7-2: 3 651 lbf·in reversed and 3 240 steady on 1.625 in, Kf 1.49, Kfs 1.30, Se 25.1, Sut 68 ksi: 12.91 and 8.659 ksi, n 1.56', () => {
    const d3 = Math.PI * 1.625 ** 3;
    const [bending, torsion] = [(32 * 3651) / d3, (16 * 3240) / d3];
    near(1.49 * bending, 12_910, 0.001);
    near(Math.sqrt(3) * 1.3 * torsion, 8659, 0.001);
    near(goodmanSafety({ bending: [bending, 0], torsion: [0, torsion], Kf: 1.49, Kfs: 1.3 }, 25_100, 68_000), 1.56);
  });
});
