import { AsyncLocalStorage } from 'node:async_hooks';
import { fileURLToPath } from 'node:url';
import { deflateSync } from 'node:zlib';
import { Piscina } from 'piscina';
import { FairQueue } from '../fair-queue';
import { Refusal } from '../refusal';
import type * as tasks from './tasks';

type Tasks = typeof tasks;
type Name = 'check' | 'textOf' | 'renamed' | 'sketched' | 'shipped' | 'scriptOf' | 'deckOf' | 'answerOf' | 'shapeProblem' | 'releaseIn' | 'faultsIn';

/** How long the end waits for a thread that comes up, ms. */
const LONGEST_BEGINNING = 5000;

/** Who asks, through everything that is done for one request. */
export const asking = new AsyncLocalStorage<string>();

/** Tasks of one person, and of all, that wait at most. */
const MOST_WAITING = { ofOne: 60, ofAll: 400 };

/** What is to be stored: one thread is left to it. */
const SAVES: ReadonlySet<Name> = new Set<Name>(['check', 'shipped']);

interface Waiting {
  name: Name;
  begin(): void;
}

/**
 * Threads that look into documents, so that the thread which answers never does. People take turns: whoever has much to be looked
 * into waits for himself. One thread is left to others whatever one person asks for, and one to saves whatever else is asked for.
 * Of a single thread turns alone are taken.
 */
export class Jobs {
  private readonly pool: Piscina;
  /** Kept when a thread has worked for the first time, or cannot. */
  private readonly begun: Promise<unknown>;
  private readonly queue = new FairQueue<Waiting>();
  private readonly running = new Map<string, number>();
  private busy = 0;
  /** Of these, those that do something else than save. */
  private busyBesides = 0;

  constructor(private readonly workers = 2) {
    this.pool = new Piscina({
      filename: fileURLToPath(new URL('./worker.mjs', import.meta.url)),
      execArgv: [],
      // All from the beginning: a thread that starts under load would take the time that it is meant to give.
      minThreads: workers,
      maxThreads: workers,
      maxQueue: 500,
      resourceLimits: { maxOldGenerationSizeMb: 768 },
    });
    this.begun = this.run('textOf', { body: deflateSync('{}') }).catch(() => undefined);
  }

  async run<N extends Name>(name: N, argument: Parameters<Tasks[N]>[0], transfer: ArrayBuffer[] = []): Promise<Awaited<ReturnType<Tasks[N]>>> {
    const owner = asking.getStore() ?? '';
    // Better to say so at once than to answer when nobody waits any more.
    if (this.queue.sizeOf(owner) >= MOST_WAITING.ofOne) {
      throw new Refusal(429, 'You have more to check than one person can at once; nothing is lost, try again', { retryAfter: 2 });
    }
    if (this.queue.size >= MOST_WAITING.ofAll) {
      throw new Refusal(503, 'The server has more to check than it can just now; nothing is lost, try again', { retryAfter: 2 });
    }
    await new Promise<void>((begin) => {
      this.queue.push(owner, { name, begin });
      this.turn();
    });
    try {
      return (await this.pool.run(argument, { name, transferList: transfer })) as Awaited<ReturnType<Tasks[N]>>;
    } finally {
      this.busy--;
      if (!SAVES.has(name)) this.busyBesides--;
      const left = (this.running.get(owner) ?? 1) - 1;
      if (left) this.running.set(owner, left);
      else this.running.delete(owner);
      this.turn();
    }
  }

  /** Begins what may begin: the first of each person in turn. */
  private turn(): void {
    const most = Math.max(1, this.workers - 1);
    while (this.busy < this.workers) {
      const next = this.queue.take((who, line) => {
        if (who && (this.running.get(who) ?? 0) >= most) return -1;
        return this.busyBesides >= most ? line.findIndex((x) => SAVES.has(x.name)) : 0;
      });
      if (!next) return;
      this.busy++;
      if (!SAVES.has(next.item.name)) this.busyBesides++;
      this.running.set(next.who, (this.running.get(next.who) ?? 0) + 1);
      next.item.begin();
    }
  }

  get waiting(): number {
    return this.queue.size;
  }

  /**
   * Ends the threads; one that is still coming up is let come up first, because to be ended in the middle of that can take the
   * process with it.
   */
  async end(): Promise<void> {
    await Promise.race([this.begun, new Promise((r) => setTimeout(r, LONGEST_BEGINNING).unref())]);
    await this.pool.destroy();
  }
}
