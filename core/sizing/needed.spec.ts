import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, emptyDesign } from '../document/index';
import { item } from '../testing/designs';
import { insertStage, reachRatio, stageKind, stageValues, stillNeeded, withInputShaft } from './index';

const begun = (wanted: object): { d: Design; shaft: string } => {
  const s = withInputShaft(emptyDesign('Hoist'), { type: 'motor', name: 'Motor', fields: { speed: 1440 } });
  return { d: { ...s.design, wanted: [item({ id: 'w', name: 'Output', type: 'speed', ...wanted })] }, shaft: s.output };
};
const needed = (d: Design, member: string) => stillNeeded(d, analyse(d).ledger.lines, member);

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
    expect(needed(made.design, shaft)).toEqual([]);
  });
  it('is nothing where nothing turns or nothing is wanted of a speed', () => {
    const { d, shaft } = begun({ type: 'torque', value: 90 });
    expect(needed(d, shaft)).toEqual([]);
    const still = begun({ type: 'speed', value: 90 });
    expect(needed({ ...still.d, sources: [] }, still.shaft)).toEqual([]);
  });
});
