import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import { JOINT_KINDS } from '@unirota/core';

/** Directions of a joint's own axes as they are drawn: x to the right and down, y to the right and up, z up. */
const SEEN = { x: [15, 8], y: [15, -8], z: [0, -16] } as const;
type Axis = keyof typeof SEEN;
type Freedom = (typeof JOINT_KINDS)[number]['freedoms'][number];

const point = (a: Axis, k: number): string => `${(SEEN[a][0] * k).toFixed(1)} ${(SEEN[a][1] * k).toFixed(1)}`;

/** An arrow both ways along an axis. */
function travel(a: Axis): string {
  const [x, y] = SEEN[a];
  const n = Math.hypot(x, y);
  const [ux, uy] = [x / n, y / n];
  const head = (k: number, s: number): string => {
    const [px, py] = [x * k, y * k];
    const b = (w: number): string => `${(px - s * 5 * ux - w * 3 * uy).toFixed(1)} ${(py - s * 5 * uy + w * 3 * ux).toFixed(1)}`;
    return `M${b(1)}L${px.toFixed(1)} ${py.toFixed(1)}L${b(-1)}`;
  };
  return `M${point(a, -1.25)}L${point(a, 1.25)}${head(1.25, 1)}${head(-1.25, -1)}`;
}

/** Most of a circle about an axis, seen aslant, with an arrow at its end. */
function turn(a: Axis): string {
  const others = (['x', 'y', 'z'] as const).filter((o) => o !== a);
  const [p, q] = others.map((o) => SEEN[o]);
  const at = (t: number): [number, number] => [0.72 * (p[0] * Math.cos(t) + q[0] * Math.sin(t)), 0.72 * (p[1] * Math.cos(t) + q[1] * Math.sin(t))];
  const arc = Array.from({ length: 25 }, (_, k) => at(-0.6 + (k / 24) * 5));
  const [ex, ey] = arc[24],
    [bx, by] = arc[22];
  const n = Math.hypot(ex - bx, ey - by) || 1;
  const [ux, uy] = [(ex - bx) / n, (ey - by) / n];
  const head = [1, -1].map((w) => `${(ex - 5 * ux - w * 3.4 * uy).toFixed(1)} ${(ey - 5 * uy + w * 3.4 * ux).toFixed(1)}`);
  return `M${arc.map((c) => c.map((v) => v.toFixed(1)).join(' ')).join('L')}M${head[0]}L${ex.toFixed(1)} ${ey.toFixed(1)}L${head[1]}`;
}

const drawn = (f: Freedom): string =>
  f.motion === 'slide' ? travel(f.axis) : f.motion === 'turn' ? turn(f.axis) : `${turn(f.axis)}${travel(f.axis)}`;

const GROUPS = [...new Set(JOINT_KINDS.map((k) => k.freedoms.length))]
  .sort((a, b) => a - b)
  .map((n) => ({
    n,
    title: n === 0 ? $localize`nothing free` : n === 1 ? $localize`one freedom` : `${['', '', 'two', 'three'][n] ?? n} freedoms`,
    kinds: JOINT_KINDS.filter((k) => k.freedoms.length === n).map((k) => ({
      type: k.type,
      label: k.label,
      allows: k.allows,
      lines: k.freedoms.map(drawn),
    })),
  }));

/** Joints by what they leave free: pictures of turn and travel, grouped by the number of freedoms. */
@Component({
  selector: 'uni-joint-chooser',
  imports: [MatTooltip],
  template: `
    <div class="all" role="group" [attr.aria-label]="label()">
      @for (g of groups; track g.n) {
        <div class="group">
          <span class="soft">{{ g.title }}</span>
          <div class="kinds">
            @for (k of g.kinds; track k.type) {
              <button
                type="button"
                [disabled]="disabled()"
                [attr.aria-pressed]="value() === undefined ? null : value() === k.type"
                [attr.aria-label]="k.label + ': ' + k.allows"
                [matTooltip]="k.label + ': ' + k.allows"
                (click)="picked.emit(k.type)"
              >
                <svg viewBox="-26 -26 52 52" width="42" height="42" aria-hidden="true">
                  <path class="still" d="M-15 -8L15 8M-15 8L15 -8M0 16V-16" />
                  @for (l of k.lines; track $index) {
                    <path class="free" [attr.d]="l" />
                  }
                  @if (!k.lines.length) {
                    <circle class="free" r="5" />
                  }
                </svg>
              </button>
            }
          </div>
        </div>
      }
    </div>
  `,
  styles: `
    .all {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 14px;
    }
    .group {
      display: grid;
      gap: 2px;
      font-size: 13px;
    }
    .kinds {
      display: flex;
      gap: 3px;
    }
    button {
      padding: 1px;
      min-height: 0;
      background: var(--paper);
      border: 1px solid var(--rule-strong);
      border-radius: 3px;
    }
    button:hover:not(:disabled),
    button[aria-pressed='true'] {
      background: var(--brass-fill);
      border-color: var(--brass-line);
    }
    .still {
      stroke: var(--rule-strong);
      stroke-width: 1;
      stroke-dasharray: 2 2;
    }
    .free {
      fill: none;
      stroke: var(--ink);
      stroke-width: 2.2;
      stroke-linejoin: round;
    }
    button:disabled .free {
      stroke: var(--rule-strong);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class JointChooser {
  readonly label = input($localize`What the joint leaves free`);
  readonly value = input<string | undefined>();
  readonly disabled = input(false);
  readonly picked = output<string>();
  protected readonly groups = GROUPS;
}
