import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogRef, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import { show } from '@unirota/core/units';
import { giveFile } from '../services/take-away';
import { Choice } from '../shared/choice';

/** What a film is made of: the run's length, its pictures, and the chart that may stand beneath. */
export interface FilmOf {
  readonly name: string;
  /** s */
  readonly lasts: number;
  go(time: number): void;
  draw(into: CanvasRenderingContext2D, width: number, height: number): void;
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

/** A film of the run that is shown: size, pictures a second, pace, with the first chart beneath or without; in the view that the layout has. */
@Component({
  selector: 'uni-film-dialog',
  imports: [Choice, MatButton, MatCheckbox, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle, MatProgressBar],
  template: `
    <h2 mat-dialog-title>Film of {{ of.name }}</h2>
    <mat-dialog-content>
      <div class="given">
        <span id="f-size">Size</span>
        <uni-choice labelledBy="f-size" label="Size" [options]="sizes" [value]="size()" (picked)="size.set(+$event)" />
        <span id="f-rate">Pictures a second</span>
        <uni-choice labelledBy="f-rate" label="Pictures a second" [options]="rates" [value]="rate()" (picked)="rate.set(+$event)" />
        <span id="f-pace">Speed</span>
        <uni-choice labelledBy="f-pace" label="Speed of the film" [options]="paces" [value]="pace()" (picked)="pace.set(+$event)" />
      </div>
      <mat-checkbox [checked]="chart()" (change)="chart.set($event.checked)">with the first chart beneath</mat-checkbox>
      <p class="soft">
        {{ show(of.lasts / pace(), 4) }} s, {{ pictures() }} pictures, in the view and colours that the layout has now.
        @if (pictures() > most) {
          That is more than {{ most }}: choose a quicker pace or fewer pictures a second.
        }
      </p>
      @if (done() !== undefined) {
        <mat-progress-bar [value]="100 * done()!" aria-label="Making the film" />
      }
      @if (trouble(); as t) {
        <p class="trouble" role="alert">{{ t }}</p>
      }
      @if (said(); as s) {
        <p role="status">{{ s }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (done() !== undefined) {
        <button matButton="outlined" type="button" (click)="ended = true">Stop run</button>
      } @else {
        <button matButton type="button" mat-dialog-close>Close</button>
        <button matButton="filled" type="button" [disabled]="pictures() > most" (click)="make()">Make the film</button>
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
  protected readonly done = signal<number | undefined>(undefined);
  protected readonly trouble = signal('');
  protected readonly said = signal('');
  protected readonly most = MOST_PICTURES;
  protected ended = false;

  protected pictures(): number {
    return Math.round((this.of.lasts / this.pace()) * this.rate()) + 1;
  }

  protected async make(): Promise<void> {
    this.ended = false;
    this.trouble.set('');
    this.said.set('');
    this.done.set(0);
    this.dialog.disableClose = true;
    try {
      const { makeFilm } = await import('./film');
      const [width, height] = SIZES[this.size()];
      const chart = this.chart() ? await this.of.chart?.() : undefined;
      const above = chart ? Math.round(height * (1 - BENEATH)) : height;
      const ground = getComputedStyle(document.body).backgroundColor;
      const [ink, brass] = ['--ink', '--brass-line'].map((v) => getComputedStyle(document.body).getPropertyValue(v));
      const film = await makeFilm({
        width,
        height,
        rate: this.rate(),
        length: this.of.lasts / this.pace(),
        draw: (into, time) => {
          const at = Math.min(this.of.lasts, time * this.pace());
          this.of.go(at);
          into.fillStyle = ground;
          into.fillRect(0, 0, width, height);
          this.of.draw(into, width, above);
          into.fillStyle = ink;
          into.font = `600 ${Math.round(height / 32)}px 'IBM Plex Sans Condensed', sans-serif`;
          into.fillText(`${show(at, 4)} s`, height / 32, above - height / 32);
          if (!chart) return;
          const { picture } = chart;
          const high = height - above,
            wide = Math.min(width, (picture.width / picture.height) * high);
          const left = (width - wide) / 2;
          into.drawImage(picture, left, above, wide, high);
          const x = left + wide * (chart.from + ((chart.to - chart.from) * at) / this.of.lasts);
          into.strokeStyle = brass;
          into.lineWidth = 2;
          into.beginPath();
          into.moveTo(x, above + 0.1 * high);
          into.lineTo(x, above + 0.82 * high);
          into.stroke();
        },
        progress: (part) => {
          this.done.set(part);
          return !this.ended;
        },
      });
      giveFile(film.content, this.of.name, film.extension);
      this.said.set(
        film.extension === 'zip'
          ? `${film.pictures} pictures are in the zip file: this browser encodes no film`
          : `${film.pictures} pictures are in the film (${film.extension})`,
      );
    } catch (e) {
      this.trouble.set(`The film was not made: ${(e as Error).message}`);
    } finally {
      this.of.drawn();
      this.done.set(undefined);
      this.dialog.disableClose = false;
    }
  }
}
