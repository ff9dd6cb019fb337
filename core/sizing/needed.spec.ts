import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, emptyDesign } from '../document/index';
import { item } from '../testing/designs';
import {
  inertiaOf,
  inputSpeedFor,
  insertStage,
  insertStages,
  membersBehind,
  neededBefore,
  reachRatio,
  splitRatio,
  splitStages,
  stageKind,
  stageOf,
  stageValues,
  stillNeeded,
  unusualStage,
  withInputShaft,
  withSourceSpeed,
} from './index';

const begun = (wanted: object): { d: Design; shaft: string } => {
  const s = withInputShaft(emptyDesign('Hoist'), { type: 'motor', name: 'Motor', fields: { speed: 1440 } });
  return { d: { ...s.design, wanted: [item({ id: 'w', name: 'Output', type: 'speed', ...wanted })] }, shaft: s.output };
};
const needed = (d: Design, member: string) => stillNeeded(d, analyse(d).ledger, member);

describe('what a train still needs', () => {
  it('is the member’s speed over the wanted one, and less with every stage', () => {
    const { d, shaft } = begun({ type: 'speed', value: 90 });
    expect(needed(d, shaft)).toMatchObject([{ kind: 'turns', ratio: 16 }]);
    // The stage takes the wanted output as its own; asked for it without a joint, a quarter of the way is done.
    const made = insertStage(d, { kind: 'spur', from: shaft, values: { z1: 20, z2: 80 } })!;
    const open = { ...made.design, wanted: d.wanted };
    expect(needed(open, made.output)).toMatchObject([{ kind: 'turns', ratio: 4 }]);
  });
  it('of a linear speed is travel per turn, and a stage that gives it meets what is wanted', () => {
    const { d, shaft } = begun({ type: 'linear-speed', value: 1500, tolerance: 15 });
    // 1500 mm/s at 24 turns a second.
    expect(needed(d, shaft)).toMatchObject([{ kind: 'travel', ratio: 62.5 }]);
    const kind = stageKind('rack')!;
    const reached = reachRatio(kind, 62.5, stageValues(kind))!;
    const made = insertStage(d, { kind: 'rack', from: shaft, values: reached.sizes })!;
    const [result] = analyse(made.design).ledger.wanted;
    expect(result.value! / 1500 - 1).toBeCloseTo(reached.off, 9);
    // The slide has taken it; what whole teeth leave is within the tolerance.
    expect(result.met).toBe(true);
    expect(needed(made.design, shaft)).toEqual([]);
  });
  it('is nothing where nothing turns or nothing is wanted of a speed', () => {
    const { d, shaft } = begun({ type: 'torque', value: 90 });
    expect(needed(d, shaft)).toEqual([]);
    const still = begun({ type: 'speed', value: 90 });
    expect(needed({ ...still.d, sources: [] }, still.shaft)).toEqual([]);
  });
});

