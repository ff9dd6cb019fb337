import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { DatePipe } from '@angular/common';
import { Router } from '@angular/router';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogRef, MatDialogTitle } from '@angular/material/dialog';
import { MatFormField, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { MatListItemLine, MatListItemTitle, MatListOption, MatSelectionList } from '@angular/material/list';
import { MatProgressBar } from '@angular/material/progress-bar';
import type { RevisionLine } from '@unirota/contract';
import { type Design, compareDesigns } from '@unirota/core/document';
import type { Sketch } from '@unirota/core';
import { ApiService } from '../../state/api.service';
import { downloadJson } from '../../state/downloads';
import { SketchPicture } from '../../ui/sketch-picture';

export interface HistoryChoice {
  restore: Design;
  number: number;
}
export interface HistoryData {
  id: string;
  /** What stands now. */
  design: Design;
  readOnly: boolean;
}

/** The revisions of a design: look, compare with now in words, name, bring back. */
@Component({
  selector: 'uni-history-dialog',
  imports: [
    DatePipe,
    MatButton,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatFormField,
    MatInput,
    MatLabel,
    MatListItemLine,
    MatListItemTitle,
    MatListOption,
    MatProgressBar,
    MatSelectionList,
    SketchPicture,
  ],
  template: `
    <h2 i18n matDialogTitle>History</h2>
    <mat-dialog-content>
      @if (trouble(); as t) {
        <p class="trouble" role="alert">{{ t }} <button i18n matButton type="button" (click)="load()">Try again</button></p>
      }
      @if (!lines() && !trouble()) {
        <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Reading the history" />
      }
      @if (lines(); as list) {
        <div class="two">
          <mat-selection-list
            i18n-aria-label
            [multiple]="false"
            aria-label="Revisions"
            hideSingleSelectionIndicator
            (selectionChange)="choose($event.options[0].value)"
          >
            @for (r of list; track r.number) {
              <mat-list-option [value]="r.number" [selected]="r.number === chosen()">
                <span matListItemTitle>
                  <span class="number">{{ r.number }}</span> {{ r.savedAt | date: 'd MMM y, HH:mm:ss' }}
                </span>
                @if (r.label || r.person || r.beside || r.released) {
                  <span matListItemLine>
                    @if (r.released) {
                      <strong><ng-container i18n>Released as</ng-container> {{ r.released }}</strong>
                    }
                    <strong>{{ r.label }}</strong> {{ r.person }} {{ r.beside ? 'beside, from a conflict' : '' }}
                  </span>
                }
              </mat-list-option>
            }
          </mat-selection-list>
          <section aria-live="polite">
            @if (line(); as r) {
              <div class="picture"><uni-sketch [sketch]="sketch()" /></div>
              @if (own(); as list) {
                <h3 i18n>Changed in revision {{ r.number }}</h3>
                <ul i18n-aria-label class="own" tabindex="0" aria-label="Changed in this revision">
                  @for (d of list; track $index) {
                    <li>{{ d }}</li>
                  } @empty {
                    <li i18n>no items</li>
                  }
                </ul>
              }
              <h3 i18n>From revision {{ r.number }} to now</h3>
              @if (design()) {
                <ul i18n-aria-label tabindex="0" aria-label="What has changed">
                  @for (d of said(); track $index) {
                    <li>{{ d }}</li>
                  } @empty {
                    <li i18n>nothing has changed</li>
                  }
                </ul>
              } @else {
                <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Reading the revision" />
              }
              @if (!data.readOnly) {
                <mat-form-field appearance="outline" subscriptSizing="dynamic">
                  <mat-label i18n>Name (a named revision is kept for ever)</mat-label>
                  <input matInput maxlength="120" [value]="r.label ?? ''" (change)="label(r, $event)" />
                </mat-form-field>
              }
            } @else {
              <p i18n class="soft">
                Choose a revision to see it and what has changed since. All of the last day are kept, then one an hour for a month, then one a day.
              </p>
            }
          </section>
        </div>
      }
    </mat-dialog-content>
    <mat-dialog-actions>
      <button i18n matButton type="button" [disabled]="!design()" (click)="download()">Download it</button>
      <button i18n matButton="outlined" type="button" [disabled]="!design()" (click)="look()">Look at it</button>
      @if (!data.readOnly) {
        <button i18n matButton="filled" type="button" [disabled]="!design() || !said().length" (click)="restore()">Restore</button>
      }
      <button i18n matButton type="button" matDialogClose>Close</button>
    </mat-dialog-actions>
  `,
  styles: `
    .two {
      display: grid;
      grid-template-columns: 300px 340px;
      gap: 16px;
      height: 440px;
    }
    mat-selection-list {
      overflow: auto;
      border: 1px solid var(--rule);
      padding: 0;
    }
    .number {
      display: inline-block;
      min-width: 30px;
    }
    [matListItemLine] {
      padding-left: 34px;
    }
    section {
      display: flex;
      flex-direction: column;
      gap: 8px;
      min-height: 0;
    }
    .picture {
      height: 170px;
      border: 1px solid var(--rule);
      background: var(--paper);
    }
    ul.own {
      flex: none;
      max-height: 76px;
    }
    ul {
      margin: 0;
      padding-left: 18px;
      overflow: auto;
      flex: 1;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HistoryDialog {
  private readonly api = inject(ApiService);
  private readonly router = inject(Router);
  private readonly ref = inject<MatDialogRef<HistoryDialog, HistoryChoice>>(MatDialogRef);
  protected readonly data = inject<HistoryData>(MAT_DIALOG_DATA);
  protected readonly lines = signal<RevisionLine[] | undefined>(undefined);
  protected readonly trouble = signal('');
  protected readonly chosen = signal<number | undefined>(undefined);
  protected readonly design = signal<Design | undefined>(undefined);
  protected readonly sketch = signal<Sketch | undefined>(undefined);
  protected readonly line = computed(() => this.lines()?.find((r) => r.number === this.chosen()));
  /** The revision that was the newest before the chosen one. */
  private readonly before = signal<Design | undefined>(undefined);
  protected readonly said = computed(() => {
    const d = this.design();
    return d ? changesOf(d, this.data.design) : [];
  });
  /** What the chosen revision itself changed, once both are read. */
  protected readonly own = computed(() => {
    const [b, d] = [this.before(), this.design()];
    return b && d ? changesOf(b, d) : undefined;
  });

  constructor() {
    this.load();
  }

  protected load(): void {
    this.trouble.set('');
    this.api.revisions(this.data.id).subscribe({ next: (l) => this.lines.set(l), error: (e: Error) => this.trouble.set(e.message) });
  }

  protected choose(number: number): void {
    this.chosen.set(number);
    this.design.set(undefined);
    this.before.set(undefined);
    this.sketch.set(undefined);
    const still = (): boolean => this.chosen() === number;
    const failed = (e: Error): void => void (still() && this.trouble.set(e.message));
    this.api.revision(this.data.id, number).subscribe({ next: (s) => still() && this.design.set(s.design), error: failed });
    const before = this.lines()?.find((r) => r.number < number && !r.beside);
    if (before) this.api.revision(this.data.id, before.number).subscribe({ next: (s) => still() && this.before.set(s.design), error: failed });
    this.api.revisionSketch(this.data.id, number).subscribe({ next: (s) => still() && this.sketch.set(s), error: failed });
  }

  protected label(r: RevisionLine, e: Event): void {
    const label = (e.target as HTMLInputElement).value.trim() || null;
    this.api.label(this.data.id, r.number, label).subscribe({
      next: () => this.lines.update((l) => l?.map((x) => (x.number === r.number ? { ...x, label: label ?? undefined } : x))),
      error: (x: Error) => this.trouble.set(x.message),
    });
  }

  protected look(): void {
    const n = this.chosen();
    this.ref.close();
    void this.router.navigate(['/design', this.data.id, 'revision', n]);
  }
  protected restore(): void {
    this.ref.close({ restore: this.design()!, number: this.chosen()! });
  }
  protected download(): void {
    downloadJson(this.design()!, `${this.design()!.name} r${this.chosen()}`);
  }
}

/** What is different between two states, a line each. */
const changesOf = (from: Design, to: Design): string[] =>
  compareDesigns(from, to).map((x) => (x.change === 'changed' ? `${x.what}. ${x.detail}` : `${x.what} ${x.change}`));
