import { MECHANISM_CLASSES, type Rope } from '../couplings/index';
import { type Drum, num, windingDiameter } from '../elements/index';
import { toNumber } from '../math/index';
import type { Instant } from './instants';
import type { RatingLine } from './protocol';
import { type Given, type Results, applicationFigure, knownIn, timesBorne } from './rater';

export type MechanismClass = (typeof MECHANISM_CLASSES)[number];
/**
 * Least safety of a running rope Zp, and least ratio h1 of the winding diameter of a drum to the rope's (ISO 4308-1:2003,
 * tables 1 and 2; from memory).
 */
export const ROPE_CLASSES: Readonly<Record<MechanismClass, readonly [safety: number, drum: number]>> = {
  M1: [3.15, 11.2],
  M2: [3.35, 12.5],
  M3: [3.55, 14],
  M4: [4, 16],
  M5: [4.5, 18],
  M6: [5.6, 20],
  M7: [7.1, 22.4],
  M8: [9, 25],
};

/** Ropes on drums: safety against breaking, and how tightly the drum bends them. */
export function rateRopes({ compiled, cases, wishes }: Given, results: Results): void {
  for (const { coupling, model } of compiled.couplings) {
    if (coupling.type !== 'rope' || model.law !== 'proportional') continue;
    const c = coupling as Rope;
    const drum = compiled.design.elements.find((e) => e.id === c.a) as Drum | undefined;
    if (!drum) continue;
    const name = c.name ?? c.id;
    const no = (why: string): void => results.unrated(c.id, name, why);
    if (c.breakingForce === undefined) {
      no('the breaking force of the rope is not stated');
      continue;
    }
    const kind = c.mechanismClass ?? 'M5';
    const [safety, ratio] = ROPE_CLASSES[kind];
    const winding = toNumber(windingDiameter(drum, c.layer ?? 1));
    const least = toNumber(windingDiameter(drum, 1));
    const cos = Math.cos((num(c.angle) * Math.PI) / 180);
    // The drum's torque over its radius, or what hangs on each fall: the larger holds the losses of the sheaves.
    const read = (i: Instant): { force: number } => {
      const [torque, load] = i.coupling(c.id)?.loads ?? [NaN, NaN];
      return { force: Math.max((Math.abs(torque) * 2e3) / winding, Math.abs(load) / ((c.falls ?? 1) * cos)) };
    };
    for (const [given, all] of knownIn(cases, no, read)) {
      const force = Math.max(...all.map((x) => x.force));
      const take = (what: RatingLine['what'], said: Omit<RatingLine, 'item' | 'name' | 'case' | 'what' | 'method'>): void =>
        results.line(`${c.id} ${what}`, { item: c.id, name, case: given.name, what, method: 'ISO 4308-1:2003', ...said });
      const value = timesBorne(c.breakingForce, wishes.applicationFactor * force);
      take('rope, breaking', {
        value,
        wanted: safety,
        reserve: value / safety,
        figures: [
          applicationFigure(wishes),
          { symbol: 'S', label: 'Greatest pull in the rope', value: force, unit: 'N' },
          { symbol: 'Fmin', label: 'Least breaking force', value: c.breakingForce, unit: 'N' },
          { symbol: 'Zp', label: 'Least safety', value: safety },
        ],
        assumptions: [`mechanism of class ${kind}`, 'ordinary running rope', ...(given.run ? ['the worst instant of the run'] : [])],
      });
      take('rope, bending', {
        value: least / num(drum.rope),
        wanted: ratio,
        reserve: least / num(drum.rope) / ratio,
        figures: [
          { symbol: 'D1', label: 'Winding diameter of the first layer', value: least, unit: 'mm' },
          { symbol: 'd', label: 'Rope diameter', value: num(drum.rope), unit: 'mm' },
          { symbol: 'h1', label: 'Least ratio', value: ratio, formula: 'D1/d ≥ h1' },
        ],
        assumptions: [`mechanism of class ${kind}`, 'sheaves must be larger still (h2), and are not rated'],
      });
    }
  }
}
