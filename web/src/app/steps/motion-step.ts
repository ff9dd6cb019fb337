import { ChangeDetectionStrategy, Component, Injector, computed, inject } from '@angular/core';
import { AnalysisService } from '../services/analysis.service';
import { Chart } from '../shared/chart';
import { Runs } from './runs';
import { WorkbenchStore } from '../workbench/workbench.store';

/** Motion: every joint over the whole way of the source at nominal speed, one cursor for all. */
@Component({
  selector: 'uni-motion',
  imports: [Chart, Runs],
  template: `
    <section><uni-runs /></section>
    <h2>Over the way of the source</h2>
    @if (curves(); as list) {
      <p class="soft">From stop to stop of the source at its nominal speed. Click or drag in a chart to turn the train there.</p>
      <div class="charts">
        @for (c of list; track c.id) {
          <uni-chart
            [heading]="c.title"
            [unit]="c.unit"
            [xLabel]="store.source()?.source?.name ?? ''"
            [xUnit]="xUnit()"
            [curves]="c.curves"
            [cursor]="store.position()"
            (moved)="store.turnTo($event)"
          />
        }
      </div>
    } @else if (swept()) {
      <p class="soft">Nothing drives this design yet: give it a source on Duty, and its motion stands here.</p>
    }
  `,
  styleUrl: './step.scss',
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MotionStep {
  protected readonly store = inject(WorkbenchStore);
  protected readonly swept = inject(AnalysisService).sweepOf(this.store.mechanism, inject(Injector));
  protected readonly xUnit = computed(() => {
    const w = this.store.worked();
    const s = w.compiled.sources[0];
    return s && w.pose.kinematics.motion[s.coordinate] === 1 ? 'mm' : 'rev';
  });
  protected readonly curves = computed(() => {
    const s = this.swept()?.is;
    if (!s) return undefined;
    const xs = s.position;
    // The curves of the last state stand until those of the new one are there; what has no curve yet is not listed.
    const { coordinates } = this.store.worked().compiled.structure;
    return coordinates.slice(0, s.values.length).flatMap((c) => {
      const slide = c.motion === 'slide';
      const name = c.joint.name ?? c.joint.id;
      return [
        { id: `${c.index}v`, title: `${name}: ${c.label}`, unit: slide ? 'mm' : 'rev', curves: [{ label: '', xs, ys: s.values[c.index] }] },
        {
          id: `${c.index}s`,
          title: `${name}: speed`,
          unit: slide ? 'mm/s' : 'rev/min',
          curves: [{ label: '', xs, ys: slide ? s.speeds[c.index] : s.speeds[c.index].map((v) => v * 60) }],
        },
      ];
    });
  });
}
