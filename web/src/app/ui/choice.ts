import { ChangeDetectionStrategy, Component, computed, input, output, viewChild } from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatFormField } from '@angular/material/form-field';
import { MatSelect, type MatSelectChange } from '@angular/material/select';

/** One of the things that can be chosen. */
export interface Option {
  readonly value: string | number;
  readonly label: string;
  readonly disabled?: boolean;
}

/**
 * A choice among some: Material's select at the density of our sheets. Without a value it is
 * a call to do something: it says `placeholder`, hands on what is picked, and says it again.
 */
@Component({
  selector: 'uni-choice',
  imports: [MatFormField, MatSelect, MatOption],
  template: `
    <mat-form-field appearance="outline" subscriptSizing="dynamic" class="dense">
      <mat-select
        [id]="inputId() ?? id"
        [value]="shown()"
        [multiple]="multiple()"
        [placeholder]="placeholder()"
        [aria-label]="label()"
        [aria-labelledby]="labelledBy()"
        [disabled]="disabled()"
        [panelWidth]="null"
        hideSingleSelectionIndicator
        (selectionChange)="pick($event)"
      >
        <!-- By value: as many others in their place must be looked through for the chosen one again. -->
        @for (o of options(); track o.value + o.label) {
          <mat-option [value]="o.value" [disabled]="!!o.disabled">{{ o.label }}</mat-option>
        }
      </mat-select>
    </mat-form-field>
  `,
  styles: `
    :host {
      display: inline-block;
      min-width: 0;
    }
    mat-form-field {
      width: 100%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Choice {
  readonly options = input.required<readonly Option[]>();
  /** What is chosen; several where `multiple` is set. Undefined where the choice is a call to do something. */
  readonly value = input<string | number | readonly string[] | undefined>();
  readonly multiple = input(false);
  readonly placeholder = input('');
  readonly label = input('');
  readonly labelledBy = input('');
  readonly inputId = input<string>();
  readonly disabled = input(false);
  readonly picked = output<string>();
  readonly pickedMany = output<string[]>();
  protected readonly id = `choice${serial++}`;
  private readonly select = viewChild.required(MatSelect);
  protected readonly shown = computed(() => this.value());

  protected pick(e: MatSelectChange<string | number | string[]>): void {
    if (Array.isArray(e.value)) return this.pickedMany.emit(e.value);
    const picked = String(e.value);
    // What is shown is what the design says, not what was asked for.
    if (this.value() === undefined || String(this.value()) !== picked) this.select().writeValue(this.value());
    this.picked.emit(picked);
  }
}
let serial = 0;
