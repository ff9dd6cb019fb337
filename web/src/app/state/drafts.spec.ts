import '@angular/compiler';
import { of } from 'rxjs';
import { describe, expect, it, vi } from 'vitest';
import { type Design } from '@unirota/core/document';
import { type Draft, Drafts } from './drafts';
import { Saver } from './saver';

import { draft, named, ownStorage } from './drafts.testing';

ownStorage();

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
