import { Injectable, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { debounceTime } from 'rxjs';
import { type Rating, type RatingFix, type RatingLine, canBeRated, withRatingFix } from '@unirota/core';
import type { Design } from '@unirota/core/document';
import { Latest } from '../engine/latest';
import { wasEnded } from '../engine/worker-client';
import { DesignService } from './design.service';
import { PapersService } from './papers.service';
import { ViewService } from './view.service';

/** After an edit it is waited this long for the next one, ms. */
const REST = 250;

/** What teeth, shafts and bearings of the open design bear, in all load cases: worked out in a worker after each edit. */
@Injectable()
export class RatingService {
  private readonly doc = inject(DesignService);
  private readonly papers = inject(PapersService);
  private readonly view = inject(ViewService);
  private readonly asked = computed(() => {
    const design = this.doc.design();
    return this.doc.opened() && (this.view.step() === 'rating' || canBeRated(design)) ? design : undefined;
  });
  /** A rating is made of the design as it stands. */
  readonly asks = computed(() => this.asked() !== undefined);
  readonly trouble = signal('');
  /** A rating takes a second with its runs: of designs that wait, only the newest is rated. */
  private readonly made = new Latest<Design, Rating>(
    (design) => this.papers.rating(design),
    (e) => !wasEnded(e) && this.trouble.set((e as Error).message),
  );
  /** The last one; of the state before while the next is worked out. */
  readonly rating = computed(() => (this.asked() ? this.made.answer()?.is : undefined));
  readonly current = computed(() => this.made.answer()?.of === this.doc.design());
  readonly failed = computed(() => this.rating()?.lines.filter((l) => l.reserve < 1).length ?? 0);

  constructor() {
    toObservable(this.asked)
      .pipe(debounceTime(REST), takeUntilDestroyed())
      .subscribe((design) => {
        this.trouble.set('');
        if (design) this.made.ask(design);
      });
  }

  /** Changes that would have a line bear what is wanted; tried one by one in the worker. */
  async fixes(line: RatingLine): Promise<RatingFix[]> {
    return line.bearing !== undefined ? [] : this.papers.ratingFixes(this.doc.design(), line.item);
  }
  /** Smaller sizes of a mesh with which it still bears what is wanted, and shifts that make its roots alike. */
  sizes({ item }: RatingLine): Promise<RatingFix[]> {
    return this.papers.ratingSizes(this.doc.design(), item);
  }
  apply(fix: RatingFix): void {
    const trouble = this.doc.edit(fix.label, (d) => withRatingFix(d, fix));
    this.doc.said.set(trouble ?? $localize`Done: ${fix.label}`);
  }
}
