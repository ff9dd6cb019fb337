import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import type { NamedItem } from '@unirota/core';
import type { Deletion } from '../state/commands.service';

const SHOWN = 12;

/** What goes with what is deleted, and what is left loose, before it is done. Closes with true where it shall be. */
@Component({
  selector: 'uni-delete-dialog',
  imports: [MatButton, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle],
  template: `
    <h2 matDialogTitle>{{ title }}</h2>
    <mat-dialog-content>
      @for (part of parts; track part.heading) {
        <h3>{{ part.heading }}</h3>
        <ul>
          @for (line of part.lines; track $index) {
            <li>{{ line }}</li>
          }
        </ul>
      }
    </mat-dialog-content>
    <mat-dialog-actions>
      <button i18n matButton type="button" matDialogClose>Cancel</button>
      <button i18n matButton="filled" type="button" [matDialogClose]="true">Delete</button>
    </mat-dialog-actions>
  `,
  styles: `
    h3 {
      margin: 8px 0 2px;
      font-size: 14px;
    }
    ul {
      margin: 0;
      padding-left: 18px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DeleteDialog {
  private readonly asked = inject<Deletion>(MAT_DIALOG_DATA);
  protected readonly title: string;
  protected readonly parts: { heading: string; lines: string[] }[];

  constructor() {
    const { name, effects } = this.asked;
    const { along, loose, losing } = effects;
    const n = along.length;
    this.title = n ? $localize`Delete ${name} and ${n === 1 ? $localize`the item` : `the ${n} items`} attached?` : $localize`Delete ${name}?`;
    const lines = (items: readonly NamedItem[]): string[] => [
      ...items.slice(0, SHOWN).map((x) => `${x.name} (${x.word})`),
      ...(items.length > SHOWN ? [`and ${items.length - SHOWN} more`] : []),
    ];
    this.parts = [
      { heading: $localize`Deleted with it`, lines: lines(along) },
      { heading: $localize`Left without a joint`, lines: lines(loose) },
      { heading: $localize`Stays, but refers to something deleted`, lines: lines(losing) },
    ].filter((p) => p.lines.length);
  }
}
