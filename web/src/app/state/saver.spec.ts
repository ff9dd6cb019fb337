import '@angular/compiler';
import fc from 'fast-check';
import { type Observable, Subject, of, throwError } from 'rxjs';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { SaveAnswer, SaveRequest } from '@unirota/contract';
import { ServerTrouble } from './api.service';

import { conflictNow, ownStorage, bench, pass, away } from './drafts.testing';

ownStorage();

describe('the saver', () => {
  beforeEach(() => void vi.useFakeTimers());

  it('sends after a moment of quiet, and only the newest of a burst', async () => {
    const b = bench();
    b.take('a');
    b.take('ab');
    await pass();
    expect(b.requests.map((r) => r.request.design.name)).toEqual(['ab']);
    expect(b.saver.here()).toBe('kept');
    b.answer(0, 2);
    await pass(0);
    expect([b.saver.server(), b.saver.here(), b.saver.base]).toEqual(['saved', 'clean', 2]);
    expect(b.kept).toEqual([]);
  });

  it('says “kept” only once the draft is written', async () => {
    let written = (): void => undefined;
    const b = bench({ drafts: { put: () => new Promise((r) => (written = r)), clear: async () => undefined, lastResort: () => undefined } });
    b.take('a');
    await pass(100);
    expect(b.saver.here()).toBe('writing');
    written();
    await pass(0);
    expect(b.saver.here()).toBe('kept');
  });

  it('asks again with the same id, as it was, before anything newer', async () => {
    const b = bench();
    b.take('first');
    await pass(1000);
    b.take('second');
    b.fail(0, away());
    await pass(1500);
    expect(b.requests[1].request).toEqual(b.requests[0].request);
    expect(b.saver.server()).toBe('away');
    b.answer(1, 2);
    await pass(1000);
    expect(b.requests[2].request).toMatchObject({ base: 2, design: { name: 'second' } });
    expect(b.requests[2].request.save).not.toBe(b.requests[0].request.save);
  });

  it('waits longer after each failure, and as long as the server asks for', async () => {
    const b = bench();
    b.take('a');
    for (let k = 0; k < 3; k++) {
      await pass(k === 0 ? 800 : [1000, 2000][k - 1] + 10);
      expect(b.requests).toHaveLength(k + 1);
      b.fail(k, k === 2 ? new ServerTrouble('Busy', 503, undefined, 30) : away());
    }
    await pass(29_000);
    expect(b.requests).toHaveLength(3);
    await pass(2000);
    expect(b.requests).toHaveLength(4);
  });

  it('stores the losing version beside the line before anybody is asked', async () => {
    const b = bench();
    b.take('mine');
    await pass(800);
    b.fail(0, conflictNow(5));
    await pass(0);
    expect(b.saver.conflict()).toMatchObject({ base: 1, aside: 90, mine: { name: 'mine' } });
    expect(b.asides[0]).toMatchObject({ base: 1, design: { name: 'mine' } });
    b.take('more');
    await pass();
    expect(b.requests).toHaveLength(1);
    b.saver.settle(5);
    b.take('chosen');
    await pass(800);
    expect(b.requests[1].request).toMatchObject({ base: 5, design: { name: 'chosen' } });
  });

  it('stores what is done while the choice is open as well, and says where that is refused', async () => {
    let refuse = false;
    const stored: string[] = [];
    const b = bench();
    const aside = (_id: string, r: SaveRequest): Observable<SaveAnswer> => {
      if (refuse) return throwError(() => new ServerTrouble('You may look only', 403));
      stored.push(r.design.name);
      return of({ revision: 90 + stored.length, savedAt: '' });
    };
    const c = bench({ api: { save: (_id, request) => (b.requests.push({ request, answer: new Subject() }), b.requests.at(-1)!.answer), aside } });
    c.take('mine');
    await pass(800);
    b.requests[0].answer.error(conflictNow(5));
    await pass(0);
    expect(c.saver.conflict()).toMatchObject({ aside: 91 });
    c.take('mine, and more');
    await pass(0);
    expect(c.saver.conflict()).toMatchObject({ aside: 92, mine: { name: 'mine, and more' } });
    expect(stored).toEqual(['mine', 'mine, and more']);
    refuse = true;
    c.take('and more still');
    await pass(0);
    expect(c.saver.conflict()).toMatchObject({ aside: undefined, trouble: 'You may look only' });
    expect(c.kept.at(-1)?.document.name).toBe('and more still');
    c.saver.close();
  });

  it('does nothing more once it is closed', async () => {
    const b = bench();
    b.take('a');
    b.saver.close();
    b.take('b');
    await pass();
    expect(b.requests).toEqual([]);
    expect(b.kept.at(-1)?.document.name).toBe('a');
  });

  it('keeps the work where it was deleted or refused, and says which', async () => {
    for (const [e, state] of [
      [new ServerTrouble('gone', 404), 'deleted'],
      [new ServerTrouble('no', 422, { type: '', title: 'no', status: 422, problems: [{ path: 'name', message: 'too long' }] }), 'refused'],
    ] as const) {
      const b = bench();
      b.take('mine');
      await pass(800);
      b.fail(0, e);
      await pass(0);
      expect(b.saver.server()).toBe(state);
      expect(b.saver.unconfirmed()).toBe(true);
      expect(b.kept.at(-1)?.document.name).toBe('mine');
    }
  });

  it('goes on where storage is full, and says so until a writing goes well', async () => {
    let full = true;
    const b = bench({
      drafts: { put: async () => (full ? Promise.reject(new Error('full')) : undefined), clear: async () => undefined, lastResort: () => undefined },
    });
    b.take('a');
    await pass(0);
    expect(b.saver.here()).toBe('full');
    await pass(800);
    expect(b.requests).toHaveLength(1);
    full = false;
    b.take('ab');
    await pass(0);
    expect(b.saver.here()).toBe('kept');
  });

  it('loses nothing and repeats nothing under any order of edits, answers and failures', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.constantFrom('edit', 'answer', 'lost', 'fail', 'wait'), { maxLength: 30 }), async (steps) => {
        const b = bench();
        const line: { save: string; name: string }[] = [];
        let open = 0;
        let n = 0;
        // The server's side: a save that it has had before is answered as before.
        const arrive = (k: number): number => {
          const { save, design } = b.requests[k].request;
          const before = line.findIndex((x) => x.save === save);
          if (before >= 0) return before + 2;
          expect(b.requests[k].request.base).toBe(line.length + 1);
          line.push({ save, name: design.name });
          return line.length + 1;
        };
        const step = async (s: string): Promise<void> => {
          if (s === 'edit') b.take(`edit ${++n}`);
          else if (s === 'wait') await pass(1000);
          else if (open < b.requests.length) {
            const k = open++;
            if (s === 'answer') b.answer(k, arrive(k));
            else {
              // “lost”: it arrived, but the answer did not.
              if (s === 'lost') arrive(k);
              b.fail(k, away());
            }
          }
          await pass(0);
        };
        for (const s of steps) await step(s);
        for (let k = 0; k < 40 && b.saver.unconfirmed(); k++) {
          await pass(16_000);
          await step('answer');
        }
        expect(b.saver.server()).toBe('saved');
        if (n) expect(line.at(-1)!.name).toBe(`edit ${n}`);
        expect(new Set(line.map((x) => x.save)).size).toBe(line.length);
        b.saver.close();
      }),
      { numRuns: 60 },
    );
  });
});
