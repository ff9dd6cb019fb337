import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, compareDesigns, mergeDesigns, readDesign } from '../document/index';
import { inCase, newCase, removeItems, scaledLoad, withFactor, withSpeed } from './index';

const demo = (): Design => JSON.parse(readFileSync(new URL('../../demo/paddle-winding-gear.json', import.meta.url), 'utf8')) as Design;
const needed = (d: Design): number => analyse(d).ledger.sources[0].load;

describe('load cases', () => {
  it('scale loads, leave them out and set speeds; what they do not name is as stated', () => {
    const d = demo();
    const [water] = d.loads;
    const holding = withFactor({ id: 'h', name: 'Holding', loads: [] }, water.id, 0);
    const fast = withSpeed(withFactor({ id: 'f', name: 'Fast' }, water.id, 2), d.sources[0].id, 60);
    const all = { ...d, cases: [holding, fast] };
    expect(readDesign(structuredClone(all)).problems).toBeUndefined();
    expect(inCase(all, undefined)).toBe(all);
    expect(inCase(all, 'gone')).toBe(all);
    // Torque is linear in the load while the same side drives: twice the water adds what all of it added.
    const [stated, none, twice] = [d, inCase(all, 'h'), inCase(all, 'f')].map(needed);
    expect(twice - stated).toBeCloseTo(stated - none, 9);
    expect(analyse(inCase(all, 'f')).ledger.lines[0].speed).toBeCloseTo(2 * analyse(d).ledger.lines[0].speed, 9);
  });
  it('take every kind of load at another size', () => {
    const spring = { id: 's', name: 'S', type: 'spring', member: 'm', rate: 2, free: 100, preload: 4, damping: 1 };
    expect(scaledLoad(spring, 3)).toEqual({ ...spring, rate: 6, preload: 12, damping: 3 });
    const force = { id: 'f', name: 'F', type: 'force', member: 'm', force: [1, -2, 0] as const };
    expect(scaledLoad(force, -2)).toEqual({ ...force, force: [-2, 4, 0] });
    expect(scaledLoad(force, 1)).toBe(force);
    expect(scaledLoad({ id: 'j', name: 'J', type: 'joint-friction', ...{ value: 3 } }, 2)).toMatchObject({ value: 6 });
  });
  it('go with what they name, are compared and joined like other lists, and have names of their own', () => {
    const d = demo();
    const one = newCase(d);
    const two = newCase({ ...d, cases: [one] });
    expect([one.name, two.name]).toEqual(['Lifting', 'Holding']);
    const all = { ...d, cases: [withFactor(one, d.loads[0].id, 0.5), two] };
    expect(removeItems(all, [d.loads[0].id]).cases).toEqual([{ ...one, loads: [] }, two]);
    expect(withFactor(all.cases[0], d.loads[0].id, undefined)).toEqual(one);
    expect(
      compareDesigns(d, all)
        .map((x) => x.detail + x.what)
        .join(),
    ).toMatch(/Load cases/);
    const merged = mergeDesigns(d, { ...d, name: 'Mine' }, all);
    expect(JSON.stringify(merged)).toContain('Holding');
  });
});
