import '@angular/compiler';
import { Observable, Subject } from 'rxjs';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { SaveAnswer, SaveRequest } from '@unirota/contract';
import { emptyDesign } from '@unirota/core/design';
import { ServerTrouble, type ApiService } from './api.service';
import { drafts } from './drafts';
import { Saver } from './saver';

/** A server that answers when the test says so, and a browser's storage. */
class FakeServer {
  readonly requests: { request: SaveRequest; answer: Subject<SaveAnswer> }[] = [];
  save(_id: string, request: SaveRequest): Observable<SaveAnswer> {
    const answer = new Subject<SaveAnswer>();
    this.requests.push({ request, answer });
    return answer;
  }
  confirm(revision: number): void {
    const { answer } = this.requests.at(-1)!;
    answer.next({ revision, savedAt: 'now' });
    answer.complete();
  }
  fail(status: number, problem?: unknown): void {
    this.requests.at(-1)!.answer.error(new ServerTrouble('no', status, problem as never));
  }
}

let server: FakeServer, saver: Saver;
const kept = new Map<string, string>();

beforeEach(() => {
  vi.useFakeTimers();
  kept.clear();
  vi.stubGlobal('localStorage', {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => void kept.set(k, v),
    removeItem: (k: string) => void kept.delete(k),
  });
  vi.stubGlobal('addEventListener', () => undefined);
  vi.stubGlobal('removeEventListener', () => undefined);
  server = new FakeServer();
  saver = new Saver(server as unknown as ApiService, 'd', 3);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('saving', () => {
  it('keeps an edit in the browser at once, sends it after a moment of quiet, and lets go when the server has confirmed', () => {
    saver.take(emptyDesign('one'));
    expect(drafts.read('d')).toMatchObject({ base: 3, design: { name: 'one' } });
    expect(server.requests).toHaveLength(0);
    vi.advanceTimersByTime(1000);
    expect(server.requests).toHaveLength(1);
    expect(server.requests[0].request).toMatchObject({ base: 3, design: { name: 'one' } });
    expect(saver.state()).toBe('saving');
    server.confirm(4);
    expect(saver.state()).toBe('saved');
    expect(drafts.read('d')).toBeUndefined();
  });

  it('sends only the last of several quick edits', () => {
    for (const name of ['a', 'b', 'c']) {
      saver.take(emptyDesign(name));
      vi.advanceTimersByTime(200);
    }
    vi.advanceTimersByTime(1000);
    expect(server.requests.map((r) => r.request.design.name)).toEqual(['c']);
  });

  it('sends an edit made while another was on its way, from the revision that came back', () => {
    saver.take(emptyDesign('one'));
    vi.advanceTimersByTime(1000);
    saver.take(emptyDesign('two'));
    server.confirm(4);
    expect(drafts.read('d')).toMatchObject({ base: 4, design: { name: 'two' } });
    vi.advanceTimersByTime(1000);
    expect(server.requests[1].request).toMatchObject({ base: 4, design: { name: 'two' } });
    server.confirm(5);
    expect(saver.state()).toBe('saved');
  });

  it('says that work is kept here while the server is away, and tries again with the same save id', () => {
    saver.take(emptyDesign('one'));
    vi.advanceTimersByTime(1000);
    server.fail(0);
    expect(saver.state()).toBe('kept-here');
    vi.advanceTimersByTime(20_000);
    expect(server.requests).toHaveLength(2);
    expect(server.requests[1].request.save).toBe(server.requests[0].request.save);
    server.confirm(4);
    expect(saver.state()).toBe('saved');
  });

  it('stops at a conflict until a person decides, and then goes on from the other revision', () => {
    saver.take(emptyDesign('mine'));
    vi.advanceTimersByTime(1000);
    server.fail(409, { current: { id: 'd', revision: 7, savedAt: '', design: emptyDesign('theirs') } });
    expect(saver.state()).toBe('conflict');
    saver.take(emptyDesign('mine, more'));
    vi.advanceTimersByTime(60_000);
    expect(server.requests).toHaveLength(1);
    expect(drafts.read('d')!.design.name).toBe('mine, more');
    saver.settle('mine', emptyDesign('mine, more'));
    vi.advanceTimersByTime(1000);
    expect(server.requests[1].request).toMatchObject({ base: 7, design: { name: 'mine, more' } });
  });

  it('gives way to the other version when told so', () => {
    saver.take(emptyDesign('mine'));
    vi.advanceTimersByTime(1000);
    server.fail(409, { current: { id: 'd', revision: 7, savedAt: '', design: emptyDesign('theirs') } });
    expect(saver.settle('theirs', emptyDesign('mine')).name).toBe('theirs');
    expect(drafts.read('d')).toBeUndefined();
    vi.advanceTimersByTime(60_000);
    expect(server.requests).toHaveLength(1);
  });

  it('does not try for ever what the server refuses, and says why', () => {
    saver.take(emptyDesign('bad'));
    vi.advanceTimersByTime(1000);
    server.fail(422, { problems: [{ path: 'name', message: 'Name is missing' }] });
    vi.advanceTimersByTime(60_000);
    expect(server.requests).toHaveLength(1);
    expect(saver.state()).toBe('refused');
    expect(saver.trouble()).toContain('Name is missing');
  });

  it('takes up a draft of an earlier visit under its own save id', () => {
    saver.resume(emptyDesign('earlier'), 2, '11111111-1111-4111-8111-111111111111');
    vi.advanceTimersByTime(10);
    expect(server.requests[0].request).toMatchObject({ base: 2, save: '11111111-1111-4111-8111-111111111111' });
  });

  it('says when the browser keeps nothing', () => {
    vi.stubGlobal('localStorage', {
      getItem: () => null,
      setItem: () => {
        throw new Error('full');
      },
      removeItem: () => undefined,
    });
    saver.take(emptyDesign('x'));
    expect(saver.state()).toBe('not-kept');
  });
});
