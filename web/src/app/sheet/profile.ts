import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { motionProfile, profileProblem } from '@unirota/core';
import type { Design, DrivingSource } from '@unirota/core/document';
import { type LogColumn, curveOf, dialectText, writeTable } from '@unirota/core/formats';
import { show } from '@unirota/core/units';
import { AnalysisService } from '../services/analysis.service';
import { Chart, type Curve } from '../shared/chart';
import { Choice } from '../shared/choice';
import { giveCsv } from '../services/take-away';
import { RunService } from '../workbench/run.service';
import { DesignService } from '../workbench/design.service';
import { SelectionService } from '../workbench/selection.service';
import { MotionService } from '../workbench/motion.service';

const SAMPLES = 240;
/** Points of a log that lead a source at most; more cannot be seen, nor edited. */
const MOST_POINTS = 400;
const TIMES: Record<string, number> = { s: 1, ms: 1e-3, min: 60, h: 3600 };
const PLACES: { turning: Record<string, number>; sliding: Record<string, number> } = {
  turning: { deg: 1, rev: 360, rad: 180 / Math.PI },
  sliding: { mm: 1, cm: 10, m: 1000, in: 25.4 },
};

/** How a source moves over time: place and speed as curves, points of a table or of ramps to be dragged, files out and in, and logs of instruments. */
@Component({
  selector: 'uni-profile',
  imports: [Chart, Choice, MatButton],
  template: `
    <h3>Motion over time</h3>
    @if (problem(); as p) {
      <p class="soft">{{ p.message }}.</p>
    } @else {
      @for (c of charts(); track c.heading) {
        <uni-chart [heading]="c.heading" [unit]="c.unit" xLabel="Time" xUnit="s" [curves]="c.curves" [points]="c.points" (dragged)="drag($event)" />
      }
    }
    <div class="buttons">
      <button matButton="outlined" type="button" (click)="save()">Save as CSV</button>
      <button matButton="outlined" type="button" (click)="file.click()">Take from a file …</button>
      <input #file type="file" hidden accept=".csv,.txt,text/csv,text/plain" aria-label="Log or table of motion" (change)="take(file)" />
    </div>
    @if (trouble(); as t) {
      <p class="trouble" role="alert">{{ t }}</p>
    }
    @if (log(); as l) {
      <div class="log" role="group" [attr.aria-label]="'Columns of ' + l.name">
        <span class="soft">{{ l.name }}, with {{ l.how }}</span>
        <span id="log-t">Time</span>
        <uni-choice labelledBy="log-t" label="Column of the time" [options]="columns()" [value]="timeColumn()" (picked)="timeColumn.set(+$event)" />
        <uni-choice label="Unit of the time" [options]="timeUnits" [value]="timeUnit()" (picked)="timeUnit.set($event)" />
        <span id="log-v">Place</span>
        <uni-choice
          labelledBy="log-v"
          label="Column of the place"
          [options]="columns()"
          [value]="valueColumn()"
          (picked)="valueColumn.set(+$event)"
        />
        <uni-choice label="Unit of the place" [options]="valueUnits()" [value]="valueUnit()" (picked)="valueUnit.set($event)" />
      </div>
      @if (curve(); as c) {
        <p class="soft">{{ said() }}</p>
        <div class="buttons">
          <button matButton="filled" type="button" [disabled]="!c.time" (click)="lead()">Lead the source by it</button>
          <button matButton="outlined" type="button" [disabled]="!c.time" (click)="layOver()">Lay it over the runs</button>
          <button matButton type="button" (click)="log.set(undefined)">Leave it</button>
        </div>
      }
    }
  `,
  styles: `
    :host {
      display: block;
    }
    uni-chart {
      margin-bottom: 6px;
      --chart-text: 15px;
    }
    .buttons {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
      margin: 4px 0;
    }
    .log {
      display: grid;
      grid-template-columns: auto minmax(0, 1fr) 74px;
      gap: 4px 8px;
      align-items: center;
    }
    .log > .soft {
      grid-column: 1 / -1;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Profile {
  private readonly doc = inject(DesignService);
  private readonly chosen = inject(SelectionService);
  private readonly motion = inject(MotionService);
  private readonly runs = inject(RunService);
  private readonly analysis = inject(AnalysisService);
  protected readonly trouble = signal('');
  protected readonly log = signal<{ name: string; columns: readonly LogColumn[]; how: string } | undefined>(undefined);
  protected readonly timeColumn = signal(0);
  protected readonly valueColumn = signal(1);
  protected readonly timeUnit = signal('s');
  protected readonly valueUnit = signal('mm');
  protected readonly timeUnits = Object.keys(TIMES).map((value) => ({ value, label: value }));
  private before: Design | undefined;

  protected readonly source = computed(() => this.doc.item(this.chosen.selection()) as unknown as DrivingSource);
  private readonly turning = computed(() => {
    const { structure } = this.motion.worked().compiled;
    const [id] = this.source().joint.split(':');
    const first = structure.firstOf.get(id);
    return first === undefined || structure.coordinates[first].motion !== 'slide';
  });
  private readonly place = computed(() => (this.turning() ? 'deg' : 'mm'));
  private readonly speed = computed(() => (this.turning() ? 'rev/min' : 'mm/s'));
  protected readonly problem = computed(() => profileProblem(this.source()));
  /** Until when it is drawn, s. */
  private readonly until = computed(() => {
    const s = this.source();
    const rows = s.profile === 'ramps' ? s.ramps : s.profile === 'table' ? s.table : undefined;
    if (rows?.length) return rows[rows.length - 1].time || 1;
    if (s.profile === 'part turn' || s.profile === 'to and fro') return s.time ?? 1;
    return this.doc.design().settings?.duration ?? 10;
  });
  private readonly sampled = computed(() => {
    const s = this.source();
    const turning = this.turning();
    const at = motionProfile(s, turning);
    const out = new Float64Array(3);
    const [place, speed] = turning ? [180 / Math.PI, 30 / Math.PI] : [1e3, 1e3];
    const times = new Float64Array(SAMPLES + 1),
      places = new Float64Array(SAMPLES + 1),
      speeds = new Float64Array(SAMPLES + 1);
    for (let k = 0; k <= SAMPLES; k++) {
      times[k] = (this.until() * k) / SAMPLES;
      at(times[k], out);
      places[k] = out[0] * place;
      speeds[k] = out[1] * speed;
    }
    return { times, places, speeds };
  });
  protected readonly charts = computed(() => {
    const s = this.source();
    const { times, places, speeds } = this.sampled();
    const curve = (ys: Float64Array): readonly Curve[] => [{ label: '', xs: times, ys }];
    const points = (rows: readonly { time: number }[], y: (r: never) => number, unit: string) =>
      rows.map((r, k) => {
        const v = y(r as never);
        return { x: r.time, y: v, label: `Point ${k + 1}`, text: `${show(r.time, 5)} s, ${show(v, 5)} ${unit}` };
      });
    return [
      {
        heading: `Place of ${s.name}`,
        unit: this.place(),
        curves: curve(places),
        points: s.profile === 'table' ? points(s.table ?? [], (r: { value: number }) => r.value, this.place()) : [],
      },
      {
        heading: `Speed of ${s.name}`,
        unit: this.speed(),
        curves: curve(speeds),
        points: s.profile === 'ramps' ? points(s.ramps ?? [], (r: { speed: number }) => r.speed, this.speed()) : [],
      },
    ];
  });

  /** A point goes where it is dragged, between its neighbours in time. */
  protected drag({ index, x, y, done }: { index: number; x: number; y: number; done: boolean }): void {
    const s = this.source();
    const key = s.profile === 'ramps' ? 'ramps' : 'table';
    const rows = (key === 'ramps' ? s.ramps : s.table) as readonly { time: number }[];
    const span = this.until() / 1000;
    const low = index ? rows[index - 1].time + span : 0,
      high = index < rows.length - 1 ? rows[index + 1].time - span : Infinity;
    const time = index ? Number(Math.max(low, Math.min(high, x)).toPrecision(5)) : rows[0].time;
    const value = Number(y.toPrecision(4));
    const change = (d: Design): Design => ({
      ...d,
      sources: d.sources.map((o) =>
        o.id === s.id ? { ...o, [key]: rows.map((r, k) => (k === index ? { ...r, time, [key === 'ramps' ? 'speed' : 'value']: value } : r)) } : o,
      ),
    });
    this.before ??= this.doc.design();
    const { before } = this;
    if (!done) return this.doc.preview(change(before));
    this.doc.preview(before);
    this.before = undefined;
    this.trouble.set(this.doc.edit(`Point ${index + 1} of ${s.name}`, change, true) ?? '');
  }

  protected save(): void {
    const { times, places, speeds } = this.sampled();
    const s = this.source();
    const rows =
      s.profile === 'table' && s.table
        ? s.table.map((r) => [r.time, r.value])
        : Array.from(times, (t, k) => [t, places[k], speeds[k]].map((x) => Number(x.toPrecision(10))));
    const heading = ['Time, s', `Place, ${this.place()}`, ...(rows[0].length > 2 ? [`Speed, ${this.speed()}`] : [])];
    giveCsv(writeTable(heading, rows), `${this.doc.design().name} ${s.name}`);
  }

  protected columns = computed(() => (this.log()?.columns ?? []).map((c, value) => ({ value, label: c.unit ? `${c.name}, ${c.unit}` : c.name })));
  protected readonly valueUnits = computed(() =>
    Object.keys(this.turning() ? PLACES.turning : PLACES.sliding).map((value) => ({ value, label: value })),
  );
  protected async take(field: HTMLInputElement): Promise<void> {
    const [file] = field.files ?? [];
    field.value = '';
    if (!file) return;
    const read = await this.analysis.readLog(await file.text());
    this.trouble.set(read.problem ? `${file.name}: ${read.problem}` : '');
    if (!read.columns) return;
    const units = this.turning() ? PLACES.turning : PLACES.sliding;
    const value = read.columns.findIndex((c, k) => k > 0 && c.unit !== undefined && c.unit in units);
    this.timeColumn.set(0);
    this.valueColumn.set(value > 0 ? value : 1);
    this.timeUnit.set(TIMES[read.columns[0].unit ?? ''] ? read.columns[0].unit! : 's');
    this.valueUnit.set(value > 0 ? read.columns[value].unit! : this.place());
    this.log.set({ name: file.name, columns: read.columns, how: dialectText(read.dialect) });
  }
  protected readonly curve = computed(() => {
    const log = this.log();
    if (!log) return undefined;
    const units = this.turning() ? PLACES.turning : PLACES.sliding;
    const c = curveOf(log.columns[this.timeColumn()], log.columns[this.valueColumn()], TIMES[this.timeUnit()], units[this.valueUnit()] ?? 1);
    return 'problem' in c ? { problem: c.problem, time: undefined } : { ...c, problem: '' };
  });
  protected readonly said = computed(() => {
    const c = this.curve();
    if (!c?.time) return c?.problem ?? '';
    const gaps = c.gaps ? `, ${c.gaps === 1 ? 'one line' : `${c.gaps} lines`} without a value bridged` : '';
    return `${c.time.length} values over ${show(c.time[c.time.length - 1], 4)} s${gaps}.`;
  });
  /** The source follows the log from where a run begins; a log of thousands of lines becomes the points that matter. */
  protected async lead(): Promise<void> {
    const c = this.curve();
    const log = this.log();
    const s = this.source();
    if (!c?.time || !log) return;
    const { at, off } = await this.analysis.thinned(c, MOST_POINTS);
    const table = at.map((i) => ({ time: Number(c.time[i].toPrecision(9)), value: Number((c.value[i] - c.value[0]).toPrecision(9)) }));
    const trouble = this.doc.edit(`Lead ${s.name} by ${log.name}`, (d) => ({
      ...d,
      sources: d.sources.map((o) => (o.id === s.id ? { ...o, profile: 'table', table } : o)),
    }));
    this.trouble.set(trouble ?? '');
    if (trouble) return;
    this.log.set(undefined);
    this.doc.said.set(`${s.name} follows the log${off ? `, in ${table.length} points within ${show(off, 2)} ${this.place()}` : ''}`);
  }
  protected layOver(): void {
    const c = this.curve();
    const log = this.log();
    if (!c?.time || !log) return;
    const column = log.columns[this.valueColumn()];
    // It begins at nothing, as a run does.
    this.runs.measured.update((l) => [
      ...l,
      { label: `${column.name} · ${log.name}`, unit: this.place(), xs: c.time, ys: c.value.map((v) => v - c.value[0]) },
    ]);
    this.doc.said.set('It is laid over the charts on Motion, where places are charted');
    this.log.set(undefined);
  }
}
