import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse, overlaps } from '../../checks/index';
import { emptyDesign, readDesign } from '../../document/index';
import type { Design, Id } from '../../fields/types';
import { compile } from '../../kinematics/index';
import { item } from '../../testing/designs';
import {
  STAGE_KINDS,
  copyStage,
  couldReplace,
  deleteStage,
  insertBefore,
  insertStage,
  moveStage,
  reachRatio,
  replaceStage,
  stageKind,
  stageOf,
  stageRatio,
  stageValues,
  withInputShaft,
} from '../index';

const begun = () => withInputShaft(emptyDesign('New'), { type: 'motor', name: 'Motor' });
/** A train of stages one behind the other; with the coupling and the output of each. */
function train(...kinds: string[]): { design: Design; stages: { coupling: Id; output: Id; from: Id }[] } {
  let design = begun().design;
  let from: Id = design.members[0].id;
  const stages = kinds.map((kind) => {
    const made = insertStage(design, { kind, from })!;
    const stage = { coupling: made.coupling!, output: made.output, from };
    design = made.design;
    from = made.output;
    return stage;
  });
  return { design, stages };
}
const troubles = (d: Design): string[] =>
  analyse(d)
    // What follows is moved as one; where it then stands in something else, the design says so.
    .findings.filter((f) => f.severity !== 'note' && f.code !== 'bodies-overlap')
    .map((f) => `${f.severity} ${f.code}: ${f.message}`);
/** How far a member moves for one turn of the source, without its sense. */
function ratioTo(d: Design, member: Id): number {
  const joint = d.joints.find((j) => j.child === member)!.id;
  return Math.abs(analyse(d).ratios.find((r) => r.to === joint)!.decimal);
}
function done(r: ReturnType<typeof deleteStage>): Design & { made?: never } {
  if (r.problem !== undefined) throw new Error(r.problem);
  expect(readDesign(r.design).problems).toBeUndefined();
  return r.design as Design & { made?: never };
}
const sound = (d: Design): void => {
  expect(troubles(d)).toEqual([]);
  expect(overlaps(analyse(d).pose)).toEqual([]);
};
const TURNING = ['spur', 'helical', 'bevel', 'toothed-belt', 'v-belt', 'chain', 'planetary', 'internal', 'worm'];
const LAST = ['rack', 'screw', ...TURNING];
const turning = fc.constantFrom(...TURNING);

describe('a stage that stands in a train', () => {
  it.each(STAGE_KINDS.map((k) => k.kind))('%s: is found from any of its couplings, and leaves nothing behind when deleted', (kind) => {
    const before = begun();
    const made = insertStage(before.design, { kind, from: before.output })!;
    for (const c of made.design.couplings) {
      const s = stageOf(made.design, c.id)!;
      expect(s.from).toBe(before.output);
      expect(done(deleteStage(made.design, c.id))).toEqual(before.design);
    }
  });

  it('is found where it was drawn by hand, without a group: a planetary set whole', () => {
    const { design, stages } = train('spur', 'planetary');
    const bare = { ...design };
    delete bare.groups;
    const s = stageOf(bare, stages[1].coupling)!;
    expect(s).toMatchObject({ from: stages[1].from, output: stages[1].output });
    expect(s.couplings.size).toBe(6);
    const left = done(deleteStage(bare, stages[1].coupling));
    expect(left.members.map((m) => m.id)).toEqual(train('spur').design.members.map((m) => m.id));
    expect(left.elements).toHaveLength(2);
  });

  it('leaves what others need: the shaft between two stages stays when the first goes', () => {
    const { design, stages } = train('spur', 'spur');
    const left = done(deleteStage(design, stages[0].coupling));
    expect(left.members.map((m) => m.id)).toContain(stages[0].output);
    expect(left.couplings.map((c) => c.id)).toEqual([stages[1].coupling]);
  });
});

describe('putting a stage in between', () => {
  it('multiplies the ratio by its own, and nothing behind it is the worse, whatever the kinds', () => {
    fc.assert(
      fc.property(turning, turning, turning, fc.constantFrom(...LAST), fc.boolean(), (a, b, fresh, last, atFirst) => {
        const { design, stages } = train(a, b, last);
        const out = insertBefore(design, stages[atFirst ? 0 : 1].coupling, { kind: fresh });
        const after = done(out);
        const own = stageKind(fresh)!.gives!(stageValues(stageKind(fresh)!));
        const end = stages[2].output;
        expect(ratioTo(after, end) * own).toBeCloseTo(ratioTo(design, end), 6);
        sound(after);
      }),
      { numRuns: 40 },
    );
  });
  it('is refused where the train closes behind, and where the kind does not turn', () => {
    const { design, stages } = train('spur', 'spur');
    const back = item({ id: 'back', name: 'Back', type: 'proportional', a: design.joints[0].id, b: design.joints[2].id, ratio: 1 });
    const d: Design = { ...design, couplings: [...design.couplings, back] };
    expect(insertBefore(d, stages[1].coupling, { kind: 'spur' }).problem).toMatch(/closes/);
    expect(insertBefore(design, stages[1].coupling, { kind: 'rack' }).problem).toMatch(/turns/);
    expect(insertBefore(design, 'nothing', { kind: 'spur' }).problem).toMatch(/no stage/);
  });
});

