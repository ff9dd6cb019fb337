import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatSlider, MatSliderThumb } from '@angular/material/slider';
import { figuresOf, thinned } from '@unirota/core';
import type { Field } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import { Chart } from '../shared/chart';
import { Choice } from '../shared/choice';
import { type Committed, QuantityField } from '../shared/quantity-field';
import { RunService } from '../workbench/run.service';
import { UnitsService } from '../services/units.service';
import { WorkbenchStore } from '../workbench/workbench.store';

const DURATION: Field = { key: 'duration', label: 'Duration', kind: 'number', unit: 's', above: 0, max: 1e6 };
const FRAMES: Field = { key: 'frames', label: 'Instants', kind: 'whole', min: 2, max: 20_000 };
/** As many events stand in the list before it is cut. */
const EVENTS = 60;

/** Runs in time: sources follow their motion profiles, or are let go; what happens stands on the time scale, and any quantity can be charted. */
@Component({
  selector: 'uni-runs',
  imports: [Chart, Choice, MatButton, MatProgressBar, MatSlider, MatSliderThumb, QuantityField],
  template: `
    <h2>Runs in time</h2>
    <div class="add">
      <label for="r-duration" class="soft">Duration</label>
      <uni-quantity-field
        inputId="r-duration"
        [field]="duration"
        [value]="store.design().settings?.duration ?? 10"
        (committed)="set('duration', $event)"
      />
      <label for="r-frames" class="soft">Instants</label>
      <uni-quantity-field inputId="r-frames" [field]="frames" [value]="store.design().settings?.frames ?? 201" (committed)="set('frames', $event)" />
      <button matButton="filled" type="button" [disabled]="runs.progress() !== undefined || !store.source()" (click)="run(false)">Run</button>
      <button matButton="outlined" type="button" [disabled]="runs.progress() !== undefined" (click)="run(true)">Let it go</button>
      @if (runs.progress() !== undefined) {
        <mat-progress-bar [value]="100 * runs.progress()!" aria-label="Computing the run" />
        <button matButton="outlined" type="button" (click)="runs.end()">End here</button>
      }
    </div>
    @if (runs.trouble(); as t) {
      <p class="trouble" role="alert">{{ t }}</p>
    }
    @if (runs.shown(); as r) {
      @if (runs.stale()) {
        <p class="stale" role="status">
          The design has changed since this run.
          <button matButton="outlined" type="button" (click)="run(r.letGo)">Compute it again</button>
        </p>
      }
      <p class="soft" role="status">{{ said() }}</p>
      <div class="time">
        <svg class="marks" viewBox="0 0 1000 12" preserveAspectRatio="none" aria-hidden="true">
          @for (e of events(); track $index) {
            <path [attr.d]="'M' + e.x + ' 0v12'" />
          }
        </svg>
        <mat-slider [min]="0" [max]="end()" [step]="end() / 2000" [disabled]="runs.stale()">
          <input matSliderThumb aria-label="Time of the run" [value]="runs.at() ?? 0" (valueChange)="go($event)" />
        </mat-slider>
        <span class="clock">{{ show(runs.at() ?? 0, 4) }} s of {{ show(end(), 4) }} s</span>
        <button matButton="outlined" type="button" [attr.aria-pressed]="playing()" [disabled]="runs.stale()" (click)="play()">
          {{ playing() ? 'Stop' : 'Replay' }}
        </button>
        @if (runs.at() !== undefined) {
          <button matButton type="button" (click)="leave()">Back to the hand</button>
        }
      </div>
      @if (events().length) {
        <ul class="events" aria-label="What happened">
          @for (e of events(); track $index) {
            <li>
              <button matButton class="plain" type="button" [disabled]="runs.stale()" (click)="go(e.time)">
                {{ show(e.time < 1e-5 * end() ? 0 : e.time, 5) }} s
              </button>
              {{ e.message }}
            </li>
          }
          @if (beyond()) {
            <li class="soft">and {{ beyond() }} more</li>
          }
        </ul>
      }
      <div class="add">
        <input
          type="text"
          aria-label="Find a quantity"
          placeholder="Find a quantity …"
          [value]="sought()"
          (input)="sought.set($any($event.target).value)"
        />
        <uni-choice
          label="Quantities charted"
          [multiple]="true"
          placeholder="none"
          [options]="options()"
          [value]="charted()"
          (pickedMany)="keep($event)"
        />
      </div>
      <div class="charts">
        @for (c of curves(); track c.key) {
          <figure>
            <uni-chart [heading]="c.label" [unit]="c.unit" xLabel="Time" xUnit="s" [xs]="c.x" [ys]="c.y" [cursor]="runs.at()" (moved)="go($event)" />
            <figcaption class="soft">{{ c.figures }}</figcaption>
          </figure>
        }
      </div>
    } @else {
      <p class="soft">
        Run: the sources follow their motion profiles for so long. Let it go: the sources let go, and what then moves moves by weight, springs and
        loads, from where it stands now.
      </p>
    }
  `,
  styleUrl: './step.scss',
  styles: `
    :host {
      padding: 0;
      overflow: visible;
    }
    .add uni-quantity-field {
      width: 118px;
    }
    mat-progress-bar {
      width: 140px;
    }
    .stale {
      color: var(--caution);
    }
    .time {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto auto auto;
      align-items: center;
      gap: 0 10px;
    }
    .marks {
      grid-column: 1;
      height: 10px;
      width: 100%;
      padding: 0 7px;
    }
    .marks path {
      stroke: var(--oxide);
      stroke-width: 2;
      vector-effect: non-scaling-stroke;
    }
    .time mat-slider {
      grid-column: 1;
      grid-row: 2;
      min-width: 0;
    }
    .time .clock,
    .time button {
      grid-row: 2;
    }
    .events {
      list-style: none;
      margin: 6px 0;
      padding: 0;
      max-height: 132px;
      overflow: auto;
    }
    figure {
      margin: 0;
    }
    .add input {
      width: 160px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Runs {
  protected readonly store = inject(WorkbenchStore);
  protected readonly runs = inject(RunService);
  protected readonly units = inject(UnitsService).now;
  protected readonly show = show;
  protected readonly duration = DURATION;
  protected readonly frames = FRAMES;
  protected readonly sought = signal('');
  private readonly picked = signal<readonly string[] | undefined>(undefined);
  protected readonly playing = signal(false);

  constructor() {
    inject(DestroyRef).onDestroy(() => {
      this.playing.set(false);
      if (this.runs.at() !== undefined) this.runs.leave();
    });
  }

  protected readonly end = computed(() => {
    const r = this.runs.shown()?.result;
    return r ? r.time[r.frames - 1] || 1e-9 : 1;
  });
  protected readonly events = computed(() => {
    const r = this.runs.shown()?.result;
    return (r?.events ?? []).slice(0, EVENTS).map((e) => ({ ...e, x: (1000 * e.time) / this.end() }));
  });
  /** How many things happen beyond those that are listed. */
  protected readonly beyond = computed(() => Math.max(0, (this.runs.shown()?.result.events.length ?? 0) - EVENTS));
  protected readonly said = computed(() => {
    const run = this.runs.shown();
    if (!run) return '';
    const { result } = run;
    const n = result.events.length;
    const what = run.letGo ? 'Let go' : 'Run';
    const finds = result.findings.map((f) => f.message).join('; ');
    return `${what}, ${result.frames} instants over ${show(this.end(), 4)} s: ${n === 0 ? 'nothing in particular happens' : n === 1 ? 'one thing happens' : `${n} things happen`}.${finds ? ` ${finds}` : ''}`;
  });

  /** What is charted: as picked, else what the sources give and how the last member moves. */
  protected readonly charted = computed<readonly string[]>(() => {
    const all = this.runs.shown()?.quantities ?? [];
    const picked = this.picked()?.filter((k) => all.some((q) => q.key === k));
    if (picked?.length) return picked;
    const speeds = all.filter((q) => q.key.endsWith(':speed'));
    return [...all.filter((q) => /^source:.*:load$/.test(q.key)).slice(0, 1), ...speeds.slice(-1)].map((q) => q.key);
  });
  protected readonly options = computed(() => {
    const words = this.sought().toLowerCase().split(/\s+/).filter(Boolean);
    const on = new Set(this.charted());
    return (this.runs.shown()?.quantities ?? [])
      .filter((q) => on.has(q.key) || words.every((w) => q.label.toLowerCase().includes(w)))
      .map((q) => ({ value: q.key, label: q.label }));
  });
  protected readonly curves = computed(() => {
    const run = this.runs.shown();
    if (!run) return [];
    const u = this.units();
    return this.charted().flatMap((key) => {
      const q = run.quantities.find((x) => x.key === key);
      if (!q) return [];
      const { x, y } = thinned(run.result.time, (f) => q.at(f), run.result.frames);
      const f = figuresOf(run.result.time, (k) => q.at(k), run.result.frames);
      const figures = `least ${u.number(f.least, q.unit)}, greatest ${u.number(f.greatest, q.unit)}, mean ${u.number(f.mean, q.unit)}, RMS ${u.text(f.rms, q.unit)}`;
      return [{ key, label: q.label, unit: q.unit, x, y, figures }];
    });
  });
  protected keep(keys: string[]): void {
    this.picked.set(keys);
  }

  protected set(key: 'duration' | 'frames', c: Committed): void {
    if (typeof c.value !== 'number') return;
    this.store.editSettings(key === 'duration' ? 'Duration of a run' : 'Instants of a run', { [key]: c.value });
  }
  protected run(letGo: boolean): void {
    const s = this.store.design().settings;
    this.store.play(0);
    this.playing.set(false);
    if (this.runs.at() !== undefined) this.runs.leave();
    void this.runs.run({ duration: s?.duration ?? 10, frames: s?.frames ?? 201, letGo });
  }
  protected go(time: number): void {
    this.runs.go(time);
  }
  protected leave(): void {
    this.playing.set(false);
    this.runs.leave();
  }
  /** Replays at the clock's own pace, from where it stands or from the beginning. */
  protected play(): void {
    if (this.playing()) return this.playing.set(false);
    this.playing.set(true);
    let t = this.runs.at() ?? 0;
    if (t >= this.end() - 1e-9) t = 0;
    let last = performance.now();
    const frame = (now: number): void => {
      if (!this.playing()) return;
      t += (now - last) / 1000;
      last = now;
      this.runs.go(t);
      if (t >= this.end() || this.runs.stale()) return this.playing.set(false);
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  }
}
