import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import { type CarriedJoint, placedAt } from '@unirota/core';
import type { Id } from '@unirota/core/document';
import { elementKind, extentOf } from '@unirota/core/elements';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { Named } from '../../ui/named';

const W = 288;
const H = 96;
const EDGE = 8;

interface Block {
  id: Id;
  name: string;
  /** Along the axis, mm. */
  from: number;
  to: number;
  middle: number;
  radius: number;
}

/**
 * A member drawn along its axis: its elements as blocks in proportion (their radii compressed), its bearings as
 * triangles. Blocks are dragged along, or moved by arrow keys; the distances between their middles stand below.
 */
@Component({
  selector: 'uni-shaft-strip',
  imports: [Named, MatTooltip],
  template: `
    @if (blocks().length) {
      <svg i18n-aria-label viewBox="0 0 ${W} ${H + 16}" role="group" aria-label="Along its axis">
        <path class="axis" d="M0 ${H / 2}H${W}" />
        @for (b of bearings(); track $index) {
          <path
            class="bearing"
            [attr.d]="'M' + x(b.at) + ' ' + (mid + b.radius) + 'l-6 11h12z'"
            i18n-matTooltip
            matTooltip="Bearing at {{ units().text(b.at, 'mm') }}"
          />
        }
        @for (b of blocks(); track b.id) {
          <rect
            role="button"
            tabindex="0"
            [class.held]="dragged()?.id === b.id"
            [attr.x]="x(b.from + shift(b.id))"
            [attr.width]="Math.max(2, scale() * (b.to - b.from))"
            [attr.y]="mid - high(b.radius)"
            [attr.height]="2 * high(b.radius)"
            i18n-uniName
            uniName="{{ b.name }}, at {{ units().text(b.middle, 'mm') }}: drag it along, or use the arrow keys"
            (pointerdown)="grip($event, b)"
            (pointermove)="drag($event)"
            (pointerup)="drop()"
            (pointercancel)="dragged.set(undefined)"
            (keydown)="key($event, b)"
          />
        }
        @for (g of gaps(); track $index) {
          <path class="gap" [attr.d]="'M' + g.a + ' ${H + 2}V${H - 6}M' + g.b + ' ${H + 2}V${H - 6}M' + g.a + ' ${H - 2}H' + g.b" />
          @if (g.wide) {
            <text [attr.x]="(g.a + g.b) / 2" y="${H + 13}" text-anchor="middle">{{ g.text }}</text>
          }
        }
      </svg>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    svg {
      width: 100%;
      background: var(--paper);
      border: 1px solid var(--rule);
      border-radius: 3px;
      touch-action: none;
    }
    .axis {
      stroke: var(--ink-soft);
      stroke-dasharray: 12 3 2 3;
    }
    rect {
      fill: var(--brass-fill);
      fill-opacity: 0.75;
      stroke: var(--ink);
      cursor: ew-resize;
    }
    rect:hover,
    rect:focus-visible,
    .held {
      stroke: var(--brass-line);
      stroke-width: 2;
    }
    .bearing {
      fill: none;
      stroke: var(--ink-soft);
    }
    .gap {
      stroke: var(--ink-soft);
      fill: none;
    }
    text {
      font-size: 11px;
      fill: var(--ink);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShaftStrip {
  private readonly doc = inject(DesignService);
  private readonly chosen = inject(SelectionService);
  protected readonly units = inject(UnitsService).now;
  protected readonly Math = Math;
  protected readonly mid = H / 2;
  readonly member = input.required<Id>();
  protected readonly dragged = signal<{ id: Id; start: number; by: number } | undefined>(undefined);

  /** Elements that stand along the member's own axis. */
  protected readonly blocks = computed<Block[]>(() =>
    this.doc
      .design()
      .elements.filter((e) => e.member === this.member() && (!e.axis || Math.abs(e.axis[2]) > 0.999))
      .flatMap((e) => {
        const kind = elementKind(e.type);
        const box = kind && extentOf(kind, e);
        if (!box) return [];
        const z = e.at?.[2] ?? 0;
        const sense = e.axis && e.axis[2] < 0 ? -1 : 1;
        const ends = [z + sense * box[0][2], z + sense * box[1][2]].sort((a, b) => a - b);
        const radius = Math.max(...[box[0], box[1]].flatMap((p) => [Math.abs(p[0]), Math.abs(p[1])]));
        return [{ id: e.id, name: e.name, from: ends[0], to: ends[1], middle: (ends[0] + ends[1]) / 2, radius }];
      })
      // The thin ones lie upon the thick ones.
      .sort((a, b) => b.radius - a.radius),
  );
  protected readonly bearings = computed(() => {
    const joint = this.doc.design().joints.find((j) => j.child === this.member()) as CarriedJoint | undefined;
    const z = joint?.at?.[2] ?? 0;
    return (joint?.bearings ?? []).map((b) => ({ at: z + b.at, radius: this.high(b.inner / 2) }));
  });
  private readonly range = computed(() => {
    const ends = [...this.blocks().flatMap((b) => [b.from, b.to]), ...this.bearings().map((b) => b.at)];
    const lo = Math.min(...ends),
      hi = Math.max(...ends);
    return { lo, span: Math.max(1, hi - lo) };
  });
  protected readonly scale = computed(() => (W - 2 * EDGE) / this.range().span);
  protected x(z: number): number {
    return EDGE + (z - this.range().lo) * this.scale();
  }
  private readonly thickest = computed(() => Math.max(1, ...this.blocks().map((b) => b.radius)));
  /** Half the height of a block: radii in compressed proportion. */
  protected high(radius: number): number {
    return Math.max(3, (H / 2 - 8) * Math.sqrt(radius / this.thickest()));
  }
  protected readonly gaps = computed(() => {
    const middles = this.blocks()
      .map((b) => b.middle + this.shift(b.id))
      .sort((a, b) => a - b);
    return middles.slice(1).flatMap((m, k) => {
      const before = middles[k];
      if (m - before < 1e-9) return [];
      const [a, b] = [this.x(before), this.x(m)];
      const text = this.units().number(m - before, 'mm', 5);
      return [{ a, b, text, wide: b - a > 7 * text.length }];
    });
  });
  protected shift(id: Id): number {
    const d = this.dragged();
    return d?.id === id ? d.by : 0;
  }

  protected grip(e: PointerEvent, b: Block): void {
    (e.currentTarget as Element).setPointerCapture(e.pointerId);
    this.dragged.set({ id: b.id, start: e.clientX, by: 0 });
  }
  protected drag(e: PointerEvent): void {
    const d = this.dragged();
    if (!d) return;
    const svg = (e.currentTarget as SVGElement).ownerSVGElement!;
    const mm = ((e.clientX - d.start) * W) / svg.clientWidth / this.scale();
    this.dragged.set({ ...d, by: Math.round(mm) });
  }
  protected drop(): void {
    const d = this.dragged();
    this.dragged.set(undefined);
    if (!d) return;
    if (d.by) this.move(d.id, d.by);
    else this.chosen.select('element', d.id);
  }
  protected key(e: KeyboardEvent, b: Block): void {
    const step = e.shiftKey ? 10 : 1;
    if (e.key === 'ArrowRight') this.move(b.id, step, true);
    else if (e.key === 'ArrowLeft') this.move(b.id, -step, true);
    else if (e.key === 'Enter') this.chosen.select('element', b.id);
    else return;
    e.preventDefault();
    e.stopPropagation();
  }
  private move(id: Id, by: number, merge = false): void {
    const z = this.doc.design().elements.find((e) => e.id === id)?.at?.[2] ?? 0;
    const trouble = this.doc.edit($localize`Move along the axis`, (d) => placedAt(d, id, z + by), merge);
    if (trouble) this.doc.said.set(trouble);
  }
}
