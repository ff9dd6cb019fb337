import '@angular/compiler';
import 'fake-indexeddb/auto';
import { IDBFactory } from 'fake-indexeddb';
import fc from 'fast-check';
import { type Observable, Subject, of, throwError } from 'rxjs';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { SaveAnswer, SaveRequest, StoredDesign } from '@unirota/contract';
import { type Design, emptyDesign } from '@unirota/core/document';
import { type ApiService, ServerTrouble } from './api.service';
import { type Draft, Drafts } from './drafts';
import { Keeper } from './keeper';
import { Saver, type SaverOptions } from './saver';
import { stateText } from './state-text';
import { type Channel, Tabs } from './tabs';

const named = (name: string, note?: string): Design => ({ ...emptyDesign(name), ...(note ? { note } : {}) });
const conflictNow = (revision: number): ServerTrouble =>
  new ServerTrouble('Saved elsewhere', 409, { type: '', title: '', status: 409, current: { revision, savedAt: '2026-01-01T00:00:00Z' } });

beforeEach(() => {
  globalThis.indexedDB = new IDBFactory();
  vi.stubGlobal('addEventListener', () => undefined);
  vi.stubGlobal('removeEventListener', () => undefined);
  vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined, removeItem: () => undefined });
});
afterEach(() => void vi.useRealTimers());

const draft = (writer: string, version: number, name = writer): Draft => ({ design: 'd', writer, version, base: 1, document: named(name) });

describe('drafts', () => {
  it('come back as they were kept, each writer’s by itself, oldest first', async () => {
    const drafts = new Drafts();
    await drafts.put(draft('b', 5));
    await drafts.put(draft('a', 2));
    await drafts.put({ ...draft('x', 1), design: 'another' });
    expect((await drafts.find('d')).drafts).toEqual([draft('a', 2), draft('b', 5)]);
  });

  it('belong to a person: another at the same browser does not find them, nor what the small storage holds', async () => {
    const small = new Map<string, string>();
    vi.stubGlobal('localStorage', {
      getItem: (k: string) => small.get(k) ?? null,
      setItem: (k: string, v: string) => small.set(k, v),
      removeItem: (k: string) => small.delete(k),
    });
    const [first, second] = [new Drafts('p1'), new Drafts('p2')];
    await first.put(draft('a', 1));
    first.lastResort(draft('b', 2));
    await second.takeOver('d');
    expect((await second.find('d')).drafts).toEqual([]);
    expect((await new Drafts().find('d')).drafts).toEqual([]);
    await first.takeOver('d');
    expect((await first.find('d')).drafts.map((d) => d.version)).toEqual([1, 2]);
  });

  it('are cleared only by who wrote them, and only up to the version that is confirmed', async () => {
    const drafts = new Drafts();
    await drafts.put(draft('a', 3));
    await drafts.clear('d', 'b', 9);
    await drafts.clear('d', 'a', 2);
    expect((await drafts.find('d')).drafts).toHaveLength(1);
    await drafts.clear('d', 'a', 3);
    expect((await drafts.find('d')).drafts).toEqual([]);
  });

  it('that cannot be read are told apart, with what is wrong', async () => {
    const drafts = new Drafts();
    await drafts.put({ ...draft('a', 1), document: { name: 'x', elements: 5 } as unknown as Design });
    await drafts.put({ design: 'd', writer: 'b' } as Draft);
    const found = await drafts.find('d');
    expect(found.drafts).toEqual([]);
    expect(found.damaged.map((d) => [d.writer, d.problems[0].message.length > 0])).toEqual([
      ['a', true],
      ['b', true],
    ]);
  });

  it('of an earlier Unirota are taken over from the small storage', async () => {
    const small = new Map([['unirota.draft.d', JSON.stringify({ design: named('old'), base: 4, save: 's' })]]);
    vi.stubGlobal('localStorage', { getItem: (k: string) => small.get(k) ?? null, removeItem: (k: string) => void small.delete(k) });
    const drafts = new Drafts();
    await drafts.takeOver('d');
    expect((await drafts.find('d')).drafts[0]).toMatchObject({ base: 4, document: { name: 'old' }, sent: { save: 's' } });
    expect(small.size).toBe(0);
  });

  it('of a page that goes while it writes are put into the small storage, and taken over as what they are', async () => {
    const small = new Map<string, string>();
    vi.stubGlobal('localStorage', {
      getItem: (k: string) => small.get(k) ?? null,
      setItem: (k: string, v: string) => void small.set(k, v),
      removeItem: (k: string) => void small.delete(k),
    });
    const drafts = new Drafts();
    const never = new Saver({
      api: { save: () => of(), aside: () => of() },
      drafts: { put: () => new Promise(() => undefined), clear: async () => undefined, lastResort: (d) => drafts.lastResort(d) },
      id: 'd',
      writer: 'w',
      base: 6,
      sends: () => true,
    });
    never.take(named('cut off'), 9);
    never.close();
    await drafts.takeOver('d');
    expect((await drafts.find('d')).drafts).toMatchObject([{ version: 9, base: 6, document: { name: 'cut off' } }]);
    expect(small.size).toBe(0);
  });

  it('pass from one who is gone to one who lives in one step', async () => {
    const drafts = new Drafts();
    await drafts.put(draft('gone', 7));
    await drafts.adopt(draft('gone', 7), 'living');
    expect((await drafts.find('d')).drafts.map((d) => [d.writer, d.version])).toEqual([['living', 7]]);
  });
});

