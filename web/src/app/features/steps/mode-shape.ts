import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterRenderEffect,
  computed,
  inject,
  input,
  signal,
  viewChildren,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { scaleLinear } from 'd3-scale';
import type { Place, ShownMode } from '@unirota/core';

const W = 520,
  LEFT = 230,
  ROW = 22,
  TOP = 8,
  HALF = 120;
/** A swing is shown this often a second, whatever its frequency is. */
const SHOWN = 0.6;

/**
 * A natural mode: every place of the train with its swing to either side, brought to the source by the ratio between them, the
 * places of a shaft joined by a line. It swings slowly on the press of a button.
 */
@Component({
  selector: 'uni-mode-shape',
  imports: [MatButton],
  template: `
    <svg [attr.viewBox]="'0 0 ${W} ' + height()" role="img" [attr.aria-label]="label()">
      <line class="rest" x1="${LEFT + HALF}" i18n-x1 x2="${LEFT + HALF}" i18n-x2 y1="0" [attr.y2]="height()" />
      @for (r of rows(); track $index) {
        <text class="name" x="${LEFT - 12}" [attr.y]="r.y + 4" text-anchor="end">{{ r.name }}</text>
        <line class="lane" x1="${LEFT}" i18n-x1 x2="${LEFT + 2 * HALF}" i18n-x2 [attr.y1]="r.y" [attr.y2]="r.y" />
        <text class="part" x="${W - 2}" [attr.y]="r.y + 4" text-anchor="end">{{ r.text }}</text>
      }
      <g #swing>
        @for (l of lines(); track $index) {
          <polyline class="shaft" [attr.points]="l" />
        }
        @for (r of rows(); track $index) {
          <rect class="bar" [class.slides]="r.slides" [attr.x]="r.from" [attr.width]="r.width" [attr.y]="r.y - 6" height="12" />
        }
      </g>
    </svg>
    <button i18n matButton="outlined" type="button" [attr.aria-pressed]="swings()" (click)="swings.set(!swings())">Let it swing</button>
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
      justify-items: start;
    }
    svg {
      display: block;
      width: 100%;
      background: var(--sheet);
      border: 1px solid var(--rule);
      border-radius: 3px;
    }
    text {
      font-size: 12.5px;
      fill: var(--ink);
    }
    .part {
      fill: var(--ink-soft);
    }
    .lane {
      stroke: var(--rule);
    }
    .rest {
      stroke: var(--ink-soft);
    }
    .bar {
      fill: var(--teal);
      opacity: 0.75;
    }
    .bar.slides {
      fill: var(--violet);
    }
    .shaft {
      fill: none;
      stroke: var(--ink);
      stroke-width: 1.5;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ModeShape {
  readonly places = input.required<readonly Place[]>();
  readonly mode = input.required<ShownMode>();
  readonly label = input.required<string>();
  protected readonly swings = signal(false);
  private readonly swing = viewChildren<ElementRef<SVGGElement>>('swing');
  private readonly x = scaleLinear([-1, 1], [LEFT, LEFT + 2 * HALF]);
  protected readonly height = computed(() => 2 * TOP + ROW * this.places().length);
  protected readonly rows = computed(() =>
    this.places().map((p, k) => {
      const stated = this.mode().amplitudes[k];
      const a = stated ?? 0;
      const [from, to] = [this.x(Math.min(0, a)), this.x(Math.max(0, a))];
      const text =
        stated === undefined
          ? '–'
          : a
              .toFixed(2)
              .replace(/^-0\.00$/, '0.00')
              .replace('-', '−');
      return { name: short(p.name), slides: p.slides, y: TOP + ROW * (k + 0.5), from, width: Math.max(1, to - from), tip: this.x(a), text };
    }),
  );
  /** The places of one shaft, joined. */
  protected readonly lines = computed(() => {
    const by = new Map<string, string[]>();
    this.places().forEach((p, k) => {
      const r = this.rows()[k];
      by.set(p.member, [...(by.get(p.member) ?? []), `${r.tip},${r.y}`]);
    });
    return [...by.values()].filter((l) => l.length > 1).map((l) => l.join(' '));
  });

  constructor() {
    let frame = 0;
    const stop = (): void => {
      cancelAnimationFrame(frame);
      for (const g of this.swing()) g.nativeElement.removeAttribute('transform');
    };
    afterRenderEffect(() => {
      stop();
      if (!this.swings()) return;
      const [group] = this.swing();
      const draw = (t: number): void => {
        const s = Math.cos((2 * Math.PI * SHOWN * t) / 1000);
        group.nativeElement.setAttribute('transform', `translate(${(LEFT + HALF) * (1 - s)} 0) scale(${s} 1)`);
        frame = requestAnimationFrame(draw);
      };
      frame = requestAnimationFrame(draw);
    });
    inject(DestroyRef).onDestroy(stop);
  }
}
/** Names longer than this run into the picture. */
const LONGEST = 36;
const short = (name: string): string => (name.length > LONGEST ? `${name.slice(0, LONGEST - 1)}…` : name);
