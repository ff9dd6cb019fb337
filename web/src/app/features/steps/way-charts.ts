import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Chart, type Curve } from '../../ui/chart';
import { MotionService } from '../../state/motion.service';

/** What is charted over the way of the source. */
export interface WayChart {
  readonly heading: string;
  readonly unit: string;
  readonly curves: readonly Curve[];
}

/** Charts over the way of the source, with one cursor that is its place: click or drag in one to turn the train there. */
@Component({
  selector: 'uni-way-charts',
  imports: [Chart],
  template: `
    <div class="charts">
      @for (c of charts(); track $index) {
        <uni-chart
          [heading]="c.heading"
          [unit]="c.unit"
          [xLabel]="motion.source() ? motion.source()!.source.name : ''"
          [xUnit]="xUnit()"
          [curves]="c.curves"
          [cursor]="motion.position()"
          (moved)="motion.turnTo($event)"
        />
      }
    </div>
  `,
  styleUrl: './section.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WayCharts {
  protected readonly motion = inject(MotionService);
  readonly charts = input.required<readonly WayChart[]>();
  protected readonly xUnit = computed(() => (this.motion.sourceSlides() ? 'mm' : 'rev'));
}
