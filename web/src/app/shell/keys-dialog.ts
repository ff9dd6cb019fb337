import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';

/** The keys of the workbench, listed. */
@Component({
  selector: 'uni-keys-dialog',
  imports: [MatButton, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle],
  template: `
    <h2 i18n mat-dialog-title>Keys</h2>
    <mat-dialog-content>
      <dl>
        @for (s of shortcuts; track s[0]) {
          <dt>{{ s[0] }}</dt>
          <dd>{{ s[1] }}</dd>
        }
      </dl>
    </mat-dialog-content>
    <mat-dialog-actions><button i18n matButton="outlined" type="button" mat-dialog-close>Close</button></mat-dialog-actions>
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: auto auto;
      gap: 4px 18px;
      margin: 0;
    }
    dt {
      font-weight: 600;
    }
    dd {
      margin: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class KeysDialog {
  protected readonly shortcuts = inject<readonly (readonly [string, string])[]>(MAT_DIALOG_DATA);
}
