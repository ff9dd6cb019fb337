import { Injectable, signal } from '@angular/core';
import { type Remote, proxy } from 'comlink';
import type { ChecksApi } from './checks.worker';
import { lastOwner } from './owner';
import { WorkerClient } from './worker-client';

/** Long work in a worker: with progress, and an end whenever a person wants one. One job at a time; a new one ends the old. */
@Injectable({ providedIn: 'root' })
export class LongWork {
  /** Share done of the job at hand, or undefined while none is. */
  readonly progress = signal<number | undefined>(undefined);
  readonly what = signal('');
  private readonly worker = new WorkerClient<ChecksApi>(
    () => new Worker(new URL('./checks.worker', import.meta.url), { type: 'module', name: lastOwner() }),
  );
  private jobs = 0;

  /** Runs a job. Gives undefined where it was ended. */
  async run<T>(what: string, job: (api: Remote<ChecksApi>, report: (done: number) => void) => Promise<T>): Promise<T | undefined> {
    this.cancel();
    const mine = ++this.jobs;
    this.what.set(what);
    this.progress.set(0);
    try {
      return await this.worker.attempt((api) =>
        job(
          api,
          proxy((x: number) => this.jobs === mine && this.progress.set(x)),
        ),
      );
    } finally {
      if (this.jobs === mine) this.cancel();
    }
  }

  cancel(): void {
    this.jobs++;
    this.worker.end();
    this.progress.set(undefined);
  }
}
