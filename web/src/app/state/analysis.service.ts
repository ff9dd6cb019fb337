import { ErrorHandler, Injectable, Injector, type OnDestroy, type Signal, computed, effect, inject, untracked } from '@angular/core';
import type { RunResult, ShaftEnvelope, Snapshot, Sweep, WantedResult } from '@unirota/core';
import type { Design, Id, KeptRun } from '@unirota/core/document';
import type { LogCurve, LogRead } from '@unirota/core/formats';
import type { AnalysisApi, WayQuestion } from '../engine/analysis.worker';
import { lastOwner } from '../engine/owner';
import { WorkerClient } from '../engine/worker-client';
import { type Answer, Latest } from '../engine/latest';
import { HeldContents } from './held-contents.service';

export type Analysed = Answer<Design, Snapshot>;

export interface EnvelopeQuestion {
  readonly design: Design;
  readonly kept: KeptRun;
  readonly result: RunResult;
  readonly member: Id;
}

/**
 * The engine in a worker: analyses every state of the design, and sweeps it and judges
 * its load cases where that is looked at. The page's thread does nothing of it.
 */
@Injectable()
export class AnalysisService implements OnDestroy {
  private readonly injector = inject(Injector);
  private readonly errors = inject(ErrorHandler);
  private readonly contents = inject(HeldContents);
  private readonly worker = new WorkerClient<AnalysisApi>(
    () => new Worker(new URL('../engine/analysis.worker', import.meta.url), { type: 'module', name: lastOwner() }),
  );

  /** What was last worked out of a design that changes (none while it is undefined); it carries the state that it is of. */
  of(design: Signal<Design | undefined>, injector = this.injector): Signal<Analysed | undefined> {
    const asked = computed(() => ({ design: design(), contents: this.contents.arrived() }));
    const answer = this.follow(asked, async (q) => q.design && this.worker.call((api) => api.analyse(q.design!)), injector);
    return computed(() => {
      const a = answer();
      return a?.of.design && a.is && { of: a.of.design, is: a.is };
    });
  }
  /** The way of a source from stop to stop, for as long as the one who asks is there. */
  sweepOf(way: Signal<WayQuestion>, injector: Injector): Signal<Answer<WayQuestion, Sweep | undefined> | undefined> {
    return this.follow(way, (q) => this.worker.call((api) => api.sweep(q)), injector);
  }
  /** The wanted outputs as stated, and in every load case. */
  casesOf(design: Signal<Design | undefined>, injector: Injector): Signal<Answer<Design, WantedResult[][]> | undefined> {
    return this.follow(design, (d) => this.worker.call((api) => api.cases(d)), injector);
  }

  /** The largest along a shaft over a run; the newest question alone is answered. */
  envelopeOf(
    question: Signal<EnvelopeQuestion | undefined>,
    injector: Injector,
  ): Signal<Answer<EnvelopeQuestion, ShaftEnvelope | undefined> | undefined> {
    return this.follow(question, (q) => this.worker.call((api) => api.envelope(q.design, q.kept, q.result, q.member)), injector);
  }

  /** The log of an instrument; and its curve in as many points as can be edited. */
  readLog(text: string): Promise<LogRead> {
    return this.worker.call<LogRead>(async (api) => api.readLog(text));
  }
  thinned(curve: LogCurve, most: number): Promise<{ at: number[]; off: number }> {
    return this.worker.call((api) => api.thinned(curve, most));
  }

  private follow<Q extends object, A>(
    design: Signal<Q | undefined>,
    solve: (d: Q) => Promise<A>,
    injector: Injector,
  ): Signal<Answer<Q, A> | undefined> {
    const latest = new Latest(solve, (e) => this.failed(e));
    effect(
      () => {
        const d = design();
        if (d) untracked(() => latest.ask(d));
      },
      { injector },
    );
    return latest.answer;
  }

  private left = false;
  /** The engine does not throw on what the schema lets through, but a worker may break: people are told. */
  private failed(e: unknown): void {
    if (!this.left) this.errors.handleError(e);
  }

  ngOnDestroy(): void {
    this.left = true;
    this.worker.close();
  }
}
