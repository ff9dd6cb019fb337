import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { Icon } from '../shared/icon';
import { takeAway } from '../services/take-away';
import { UnitsService } from '../services/units.service';
import { WorkbenchStore } from '../workbench/workbench.store';
import { Findings } from './findings';

/** Release: every finding and wanted output in one place, and the design document to take away. */
@Component({
  selector: 'uni-release',
  imports: [MatButton, Findings, Icon],
  template: `
    <section>
      <h2>Wanted outputs</h2>
      <ul class="plainlist">
        @for (w of wanted(); track w.id) {
          <li [class.met]="w.met" [class.missed]="!w.met">{{ w.met ? '✓' : '✗' }} {{ w.name }}: {{ w.text }}</li>
        } @empty {
          <li class="soft">None stated.</li>
        }
      </ul>
    </section>
    <section>
      <h2>Findings</h2>
      <uni-findings />
    </section>
    <section>
      <h2>Parts</h2>
      <table>
        <thead>
          <tr>
            <th>Member</th>
            <th>Elements</th>
            <th class="num">Mass</th>
          </tr>
        </thead>
        <tbody>
          @for (p of parts(); track p.id) {
            <tr (click)="store.select('member', p.id)">
              <td>{{ p.name }}</td>
              <td>{{ p.elements }}</td>
              <td class="num">{{ p.mass }}</td>
            </tr>
          }
        </tbody>
      </table>
    </section>
    <section>
      <h2>Take away</h2>
      <button matButton="outlined" type="button" (click)="download()"><uni-icon name="download" /> Design document (JSON)</button>
    </section>
  `,
  styleUrl: './step.scss',
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReleaseStep {
  protected readonly store = inject(WorkbenchStore);
  protected readonly units = inject(UnitsService).now;
  protected readonly wanted = computed(() =>
    this.store.ledger().wanted.map((r) => ({
      id: r.wanted,
      name: this.store.design().wanted.find((w) => w.id === r.wanted)?.name ?? r.wanted,
      met: r.met,
      text:
        r.value === undefined
          ? r.because
          : `${this.units().text(r.value, r.unit)}${r.met ? '' : `, off by ${this.units().text(r.off ?? 0, r.unit, 3)}`}`,
    })),
  );
  protected readonly parts = computed(() => {
    const d = this.store.design();
    return d.members.map((m) => ({
      id: m.id,
      name: m.name,
      elements: d.elements
        .filter((e) => e.member === m.id)
        .map((e) => e.name)
        .join(', '),
      mass: this.units().text(this.store.snapshot()?.masses.get(m.id)?.mass ?? 0, 'kg', 4),
    }));
  });
  protected download(): void {
    takeAway(this.store.design(), this.store.design().name);
  }
}
