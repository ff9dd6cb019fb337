import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { worstInstant } from '@unirota/core';
import { show } from '@unirota/core/units';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { PASSING, RunService } from '../../state/run.service';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { TextField } from '../../ui/text-field';

/** Quantities whose worst is asked for first; places and energies are found by name. */
const LOADS = /^(source:.*:(load|power)|joint:.*:(force|moment|stop)|coupling:.*)$/;

/** The worst instant of every quantity, over all runs that are computed: a press goes there. */
@Component({
  selector: 'uni-worst',
  imports: [TextField, DataTable, MatButton],
  template: `
    <h2 i18n>Worst instants</h2>
    @if (runs.atHand().length) {
      <div class="add">
        <uni-text-field
          i18n-label
          i18n-placeholder
          label="Find a worst instant"
          placeholder="Find by name …"
          [value]="sought()"
          (typed)="sought.set($event)"
        />
        @if (missing()) {
          <button i18n matButton="outlined" type="button" [disabled]="runs.progress() !== undefined" (click)="runs.computeAll()">
            Compute the {{ missing() === 1 ? 'other saved run' : missing() + ' other saved runs' }}
          </button>
        }
        <span i18n class="soft">Over {{ over() }}.</span>
      </div>
      <uni-data-table
        i18n-label
        label="Worst instants"
        [columns]="columns"
        [rows]="rows()"
        none="Nothing of that name."
        [file]="file()"
        (pressed)="go($event.id)"
      />
    } @else {
      <p i18n class="soft">
        Compute a run on Motion: the worst instant of every force, moment and torque stands here, and a press goes there.
        @if (missing()) {
          <button matButton="outlined" type="button" [disabled]="runs.progress() !== undefined" (click)="runs.computeAll()">
            Compute the kept runs
          </button>
        }
      </p>
    }
  `,
  styleUrl: './section.scss',
  styles: `
    input {
      width: 170px;
    }
    uni-data-table {
      max-height: 300px;
      overflow: auto;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Worst {
  private readonly doc = inject(DesignService);
  protected readonly runs = inject(RunService);
  private readonly units = inject(UnitsService).now;
  protected readonly sought = signal('');
  protected readonly file = computed(() => $localize`${this.doc.design().name} worst instants`);
  protected readonly columns: readonly Column[] = [
    { key: 'what', label: $localize`Quantity` },
    { key: 'worst', label: $localize`Worst`, number: true },
    { key: 'at', label: $localize`at`, unit: 's', number: true },
    { key: 'run', label: $localize`Run` },
  ];
  protected readonly missing = computed(() => this.runs.kept().filter((r) => this.runs.stateOf(r) !== 'computed').length);
  protected readonly over = computed(() =>
    this.runs
      .atHand()
      .map((r) => r.kept.name || $localize`the run of now`)
      .join(', '),
  );

  private readonly all = computed(() => {
    const worst = new Map<string, { key: string; label: string; unit: string; value: number; time: number; run: string; name: string }>();
    for (const r of this.runs.atHand()) {
      for (const q of r.quantities) {
        const w = worstInstant(q, r.result.frames);
        const had = worst.get(q.key);
        if (had && Math.abs(had.value) >= Math.abs(w.value)) continue;
        worst.set(q.key, {
          key: q.key,
          label: q.label,
          unit: q.unit,
          value: w.value,
          time: r.result.time[w.frame],
          run: r.key,
          name: r.kept.name || $localize`the run of now`,
        });
      }
    }
    return worst;
  });
  protected readonly rows = computed<Row[]>(() => {
    const u = this.units();
    const words = this.sought().toLowerCase().split(/\s+/).filter(Boolean);
    return [...this.all().values()]
      .filter((w) => (words.length ? words.every((x) => w.label.toLowerCase().includes(x)) : LOADS.test(w.key)))
      .map((w) => ({
        id: w.key,
        cells: [
          { text: w.label },
          { text: u.text(w.value, w.unit, 4), value: u.shown(w.value, w.unit) },
          { text: show(w.time, 4), value: w.time },
          { text: w.name },
        ],
      }));
  });
  protected go(key: string): void {
    const w = this.all().get(key);
    if (!w) return;
    this.runs.show(w.run === '' ? PASSING : w.run);
    this.runs.go(w.time);
  }
}
