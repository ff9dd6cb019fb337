import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  type ElementRef,
  computed,
  effect,
  forwardRef,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  viewChild,
} from '@angular/core';
import {
  type ControlValueAccessor,
  FormControl,
  NG_VALIDATORS,
  NG_VALUE_ACCESSOR,
  ReactiveFormsModule,
  type ValidationErrors,
  type Validator,
  Validators,
} from '@angular/forms';
import { MatError, MatFormField, MatFormFieldControl, MatHint, MatSuffix } from '@angular/material/form-field';
import { Field, fieldProblem, keptValue } from '@unirota/core/document';
import { type Ratio, div, exactly, toNumber, toText } from '@unirota/core/math';
import { PER_INCH, namesIn, namesUnit, readQuantity, show } from '@unirota/core/units';
import { Subject } from 'rxjs';
import { FieldInHand, type OpenField } from '../state/field-in-hand';
import { UnitsService } from '../state/units.service';
import { perInchBounds } from './shown-field';

export interface Committed {
  value: number | string | undefined;
  /** What was typed, where it says more than the number. */
  typed?: string;
}

/** A quantity of a reactive form, which has a value from the start and must not be without one. */
export const quantityControl = (value: number): FormControl<number | undefined> =>
  new FormControl<number | undefined>(value, { nonNullable: true, validators: Validators.required });

let serial = 0;
/** A real minus is shown; a hyphen is read. */
const asTyped = (text: string): string => text.replaceAll('−', '-');

/**
 * What is typed for a quantity: takes units and arithmetic, knows what is wrong with it, and
 * hands on only what is right. A control of Material's form field and of reactive forms.
 */
