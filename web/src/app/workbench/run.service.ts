import { Injectable, type OnDestroy, computed, inject, signal } from '@angular/core';
import { type Remote, proxy, wrap } from 'comlink';
import { type Compiled, type Quantity, type RunResult, compile, coordinatesAt, quantities } from '@unirota/core';
import type { Design } from '@unirota/core/document';
import { WorkbenchStore } from './workbench.store';
import type { RunApi } from '../workers/run.worker';

/** A run as it was computed: of which state of the design, and what came of it. */
export interface ShownRun {
  readonly design: Design;
  readonly compiled: Compiled;
  readonly result: RunResult;
  readonly letGo: boolean;
  readonly quantities: readonly Quantity[];
  /** The coordinates at the instant that is looked at. */
  readonly q: Float64Array;
}

/** Runs in time, computed in a worker: progress, an end at any moment with the frames that are there, and the one that is shown. */
@Injectable()
export class RunService implements OnDestroy {
  private readonly store = inject(WorkbenchStore);
  /** Share done of the run that is being computed. */
  readonly progress = signal<number | undefined>(undefined);
  readonly shown = signal<ShownRun | undefined>(undefined);
  readonly trouble = signal('');
  /** The instant that is looked at, s; none while the train is under the hand. */
  readonly at = signal<number | undefined>(undefined);
  /** The design has changed since the run that is shown. */
  readonly stale = computed(() => {
    const run = this.shown();
    return run !== undefined && run.design !== this.store.shownDesign();
  });
  private worker?: Worker;
  private remote?: Remote<RunApi>;

  async run(request: { duration: number; frames: number; letGo: boolean }): Promise<void> {
    if (this.progress() !== undefined) return;
    const design = this.store.shownDesign();
    this.trouble.set('');
    this.progress.set(0);
    const worker = (this.worker ??= new Worker(new URL('../workers/run.worker', import.meta.url), { type: 'module' }));
    const remote = (this.remote ??= wrap<RunApi>(worker));
    try {
      const from = Float64Array.from(this.store.worked().pose.q);
      const result = await remote.run(
        design,
        { ...request, from },
        // What comes after the result says nothing any more.
        proxy((x: number) => this.progress.update((now) => (now === undefined ? undefined : x))),
      );
      const compiled = compile(request.letGo ? { ...design, sources: [] } : design);
      this.shown.set({
        design,
        compiled,
        result,
        letGo: request.letGo,
        quantities: quantities(compiled, result),
        q: new Float64Array(result.coordinates),
      });
      this.go(0);
    } catch (e) {
      this.trouble.set(`The run was not computed: ${(e as Error).message}`);
      this.close();
    } finally {
      this.progress.set(undefined);
    }
  }

  /** Ends the run; the frames so far are kept. */
  end(): void {
    void this.remote?.end();
  }

  /** Puts the train where it is at an instant, s. */
  go(time: number): void {
    const run = this.shown();
    if (!run || this.stale()) return;
    const { result } = run;
    const t = Math.max(result.time[0], Math.min(result.time[result.frames - 1], time));
    coordinatesAt(result, t, run.q);
    this.store.showAt(run.q);
    this.at.set(t);
  }
  /** Back to where the hand has the train. */
  leave(): void {
    this.at.set(undefined);
    this.store.hand().back();
    this.store.showAt(undefined);
  }

  /** The worker goes with the design's page. */
  ngOnDestroy(): void {
    this.close();
  }

  close(): void {
    this.worker?.terminate();
    this.worker = undefined;
    this.remote = undefined;
  }
}
