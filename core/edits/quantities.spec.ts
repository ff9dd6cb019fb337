import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, type NamedQuantity, readDesign } from '../document/index';
import { readQuantity } from '../units/index';
import { curesFor } from '../sizing/index';
import { row } from '../testing/designs';
import { namesOf, usesOf, withFormulas, withNewQuantity, withQuantity, withoutQuantity } from './quantities';
import { inCase } from './cases';
import { withItem, withValue } from './values';
import { variantOf } from './variants';

const q = (symbol: string, formula: string | number, unit: NamedQuantity['unit'] = 'number'): NamedQuantity => ({
  id: symbol.replace(/\W/g, '-'),
  name: symbol,
  symbol,
  unit,
  ...(typeof formula === 'number' ? { value: formula } : { value: 0, formula }),
});
const base = (): Design => row([[18, 54]]).design;
const withAll = (...quantities: NamedQuantity[]): Design => ({ ...base(), quantities });
const valueOf = (d: Design, symbol: string) => d.quantities!.find((x) => x.symbol === symbol)!.value;
const worked = (...quantities: NamedQuantity[]): Design => {
  const { design, problem } = withFormulas(withAll(...quantities));
  expect(problem).toBeUndefined();
  return design;
};
const problemOf = (...quantities: NamedQuantity[]): string => withFormulas(withAll(...quantities)).problem ?? '';

describe('named quantities', () => {
  it('are worked out from each other in whatever order they are stated, rational ones exactly', () => {
    const all = [
      q('z_2', '4*z_1 - 1'),
      q('z_1', 18),
      q('i', 'z_2/z_1'),
      q('d', 'm_n*z_1', 'mm'),
      q('m_n', '5/2 mm', 'mm'),
      q('a', 'd/2 + 5 mm', 'mm'),
    ];
    const d = worked(...all);
    expect(['z_2', 'i', 'd', 'a', 'm_n'].map((s) => valueOf(d, s))).toEqual([71, '71/18', 45, 27.5, 2.5]);
    fc.assert(
      fc.property(fc.shuffledSubarray(all, { minLength: all.length }), (some) => {
        const e = worked(...some);
        for (const { symbol } of all) expect(valueOf(e, symbol)).toEqual(valueOf(d, symbol));
      }),
    );
  });
  it('take functions: round, floor and ceil stay exact, min and max want one unit', () => {
    const d = worked(
      q('i', '373/10'),
      q('z', 'round(i*17)'),
      q('low', 'floor(-7/2)'),
      q('high', 'ceil(7/2)'),
      q('r', 'round(5/2)'),
      q('w', 'max(3 mm; 0.5 cm; 4 mm)', 'mm'),
    );
    expect(['z', 'low', 'high', 'r', 'w'].map((s) => valueOf(d, s))).toEqual([634, -4, 4, 3, 5]);
    expect(problemOf(q('w', 'max(3 mm; 2 N)', 'mm'))).toBe('w: the values of max have different units');
    expect(problemOf(q('w', 'round(3.4 mm)', 'mm'))).toBe('w: round takes a plain number');
    expect(problemOf(q('w', 'min(3)'))).toBe('w: min takes two values or more, with ; between');
  });
  it('have their units checked, and say what they do not know', () => {
    expect(problemOf(q('d', 40, 'mm'), q('F', 'd*2', 'N'))).toBe('F: this is not a quantity in N');
    expect(problemOf(q('d', 40, 'mm'), q('e', 'd + 5', 'mm'))).toBe('e: these cannot be added: their units differ');
    expect(problemOf(q('a', 'z_9 + 1'))).toBe('a: “z_9” is no unit and no named quantity');
    expect(problemOf(q('mm', 3))).toBe('“mm” is a unit');
    expect(problemOf(q('sqrt', 3))).toBe('“sqrt” has a meaning in formulas already');
    expect(problemOf(q('x', 1), { ...q('x', 2), id: 'other' })).toMatch(/two quantities have the symbol “x”/);
  });
  it('that need each other are told with the way round', () => {
    expect(problemOf(q('a', 'b + 1'), q('b', '2*c'), q('c', 'a/3'))).toContain('a → b → c → a');
    expect(problemOf(q('a', 'a + 1'))).toContain('a → a');
  });
  it('a unit, a power of ten and a name are told apart', () => {
    const d = withAll(q('e3', 7), q('z_1', 18));
    const names = namesOf(d);
    const read = (text: string, unit = ''): unknown => (readQuantity(text, unit, names) as { value?: number }).value;
    expect(read('2e3')).toBe(2000);
    expect(read('2*e3')).toBe(14);
    expect(read('2 z_1')).toBe(36);
    expect(read('5 mm', 'mm')).toBe(5);
    // Without names everything reads as before.
    expect(readQuantity('2 z_1')).toHaveProperty('problem', '“z” is no unit known here');
  });
});

