import { ErrorHandler, Injectable, inject, signal } from '@angular/core';
import type { Design, Finding } from '@unirota/core/document';
import type { ChecksApi } from '../engine/checks.worker';
import { lastOwner } from '../engine/owner';
import { WorkerClient } from '../engine/worker-client';

/**
 * Which fixes of the findings of a design have been tried and
 * found to cure: worked out in a worker, the last design's alone.
 */
@Injectable({ providedIn: 'root' })
export class FixService {
  /** Per finding, in order, the labels of its fixes; nothing until they are there. */
  readonly proven = signal<readonly (readonly string[])[]>([]);
  private readonly errors = inject(ErrorHandler);
  private readonly worker = new WorkerClient<ChecksApi>(
    () => new Worker(new URL('../engine/checks.worker', import.meta.url), { type: 'module', name: lastOwner() }),
  );

  /** Tries the fixes of a design's findings; what is still being tried for an older state is not waited for. */
  async ask(design: Design, findings: readonly Finding[]): Promise<void> {
    this.worker.close(OLDER);
    this.proven.set([]);
    if (!findings.some((f) => f.cures?.length)) return;
    try {
      this.proven.set(await this.worker.call((api) => api.proven(design, [...findings])));
    } catch (e) {
      if ((e as Error).message !== OLDER) this.errors.handleError(e);
      return;
    }
    this.worker.close();
  }
}
const OLDER = 'of an older state';