/** A saver over a server that the test plays, with drafts in memory. */
function bench(o: Partial<SaverOptions> = {}) {
  const requests: { request: SaveRequest; answer: Subject<SaveAnswer> }[] = [];
  const asides: SaveRequest[] = [];
  const kept: Draft[] = [];
  const options: SaverOptions = {
    api: {
      save: (_id, request) => {
        const answer = new Subject<SaveAnswer>();
        requests.push({ request, answer });
        return answer;
      },
      aside: (_id, request) => {
        asides.push(request);
        return of({ revision: 90, savedAt: '2026-01-01T00:00:00Z' });
      },
    },
    drafts: {
      put: async (d) => void kept.push(d),
      clear: async () => void kept.splice(0),
      lastResort: () => undefined,
    },
    id: 'd',
    writer: 'w',
    base: 1,
    sends: () => true,
    ...o,
  };
  const saver = new Saver(options);
  let version = 0;
  const take = (name: string): void => saver.take(named(name), ++version);
  const answer = (k: number, revision: number): void => {
    requests[k].answer.next({ revision, savedAt: '2026-01-01T00:00:00Z' });
    requests[k].answer.complete();
  };
  return { saver, requests, asides, kept, take, answer, fail: (k: number, e: ServerTrouble) => requests[k].answer.error(e) };
}
const pass = (ms = 20_000): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);
const away = (): ServerTrouble => new ServerTrouble('The server does not answer', 0);

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

/** Tabs of one browser: channel and locks as browsers have them. */
function browser() {
  const channels = new Set<Channel>();
  const queues = new Map<string, (() => Promise<void>)[]>();
  const held = new Set<string>();
  const next = (name: string): void => {
    const run = queues.get(name)?.shift();
    if (!run) return void held.delete(name);
    held.add(name);
    void run().then(() => next(name));
  };
  return {
    channel: (): Channel => {
      const c: Channel = {
        onmessage: null,
        postMessage: (m) => {
          for (const other of channels) if (other !== c) queueMicrotask(() => other.onmessage?.({ data: structuredClone(m) } as MessageEvent));
        },
        close: () => void channels.delete(c),
      };
      channels.add(c);
      return c;
    },
    locks: {
      request: (name: string, { signal }: { signal: AbortSignal }, work: () => unknown) => {
        const run = async (): Promise<void> => void (signal.aborted ? undefined : await work());
        queues.set(name, [...(queues.get(name) ?? []), run]);
        queueMicrotask(() => held.has(name) || next(name));
        return Promise.resolve();
      },
      query: async () => ({ held: [...held].map((name) => ({ name })) }),
    } as unknown as LockManager,
  };
}
const settle = async (): Promise<void> => {
  for (let k = 0; k < 20; k++) await Promise.resolve();
};

