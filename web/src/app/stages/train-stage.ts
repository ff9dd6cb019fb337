import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { show } from '@unirota/core/units';
import { WorkbenchStore } from '../workbench/workbench.store';
import { Findings } from './findings';

/** Train: the ledger of all members, the ratios both ways round, the couplings, and what the checks say. */
@Component({
  selector: 'uni-train',
  imports: [Findings],
  template: `
    <section>
      <h2>Ledger</h2>
      <table>
        <thead>
          <tr>
            <th>Member</th>
            <th class="num">Speed</th>
            <th class="num">Torque or force</th>
            <th class="num">Power</th>
          </tr>
        </thead>
        <tbody>
          @for (l of lines(); track l.id) {
            <tr [class.selected]="store.selection()?.id === l.id" (click)="store.select('member', l.id)">
              <td>
                <button type="button" class="plain" (click)="store.select('member', l.id)">{{ l.name }}</button>
              </td>
              <td class="num">
                {{ l.speed }} <span class="unit">{{ l.speedUnit }}</span>
              </td>
              <td class="num">
                {{ l.load }} <span class="unit">{{ l.loadUnit }}</span>
              </td>
              <td class="num">{{ l.power }} <span class="unit">W</span></td>
            </tr>
          } @empty {
            <tr>
              <td colspan="4" class="soft">No members yet.</td>
            </tr>
          }
        </tbody>
        <tfoot>
          <tr>
            <td>In {{ total().input }} W, out {{ total().output }} W, lost {{ total().loss }} W</td>
            <td colspan="3" class="num">Efficiency {{ total().efficiency }}</td>
          </tr>
        </tfoot>
      </table>
    </section>
    <section>
      <h2>Ratios to the source</h2>
      <table>
        <thead>
          <tr>
            <th>Joint</th>
            <th class="num">Exact</th>
            <th class="num">Decimal</th>
            <th class="num">The other way round</th>
            <th class="num">Decimal</th>
          </tr>
        </thead>
        <tbody>
          @for (r of ratios(); track r.id) {
            <tr (click)="store.select('joint', r.to)">
              <td>
                <button type="button" class="plain" (click)="store.select('joint', r.to)">{{ r.name }}</button>
              </td>
              <td class="num">
                {{ r.exact }} <span class="unit">{{ r.unit }}</span>
              </td>
              <td class="num">{{ r.decimal }}</td>
              <td class="num">
                {{ r.inverse }} <span class="unit">{{ r.inverseUnit }}</span>
              </td>
              <td class="num">{{ r.inverseDecimal }}</td>
            </tr>
          } @empty {
            <tr>
              <td colspan="5" class="soft">No joint follows a source alone yet.</td>
            </tr>
          }
        </tbody>
      </table>
    </section>
    <section>
      <h2>Mobility</h2>
      <p>{{ mobility() }}</p>
    </section>
    <section>
      <h2>Findings</h2>
      <uni-findings />
    </section>
  `,
  styleUrl: './stage.scss',
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TrainStage {
  protected readonly store = inject(WorkbenchStore);
  protected readonly lines = computed(() =>
    this.store.ledger().lines.map((l) => ({
      id: l.member,
      name: this.store.design().members.find((m) => m.id === l.member)?.name ?? l.member,
      speed: show(l.speed),
      speedUnit: l.motion === 'slide' ? 'mm/s' : 'rev/min',
      load: show(l.load),
      loadUnit: l.motion === 'slide' ? 'N' : 'N·m',
      power: show(l.power),
    })),
  );
  protected readonly total = computed(() => {
    const l = this.store.ledger();
    return {
      input: show(l.input, 4),
      output: show(l.output, 4),
      loss: show(l.loss, 4),
      efficiency: l.efficiency === undefined ? '–' : `${show(l.efficiency * 100, 4)} %`,
    };
  });
  protected readonly ratios = computed(() =>
    this.store.worked().ratios.map((r) => ({
      id: `${r.from}-${r.to}`,
      to: r.to,
      name: this.store.design().joints.find((j) => j.id === r.to)?.name ?? r.to,
      exact: r.exact.replace('-', '−'),
      decimal: show(r.decimal, 6),
      unit: r.unit.replaceAll('turn', 'rev'),
      inverse: r.inverse.replace('-', '−'),
      inverseDecimal: show(r.inverseDecimal, 6),
      inverseUnit: r.unit.replaceAll('turn', 'rev').split('/').reverse().join('/'),
    })),
  );
  protected readonly mobility = computed(() => {
    const w = this.store.worked();
    const n = w.freedoms;
    const words = n === 0 ? 'Nothing can move.' : n === 1 ? 'One freedom.' : `${n} freedoms.`;
    return `${words} ${w.undriven.length === 0 ? (n ? 'Every freedom has a source.' : '') : `${w.undriven.length} without a source.`}`;
  });
}
