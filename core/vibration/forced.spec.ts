import fc from 'fast-check';
import { Matrix, solve } from 'ml-matrix';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { Forces } from '../forces/index';
import { poseOf } from '../kinematics/index';
import { Builder } from '../testing/designs';
import type { Forced } from './forced';
import { springTrain } from './model';
import { vibrationOf } from './report';
import { SHEAR } from './shafts';

const TURN = 2 * Math.PI;
const near = (got: number, wanted: number, within = 1e-9): void => expect(Math.abs(got / wanted - 1)).toBeLessThan(within);
const inertia = (diameter: number): number => (7850 * Math.PI * (diameter / 1e3) ** 4 * 0.02) / 32;
const barStiffness = (bar: number, length: number): number => (SHEAR * 1e6 * Math.PI * (bar / 1e3) ** 4) / 32 / (length / 1e3);

/** Discs on a light bar that a motor drives at its first, with a ripple, against 20 N·m. */
function discs(diameters: readonly number[], apart: number, motor: object, zeta = 0.02): Design {
  const b = new Builder().weightless();
  const s = b.shaft([0, 0, 0]);
  const length = apart * (diameters.length - 1);
  diameters.forEach((diameter, k) => b.element('pulley', s.member, { form: 'flat', diameter, width: 20, at: [0, 0, k * apart] }));
  b.element('rod', s.member, { diameter: 20, length, at: [0, 0, length / 2], density: 1 });
  b.motor(s.joint, 600, { place: 0, ripple: 0.1, ...motor });
  b.load('joint-load', { joint: s.joint, value: -20 });
  return { ...b.design, settings: { ...b.design.settings, dampingRatio: zeta } };
}
/** A pair of gears alone. */
function pair(more: Record<string, unknown>, zeta = 0.02): Design {
  const b = new Builder().weightless();
  const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([120, 0, 0])];
  b.mesh(b.gear(s1.member, 20, 3), b.gear(s2.member, 60, 3), more);
  b.motor(s1.joint, 1500);
  b.load('joint-load', { joint: s2.joint, value: -90 });
  return { ...b.design, settings: { ...b.design.settings, dampingRatio: zeta } };
}
const forced = (d: Design): Forced => vibrationOf(d, false).forced!;