describe('tabs of one design', () => {
  function tab(surroundings: ReturnType<typeof browser>, writer: string) {
    const seen: Design[] = [];
    const t = new Tabs('d', writer, surroundings, {
      state: (d) => seen.push(d),
      leads: () => undefined,
      kept: () => undefined,
      server: () => undefined,
    });
    return { t, seen, now: () => seen.at(-1)?.name };
  }

  it('one sends; when it closes, another does', async () => {
    const b = browser();
    const first = tab(b, '1');
    const second = tab(b, '2');
    await settle();
    expect([first.t.leading(), second.t.leading()]).toEqual([true, false]);
    expect(await second.t.living()).toContain('1');
    first.t.close();
    await settle();
    expect(second.t.leading()).toBe(true);
    expect(await second.t.living()).not.toContain('1');
  });

  it('follow each other, and a new one is told what is not saved yet', async () => {
    const b = browser();
    const [first, second] = [tab(b, '1'), tab(b, '2')];
    first.t.greet(named('a'), 0);
    second.t.greet(named('a'), 0);
    await settle();
    first.t.edited(named('ab'));
    await settle();
    expect(second.now()).toBe('ab');
    second.t.edited(named('abc'));
    await settle();
    expect(first.now()).toBe('abc');
    const third = tab(b, '3');
    third.t.greet(named('a'), 0);
    await settle();
    expect(third.now()).toBe('abc');
  });

  it('join edits of the same moment that touch different things', async () => {
    const b = browser();
    const [first, second] = [tab(b, '1'), tab(b, '2')];
    first.t.greet(named('a'), 0);
    second.t.greet(named('a'), 0);
    await settle();
    first.t.edited(named('renamed'));
    second.t.edited(named('a', 'noted'));
    await settle();
    expect(first.seen.at(-1)).toMatchObject({ name: 'renamed', note: 'noted' });
    expect(second.seen.at(-1)).toMatchObject({ name: 'renamed', note: 'noted' });
  });
});

describe('opening a design', () => {
  const stored = (name: string, revision: number): StoredDesign => ({ id: 'd', revision, savedAt: '', may: 'own', design: named(name) });
  const keeper = (read: Observable<StoredDesign>, surroundings = browser(), asides: unknown[] = []): Keeper => {
    const api = {
      read: () => read,
      save: () => of({ revision: 8, savedAt: '' }),
      aside: (_id: string, r: unknown) => (asides.push(r), of({ revision: 9, savedAt: '' })),
    } as unknown as ApiService;
    return new Keeper({ api, id: 'd', changed: () => undefined, surroundings });
  };

  it('goes on with what a killed tab left, from the revision it started from', async () => {
    await new Drafts().put({ ...draft('gone', 4), base: 3 });
    const k = keeper(of(stored('older', 3)));
    expect((await k.open()).design.name).toBe('gone');
    expect([k.saver.base, k.saver.here(), k.tabs.version]).toEqual([3, 'kept', 4]);
    k.close();
  });

  it('does so without the server too, and without either says what is wrong', async () => {
    const nothing = keeper(throwError(away));
    await expect(nothing.open()).rejects.toThrow(/does not answer/);
    nothing.close();
    await new Drafts().put(draft('gone', 4));
    const k = keeper(throwError(away));
    expect((await k.open()).design.name).toBe('gone');
    k.close();
  });

  it('opens what it had last while the server is away, sends what is done meanwhile, and knows no copy of what is gone', async () => {
    const before = keeper(of(stored('there', 3)));
    await before.open();
    before.close();
    await vi.waitFor(async () => expect(await new Drafts().copyOf('d')).toMatchObject({ revision: 3, name: 'there', may: 'own' }));
    const k = keeper(throwError(away));
    expect((await k.open()).design.name).toBe('there');
    expect([k.saver.base, k.saver.server(), k.saver.unconfirmed()]).toEqual([3, 'offline', false]);
    expect(stateText('offline', 'clean', false).text).toMatch(/kept on this machine and sent later/);
    k.edited(named('done offline'));
    await vi.waitFor(() => expect(k.saver.server()).toBe('saved'), { timeout: 4000 });
    await vi.waitFor(async () => expect(await new Drafts().copyOf('d')).toMatchObject({ revision: 8, name: 'done offline' }));
    k.close();
    const gone = keeper(throwError(() => new ServerTrouble('There is no such design', 404)));
    await expect(gone.open()).rejects.toThrow(/no such/);
    gone.close();
    await vi.waitFor(async () => expect(await new Drafts().copyOf('d')).toBeUndefined());
  });

  it('takes on what the server has once it answers again, where nothing was edited here', async () => {
    const before = keeper(of(stored('there', 3)));
    await before.open();
    before.close();
    vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval', 'Date'] });
    let answers: Observable<StoredDesign> = throwError(away);
    let shown = '';
    const api = { read: () => answers } as unknown as ApiService;
    const k = new Keeper({ api, id: 'd', changed: (d) => (shown = d.name), surroundings: browser() });
    await k.open();
    expect(k.saver.server()).toBe('offline');
    answers = of(stored('newer', 6));
    await vi.advanceTimersByTimeAsync(10_500);
    expect([k.saver.server(), k.saver.base, shown]).toEqual(['saved', 6, 'newer']);
    k.close();
  });

  it('keeps a limited number of copies, the newest, and none once somebody has signed out', async () => {
    const drafts = new Drafts('somebody');
    for (let n = 0; n < 45; n++) await drafts.keepCopy({ design: `d${n}`, name: `n${n}`, revision: 1, may: 'own', at: n, document: named(`n${n}`) });
    const list = await drafts.copies();
    expect(list).toHaveLength(40);
    expect([list[0].name, list[39].name]).toEqual(['n44', 'n5']);
    expect(list[0]).not.toHaveProperty('document');
    expect(await new Drafts('another').copies()).toEqual([]);
    await drafts.put(draft('a', 1));
    await drafts.dropCopies();
    expect(await drafts.copies()).toEqual([]);
    expect((await drafts.find('d')).drafts).toHaveLength(1);
  });

  it('leaves alone what a living tab keeps', async () => {
    const b = browser();
    const living = keeper(of(stored('x', 3)), b);
    await living.open();
    await new Drafts().put(draft(living.writer, 2, 'being written'));
    const second = keeper(of(stored('x', 3)), b);
    expect((await second.open()).design.name).toBe('x');
    living.close();
    second.close();
  });

  it('of several drafts goes on with the newest; what does not lead to it is stored beside', async () => {
    const drafts = new Drafts();
    await drafts.put({ ...draft('way', 2), base: 3 });
    await drafts.put({ ...draft('other', 1), base: 2 });
    await drafts.put({ ...draft('newest', 5), base: 3 });
    const asides: unknown[] = [];
    const k = keeper(of(stored('x', 3)), browser(), asides);
    expect((await k.open()).design.name).toBe('newest');
    await vi.waitFor(async () => expect((await drafts.find('d')).drafts.map((d) => d.writer)).toEqual([k.writer]));
    expect(asides).toMatchObject([{ base: 2, design: { name: 'other' } }]);
    k.close();
  });

  it('takes a draft away that the server has already', async () => {
    await new Drafts().put(draft('gone', 1, 'x'));
    const third = keeper(of(stored('x', 3)));
    await third.open();
    expect(third.saver.server()).toBe('saved');
    expect((await new Drafts().find('d')).drafts.map((d) => d.writer)).not.toContain('gone');
    third.close();
  });
});

