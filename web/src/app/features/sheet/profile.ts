import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { motionProfile, profileLength, profileProblem, sourcePeaks, withItem } from '@unirota/core';
import type { Design, DrivingSource } from '@unirota/core/document';
import { type LogColumn, curveOf, dialectText, writeTable } from '@unirota/core/formats';
import { show } from '@unirota/core/units';
import { AnalysisService } from '../../state/analysis.service';
import { Chart, type Curve } from '../../ui/chart';
import { Choice } from '../../ui/choice';
import { downloadCsv } from '../../state/downloads';
import { RunService } from '../../state/run.service';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { MotionService } from '../../state/motion.service';
import { Named } from '../../ui/named';

const SAMPLES = 240;
/** Points of a log that lead a source at most; more cannot be seen, nor edited. */
const MOST_POINTS = 400;
const TIMES: Record<string, number> = { s: 1, ms: 1e-3, min: 60, h: 3600 };
const SPEEDS: { turning: Record<string, number>; sliding: Record<string, number> } = {
  turning: { 'rev/min': 1, '1/min': 1, rpm: 1, 'rev/s': 60, '1/s': 60, 'deg/s': 1 / 6, 'rad/s': 30 / Math.PI },
  sliding: { 'mm/s': 1, 'm/s': 1000, 'm/min': 1000 / 60, 'in/s': 25.4 },
};
const PLACES: { turning: Record<string, number>; sliding: Record<string, number> } = {
  turning: { deg: 1, rev: 360, rad: 180 / Math.PI },
  sliding: { mm: 1, cm: 10, m: 1000, in: 25.4 },
};

/**
 * How a source moves over time: place and speed as curves, points of a table
 * or of ramps to be dragged, files out and in, and logs of instruments.
 */
