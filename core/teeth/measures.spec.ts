import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { spur } from '../testing/gears';
import { type GearData, type GearGiven, spanOverTeeth } from './index';
import { gearOutline } from './gear-outline';
import { overPins, pinFor, spanNeeds } from './measures';

const RAD = Math.PI / 180;
const gear = (teeth: number, more: Partial<GearGiven> = {}) => spur(teeth, 1, more);

describe('the span', () => {
  it.each([
    // Tables of spans of module 1 at 20° without shift, as handbooks have them (from memory).
    [20, 3, 7.6604],
    [30, 4, 10.7526],
    [50, 6, 16.937],
    [100, 12, 35.3501],
  ])('of %i teeth over %i of them is %f modules', (z, k, w) => expect(spanOverTeeth(gear(z), k)).toBeCloseTo(w, 4));

  it('of a helical gear needs a face width', () => {
    fc.assert(
      fc.property(fc.integer({ min: 12, max: 150 }), fc.double({ min: 0, max: 0.6, noNaN: true }), (z, beta) => {
        const g = gear(z, { beta });
        expect(spanNeeds(g, 3)).toBeCloseTo(spanOverTeeth(g, 3) * Math.sin(beta) * Math.cos(20 * RAD), 9);
      }),
    );
  });
});

describe('measure over pins', () => {
  const gears: readonly (readonly [string, GearData])[] = [
    ['20 teeth', gear(20)],
    ['21 teeth, shifted', gear(21, { shift: 0.3 })],
    ['60 teeth, internal', gear(60, { internal: true })],
    ['24 teeth, thinned', gear(24, { thinning: 0.05 })],
  ];
  it.each(gears)('the pin touches the flanks of the drawn tooth space: %s', (_name, g) => {
    const pin = pinFor(g);
    const m = overPins(g, pin)!;
    const side = g.internal ? -1 : 1;
    const across = g.teeth % 2 ? Math.cos(Math.PI / (2 * g.teeth)) : 1;
    const centre = (m - side * pin) / 2 / across;
    // The outline’s first tooth stands on the x axis, so a space half a pitch on.
    const a = Math.PI / g.teeth;
    const p = gearOutline(g, 0, { flank: 400, fillet: 20 });
    let nearest = Infinity;
    for (let i = 0; i < p.length; i += 2) nearest = Math.min(nearest, Math.hypot(p[i] - centre * Math.cos(a), p[i + 1] - centre * Math.sin(a)));
    expect(nearest).toBeCloseTo(pin / 2, 3);
  });
});
