import { AfterViewInit, ChangeDetectionStrategy, Component, ElementRef, computed, inject, signal, viewChild } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogContent, MatDialogRef } from '@angular/material/dialog';
import { MatFormField, MatLabel, MatPrefix } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { Icon } from '../ui/icon';
import { matchScore } from './match';

/** Something that can be found and done: an action, an item of the design, or one of its fields. */
export interface Searchable {
  readonly name: string;
  /** What it is, in a word or two; or the keys that do it. */
  readonly what: string;
  readonly act: () => void;
}

const MOST = 12;

/** Finds every action, item and field by name: typed, chosen by arrow keys, done by Enter. */
@Component({
  selector: 'uni-find-dialog',
  imports: [Icon, MatDialogContent, MatFormField, MatInput, MatLabel, MatPrefix],
  template: `
    <mat-dialog-content>
      <mat-form-field appearance="outline" subscriptSizing="dynamic">
        <mat-label i18n>Find an action, an item or a field</mat-label>
        <uni-icon matPrefix name="search" />
        <input
          #text
          matInput
          type="text"
          autocomplete="off"
          spellcheck="false"
          role="combobox"
          aria-controls="find-list"
          aria-expanded="true"
          [attr.aria-activedescendant]="'find-' + at()"
          [value]="typed()"
          (input)="type($any($event.target).value)"
          (keydown)="key($event)"
        />
      </mat-form-field>
      <ul i18n-aria-label id="find-list" role="listbox" aria-label="Found">
        @for (f of found(); track $index; let k = $index) {
          <li
            role="option"
            tabindex="-1"
            (keydown.enter)="take(k)"
            [id]="'find-' + k"
            [attr.aria-selected]="k === at()"
            (click)="take(k)"
            (pointermove)="at.set(k)"
          >
            <span>{{ f.name }}</span>&ngsp;<span class="soft">{{ f.what }}</span>
          </li>
        } @empty {
          <li i18n class="soft" role="option" aria-selected="false">Nothing here is called that.</li>
        }
      </ul>
    </mat-dialog-content>
  `,
  styles: `
    mat-dialog-content {
      padding: 12px 14px !important;
    }
    mat-form-field {
      width: 100%;
    }
    uni-icon {
      margin: 0 6px 0 10px;
    }
    ul {
      list-style: none;
      margin: 8px 0 0;
      padding: 0;
      min-height: 340px;
    }
    li {
      display: flex;
      justify-content: space-between;
      gap: 12px;
      padding: 4px 8px;
      border-radius: 3px;
      cursor: pointer;
    }
    li[aria-selected='true'] {
      background: var(--brass-fill);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FindDialog implements AfterViewInit {
  private readonly text = viewChild.required<ElementRef<HTMLInputElement>>('text');
  /** At once: what is typed while the dialog still opens is meant for it. */
  ngAfterViewInit(): void {
    const before = this.given.ready();
    if (before) setTimeout(() => this.type(before + this.typed()));
    this.text().nativeElement.focus();
  }
  /** `ready` gives what has been typed for it before it had the caret. */
  private readonly given = inject<{ all: readonly Searchable[]; ready: () => string }>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<FindDialog, Searchable>>(MatDialogRef);
  protected readonly typed = signal('');
  protected readonly at = signal(0);
  protected readonly found = computed(() => {
    const typed = this.typed();
    return this.given.all
      .map((f, order) => ({ f, order, score: matchScore(f.name, typed) }))
      .filter((x) => x.score > 0)
      .sort((a, b) => b.score - a.score || a.order - b.order)
      .slice(0, MOST)
      .map((x) => x.f);
  });
  protected type(text: string): void {
    this.typed.set(text);
    this.at.set(0);
  }
  protected key(e: KeyboardEvent): void {
    const n = this.found().length;
    if (e.key === 'ArrowDown') this.at.update((k) => (k + 1) % Math.max(1, n));
    else if (e.key === 'ArrowUp') this.at.update((k) => (k + n - 1) % Math.max(1, n));
    else if (e.key === 'Enter') this.take(this.at());
    else return;
    e.preventDefault();
  }
  protected take(k: number): void {
    const f = this.found()[k];
    if (f) this.dialog.close(f);
  }
}
