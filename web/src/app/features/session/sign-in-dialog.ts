import { ChangeDetectionStrategy, Component, type Injector, inject } from '@angular/core';
import type { Observable } from 'rxjs';
import { MatDialog, MatDialogContent, MatDialogRef, MatDialogTitle } from '@angular/material/dialog';
import { SignInForm } from './sign-in-form';

/** Asked over the work, where a session has ended meanwhile. */
@Component({
  selector: 'uni-sign-in-dialog',
  imports: [MatDialogTitle, MatDialogContent, SignInForm],
  template: `
    <h2 i18n matDialogTitle>Sign in again</h2>
    <mat-dialog-content>
      <p i18n>Your session has ended. Your work is kept on this machine and goes on when you are back.</p>
      <uni-sign-in-form (done)="dialog.close(true)" />
    </mat-dialog-content>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignInDialog {
  protected readonly dialog = inject<MatDialogRef<SignInDialog, boolean>>(MatDialogRef);
}

export const openSignIn = (injector: Injector): Observable<boolean | undefined> =>
  injector.get(MatDialog).open<SignInDialog, unknown, boolean>(SignInDialog, { disableClose: true, width: '380px' }).afterClosed();
