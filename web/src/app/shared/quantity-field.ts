import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { Field, fieldProblem } from '@unirota/core/document';
import { exactly, parseRatio, toNumber, toText } from '@unirota/core/math';
import { type Quantity, readQuantity, show } from '@unirota/core/units';
import { UnitsService } from '../services/units.service';

export interface Committed {
  value: number | string | undefined;
  /** What was typed, where it says more than the number. */
  typed?: string;
}

let serial = 0;

/** A field for a quantity: takes units and arithmetic, says what is wrong beside itself, and hands on only what is right. */
@Component({
  selector: 'uni-quantity-field',
  template: `
    <input
      type="text"
      autocomplete="off"
      spellcheck="false"
      [id]="inputId()"
      [value]="text()"
      [attr.aria-label]="field().label"
      [attr.aria-invalid]="problem() ? true : null"
      [attr.aria-describedby]="problem() ? id + '-p' : null"
      [disabled]="disabled()"
      (input)="typing($event)"
      (change)="commit()"
      (keydown.enter)="commit()"
      (keydown.escape)="revert()"
      (keydown.arrowup)="step($event, 1)"
      (keydown.arrowdown)="step($event, -1)"
    />
    @if (unit()) {
      <span class="unit">{{ unit() }}</span>
    }
    @if (problem(); as p) {
      <span class="trouble" role="alert" [id]="id + '-p'">{{ p }}</span>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      align-items: center;
      column-gap: 6px;
    }
    input {
      width: 100%;
      text-align: right;
    }
    .unit {
      color: var(--ink-soft);
      min-width: 42px;
      font-size: 13px;
    }
    .trouble {
      grid-column: 1 / -1;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class QuantityField {
  readonly field = input.required<Field>();
  readonly value = input<number | string | undefined>();
  readonly typed = input<string | undefined>();
  readonly disabled = input(false);
  readonly inputId = input<string>();
  /** A refusal from outside (the design as a whole would not pass). */
  readonly refusal = input<string | undefined>();
  readonly committed = output<Committed>();
  protected readonly id = `q${serial++}`;

  protected readonly units = inject(UnitsService).now;
  /** The unit in which the value is shown, and a bare number read. */
  protected readonly unit = computed(() => this.units().of(this.field().unit));

  private readonly shown = computed(() => {
    const v = this.value();
    if (this.typed()) return this.typed()!;
    const stated = v ?? this.field().initial;
    if (stated === undefined || typeof stated === 'boolean') return '';
    if (v === undefined && typeof stated === 'string') return stated;
    const kept = this.field().unit ?? '';
    if (this.unit() !== kept) {
      const x = this.units().exactShown(exactly(stated), kept);
      return toText(x).length < 9 && !toText(x).includes('/')
        ? toText(x).replace('-', '−')
        : String(Number(toNumber(x).toPrecision(9))).replace('-', '−');
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
  protected readonly problem = computed(() => this.inner() ?? this.refusal());

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
    const asTyped = text.replaceAll('−', '-');
    const read = readQuantity(asTyped, unit);
    if ('problem' in read) return { problem: `${f.label}: ${read.problem}` };
    let q: Quantity = read;
    let said = text;
    if (unit !== kept) {
      const exact = read.exact && this.units().exactKept(read.exact, kept);
      q = exact ? { value: toNumber(exact), exact } : { value: read.value / this.units().factor(kept) };
      // A bare number means this unit, whatever the design shows tomorrow.
      const bare = readQuantity(asTyped, kept);
      if ('value' in bare && bare.value === read.value && read.value !== 0) said = /^[\d\s./]+$/.test(text) ? `${text} ${unit}` : `(${text}) ${unit}`;
    }
    let value: number | string = q.value;
    if (f.kind === 'exact' && q.exact) value = Number.isInteger(Number(String(q.value))) || String(q.value).length < 12 ? q.value : toText(q.exact);
    if (f.kind === 'exact' && q.exact && typeof value === 'number') {
      const back = parseRatio(value);
      if (!back || back.n !== q.exact.n || back.d !== q.exact.d) value = toText(q.exact);
    }
    const bad = fieldProblem(f, value);
    // Bounds are stated as documents keep them.
    if (bad) return { problem: unit === kept ? bad : `${bad} (${kept})` };
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
    const q = readQuantity(this.text().replaceAll('−', '-'), this.unit());
    if ('problem' in q) return;
    e.preventDefault();
    const places = this.field().kind === 'whole' ? 0 : (/\.(\d+)/.exec(this.text())?.[1]?.length ?? 0);
    this.text.set(String(Number((q.value + sign * 10 ** -places).toFixed(places))));
    this.commit();
  }
}
