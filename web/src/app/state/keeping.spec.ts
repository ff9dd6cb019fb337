import '@angular/compiler';
import { type Observable, Subject, of, throwError } from 'rxjs';
import { describe, expect, it, vi } from 'vitest';
import type { SaveAnswer, SaveRequest, StoredDesign } from '@unirota/contract';
import { type Design } from '@unirota/core/document';
import { type ApiService, ServerTrouble } from './api.service';
import { Drafts } from './drafts';
import { Keeper } from './keeper';
import { stateText } from './state-text';
import { Tabs } from './tabs';

import { draft, named, ownStorage, away, browser, settle } from './drafts.testing';

ownStorage();

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
