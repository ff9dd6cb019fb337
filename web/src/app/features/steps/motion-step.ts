import { ChangeDetectionStrategy, Component, Injector, computed, inject } from '@angular/core';
import { AnalysisService } from '../../state/analysis.service';
import { Runs } from './runs';
import { type WayChart, WayCharts } from './way-charts';
import { MotionService } from '../../state/motion.service';

/** Motion: every joint over the whole way of the source at nominal speed, one cursor for all. */
@Component({
  selector: 'uni-motion',
  imports: [Runs, WayCharts],
  template: `
    <section><uni-runs /></section>
    <h2 i18n>Over input travel</h2>
    @if (curves(); as list) {
      <p i18n class="soft">From stop to stop of the source at its nominal speed. Click or drag in a chart to turn the train there.</p>
      <uni-way-charts [charts]="list" />
    } @else if (swept()) {
      <p i18n class="soft">Nothing drives this design yet: give it a source on Duty, and its motion stands here.</p>
    }
  `,
  styleUrl: './step.scss',
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MotionStep {
  protected readonly motion = inject(MotionService);
  protected readonly swept = inject(AnalysisService).sweepOf(this.motion.way, inject(Injector));
  protected readonly curves = computed<WayChart[] | undefined>(() => {
    const s = this.swept()?.is;
    if (!s) return undefined;
    const xs = s.position;
    // The curves of the last state stand until those of the new one are there; what has no curve yet is not listed.
    const { coordinates } = this.motion.worked().compiled.structure;
    return coordinates.slice(0, s.values.length).flatMap((c) => {
      const slide = c.motion === 'slide';
      const name = c.joint.name ?? c.joint.id;
      return [
        { heading: `${name}: ${c.label}`, unit: c.unit.path, curves: [{ label: '', xs, ys: s.values[c.index] }] },
        {
          heading: `${name}: speed`,
          unit: c.unit.speed,
          curves: [{ label: '', xs, ys: slide ? s.speeds[c.index] : s.speeds[c.index].map((v) => v * 60) }],
        },
      ];
    });
  });
}
