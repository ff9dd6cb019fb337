import { type Remote, wrap } from 'comlink';

const ENDED = 'ended by the person';
/** Whether work failed because it was ended. */
export const wasEnded = (e: unknown): boolean => (e as Error).message === ENDED;

/**
 * A worker that is made when it is first needed. What it was asked
 * fails when it breaks, or is let go; the next question has a new one.
 */
export class WorkerClient<Api> {
  private held?: { worker: Worker; remote: Remote<Api> };
  /** Who waits for an answer. No promise that lives as long as the worker: all answers would stay with it. */
  private readonly waiting = new Set<(why: Error) => void>();

  constructor(private readonly make: () => Worker) {}

  async call<T>(job: (api: Remote<Api>) => Promise<T>): Promise<T> {
    const answer = job((this.held ??= this.start()).remote);
    return new Promise((yes, no) => {
      this.waiting.add(no);
      void answer.then(yes, no).finally(() => this.waiting.delete(no));
    });
  }

  /** Lets the worker go; with why, for those who wait. */
  close(why = 'the work was left off'): void {
    this.terminate(new Error(why));
  }

  /** As `call`; undefined where the work was ended meanwhile. */
  async attempt<T>(job: (api: Remote<Api>) => Promise<T>): Promise<T | undefined> {
    try {
      return await this.call(job);
    } catch (e) {
      if (wasEnded(e)) return undefined;
      throw e;
    }
  }
  /** Ends the work: a person wants no more of it, or whoever asked is gone. */
  end(): void {
    this.close(ENDED);
  }

  private start(): NonNullable<WorkerClient<Api>['held']> {
    const worker = this.make();
    worker.addEventListener('error', (e) => this.held?.worker === worker && this.terminate(new Error(e.message)));
    return { worker, remote: wrap<Api>(worker) };
  }

  private terminate(why: Error): void {
    const { held } = this;
    this.held = undefined;
    held?.worker.terminate();
    for (const fail of this.waiting) fail(why);
    this.waiting.clear();
  }
}
