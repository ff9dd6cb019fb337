import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../../checks/index';
import { type Design, emptyDesign, readDesign } from '../../document/index';
import type { Field } from '../../fields/fields';
import { removeItems } from '../edits';
import { STAGE_KINDS, type StageKind, type Values, canBegin, insertStage, stageKind, stageProblem, stageValues, withInputShaft } from './index';

const LISTS = ['members', 'joints', 'elements', 'couplings', 'sources', 'loads', 'wanted'] as const;
const idsOf = (d: Design): string[] => LISTS.flatMap((k) => (d[k] as { id: string }[]).map((x) => x.id));
const begin = (): Design => withInputShaft(emptyDesign('Begun'), { type: 'motor', name: 'Motor' }).design;

/** Sizes about those that are proposed: counts a few more or less, lengths half to twice, any choice. */
function around(f: Field): fc.Arbitrary<number | string | boolean> {
  const initial = f.initial as number | string | boolean;
  if (f.kind === 'choice') return fc.constantFrom(...f.choices!);
  if (f.kind === 'flag') return fc.boolean();
  if (typeof initial !== 'number') return fc.constant(initial);
  const within = (x: number): number => Math.min(f.max ?? Infinity, Math.max(f.min ?? -Infinity, x));
  if (f.kind === 'whole') return fc.integer({ min: -3, max: 12 }).map((n) => within(initial + n));
  if (f.key === 'angle') return fc.integer({ min: -180, max: 180 });
  return fc.integer({ min: 5, max: 20 }).map((n) => within(Number(((initial * n) / 10).toPrecision(6))));
}
const valuesOf = (kind: StageKind): fc.Arbitrary<Values> => fc.record(Object.fromEntries(kind.fields.map((f) => [f.key, around(f)])));

describe('every kind of stage', () => {
  it('has a name of its own, and sizes whose proposals are within their own bounds', () => {
    expect(new Set(STAGE_KINDS.map((k) => k.kind)).size).toBe(STAGE_KINDS.length);
    expect(new Set(STAGE_KINDS.map((k) => k.label)).size).toBe(STAGE_KINDS.length);
    for (const k of STAGE_KINDS) {
      expect(stageProblem(k, stageValues(k)), k.kind).toBeUndefined();
      for (const f of k.fields) {
        if (typeof f.initial !== 'number') continue;
        expect([k.kind, f.key, f.initial >= (f.min ?? -Infinity), f.initial <= (f.max ?? Infinity)]).toEqual([k.kind, f.key, true, true]);
      }
    }
  });

  it.each(STAGE_KINDS.map((k) => [k.kind, k] as const))('%s: as proposed goes in without trouble and moves', (_, kind) => {
    const d = begin();
    const made = insertStage(d, { kind: kind.kind, from: d.members[0].id })!;
    const w = analyse(made.design);
    expect(w.findings.filter((f) => f.severity === 'stop')).toEqual([]);
    expect(w.freedoms).toBeGreaterThan(0);
  });

  it.each(STAGE_KINDS.map((k) => [k.kind, k] as const))(
    '%s: with any sizes that it takes is a sound document, new beside what was there, and goes out again',
    (_, kind) => {
      fc.assert(
        fc.property(valuesOf(kind), (values) => {
          if (stageProblem(kind, values)) return;
          const d = begin();
          const made = insertStage(d, { kind: kind.kind, from: d.members[0].id, values })!;
          expect(readDesign(structuredClone(made.design)).problems).toBeUndefined();
          const ids = idsOf(made.design);
          expect(new Set(ids).size).toBe(ids.length);
          expect(ids).toEqual(expect.arrayContaining(idsOf(d)));
          expect(made.made.filter((x) => idsOf(d).includes(x))).toEqual([]);
          if (made.output !== 'frame') expect(made.design.members.map((m) => m.id)).toContain(made.output);
          if (made.coupling) expect(made.design.couplings.map((c) => c.id)).toContain(made.coupling);
          expect(made.design.groups!.at(-1)!.items.every((x) => ids.includes(x))).toBe(true);
          const out = removeItems(made.design, made.made);
          expect(idsOf(out).sort()).toEqual(idsOf(d).sort());
        }),
        { numRuns: 40 },
      );
    },
  );

  it('that states a ratio comes near to one that is asked for, either way up', () => {
    for (const kind of STAGE_KINDS.filter((k) => k.ratio === 'turns' && k.forRatio && k.kind !== 'planetary' && k.kind !== 'internal')) {
      for (const ratio of kind.kind === 'worm' ? [20, 33] : [2.5, 4]) {
        const sizes = stageValues(kind, kind.forRatio!(ratio, stageValues(kind)));
        expect(stageProblem(kind, sizes), kind.kind).toBeUndefined();
        const d = begin();
        const w = analyse(insertStage(d, { kind: kind.kind, from: d.members[0].id, values: sizes })!.design);
        const [line] = w.ratios;
        expect(line, kind.kind).toBeDefined();
        expect([kind.kind, ratio, Math.abs(Math.abs(1 / line.decimal) / ratio - 1) < 0.06]).toEqual([kind.kind, ratio, true]);
      }
    }
  });
});

describe('sizes that do not go together', () => {
  const problem = (kind: string, values: Values) => stageProblem(stageKind(kind)!, stageValues(stageKind(kind)!, values));
  it('are refused beside the field, with ones that do where there are such', () => {
    expect(problem('worm', { starts: 11, quotient: 6 })).toMatchObject({ field: 'starts', choices: [{ starts: 10 }] });
    expect(problem('worm', { starts: 10, quotient: 6 })).toBeUndefined();
    // 20 : 40 lets the larger cone be 90° at acos(−1/2), which is 120°.
    expect(problem('bevel', { corner: 119.9 })).toBeUndefined();
    expect(problem('bevel', { corner: 120 })).toMatchObject({ field: 'corner' });
    expect(problem('planetary', { sun: 25, planet: 30, planets: 3 })).toMatchObject({ field: 'sun' });
    expect(problem('planetary', { sun: 12, planet: 60, planets: 4 })?.field).toBe('planets');
    expect(problem('internal', { z1: 40, z2: 45 })).toMatchObject({ field: 'z2' });
    expect(problem('cam', { base: 5, lift: 20 })).toMatchObject({ field: 'base' });
  });
});

describe('where a stage can begin', () => {
  it('at what turns about its own axis; a proportional motion at anything that moves', () => {
    const d = begin();
    const rack = insertStage(d, { kind: 'rack', from: d.members[0].id })!;
    expect(canBegin(rack.design, 'spur', rack.output)).toBe(false);
    expect(canBegin(rack.design, 'proportional', rack.output)).toBe(true);
    expect(insertStage(rack.design, { kind: 'spur', from: rack.output })).toBeUndefined();
    expect(canBegin(d, 'spur', 'nobody')).toBe(false);
    expect(stageKind('no such')).toBeUndefined();
    expect(insertStage(d, { kind: 'no such' })).toBeUndefined();
  });
});
