import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';

/** What of a mechanism's file cannot be taken over, before its design is made. */
@Component({
  selector: 'uni-untaken-dialog',
  imports: [MatButton, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle],
  template: `
    <h2 mat-dialog-title>{{ data.name }}</h2>
    <mat-dialog-content>
      <p i18n>{{ data.members }} members and {{ data.joints }} joints are taken over. These are not:</p>
      <ul>
        @for (u of data.untaken; track $index) {
          <li>{{ u }}</li>
        }
      </ul>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton type="button" mat-dialog-close>Cancel</button>
      <button i18n matButton="filled" type="button" [mat-dialog-close]="true">Create design</button>
    </mat-dialog-actions>
  `,
  styles: `
    ul {
      margin: 0;
      padding-left: 18px;
      max-height: 50vh;
      overflow: auto;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class UntakenDialog {
  protected readonly data = inject<{ name: string; members: number; joints: number; untaken: readonly string[] }>(MAT_DIALOG_DATA);
}
