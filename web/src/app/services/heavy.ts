import { Injectable, signal } from '@angular/core';
import { Remote, proxy, wrap } from 'comlink';
import type { ChecksApi } from '../workers/checks.worker';

/** Long work in a worker: with progress, and an end whenever a person wants one. One job at a time; a new one ends the old. */
@Injectable({ providedIn: 'root' })
export class Heavy {
  /** Share done of the job at hand, or undefined while none is. */
  readonly progress = signal<number | undefined>(undefined);
  readonly what = signal('');
  private worker?: Worker;
  private refuse?: (e: Error) => void;

  /** Runs a job. Gives undefined where it was ended. */
  async run<T>(what: string, job: (api: Remote<ChecksApi>, report: (done: number) => void) => Promise<T>): Promise<T | undefined> {
    this.cancel();
    const worker = new Worker(new URL('../workers/checks.worker', import.meta.url), { type: 'module' });
    this.worker = worker;
    this.what.set(what);
    this.progress.set(0);
    const ended = new Promise<never>((_, no) => {
      this.refuse = no;
      worker.addEventListener('error', (e) => no(new Error(e.message)));
    });
    try {
      return await Promise.race([
        job(
          wrap<ChecksApi>(worker),
          proxy((x: number) => this.worker === worker && this.progress.set(x)),
        ),
        ended,
      ]);
    } catch (e) {
      if ((e as Error).message === ENDED) return undefined;
      throw e;
    } finally {
      worker.terminate();
      if (this.worker === worker) {
        this.worker = undefined;
        this.progress.set(undefined);
      }
    }
  }

  cancel(): void {
    this.refuse?.(new Error(ENDED));
    this.worker?.terminate();
    this.worker = undefined;
    this.progress.set(undefined);
  }
}
const ENDED = 'ended by the person';
