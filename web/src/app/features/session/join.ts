import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { MatButton } from '@angular/material/button';
import { MatError, MatFormField, MatHint, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { LONGEST_PASSPHRASE, SHORTEST_PASSPHRASE } from '@unirota/contract';
import { ApiService, type ServerTrouble } from '../../state/api.service';
import { PassphraseField } from '../../ui/passphrase-field';
import { SessionService } from '../../state/session.service';

/**
 * Takes up an invitation, or sets a new passphrase; the link's
 * secret stands behind `#` and goes to no server but in the request.
 */
@Component({
  selector: 'uni-join',
  imports: [ReactiveFormsModule, MatButton, MatError, MatFormField, MatHint, MatInput, MatLabel, PassphraseField],
  template: `
    <main>
      <h1>{{ anew ? 'Set a new passphrase' : 'Join this server' }}</h1>
      @if (token) {
        <form [formGroup]="form" (ngSubmit)="send()">
          @if (!anew) {
            <mat-form-field appearance="outline" subscriptSizing="dynamic">
              <mat-label i18n>Your name</mat-label>
              <input matInput formControlName="name" autocomplete="name" maxlength="120" />
              <mat-hint i18n>as others see it</mat-hint>
              <mat-error>{{ form.controls.name.getError('server') }}</mat-error>
            </mat-form-field>
            <mat-form-field appearance="outline" subscriptSizing="dynamic">
              <mat-label i18n>Sign-in name</mat-label>
              <input matInput formControlName="login" autocomplete="username" maxlength="120" />
              <mat-hint i18n>without spaces</mat-hint>
              <mat-error>{{ form.controls.login.getError('server') }}</mat-error>
            </mat-form-field>
          }
          <uni-passphrase-field
            [control]="form.controls.passphrase"
            autocomplete="new-password"
            [longest]="longest"
            [hint]="'at least ' + shortest + ' characters; a few words that do not belong together'"
          />
          @if (trouble(); as t) {
            <p class="trouble" role="alert">{{ t }}</p>
          }
          <button matButton="filled" type="submit" [disabled]="busy()">{{ anew ? 'Set it and sign in' : 'Join' }}</button>
        </form>
      } @else {
        <p i18n class="trouble" role="alert">This link is not complete: copy the whole of it, with what stands behind the #.</p>
      }
    </main>
  `,
  styles: `
    main {
      max-width: 420px;
      margin: 10vh auto 0;
      padding: 14px 20px 20px;
      background: var(--sheet);
      border: 1px solid var(--rule);
      border-top: 2px solid var(--ink);
      border-radius: 3px;
    }
    h1 {
      font-size: 20px;
      margin-bottom: 12px;
    }
    form {
      display: grid;
      gap: 14px;
    }
    button {
      justify-self: start;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class JoinPage {
  private readonly api = inject(ApiService);
  private readonly router = inject(Router);
  private readonly session = inject(SessionService);
  private readonly parts = location.hash.slice(1).split('.');
  protected readonly token = /^[A-Za-z0-9_-]{43}$/.test(this.parts[0]) ? this.parts[0] : '';
  protected readonly anew = this.parts[1] === 'anew';
  protected readonly shortest = SHORTEST_PASSPHRASE;
  protected readonly longest = LONGEST_PASSPHRASE;
  protected readonly trouble = signal('');
  protected readonly busy = signal(false);
  protected readonly form = new FormGroup({
    name: new FormControl('', { nonNullable: true }),
    login: new FormControl('', { nonNullable: true }),
    passphrase: new FormControl('', { nonNullable: true }),
  });

  protected send(): void {
    const { name, login, passphrase } = this.form.getRawValue();
    this.busy.set(true);
    this.trouble.set('');
    this.api.join({ token: this.token, passphrase, ...(this.anew ? {} : { name: name.trim(), login: login.trim() }) }).subscribe({
      next: (s) => {
        this.session.session.set(s);
        void this.router.navigateByUrl('/', { replaceUrl: true });
      },
      error: (e: ServerTrouble) => {
        this.busy.set(false);
        let placed = false;
        for (const key of ['name', 'login', 'passphrase'] as const) {
          const message = e.of(key);
          this.form.controls[key].setErrors(message ? { server: message } : null);
          this.form.controls[key].markAsTouched();
          placed ||= !!message;
        }
        if (!placed) this.trouble.set(e.message);
      },
    });
  }
}
