import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import { show } from '@unirota/core/units';
import { UnitsService } from '../services/units.service';

const W = 460,
  H = 190,
  LEFT = 62,
  RIGHT = 12,
  TOP = 22,
  BOTTOM = 36;

/** One curve over the way of the source, with the cursor that all charts share. Click or drag to move there. */
@Component({
  selector: 'uni-chart',
  template: `
    <svg
      [attr.viewBox]="'0 0 ${W} ${H}'"
      role="img"
      [attr.aria-label]="heading()"
      (pointerdown)="at($event)"
      (pointermove)="$event.buttons ? at($event) : null"
    >
      <text class="title" x="${LEFT}" y="14">{{ heading() }}</text>
      @for (t of yTicks(); track t) {
        <path class="grid" [attr.d]="'M${LEFT} ' + y()(t / k()) + 'H${W - RIGHT}'" />
        <text class="tick" x="${LEFT - 6}" [attr.y]="y()(t / k()) + 4" text-anchor="end">{{ show(t, 5) }}</text>
      }
      @for (t of xTicks(); track t) {
        <path class="grid" [attr.d]="'M' + x()(t / kx()) + ' ${TOP}V${H - BOTTOM}'" />
        <text class="tick" [attr.x]="x()(t / kx())" y="${H - BOTTOM + 19}" text-anchor="middle">{{ show(t, 4) }}</text>
      }
      <text class="tick" x="${W - RIGHT}" y="${H - 3}" text-anchor="end">{{ xLabel() }}{{ xUnit() ? ', ' + units().of(xUnit()) : '' }}</text>
      <path class="curve" [attr.d]="path()" [style.stroke]="colour()" />
      @if (cursor() !== undefined) {
        <path class="cursor" [attr.d]="'M' + x()(cursor()!) + ' ${TOP}V${H - BOTTOM}'" />
        <circle class="dot" [attr.cx]="x()(cursor()!)" [attr.cy]="y()(here())" r="4" />
        <text class="here" x="${W - RIGHT}" y="14" text-anchor="end">{{ units().text(here(), unit(), 5) }}</text>
      }
    </svg>
  `,
  styles: `
    :host {
      display: block;
    }
    svg {
      display: block;
      width: 100%;
      background: var(--sheet);
      border: 1px solid var(--rule);
      border-radius: 3px;
      cursor: crosshair;
      touch-action: none;
    }
    text {
      font-size: var(--chart-text, 12px);
      fill: var(--ink);
    }
    .title,
    .here {
      font-weight: 600;
    }
    .tick {
      fill: var(--ink-soft);
    }
    .grid {
      stroke: var(--rule);
    }
    .curve {
      fill: none;
      stroke-width: 2;
    }
    .cursor {
      stroke: var(--brass-line);
      stroke-width: 1.5;
    }
    .dot {
      fill: var(--brass-line);
      stroke: var(--ink);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Chart {
  readonly heading = input.required<string>();
  readonly unit = input('');
  readonly xLabel = input('');
  readonly xUnit = input('');
  readonly xs = input.required<ArrayLike<number>>();
  readonly ys = input.required<ArrayLike<number>>();
  readonly cursor = input<number>();
  readonly colour = input('var(--ink)');
  readonly moved = output<number>();
  protected readonly show = show;
  protected readonly units = inject(UnitsService).now;

  protected readonly x = computed(() => {
    const v = this.xs();
    return scaleLinear([v[0] ?? 0, v[v.length - 1] ?? 1], [LEFT, W - RIGHT]);
  });
  protected readonly y = computed(() => {
    let lo = 0,
      hi = 0;
    const v = this.ys();
    for (let i = 0; i < v.length; i++) {
      lo = Math.min(lo, v[i]);
      hi = Math.max(hi, v[i]);
    }
    if (lo === hi) hi = lo + 1;
    return scaleLinear([lo, hi], [H - BOTTOM, TOP]).nice(4);
  });
  protected readonly kx = computed(() => this.units().factor(this.xUnit()));
  protected readonly xTicks = computed(() => {
    const [lo, hi] = this.x().domain();
    return scaleLinear([lo * this.kx(), hi * this.kx()], [0, 1]).ticks(6);
  });
  /** What a value is multiplied by to be shown; ticks are round where it is shown. */
  protected readonly k = computed(() => this.units().factor(this.unit()));
  protected readonly yTicks = computed(() => {
    const [lo, hi] = this.y().domain();
    return scaleLinear([lo * this.k(), hi * this.k()], [0, 1]).ticks(4);
  });
  protected readonly path = computed(() => {
    const x = this.x(),
      y = this.y(),
      xs = this.xs(),
      ys = this.ys();
    return (
      line<number>(
        (i) => x(xs[i]),
        (i) => y(ys[i]),
      )(Array.from({ length: xs.length }, (_, i) => i)) ?? ''
    );
  });
  protected readonly here = computed(() => {
    const c = this.cursor() ?? 0,
      xs = this.xs(),
      ys = this.ys();
    let i = 0;
    while (i < xs.length - 2 && xs[i + 1] < c) i++;
    const t = xs[i + 1] === xs[i] ? 0 : Math.min(1, Math.max(0, (c - xs[i]) / (xs[i + 1] - xs[i])));
    const v = ys[i] + t * (ys[i + 1] - ys[i]);
    // Rounding beside what the curve spans is nothing.
    const [lo, hi] = this.y().domain();
    return Math.abs(v) < 1e-12 * (hi - lo) ? 0 : v;
  });

  protected at(e: PointerEvent): void {
    const r = (e.currentTarget as SVGElement).getBoundingClientRect();
    this.moved.emit(this.x().invert(((e.clientX - r.left) / r.width) * W));
  }
}
