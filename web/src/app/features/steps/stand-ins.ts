import { ChangeDetectionStrategy, Component, DestroyRef, computed, effect, inject, input, linkedSignal, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormRecord } from '@angular/forms';
import { NgTemplateOutlet } from '@angular/common';
import { MatButton } from '@angular/material/button';
import { MatExpansionPanel, MatExpansionPanelHeader } from '@angular/material/expansion';
import { MatProgressBar } from '@angular/material/progress-bar';
import { type DriveLoad, driveLoad } from '@unirota/core';
import { writeTable } from '@unirota/core/formats';
import { lineAt } from '@unirota/core/math';
import { show, motionUnit } from '@unirota/core/units';
import { DRIVE_FIELDS, SENSOR_FIELDS, type DriveReadings, type SensorReadings } from '@unirota/contract/stand-ins';
import { AnalysisService } from '../../state/analysis.service';
import { playOnStandIn } from '../../engine/stand-in';
import { downloadCsv } from '../../state/downloads';
import { UnitsService } from '../../state/units.service';
import { Choice } from '../../ui/choice';
import { QuantityField, quantityControl } from '../../ui/quantity-field';
import { RunService } from '../../state/run.service';

const PACES = [
  { value: 0, label: $localize`maximum` },
  { value: 1, label: $localize`in step with the clock` },
  { value: 10, label: $localize`ten times as fast` },
];
/** Points of a kept run that follows what was recorded. */
const MOST_POINTS = 400;
/** Ten amperes to the limit, to begin with, and half as much again as the run needs. */
const AMPERES = 10,
  MORE = 1.5;
const two = (x: number): number => Number(x.toPrecision(2));

const controlsOf = (values: Record<string, number>): Record<string, ReturnType<typeof quantityControl>> =>
  Object.fromEntries(Object.entries(values).map(([key, v]) => [key, quantityControl(v)]));
const valuesOf = (form: FormRecord<ReturnType<typeof quantityControl>>): Record<string, number> =>
  Object.fromEntries(Object.entries(form.getRawValue()).map(([key, v]) => [key, Number(v)]));

/** What became of a run that was played on the stand-in drive. */
interface Played {
  readonly sentence: string;
  readonly readings: DriveReadings;
  readonly slide: boolean;
}

/**
 * Stand-ins for outside devices: the run that is shown is played on a simulated
 * drive, and its log comes back as a run; a simulated sensor reads what is charted.
 */
