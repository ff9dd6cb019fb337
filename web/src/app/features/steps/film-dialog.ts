import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogRef, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import { show } from '@unirota/core/units';
import { Choice } from '../../ui/choice';
import type { FilmOrder } from '../../engine/film.worker';
import type { FilmFrame } from '../../scene/film';
import { type FilmService, faceOf } from '../../state/film.service';

/** What a film is made of: the run's length, its pictures, and the chart that may stand beneath. */
export interface FilmOf {
  readonly name: string;
  /** s */
  readonly lasts: number;
  readonly films: FilmService;
  /** What the worker needs to draw it by itself; undefined where only the page knows what is seen (arrows of forces). */
  readonly alone?: Pick<FilmOrder, 'design' | 'result' | 'look'>;
  go(time: number): void;
  draw(into: OffscreenCanvasRenderingContext2D, width: number, height: number): void;
  /** No more pictures are wanted. */
  drawn(): void;
  /** A chart as a picture, and where in it, as parts of its width, its times begin and end. */
  chart?(): Promise<{ picture: HTMLImageElement; from: number; to: number } | undefined>;
}

const SIZES = [
  [854, 480],
  [1280, 720],
  [1920, 1080],
] as const;
const RATES = [12, 24, 30, 60];
const PACES = [0.1, 0.25, 0.5, 1, 2, 5, 10];
/** The chart's part of the height. */
const BENEATH = 0.34;
const MOST_PICTURES = 7200;

/**
 * A film of the run that is shown: size, pictures a second, pace, with
 * the first chart beneath or without; in the view that the layout has.
 */
@Component({
  selector: 'uni-film-dialog',
  imports: [Choice, MatButton, MatCheckbox, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle, MatProgressBar],
  template: `
    <h2 i18n mat-dialog-title>Film of {{ of.name }}</h2>
    <mat-dialog-content>
      <div class="given">
        <span i18n id="f-size">Size</span>
        <uni-choice i18n-label labelledBy="f-size" label="Size" [options]="sizes" [value]="size()" (picked)="size.set(+$event)" />
        <span i18n id="f-rate">Pictures a second</span>
        <uni-choice i18n-label labelledBy="f-rate" label="Pictures a second" [options]="rates" [value]="rate()" (picked)="rate.set(+$event)" />
        <span i18n id="f-pace">Speed</span>
        <uni-choice i18n-label labelledBy="f-pace" label="Speed of the film" [options]="paces" [value]="pace()" (picked)="pace.set(+$event)" />
      </div>
      <mat-checkbox i18n [checked]="chart()" (change)="chart.set($event.checked)">with the first chart beneath</mat-checkbox>
      <p i18n class="soft">
        {{ show(of.lasts / pace(), 4) }} s, {{ pictures() }} pictures, in the view and colours that the layout has now.
        @if (pictures() > most) {
          That is more than {{ most }}: choose a quicker pace or fewer pictures a second.
        }
      </p>
      @if (films.done() !== undefined) {
        <mat-progress-bar i18n-aria-label [value]="100 * films.done()!" aria-label="Making the film" />
      }
      @if (films.trouble(); as t) {
        <p class="trouble" role="alert">{{ t }}</p>
      }
      @if (films.said(); as s) {
        <p role="status">{{ s }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (films.done() !== undefined) {
        <button i18n matButton="outlined" type="button" (click)="end()">Stop film</button>
        @if (of.alone) {
          <button i18n matButton type="button" mat-dialog-close>Continue working</button>
        }
      } @else {
        <button i18n matButton type="button" mat-dialog-close>Close</button>
        <button i18n matButton="filled" type="button" [disabled]="pictures() > most" (click)="make()">Make the film</button>
      }
    </mat-dialog-actions>
  `,
  styles: `
    .given {
      display: grid;
      grid-template-columns: auto 160px;
      gap: 6px 14px;
      align-items: center;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FilmDialog {
  protected readonly of = inject<FilmOf>(MAT_DIALOG_DATA);
  private readonly dialog = inject(MatDialogRef);
  protected readonly show = show;
  protected readonly sizes = SIZES.map(([w, h], value) => ({ value, label: `${w} × ${h}` }));
  protected readonly rates = RATES.map((value) => ({ value, label: String(value) }));
  protected readonly paces = PACES.map((value) => ({ value, label: `× ${value}` }));
  protected readonly size = signal(1);
  protected readonly rate = signal(24);
  protected readonly pace = signal(1);
  protected readonly chart = signal(false);
  protected readonly films = this.of.films;
  protected readonly most = MOST_PICTURES;
  protected ended = false;

  protected pictures(): number {
    return Math.round((this.of.lasts / this.pace()) * this.rate()) + 1;
  }

  protected end(): void {
    this.ended = true;
    if (this.of.alone) this.films.end();
  }

  protected async make(): Promise<void> {
    this.ended = false;
    const [width, height] = SIZES[this.size()];
    const { lasts, name, alone } = this.of;
    const [rate, pace] = [this.rate(), this.pace()];
    const chart = this.chart() ? await this.of.chart?.() : undefined;
    const above = chart ? Math.round(height * (1 - BENEATH)) : height;
    const css = getComputedStyle(document.body);
    const [ink, brass] = ['--ink', '--brass-line'].map((v) => css.getPropertyValue(v));
    const frame: FilmFrame = { width, height, above, lasts, ground: css.backgroundColor, ink, brass, chart };
    if (alone) {
      // A worker has no images of the page, but bitmaps.
      const beneath = chart && { ...chart, picture: await createImageBitmap(chart.picture) };
      const face = faceOf('IBM Plex Sans Condensed', '600');
      return this.films.make({ ...alone, frame: { ...frame, chart: beneath }, rate, pace, face }, name);
    }
    this.films.begin();
    this.dialog.disableClose = true;
    try {
      const { makeFilm, drawFrame } = await import('../../scene/film');
      const film = await makeFilm({
        width,
        height,
        rate,
        length: lasts / pace,
        draw: (into, time) => {
          const at = Math.min(lasts, time * pace);
          this.of.go(at);
          drawFrame(into, frame, at, (w, h) => this.of.draw(into, w, h), `${show(at, 4)} s`);
        },
        progress: (part) => {
          this.films.done.set(part);
          return !this.ended;
        },
      });
      this.films.give(film, name);
    } catch (e) {
      this.films.trouble.set($localize`The film was not made: ${(e as Error).message}`);
    } finally {
      this.of.drawn();
      this.films.done.set(undefined);
      this.dialog.disableClose = false;
    }
  }
}