describe('replacing a stage', () => {
  it('keeps the ratio as near as the kind can, and what stood behind it follows', () => {
    fc.assert(
      fc.property(turning, turning, turning, fc.constantFrom(...LAST), (a, old, fresh, last) => {
        const { design, stages } = train(a, old, last);
        const s = stageOf(design, stages[1].coupling)!;
        expect(couldReplace(design, s, fresh)).toBe(true);
        const was = stageKind(old)!.gives!(stageValues(stageKind(old)!));
        const kind = stageKind(fresh)!;
        const reached = reachRatio(kind, was, stageValues(kind))!;
        const after = done(replaceStage(design, stages[1].coupling, { kind: fresh, values: { ...stageValues(kind), ...reached.sizes } }));
        const end = stages[2].output;
        expect((ratioTo(after, end) / ratioTo(design, end)) * (1 + reached.off)).toBeCloseTo(1, 6);
        sound(after);
        // Nothing of the old one is left.
        expect(after.groups).toHaveLength(3);
        expect(after.members.filter((m) => s.members.has(m.id))).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });
  it('gives a rack’s wanted output, load and name to the screw that takes its place; and is refused where the motion differs', () => {
    const { design, stages } = train('spur', 'rack');
    const joint = design.joints.find((j) => j.child === stages[1].output)!.id;
    const d: Design = {
      ...design,
      members: design.members.map((m) => (m.id === stages[1].output ? { ...m, name: 'Sluice rod' } : m)),
      wanted: [item({ id: 'w', name: 'Lift', type: 'linear-speed', joint, value: 4, tolerance: 50 })],
      loads: [item({ id: 'l', name: 'Water', type: 'joint-load', joint, value: -500 })],
    };
    const after = done(replaceStage(d, stages[1].coupling, { kind: 'screw' }));
    const rod = after.members.find((m) => m.name === 'Sluice rod')!.id;
    const fresh = after.joints.find((j) => j.child === rod)!;
    expect(after.wanted[0]).toMatchObject({ joint: fresh.id });
    expect(after.loads[0]).toMatchObject({ joint: fresh.id });
    expect(replaceStage(d, stages[1].coupling, { kind: 'spur' }).problem).toMatch(/another way/);
  });
});

describe('what cannot be reworked', () => {
  it('a stage in which the drive itself travels is refused with that reason; carriers in a ring end in a reason, not in an endless walk', () => {
    const { design, stages } = train('spur');
    const made = insertStage(design, { kind: 'rack', from: stages[0].output, values: { moves: 'pinion' } })!;
    for (const r of [moveStage(made.design, made.coupling!, design.members[0].id), insertBefore(made.design, made.coupling!, { kind: 'spur' })]) {
      expect(r.problem).toMatch(/drive itself travels/);
    }
    const ring = { ...design, joints: design.joints.map((j, k) => ({ ...j, parent: design.members[1 - k].id })) };
    expect(insertBefore(ring, stages[0].coupling, { kind: 'spur' }).problem).toBeDefined();
  });
  it('what a stage does now is told without a source', () => {
    const { design, stages } = train('spur', 'rack');
    const bare = compile({ ...design, sources: [] });
    expect(stageRatio(bare, stageOf(design, stages[0].coupling)!)).toBeCloseTo(3, 12);
    expect(stageRatio(bare, stageOf(design, stages[1].coupling)!)).toBeCloseTo(stageKind('rack')!.gives!(stageValues(stageKind('rack')!)), 9);
  });
});

describe('moving and copying a stage', () => {
  it('takes it with all behind it to another shaft', () => {
    const { design, stages } = train('spur', 'bevel', 'rack');
    const after = done(moveStage(design, stages[2].coupling, stages[0].output));
    const step = stageKind('bevel')!.gives!(stageValues(stageKind('bevel')!));
    expect(ratioTo(after, stages[2].output)).toBeCloseTo(ratioTo(design, stages[2].output) * step, 6);
    sound(after);
    expect(moveStage(design, stages[0].coupling, stages[1].output).problem).toMatch(/behind the stage itself/);
    expect(moveStage(design, stages[1].coupling, stages[1].from).problem).toMatch(/already/);
  });
  it('puts a copy in at any shaft, meshed as the first is', () => {
    fc.assert(
      fc.property(turning, turning, (a, b) => {
        const { design, stages } = train(a, b);
        const r = copyStage(design, stages[0].coupling, stages[1].output);
        const after = done(r);
        const own = stageKind(a)!.gives!(stageValues(stageKind(a)!));
        if (r.problem === undefined) expect(ratioTo(after, r.output) * own).toBeCloseTo(ratioTo(after, stages[1].output), 6);
        sound(after);
      }),
      { numRuns: 25 },
    );
  });
});
