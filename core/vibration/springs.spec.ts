import { describe, expect, it } from 'vitest';
import type { Design } from '../fields/types';
import { STEEL } from '../forces/index';
import { Builder } from '../testing/designs';
import { vibrationOf } from './report';

const DEG = 180 / Math.PI;
const near = (got: number | undefined, wanted: number, within = 1e-9): void => expect(Math.abs(got! / wanted - 1)).toBeLessThan(within);

describe('a stiffness as stated', () => {
  it('of a proportional coupling between shafts: the load over it, and through a ratio by its square', () => {
    const b = new Builder().weightless();
    const [s1, s2, s3] = [b.shaft([0, 0, 0]), b.shaft([50, 0, 0]), b.shaft([100, 0, 0])];
    b.couple('proportional', { a: s1.joint, amountA: 1, b: s2.joint, amountB: 1, stiffness: 4 });
    b.couple('proportional', { a: s2.joint, amountA: 3, b: s3.joint, amountB: 1, stiffness: 50 });
    b.motor(s1.joint, 60);
    b.load('joint-load', { joint: s3.joint, value: 30 });
    b.design.wanted.push({ id: 'w', name: 'Out', type: 'speed', joint: s3.joint, value: 20, tolerance: 1 } as never);
    const [out] = vibrationOf(b.design, false).outputs;
    // The first stands three times as fast: it gives 1/9 of its compliance at the output.
    near(out.stiffness, 1 / (1 / 50 + 1 / (4 * 9)));
    near(out.windUp, 30 / 50 + 30 / 36);
  });
  it('of what travels, N/mm; a natural frequency is √(k/m)', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    const l = b.slide([100, 0, 0], [0, 1, 0], 'frame', { mass: 8 });
    b.couple('proportional', { a: s.joint, amountA: 1, b: l.joint, amountB: 5, stiffness: 200 });
    b.motor(s.joint, 60);
    near(vibrationOf(b.design, true).modes[0].frequency, Math.sqrt(200e3 / 8) / (2 * Math.PI));
  });
  it('of a worm drive, a rope and crossed gears: it is no longer rigid', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    const l = b.slide([100, -500, 0], [0, 1, 0], 'frame', { mass: 50 });
    const drum = b.element('drum', s.member, { diameter: 200, rope: 10, width: 300 });
    b.couple('rope', { a: drum, b: l.joint, efficiency: 1, wound: 5, falls: 2, stiffness: 300 });
    b.motor(s.joint, 30);
    const v = vibrationOf(b.design, true);
    expect(v.assumptions.map((a) => a.why)).not.toContain('its stiffness is not stated');
    near(v.modes[0].frequency, Math.sqrt(300e3 / 50) / (2 * Math.PI));
  });
});

describe('a screw', () => {
  const screw = (more: object, drive: object = {}): Design => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    const l = b.slide([0, 0, 200], [0, 0, 1]);
    b.couple('screw-drive', {
      a: b.element('screw', s.member, { diameter: 20, pitch: 4, length: 600, form: 'trapezoidal', at: [0, 0, 200], ...more }),
      b: b.element('nut', l.member, { diameter: 20, pitch: 4, length: 30, outer: 40, form: 'trapezoidal' }),
      friction: 0,
      ...drive,
    });
    b.motor(s.joint, 60);
    b.load('joint-load', { joint: l.joint, value: 500 });
    return b.design;
  };
  it('gives by its core over the greatest free length: F·L/(E·A)', () => {
    const [out] = vibrationOf(screw({ freeLength: 400 }), false).outputs;
    // Tr 20 × 4: core 15.5 mm (ISO 2904).
    near(out.stiffness, (STEEL * Math.PI * 15.5 ** 2) / 4 / 400);
    near(out.windUp, 500 / out.stiffness!);
  });
  it('or as stated of it with nut and bearings; else it counts as rigid, and that is said', () => {
    near(vibrationOf(screw({ freeLength: 400 }, { stiffness: 90 }), false).outputs[0].stiffness, 90);
    const v = vibrationOf(screw({}), false);
    expect(v.outputs[0].stiffness).toBeUndefined();
    expect(v.assumptions.map((a) => a.why)).toContain('its stiffness is not stated');
  });
});

describe('bearings that give', () => {
  const train = (places: readonly (readonly [at: number, stiffness?: number])[], at = 0): Design => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([120, 0, 0])];
    b.mesh(b.gear(s1.member, 20, 3, { at: [0, 0, at] }), b.gear(s2.member, 60, 3, { at: [0, 0, at] }));
    b.motor(s1.joint, 60);
    b.load('joint-load', { joint: s2.joint, value: 90 });
    const bearing = ([z, stiffness]: readonly [number, number?]): object => ({
      at: z,
      thrust: 'free',
      form: 'rolling',
      inner: 20,
      outer: 40,
      width: 10,
      block: 'no',
      ...(stiffness !== undefined && { stiffness }),
    });
    return { ...b.design, joints: b.design.joints.map((j) => (j.id === s1.joint ? { ...j, bearings: places.map(bearing) } : j)) } as Design;
  };
  /** How much more the output gives than on stiff bearings: a compliance of the pinion's shaft along the line of action, mm/N. */
  const sideways = (d: Design): number => {
    const [soft, stiff] = [d, train([[0]])].map((x) => 1 / vibrationOf(x, false).outputs[0].stiffness!);
    // rad per N·mm at the wheel, whose base circle is 90·cos 20° mm.
    return ((soft - stiff) / DEG / 1e3) * (90 * Math.cos(20 / DEG)) ** 2;
  };
  it('a gear in the middle: half of one bearing’s compliance', () => {
    near(
      sideways(
        train([
          [-40, 5e4],
          [40, 5e4],
        ]),
      ),
      1 / 1e5,
      1e-6,
    );
  });
  it('a gear beside two of unlike stiffness, and overhung: by the reactions, Σ R²/k', () => {
    for (const at of [10, 90]) {
      const [ra, rb] = [(60 - at) / 100, (at + 40) / 100];
      near(
        sideways(
          train(
            [
              [-40, 3e4],
              [60, 8e4],
            ],
            at,
          ),
        ),
        (ra * ra) / 3e4 + (rb * rb) / 8e4,
        1e-6,
      );
    }
  });
  it('three of one stiffness: that of a stiff bar on three springs', () => {
    // In the middle of an even row each takes a third.
    near(
      sideways(
        train([
          [-50, 3e4],
          [0, 3e4],
          [50, 3e4],
        ]),
      ),
      1 / 9e4,
      1e-6,
    );
  });
  it('nothing where one of them states none, or there is one alone', () => {
    for (const places of [[[-40, 5e4], [40]], [[0, 5e4]]] as const) {
      expect(Math.abs(sideways(train(places)))).toBeLessThan(1e-15);
    }
  });
});
