import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import type { Vibration } from '@unirota/core';
import { type Settings, VIBRATION_SETTINGS } from '@unirota/core/document';
import { motionUnit } from '@unirota/core/units';
import { DesignService } from '../../state/design.service';
import { UnitsService } from '../../state/units.service';
import { CURVE_COLOURS, Chart, type Curve } from '../../ui/chart';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { type Committed, QuantityField } from '../../ui/quantity-field';

/** What transmission errors and ripples do to all that gives: amplitudes at and over the nominal speed. */
@Component({
  selector: 'uni-forced-vibration',
  imports: [Chart, DataTable, QuantityField],
  template: `
    <h3 i18n>Forced vibration</h3>
    @if (forced(); as f) {
      <div class="line">
        <label for="vi-damping">
          {{ damping.label }} <i>{{ damping.symbol }}</i>
        </label>
        <uni-quantity-field inputId="vi-damping" [field]="damping" [value]="ratio()" (committed)="stateDamping($event)" />
        <span class="soft">{{ forcings() }}</span>
      </div>
      <div class="halves">
        <uni-data-table
          i18n-label
          label="Forced vibration"
          [columns]="columns"
          [rows]="rows()"
          [file]="doc.design().name + ' forced vibration'"
          i18n-none
          none="Nothing gives"
          (pressed)="chosen.set(+$event.id)"
        />
        @if (curve(); as c) {
          <div>
            <uni-chart [heading]="c.heading" [unit]="c.unit" [xLabel]="c.label" [xUnit]="c.xUnit" [curves]="c.curves" />
            <p i18n class="soft">Greatest at {{ c.at }} % of the nominal speed, most of it by {{ c.by }}.</p>
          </div>
        }
      </div>
      <p i18n class="soft">
        Amplitudes beside the steady load, all excitations added, from a tenth to twice the nominal speed. Damping is structural: a loss factor of 2ζ
        for all that gives. Teeth part where the amplitude is more than they carry steadily; beyond that the figures no longer hold.
      </p>
    } @else {
      <p i18n class="soft">
        Transmission errors of meshes and torque ripples of motors that turn cause vibration. State them in their data sheets, under Further values.
      </p>
    }
  `,
  styleUrl: './halves.scss',
  styles: `
    .line uni-quantity-field {
      width: 110px;
    }
    .halves {
      --halves: minmax(0, 3fr) minmax(0, 2fr);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ForcedVibration {
  readonly made = input.required<Vibration>();
  protected readonly doc = inject(DesignService);
  private readonly units = inject(UnitsService).now;
  protected readonly forced = computed(() => this.made().forced);

  protected readonly damping = VIBRATION_SETTINGS[0];
  protected readonly ratio = computed(() => Number(this.doc.design().settings?.dampingRatio ?? this.damping.initial));
  protected stateDamping({ value }: Committed): void {
    const trouble = this.doc.editSettings(this.damping.label, { dampingRatio: value === undefined ? undefined : Number(value) } as Partial<Settings>);
    if (trouble) this.doc.said.set(trouble);
  }
  protected readonly forcings = computed(() =>
    this.forced()!
      .forcings.map((s) => {
        const much = this.units().text(s.amplitude, s.kind === 'ripple' ? 'N·m' : 'mm', 3);
        const frequency = this.units().number(s.frequency, '', 4);
        return s.kind === 'ripple'
          ? $localize`Ripple of ${s.name}, ${much} at ${frequency} Hz`
          : $localize`Transmission error of ${s.name}, ${much} at ${frequency} Hz`;
      })
      .join('; '),
  );

  protected readonly columns: readonly Column[] = [
    { key: 'part', label: $localize`Part` },
    { key: 'nominal', label: $localize`Nominal speed`, number: true },
    { key: 'steady', label: $localize`Steady`, number: true },
    { key: 'most', label: $localize`Greatest`, number: true },
    { key: 'at', label: $localize`at speed`, number: true, unit: '%' },
  ];
  /** The part that is looked at. */
  protected readonly chosen = linkedSignal<Vibration, number>({ source: this.made, computation: (_, before) => before?.value ?? 0 });
  protected readonly rows = computed((): Row[] =>
    this.forced()!.responses.map((s, k): Row => {
      const amplitude = (x: number) => {
        const parts = s.steady !== undefined && x > s.steady;
        const text = this.units().text(x, s.unit, 3);
        const value = x * this.units().factor(s.unit);
        return parts ? { text: `▲ ${text}`, value, tone: 'missed' as const } : { text, value };
      };
      return {
        id: String(k),
        selected: k === this.chosen(),
        cells: [
          { text: s.name },
          amplitude(s.nominal),
          s.steady === undefined ? { text: '–' } : { text: this.units().text(s.steady, s.unit, 3), value: s.steady * this.units().factor(s.unit) },
          amplitude(s.most),
          { text: (100 * s.at).toFixed(0), value: 100 * s.at },
        ],
      };
    }),
  );
  protected readonly curve = computed(() => {
    const f = this.forced()!;
    const { source } = this.made();
    const shown = f.responses[this.chosen()];
    if (!shown || !source) return undefined;
    const { speed } = motionUnit(source.slides);
    const [x, y] = [Math.abs(source.speed) * this.units().factor(speed), this.units().factor(shown.unit)];
    const xs = f.speeds.map((p) => p * x);
    const curves: Curve[] = [{ label: $localize`amplitude`, xs, ys: shown.amplitudes.map((a) => a * y), colour: CURVE_COLOURS[0] }];
    if (shown.steady !== undefined) {
      const steady = shown.steady * y;
      curves.push({ label: $localize`steady`, xs: [0, xs[xs.length - 1]], ys: [steady, steady], colour: CURVE_COLOURS[1], dashed: true });
    }
    const [at, by] = [(100 * shown.at).toFixed(0), f.forcings[shown.by].name];
    return { at, by, heading: shown.name, unit: shown.unit, label: source.name, xUnit: speed, curves };
  });
}
