import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../fields/types';
import { insertStage } from '../sizing/index';
import { Builder } from '../testing/designs';

const jams = (b: Builder) => analyse(b.design).findings.filter((f) => f.code === 'jammed');

/** A screw of 4 mm lead in its nut, driven at one and loaded at the other. */
function jack(driven: 'screw' | 'nut', load: number, friction: number) {
  const b = new Builder().weightless();
  const s = b.shaft([0, 0, 0]),
    n = b.slide([0, 0, 0], [0, 0, 1]);
  b.couple('screw-drive', {
    a: b.element('screw', s.member, { diameter: 20, pitch: 4, length: 200, form: 'square' }),
    b: b.element('nut', n.member, { outside: 40, bore: 20, length: 30 }),
    friction,
  });
  b.motor((driven === 'screw' ? s : n).joint, 10);
  b.load('joint-load', { joint: (driven === 'screw' ? n : s).joint, value: load });
  return b;
}

describe('a self-locking pair', () => {
  // It locks where the friction is at least the slope of the thread, f ≥ tan λ (Shigley, eq. 8-3).
  it('jams when its load resists and it is driven from the wrong side: exactly where it locks', () => {
    const slope = 4 / (Math.PI * 18);
    expect(jams(jack('nut', 2, slope * 1.01))).toHaveLength(1);
    expect(jams(jack('nut', 2, slope * 0.99))).toEqual([]);
    const a = analyse(jack('nut', 2, 0.15).design);
    expect(a.ledger.sources[0].load).toBeNaN();
    expect(a.ledger.efficiency).toBeUndefined();
  });
  it('does not jam from the right side, nor where the load helps', () => {
    for (const load of [1000, -1000]) expect(jams(jack('screw', load, 0.15))).toEqual([]);
    expect(jams(jack('nut', -2, 0.15))).toEqual([]);
  });
});

describe('an epicyclic train whose losses lock it', () => {
  /**
   * A fixed wheel and a sun of nearly its size, with two planets fast on
   * one pin, at any distance: only counts and efficiencies matter here.
   */
  const train = (fixed: number, sun: number, eta: number, from: 'sun' | 'carrier', load: number) => {
    const b = new Builder().weightless();
    const carrier = b.shaft([0, 0, 0]),
      s = b.shaft([0, 0, 0]);
    const planet = b.shaft([120, 0, 0], carrier.member);
    b.mesh(b.gear('frame', fixed, 2), b.gear(planet.member, 20, 2), { efficiency: eta });
    b.mesh(b.gear(planet.member, 20, 2, { at: [0, 0, 30] }), b.gear(s.member, sun, 2, { at: [0, 0, 30] }), { efficiency: eta });
    b.motor((from === 'sun' ? s : carrier).joint, 100);
    b.load('joint-load', { joint: (from === 'sun' ? carrier : s).joint, value: load });
    return b;
  };
  // Driven at the sun: η = (i0·η0 − 1)/(i0 − 1) with i0 = fixed/sun and η0
  // the product of the mesh efficiencies, where that is positive; it locks
  // where i0·η0 < 1 (Müller, Epicyclic Drive Trains; VDI 2157).
  it('jams where the efficiency would be negative, and has that efficiency otherwise', () => {
    fc.assert(
      fc.property(fc.integer({ min: 90, max: 99 }), fc.double({ min: 0.9, max: 0.999, noNaN: true }), (sun, eta) => {
        const i0 = 100 / sun,
          due = (i0 * eta * eta - 1) / (i0 - 1);
        if (Math.abs(due) < 1e-3) return;
        const b = train(100, sun, eta, 'sun', 10);
        const a = analyse(b.design);
        const found = a.findings.some((f) => f.code === 'jammed');
        expect(found).toBe(due < 0);
        if (due > 0) expect(a.ledger.efficiency).toBeCloseTo(due, 6);
      }),
    );
  });
  it('turns when it is driven at the carrier', () => {
    for (const load of [10, -10]) expect(jams(train(100, 99, 0.95, 'carrier', load))).toEqual([]);
  });
});

describe('a train that carries nothing', () => {
  it('does not jam on rounding, beside another that is loaded and stands', () => {
    const demo = JSON.parse(readFileSync(new URL('../../demo/paddle-winding-gear.json', import.meta.url), 'utf8')) as Design;
    for (const held of ['ring', 'sun', 'carrier']) {
      for (const input of ['sun', 'ring', 'carrier'].filter((x) => x !== held)) {
        const made = insertStage(demo, { kind: 'planetary', values: { held, input, sun: 18, planet: 21 } })!;
        const joint = made.design.joints.find((j) => j.child === made.made[0])!.id;
        const a = analyse({ ...made.design, sources: [{ id: 'trial', name: 'Trial', type: 'motor', joint, speed: 60 }], wanted: [] });
        expect([held, input, a.findings.filter((f) => f.code === 'jammed')]).toEqual([held, input, []]);
        expect(a.ledger.sources[0].load).toBe(0);
      }
    }
  });
});
