import { Injectable, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { type Cure, type Snapshot, broughtAbout, curesOf } from '@unirota/core';
import type { Design, Finding } from '@unirota/core/document';
import { AnalysisService } from './analysis.service';
import { FixService } from './fixes.service';
import { DesignService } from './design.service';
import { MotionService } from './motion.service';

/** What the engine's worker says of the design: the last snapshot, its findings, and fixes of them. */
@Injectable()
export class FindingsService {
  private readonly doc = inject(DesignService);
  private readonly motion = inject(MotionService);
  private readonly cures = inject(FixService, { optional: true });
  private readonly analysed = inject(AnalysisService).of(computed(() => (this.doc.opened() ? this.doc.mechanism() : undefined)));
  /** What has been made of the design: of its last state but one until the last is worked out; nothing while the first is. */
  readonly snapshot = computed<Snapshot | undefined>(() => this.analysed()?.is);
  /** The snapshot is of the design as it stands. */
  readonly current = computed(() => this.analysed()?.of === this.doc.mechanism());
  readonly findings = computed<readonly Finding[]>(() => this.snapshot()?.findings ?? []);

  /** What was found before the last edit, and the state that this made. */
  private readonly since = signal<{ had: readonly Finding[]; made: Design } | undefined>(undefined);
  /** Effects of the last edit, until the next one. */
  readonly consequences = computed<readonly Finding[]>(() => {
    const since = this.since();
    return since && this.current() && since.made === this.doc.design() ? broughtAbout(since.had, this.findings()) : [];
  });

  /** Ways out of a finding that have been tried in the worker and cure it; none until it has. */
  readonly curesOf = computed(() => {
    const offer = curesOf(this.doc.design(), this.motion.worked().compiled);
    const proven = this.cures?.proven() ?? [];
    const findings = this.findings();
    return (f: Finding): Cure[] => {
      const labels = proven[findings.indexOf(f)];
      return labels?.length ? offer(f).filter((c) => labels.includes(c.label)) : [];
    };
  });
  /** True where bringing the train to its working distances and phases would help. */
  readonly canFit = computed(() =>
    this.findings().some((f) => f.severity !== 'note' && f.cures?.some((way) => way === 'working-distance' || way === 'phase')),
  );

  constructor() {
    let had: readonly Finding[] = [];
    this.doc.before.pipe(takeUntilDestroyed()).subscribe(() => (had = this.findings()));
    this.doc.edited.pipe(takeUntilDestroyed()).subscribe(({ design, back }) => this.since.set(back ? undefined : { had, made: design }));
  }
}
