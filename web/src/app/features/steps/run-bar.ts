import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatSlider, MatSliderThumb } from '@angular/material/slider';
import { show } from '@unirota/core/units';
import { Choice } from '../../ui/choice';
import { RunService } from '../../state/run.service';

const RATES = [0.1, 0.25, 0.5, 1, 2, 5, 10].map((value) => ({ value, label: `× ${value}` }));
/** As many events are marked. */
const MARKS = 500;

/** The time of the run that is shown: marks of what happens, a slider, replay at a pace and in a loop. */
@Component({
  selector: 'uni-run-bar',
  imports: [Choice, MatButton, MatCheckbox, MatSlider, MatSliderThumb],
  template: `
    @if (marks().length) {
      <svg class="marks" viewBox="0 0 1000 12" preserveAspectRatio="none" aria-hidden="true">
        @for (x of marks(); track $index) {
          <path [attr.d]="'M' + x + ' 0v12'" />
        }
      </svg>
    }
    <mat-slider [min]="0" [max]="end()" [step]="end() / 2000" [disabled]="runs.stale()">
      <input i18n-aria-label matSliderThumb aria-label="Time of the run" [value]="runs.at() ?? 0" (valueChange)="runs.go($event)" />
    </mat-slider>
    <div class="row">
      <span i18n class="clock">{{ show(runs.at() ?? 0, 4) }} s of {{ show(end(), 4) }} s</span>
      <button matButton="outlined" type="button" [attr.aria-pressed]="playing()" [disabled]="runs.stale()" (click)="play()">
        {{ playing() ? 'Stop' : 'Replay' }}
      </button>
      <uni-choice i18n-label label="Speed" [options]="rates" [value]="rate()" (picked)="rate.set(+$event)" />
      <mat-checkbox i18n [checked]="loop()" (change)="loop.set($event.checked)">loop</mat-checkbox>
      @if (runs.at() !== undefined) {
        <button i18n matButton type="button" (click)="leave()">Back to the hand</button>
      }
    </div>
  `,
  styles: `
    :host {
      display: block;
      margin: 4px 0;
    }
    .marks {
      display: block;
      height: 10px;
      width: 100%;
      padding: 0 7px;
    }
    .marks path {
      stroke: var(--oxide);
      stroke-width: 2;
      vector-effect: non-scaling-stroke;
    }
    mat-slider {
      width: calc(100% - 16px);
      margin-top: -10px;
      margin-bottom: -8px;
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 4px 10px;
    }
    .clock {
      min-width: 132px;
      font-variant-numeric: tabular-nums;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RunBar {
  protected readonly runs = inject(RunService);
  protected readonly show = show;
  protected readonly rates = RATES;
  protected readonly playing = signal(false);
  protected readonly rate = signal(1);
  protected readonly loop = signal(false);
  protected readonly end = this.runs.lasts;
  protected readonly marks = computed(() => (this.runs.shown()?.result.events ?? []).slice(0, MARKS).map((e) => (1000 * e.time) / this.end()));

  constructor() {
    inject(DestroyRef).onDestroy(() => this.playing.set(false));
  }

  protected leave(): void {
    this.playing.set(false);
    this.runs.leave();
  }
  /**
   * Replays at the clock's pace times the rate, from where it stands
   * or from the beginning; ends where the hand takes the train.
   */
  protected play(): void {
    if (this.playing()) return this.playing.set(false);
    this.playing.set(true);
    let t = this.runs.at() ?? 0;
    if (t >= this.end() - 1e-9) t = 0;
    let last = performance.now(),
      first = true;
    const frame = (now: number): void => {
      if (!first && this.runs.at() === undefined) this.playing.set(false);
      first = false;
      if (!this.playing()) return;
      t += ((now - last) / 1000) * this.rate();
      last = now;
      if (t >= this.end() && this.loop()) t %= this.end();
      this.runs.go(t);
      if (t >= this.end() || this.runs.stale()) return this.playing.set(false);
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  }
}
