import { ErrorHandler, Injectable, inject, signal } from '@angular/core';
import type { Design, Finding } from '@unirota/core/document';
import type { ChecksApi } from '../workers/checks.worker';
import { Hired } from './hired';

/**
 * Which ways out of the findings of a design have been tried and
 * found to cure: worked out in a worker, the last design's alone.
 */
@Injectable({ providedIn: 'root' })
export class CureService {
  /** Per finding, in order, the labels of its ways out; nothing until they are there. */
  readonly proven = signal<readonly (readonly string[])[]>([]);
  private readonly errors = inject(ErrorHandler);
  private readonly hired = new Hired<ChecksApi>(() => new Worker(new URL('../workers/checks.worker', import.meta.url), { type: 'module' }));

  /** Tries the ways out of a design's findings; what is still being tried for an older state is not waited for. */
  async ask(design: Design, findings: readonly Finding[]): Promise<void> {
    this.hired.close(OLDER);
    this.proven.set([]);
    if (!findings.some((f) => f.cures?.length)) return;
    try {
      this.proven.set(await this.hired.call((api) => api.proven(design, [...findings])));
    } catch (e) {
      if ((e as Error).message !== OLDER) this.errors.handleError(e);
      return;
    }
    this.hired.close();
  }
}
const OLDER = 'of an older state';
