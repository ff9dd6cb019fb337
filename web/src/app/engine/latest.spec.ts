import '@angular/compiler';
import { describe, expect, it, vi } from 'vitest';
import { Latest } from './latest';

/** Answers when told to. */
function slow(): { solve: (q: number) => Promise<string>; asked: number[]; finish: (fail?: boolean) => Promise<void> } {
  const asked: number[] = [];
  let done: [(a: string) => void, (e: Error) => void] | undefined;
  return {
    asked,
    solve: (q) => {
      asked.push(q);
      return new Promise((yes, no) => (done = [() => yes(`answer ${q}`), no]));
    },
    finish: async (fail) => {
      if (fail) done?.[1](new Error('broken'));
      else done?.[0]('');
      await new Promise((r) => setTimeout(r));
    },
  };
}

describe('answers to what changes faster than it can be answered', () => {
  it('asks one at a time and of those that wait the newest alone; the last answer stands meanwhile', async () => {
    const s = slow();
    const l = new Latest(s.solve, () => undefined);
    l.ask(1);
    l.ask(2);
    l.ask(3);
    expect(s.asked).toEqual([1]);
    await s.finish();
    expect(l.answer()).toEqual({ of: 1, is: 'answer 1' });
    expect(s.asked).toEqual([1, 3]);
    await s.finish();
    expect(l.answer()).toEqual({ of: 3, is: 'answer 3' });
    // What is answered or being answered is not asked again.
    l.ask(3);
    l.ask(4);
    l.ask(4);
    expect(s.asked).toEqual([1, 3, 4]);
  });
  it('goes back to a state that is being worked out without asking for the one between', async () => {
    const s = slow();
    const l = new Latest(s.solve, () => undefined);
    l.ask(1);
    l.ask(2);
    l.ask(1);
    await s.finish();
    expect(s.asked).toEqual([1]);
    expect(l.answer()?.of).toBe(1);
  });
  it('tells of a failure and goes on', async () => {
    const s = slow();
    const failed = vi.fn();
    const l = new Latest(s.solve, failed);
    l.ask(1);
    l.ask(2);
    await s.finish(true);
    expect(failed).toHaveBeenCalledOnce();
    await s.finish();
    expect(l.answer()?.of).toBe(2);
  });
});
