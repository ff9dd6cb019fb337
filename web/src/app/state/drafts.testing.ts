import 'fake-indexeddb/auto';
import { IDBFactory } from 'fake-indexeddb';
import { Subject, of } from 'rxjs';
import { afterEach, beforeEach, vi } from 'vitest';
import type { SaveAnswer, SaveRequest } from '@unirota/contract';
import { type Design, emptyDesign } from '@unirota/core/document';
import { ServerTrouble } from './api.service';
import { type Draft } from './drafts';
import { Saver, type SaverOptions } from './saver';
import { type Channel } from './tabs';

export const named = (name: string, note?: string): Design => ({ ...emptyDesign(name), ...(note ? { note } : {}) });
export const conflictNow = (revision: number): ServerTrouble =>
  new ServerTrouble('Saved elsewhere', 409, { type: '', title: '', status: 409, current: { revision, savedAt: '2026-01-01T00:00:00Z' } });

export const draft = (writer: string, version: number, name = writer): Draft => ({ design: 'd', writer, version, base: 1, document: named(name) });

/** A saver over a server that the test plays, with drafts in memory. */
export function bench(o: Partial<SaverOptions> = {}) {
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
export const pass = (ms = 20_000): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);
export const away = (): ServerTrouble => new ServerTrouble('The server does not answer', 0);

/** Tabs of one browser: channel and locks as browsers have them. */
export function browser() {
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
export const settle = async (): Promise<void> => {
  for (let k = 0; k < 20; k++) await Promise.resolve();
};

/** A browser's storage of its own for each test. */
export function ownStorage(): void {
  beforeEach(() => {
    globalThis.indexedDB = new IDBFactory();
    vi.stubGlobal('addEventListener', () => undefined);
    vi.stubGlobal('removeEventListener', () => undefined);
    vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined, removeItem: () => undefined });
  });
  afterEach(() => void vi.useRealTimers());
}