@Component({
  selector: 'uni-stand-ins',
  imports: [Choice, MatButton, MatExpansionPanel, MatExpansionPanelHeader, MatProgressBar, NgTemplateOutlet, QuantityField],
  template: `
    <mat-expansion-panel class="further mat-elevation-z0">
      <mat-expansion-panel-header i18n>Stand-ins for a drive and a sensor</mat-expansion-panel-header>
      <p i18n class="soft">
        Simulated devices of the server, to be tried before the real ones are there. The stand-in drive is set the speed of the run, has the train’s
        load and inertia at its shaft, and answers with what its encoder counts and what current it takes.
      </p>
      <div class="add">
        @if (load(); as l) {
          @for (f of driveFields; track f.key) {
            <ng-container
              [ngTemplateOutlet]="field"
              [ngTemplateOutletContext]="{ $implicit: f, unit: unitOf(f.key, l.slide), control: drive.controls[f.key] }"
            />
          }
          <uni-choice i18n-label label="Speed of the stand-ins" [options]="paces" [value]="pace()" (picked)="pace.set(+$event)" />
          <button i18n matButton="outlined" type="button" [disabled]="busy() || runs.stale() || driveState() !== 'VALID'" (click)="play(l)">
            Play it on the stand-in drive
          </button>
        } @else {
          <span i18n class="soft">The stand-in drive plays a run that one source leads and in which nothing else is free.</span>
        }
      </div>
      @if (played(); as p) {
        <p role="status">
          {{ p.sentence }}
          <button i18n matButton="outlined" type="button" (click)="saveDrive(p)">Save the log as CSV</button>
        </p>
      }
      <div class="add">
        <span i18n class="soft">The stand-in sensor reads</span>
        <uni-choice i18n-label label="What the stand-in sensor reads" [options]="readable()" [value]="reads()" (picked)="reads.set('' + $event)" />
        @for (f of sensorFields; track f.key) {
          <ng-container
            [ngTemplateOutlet]="field"
            [ngTemplateOutletContext]="{ $implicit: f, unit: sensorUnit(f.key), control: sensor.controls[f.key] }"
          />
        }
        <button i18n matButton="outlined" type="button" [disabled]="busy() || !quantity() || sensorState() !== 'VALID'" (click)="read()">
          Read it with the stand-in sensor
        </button>
      </div>
      @if (log(); as l) {
        <p role="status">
          {{ l.sentence }}
          <button i18n matButton="outlined" type="button" (click)="saveSensor(l)">Save the readings as CSV</button>
        </p>
      }
      @if (busy()) {
        <div class="add">
          <mat-progress-bar i18n-aria-label [value]="100 * (done() ?? 0)" aria-label="The stand-in plays" />
          <button i18n matButton="outlined" type="button" (click)="end()">End it</button>
        </div>
      }
      @if (trouble()) {
        <p class="trouble" role="alert">{{ trouble() }}</p>
      }
    </mat-expansion-panel>
    <ng-template #field let-f let-unit="unit" let-control="control">
      <span class="pair">
        <label class="soft" [for]="'si-' + f.key">{{ f.label }}</label>
        <uni-quantity-field [inputId]="'si-' + f.key" [field]="f" [unit]="unit" [control]="control" />
      </span>
    </ng-template>
  `,
  styleUrls: ['./section.scss', './runs.scss'],
  styles: `
    mat-expansion-panel {
      margin: 8px 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StandIns {
  protected readonly runs = inject(RunService);
  private readonly analysis = inject(AnalysisService);
  protected readonly units = inject(UnitsService).now;
  /** Keys of the quantities that are charted: what the sensor may read. */
  readonly charted = input.required<readonly string[]>();
  protected readonly driveFields = DRIVE_FIELDS;
  protected readonly sensorFields = SENSOR_FIELDS;
  protected readonly paces = PACES;
  protected readonly pace = signal(0);
  protected readonly trouble = signal('');
  protected readonly done = signal<number | undefined>(undefined);
  protected readonly busy = computed(() => this.done() !== undefined);
  private readonly run = computed(() => this.runs.shown());
  protected readonly load = computed(() => {
    const run = this.run();
    return run && !run.kept.letGo ? driveLoad(run.compiled, run.result) : undefined;
  });
  /** A drive that could do it, to begin with. */
  protected readonly drive = new FormRecord(controlsOf({ limit: AMPERES, constant: 1, inertia: 1, counts: 4096 }));
  protected readonly driveState = toSignal(this.drive.statusChanges, { initialValue: this.drive.status });
  private readonly able = computed(() => {
    const [run, l] = [this.run(), this.load()];
    const most = run && l ? run.result.input.slice(0, run.result.frames).reduce((m, x) => Math.max(m, Math.abs(x)), 0) : 1;
    const inertia = l ? l.inertia.reduce((s, x) => s + x, 0) / l.inertia.length : 1;
    return { limit: AMPERES, constant: two((MORE * (most || 1)) / AMPERES), inertia: two(0.1 * (inertia || 1)), counts: l?.slide ? 100_000 : 4096 };
  });
  protected readonly played = linkedSignal<Played | undefined>(() => (this.run(), undefined));
  protected readonly sensor = new FormRecord(controlsOf({ rate: 20, resolution: 0.1, noise: 0.05, missing: 2 }));
  protected readonly sensorState = toSignal(this.sensor.statusChanges, { initialValue: this.sensor.status });
  private readonly ofCharted = computed(() => (this.run()?.quantities ?? []).filter((q) => this.charted().includes(q.key)));
  protected readonly readable = computed(() => this.ofCharted().map((q) => ({ value: q.key, label: q.label })));
  protected readonly reads = linkedSignal(() => this.ofCharted().at(-1)?.key ?? '');
  protected readonly quantity = computed(() => this.ofCharted().find((q) => q.key === this.reads()));
  protected readonly log = linkedSignal<(SensorReadings & { sentence: string; label: string; unit: string }) | undefined>(
    () => (this.run(), undefined),
  );
  private ender = new AbortController();

  constructor() {
    effect(() => this.drive.setValue(this.able()));
    inject(DestroyRef).onDestroy(() => this.ender.abort());
  }

  protected unitOf(key: string, slide: boolean): string {
    return { limit: 'A', constant: slide ? 'N/A' : 'N·m/A', inertia: motionUnit(slide).inertia, counts: slide ? 'a metre' : 'a turn' }[key] ?? '';
  }
  protected sensorUnit(key: string): string {
    return key === 'rate' ? '' : key === 'missing' ? '%' : this.units().of(this.quantity()?.unit);
  }
  protected end(): void {
    this.ender.abort();
  }

  private async at<R>(work: (signal: AbortSignal, heard: (done: number) => void) => Promise<R>): Promise<void> {
    this.trouble.set('');
    this.done.set(0);
    this.ender = new AbortController();
    try {
      await work(this.ender.signal, (d) => this.done.set(d));
    } catch (e) {
      this.trouble.set((e as Error).message);
    } finally {
      this.done.set(undefined);
    }
  }

  protected async play(l: DriveLoad): Promise<void> {
    const { limit, constant, inertia, counts } = valuesOf(this.drive);
    const [run, pace] = [this.run(), this.pace()];
    if (!run) return;
    await this.at(async (signal, heard) => {
      const r: DriveReadings = { time: [], counts: [], speed: [], effort: [], current: [] };
      const list = (x: Float64Array): number[] => Array.from(x);
      await playOnStandIn(
        {
          device: 'drive',
          limit,
          constant,
          inertia,
          counts,
          slide: l.slide,
          pace,
          time: list(l.time),
          place: list(l.place),
          speed: list(l.speed),
          effort: list(l.effort),
          load: list(l.inertia),
        },
        (part, done) => {
          for (const key of ['time', 'counts', 'speed', 'effort', 'current'] as const) r[key].push(...part[key]);
          heard(done);
        },
        signal,
      );
      if (r.time.length < 2) return;
      await this.keep(r, l);
    });
  }

  /** The log as a run of its own, and what the drive gave as curves over the charts. */
  private async keep(r: DriveReadings, l: DriveLoad): Promise<void> {
    const { counts, limit } = valuesOf(this.drive);
    const slide = l.slide;
    const [speedUnit, effortUnit, by] = slide ? ['mm/s', 'N', 1e3] : ['rev/min', 'N·m', 30 / Math.PI];
    const xs = Float64Array.from(r.time);
    const speeds = Float64Array.from(r.speed, (v) => v * by);
    const lags = r.time.map((t, i) => Math.abs(lineAt(l.time, l.speed, l.time[0] + t) - r.speed[i]) * by);
    const limited = r.current.filter((i) => Math.abs(i) >= limit * (1 - 1e-9)).length / r.current.length;
    const place = Float64Array.from(r.counts, (n) => (n / counts) * (slide ? 1e3 : 360));
    const { at } = await this.analysis.thinned({ time: xs, value: place, gaps: 0 }, MOST_POINTS);
    const recorded = at.map((i) => ({ time: xs[i], value: Number(place[i].toPrecision(9)) }));
    const u = this.units();
    const sentence = $localize`The stand-in drive played ${show(r.time[r.time.length - 1], 4)} s: it is off the speed that was set by ${u.text(Math.max(...lags), speedUnit, 3)} at most, takes ${show(
      r.current.reduce((m, i) => Math.max(m, Math.abs(i)), 0),
      3,
    )} A at most, is at its limit for ${show(100 * limited, 2)} % of the time, and ends at ${r.counts[r.counts.length - 1]} counts.`;
    const trouble = await this.runs.keepRecorded($localize`On the stand-in drive`, recorded, r.time[r.time.length - 1]);
    if (trouble) throw new Error(trouble);
    this.runs.measured.update((m) => [
      ...m.filter((c) => !c.label.startsWith('Stand-in drive')),
      { label: $localize`Stand-in drive: ${slide ? 'force' : 'torque'}`, unit: effortUnit, xs, ys: Float64Array.from(r.effort) },
      { label: $localize`Stand-in drive: speed`, unit: speedUnit, xs, ys: speeds },
    ]);
    this.played.set({ sentence, readings: r, slide });
  }

  protected async read(): Promise<void> {
    const [run, q] = [this.run(), this.quantity()];
    if (!run || !q) return;
    const { rate, resolution, noise, missing } = valuesOf(this.sensor);
    const { time, frames } = run.result;
    const u = this.units();
    // What a person states and sees in the unit shown is sent in the unit that is kept.
    const kept = (x: number): number => x / u.factor(q.unit);
    await this.at(async (signal, heard) => {
      const l = { time: [] as number[], value: [] as (number | null)[] };
      await playOnStandIn(
        {
          device: 'sensor',
          rate,
          resolution: kept(resolution),
          noise: kept(noise),
          missing,
          pace: this.pace(),
          time: Array.from(time.subarray(0, frames)),
          value: Array.from({ length: frames }, (_, k) => q.at(k)),
        },
        (part, done) => {
          l.time.push(...part.time);
          l.value.push(...part.value);
          heard(done);
        },
        signal,
      );
      const there = l.time.map((_, i) => i).filter((i) => l.value[i] !== null);
      const failed = l.time.length - there.length;
      this.runs.measured.update((m) => [
        ...m.filter((c) => c.label !== `Stand-in sensor: ${q.label}`),
        {
          label: $localize`Stand-in sensor: ${q.label}`,
          unit: q.unit,
          xs: Float64Array.from(there, (i) => l.time[i]),
          ys: Float64Array.from(there, (i) => l.value[i]!),
        },
      ]);
      this.log.set({
        ...l,
        label: q.label,
        unit: q.unit,
        sentence: $localize`The stand-in sensor gave ${l.time.length} readings of ${q.label}, ${failed} of which failed.`,
      });
    });
  }

  protected saveDrive({ readings: r, slide }: Played): void {
    const by = motionUnit(slide).speedsPerSi;
    const { counts } = valuesOf(this.drive);
    downloadCsv(
      writeTable(
        [
          'Time, s',
          'Encoder, counts',
          slide ? 'Place, mm' : 'Place, deg',
          slide ? 'Speed, mm/s' : 'Speed, rev/min',
          slide ? 'Force, N' : 'Torque, N·m',
          'Current, A',
        ],
        r.time.map((t, i) =>
          [t, r.counts[i], (r.counts[i] / counts) * (slide ? 1e3 : 360), r.speed[i] * by, r.effort[i], r.current[i]].map((x) =>
            Number(x.toPrecision(9)),
          ),
        ),
      ),
      'stand-in drive',
    );
  }
  protected saveSensor(l: SensorReadings & { label: string; unit: string }): void {
    downloadCsv(
      writeTable(
        ['Time, s', `${l.label}, ${l.unit}`],
        l.time.map((t, i) => [t, l.value[i] ?? '']),
      ),
      'stand-in sensor',
    );
  }
}
