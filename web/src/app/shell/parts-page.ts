import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatSlider, MatSliderThumb } from '@angular/material/slider';
import { measuresFor } from '@unirota/core';
import type { Field } from '@unirota/core/document';
import { INCH, Units } from '@unirota/core/units';
import { UnitsService } from '../state/units.service';
import { Chart, type Curve } from '../ui/chart';
import { ChipsField } from '../ui/chips-field';
import { Choice } from '../ui/choice';
import { DataTable } from '../ui/data-table';
import { ICON_NAMES, Icon } from '../ui/icon';
import { JointChooser } from '../ui/joint-chooser';
import { MeasureHelper } from '../ui/measure-helper';
import { PassphraseField } from '../ui/passphrase-field';
import { QuantityField } from '../ui/quantity-field';
import { TableField } from '../ui/table-field';
import { TextField } from '../ui/text-field';

const xs = Array.from({ length: 121 }, (_, k) => k / 20);

/**
 * Each control by itself, in each of its states, for those who work on them: /parts of `npm run dev`. Not part of what is
 * shipped, so its words are not marked for translation.
 */
@Component({
  selector: 'uni-parts-page',
  imports: [
    Chart,
    ChipsField,
    Choice,
    DataTable,
    Icon,
    JointChooser,
    MatButton,
    MatCheckbox,
    MatIconButton,
    MatSlider,
    MatSliderThumb,
    MeasureHelper,
    PassphraseField,
    QuantityField,
    ReactiveFormsModule,
    TableField,
    TextField,
  ],
  templateUrl: './parts-page.html',
  styleUrl: './parts-page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PartsPage {
  private readonly units = inject(UnitsService).now;
  protected readonly icons = ICON_NAMES;
  protected readonly inch = computed(() => this.units().inch);
  /** What the controls have said last. */
  protected readonly said = signal('');
  protected readonly bore: Field = { key: 'bore', label: 'Bore', kind: 'number', unit: 'mm', above: 0, max: 1000 };
  protected readonly teeth: Field = { key: 'teeth', label: 'Teeth', kind: 'whole', required: true, min: 3, max: 1000 };
  protected readonly module: Field = {
    key: 'module',
    label: 'Module',
    kind: 'exact',
    unit: 'mm',
    above: 0,
    max: 1000,
    perInch: { label: 'Diametral pitch', symbol: 'P' },
  };
  protected readonly line: Field = {
    key: 'line',
    label: 'Torque over speed',
    kind: 'table',
    columns: [
      { key: 'speed', label: 'Speed', kind: 'number', unit: 'rev/min', required: true, min: 0, max: 1e6 },
      { key: 'torque', label: 'Torque', kind: 'number', unit: 'N·m', required: true, min: 0, max: 1e7 },
    ],
  };
  protected readonly rows = [
    { speed: 0, torque: 12 },
    { speed: 1400, torque: 7.5 },
    { speed: 1500, torque: 0 },
  ];
  protected readonly options = ['Gear pair', 'Belt', 'Chain', 'Worm drive'].map((label) => ({ value: label, label }));
  protected readonly measures = measuresFor('gear', 'module');
  protected readonly curves: readonly Curve[] = [
    { label: 'One', xs, ys: xs.map((x) => 40 * Math.sin(x)) },
    { label: 'Other', xs, ys: xs.map((x) => 25 * Math.cos(1.7 * x)), dashed: true },
  ];
  protected readonly cursor = signal(2);
  protected readonly part = signal<readonly [number, number] | undefined>(undefined);
  protected readonly passphrase = new FormControl('', { nonNullable: true });
  protected readonly columns = [
    { key: 'member', label: 'Member' },
    { key: 'speed', label: 'Speed', unit: 'rev/min', number: true },
    { key: 'met', label: 'Result' },
  ];
  protected readonly table = [
    { id: 'a', cells: [{ text: 'Input shaft' }, { text: '60', value: 60 }, { text: 'met', tone: 'met' as const }] },
    { id: 'b', selected: true, cells: [{ text: 'Lay shaft' }, { text: '−20', value: -20 }, { text: 'off by 2', tone: 'missed' as const }] },
    { id: 'c', cells: [{ text: 'Drum' }, { text: '5.25', value: 5.25 }, { text: '' }] },
  ];

  protected say(what: string, value: unknown): void {
    this.said.set(`${what}: ${JSON.stringify(value)}`);
  }
  protected toggleUnits(): void {
    this.units.set(this.inch() ? new Units() : new Units(INCH));
  }
}
