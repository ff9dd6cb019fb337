import { ChangeDetectionStrategy, Component, Injector, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { bearingForces, reactionAt } from '@unirota/core';
import { AnalysisService } from '../services/analysis.service';
import { Chart } from '../shared/chart';
import { UnitsService } from '../services/units.service';
import { WorkbenchStore } from '../workbench/workbench.store';

/** Loads: what the source must give over its way, what each coupling carries, and what every joint holds at the present pose. */
@Component({
  selector: 'uni-loads',
  imports: [MatButton, Chart],
  template: `
    @if (swept(); as s) {
      <section>
        <h2>Needed of the source</h2>
        <div class="charts one">
          <uni-chart
            [heading]="inputTitle()"
            [unit]="inputUnit()"
            [xLabel]="store.source()?.source?.name ?? ''"
            [xUnit]="xUnit()"
            [curves]="[{ label: '', xs: s.position, ys: s.input, colour: 'var(--teal)' }]"
            [cursor]="store.position()"
            (moved)="store.turnTo($event)"
          />
        </div>
        <p>
          Worst at {{ units().text(s.position[s.worst], xUnit()) }}: {{ units().text(s.input[s.worst], inputUnit()) }}.
          <button matButton="outlined" type="button" (click)="store.turnTo(s.position[s.worst])">Go to the worst instant</button>
        </p>
      </section>
    }
    <section>
      <h2>Couplings at this pose</h2>
      <table>
        <thead>
          <tr>
            <th>Coupling</th>
            <th class="num">Tangential</th>
            <th class="num">Radial</th>
            <th class="num">Axial</th>
            <th class="num">Lost</th>
          </tr>
        </thead>
        <tbody>
          @for (c of couplings(); track $index) {
            <tr [class.selected]="store.selection()?.id === c.id" (click)="store.select('coupling', c.id)">
              <td>
                <button matButton type="button" class="plain" (click)="store.select('coupling', c.id)">{{ c.name }}</button>
              </td>
              <td class="num">{{ c.ft }}</td>
              <td class="num">{{ c.fr }}</td>
              <td class="num">{{ c.fa }}</td>
              <td class="num">{{ c.loss }}</td>
            </tr>
          } @empty {
            <tr>
              <td colspan="5" class="soft">No couplings yet.</td>
            </tr>
          }
        </tbody>
      </table>
    </section>
    <section>
      <h2>Joint reactions at this pose</h2>
      <p class="soft">On the carried member, at the joint, in world directions.</p>
      <table>
        <thead>
          <tr>
            <th>Joint</th>
            <th class="num f">Fx</th>
            <th class="num f">Fy</th>
            <th class="num f">Fz</th>
            <th class="num f">|F| {{ units().of('N') }}</th>
            <th class="num m">Mx</th>
            <th class="num m">My</th>
            <th class="num m">Mz</th>
            <th class="num m">|M| {{ units().of('N·m') }}</th>
          </tr>
        </thead>
        <tbody>
          @for (r of reactions(); track $index) {
            <tr [class.part]="r.part" [class.selected]="store.selection()?.id === r.id" (click)="store.select('joint', r.id)">
              <td>
                <button matButton type="button" class="plain" (click)="store.select('joint', r.id)">{{ r.name }}</button>
              </td>
              @for (v of r.values; track $index) {
                <td class="num">{{ v }}</td>
              }
            </tr>
          }
        </tbody>
      </table>
    </section>
  `,
  styleUrl: './step.scss',
  styles: `
    .part td:first-child {
      padding-left: 24px;
    }
  `,
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LoadsStep {
  protected readonly store = inject(WorkbenchStore);
  protected readonly units = inject(UnitsService).now;
  private readonly answer = inject(AnalysisService).sweepOf(this.store.mechanism, inject(Injector));
  protected readonly swept = computed(() => this.answer()?.is);
  private readonly slides = computed(() => {
    const s = this.store.source();
    return s !== undefined && this.store.worked().pose.kinematics.motion[s.coordinate] === 1;
  });
  protected readonly xUnit = computed(() => (this.slides() ? 'mm' : 'rev'));
  protected readonly inputUnit = computed(() => (this.slides() ? 'N' : 'N·m'));
  protected readonly inputTitle = computed(() => (this.slides() ? 'Force of the source' : 'Torque of the source'));
  protected readonly couplings = computed(() =>
    this.store.ledger().couplings.map((c) => ({
      id: c.coupling,
      name: this.store.design().couplings.find((x) => x.id === c.coupling)?.name ?? c.coupling,
      ft: this.units().text(c.tangential, 'N'),
      fr: this.units().text(c.radial, 'N'),
      fa: this.units().text(c.axial, 'N'),
      loss: this.units().text(c.loss, 'W', 4),
    })),
  );
  protected readonly reactions = computed(() => {
    this.store.ledger();
    const w = this.store.worked();
    const r = w.forces.reactions();
    return this.store.design().joints.flatMap((j) => {
      const i = w.compiled.structure.firstOf.get(j.id);
      const c = i === undefined ? undefined : w.compiled.structure.coordinates[i];
      // A joint that leaves no freedom has no coordinate: what it carries is summed by itself.
      const fast = j.type === 'fixed' ? reactionAt(w.forces, j.id) : undefined;
      const v = fast
        ? [...fast.force, ...fast.moment]
        : c?.joint.id === j.id
          ? Array.from({ length: 6 }, (_, k) => c.sign * r[6 * c.index + k])
          : undefined;
      if (!v) return [];
      const zero = Math.max(...v.map(Math.abs)) * 1e-9;
      const force = (x: number): string => this.units().number(Math.abs(x) < zero ? 0 : x, 'N', 4);
      const moment = (x: number): string => this.units().number(Math.abs(x) < zero ? 0 : x, 'N·m', 4);
      const each = bearingForces(w.forces, j.id);
      const parts = (each?.bearings ?? []).map((b, k) => ({
        id: j.id,
        part: true,
        name: `bearing ${k + 1} at ${this.units().text(b.at, 'mm', 4)}${each!.by === 'beam' ? ', as a stiff beam' : ''}`,
        values: [...b.force.map(force), force(Math.hypot(b.force[0], b.force[1], b.force[2])), '', '', '', b.tilting ? moment(b.tilting) : ''],
      }));
      return [
        {
          id: j.id,
          part: false,
          name: j.name ?? j.id,
          values: [...[v[0], v[1], v[2], Math.hypot(v[0], v[1], v[2])].map(force), ...[v[3], v[4], v[5], Math.hypot(v[3], v[4], v[5])].map(moment)],
        },
        ...parts,
      ];
    });
  });
}
