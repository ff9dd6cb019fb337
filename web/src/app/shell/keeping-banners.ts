import { ChangeDetectionStrategy, Component, computed, effect, inject, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MatButton } from '@angular/material/button';
import { downloadJson } from '../state/downloads';
import { KeepingDialogs } from './keeping-dialogs';
import { DesignService } from '../state/design.service';
import { AutosaveService } from '../state/autosave.service';

/** What there is to say about how the design is kept, with fixes: nothing is lost while one of these stands. */
@Component({
  selector: 'uni-keeping-banners',
  imports: [MatButton, RouterLink],
  template: `
    @if (autosave.saver()?.conflict(); as c) {
      <p i18n class="banner bad" role="alert">
        Saved elsewhere as revision {{ c.current.revision }} while you worked.
        {{
          c.aside
            ? 'Yours is kept as revision ' + c.aside + ', beside it.'
            : c.trouble
              ? 'Yours cannot be stored beside it: ' + c.trouble
              : 'Yours is being stored beside it …'
        }}
        <button matButton="filled" type="button" (click)="dialogs.conflict()">Choose</button>
        <button matButton type="button" (click)="download()">Download mine</button>
      </p>
    }
    @switch (autosave.saver()?.server()) {
      @case ('deleted') {
        <p i18n class="banner bad" role="alert">
          This design was deleted elsewhere. Your work is still here.
          <button matButton="filled" type="button" (click)="autosave.bringBack()">Restore</button>
          <button matButton="outlined" type="button" (click)="asNew()">Save as a new design</button>
          <button matButton type="button" (click)="download()">Download it</button>
        </p>
      }
      @case ('refused') {
        <p i18n class="banner bad" role="alert">
          The server does not take this state: {{ autosave.saver()!.trouble() }}. Change what it names, or take your work with you.
          <button matButton="outlined" type="button" (click)="asNew()">Save as a new design</button>
          <button matButton type="button" (click)="download()">Download it</button>
        </p>
      }
    }
    @if (unkept()) {
      <p i18n class="banner bad" role="alert">
        This browser keeps nothing on this machine ({{ autosave.keeper()?.blocked() ? 'storage is blocked' : 'storage is full' }}): your work is safe
        only when it says “Saved”.
        <button matButton type="button" (click)="download()">Download it</button>
      </p>
    }
    @for (d of autosave.damaged(); track d.writer) {
      <p i18n class="banner bad" role="alert">
        Work kept on this machine cannot be read: {{ d.problems[0].message }}.
        <button matButton type="button" (click)="downloadRaw(d.record)">Download it as it is</button>
        <button matButton type="button" (click)="autosave.forget(d.writer)">Discard draft</button>
      </p>
    }
    @switch (doc.readOnly()) {
      @case ('shared') {
        <p i18n class="banner calm" role="status">
          You may look at this design, not edit it.
          <button matButton="outlined" type="button" (click)="asNew()">Duplicate it</button>
        </p>
      }
      @case ('revision') {
        <p i18n class="banner calm" role="status">
          This is revision {{ doc.revision() }}, as it was.
          <button matButton="filled" type="button" (click)="bringBackRevision()">Restore</button>
          <button matButton="outlined" type="button" (click)="asNew()">Save as a new design</button>
          <a matButton [routerLink]="['/design', doc.id()]">Latest</a>
        </p>
      }
    }
  `,
  styles: `
    :host {
      grid-area: keeping;
    }
    .banner {
      margin: 0;
      padding: 3px 12px;
      display: flex;
      flex-wrap: wrap;
      gap: 8px;
      align-items: center;
      background: var(--oxide-fill);
      border-bottom: 1px solid var(--oxide);
    }
    .banner.calm {
      background: var(--brass-fill);
      border-color: var(--brass-line);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class KeepingBanners {
  private readonly router = inject(Router);
  protected readonly doc = inject(DesignService);
  protected readonly autosave = inject(AutosaveService);
  protected readonly dialogs = inject(KeepingDialogs);
  /** Storage that is full or blocked is said for as long as it is. */
  protected readonly unkept = computed(() => !!this.autosave.keeper()?.blocked() || this.autosave.saver()?.here() === 'full');

  constructor() {
    // A person is asked as soon as there is something to choose.
    effect(() => {
      if (this.autosave.saver()?.conflict()) untracked(() => void this.dialogs.conflict());
    });
  }

  protected download(): void {
    downloadJson(this.doc.design(), this.doc.design().name);
  }
  protected downloadRaw(record: unknown): void {
    downloadJson(record as object, `${this.doc.design().name} kept`);
  }
  protected asNew(): void {
    this.autosave.saveAsNew().subscribe({
      next: (id) => void this.router.navigate(['/design', id]),
      error: (e: Error) => this.doc.said.set(e.message),
    });
  }
  protected bringBackRevision(): void {
    this.autosave.bringBackRevision().subscribe({
      next: () => void this.router.navigate(['/design', this.doc.id()]),
      error: (e: Error) => this.doc.said.set(e.message),
    });
  }
}