@Component({
  selector: 'uni-quantity',
  template: `
    <input
      #box
      type="text"
      autocomplete="off"
      spellcheck="false"
      [id]="inputId() ?? id"
      [value]="text()"
      [attr.aria-label]="field().label"
      [attr.aria-invalid]="errorState ? true : null"
      [attr.aria-describedby]="describedBy() || null"
      [disabled]="disabled"
      (focus)="entered()"
      (blur)="left()"
      (input)="typing($event)"
      (change)="commit()"
      (keydown.enter)="commit()"
      (keydown.escape)="revert()"
      (keydown.arrowup)="step($event, 1)"
      (keydown.arrowdown)="step($event, -1)"
    />
  `,
  styles: `
    :host {
      display: block;
    }
    input {
      width: 100%;
      padding: 0;
      border: 0;
      outline: 0;
      background: none;
      text-align: right;
    }
  `,
  providers: [
    { provide: MatFormFieldControl, useExisting: forwardRef(() => Quantity) },
    { provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => Quantity), multi: true },
    { provide: NG_VALIDATORS, useExisting: forwardRef(() => Quantity), multi: true },
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Quantity implements MatFormFieldControl<number | string | undefined>, ControlValueAccessor, Validator {
  readonly field = input.required<Field>();
  readonly given = input<number | string | undefined>();
  readonly typed = input<string | undefined>();
  readonly off = input(false);
  readonly inputId = input<string>();
  /** A refusal from outside (the design as a whole would not pass). */
  readonly refusal = input<string | undefined>();
  readonly committed = output<Committed>();
  readonly id = `q${serial++}`;

  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  /** Where a form owns it: what it was given last, and whether it was shut. */
  private readonly own = linkedSignal(() => this.given());
  private readonly shut = linkedSignal(() => this.off());
  /** The form's ear, where one owns it. */
  private changed: ((v: number | string | undefined) => void) | undefined;
  private touched: () => void = () => undefined;
  private judged: () => void = () => undefined;

  writeValue(v: number | string | null | undefined): void {
    this.own.set(v ?? undefined);
  }
  registerOnChange(to: (v: number | string | undefined) => void): void {
    this.changed = to;
  }
  registerOnTouched(to: () => void): void {
    this.touched = to;
  }
  /** A form whose quantity is wrong as typed is not ready, whatever the last right value was. */
  validate(): ValidationErrors | null {
    const quantity = this.problem();
    return quantity ? { quantity } : null;
  }
  registerOnValidatorChange(to: () => void): void {
    this.judged = to;
  }
  setDisabledState(disabled: boolean): void {
    this.shut.set(disabled);
  }

  // What Material's form field asks of its control; `stateChanges` has it look again.
  readonly stateChanges = new Subject<void>();
  readonly ngControl = null;
  readonly placeholder = '';
  readonly required = false;
  readonly shouldLabelFloat = true;
  protected readonly focus = signal(false);
  protected readonly describedBy = signal('');
  get value(): number | string | undefined {
    return this.own();
  }
  get empty(): boolean {
    return this.text() === '';
  }
  get focused(): boolean {
    return this.focus();
  }
  get disabled(): boolean {
    return this.shut();
  }
  get errorState(): boolean {
    return this.problem() !== undefined;
  }
  setDescribedByIds(ids: string[]): void {
    this.describedBy.set(ids.join(' '));
  }
  onContainerClick(e: MouseEvent): void {
    if (e.target !== this.box().nativeElement) this.box().nativeElement.focus();
  }
  constructor() {
    effect(() => {
      this.text();
      this.focus();
      this.shut();
      this.stateChanges.next();
    });
    effect(() => {
      this.problem();
      this.judged();
    });
    inject(DestroyRef).onDestroy(() => {
      this.hand.leave(this.mine);
      this.stateChanges.complete();
    });
  }
  private readonly hand = inject(FieldInHand);
  private mine: OpenField | undefined;
  protected entered(): void {
    this.focus.set(true);
    if (this.disabled) return;
    const { label, unit = '' } = this.field();
    this.mine = { label, unit, put: (v) => this.take(v) };
    this.hand.field.set(this.mine);
  }
  /** A value in the document's unit, as if it had been typed. */
  private take(value: number): void {
    const same = value === 0 || this.unit() === (this.field().unit ?? '');
    const shown = same ? value : toNumber(this.exactShown(exactly(value)));
    this.dirty = true;
    this.text.set(String(Number(shown.toPrecision(9))));
    this.commit();
  }
  protected left(): void {
    this.focus.set(false);
    this.touched();
  }

  private readonly names = inject(UnitsService).names;
  protected readonly units = inject(UnitsService).now;
  /** The unit in which the value is shown, and a bare number read. */
  readonly unit = computed(() => (this.perInch() ? '1/in' : this.units().of(this.field().unit)));
  /** Stated the other way up in this design: a diametral pitch for a module. */
  private readonly perInch = computed(() => this.units().inch && this.field().perInch !== undefined);
  /** What stands in the field names a unit itself, as in “3/4 in”: none is shown behind it. */
  readonly ownUnit = computed(() => namesUnit(asTyped(this.text()), this.names()));
  /** What a formula comes to, where the field has one that names quantities. */
  readonly comesTo = computed(() => {
    const names = this.names();
    const typed = this.typed();
    const value = this.own();
    if (!names || !typed || value === undefined || !namesIn(typed, (s) => names(s) !== undefined).length) return '';
    return `= ${this.units().text(toNumber(exactly(value)), this.field().unit ?? '', 6)}`;
  });
  private exactShown(kept: Ratio): Ratio {
    return this.perInch() ? div(PER_INCH, kept) : this.units().exactShown(kept, this.field().unit);
  }
  private exactKept(shown: Ratio): Ratio {
    return this.perInch() ? div(PER_INCH, shown) : this.units().exactKept(shown, this.field().unit);
  }

  private readonly shown = computed(() => {
    const v = this.own();
    if (this.typed()) return this.typed()!;
    const stated = v ?? this.field().initial;
    if (stated === undefined || typeof stated === 'boolean') return '';
    if (v === undefined && typeof stated === 'string') return stated;
    const kept = this.field().unit ?? '';
    if (this.unit() !== kept) {
      const kept = exactly(stated);
      if (this.perInch() && toNumber(kept) === 0) return '';
      const x = this.exactShown(kept);
      // What is no short decimal in this unit is shown to six figures; the document keeps it as it was stated.
      return toText(x).length < 9 && !toText(x).includes('/')
        ? toText(x).replace('-', '−')
        : String(Number(toNumber(x).toPrecision(6))).replace('-', '−');
    }
    if (typeof stated === 'string') return toText(exactly(stated)).length < 12 ? stated : show(toNumber(exactly(stated)), 8);
    return String(Number(stated.toPrecision(12))).replace('-', '−');
  });
  /** While somebody types, a value that arrives from elsewhere does not overwrite what they have typed. */
  private dirty = false;
  protected readonly text = linkedSignal<string, string>({
    source: () => this.shown(),
    computation: (s, before) => (this.dirty && before ? before.value : s),
  });
  private readonly inner = linkedSignal<string, string | undefined>({
    source: () => this.shown(),
    computation: (_s, before) => (this.dirty ? before?.value : undefined),
  });
  readonly problem = computed(() => this.inner() ?? this.refusal());

  protected typing(e: Event): void {
    this.dirty = true;
    this.text.set((e.target as HTMLInputElement).value);
    if (this.inner()) this.inner.set(this.check().problem);
  }

  private check(): { problem?: string; commit?: Committed } {
    const f = this.field();
    const text = this.text().trim();
    if (text === '') {
      const missing = fieldProblem(f, undefined);
      return missing ? { problem: missing } : { commit: { value: undefined } };
    }
    const kept = f.unit ?? '',
      unit = this.unit();
    const read = readQuantity(asTyped(text), unit, this.names());
    if ('problem' in read) return { problem: `${f.label}: ${read.problem}` };
    let q: { value: number; exact?: Ratio } = read;
    let said = text;
    if (unit !== kept) {
      const turned = this.perInch() && fieldProblem(perInchBounds(f, toNumber(PER_INCH)), read.value, { unit, text: (x) => show(x, 4) });
      if (turned) return { problem: turned };
      const exact = read.exact && this.exactKept(read.exact);
      q = exact
        ? { value: toNumber(exact), exact }
        : { value: this.perInch() ? toNumber(PER_INCH) / read.value : read.value / this.units().factor(kept) };
      // A bare number means this unit, whatever the design shows tomorrow.
      const behind = this.perInch() ? '/in' : ` ${unit}`;
      if (!namesUnit(asTyped(text), this.names()) && read.value !== 0) {
        said = /^[\d\s./]+$/.test(text) ? `${text}${behind}` : `(${text})${behind}`;
      }
    }
    const value = keptValue(f, q);
    const bad = fieldProblem(f, value, unit === kept ? undefined : { unit, text: (x) => this.units().number(x, kept, 4) });
    if (bad) return { problem: bad };
    const plain = /^[−-]?[\d.]+$/.test(text);
    return { commit: { value, typed: plain ? undefined : said } };
  }

  protected commit(): void {
    if (this.text() === this.shown() && !this.inner()) {
      this.dirty = false;
      return;
    }
    const r = this.check();
    this.inner.set(r.problem);
    this.dirty = r.problem !== undefined;
    if (!r.commit) return;
    this.committed.emit(r.commit);
    if (this.changed) {
      // A form takes what is right as it is; elsewhere the design says what it has made of it.
      this.own.set(r.commit.value);
      this.changed(r.commit.value);
    }
    // Where the value was held back (a stop, say), the field shows what is, not what was typed.
    setTimeout(() => {
      if (!this.dirty && !this.refusal()) this.text.set(this.shown());
    });
  }

  protected revert(): void {
    this.dirty = false;
    this.text.set(this.shown());
    this.inner.set(undefined);
  }

  /** Arrow keys: a whole step for counts, the last shown place for others. */
  protected step(e: Event, sign: 1 | -1): void {
    // A formula is not stepped: it would be one no more.
    const q = readQuantity(asTyped(this.text()), this.unit());
    if ('problem' in q) return;
    e.preventDefault();
    const places = this.field().kind === 'whole' ? 0 : (/\.(\d+)/.exec(this.text())?.[1]?.length ?? 0);
    this.text.set(String(Number((q.value + sign * 10 ** -places).toFixed(places))));
    this.commit();
  }
}

/** A quantity in its field: its unit behind it, and beside it what is wrong. */
@Component({
  selector: 'uni-quantity-field',
  imports: [MatError, MatFormField, MatHint, MatSuffix, Quantity, ReactiveFormsModule],
  template: `
    @if (control(); as c) {
      <mat-form-field appearance="outline" subscriptSizing="dynamic" class="dense">
        <uni-quantity #q [field]="field()" [inputId]="inputId()" [formControl]="c" />
        @if (!q.ownUnit() && (unit() || q.unit())) {
          <span matTextSuffix class="unit">{{ unit() || q.unit() }}</span>
        }
        @if (q.problem(); as p) {
          <mat-error role="alert">{{ p }}</mat-error>
        }
      </mat-form-field>
    } @else {
      <mat-form-field appearance="outline" subscriptSizing="dynamic" class="dense">
        <uni-quantity
          #q
          [field]="field()"
          [given]="value()"
          [typed]="typed()"
          [off]="disabled()"
          [inputId]="inputId()"
          [refusal]="refusal()"
          (committed)="committed.emit($event)"
        />
        @if (!q.ownUnit() && (unit() || q.unit())) {
          <span matTextSuffix class="unit">{{ unit() || q.unit() }}</span>
        }
        @if (q.comesTo(); as is) {
          <mat-hint>{{ is }}</mat-hint>
        }
        @if (q.problem(); as p) {
          <mat-error role="alert">{{ p }}</mat-error>
        }
      </mat-form-field>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    mat-hint {
      flex: 1;
      text-align: right;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class QuantityField {
  readonly field = input.required<Field>();
  /** Of a reactive form; else `value` says what it shows and `committed` what was typed. */
  readonly control = input<FormControl<number | undefined>>();
  /** Where the unit depends on what stands beside it. */
  readonly unit = input('');
  readonly value = input<number | string | undefined>();
  readonly typed = input<string | undefined>();
  readonly disabled = input(false);
  readonly inputId = input<string>();
  readonly refusal = input<string | undefined>();
  readonly committed = output<Committed>();
}
