import { fileURLToPath } from 'node:url';
import { deflateSync } from 'node:zlib';
import { Piscina } from 'piscina';
import { Refusal } from '../http/problem';
import type * as tasks from './tasks';

type Tasks = typeof tasks;
type Name = 'check' | 'textOf' | 'renamed' | 'sketched' | 'shipped' | 'scriptOf' | 'deckOf' | 'answerOf';

/** How long the end waits for a thread that comes up, ms. */
const LONGEST_BEGINNING = 5000;

/** Threads that look into documents, so that the thread which answers never does. */
export class Jobs {
  private readonly pool: Piscina;
  /** Kept when a thread has worked for the first time, or cannot. */
  private readonly begun: Promise<unknown>;

  constructor(workers = 2) {
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
    // Better to say so at once than to answer when nobody waits any more.
    if (this.pool.queueSize > 400) {
      throw new Refusal(503, 'The server has more to check than it can just now; nothing is lost, try again', { retryAfter: 2 });
    }
    return (await this.pool.run(argument, { name, transferList: transfer })) as Awaited<ReturnType<Tasks[N]>>;
  }

  get waiting(): number {
    return this.pool.queueSize;
  }

  /** Ends the threads; one that is still coming up is let come up first, because to be ended in the middle of that can take the process with it. */
  async end(): Promise<void> {
    await Promise.race([this.begun, new Promise((r) => setTimeout(r, LONGEST_BEGINNING).unref())]);
    await this.pool.destroy();
  }
}
