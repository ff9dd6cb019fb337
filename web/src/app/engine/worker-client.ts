import { type Remote, wrap } from 'comlink';

/**
 * A worker that is made when it is first needed. What it was asked
 * fails when it breaks, or is let go; the next question has a new one.
 */
export class WorkerClient<Api> {
  private held?: { worker: Worker; remote: Remote<Api>; gone: Promise<never>; go(e: Error): void };

  constructor(private readonly make: () => Worker) {}

  async call<T>(job: (api: Remote<Api>) => Promise<T>): Promise<T> {
    const { remote, gone } = (this.held ??= this.start());
    return Promise.race([job(remote), gone]);
  }

  /** Lets the worker go; with why, for those who wait. */
  close(why = 'the work was left off'): void {
    this.terminate(new Error(why));
  }

  private start(): NonNullable<WorkerClient<Api>['held']> {
    const worker = this.make();
    let go!: (e: Error) => void;
    const gone = new Promise<never>((_, no) => (go = no));
    // Nobody need be waiting.
    gone.catch(() => undefined);
    worker.addEventListener('error', (e) => this.held?.worker === worker && this.terminate(new Error(e.message)));
    return { worker, remote: wrap<Api>(worker), gone, go };
  }

  private terminate(why: Error): void {
    const { held } = this;
    this.held = undefined;
    held?.worker.terminate();
    held?.go(why);
  }
}
