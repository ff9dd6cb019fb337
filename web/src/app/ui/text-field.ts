import { ChangeDetectionStrategy, Component, booleanAttribute, computed, effect, input, output, signal } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatError, MatFormField } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';

let serial = 0;

/**
 * A line of text in its field: a name, a figure of a table, or what
 * is sought. What is wrong with it is said beneath, and it stays.
 */
@Component({
  selector: 'uni-text-field',
  imports: [MatError, MatFormField, MatInput, ReactiveFormsModule],
  template: `
    <mat-form-field appearance="outline" subscriptSizing="dynamic" class="dense" [class.bare]="bare()" [class.figure]="figure()">
      <input
        matInput
        type="text"
        autocomplete="off"
        [id]="inputId() ?? id"
        [formControl]="control"
        [attr.aria-label]="label() || null"
        [placeholder]="placeholder()"
        [attr.maxlength]="longest()"
        (input)="typed.emit(control.value)"
        (change)="commit()"
        (keydown.escape)="revert()"
      />
      @if (quiet() ? undefined : wrong(); as p) {
        <mat-error role="alert">{{ p }}</mat-error>
      }
    </mat-form-field>
  `,
  styles: `
    :host {
      display: inline-block;
      min-width: 0;
    }
    .figure input {
      text-align: right;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TextField {
  readonly value = input('');
  /** Its name where no label is written beside it. */
  readonly label = input('');
  readonly placeholder = input('');
  readonly inputId = input<string>();
  readonly longest = input(200);
  readonly disabled = input(false, { transform: booleanAttribute });
  /** A name that must not be empty: what is handed on is trimmed, and an empty one is refused. */
  readonly needed = input(false, { transform: booleanAttribute });
  /** What is wrong with it as it was handed on. */
  readonly refusal = input<string>();
  /** Shown as wrong, but what is wrong is said elsewhere. */
  readonly quiet = input(false, { transform: booleanAttribute });
  /** Without a border until it is pointed at: a title that can be changed. */
  readonly bare = input(false, { transform: booleanAttribute });
  /** A figure stands at the right. */
  readonly figure = input(false, { transform: booleanAttribute });
  /** With every letter, and when it is left or Enter is pressed. */
  readonly typed = output<string>();
  readonly changed = output<string>();
  protected readonly id = `text${serial++}`;
  protected readonly control = new FormControl('', { nonNullable: true });
  private readonly missing = signal(false);
  protected readonly wrong = computed(() => (this.missing() ? $localize`Name is missing: give it one` : this.refusal()) || undefined);

  constructor() {
    effect(() => {
      this.control.setValue(this.value());
      this.missing.set(false);
    });
    effect(() => (this.disabled() ? this.control.disable() : this.control.enable()));
    effect(() => {
      const wrong = this.wrong();
      // After each new value, for that lets go of what was wrong with the last.
      this.value();
      this.control.setErrors(wrong ? { wrong } : null);
      if (wrong) this.control.markAsTouched();
    });
  }

  protected commit(): void {
    const text = this.needed() ? this.control.value.trim() : this.control.value;
    this.missing.set(this.needed() && !text);
    if (!this.missing()) this.changed.emit(text);
  }
  protected revert(): void {
    this.control.setValue(this.value());
    this.missing.set(false);
  }
}