@Component({
  selector: 'uni-profile',
  imports: [Named, Chart, Choice, MatButton],
  template: `
    <h3 i18n>Motion over time</h3>
    @if (problem(); as p) {
      <p class="soft">{{ p.message }}.</p>
    } @else {
      @if (through(); as t) {
        <p [class.trouble]="t.trouble" role="status">{{ t.text }}</p>
      }
      @for (c of charts(); track c.heading) {
        <uni-chart
          i18n-xLabel
          [heading]="c.heading"
          [unit]="c.unit"
          xLabel="Time"
          xUnit="s"
          [curves]="c.curves"
          [points]="c.points"
          (dragged)="drag($event)"
        />
      }
    }
    <div class="buttons">
      <button i18n matButton="outlined" type="button" (click)="save()">Save as CSV</button>
      <button i18n matButton="outlined" type="button" (click)="file.click()">Import …</button>
      <input
        i18n-aria-label
        #file
        type="file"
        hidden
        accept=".csv,.txt,text/csv,text/plain"
        aria-label="Log or table of motion"
        (change)="take(file)"
      />
    </div>
    @if (trouble(); as t) {
      <p class="trouble" role="alert">{{ t }}</p>
    }
    @if (log(); as l) {
      <div class="log" role="group" i18n-uniName uniName="Columns of {{ l.name }}">
        <span i18n class="soft">{{ l.name }}, with {{ l.how }}</span>
        <span i18n id="log-t">Time</span>
        <uni-choice
          i18n-label
          labelledBy="log-t"
          label="Column of the time"
          [options]="columns()"
          [value]="timeColumn()"
          (picked)="timeColumn.set(+$event)"
        />
        <uni-choice i18n-label label="Unit of the time" [options]="timeUnits" [value]="timeUnit()" (picked)="timeUnit.set($event)" />
        <span id="log-v">{{ isSpeed() ? 'Speed' : 'Place' }}</span>
        <uni-choice
          i18n-label
          labelledBy="log-v"
          label="Column of the motion"
          [options]="columns()"
          [value]="valueColumn()"
          (picked)="valueColumn.set(+$event)"
        />
        <uni-choice i18n-label label="Unit of the motion" [options]="valueUnits()" [value]="valueUnit()" (picked)="valueUnit.set($event)" />
      </div>
      @if (curve(); as c) {
        <p class="soft">{{ said() }}</p>
        <div class="buttons">
          <button i18n matButton="filled" type="button" [disabled]="!c.time" (click)="lead()">Lead the source by it</button>
          @if (!isSpeed()) {
            <button i18n matButton="outlined" type="button" [disabled]="!c.time" (click)="layOver()">Overlay on the runs</button>
          }
          <button i18n matButton type="button" (click)="log.set(undefined)">Leave it</button>
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
  private readonly units = inject(UnitsService).now;
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
    const s = this.source();
    const [id] = ((s.profile ?? 'constant speed') === 'constant speed' ? s.joint : (s.motionOf ?? s.joint)).split(':');
    const first = structure.firstOf.get(id);
    return first === undefined || structure.coordinates[first].motion !== 'slide';
  });
  private readonly place = computed(() => (this.turning() ? 'deg' : 'mm'));
  private readonly speed = computed(() => (this.turning() ? 'rev/min' : 'mm/s'));
  protected readonly problem = computed(() => profileProblem(this.source()));
  /** Until when it is drawn, s. */
  private readonly until = computed(() => {
    const s = this.source();
    return profileLength(s, this.turning()) || (this.doc.design().settings?.duration ?? 10);
  });
  private readonly nameOf = (joint: string | undefined): string => this.doc.design().joints.find((j) => j.id === joint?.split(':')[0])?.name ?? '';
  /** Whose motion it is. */
  private readonly mover = computed(() => {
    const s = this.source();
    return s.motionOf === undefined || (s.profile ?? 'constant speed') === 'constant speed' ? s.name : this.nameOf(s.motionOf);
  });
  /** What the source does for a motion that is stated of another joint. */
  protected readonly through = computed(() => {
    const s = this.source();
    const { compiled } = this.motion.worked();
    const index = compiled.sources.findIndex((x) => x.source.id === s.id);
    if (index < 0 || s.motionOf === undefined || (s.profile ?? 'constant speed') === 'constant speed') return undefined;
    const p = sourcePeaks(compiled, index, this.until());
    if (p.problem !== undefined) return { text: `${p.problem}.`, trouble: true };
    if (p.ends !== undefined) return { text: $localize`The train does not reach this motion from ${show(p.ends, 3)} s on.`, trouble: true };
    const slides = compiled.structure.coordinates[compiled.sources[index].coordinate].motion === 'slide';
    const u = this.units();
    const speed = slides ? u.text(p.speed * 1e3, 'mm/s', 4) : u.text((p.speed * 30) / Math.PI, 'rev/min', 4);
    const way = slides ? u.text(p.way * 1e3, 'mm', 5) : u.text(p.way / (2 * Math.PI), 'rev', 5);
    return { text: $localize`${s.name}:source:: travels ${way}, at up to ${speed}.`, trouble: false };
  });
  private readonly sampled = computed(() => {
    const s = this.source();
    const turning = this.turning();
    const at = motionProfile(s, turning);
    const out = new Float64Array(3);
    const [place, speed] = turning ? [180 / Math.PI, 30 / Math.PI] : [1e3, 1e3];
    const times = new Float64Array(SAMPLES + 1),
      places = new Float64Array(SAMPLES + 1),
      speeds = new Float64Array(SAMPLES + 1),
      pushes = new Float64Array(SAMPLES + 1);
    for (let k = 0; k <= SAMPLES; k++) {
      times[k] = (this.until() * k) / SAMPLES;
      at(times[k], out);
      places[k] = out[0] * place;
      speeds[k] = out[1] * speed;
      pushes[k] = out[2] * (turning ? 1 : 1e3);
    }
    return { times, places, speeds, pushes };
  });
  protected readonly charts = computed(() => {
    const s = this.source();
    const { times, places, speeds, pushes } = this.sampled();
    const curve = (ys: Float64Array): readonly Curve[] => [{ label: '', xs: times, ys }];
    const points = (rows: readonly { time: number }[], y: (r: never) => number, unit: string) =>
      rows.map((r, k) => {
        const v = y(r as never);
        return { x: r.time, y: v, label: $localize`Point ${k + 1}`, text: `${show(r.time, 5)} s, ${show(v, 5)} ${unit}` };
      });
    return [
      {
        heading: $localize`Place of ${this.mover()}`,
        unit: this.place(),
        curves: curve(places),
        points: s.profile === 'table' ? points(s.table ?? [], (r: { value: number }) => r.value, this.place()) : [],
      },
      {
        heading: $localize`Speed of ${this.mover()}`,
        unit: this.speed(),
        curves: curve(speeds),
        points: s.profile === 'ramps' ? points(s.ramps ?? [], (r: { speed: number }) => r.speed, this.speed()) : [],
      },
      ...(pushes.some((a) => a !== 0)
        ? [{ heading: $localize`Acceleration of ${this.mover()}`, unit: this.turning() ? 'rad/s²' : 'mm/s²', curves: curve(pushes), points: [] }]
        : []),
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
    this.trouble.set(this.doc.edit($localize`Point ${index + 1} of ${s.name}`, change, true) ?? '');
  }

  protected save(): void {
    const { times, places, speeds } = this.sampled();
    const s = this.source();
    const rows =
      s.profile === 'table' && s.table
        ? s.table.map((r) => [r.time, r.value])
        : Array.from(times, (t, k) => [t, places[k], speeds[k]].map((x) => Number(x.toPrecision(10))));
    const heading = ['Time, s', $localize`Place, ${this.place()}`, ...(rows[0].length > 2 ? [$localize`Speed, ${this.speed()}`] : [])];
    downloadCsv(writeTable(heading, rows), `${this.doc.design().name} ${s.name}`);
  }

  protected columns = computed(() => (this.log()?.columns ?? []).map((c, value) => ({ value, label: c.unit ? `${c.name}, ${c.unit}` : c.name })));
  protected readonly valueUnits = computed(() =>
    [PLACES, SPEEDS].flatMap((all) => Object.keys(this.turning() ? all.turning : all.sliding)).map((value) => ({ value, label: value })),
  );
  /** Units of places and of speeds, by what they are in deg or mm, rev/min or mm/s. */
  private readonly scales = computed<Record<string, number>>(() => {
    const of = this.turning() ? 'turning' : 'sliding';
    return { ...PLACES[of], ...SPEEDS[of] };
  });
  /** Whether the column holds speeds: they lead by ramps, the places being what they come to. */
  protected readonly isSpeed = computed(() => this.valueUnit() in (this.turning() ? SPEEDS.turning : SPEEDS.sliding));
  protected async take(field: HTMLInputElement): Promise<void> {
    const [file] = field.files ?? [];
    field.value = '';
    if (!file) return;
    const read = await this.analysis.readLog(await file.text());
    this.trouble.set(read.problem ? `${file.name}: ${read.problem}` : '');
    if (!read.columns) return;
    const units = this.scales();
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
    const units = this.scales();
    const c = curveOf(log.columns[this.timeColumn()], log.columns[this.valueColumn()], TIMES[this.timeUnit()], units[this.valueUnit()] ?? 1);
    return 'problem' in c ? { problem: c.problem, time: undefined } : { ...c, problem: '' };
  });
  protected readonly said = computed(() => {
    const c = this.curve();
    if (!c?.time) return c?.problem ?? '';
    const gaps = c.gaps ? `, ${c.gaps === 1 ? $localize`one line` : `${c.gaps} lines`} without a value bridged` : '';
    return $localize`${c.time.length} values over ${show(c.time[c.time.length - 1], 4)} s${gaps}.`;
  });
  /** The source follows the log from where a run begins; a log of thousands of lines becomes the points that matter. */
  protected async lead(): Promise<void> {
    const c = this.curve();
    const log = this.log();
    const s = this.source();
    if (!c?.time || !log) return;
    const { at, off } = await this.analysis.thinned(c, MOST_POINTS);
    const first = this.isSpeed() ? 0 : c.value[0];
    const rows = at.map((i) => ({ time: Number(c.time[i].toPrecision(9)), value: Number((c.value[i] - first).toPrecision(9)) }));
    const lead: Partial<DrivingSource> = this.isSpeed()
      ? { profile: 'ramps', ramps: rows.map((r) => ({ time: r.time, speed: r.value })) }
      : { profile: 'table', table: rows };
    const trouble = this.doc.edit($localize`Lead ${s.name} by ${log.name}`, (d) => withItem(d, s.id, lead));
    this.trouble.set(trouble ?? '');
    if (trouble) return;
    this.log.set(undefined);
    this.doc.said.set(
      $localize`${s.name} follows the log${off ? `, in ${rows.length} points within ${show(off, 2)} ${this.isSpeed() ? this.speed() : this.place()}` : ''}`,
    );
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
    this.doc.said.set($localize`It is laid over the charts on Motion, where places are charted`);
    this.log.set(undefined);
  }
}
