import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { DatePipe } from '@angular/common';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogContent, MatDialogRef, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import { catchError, forkJoin, of } from 'rxjs';
import { type Design, type Difference, compareDesigns, mergeDesigns } from '@unirota/core/document';
import type { StoredDesign } from '@unirota/contract';
import { ApiService } from '../../state/api.service';
import { downloadJson } from '../../state/downloads';
import type { Saver } from '../../state/saver';

export interface ConflictChoice {
  design: Design;
  theirs: StoredDesign;
}

const SHOWN = 12;

/** Two versions grew from one: both are kept, and a person says what goes on. */
@Component({
  selector: 'uni-conflict-dialog',
  imports: [DatePipe, MatButton, MatDialogActions, MatDialogContent, MatDialogTitle, MatProgressBar],
  template: `
    <h2 i18n matDialogTitle>Saved elsewhere meanwhile</h2>
    <mat-dialog-content>
      @if (saver.conflict(); as c) {
        <p i18n>
          {{ c.current.person ?? 'Somebody' }} saved revision {{ c.current.revision }} at {{ c.current.savedAt | date: 'HH:mm, d MMM' }} while you
          worked from revision {{ c.base }}.
          @if (c.aside) {
            <strong>Your version is kept as revision {{ c.aside }}, beside it.</strong>
          } @else if (c.trouble) {
            <span class="trouble" role="alert"
              >Your version cannot be stored beside it: {{ c.trouble }}. Download it before you choose the other.</span
            >
          } @else {
            <span role="status">Your version is being stored beside it …</span>
          }
        </p>
      }
      @if (trouble(); as t) {
        <p class="trouble" role="alert">{{ t }} <button i18n matButton type="button" (click)="load()">Try again</button></p>
      } @else if (!theirs()) {
        <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Reading the other version" />
      } @else {
        <div class="two">
          <section>
            <h3 i18n>You changed</h3>
            <ul i18n-aria-label tabindex="0" aria-label="What you changed">
              @for (d of said(mine()); track $index) {
                <li>{{ d }}</li>
              } @empty {
                <li i18n>nothing</li>
              }
            </ul>
          </section>
          <section>
            <h3 i18n>The other changed</h3>
            <ul i18n-aria-label tabindex="0" aria-label="What the other changed">
              @for (d of said(others()); track $index) {
                <li>{{ d }}</li>
              } @empty {
                <li i18n>nothing</li>
              }
            </ul>
          </section>
        </div>
        @if (merged(); as m) {
          @if (m.clashes.length) {
            <p i18n>They cannot be joined: {{ m.clashes.join('; ') }}.</p>
          } @else {
            <p i18n>The two touch different things and can be joined.</p>
          }
        }
      }
    </mat-dialog-content>
    <mat-dialog-actions>
      <button i18n matButton type="button" (click)="download()">Download mine</button>
      <button i18n matButton="outlined" type="button" [disabled]="!ready()" (click)="choose('theirs')">Use theirs</button>
      <button i18n matButton="outlined" type="button" [disabled]="!ready()" (click)="choose('mine')">Keep mine</button>
      <button i18n matButton="filled" type="button" [disabled]="!ready() || !joinable()" (click)="choose('both')">Merge</button>
    </mat-dialog-actions>
  `,
  styles: `
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 18px;
    }
    ul {
      margin: 4px 0 10px;
      padding-left: 18px;
      max-height: 220px;
      overflow: auto;
    }
    p {
      margin: 0 0 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConflictDialog {
  private readonly api = inject(ApiService);
  private readonly ref = inject<MatDialogRef<ConflictDialog, ConflictChoice>>(MatDialogRef);
  protected readonly data = inject<{ id: string; saver: Saver; design: () => Design }>(MAT_DIALOG_DATA);
  protected readonly saver = this.data.saver;
  protected readonly trouble = signal('');
  protected readonly theirs = signal<StoredDesign | undefined>(undefined);
  private readonly base = signal<Design | undefined>(undefined);
  protected readonly mine = computed(() => compare(this.base(), this.data.design()));
  protected readonly others = computed(() => compare(this.base(), this.theirs()?.design));
  protected readonly merged = computed(() => {
    const [b, t] = [this.base(), this.theirs()];
    return b && t && mergeDesigns(b, this.data.design(), t.design);
  });
  protected readonly joinable = computed(() => this.merged()?.clashes.length === 0);
  /** Nobody chooses before both are safe, or it is said that one cannot be. */
  protected readonly ready = computed(() => !!this.theirs() && (this.saver.conflict()?.aside ?? this.saver.conflict()?.trouble) !== undefined);

  constructor() {
    this.load();
  }

  protected load(): void {
    const c = this.saver.conflict();
    if (!c) return;
    this.trouble.set('');
    forkJoin({
      theirs: this.api.read(this.data.id),
      // What both started from may be gone; then they cannot be joined, only chosen from.
      base: this.api.revision(this.data.id, c.base).pipe(catchError(() => of(undefined))),
    }).subscribe({
      next: ({ theirs, base }) => {
        this.base.set(base?.design);
        this.theirs.set(theirs);
      },
      error: (e: Error) => this.trouble.set(e.message),
    });
  }

  protected said(differences: readonly Difference[]): string[] {
    const lines = differences.map((d) => (d.change === 'changed' ? `${d.what}. ${d.detail}` : `${d.what} ${d.change}`));
    return lines.length > SHOWN ? [...lines.slice(0, SHOWN), `and ${lines.length - SHOWN} more`] : lines;
  }

  protected choose(which: 'mine' | 'theirs' | 'both'): void {
    const theirs = this.theirs()!;
    const design = which === 'theirs' ? theirs.design : which === 'mine' ? this.data.design() : this.merged()!.design;
    this.ref.close({ design, theirs });
  }

  protected download(): void {
    downloadJson(this.data.design(), this.data.design().name);
  }
}

const compare = (base: Design | undefined, now: Design | undefined): Difference[] => (base && now ? compareDesigns(base, now) : []);
