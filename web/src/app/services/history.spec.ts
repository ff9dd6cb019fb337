import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { History, emptyHistory, redo, undo, withStep } from './history';

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
        for (let r = undo(h); r; r = undo(h)) [h, state] = [r.history, r.state];
        expect(state).toBe(0);
        for (let r = redo(h); r; r = redo(h)) [h, state] = [r.history, r.state];
        expect(state).toBe(values.at(-1));
      }),
    );
  });
  it('forget what was undone once something else is done, and join steps of one series', () => {
    let h = withStep(emptyHistory<number>(), { name: 'a', before: 0, after: 1 });
    h = undo(h)!.history;
    h = withStep(h, { name: 'b', before: 0, after: 2 });
    expect(redo(h)).toBeUndefined();
    h = withStep(h, { name: 'b', before: 2, after: 3 }, true);
    expect(h.done).toHaveLength(1);
    expect(undo(h)!.state).toBe(0);
  });
});
