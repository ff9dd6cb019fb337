import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { Measure } from '@unirota/core';
import { UnitsService } from '../state/units.service';
import { Choice } from './choice';
import { Committed, QuantityField } from './quantity-field';

/** Works a field's value out of what can be measured: asks, shows the formula and the result, and hands it on when told. */
@Component({
  selector: 'uni-measure-helper',
  imports: [MatButton, Choice, QuantityField],
  template: `
    @if (measures().length > 1) {
      <uni-choice i18n-label label="What was measured" [options]="options()" [value]="at()" (picked)="at.set(+$event)" />
    } @else {
      <p class="soft">{{ now().label }}</p>
    }
    @for (f of now().fields; track now().key + f.key) {
      <div class="row">
        <span>{{ f.label }}</span>
        <uni-quantity-field [field]="f" [value]="given()[f.key]" (committed)="put(f.key, $event)" />
      </div>
    }
    <p class="working">
      {{ now().formula }} = <b>{{ result() }}</b>
    </p>
    <button i18n matButton="filled" type="button" class="main" [disabled]="value() === undefined" (click)="take()">Take {{ result() }}</button>
  `,
  styles: `
    :host {
      grid-column: 1 / -1;
      display: grid;
      gap: 3px;
      padding: 6px 8px;
      margin-bottom: 4px;
      background: var(--sunk);
      border-left: 3px solid var(--brass-line);
    }
    .row {
      display: grid;
      grid-template-columns: 112px minmax(0, 1fr);
      align-items: baseline;
      gap: 8px;
    }
    p {
      margin: 0;
      font-size: 13px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MeasureHelper {
  readonly measures = input.required<readonly Measure[]>();
  readonly unit = input('');
  readonly taken = output<number>();
  protected readonly units = inject(UnitsService).now;
  protected readonly at = signal(0);
  protected readonly options = computed(() => this.measures().map((m, value) => ({ value, label: m.label })));
  protected readonly now = computed(() => this.measures()[Math.min(this.at(), this.measures().length - 1)]);
  private readonly typed = signal<Record<string, number>>({});
  protected readonly given = computed<Record<string, number>>(() => ({
    ...Object.fromEntries(this.now().fields.map((f) => [f.key, Number(f.initial)])),
    ...this.typed(),
  }));
  protected readonly value = computed(() => {
    const v = this.now().value(this.given());
    return v !== undefined && Number.isFinite(v) && v > 0 ? Number(v.toPrecision(9)) : undefined;
  });
  protected readonly result = computed(() => {
    const v = this.value();
    return v === undefined ? '–' : this.units().text(v, this.unit(), 7);
  });
  protected put(key: string, c: Committed): void {
    if (typeof c.value === 'number') this.typed.update((t) => ({ ...t, [key]: Number(c.value) }));
  }
  protected take(): void {
    const v = this.value();
    if (v !== undefined) this.taken.emit(v);
  }
}
