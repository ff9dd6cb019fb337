import { ChangeDetectionStrategy, Component, ElementRef, computed, effect, inject, input, output, signal, viewChild } from '@angular/core';
import { type Axis, axisBottom, axisLeft } from 'd3-axis';
import { type D3BrushEvent, brushX } from 'd3-brush';
import { type ScaleLinear, scaleLinear } from 'd3-scale';
import { select } from 'd3-selection';
import { line } from 'd3-shape';
import { lastUpTo, lineAt } from '@unirota/core/math';
import { rangeOf } from './chart-range';
import { show } from '@unirota/core/units';
import { UnitsService } from '../state/units.service';

const W = 460,
  H = 190,
  LEFT = 62,
  RIGHT = 12,
  TOP = 22,
  BOTTOM = 36;

/**
 * One curve of a chart, its places rising; or, with `times`, one quantity
 * over another as time goes on: cursor and clicks then mean times.
 */
export interface Curve {
  readonly label: string;
  readonly xs: ArrayLike<number>;
  readonly ys: ArrayLike<number>;
  readonly times?: ArrayLike<number>;
  /** As a style says it; the colours of the row where none is given. */
  readonly colour?: string;
  readonly dashed?: boolean;
}

/** Colours of the curves of one chart, in their order. */
export const CURVE_COLOURS = ['var(--ink)', 'var(--oxide)', 'var(--teal)', 'var(--brass-line)', 'var(--violet)', 'var(--verdigris)'];

/** A stretch of the scale that is shorter, in the picture's lengths, was no stretch but a press. */
const LEAST_STRETCH = 6;

const within = (y: number): number => Math.max(TOP, Math.min(H - BOTTOM, y));

/**
 * Curves of one unit over a way or time, with the cursor that all charts share. Click or drag in it to move there; drag along the
 * scale below to look at a part, press it twice for the whole.
 */
