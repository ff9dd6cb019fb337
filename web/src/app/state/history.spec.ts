import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Carry, type History, emptyHistory, redo, undo, withStep } from './history';

/** States are numbers here; what others did is added. */
const carry: Carry<number> = (present, from, to) => ({ state: present + to - from });
const never: Carry<number> = () => ({ clash: 'changed in both' });

describe('undo and redo', () => {
  it('walk back to the beginning and forward to the end, through any edits', () => {
    fc.assert(
      fc.property(fc.array(fc.integer(), { minLength: 1, maxLength: 40 }), (values) => {
        let h: History<number> = emptyHistory();
        let state = 0;
        for (const v of values) {
          h = withStep(h, { name: `to ${v}`, before: state, after: v });
          state = v;
        }
        for (let r = undo(h, state, never); r; r = undo(h, state, never)) [h, state] = [r.history, r.state!];
        expect(state).toBe(0);
        for (let r = redo(h, state, never); r; r = redo(h, state, never)) [h, state] = [r.history, r.state!];
        expect(state).toBe(values.at(-1));
      }),
    );
  });
  it('forget what was undone once something else is done, and join steps of one series', () => {
    let h = withStep(emptyHistory<number>(), { name: 'a', before: 0, after: 1 });
    h = undo(h, 1, never)!.history;
    h = withStep(h, { name: 'b', before: 0, after: 2 });
    expect(redo(h, 2, never)).toBeUndefined();
    h = withStep(h, { name: 'b', before: 2, after: 3 }, true);
    expect(h.done).toHaveLength(1);
    expect(undo(h, 3, never)!.state).toBe(0);
  });
  it('leave what others did, whatever was done here', () => {
    fc.assert(
      fc.property(fc.array(fc.record({ by: fc.integer(), others: fc.integer(), series: fc.boolean() }), { maxLength: 20 }), (edits) => {
        let h: History<number> = emptyHistory();
        let state = 0,
          others = 0;
        for (const e of edits) {
          state += e.others;
          others += e.others;
          h = withStep(h, { name: 'a', before: state, after: state + e.by }, e.series);
          state += e.by;
        }
        const here = state - others;
        for (let r = undo(h, state, carry); r; r = undo(h, state, carry)) [h, state] = [r.history, r.state!];
        expect(state).toBe(others);
        for (let r = redo(h, state, carry); r; r = redo(h, state, carry)) [h, state] = [r.history, r.state!];
        expect(state).toBe(others + here);
      }),
    );
  });
  it('give a step up that no longer fits, say why, and go on with the one before', () => {
    let h = withStep(emptyHistory<number>(), { name: 'a', before: 0, after: 1 });
    h = withStep(h, { name: 'b', before: 1, after: 2 });
    const r = undo(h, 7, never)!;
    expect(r).toMatchObject({ name: 'b', clash: 'changed in both', history: { undone: [] } });
    expect(r.state).toBeUndefined();
    expect(undo(r.history, 1, never)).toMatchObject({ name: 'a', state: 0 });
  });
});
