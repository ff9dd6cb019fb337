import type { Design } from '../fields/types';
import type { WantedOutput } from '../document/kinds';
import { item } from '../testing/designs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse, overlaps } from '../checks/index';
import { emptyDesign, readDesign } from '../document/index';
import { STAGE_KINDS, StageKind, countsFor, insertStage, stageKind, stageProblem, stageValues, withInputShaft } from './index';

const begun = () => withInputShaft(emptyDesign('New'), { type: 'motor', name: 'Motor' });
const troubles = (d: Parameters<typeof analyse>[0]): string[] =>
  analyse(d)
    .findings.filter((f) => f.severity !== 'note')
    .map((f) => `${f.severity} ${f.code}: ${f.message}`);

describe('stages put into a train', () => {
  it.each(STAGE_KINDS.map((k) => [k.kind, k] as const))('%s: comes properly meshed, with nothing to complain about', (kind, k) => {
    const start = begun();
    const s = insertStage(start.design, { kind, from: start.output })!;
    expect(readDesign(s.design).problems).toBeUndefined();
    // A differential has a second freedom, which is left to the designer.
    expect(troubles(s.design).filter((t) => kind !== 'differential' || !/undriven|support/.test(t))).toEqual([]);
    expect(overlaps(analyse(s.design).pose)).toEqual([]);
    expect(s.made.length).toBeGreaterThan(0);
    expect(new Set(s.made).size).toBe(s.made.length);
    expect(k.does).not.toBe('');
  });

  it.each(STAGE_KINDS.filter((k) => k.ratio).map((k) => [k.kind, k] as const))('%s: comes near the ratio asked for', (kind, k: StageKind) => {
    const asked: Record<string, number[]> = { screw: [5, 12], worm: [12, 40], planetary: [4, 5.5], internal: [3.5, 5] };
    for (const wanted of asked[kind] ?? (k.ratio === 'travel' ? [40, 125] : [2.5, 4])) {
      const start = begun();
      const values = stageValues(k);
      const s = insertStage(start.design, { kind, from: start.output, values: { ...values, ...k.forRatio!(wanted, values) } })!;
      const a = analyse(s.design);
      const joint = s.design.joints.find((j) => j.child === s.output)!.id;
      const r = a.ratios.find((x) => x.to === joint)!;
      const got = k.ratio === 'travel' ? Math.abs(r.decimal) : 1 / Math.abs(r.decimal);
      expect(Math.abs(got / wanted - 1)).toBeLessThan(k.ratio === 'travel' ? 0.03 : 0.06);
      expect(troubles(s.design)).toEqual([]);
    }
  });

  it('go one behind the other, in any order, without trouble', () => {
    const turning = ['spur', 'helical', 'bevel', 'toothed-belt', 'v-belt', 'chain', 'planetary', 'internal', 'worm'];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...turning), { minLength: 2, maxLength: 4 }), fc.integer({ min: -180, max: 180 }), (kinds, angle) => {
        let s = begun();
        for (const kind of [...kinds, 'rack']) s = insertStage(s.design, { kind, from: s.output, values: { angle } })!;
        expect(troubles(s.design)).toEqual([]);
      }),
      { numRuns: 25 },
    );
  });

  it('make a shaft of their own in an empty design', () => {
    const s = insertStage(emptyDesign('New'), { kind: 'spur' })!;
    expect(s.design.members).toHaveLength(2);
    expect(insertStage(s.design, { kind: 'spur', from: 'nothing' })).toBeUndefined();
  });

  it('take up wanted outputs that name no joint yet', () => {
    const start = begun();
    const d = { ...start.design, wanted: [item({ id: 'w', name: 'Speed', type: 'linear-speed', value: 50, tolerance: 1 })] };
    const spur = insertStage(d, { kind: 'spur', from: start.output })!;
    const joint = (d: Design): string | undefined => d.wanted.map((w: WantedOutput) => w.joint)[0];
    expect(joint(spur.design)).toBeUndefined();
    const rack = insertStage(spur.design, { kind: 'rack', from: spur.output })!;
    expect(joint(rack.design)).toBe(rack.design.joints.at(-1)!.id);
  });

  it('turn the planetary set’s carrier exactly 1 : 1 + zr/zs with the ring held, 1 : 1 + zs/zr with the sun held', () => {
    for (const [held, ratio] of [
      ['ring', '2/9'],
      ['sun', '7/9'],
      ['carrier', '-2/7'],
    ]) {
      const start = begun();
      const s = insertStage(start.design, { kind: 'planetary', from: start.output, values: { held } })!;
      const joint = s.design.joints.find((j) => j.child === s.output)!.id;
      expect(analyse(s.design).ratios.find((r) => r.to === joint)!.exact).toBe(ratio);
    }
  });

  it('refuse planets that do not assemble, with counts that do', () => {
    const k = stageKind('planetary')!;
    const p = stageProblem(k, stageValues(k, { sun: 25 }))!;
    expect(p.message).toMatch(/divisible by 3/);
    for (const c of p.choices!) expect(stageProblem(k, stageValues(k, c))).toBeUndefined();
    expect(stageProblem(k, stageValues(k, { planets: 6, planet: 48 }))!.message).toMatch(/at most/);
    expect(stageProblem(k, stageValues(k))).toBeUndefined();
  });

  it('find counts near a ratio by small wheels first', () => {
    expect(countsFor(3, 18, 36)).toEqual([18, 54]);
    const [a, b] = countsFor(Math.PI, 18, 36);
    expect(Math.abs(b / a - Math.PI)).toBeLessThan(0.005);
  });
});
