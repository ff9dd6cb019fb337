import { ChangeDetectionStrategy, Component, input, signal } from '@angular/core';
import { type FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatIconButton } from '@angular/material/button';
import { MatError, MatFormField, MatHint, MatLabel, MatSuffix } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { Icon } from './icon';

/** A passphrase, which can be shown while it is typed; what the server has against it stands below. */
@Component({
  selector: 'uni-passphrase-field',
  imports: [ReactiveFormsModule, MatError, MatFormField, MatHint, MatIconButton, MatInput, MatLabel, MatSuffix, Icon],
  template: `
    <mat-form-field appearance="outline" subscriptSizing="dynamic">
      <mat-label>{{ label() }}</mat-label>
      <input matInput [type]="shown() ? 'text' : 'password'" [formControl]="control()" [autocomplete]="autocomplete()" [maxlength]="longest()" />
      <button
        matIconButton
        matSuffix
        type="button"
        (click)="shown.set(!shown())"
        [attr.aria-label]="shown() ? 'Hide what is typed' : 'Show what is typed'"
        [attr.aria-pressed]="shown()"
      >
        <uni-icon name="shown" />
      </button>
      @if (hint(); as h) {
        <mat-hint>{{ h }}</mat-hint>
      }
      <mat-error>{{ control().getError('server') }}</mat-error>
    </mat-form-field>
  `,
  styles: `
    :host,
    mat-form-field {
      display: block;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PassphraseField {
  readonly control = input.required<FormControl<string>>();
  readonly label = input($localize`Passphrase`);
  readonly autocomplete = input<'current-password' | 'new-password'>('current-password');
  readonly longest = input(1000);
  readonly hint = input('');
  protected readonly shown = signal(false);
}
