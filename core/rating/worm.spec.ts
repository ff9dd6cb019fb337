import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import type { Design } from '../fields/types';
import { Builder } from '../testing/designs';
import { ratingOf } from './trial';
import type { RatingLine } from './protocol';
import { materialFactor, ratioFactor, slidingSpeed, speedFactor, wormBending, wormCapacity, wormForm } from './worm';

const FPM = 0.3048 / 60;

describe('worm gearing by AGMA 6034', () => {
  it('Shigley, example 15-3: a worm of 2 in with two starts, axial pitch 0.5236 in, at 1 200 rev/min slides at 637 ft/min; Cv 0.327 (from memory)', () => {
    const lead = Math.atan((2 * 0.5236) / (Math.PI * 2));
    expect((lead * 180) / Math.PI).toBeCloseTo(9.46, 2);
    const v = slidingSpeed(50.8, lead, 1200);
    expect(v / FPM).toBeCloseTo(637, 0);
    expect(speedFactor(v / FPM)).toBeCloseTo(0.327, 3);
  });
  it('Shigley, example 15-4: Cm of a ratio of 11 is 0.772 (from memory)', () => {
    expect(ratioFactor(11)).toBeCloseTo(0.772, 3);
  });
  it('the lines of each factor meet where one ends: those of the material within 0.2 %, of the ratio within 1 %, of the speed within 4 %', () => {
    const near = (a: number, b: number, within: number): void => expect(Math.abs(a / b - 1)).toBeLessThan(within);
    const eps = 1e-9;
    near(materialFactor('sand-cast bronze', 3, 2), materialFactor('sand-cast bronze', 3 + eps, 2), 2e-3);
    for (const [bronze, d] of [
      ['sand-cast bronze', 2.5],
      ['chill-cast bronze', 8],
      ['centrifugally cast bronze', 25],
    ] as const) {
      near(materialFactor(bronze, 10, d), materialFactor(bronze, 10, d + eps), 2e-3);
    }
    for (const m of [20, 76]) near(ratioFactor(m), ratioFactor(m + eps), 1e-2);
    for (const v of [700, 3000]) near(speedFactor(v - eps), speedFactor(v), 4e-2);
  });
  it('counts no more width than 0.67 of the worm, and has no factors below a ratio of 3', () => {
    const w = { bronze: 'chill-cast bronze', wormDiameter: 50, wheelDiameter: 150, width: 40, ratio: 20 } as const;
    expect(wormCapacity(w, 1).width).toBeCloseTo(33.5, 9);
    expect(wormCapacity({ ...w, width: 20 }, 1).force / wormCapacity({ ...w, width: 10 }, 1).force).toBeCloseTo(2, 9);
    expect(() => wormCapacity({ ...w, ratio: 2 }, 1)).toThrow('ratios of 3 to 100');
  });
  it('Buckingham: y 0.1, 0.125, 0.15 and 0.175 at 14.5°, 20°, 25° and 30°', () => {
    expect([14.5, 20, 25, 30].map(wormForm)).toEqual([0.1, 0.125, 0.15, 0.175]);
    expect(wormForm(22)).toBeUndefined();
    expect(wormBending(1000, 10, 20, 0.125)).toBe(40);
  });

  function drive(wheel: object = {}, torque = 60): Design {
    const b = new Builder().weightless();
    const w = b.shaft([0, 0, 0], 'frame', { axis: [1, 0, 0] });
    const g = b.shaft([5, 0, 60], 'frame', { axis: [0, 1, 0] });
    b.couple('worm-drive', {
      name: 'Worm',
      a: b.element('worm', w.member, { starts: 2, module: 2, diameter: 40, length: 40 }),
      b: b.element('worm-wheel', g.member, { name: 'Worm wheel', teeth: 40, module: 2, width: 20, ...wheel }),
    });
    b.motor(w.joint, 1000);
    b.load('joint-resistance', { joint: g.joint, value: torque });
    return b.design;
  }
  it('a drive by hand: the wheel’s tangential force against what it bears, and the stress of its teeth', () => {
    const rating = ratingOf(drive({ bronze: 'centrifugally cast bronze', bendingLimit: 60 }));
    const of = (what: string): RatingLine => rating.lines.find((l) => l.what === what)!;
    const wear = of('worm wheel, wear');
    expect(figure(wear, 'Wt')).toBeCloseTo((60 * 2000) / 80, 4);
    const lead = Math.atan(4 / 40);
    const vs = (Math.PI * 40 * 1000) / 60 / Math.cos(lead);
    expect(figure(wear, 'vs')).toBeCloseTo(vs, 6);
    // C = 60 mm = 2.36 in, below 3 in; D = 3.150 in, F = 20 mm = 0.787 in.
    const byHand =
      (720 + 10.37 * (60 / 25.4) ** 3) * (80 / 25.4) ** 0.8 * (20 / 25.4) * ratioFactor(20) * 0.659 * Math.exp((-0.0011 * vs) / 1000 / FPM) * 4.4482;
    expect(wear.value).toBeCloseTo(byHand / 1500, 3);
    const bending = of('worm wheel, bending');
    const pn = 2 * Math.PI * Math.cos(lead);
    expect(figure(bending, 'σ')).toBeCloseTo(1500 / (pn * 20 * 0.125), 4);
    expect(bending.value).toBeCloseTo(60 / figure(bending, 'σ'), 9);
  });
  it('says what it would need', () => {
    const whys = (wheel: object): string[] => ratingOf(drive(wheel)).unrated.map((u) => u.why);
    expect(whys({})).toContain('the bronze of its wheel is not stated');
    expect(whys({ bronze: 'sand-cast bronze' })).toContain('the permissible bending stress of its wheel is not stated');
  });
});
