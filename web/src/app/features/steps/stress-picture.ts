import { ChangeDetectionStrategy, Component, ElementRef, computed, effect, inject, input, signal, viewChild } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatSlider, MatSliderThumb } from '@angular/material/slider';
import type { StressField } from '@unirota/core';
import { show } from '@unirota/core/units';
import { Choice } from '../../ui/choice';
import { downloadFile } from '../../state/downloads';
import { UnitsService } from '../../state/units.service';
import { type GreatestStress, SCALE, StressScene } from '../../scene/stress-scene';

const AXES = ['x', 'y', 'z'] as const;

/**
 * The stress of a strength analysis on the member's mesh: coloured by a stated
 * scale, deformed by a stated factor, cut open, with the greatest and where it is.
 */
@Component({
  selector: 'uni-stress-picture',
  imports: [Choice, MatButton, MatSlider, MatSliderThumb],
  template: `
    <div class="add">
      <span i18n class="soft" id="sp-factor">Change of shape</span>
      <uni-choice i18n-label labelledBy="sp-factor" label="Change of shape" [options]="factors()" [value]="factor()" (picked)="factor.set(+$event)" />
      <span i18n class="soft" id="sp-cut">Section</span>
      <uni-choice i18n-label labelledBy="sp-cut" label="Section of the member" [options]="cuts" [value]="axis()" (picked)="axis.set($event)" />
      <mat-slider min="0" max="1" step="0.01" [disabled]="!axis()">
        <input
          i18n-aria-label
          matSliderThumb
          aria-label="Place of the section through the member"
          [value]="share()"
          (valueChange)="share.set($event)"
        />
      </mat-slider>
      <button i18n matButton="outlined" type="button" (click)="save()">Save picture</button>
    </div>
    <figure>
      <canvas #canvas role="img" tabindex="0" [attr.aria-label]="said()"></canvas>
      <p class="most" [hidden]="!spot()" [style.left.px]="spot()?.x" [style.top.px]="spot()?.y">{{ units().text(most(), 'MPa', 3) }}</p>
      @if (noPicture()) {
        <p i18n role="alert">This browser shows no 3D picture (WebGL is off).</p>
      }
      <figcaption>
        <span class="bar" [style.background]="bar"></span>
        <span class="ticks">
          @for (t of ticks(); track $index) {
            <span>{{ t }}</span>
          }
        </span>
        <span i18n class="soft">{{ units().of('MPa') }}, equivalent (von Mises)</span>
      </figcaption>
    </figure>
  `,
  styleUrl: './section.scss',
  styles: `
    figure {
      position: relative;
      margin: 0 0 8px;
      border: 1px solid var(--rule);
      background: var(--sheet);
    }
    canvas {
      display: block;
      width: 100%;
      height: 340px;
      touch-action: none;
    }
    .most {
      position: absolute;
      margin: 0;
      padding: 0 5px;
      transform: translate(8px, -50%);
      pointer-events: none;
      font-weight: 600;
      background: var(--sheet);
      border: 1px solid var(--oxide);
      color: var(--oxide);
    }
    figcaption {
      display: grid;
      grid-template-columns: 1fr auto;
      gap: 0 12px;
      padding: 4px 8px;
    }
    .bar {
      height: 10px;
      align-self: center;
    }
    .ticks {
      display: flex;
      justify-content: space-between;
      grid-row: 2;
      font-variant-numeric: tabular-nums;
    }
    mat-slider {
      width: 120px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StressPicture {
  readonly field = input.required<StressField>();
  /** The greatest that the analysis found: it may lie between the corners that are drawn. */
  readonly greatest = input.required<GreatestStress>();
  readonly name = input.required<string>();
  protected readonly units = inject(UnitsService).now;
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly factor = signal(0);
  protected readonly axis = signal('');
  protected readonly share = signal(0.5);
  protected readonly noPicture = signal(false);
  protected readonly spot = signal<{ x: number; y: number } | undefined>(undefined);
  private readonly scene = signal<StressScene | undefined>(undefined);
  protected readonly cuts = [{ value: '', label: $localize`none` }, ...AXES.map((a) => ({ value: a, label: `across ${a}` }))];
  protected readonly bar = `linear-gradient(90deg, ${SCALE.join(', ')})`;
  protected readonly most = computed(() => this.greatest().stress);
  protected readonly ticks = computed(() => Array.from({ length: 5 }, (_, k) => this.units().number((this.most() * k) / 4, 'MPa', 3)));
  protected readonly factors = computed(() => {
    const well = this.scene()?.wellSeen() ?? 0;
    const round = well > 0 ? Number(well.toPrecision(1)) : 0;
    return [...new Set([0, 1, 10, 100, 1000, round])]
      .sort((a, b) => a - b)
      .map((value) => ({ value, label: value === 0 ? $localize`not shown` : value === 1 ? $localize`true size` : `× ${show(value, 3)}` }));
  });
  protected readonly said = computed(
    () => $localize`Stress of ${this.name()}:name:: none to ${this.units().text(this.most(), 'MPa', 3)}. Drag to turn it.`,
  );

  constructor() {
    const style = (name: string): string => getComputedStyle(document.body).getPropertyValue(name);
    effect((done) => {
      const canvas = this.canvas().nativeElement;
      let scene: StressScene;
      try {
        scene = new StressScene(canvas, this.field(), this.greatest(), style('--ink'));
      } catch {
        this.noPicture.set(true);
        return;
      }
      scene.onDrawn = (x, y, hidden) => this.spot.set(hidden ? undefined : { x: Math.round(x), y: Math.round(y) });
      const watch = new ResizeObserver(() => scene.size(canvas.clientWidth, canvas.clientHeight));
      watch.observe(canvas);
      scene.size(canvas.clientWidth, canvas.clientHeight);
      this.scene.set(scene);
      done(() => {
        watch.disconnect();
        scene.dispose();
      });
    });
    effect(() => {
      const axis = AXES.findIndex((a) => a === this.axis());
      this.scene()?.show({ factor: this.factor(), share: this.share(), ...(axis >= 0 ? { axis: axis as 0 | 1 | 2 } : {}) });
    });
  }

  protected async save(): Promise<void> {
    const blob = await this.scene()?.picture();
    if (blob) downloadFile(blob, `${this.name()} stress`, 'png');
  }
}
