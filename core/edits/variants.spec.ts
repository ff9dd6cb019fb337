import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, readDesign } from '../document/index';
import { variantTable } from '../tables/index';
import { row } from '../testing/designs';
import {
  removeItems,
  variantOf,
  variedFields,
  variedText,
  variedValue,
  withItem,
  withVaried,
  withVariant,
  withVariantAsBase,
  withVariantChanged,
} from './index';

/** Two pairs with a motor at 60 rev/min. */
const base = (): Design =>
  row([
    [18, 54],
    [20, 60],
  ]).design;
const teeth = (d: Design, k: number): unknown => (d.elements.filter((e) => e.type === 'gear')[k] as { teeth?: number }).teeth;
const out = (d: Design): number => analyse(d).ledger.lines.at(-1)!.speed;
const cell = (d: Design, line: string, column: string): unknown => {
  const t = variantTable(d);
  return t.rows.find((r) => r[0] === line)?.[t.columns.findIndex((c) => c.label === column)];
};

describe('a variant', () => {
  const d = base();
  const gears = d.elements.filter((e) => e.type === 'gear');
  const made = withVariant(d, 'Slower');
  const slower = withVaried(made.design, made.id, gears[3].id, 'teeth', '80');
  const [variant] = slower.variants!;

  it('is the base with its changes, at the working distances that these need', () => {
    const v = variantOf(slower, variant);
    expect(v.conflicts).toEqual([]);
    expect(teeth(v.design, 3)).toBe(80);
    expect(readDesign(v.design).problems).toBeUndefined();
    // 60 · 18/54 · 20/60 = 6.667; 60 · 18/54 · 20/80 = 5.
    expect(out(slower)).toBeCloseTo(60 / 9, 9);
    expect(out(v.design)).toBeCloseTo(5, 9);
    expect(analyse(v.design).findings.filter((f) => f.severity === 'fault')).toEqual([]);
  });

  it('follows a change of the base, and reports what does not hold any more', () => {
    const faster = withItem(slower, gears[0].id, { teeth: 27 });
    expect(teeth(variantOf(faster, variant).design, 0)).toBe(27);
    expect(teeth(variantOf(faster, variant).design, 3)).toBe(80);
    const wrong = withVariantChanged(slower, made.id, {
      changes: [
        { item: gears[3].id, field: 'teeth', value: '2.5' },
        { item: gears[3].id, field: 'lead', value: '3' },
        { item: 'nobody', field: 'teeth', value: '30' },
      ],
      suppressed: ['nobody either'],
    });
    const v = variantOf(wrong, wrong.variants![0]);
    expect(v.conflicts).toEqual([
      `${gears[3].name}: Teeth must be a whole number.`,
      `${gears[3].name} has no field “lead” any more.`,
      '“nobody” is not in the design any more.',
      '“nobody either” is not in the design any more: it need not be left out.',
    ]);
    expect(teeth(v.design, 3)).toBe(60);
    // What goes from the base goes from its variants.
    expect(removeItems(slower, [gears[3].id]).variants).toMatchObject([{ changes: [] }]);
  });

  it('may state a field that is there because of another one that it states', () => {
    const internal = withVariantChanged(slower, made.id, {
      changes: [
        { item: gears[3].id, field: 'internal', value: 'yes' },
        { item: gears[3].id, field: 'rim', value: '90' },
      ],
    });
    const v = variantOf(internal, internal.variants![0]);
    expect(v.conflicts).toEqual([]);
    expect(v.design.elements.find((e) => e.id === gears[3].id)).toMatchObject({ internal: true, rim: 90 });
  });

  it('does without what it leaves out', () => {
    const without = withVariantChanged(slower, made.id, { changes: undefined, suppressed: [gears[3].member] });
    const v = variantOf(without, without.variants![0]);
    expect(v.design.members).toHaveLength(d.members.length - 1);
    expect(readDesign(v.design).problems).toBeUndefined();
  });

  it('becomes the base: the former base and every other variant are the same designs as before', () => {
    const two = withVariant(slower, 'Wider');
    const wider = withVaried(two.design, two.id, gears[3].id, 'width', '25');
    const after = withVariantAsBase(wider, made.id, 'Base before')!;
    expect(readDesign(after).problems).toBeUndefined();
    expect(teeth(after, 3)).toBe(80);
    const named = (name: string): Design =>
      variantOf(
        after,
        after.variants!.find((v) => v.name === name)!,
      ).design;
    expect(teeth(named('Base before'), 3)).toBe(60);
    expect(out(named('Base before'))).toBeCloseTo(60 / 9, 9);
    expect(named('Wider').elements.find((e) => e.id === gears[3].id)).toMatchObject({ teeth: 60, width: 25 });
    // One that leaves something out cannot: the others would lose it.
    const without = withVariantChanged(wider, made.id, { suppressed: [gears[3].member] });
    expect(withVariantAsBase(without, made.id, 'Base before')).toBeUndefined();
  });

  it('stands beside the base, line by line', () => {
    const last = analyse(slower).ratios.at(-1)!;
    const name = `Ratio to ${slower.joints.find((j) => j.id === last.to.split(':')[0])!.name ?? last.to}`;
    expect(cell(slower, name, 'Base')).toBe('1/9');
    expect(cell(slower, name, 'Slower')).toBe('1/12');
    expect(cell(slower, 'Mass', 'Slower') as number).toBeGreaterThan(cell(slower, 'Mass', 'Base') as number);
    expect(cell(slower, 'Findings: faults', 'Slower')).toBe(0);
    expect(cell(slower, 'Size along x', 'Base') as number).toBeGreaterThan(50);
  });
});

describe('values of variants', () => {
  const demos = new URL('../../demo/', import.meta.url);
  it.each(readdirSync(demos).filter((f) => f.endsWith('.json')))('%s: every field that may be varied is the same again as a text', (f) => {
    const r = readDesign(JSON.parse(readFileSync(new URL(f, demos), 'utf8')));
    if (r.problems) throw new Error(f);
    const d = r.design;
    for (const x of [...d.members, ...d.joints, ...d.elements, ...d.couplings, ...d.sources, ...d.loads]) {
      for (const field of variedFields(d, x.id)) {
        const value = (x as unknown as Record<string, unknown>)[field.key];
        expect(variedValue(field, variedText(value)), `${x.id}.${field.key}`).toEqual(value);
      }
    }
  });
});