describe('a wanted output stays with the output', () => {
  const wantedJoint = (d: Design): string | undefined => (d.wanted[0] as { joint?: string }).joint;
  const childOf = (d: Design, joint: string | undefined): string | undefined => d.joints.find((j) => j.id === joint)?.child;

  it('goes along when a stage is put in behind the last member, and is still needed until it is met', () => {
    const { d, shaft } = begun({ type: 'speed', value: 90 });
    const first = insertStage(d, { kind: 'spur', from: shaft, values: { z1: 20, z2: 80 } })!;
    expect(childOf(first.design, wantedJoint(first.design))).toBe(first.output);
    expect(first.moved).toEqual([]);
    expect(needed(first.design, first.output)).toMatchObject([{ kind: 'turns', ratio: 4 }]);
    const second = insertStage(first.design, { kind: 'spur', from: first.output, values: { z1: 20, z2: 80 } })!;
    expect(childOf(second.design, wantedJoint(second.design))).toBe(second.output);
    expect(second.moved).toEqual(['Output']);
    expect(analyse(second.design).ledger.wanted[0]).toMatchObject({ value: expect.closeTo(90, 9) as number, met: true });
    expect(needed(second.design, second.output)).toEqual([]);
  });
  it('stays where a second branch is put in, and where the new output moves in another way', () => {
    const { d, shaft } = begun({ type: 'speed', value: 90 });
    const first = insertStage(d, { kind: 'spur', from: shaft, values: { z1: 20, z2: 80 } })!;
    const branch = insertStage(first.design, { kind: 'spur', from: shaft, values: { z1: 20, z2: 40, angle: 180 } })!;
    expect(childOf(branch.design, wantedJoint(branch.design))).toBe(first.output);
    const rack = insertStage(first.design, { kind: 'rack', from: first.output })!;
    expect(childOf(rack.design, wantedJoint(rack.design))).toBe(first.output);
  });
  it('says before a stage in the middle what is missing at the end', () => {
    const { d, shaft } = begun({ type: 'linear-speed', value: 100 });
    const rack = insertStage(d, { kind: 'rack', from: shaft })!;
    const part = stageOf(rack.design, rack.coupling!)!;
    const figures = analyse(rack.design).ledger;
    const [left] = neededBefore(rack.design, figures, membersBehind(rack.design, part));
    expect(left).toMatchObject({ kind: 'turns', ratio: expect.closeTo(figures.wanted[0].value! / 100, 9) as number });
  });
  it('gives the input speed that meets it; none with two sources, or where it is met', () => {
    const { d, shaft } = begun({ type: 'speed', value: 90 });
    const made = insertStage(d, { kind: 'spur', from: shaft, values: { z1: 20, z2: 60 } })!;
    const w = made.design.wanted[0];
    const at = inputSpeedFor(made.design, w, analyse(made.design).ledger)!;
    expect(at.speed).toBeCloseTo(270, 9);
    const set = withSourceSpeed(made.design, at);
    expect(analyse(set).ledger.wanted[0].met).toBe(true);
    expect(inputSpeedFor(set, w, analyse(set).ledger)).toBeUndefined();
    const two = { ...made.design, sources: [...made.design.sources, { ...made.design.sources[0], id: 'other', name: 'Other' }] };
    expect(inputSpeedFor(two, w, analyse(made.design).ledger)).toBeUndefined();
  });
});

describe('a ratio split over stages', () => {
  it('is shared evenly, or with the least inertia', () => {
    expect(splitRatio(64, 3, 'even')).toEqual([4, 4, 4].map((i) => expect.closeTo(i, 12) as number));
    // i₁⁶ − i₁² = 2 i²: the condition for two stages, from dJ/di₁ = 0.
    const [a, b] = splitRatio(100, 2, 'least inertia');
    expect(a * b).toBeCloseTo(100, 9);
    expect((a ** 6 - a ** 2) / (2 * 100 ** 2)).toBeCloseTo(1, 9);
  });
  it.each([2, 3, 4])('has less inertia than any share near by: %i stages', (n) => {
    const best = splitRatio(200, n, 'least inertia');
    const least = inertiaOf(best);
    for (let k = 0; k + 1 < n; k++) {
      for (const by of [0.97, 1.03]) {
        const other = best.map((i, j) => (j === k ? i * by : j === k + 1 ? i / by : i));
        expect(inertiaOf(other)).toBeGreaterThan(least);
      }
    }
    expect(least).toBeLessThan(inertiaOf(splitRatio(200, n, 'even')));
  });
  it.each(['spur', 'helical', 'v-belt', 'toothed-belt', 'planetary'])('in whole teeth comes near, and the train turns so: %s', (name) => {
    const kind = stageKind(name)!;
    const made = splitStages(kind, 37.3, 2, 'even', stageValues(kind))!;
    expect(Math.abs(made.off)).toBeLessThan(2e-3);
    const { d, shaft } = begun({ type: 'speed', value: 1440 / 37.3, tolerance: 0.1 });
    const train = insertStages(d, { kind: name, from: shaft }, made.sizes)!;
    const [result] = analyse(train.design).ledger.wanted;
    expect(1440 / result.value!).toBeCloseTo(made.gives, 7);
    expect(result.met).toBe(true);
    expect(needed(train.design, train.output)).toEqual([]);
  });
  it('is proposed where one stage would be unusual', () => {
    expect(unusualStage('spur', { z1: 20, z2: 400 })).toMatchObject({ ratio: 20, usual: 8, teeth: 400, stages: 2 });
    expect(unusualStage('spur', { z1: 400, z2: 20 })?.stages).toBe(2);
    expect(unusualStage('spur', { z1: 20, z2: 160 })).toBeUndefined();
    expect(unusualStage('worm', { starts: 1, z2: 100 })).toBeUndefined();
  });
});
