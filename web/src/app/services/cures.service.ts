import { Injectable, signal } from '@angular/core';
import { type Remote, wrap } from 'comlink';
import type { Design, Finding } from '@unirota/core/document';
import type { ChecksApi } from '../workers/checks.worker';

/** Which ways out of the findings of a design have been tried and found to cure: worked out in a worker, the last design's alone. */
@Injectable({ providedIn: 'root' })
export class CureService {
  /** Per finding, in order, the labels of its ways out; nothing until they are there. */
  readonly proven = signal<readonly (readonly string[])[]>([]);
  private worker?: Worker;
  private api?: Remote<ChecksApi>;
  private asked = 0;

  /** Tries the ways out of a design's findings; an answer for a design that has changed since is thrown away. */
  async ask(design: Design, findings: readonly Finding[]): Promise<void> {
    const round = ++this.asked;
    this.proven.set([]);
    if (!findings.some((f) => f.cures?.length)) return;
    // What is still being tried for an older state is not waited for.
    if (this.worker) this.end();
    this.worker = new Worker(new URL('../workers/checks.worker', import.meta.url), { type: 'module' });
    this.api = wrap<ChecksApi>(this.worker);
    const labels = await this.api.proven(design, [...findings]);
    if (round !== this.asked) return;
    this.proven.set(labels);
    this.end();
  }

  private end(): void {
    this.worker?.terminate();
    this.worker = undefined;
    this.api = undefined;
  }
}
