import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../document/index';
import { withFormulas, withValue } from '../edits/index';
import { exactly, toNumber } from '../math/index';
import { study, valuesOfRange } from './study';

/** The winding gear, its crank pinion with z_1 teeth and its spur wheel with 6·z_1. */
const paddle = (): Design => {
  const d = JSON.parse(readFileSync(new URL('../../demo/paddle-winding-gear.json', import.meta.url), 'utf8')) as Design;
  const [pinion, wheel] = ['Crank pinion', 'Spur wheel'].map((name) => d.elements.find((e) => e.name === name)!.id);
  const named: Design = { ...d, quantities: [{ id: 'q1', name: 'Teeth', symbol: 'z_1', value: 18 }] };
  const teeth = (x: Design, id: string, typed: string, value: number): Design =>
    withValue(x, { list: 'elements', ids: [id], field: 'teeth', value, typed });
  return withFormulas(teeth(teeth(named, pinion, 'z_1', 18), wheel, '108', 108)).design;
};
const range = (from: string, to: string, step: string) => ({ quantity: 'q1', from: exactly(from), to: exactly(to), step: exactly(step) });

describe('a study', () => {
  it('goes over its range exactly, both ends among its values', () => {
    const values = (from: string, to: string, step: string) => {
      const v = valuesOfRange(range(from, to, step));
      return typeof v === 'string' ? v : v.map(toNumber);
    };
    expect(values('0', '1', '1/10')).toHaveLength(11);
    expect(values('12', '14', '1')).toEqual([12, 13, 14]);
    expect(values('1', '2', '3/4')).toEqual([1, 1.75]);
    expect(values('2', '1', '1')).toBe('To must not be below From');
    expect(values('1', '2', '0')).toBe('Step must be above 0');
    expect(values('0', '1', '1/1000')).toMatch(/more than 400 values/);
  });
  it('gives what the design gives that states the value itself: 30 rev/min by z_1/108 at the rack pinion', () => {
    const d = paddle();
    const s = study(d, range('16', '20', '2'));
    const speed = s.columns.findIndex((c) => c.wanted && c.unit === 'mm/s');
    for (const row of s.rows) {
      // z_1/108 of 30 rev/min, and 17 teeth of module 6 on the rack: mm/s.
      const by = ((30 / 60) * toNumber(row.value) * Math.PI * 17 * 6) / 108;
      expect(row.trouble).toBeUndefined();
      expect(row.faults).toBe(0);
      expect(Math.abs(row.results[speed]!)).toBeCloseTo(by, 6);
    }
    const same = analyse(d);
    const at18 = study(d, range('18', '18', '1')).rows[0];
    expect(at18.results.slice(0, same.ledger.wanted.length)).toEqual(same.ledger.wanted.map((w) => w.value));
    // Speed is in proportion to the teeth, power follows it; nothing else that is wanted of the rack changes with them.
    expect(s.sensitivities[speed]).toBeCloseTo(1, 6);
    expect(s.sensitivities[s.columns.findIndex((c) => c.key.startsWith('power'))]).toBeCloseTo(1, 2);
  });
  it('is made in a load case where one is asked for', () => {
    const d = paddle();
    const cased = { ...d, cases: [{ id: 'c', name: 'Dry', loads: d.loads.map((l) => ({ load: l.id, factor: 0 })) }] } as Design;
    const power = (loadCase?: string): number => {
      const s = study(cased, range('18', '18', '1'), loadCase);
      return s.rows[0].results[s.columns.findIndex((c) => c.key.startsWith('power'))]!;
    };
    expect(power('c')).toBeLessThan(power());
    expect(power('c')).toBeGreaterThan(0);
  });
  it('says at which values the design cannot be made, and goes on', () => {
    const s = study(paddle(), range('17', '18', '1/2'));
    expect(s.rows.map((r) => r.trouble === undefined)).toEqual([true, false, true]);
    // Sensitivities are then taken at the next values that have a design.
    expect(s.sensitivities[0]).toBeCloseTo(1, 6);
    expect(s.rows[1].trouble).toMatch(/Teeth of Crank pinion/);
    expect(s.rows[1].results.every((x) => x === undefined)).toBe(true);
  });
  it('refuses a quantity that follows a formula, or is not there', () => {
    const d = paddle();
    expect(() => study({ ...d, quantities: [{ ...d.quantities![0], formula: '9*2' }] }, range('1', '2', '1'))).toThrow(/follows a formula/);
    expect(() => study(d, { ...range('1', '2', '1'), quantity: 'none' })).toThrow(/no such quantity/);
  });
});