describe('forced vibration', () => {
  it('of two discs under a ripple at the first: T·ω1²·|1 + iη|/|ωn²·(1 + iη) − ω²|, ω1² = k/J1 (any text on vibration)', () => {
    for (const zeta of [0.01, 0.05, 0.2]) {
      const d = discs([200, 150], 400, { rippleOrder: 12 }, zeta);
      const { responses, speeds, forcings } = forced(d);
      expect(forcings).toMatchObject([{ kind: 'ripple', frequency: 120 }]);
      near(forcings[0].amplitude, 2, 1e-9);
      const [J1, J2, k] = [inertia(200), inertia(150), barStiffness(20, 400)];
      const eta = 2 * zeta;
      const own = k / J1 + k / J2;
      speeds.forEach((p, i) => {
        const square = (TURN * 120 * p) ** 2;
        near(responses[0].amplitudes[i], (2 * (k / J1) * Math.hypot(1, eta)) / Math.hypot(own - square, eta * own), 3e-3 / zeta / 10);
      });
      // At the resonance the damping alone holds it: 1/(2ζ) times what acts on the spring at rest, nearly.
      near(responses[0].most, (2 * J2) / (J1 + J2) / eta, 0.5 * eta * eta + 2e-3);
      near(responses[0].at, Math.sqrt(own) / TURN / 120, 2 * zeta * zeta + 1e-3);
    }
  });
  it('of a pair of gears with a transmission error: e·k·ω²·|1 + iη|/|ωn²·(1 + iη) − ω²|, nothing at a crawl, e·k far above', () => {
    const zeta = 0.03;
    const d = pair({ transmissionError: 0.004 }, zeta);
    const train = springTrain(new Forces(poseOf(analyse(d).compiled)));
    const [{ stiffness: k }] = train.springs;
    const own = k * (0.03 ** 2 / train.mass[0][0] + 0.09 ** 2 / train.mass[1][1]);
    const { responses, speeds, forcings } = forced(d);
    expect(forcings[0].frequency).toBeCloseTo(500, 9);
    speeds.forEach((p, i) => {
      const square = (TURN * 500 * p) ** 2;
      near(responses[0].amplitudes[i], (4e-6 * k * square * Math.hypot(1, 2 * zeta)) / Math.hypot(own - square, 2 * zeta * own), 1e-6);
    });
    // 90 N·m at 90 mm: 1 000 N, which the teeth carry steadily.
    near(responses[0].steady!, 1000);
  });
  it('of rows of discs: as the whole system solved at once (ml-matrix, a general library)', () => {
    const row = fc.array(fc.integer({ min: 80, max: 260 }), { minLength: 3, maxLength: 6 });
    fc.assert(
      fc.property(row, fc.double({ min: 0.005, max: 0.3, noNaN: true }), (diameters, zeta) => {
        const d = discs(diameters, 300, { rippleOrder: 7 }, zeta);
        const train = springTrain(new Forces(poseOf(analyse(d).compiled)));
        const { responses, speeds } = forced(d);
        const n = train.unknowns;
        const K = Matrix.zeros(n, n);
        for (const s of train.springs) {
          for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) K.set(i, j, K.get(i, j) + s.stiffness * s.gradient[i] * s.gradient[j]);
        }
        for (const k of [5, 60, 110, 185]) {
          const square = (TURN * 70 * speeds[k]) ** 2;
          const A = Matrix.zeros(2 * n, 2 * n);
          for (let i = 0; i < n; i++) {
            for (let j = 0; j < n; j++) {
              const [re, im] = [K.get(i, j) - square * train.mass[i][j], 2 * zeta * K.get(i, j)];
              A.set(i, j, re);
              A.set(n + i, n + j, re);
              A.set(i, n + j, -im);
              A.set(n + i, j, im);
            }
          }
          const x = solve(A, Matrix.columnVector([...train.driven[0].map((v) => 2 * v), ...new Float64Array(n)])).to1DArray();
          train.springs.forEach((s, i) => {
            const part = (from: number): number => s.gradient.reduce((sum, g, u) => sum + g * x[from + u], 0);
            near(responses[i].amplitudes[k], s.stiffness * Math.hypot(1, 2 * zeta) * Math.hypot(part(0), part(n)), 1e-6);
          });
        }
      }),
      { seed: 11, numRuns: 25 },
    );
  });
  it('is linear in what forces it; several add up at their worst; twice the speed is looked at twice as far', () => {
    const one = forced(pair({ transmissionError: 0.002 })).responses[0];
    const two = forced(pair({ transmissionError: 0.004 })).responses[0];
    near(two.most, 2 * one.most);
    near(two.at, one.at);
    const d = discs([200, 150, 180], 300, { rippleOrder: 2 });
    const slow = forced({ ...d, sources: d.sources.map((s) => ({ ...s, speed: 300, rippleOrder: 4 })) } as Design);
    near(slow.responses[0].nominal, forced(d).responses[0].nominal);
  });
  it('a source that is held has no ripple; a mesh that counts as rigid forces nothing, and that is said; nothing stated, nothing shown', () => {
    expect(vibrationOf(discs([200, 150], 400, {}), true).forced).toBeUndefined();
    expect(vibrationOf(pair({}), false).forced).toBeUndefined();
    const d = discs([200, 150], 400, {});
    // A ripple is a part of the torque: of none it is none, and that is said.
    const idle = vibrationOf({ ...d, loads: [] } as Design, false);
    expect(idle.forced).toBeUndefined();
    expect(idle.assumptions.map((a) => a.why)).toContain('its ripple is left out: it gives no torque, or its torque is not known');
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([160, 0, 0])];
    // Teeth that do not reach each other count as rigid.
    b.mesh(b.gear(s1.member, 20, 3), b.gear(s2.member, 60, 3), { transmissionError: 0.01 });
    b.element('rod', s1.member, { diameter: 20, length: 400, at: [0, 0, 200] });
    b.element('pulley', s1.member, { form: 'flat', diameter: 100, width: 20, at: [0, 0, 400] });
    b.motor(s1.joint, 600);
    b.load('joint-load', { joint: s2.joint, value: -20 });
    const v = vibrationOf(b.design, false);
    expect(v.assumptions.map((a) => a.why)).toContain('its transmission error is left out, for it counts as rigid');
    expect(v.forced).toBeUndefined();
    expect(vibrationOf(d, false).forced!.responses).toHaveLength(1);
  });
});
