import { ChangeDetectionStrategy, Component, Injector, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { type SourceDuty, advantageOver, dutiesOf, thinned } from '@unirota/core';
import { show, motionUnit } from '@unirota/core/units';
import { AnalysisService } from '../../state/analysis.service';
import { Chart, type Curve } from '../../ui/chart';
import { type Cell, type Column, DataTable, type Row } from '../../ui/data-table';
import { RunService } from '../../state/run.service';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { MotionService } from '../../state/motion.service';
import { type WayChart, WayCharts } from './way-charts';

/**
 * What the sources must give: over the way of the first at its nominal speed,
 * or over the time of the run that is shown, with what a run asks of each.
 */
@Component({
  selector: 'uni-needed',
  imports: [Chart, DataTable, MatButton, MatButtonToggle, MatButtonToggleGroup, WayCharts],
  template: `
    <h2 i18n>Required input</h2>
    @if (runs.shown()) {
      <mat-button-toggle-group
        i18n-aria-label
        [value]="over()"
        (change)="chosen.set($event.value)"
        hideSingleSelectionIndicator
        aria-label="Needed over"
      >
        <mat-button-toggle i18n value="way">over input travel</mat-button-toggle>
        <mat-button-toggle i18n value="time">over time</mat-button-toggle>
      </mat-button-toggle-group>
    }
    @if (over() === 'time') {
      <div class="charts">
        @for (p of timed(); track p.heading) {
          <uni-chart
            i18n-xLabel
            [heading]="p.heading"
            [unit]="p.unit"
            xLabel="Time"
            xUnit="s"
            [curves]="p.curves"
            [cursor]="runs.at()"
            (moved)="runs.go($event)"
          />
        }
      </div>
      <uni-data-table
        i18n-label
        label="Required input of the run"
        [columns]="dutyColumns()"
        [rows]="duties()"
        none="Nothing leads this run."
        [file]="file()"
      />
    } @else if (swept(); as s) {
      <uni-way-charts [charts]="ways()" />
      <p i18n>
        Worst at {{ units().text(s.position[s.worst], xUnit()) }}: {{ units().text(s.input[s.worst], inputUnit()) }}.
        <button matButton="outlined" type="button" (click)="motion.turnTo(s.position[s.worst])">Go to the worst instant</button>
      </p>
    } @else {
      <p i18n class="soft">Nothing drives this design yet: give it a source on Duty, and what it must give stands here.</p>
    }
  `,
  styleUrl: './section.scss',
  styles: `
    mat-button-toggle-group {
      margin-bottom: 6px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Needed {
  protected readonly doc = inject(DesignService);
  protected readonly motion = inject(MotionService);
  protected readonly runs = inject(RunService);
  protected readonly units = inject(UnitsService).now;
  protected readonly chosen = signal<'way' | 'time' | undefined>(undefined);
  protected readonly over = computed(() => (this.runs.shown() ? (this.chosen() ?? (this.runs.at() === undefined ? 'way' : 'time')) : 'way'));
  private readonly answer = inject(AnalysisService).sweepOf(this.motion.way, inject(Injector));
  protected readonly swept = computed(() => this.answer()?.is);
  protected readonly file = computed(() => `${this.doc.design().name} sources`);
  protected readonly xUnit = computed(() => (this.motion.sourceSlides() ? 'mm' : 'rev'));
  protected readonly inputUnit = computed(() => (this.motion.sourceSlides() ? 'N' : 'N·m'));

  protected readonly ways = computed<WayChart[]>(() => {
    const s = this.swept();
    if (!s) return [];
    const curve = (ys: ArrayLike<number>, colour: string): readonly Curve[] => [finite({ label: '', xs: s.position, ys, colour })];
    return [
      {
        heading: this.motion.sourceSlides() ? $localize`Force of the source` : $localize`Torque of the source`,
        unit: this.inputUnit(),
        curves: curve(s.input, 'var(--teal)'),
      },
      { heading: $localize`Power of the source`, unit: 'W', curves: curve(s.power, 'var(--teal)') },
      {
        heading: $localize`Efficiency of the train`,
        unit: '%',
        curves: curve(
          s.efficiency.map((x) => 100 * x),
          'var(--verdigris)',
        ),
      },
      ...this.outputs().map((c) => {
        const values = advantageOver(s, this.motion.source()!.coordinate, c.index, this.motion.worked().pose.kinematics.scale);
        const unit = $localize`${c.unit.effort} per ${this.inputUnit()}`;
        return { heading: $localize`Mechanical advantage to ${c.joint.name ?? c.joint.id}, ${unit}`, unit: '', curves: curve(values, 'var(--ink)') };
      }),
    ];
  });
  /** Joints at which wanted outputs are stated; the last that moves where there are none. */
  private readonly outputs = computed(() => {
    const { coordinates } = this.motion.worked().compiled.structure;
    const wanted = new Set(this.doc.design().wanted.map((w) => (w as { joint?: string }).joint?.split(':')[0]));
    const source = this.motion.source()?.coordinate;
    const list = coordinates.filter((c) => c.index !== source && !c.order && wanted.has(c.joint.id));
    return list.length ? list : coordinates.filter((c) => c.index !== source).slice(-1);
  });

  protected readonly timed = computed(() => {
    const run = this.runs.shown();
    if (!run) return [];
    const pane = (heading: string, unit: string, end: RegExp) => {
      const list = run.quantities.filter((q) => end.test(q.key) && q.unit === unit);
      const curves = list.map((q) => {
        const { x, y } = thinned(run.result.time, (f) => q.at(f), run.result.frames);
        return { label: q.label, xs: x, ys: y };
      });
      return { heading: list.length === 1 ? list[0].label : heading, unit, curves };
    };
    return [
      pane($localize`Torques of the sources`, 'N·m', /^source:.*:load$/),
      pane($localize`Forces of the sources`, 'N', /^source:.*:load$/),
      pane($localize`Powers of the sources`, 'W', /^source:.*:power$/),
    ].filter((p) => p.curves.length);
  });
  /** A column for each source. */
  protected readonly dutyColumns = computed<Column[]>(() => [
    { key: 'what', label: $localize`What it asks of` },
    ...this.asked().map((d) => ({
      key: d.source,
      label: this.runs.shown()!.design.sources.find((s) => s.id === d.source)?.name ?? d.source,
      number: true,
    })),
  ]);
  private readonly asked = computed(() => {
    const run = this.runs.shown();
    return run ? dutiesOf(run.compiled, run.result) : [];
  });
  protected readonly duties = computed<Row[]>(() => {
    const u = this.units();
    const all = this.asked();
    if (!all.length) return [];
    const row = (what: string, of: (d: SourceDuty) => Cell): Row => ({ cells: [{ text: what }, ...all.map(of)] });
    const load = (d: SourceDuty): string => motionUnit(d.slide).effort;
    const quantity = (v: number, unit: string, more = ''): Cell => ({ text: `${u.text(v, unit, 4)}${more}`, value: u.shown(v, unit) });
    const parts = (on: number, back: number): Cell => ({ text: `${show(100 * on, 3)} % on, ${show(100 * back, 3)} % back`, value: on + back });
    return [
      row($localize`Greatest`, (d) => quantity(d.peak, load(d), ` at ${show(d.peakAt, 4)} s`)),
      row($localize`Root mean square`, (d) => quantity(d.rms, load(d))),
      row($localize`Mean power`, (d) => quantity(d.meanPower, 'W')),
      row($localize`Greatest power`, (d) => quantity(d.mostPower, 'W')),
      row($localize`Inertia seen`, ({ inertia: j, slide }) => {
        if (!j) return { text: '–' };
        const even = j.greatest - j.least < 1e-4 * j.greatest;
        return {
          text: `${even ? show(j.greatest, 4) : `${show(j.least, 3)} to ${show(j.greatest, 3)}`} ${motionUnit(slide).inertia}`,
          value: j.greatest,
        };
      }),
      row($localize`Drives`, ({ quadrants: q }) => parts(q[0], q[2])),
      row($localize`Brakes`, ({ quadrants: q }) => parts(q[1], q[3])),
    ];
  });
}

/** A curve without the places at which it is without bound or has no value. */
function finite(c: Curve): Curve {
  const at = Array.from({ length: c.xs.length }, (_, i) => i).filter((i) => Number.isFinite(c.ys[i]));
  return at.length === c.xs.length ? c : { ...c, xs: at.map((i) => c.xs[i]), ys: at.map((i) => c.ys[i]) };
}