describe('fields that name quantities', () => {
  const gear = (d: Design): { id: string; teeth?: unknown; width?: unknown } => d.elements.find((e) => e.type === 'gear')!;
  const stated = (text: string, field = 'teeth', value: unknown = 18): Design => {
    const d = withAll(q('z_1', 18), q('i', 3));
    return withValue(d, { list: 'elements', ids: [gear(d).id], field, value, typed: text });
  };
  it('follow them: 4·z_1 − 1 teeth are 71, and 79 with 20', () => {
    const d = withFormulas(stated('4*z_1 - 1')).design;
    expect(gear(d).teeth).toBe(71);
    const changed = withFormulas(withQuantity(d, 'z_1', { value: 20 }));
    expect(changed.problem).toBeUndefined();
    expect(gear(changed.design).teeth).toBe(79);
    expect(readDesign(JSON.parse(JSON.stringify(changed.design))).problems).toBeUndefined();
    // What is in order already stays the same object.
    expect(withFormulas(changed.design).design).toBe(changed.design);
  });
  it('refuse what their field does not take, and leave the design as it was', () => {
    const d = stated('z_1/4');
    const { design, problem } = withFormulas(d);
    expect(problem).toMatch(/^Teeth of .*\(z_1\/4\): /);
    expect(design).toBe(d);
    expect(withFormulas(stated('z_1*1 mm', 'width', 20)).design.elements.find((e) => e.id === gear(d).id)).toMatchObject({ width: 18 });
    expect(withFormulas(stated('z_1*1 N', 'width', 20)).problem).toMatch(/not a quantity in mm/);
  });
  it('a value that an edit states otherwise is led by its formula no more', () => {
    const d = withFormulas(stated('4*z_1 - 1')).design;
    const typed = withValue(d, { list: 'elements', ids: [gear(d).id], field: 'teeth', value: 60 });
    expect(gear(withFormulas(typed, d).design).teeth).toBe(60);
    const turned = withItem(d, gear(d).id, { teeth: 61 });
    const { design } = withFormulas(turned, d);
    expect(gear(design).teeth).toBe(61);
    expect(Object.values(design.typed ?? {})).toEqual([]);
    // Another edit leaves it.
    const named = withItem(d, gear(d).id, { name: 'Driver' });
    expect(Object.values(withFormulas(named, d).design.typed!)).toEqual(['4*z_1 - 1']);
  });
  it('a renamed quantity is renamed in all of them; one that is used is not deleted', () => {
    const d = withFormulas(
      withQuantity({ ...stated('4*z_1 - 1'), quantities: [q('z_1', 18), q('k_s', '2*z_1 + z_12'), q('z_12', 1)] }, 'z_1', { symbol: 'z_p' }),
    );
    expect(d.problem).toBeUndefined();
    expect(d.design.quantities!.map((x) => x.formula)).toEqual([undefined, '2*z_p + z_12', undefined]);
    expect(Object.values(d.design.typed!)).toEqual(['4*z_p - 1']);
    expect(usesOf(d.design).get('z_p')).toEqual(['k_s', expect.stringMatching(/^Teeth of /)]);
    expect(() => withoutQuantity(d.design, 'z_1')).toThrow(/“z_p” is used by k_s, Teeth of/);
    const free = withNewQuantity(d.design);
    expect(free.quantities).toHaveLength(4);
    expect(new Set(withNewQuantity(free).quantities!.map((x) => x.name)).size).toBe(5);
    expect(withoutQuantity(free, free.quantities![3].id).quantities).toHaveLength(3);
  });
  it('a load case and a variant state values of their own, which are no fault', () => {
    const d = withFormulas(stated('4*z_1 - 1')).design;
    const [joint] = d.joints;
    const load = { id: 'l1', name: 'Load', type: 'joint-load', joint: joint.id, value: 36 };
    const loaded = {
      ...d,
      loads: [...d.loads, load],
      typed: { ...d.typed, 'l1.value': '2*z_1' },
      cases: [{ id: 'c1', name: 'Twice', loads: [{ load: 'l1', factor: 2 }] }],
      variants: [{ id: 'v1', name: 'Coarse', changes: [{ item: gear(d).id, field: 'teeth', value: '40' }] }],
    } as Design;
    const codes = (x: Design): string[] => analyse(x).findings.map((f) => f.code);
    expect(codes(loaded)).not.toContain('formula-stale');
    const twice = inCase(loaded, 'c1');
    expect((twice.loads.at(-1) as { value?: number }).value).toBe(72);
    expect(codes(twice)).not.toContain('formula-stale');
    const coarse = variantOf(loaded, loaded.variants![0]).design;
    expect(gear(coarse).teeth).toBe(40);
    expect(codes(coarse)).not.toContain('formula-stale');
    // What of the variant still follows formulas goes on to follow them.
    expect(withFormulas(withQuantity(coarse, 'z_1', { value: 20 })).design.loads.at(-1)).toMatchObject({ value: 40 });
  });
  it('a document whose values are not what its formulas give has a fault that says so', () => {
    const d = withFormulas(stated('4*z_1 - 1')).design;
    const codes = (x: Design): string[] => analyse(x).findings.map((f) => f.code);
    expect(codes(d)).not.toContain('formula-stale');
    const stale = { ...d, elements: d.elements.map((e) => (e.id === gear(d).id ? { ...e, teeth: 70 } : e)) } as Design;
    const found = analyse(stale).findings.find((f) => f.code === 'formula-stale')!;
    // Its fix works them out again, and leaves the formula; also when it passes as an edit.
    const [cure] = curesFor(stale, found);
    const cured = withFormulas(cure.apply(stale), stale).design;
    expect(gear(cured).teeth).toBe(71);
    expect(cured.typed).toEqual(d.typed);
    expect(codes(cured)).not.toContain('formula-stale');
    expect(codes({ ...d, quantities: [...d.quantities!, q('x', 'y + 1')] })).toContain('formula-stale');
  });
});
