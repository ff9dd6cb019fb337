import { Injectable, type OnDestroy, computed, effect, inject, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { proxy } from 'comlink';
import { type Compiled, type Quantity, RUN_DEFAULTS, compileRun, coordinatesAt, quantities, startsOf, withRun, withRunChanged } from '@unirota/core';
import { type Design, type Id, type KeptRun, MECHANICS_LISTS, type RunEnd, same } from '@unirota/core/document';
import { lastOwner } from '../engine/owner';
import { WorkerClient } from '../engine/worker-client';
import type { RunAnswer, RunApi } from '../engine/run.worker';
import { RunCache } from './run-cache';
import { DesignService } from './design.service';
import { MotionService } from './motion.service';
import { Pace } from './pace';

/** A run as it was computed: how, of which state of the design, and what came of it. */
export interface ShownRun extends RunAnswer {
  readonly key: Id;
  readonly kept: KeptRun;
  readonly design: Design;
  readonly compiled: Compiled;
  readonly quantities: readonly Quantity[];
  /** The coordinates at the instant that is looked at. */
  readonly q: Float64Array;
}

/** What an instrument has written down, in a unit in which quantities are kept. */
export interface Measured {
  readonly label: string;
  readonly unit: string;
  readonly xs: Float64Array;
  readonly ys: Float64Array;
}

/** The run that is not kept (yet). */
export const PASSING = '';
/** Results that are held at once; the oldest that is not looked at goes first. */
const MOST_HELD = 8;

/** What a run is computed from, of a design. */
const stateOf = (d: Design): unknown[] => [...MECHANICS_LISTS.map((k) => d[k]), d.settings?.gravity, d.cases];
const sameState = (a: Design, b: Design): boolean => {
  const [x, y] = [stateOf(a), stateOf(b)];
  return x.every((v, i) => v === y[i] || same(v, y[i]));
};
const named = ({ until, duration, frames, letGo, case: c, starts, recorded }: KeptRun): object => ({
  until: until ?? 'time',
  duration,
  frames,
  letGo: !!letGo,
  case: c,
  starts,
  recorded,
});

/**
 * Runs in time: computed in a worker with progress and an end at any moment, kept
 * with the design under names, laid over each other; one is shown, at one instant.
 */
@Injectable()
export class RunService implements OnDestroy {
  private readonly doc = inject(DesignService);
  private readonly motion = inject(MotionService);
  private readonly cache = new RunCache();
  /** Share done of the run that is being computed. */
  readonly progress = signal<number | undefined>(undefined);
  readonly trouble = signal('');
  /** The instant that is looked at, s; none while the train is under the hand. */
  readonly at = signal<number | undefined>(undefined);
  /** The run that is open: one that is kept, or the passing one. */
  readonly open = signal<Id>(PASSING);
  readonly until = signal<RunEnd>('time');
  /** Runs laid over the one that is shown. */
  readonly over = signal<ReadonlySet<Id>>(new Set());
  /** Curves of instruments, over the time of the runs. */
  readonly measured = signal<readonly Measured[]>([]);
  private readonly results = signal<ReadonlyMap<Id, ShownRun>>(new Map());
  readonly kept = computed(() => this.doc.design().runs ?? []);

  /** How the open run is to be computed. */
  readonly definition = computed<KeptRun>(() => this.kept().find((r) => r.id === this.open()) ?? this.passing());
  private readonly passing = computed<KeptRun>(() => {
    const { settings } = this.doc.design();
    return {
      id: PASSING,
      name: '',
      until: this.until(),
      duration: settings?.duration ?? RUN_DEFAULTS.duration,
      frames: settings?.frames ?? RUN_DEFAULTS.frames,
      case: this.doc.loadCase(),
    };
  });
  readonly shown = computed(() => this.results().get(this.open()));
  /** How long the run that is shown lasts, s. */
  readonly lasts = computed(() => {
    const r = this.shown()?.result;
    return r ? r.time[r.frames - 1] || 1e-9 : 1;
  });
  /** The design, or how the run is computed, has changed since. */
  readonly stale = computed(() => {
    const run = this.shown();
    return run !== undefined && this.changedSince(run, this.definition());
  });
  /** What is laid over, as far as it is computed. */
  readonly laidOver = computed(() => [...this.over()].filter((k) => k !== this.open()).flatMap((k) => this.results().get(k) ?? []));
  private readonly worker = new WorkerClient<RunApi>(
    () => new Worker(new URL('../engine/run.worker', import.meta.url), { type: 'module', name: lastOwner() }),
  );

  constructor() {
    this.motion.taken.pipe(takeUntilDestroyed()).subscribe(() => this.at.set(undefined));
    // Another design: nothing of the one before stays.
    effect(() => {
      this.doc.id();
      untracked(() => {
        this.results.set(new Map());
        this.over.set(new Set());
        this.open.set(PASSING);
        this.measured.set([]);
        this.trouble.set('');
        this.at.set(undefined);
      });
    });
    effect(() => {
      const ids = new Set([PASSING, ...this.kept().map((r) => r.id)]);
      untracked(() => {
        if (!ids.has(this.open())) this.show(PASSING);
        if ([...this.over()].some((k) => !ids.has(k))) this.over.update((s) => new Set([...s].filter((k) => ids.has(k))));
      });
    });
  }

  /** Every result at hand that is of the design as it stands. */
  readonly atHand = computed(() =>
    [...this.results().values()].filter((r) => {
      const now = r.key === PASSING ? this.passing() : this.kept().find((k) => k.id === r.key);
      return now !== undefined && !this.changedSince(r, now);
    }),
  );
  /** Computes every kept run that is not, one after the other. */
  async computeAll(): Promise<void> {
    for (const run of this.kept()) {
      if (this.stateOf(run) === 'computed') continue;
      if (!(await this.fetch(run)) || this.stateOf(run) !== 'computed') await this.computeKept(run.id);
    }
  }

  /** What a run of the list is: computed, changed since, or not computed. */
  stateOf(run: KeptRun): 'computed' | 'changed since' | 'not computed' {
    const r = this.results().get(run.id);
    return !r ? 'not computed' : this.changedSince(r, run) ? 'changed since' : 'computed';
  }
  private changedSince(run: ShownRun, now: KeptRun): boolean {
    const [a, b] = [named(run.kept), named(now)];
    // The passing run begins wherever the hand had the train, led or let go as asked.
    const alike = run.key === PASSING ? same({ ...a, starts: 0, letGo: 0 }, { ...b, starts: 0, letGo: 0 }) : same(a, b);
    return !alike || (run.design !== this.doc.design() && !sameState(run.design, this.doc.design()));
  }

  /** Makes the worker ready before it is needed. */
  prepare(): void {
    // Where it breaks already, the run that is asked for will say so.
    void this.worker.call((api) => api.warm(this.doc.design())).catch(() => undefined);
  }

  /** Computes the passing run from where the train stands, led or let go. */
  run(letGo: boolean): Promise<void> {
    if (this.progress() !== undefined) return Promise.resolve();
    if (this.at() !== undefined) this.leave();
    const starts = this.startsHere();
    this.show(PASSING);
    return this.compute({ ...this.definition(), starts, letGo });
  }

  /** Where the train stands; nothing where that is its home. */
  startsHere(): KeptRun['starts'] {
    const { pose, home } = this.motion.worked();
    return pose.q.every((x, i) => Math.abs(x - home[i]) < 1e-9) ? undefined : startsOf(pose);
  }

  /** Computes a kept run. */
  async computeKept(id: Id): Promise<void> {
    const run = this.kept().find((r) => r.id === id);
    if (run && this.progress() === undefined) await this.compute(run);
  }

  private async compute(run: KeptRun): Promise<void> {
    const design = this.doc.design();
    this.trouble.set('');
    this.progress.set(0);
    const own = run.id === this.open();
    try {
      const answer = await this.worker.call((api) =>
        api.run(
          design,
          run,
          // What comes after the result says nothing any more; and the train moves along with the run that is looked at alone.
          proxy((x: number, q: Float64Array) => {
            if (this.progress() === undefined) return;
            this.progress.set(x);
            if (own && design === this.doc.design() && q.length === this.motion.worked().pose.q.length) this.motion.showAt(q);
          }),
        ),
      );
      this.take(run, design, answer);
      // One that a person ended is kept for as long as it is looked at.
      if (run.id !== PASSING && answer.whole) void this.cache.put(keyOf(design, run), answer);
    } catch (e) {
      this.trouble.set($localize`The run was not computed: ${(e as Error).message}`);
      if (own) this.leave();
    } finally {
      this.progress.set(undefined);
    }
  }

  private take(run: KeptRun, design: Design, answer: RunAnswer): void {
    const compiled = compileRun(design, run);
    const shown: ShownRun = {
      ...answer,
      key: run.id,
      kept: run,
      design,
      compiled,
      quantities: quantities(compiled, answer.result),
      q: new Float64Array(answer.result.coordinates),
    };
    this.results.update((m) => {
      const next = new Map(m);
      next.delete(run.id);
      next.set(run.id, shown);
      for (const k of next.keys()) if (next.size > MOST_HELD && k !== this.open() && !this.over().has(k)) next.delete(k);
      return next;
    });
    if (run.id === this.open()) this.go(0);
  }

  /** Opens a run; one that is kept comes from this browser where it was computed before. */
  show(id: Id): void {
    if (id === this.open()) return;
    const run = this.opened(id);
    if (run) void this.fetch(run).then((there) => there && this.open() === id && this.go(0));
  }
  /** Opens a kept run at an instant, s; computes it where it has to be. */
  async openAt(id: Id, time: number): Promise<void> {
    const run = this.opened(id);
    if (!run) return;
    await this.have(run);
    if (this.open() === id) this.go(time);
  }
  private opened(id: Id): KeptRun | undefined {
    if (this.at() !== undefined) this.leave();
    this.open.set(id);
    return this.kept().find((r) => r.id === id);
  }
  /** Lays a run over the one that is shown, or takes it away; computes it where it has to be. */
  async layOver(id: Id, on: boolean): Promise<void> {
    this.over.update((s) => new Set(on ? [...s, id] : [...s].filter((k) => k !== id)));
    const run = this.kept().find((r) => r.id === id);
    if (on && run) await this.have(run);
  }
  /** Computes a kept run where what came of it is not here, or not of now. */
  private async have(run: KeptRun): Promise<void> {
    if (!(await this.fetch(run)) || this.stateOf(run) !== 'computed') await this.computeKept(run.id);
  }
  private async fetch(run: KeptRun): Promise<boolean> {
    if (this.results().has(run.id)) return true;
    const design = this.doc.design();
    const answer = await this.cache.get(keyOf(design, run));
    if (!answer || this.results().has(run.id) || design !== this.doc.design()) return this.results().has(run.id);
    this.take(run, design, answer);
    return true;
  }

  /** Keeps the passing run with the design, as it was computed. */
  keep(name: string): string | undefined {
    const shown = this.results().get(PASSING);
    if (!shown) return undefined;
    const { id: _, ...kept } = shown.kept;
    let id = '';
    const trouble = this.doc.edit($localize`Save run “${name}”`, (d) => {
      const made = withRun(d, { ...kept, name, letGo: kept.letGo || undefined });
      id = made.id;
      return made.design;
    });
    if (trouble) return trouble;
    const run = this.kept().find((r) => r.id === id)!;
    this.results.update((m) => new Map(m).set(id, { ...shown, key: id, kept: run, design: this.doc.design() }));
    const { result, said, moved, whole } = shown;
    if (whole) void this.cache.put(keyOf(this.doc.design(), run), { result, said, moved, whole });
    const at = this.at();
    this.open.set(id);
    if (at !== undefined) this.go(at);
    return undefined;
  }
  /**
   * Keeps what a drive did of the run that is shown, deg or mm by s,
   * as a run of its own, and lays it over. Gives what was in the way.
   */
  async keepRecorded(name: string, recorded: KeptRun['recorded'], duration: number): Promise<string | undefined> {
    const shown = this.shown();
    if (!shown) return undefined;
    const { id: _, ...kept } = shown.kept;
    let id = '';
    const trouble = this.doc.edit($localize`Save run “${name}”`, (d) => {
      const made = withRun(d, { ...kept, name, until: undefined, letGo: undefined, duration, recorded });
      id = made.id;
      return made.design;
    });
    if (!trouble) await this.layOver(id, true);
    return trouble;
  }
  change(id: Id, what: string, changes: Partial<KeptRun>): string | undefined {
    return this.doc.edit(what, (d) => withRunChanged(d, id, changes));
  }

  /** Ends the run; the frames so far are kept. */
  endHere(): void {
    if (this.progress() !== undefined) void this.worker.call((api) => api.end());
  }

  /** Puts the train where it is at an instant, s. */
  go(time: number): void {
    const run = this.shown();
    if (!run || this.stale()) return;
    const { result } = run;
    const t = Math.max(result.time[0], Math.min(result.time[result.frames - 1], time));
    coordinatesAt(result, t, run.q);
    this.motion.showAt(run.q);
    this.at.set(t);
    this.pace.touch();
  }
  /** The instant as tables and arrows follow it: a few times a second, as they cannot be read faster. */
  readonly reading = signal(0);
  private readonly pace = new Pace(() => this.reading.set(this.at() ?? 0));

  /** Back to where the hand has the train. */
  leave(): void {
    this.at.set(undefined);
    this.motion.hand().back();
    this.motion.showAt(undefined);
  }

  /** The worker goes with the design's page. */
  ngOnDestroy(): void {
    this.pace.end();
    this.worker.close();
  }
}

/** What a result was computed from, as a text. */
const keyOf = (design: Design, run: KeptRun): string => JSON.stringify([stateOf(design), named(run)]);
