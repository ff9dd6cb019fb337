import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, linkedSignal, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import { type Study, unitOfQuantity, valuesOfRange } from '@unirota/core';
import type { Id } from '@unirota/core/document';
import { exactly, parseRatio, toNumber, toText } from '@unirota/core/math';
import type { SearchApi } from '../../engine/search.worker';
import { WorkerClient } from '../../engine/worker-client';
import { DesignService } from '../../state/design.service';
import { UnitsService } from '../../state/units.service';
import { Chart } from '../../ui/chart';
import { Choice, type Option } from '../../ui/choice';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { TextField } from '../../ui/text-field';

/** How large it opens. */
export const STUDY_DIALOG = { width: '1180px', maxWidth: '96vw', autoFocus: 'dialog' } as const;

/** Results of the design over a range of one of its quantities: a curve, a table, and how much each result depends on it. */
@Component({
  selector: 'uni-study-dialog',
  imports: [Chart, Choice, DataTable, MatButton, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle, MatProgressBar, TextField],
  template: `
    <h2 i18n mat-dialog-title>Study: results over a quantity</h2>
    <mat-dialog-content>
      <div class="sides">
        <div class="given">
          <span i18n id="st-of">Quantity</span>
          <uni-choice labelledBy="st-of" i18n-label label="Quantity" [options]="quantities()" [value]="quantity()" (picked)="quantity.set($event)" />
          <label for="st-from"><ng-container i18n>From</ng-container> {{ unit() }}</label>
          <uni-text-field inputId="st-from" figure [longest]="40" [value]="from()" [refusal]="wrong(from())" (changed)="from.set($event)" />
          <label for="st-to"><ng-container i18n>To</ng-container> {{ unit() }}</label>
          <uni-text-field inputId="st-to" figure [longest]="40" [value]="to()" [refusal]="wrong(to())" (changed)="to.set($event)" />
          <label for="st-step"><ng-container i18n>Step</ng-container> {{ unit() }}</label>
          <uni-text-field inputId="st-step" figure [longest]="40" [value]="step()" [refusal]="wrong(step())" (changed)="step.set($event)" />
          <span></span>
          @if (busy()) {
            <button i18n matButton="outlined" type="button" (click)="end()">Stop study</button>
          } @else {
            <button i18n matButton="filled" type="button" [disabled]="!range()" (click)="compute()">Compute</button>
          }
          @if (rangeProblem(); as p) {
            <p role="alert" class="caution wide">▲ {{ p }}</p>
          }
          @if (made()) {
            <span i18n id="st-what">Chart</span>
            <uni-choice labelledBy="st-what" i18n-label label="Chart" [options]="results()" [value]="shown()" (picked)="shown.set($event)" />
          }
        </div>
        <div class="shown">
          @if (busy()) {
            <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Computing the study" />
          }
          @if (made(); as m) {
            @if (curve(); as c) {
              <uni-chart [heading]="c.heading" [unit]="c.unit" [xLabel]="symbol()" [xUnit]="unit()" [curves]="c.curves" />
            }
            <div class="table">
              <uni-data-table
                i18n-label
                label="Results of the study"
                [columns]="columns()"
                [rows]="rows()"
                [file]="doc.design().name + ' study'"
                i18n-none
                none="No values"
              />
            </div>
            @for (t of troubles(); track t) {
              <p class="caution">✗ {{ t }}</p>
            }
            <p><ng-container i18n>Sensitivities at the present value:</ng-container> {{ sensitivities() }}.</p>
            <p i18n class="soft">
              Each value is stated, formulas are worked out, the train is fitted where it fitted before, and all is analysed in the home position, in
              the load case that is shown. A sensitivity says by how many hundredths a result grows when the quantity grows by one hundredth.
            </p>
          } @else if (!busy()) {
            <p i18n class="soft">
              Choose a quantity and a range. At each value the whole design is worked out again; the design itself stays as it is.
            </p>
          }
          @if (problem()) {
            <p role="alert" class="caution">▲ {{ problem() }}</p>
          }
        </div>
      </div>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton type="button" mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
  styleUrl: './sides.scss',
  styles: `
    .sides {
      --given: 250px;
      --labels: 80px;
    }
    uni-chart {
      display: block;
      max-width: 500px;
    }
    .table {
      margin-top: 8px;
      overflow-x: auto;
    }
    .wide {
      grid-column: 1 / -1;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StudyDialog {
  protected readonly doc = inject(DesignService);
  private readonly units = inject(UnitsService).now;
  private readonly worker = new WorkerClient<SearchApi>(() => new Worker(new URL('../../engine/search.worker', import.meta.url), { type: 'module' }));
  private readonly stated = computed(() => (this.doc.design().quantities ?? []).filter((q) => q.formula === undefined));
  protected readonly quantities = computed((): Option[] => this.stated().map((q) => ({ value: q.id, label: `${q.symbol} · ${q.name}` })));
  protected readonly quantity = linkedSignal<Id | undefined>(() => this.stated()[0]?.id);
  private readonly of = computed(() => this.stated().find((q) => q.id === this.quantity()));
  protected readonly symbol = computed(() => this.of()?.symbol ?? '');
  protected readonly unit = computed(() => (this.of() ? unitOfQuantity(this.of()!) : ''));
  /** About the present value, to begin with: whole steps where it is whole. */
  private readonly beginning = computed(() => {
    const x = toNumber(exactly(this.of()?.value ?? 1));
    const step = Number.isInteger(x) && Math.abs(x) >= 5 ? 1 : Number((Math.abs(x) / 10 || 0.1).toPrecision(1));
    return { from: Number((x - 5 * step).toPrecision(9)), to: Number((x + 5 * step).toPrecision(9)), step };
  });
  protected readonly from = linkedSignal(() => String(this.beginning().from));
  protected readonly to = linkedSignal(() => String(this.beginning().to));
  protected readonly step = linkedSignal(() => String(this.beginning().step));
  protected wrong(text: string): string {
    return parseRatio(text.trim()) ? '' : $localize`a number or a fraction is wanted`;
  }
  private readonly asked = computed(() => {
    const [from, to, step] = [this.from(), this.to(), this.step()].map((t) => parseRatio(t.trim()));
    const quantity = this.quantity();
    return from && to && step && quantity !== undefined ? { quantity, from, to, step } : undefined;
  });
  protected readonly rangeProblem = computed(() => {
    const asked = this.asked();
    const values = asked && valuesOfRange(asked);
    return typeof values === 'string' ? values : '';
  });
  protected readonly range = computed(() => (this.rangeProblem() ? undefined : this.asked()));

  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  protected readonly made = signal<Study | undefined>(undefined);
  protected readonly shown = linkedSignal<string | undefined>(() => this.made()?.columns[0]?.key);
  protected readonly results = computed((): Option[] => (this.made()?.columns ?? []).map((c) => ({ value: c.key, label: c.label })));
  protected readonly curve = computed(() => {
    const m = this.made();
    const k = m?.columns.findIndex((c) => c.key === this.shown()) ?? -1;
    if (!m || k < 0) return undefined;
    const points = m.rows.flatMap((r) => (r.results[k] === undefined ? [] : [{ x: toNumber(r.value), y: r.results[k] }]));
    const { label, unit } = m.columns[k];
    const factor = this.units().factor(unit);
    const xs = points.map((p) => p.x);
    return points.length < 2
      ? undefined
      : {
          heading: [label, this.units().of(unit)].filter(Boolean).join(', '),
          unit: this.units().of(unit),
          curves: [{ label, xs, ys: points.map((p) => p.y * factor) }],
        };
  });
  protected readonly columns = computed((): Column[] => [
    { key: 'x', label: this.symbol(), number: true, unit: this.unit() },
    // As a figure it does not wrap.
    { key: 'state', label: $localize`State`, number: true },
    ...(this.made()?.columns ?? []).map((c) => ({ key: c.key, label: c.label, number: true, unit: this.units().of(c.unit) })),
  ]);
  protected readonly rows = computed((): Row[] => {
    const m = this.made();
    if (!m) return [];
    const cell = (x: number | undefined, unit: string) =>
      x === undefined ? { text: '–' } : { text: this.units().number(x, unit, 4), value: x * this.units().factor(unit) };
    return m.rows.map((r, k): Row => {
      const trouble =
        r.trouble !== undefined ? $localize`no design` : r.faults ? $localize`faults: ${r.faults}` : r.missed ? $localize`missed: ${r.missed}` : '';
      return {
        id: String(k),
        cells: [
          { text: toText(r.value), value: toNumber(r.value) },
          trouble ? { text: `✗ ${trouble}`, tone: 'missed' } : { text: '✓', tone: 'met' },
          ...r.results.map((x, c) => cell(x, m.columns[c].unit)),
        ],
      };
    });
  });
  /** Values at which the design cannot be made, and why. */
  protected readonly troubles = computed(() => {
    const all = (this.made()?.rows ?? []).filter((r) => r.trouble !== undefined);
    return all.slice(0, 3).map((r) => `${this.symbol()} = ${toText(r.value)}: ${r.trouble}`);
  });
  /** Each result with its sensitivity, in a line. */
  protected readonly sensitivities = computed(() =>
    (this.made()?.columns ?? [])
      .map((c, k) => ({ label: c.label, is: this.made()!.sensitivities[k] }))
      .map(({ label, is }) => `${label} ${is === undefined ? '–' : this.units().number(is, '', 3)}`)
      .join('; '),
  );

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker.end());
  }
  protected async compute(): Promise<void> {
    const range = this.range();
    if (!range) return;
    this.busy.set(true);
    this.problem.set('');
    try {
      const [design, loadCase] = [this.doc.design(), this.doc.loadCase()];
      const made = await this.worker.attempt((api) => api.study(design, range, loadCase));
      if (made) this.made.set(made);
    } catch (e) {
      this.problem.set($localize`The study failed: ${(e as Error).message}`);
    } finally {
      this.busy.set(false);
    }
  }
  protected end(): void {
    this.worker.end();
  }
}
