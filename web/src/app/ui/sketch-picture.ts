import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Sketch } from '@unirota/core';

/** A design in small. */
@Component({
  selector: 'uni-sketch',
  template: `
    <svg [attr.viewBox]="viewBox()" aria-hidden="true">
      @for (c of sketch()?.curves ?? []; track $index) {
        <path [attr.d]="c.path" [class]="c.kind" [attr.stroke-width]="stroke()" />
      } @empty {
        <text x="50" y="34" text-anchor="middle" font-size="9">{{ sketch() ? 'nothing drawn yet' : '' }}</text>
      }
    </svg>
  `,
  styles: `
    :host,
    svg {
      display: block;
      width: 100%;
      height: 100%;
    }
    path {
      fill: var(--sheet);
      stroke: var(--ink);
      stroke-linejoin: round;
    }
    path.body {
      fill: var(--sunk);
      stroke: var(--rule-strong);
    }
    :host-context(a:hover) path.gear,
    :host-context(a:hover) path.rack {
      fill: var(--brass-fill);
    }
    text {
      fill: var(--ink-soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SketchPicture {
  readonly sketch = input<Sketch | undefined>(undefined);
  private readonly box = computed(() => this.sketch()?.box ?? [0, 0, 100, 60]);
  protected readonly viewBox = computed(() => {
    const [x, y, w, h] = this.box();
    const pad = 0.06 * Math.max(w, h);
    return `${x - pad} ${y - pad} ${w + 2 * pad} ${h + 2 * pad}`;
  });
  protected readonly stroke = computed(() => Math.max(this.box()[2] / 300, this.box()[3] / 190) * 1.1);
}
