import { describe, expect, it } from 'vitest';
import { compile } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { sliderCrank } from '../testing/mechanisms';
import { sourcePeaks } from './index';

describe('what a source is asked for by its profile', () => {
  it('is the profile’s own way, speed and acceleration where the source follows it itself', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    b.motor(s.joint, 60, { profile: 'part turn', amount: -90, time: 2, speedShape: 'harmonic' });
    const p = sourcePeaks(compile(b.design), 0, 2);
    // A harmonic way: s(1 − cos πu)/2, so v = πs/(2T), a = π²s/(2T²).
    const way = Math.PI / 2;
    expect(p.way).toBeCloseTo(way, 12);
    expect(p.speed).toBeCloseTo((Math.PI * way) / 4, 4);
    expect(p.acceleration).toBeCloseTo((Math.PI ** 2 * way) / 8, 9);
    expect(p.ends).toBeUndefined();
  });

  it('is what brings the motion of another joint about, through loops; where they do not reach it, it says from when on', () => {
    const at = (amount: number): ReturnType<typeof sourcePeaks> => {
      const { b, slider } = sliderCrank(50, 160, Math.PI / 2);
      Object.assign(b.design.sources[0], { profile: 'part turn', amount, time: 1, speedShape: 'harmonic', motionOf: slider.joint });
      return sourcePeaks(compile(b.design), 0, 1);
    };
    // From x = √(160² − 50²) at 90°, 20 mm out: cos φ from the cosine rule.
    const x0 = Math.sqrt(160 ** 2 - 50 ** 2),
      x = x0 + 20;
    const turned = Math.PI / 2 - Math.acos((50 ** 2 + x ** 2 - 160 ** 2) / (2 * 50 * x));
    const near = at(20);
    expect(near.ends).toBeUndefined();
    expect(near.way).toBeCloseTo(turned, 9);
    // The crank reaches 210 mm and no more: of a harmonic way of 80 mm that is at (1 − cos πt)/2 = (210 − x0)/80.
    const far = at(80);
    const when = Math.acos(1 - (2 * (210 - x0)) / 80) / Math.PI;
    expect(Math.abs(far.ends! - when)).toBeLessThan(2 / 240);
  });
});
