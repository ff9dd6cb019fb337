import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import { CHAPTERS, CHAPTER_KEYS, type ChapterKey } from '@unirota/core';
import type { Paper } from '@unirota/core/pdf';
import { remember, remembered } from '../../engine/browser-memory';
import { DesignService } from '../../state/design.service';
import { downloadFile } from '../../state/downloads';
import { PapersService } from '../../state/papers.service';
import { Choice } from '../../ui/choice';

/** How large it opens. */
export const REPORT_DIALOG = { width: '560px', maxWidth: '96vw' } as const;
/** Where this browser keeps which chapters were left out last, and the paper. */
const LEFT_OUT = 'unirota.report.without';
const PAPER = 'unirota.report.paper';

/** The report: which chapters it has, on which paper; downloaded as PDF, or opened to be printed. */
@Component({
  selector: 'uni-report-dialog',
  imports: [Choice, MatButton, MatCheckbox, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle, MatProgressBar],
  template: `
    <h2 i18n mat-dialog-title>Report</h2>
    <mat-dialog-content>
      <p i18n class="soft">
        The present design, in its units, with contents and bookmarks. Runs are computed again; forces are those of the home position in every load
        case.
      </p>
      <fieldset>
        <legend i18n>Chapters</legend>
        @for (c of chapters; track c.key) {
          <mat-checkbox [checked]="chosen().has(c.key)" (change)="choose(c.key, $event.checked)">{{ c.title }}</mat-checkbox>
        }
      </fieldset>
      <div class="row">
        <button i18n matButton type="button" [disabled]="chosen().size === chapters.length" (click)="all()">Choose all</button>
        <button i18n matButton type="button" [disabled]="!chosen().size" (click)="none()">Clear</button>
        <span i18n id="r-paper">Paper</span>
        <uni-choice i18n-label labelledBy="r-paper" label="Paper" [options]="papers" [value]="paper()" (picked)="pickPaper($event)" />
      </div>
      @if (!chosen().size) {
        <p i18n class="caution">▲ Choose at least one chapter.</p>
      }
      @if (service.making()) {
        <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Making the report" />
      }
      <p role="status">{{ said() }}</p>
      @if (service.trouble()) {
        <p role="alert" class="caution">▲ {{ service.trouble() }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (service.making()) {
        <button i18n matButton type="button" (click)="service.end()">Stop</button>
      } @else {
        <button i18n matButton type="button" mat-dialog-close>Close</button>
      }
      <button i18n matButton="outlined" type="button" [disabled]="!ready()" (click)="print()">Open to print</button>
      <button i18n matButton="filled" type="button" class="main" [disabled]="!ready()" (click)="download()">Download PDF</button>
    </mat-dialog-actions>
  `,
  styles: `
    fieldset {
      border: 1px solid var(--rule);
      margin: 6px 0;
      padding: 4px 10px 8px;
      display: grid;
      grid-template-columns: 1fr 1fr;
      column-gap: 12px;
    }
    legend {
      padding: 0 4px;
      color: var(--ink-soft);
    }
    .row {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    .row span {
      margin-left: auto;
    }
    .row uni-choice {
      width: 110px;
    }
    p {
      margin: 4px 0;
    }
    .soft {
      color: var(--ink-soft);
    }
    .caution {
      color: var(--caution);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReportDialog {
  private readonly doc = inject(DesignService);
  constructor() {
    // Whoever closes it wants no report any more.
    inject(DestroyRef).onDestroy(() => this.service.end());
  }
  protected readonly service = inject(PapersService);
  protected readonly chapters = CHAPTERS.map(([key, title]) => ({ key, title }));
  protected readonly chosen = signal<ReadonlySet<ChapterKey>>(
    new Set(CHAPTER_KEYS.filter((k) => !(remembered(LEFT_OUT) ?? '').split(' ').includes(k))),
  );
  protected readonly papers: readonly { value: Paper; label: string }[] = [
    { value: 'A4', label: 'A4' },
    { value: 'letter', label: $localize`Letter` },
  ];
  protected readonly paper = signal<Paper>(remembered(PAPER) === 'letter' ? 'letter' : 'A4');
  protected readonly said = signal('');
  protected readonly ready = computed(() => this.chosen().size > 0 && !this.service.making());

  protected choose(key: ChapterKey, on: boolean): void {
    const next = new Set(this.chosen());
    if (on) next.add(key);
    else next.delete(key);
    this.take(next);
  }
  protected all(): void {
    this.take(new Set(CHAPTER_KEYS));
  }
  protected none(): void {
    this.take(new Set());
  }
  private take(chosen: ReadonlySet<ChapterKey>): void {
    this.chosen.set(chosen);
    remember(LEFT_OUT, CHAPTER_KEYS.filter((k) => !chosen.has(k)).join(' '));
  }
  protected pickPaper(value: string | number): void {
    this.paper.set(value === 'letter' ? 'letter' : 'A4');
    remember(PAPER, this.paper());
  }

  private make(): Promise<Blob | undefined> {
    this.said.set('');
    return this.service.report(
      CHAPTER_KEYS.filter((k) => this.chosen().has(k)),
      this.paper(),
    );
  }
  protected async download(): Promise<void> {
    const pdf = await this.make();
    if (!pdf) return;
    downloadFile(pdf, `${this.doc.design().name} report`, 'pdf');
    this.said.set($localize`The report is downloaded.`);
  }
  /** A window must be opened while the press lasts; the report comes into it when it is made. */
  protected async print(): Promise<void> {
    const tab = window.open('', '_blank');
    const pdf = await this.make();
    if (!pdf) return void tab?.close();
    if (!tab || tab.closed) {
      downloadFile(pdf, `${this.doc.design().name} report`, 'pdf');
      this.said.set($localize`The browser opens no window here: the report is downloaded.`);
      return;
    }
    const url = URL.createObjectURL(pdf);
    tab.location.href = url;
    this.said.set($localize`The report is open in a window of its own: print it there.`);
    // The window has taken it by then.
    setTimeout(() => URL.revokeObjectURL(url), 60_000);
  }
}