describe('the tab that sends goes in the middle of a save', () => {
  it('and the other asks again as it was, then sends what stands; nothing is left behind', async () => {
    const b = browser();
    const requests: SaveRequest[] = [];
    let answers = false;
    const save = (_id: string, r: SaveRequest): Observable<SaveAnswer> => {
      requests.push(r);
      return answers ? of({ revision: 3 + requests.length, savedAt: '' }) : new Subject();
    };
    const tab = () => {
      const api = {
        read: () => of<StoredDesign>({ id: 'd', revision: 3, savedAt: '', may: 'own', design: named('start') }),
        save,
      } as unknown as ApiService;
      let shown = '';
      const k = new Keeper({ api, id: 'd', changed: (d) => (shown = d.name), surroundings: b });
      return { k, shown: () => shown };
    };
    const [first, second] = [tab(), tab()];
    await first.k.open();
    await second.k.open();
    first.k.edited(named('edit one'));
    await vi.waitFor(() => expect(requests).toHaveLength(1), { timeout: 3000 });
    first.k.edited(named('edit two'));
    await vi.waitFor(() => expect(second.shown()).toBe('edit two'));
    await first.k.saver.settledHere();
    first.k.close();
    answers = true;
    await vi.waitFor(() => expect(second.k.saver.server()).toBe('saved'), { timeout: 5000 });
    expect(requests.map((r) => [r.design.name, r.base])).toEqual([
      ['edit one', 3],
      ['edit one', 3],
      ['edit two', 5],
    ]);
    expect(requests[1].save).toBe(requests[0].save);
    await vi.waitFor(async () => expect((await new Drafts().find('d')).drafts).toEqual([]));
    second.k.close();
  });
});

describe('what the page says of keeping', () => {
  it('promises only what is so', () => {
    expect(stateText('saved', 'clean', false)).toEqual({ text: 'Saved', tone: 'good' });
    for (const server of ['waiting', 'saving', 'away', 'followed'] as const) {
      expect(stateText(server, 'writing', false).text).not.toMatch(/Kept on/);
      expect(stateText(server, 'kept', false).text).toMatch(/^Kept on this machine/);
      expect(stateText(server, 'kept', true).text).toMatch(/^Kept nowhere/);
      expect(stateText(server, 'full', false).tone).toBe('bad');
    }
    expect(stateText('refused', 'kept', false, 'too long').text).toBe('Not saved: too long');
    expect(stateText('deleted', 'kept', false).tone).toBe('bad');
  });
});