@Component({
  selector: 'uni-chart',
  template: `
    <svg
      #picture
      [attr.viewBox]="'0 0 ${W} ${H}'"
      [attr.role]="points().length ? 'group' : 'img'"
      [attr.aria-label]="heading()"
      (pointerdown)="press($event)"
      (pointermove)="drag($event)"
      (pointerup)="release($event)"
      (dblclick)="whole($event)"
    >
      <text class="title" x="${LEFT}" y="14">{{ heading() }}</text>
      <g #xAxis class="axis" transform="translate(0 ${H - BOTTOM})" />
      <g #yAxis class="axis" transform="translate(${LEFT} 0)" />
      <text class="of-scale" x="${W - RIGHT}" y="${H - 3}" text-anchor="end">{{ xLabel() }}{{ xUnit() ? ', ' + units().of(xUnit()) : '' }}</text>
      @for (p of paths(); track $index) {
        <path class="curve" [attr.d]="p.d" [style.stroke]="p.colour" [attr.stroke-dasharray]="p.dashed ? '6 4' : null" />
      }
      @for (c of cuts(); track $index) {
        <path class="cut" [attr.d]="c.d" />
        <text i18n class="cut-text" [attr.x]="c.textX" [attr.y]="c.textY" [attr.text-anchor]="c.anchor">cut, to {{ c.text }}</text>
      }
      @for (p of points(); track $index) {
        <circle
          class="point"
          tabindex="0"
          role="slider"
          r="6"
          [attr.cx]="x()(p.x)"
          [attr.cy]="y()(p.y)"
          [attr.aria-label]="p.label"
          [attr.aria-valuenow]="p.y"
          [attr.aria-valuetext]="p.text"
          (pointerdown)="grasp($event, $index)"
          (keydown)="nudge($event, $index)"
        />
      }
      @if (stretch(); as s) {
        <rect class="stretch" [attr.x]="s[0]" y="${TOP}" [attr.width]="s[1] - s[0]" height="${H - BOTTOM - TOP}" />
      }
      @for (p of spots(); track $index) {
        <circle class="dot" [attr.cx]="x()(p[0])" [attr.cy]="y()(p[1])" r="4" />
      }
      @if (inSight()) {
        <path class="cursor" [attr.d]="'M' + x()(cursor()!) + ' ${TOP}V${H - BOTTOM}'" />
        @for (v of here(); track $index) {
          <circle class="dot" [attr.cx]="x()(cursor()!)" [attr.cy]="y()(v)" r="4" />
        }
        @if (here().length === 1) {
          <text class="here" x="${W - RIGHT}" y="14" text-anchor="end">{{ units().text(here()[0], unit(), 5) }}</text>
        }
      }
      @if (!over()) {
        <g #below class="below" />
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
    .cut {
      fill: none;
      stroke: var(--oxide);
      stroke-width: 1.5;
    }
    .cut-text {
      fill: var(--oxide);
    }
    .of-scale {
      fill: var(--ink-soft);
    }
    .axis {
      color: var(--ink-soft);
      font-family: inherit;
      font-size: var(--chart-text, 12px);
    }
    .curve {
      fill: none;
      stroke-width: 2;
    }
    .stretch {
      fill: var(--brass-fill);
      opacity: 0.6;
    }
    .point {
      fill: var(--sheet);
      stroke: var(--ink);
      stroke-width: 2;
      cursor: grab;
    }
    .point:focus-visible {
      outline: none;
      fill: var(--brass-line);
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
  readonly curves = input.required<readonly Curve[]>();
  readonly cursor = input<number>();
  /** The part that is looked at; the whole where none is. */
  readonly part = input<readonly [number, number]>();
  /** Points that can be dragged, or moved with the arrow keys. */
  readonly points = input<readonly { x: number; y: number; label: string; text: string }[]>([]);
  readonly moved = output<number>();
  readonly dragged = output<{ index: number; x: number; y: number; done: boolean }>();
  readonly parted = output<readonly [number, number] | undefined>();
  protected readonly units = inject(UnitsService).now;
  private readonly picture = viewChild.required<ElementRef<SVGSVGElement>>('picture');
  private readonly xAxis = viewChild.required<ElementRef<SVGGElement>>('xAxis');
  private readonly yAxis = viewChild.required<ElementRef<SVGGElement>>('yAxis');
  private readonly below = viewChild<ElementRef<SVGGElement>>('below');
  /** A stretch that is being marked along the scale, in the picture's own lengths. */
  protected readonly stretch = signal<readonly [number, number] | undefined>(undefined);

  /** Where the scale begins and ends, as parts of the picture's width. */
  static readonly ENDS = [LEFT / W, (W - RIGHT) / W] as const;
  /** What stands at the cursor: not in a picture over which another cursor moves. */
  static readonly AT_CURSOR = '.cursor, .dot, .here';
  /** What is drawn, for taking away. */
  get svg(): SVGSVGElement {
    return this.picture().nativeElement;
  }

  /** The point that is dragged; the scales stand still meanwhile. */
  private readonly held = signal<{ index: number; x: ScaleLinear<number, number>; y: ScaleLinear<number, number> } | undefined>(undefined);
  protected readonly x = computed(() => {
    const held = this.held();
    if (held) return held.x;
    const part = this.part();
    let lo = Infinity,
      hi = -Infinity;
    if (this.over()) {
      for (const { xs } of this.curves()) {
        for (let i = 0; i < xs.length; i++) if (!Number.isNaN(xs[i])) [lo, hi] = [Math.min(lo, xs[i]), Math.max(hi, xs[i])];
      }
      return scaleLinear(lo < hi ? [lo, hi] : [lo - 1, lo + 1], [LEFT, W - RIGHT]).nice(6);
    }
    for (const { xs } of this.curves()) {
      if (!xs.length) continue;
      lo = Math.min(lo, xs[0]);
      hi = Math.max(hi, xs[xs.length - 1]);
    }
    if (part) [lo, hi] = part;
    return scaleLinear(lo < hi ? [lo, hi] : [0, 1], [LEFT, W - RIGHT]);
  });
  protected readonly y = computed(() => {
    const held = this.held();
    if (held) return held.y;
    const [from, to] = this.x().domain();
    const [lo, hi] = rangeOf(this.curves(), from, to);
    return scaleLinear([lo, hi === lo ? lo + 1 : hi], [H - BOTTOM, TOP]).nice(4);
  });
  /** The greatest of what is beyond the range above and below, and where. */
  protected readonly cuts = computed(() => {
    const [x, y] = [this.x(), this.y()];
    const [from, to] = x.domain(),
      [lo, hi] = y.domain();
    return [true, false].flatMap((above) => {
      let at = NaN,
        value = above ? hi : lo;
      for (const { xs, ys } of this.curves()) {
        for (let i = 0; i < ys.length; i++) {
          if (xs[i] < from || xs[i] > to || (above ? ys[i] <= value : ys[i] >= value)) continue;
          [at, value] = [xs[i], ys[i]];
        }
      }
      if (Number.isNaN(at)) return [];
      const place = x(at);
      const text = Number.isFinite(value) ? this.units().text(value, this.unit(), 3) : $localize`no bound`;
      const right = place > (LEFT + W - RIGHT) / 2;
      // An arrowhead at the edge, and beside it how far it goes.
      const d = above ? `M${place - 5} ${TOP + 7}l5 -7l5 7` : `M${place - 5} ${H - BOTTOM - 7}l5 7l5 -7`;
      return [{ x: place, d, text, textX: place + (right ? -8 : 8), textY: above ? TOP + 10 : H - BOTTOM - 3, anchor: right ? 'end' : 'start' }];
    });
  });
  protected readonly paths = computed(() => {
    const x = this.x(),
      y = this.y();
    const [from, to] = x.domain();
    return this.curves().map((c, n) => {
      const colour = c.colour ?? CURVE_COLOURS[n % CURVE_COLOURS.length];
      if (c.times) {
        const all = line<number>(
          (i) => x(c.xs[i]),
          (i) => within(y(c.ys[i])),
        ).defined((i) => !Number.isNaN(c.ys[i]) && !Number.isNaN(c.xs[i]))(Array.from({ length: c.xs.length }, (_, i) => i));
        return { d: all ?? '', colour, dashed: c.dashed };
      }
      // One point beyond either end, cut off by the frame of the numbers: the line goes on to the edge.
      const first = c.xs.length ? lastUpTo(c.xs, from, c.xs.length - 2) : 0;
      let last = first;
      while (last < c.xs.length - 1 && c.xs[last] < to) last++;
      const d = line<number>(
        (i) => Math.max(LEFT, Math.min(W - RIGHT, x(c.xs[i]))),
        // What the range cuts runs along its edge, where a mark says how far it goes.
        (i) => within(y(c.xs[i] < from ? lineAt(c.xs, c.ys, from) : c.xs[i] > to ? lineAt(c.xs, c.ys, to) : c.ys[i])),
      ).defined((i) => !Number.isNaN(c.ys[i]))(Array.from({ length: c.xs.length ? last - first + 1 : 0 }, (_, i) => first + i));
      return { d: d ?? '', colour, dashed: c.dashed };
    });
  });
  protected readonly inSight = computed(() => {
    const c = this.cursor();
    const [lo, hi] = this.x().domain();
    return !this.over() && c !== undefined && c >= lo - 1e-12 && c <= hi + 1e-12;
  });
  protected readonly here = computed(() => {
    const at = this.cursor() ?? 0;
    // Rounding beside what the curve spans is nothing.
    const [lo, hi] = this.y().domain();
    return this.curves()
      .filter((c) => c.xs.length > 0 && !c.times)
      .map((c) => lineAt(c.xs, c.ys, at))
      .map((v) => (Math.abs(v) < 1e-12 * (hi - lo) ? 0 : v));
  });

  /** Whether quantities stand over another, not over a scale on which they rise. */
  protected readonly over = computed(() => this.curves().some((c) => c.times));
  /** Where each curve is at the time of the cursor. */
  protected readonly spots = computed<(readonly [number, number])[]>(() => {
    const at = this.cursor();
    if (at === undefined) return [];
    return this.curves().flatMap((c) => (c.times?.length ? [[lineAt(c.times, c.xs, at), lineAt(c.times, c.ys, at)] as const] : []));
  });

  constructor() {
    effect(() => this.draw(this.xAxis(), axisBottom(this.inUnits(this.x(), this.xUnit())).ticks(6).tickPadding(10.5), 4, H - BOTTOM - TOP));
    effect(() => this.draw(this.yAxis(), axisLeft(this.inUnits(this.y(), this.unit())).ticks(4).tickPadding(6), 5, W - RIGHT - LEFT));
    effect(() => {
      const below = this.below();
      if (below) select(below.nativeElement).call(this.marking).select('.selection').attr('fill', 'none').attr('stroke', 'none');
    });
  }
  private readonly marking = brushX<unknown>()
    .extent([
      [LEFT, H - BOTTOM],
      [W - RIGHT, H],
    ])
    .on('brush', (e: D3BrushEvent<unknown>) => this.stretch.set((e.selection as [number, number] | null) ?? undefined))
    .on('end', (e: D3BrushEvent<unknown>) => this.marked(e.selection as [number, number] | null));
  /** Numbers on a scale are round in the unit in which they are shown. */
  private inUnits(scale: ScaleLinear<number, number>, unit: string): ScaleLinear<number, number> {
    const factor = this.units().factor(unit);
    const [lo, hi] = scale.domain();
    return scaleLinear([lo * factor, hi * factor], scale.range());
  }
  /** Draws a scale with lines across the picture, and no line along itself. */
  private draw(at: ElementRef<SVGGElement>, axis: Axis<number | { valueOf(): number }>, digits: number, across: number): void {
    axis
      .tickFormat((t) => show(Number(t), digits))
      .tickSizeInner(-across)
      .tickSizeOuter(0)
      .offset(0);
    const drawn = select(at.nativeElement).call(axis);
    drawn.select('.domain').remove();
    drawn.selectAll('line').style('stroke', 'var(--rule)');
  }
  /** A stretch of the scale was marked: that part is looked at. */
  private marked(stretch: [number, number] | null): void {
    if (!stretch) return;
    this.stretch.set(undefined);
    this.marking.clear(select(this.below()!.nativeElement));
    const [from, to] = stretch;
    if (to - from > LEAST_STRETCH) this.parted.emit([this.x().invert(from), this.x().invert(to)]);
  }

  private at(e: PointerEvent): { x: number; y: number; onScale: boolean } {
    const r = this.svg.getBoundingClientRect();
    const y = ((e.clientY - r.top) / r.height) * H;
    return { x: ((e.clientX - r.left) / r.width) * W, y, onScale: y > H - BOTTOM && !this.over() };
  }
  /** The time of the point that is nearest to a place of the picture. */
  private goNear(px: number, py: number): void {
    let best = Infinity,
      time: number | undefined;
    for (const { xs, ys, times } of this.curves()) {
      for (let i = 0; times && i < xs.length; i++) {
        const far = (this.x()(xs[i]) - px) ** 2 + (this.y()(ys[i]) - py) ** 2;
        if (far < best) [best, time] = [far, times[i]];
      }
    }
    if (time !== undefined) this.moved.emit(time);
  }
  private go(x: number, y: number): void {
    if (this.over()) return this.goNear(x, y);
    const [lo, hi] = this.x().domain();
    this.moved.emit(Math.max(lo, Math.min(hi, this.x().invert(x))));
  }
  protected grasp(e: PointerEvent, index: number): void {
    e.stopPropagation();
    this.svg.setPointerCapture(e.pointerId);
    this.held.set({ index, x: this.x(), y: this.y() });
  }
  private pull(e: PointerEvent, done: boolean): void {
    const held = this.held();
    if (!held) return;
    const r = this.svg.getBoundingClientRect();
    const at = { x: held.x.invert(((e.clientX - r.left) / r.width) * W), y: held.y.invert(((e.clientY - r.top) / r.height) * H) };
    if (done) this.held.set(undefined);
    this.dragged.emit({ index: held.index, ...at, done });
  }
  /** A hundredth of what is shown with each press of an arrow key. */
  protected nudge(e: KeyboardEvent, index: number): void {
    const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key] ?? [0, 0];
    if (!dx && !dy) return;
    e.preventDefault();
    e.stopPropagation();
    const [x0, x1] = this.x().domain(),
      [y0, y1] = this.y().domain();
    const p = this.points()[index];
    this.dragged.emit({ index, x: p.x + (dx * (x1 - x0)) / 100, y: p.y + (dy * (y1 - y0)) / 100, done: true });
  }
  protected press(e: PointerEvent): void {
    const { x, y, onScale } = this.at(e);
    if (onScale) return;
    this.svg.setPointerCapture(e.pointerId);
    this.go(x, y);
  }
  protected drag(e: PointerEvent): void {
    if (!e.buttons) return;
    if (this.held()) return this.pull(e, false);
    if (!this.svg.hasPointerCapture(e.pointerId)) return;
    const { x, y } = this.at(e);
    this.go(x, y);
  }
  protected release(e: PointerEvent): void {
    if (this.held()) this.pull(e, true);
  }
  protected whole(e: MouseEvent): void {
    e.preventDefault();
    this.parted.emit(undefined);
  }
}
