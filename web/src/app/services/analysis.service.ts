import { Injectable, Injector, type OnDestroy, type Signal, effect, inject, untracked } from '@angular/core';
import { type Remote, wrap } from 'comlink';
import type { RunResult, ShaftEnvelope, Snapshot, Sweep, WantedResult } from '@unirota/core';
import type { Design, Id, KeptRun } from '@unirota/core/document';
import type { AnalysisApi } from '../workers/analysis.worker';
import { type Answer, Latest } from './latest';

export type Analysed = Answer<Design, Snapshot>;

export interface EnvelopeQuestion {
  readonly design: Design;
  readonly kept: KeptRun;
  readonly result: RunResult;
  readonly member: Id;
}

/** The engine in a worker: analyses every state of the design, and sweeps it and judges its load cases where that is looked at. The page's thread does nothing of it. */
@Injectable()
export class AnalysisService implements OnDestroy {
  private readonly injector = inject(Injector);
  private worker?: Worker;
  private remote?: Remote<AnalysisApi>;
  /** What was last worked out of a design that changes (none while it is undefined); it carries the state that it is of. */
  of(design: Signal<Design | undefined>, injector = this.injector): Signal<Analysed | undefined> {
    return this.follow(design, (d) => this.api().analyse(d), injector);
  }
  /** The way of its source from stop to stop, for as long as the one who asks is there. */
  sweepOf(design: Signal<Design | undefined>, injector: Injector): Signal<Answer<Design, Sweep | undefined> | undefined> {
    return this.follow(design, (d) => this.api().sweep(d), injector);
  }
  /** The wanted outputs as stated, and in every load case. */
  casesOf(design: Signal<Design | undefined>, injector: Injector): Signal<Answer<Design, WantedResult[][]> | undefined> {
    return this.follow(design, (d) => this.api().cases(d), injector);
  }

  /** The largest along a shaft over a run; the newest question alone is answered. */
  envelopeOf(
    question: Signal<EnvelopeQuestion | undefined>,
    injector: Injector,
  ): Signal<Answer<EnvelopeQuestion, ShaftEnvelope | undefined> | undefined> {
    return this.follow(question, (q) => this.api().envelope(q.design, q.kept, q.result, q.member), injector);
  }

  private follow<Q extends object, A>(
    design: Signal<Q | undefined>,
    solve: (d: Q) => Promise<A>,
    injector: Injector,
  ): Signal<Answer<Q, A> | undefined> {
    const latest = new Latest(solve, failed);
    effect(
      () => {
        const d = design();
        if (d) untracked(() => latest.ask(d));
      },
      { injector },
    );
    return latest.answer;
  }

  private api(): Remote<AnalysisApi> {
    this.worker ??= new Worker(new URL('../workers/analysis.worker', import.meta.url), { type: 'module' });
    return (this.remote ??= wrap<AnalysisApi>(this.worker));
  }

  ngOnDestroy(): void {
    this.worker?.terminate();
  }
}

/** The engine does not throw on what the schema lets through; should it, people are told. */
function failed(e: unknown): void {
  queueMicrotask(() => {
    throw e;
  });
}
