import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatFormField, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { PassphraseField } from '../../ui/passphrase-field';
import { SessionService } from '../../state/session.service';

/** Name and passphrase. */
@Component({
  selector: 'uni-sign-in-form',
  imports: [ReactiveFormsModule, MatButton, MatFormField, MatInput, MatLabel, PassphraseField],
  template: `
    <form [formGroup]="form" (ngSubmit)="send()">
      <mat-form-field appearance="outline" subscriptSizing="dynamic">
        <mat-label i18n>Sign-in name</mat-label>
        <input matInput formControlName="login" autocomplete="username" maxlength="120" required />
      </mat-form-field>
      <uni-passphrase-field [control]="form.controls.passphrase" />
      @if (trouble(); as t) {
        <p class="trouble" role="alert">{{ t }}</p>
      }
      <button i18n matButton="filled" type="submit" [disabled]="busy()">Sign in</button>
    </form>
    @if (session.issuers().length) {
      <p class="issuers">
        @for (i of session.issuers(); track i.id) {
          <a i18n matButton="outlined" [href]="i.address">Sign in with {{ i.name }}</a>
        }
      </p>
    }
  `,
  styleUrl: './session.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignInForm {
  protected readonly session = inject(SessionService);
  readonly done = output<void>();
  protected readonly trouble = signal('');
  protected readonly busy = signal(false);
  protected readonly form = new FormGroup({
    login: new FormControl('', { nonNullable: true, validators: Validators.required }),
    passphrase: new FormControl('', { nonNullable: true, validators: Validators.required }),
  });

  protected send(): void {
    const { login, passphrase } = this.form.getRawValue();
    if (!login.trim() || !passphrase) return this.trouble.set($localize`State name and passphrase`);
    this.busy.set(true);
    this.session.signIn(login.trim(), passphrase).subscribe({
      next: () => this.done.emit(),
      error: (e: Error) => {
        this.busy.set(false);
        this.trouble.set(e.message);
        this.form.controls.passphrase.reset();
      },
    });
  }
}
