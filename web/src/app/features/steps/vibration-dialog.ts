import { ChangeDetectionStrategy, Component, DestroyRef, computed, effect, inject, linkedSignal, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import type { Vibration } from '@unirota/core';
import { motionUnit } from '@unirota/core/units';
import { Latest } from '../../engine/latest';
import type { SearchApi } from '../../engine/search.worker';
import { WorkerClient, wasEnded } from '../../engine/worker-client';
import { DesignService } from '../../state/design.service';
import { UnitsService } from '../../state/units.service';
import { CURVE_COLOURS, Chart, type Curve } from '../../ui/chart';
import { Choice, type Option } from '../../ui/choice';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { ForcedVibration } from './forced-vibration';
import { ModeShape } from './mode-shape';

/** How large it opens. */
export const VIBRATION_DIALOG = { width: '1180px', maxWidth: '96vw', autoFocus: 'dialog' } as const;
/** Speeds up to this part of the nominal one are looked at. */
const UP_TO = 2;
/** How near to the nominal speed a natural frequency may be excited: common practice. */
const APART = 0.2;
/** Frequencies nearer to each other than this part are one. */
const SAME = 1e-6;

/** Natural frequencies with their shapes, what excites them and at which speed; lost motion and wind-up of the outputs. */
@Component({
  selector: 'uni-vibration-dialog',
  imports: [
    Chart,
    Choice,
    DataTable,
    MatButton,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatProgressBar,
    ModeShape,
    ForcedVibration,
  ],
  template: `
    <h2 i18n mat-dialog-title>Natural frequencies and lost motion</h2>
    <mat-dialog-content>
      <div class="line">
        <span i18n id="vi-sources">Sources</span>
        <uni-choice labelledBy="vi-sources" i18n-label label="Sources" [options]="ways" [value]="way()" (picked)="way.set($any($event))" />
      </div>
      @if (busy()) {
        <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Working out the natural frequencies" />
      }
      @if (problem()) {
        <p role="alert" class="caution">▲ {{ problem() }}</p>
      }
      @if (made(); as m) {
        @if (m.trouble) {
          <p class="caution">▲ <ng-container i18n>No natural frequencies:</ng-container> {{ m.trouble }}.</p>
        } @else {
          <div class="halves">
            <section>
              <h3 i18n>Natural frequencies</h3>
              <uni-data-table
                i18n-label
                label="Natural frequencies"
                [columns]="columns"
                [rows]="rows()"
                [file]="doc.design().name + ' natural frequencies'"
                i18n-none
                none="Nothing swings"
                (pressed)="chosen.set(+$event.id)"
              />
            </section>
            <div>
              @if (mode(); as x) {
                <section>
                  <h3 i18n>Mode {{ chosen() + 1 }}</h3>
                  <p i18n class="soft">
                    {{ units().number(x.frequency, '', 4) }} Hz. Swings brought to the source by the ratio between them: alike where the train moves
                    as one.
                  </p>
                  <uni-mode-shape [places]="m.places" [mode]="x" [label]="shapeLabel()" />
                </section>
              }
              @if (campbell(); as c) {
                <section>
                  <h3 i18n>Excitation over speed</h3>
                  <uni-chart i18n-heading heading="Frequency, Hz" unit="" [xLabel]="c.label" [xUnit]="c.unit" [curves]="c.curves" />
                  <ul class="legend">
                    @for (l of c.legend; track l.text) {
                      <li>
                        <svg width="26" height="8" aria-hidden="true">
                          <line
                            x1="0"
                            x2="26"
                            y1="4"
                            y2="4"
                            [style.stroke]="l.colour"
                            stroke-width="2"
                            [attr.stroke-dasharray]="l.dashed ? '6 4' : null"
                          />
                        </svg>
                        {{ l.text }}
                      </li>
                    }
                  </ul>
                </section>
              }
            </div>
          </div>
          <section>
            <uni-forced-vibration [made]="m" />
          </section>
        }
        <section>
          <h3 i18n>Outputs, while the sources stand still</h3>
          <uni-data-table
            i18n-label
            label="Lost motion and wind-up"
            [columns]="outputColumns"
            [rows]="outputs()"
            [file]="doc.design().name + ' lost motion'"
            i18n-none
            none="No outputs"
          />
          @for (p of plays(); track p) {
            <p class="soft">{{ p }}</p>
          }
        </section>
        <p i18n class="soft">
          At the home position; natural frequencies without damping or friction. Shafts twist between their elements, teeth give by ISO 6336-1 and
          10300-1, screws by their core, belts, chains, other couplings and bearings by their stated stiffness, springs of joints by their rate; all
          else is rigid. Lost motion is the backlash of the teeth and stated play: the worst adds all up; the likely one adds their middles and the
          root of the squares of half their ranges. Of planets one path counts.
        </p>
        @if (assumptions().length) {
          <ul class="soft plainlist">
            @for (a of assumptions(); track a) {
              <li>○ {{ a }}</li>
            }
          </ul>
        }
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton type="button" mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
  styleUrls: ['./sides.scss', './halves.scss'],
  styles: `
    .line uni-choice {
      width: 260px;
    }
    h3 + p {
      margin: 0 0 4px;
    }
    .legend {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 14px;
      list-style: none;
      padding: 0;
      margin: 4px 0 0;
    }
    .plainlist {
      list-style: none;
      padding: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VibrationDialog {
  protected readonly doc = inject(DesignService);
  protected readonly units = inject(UnitsService).now;
  private readonly worker = new WorkerClient<SearchApi>(() => new Worker(new URL('../../engine/search.worker', import.meta.url), { type: 'module' }));
  protected readonly ways: Option[] = [
    { value: 'free', label: $localize`turn with their rotors` },
    { value: 'held', label: $localize`stand still` },
  ];
  protected readonly way = signal<'free' | 'held'>('free');
  protected readonly problem = signal('');
  private readonly asked = computed(() => ({ way: this.way(), design: this.doc.design() }));
  private readonly latest = new Latest<ReturnType<typeof this.asked>, Vibration>(
    ({ way, design }) => this.worker.call((api) => api.vibration(design, way === 'held')),
    (e) => !wasEnded(e) && this.problem.set($localize`This could not be worked out: ${(e as Error).message}`),
  );
  protected readonly made = computed(() => this.latest.answer()?.is);
  protected readonly busy = computed(() => !this.problem() && this.latest.answer()?.of !== this.asked());
  protected readonly chosen = linkedSignal<Vibration | undefined, number>({ source: this.made, computation: () => 0 });
  protected readonly mode = computed(() => this.made()?.modes[this.chosen()]);

  protected readonly columns: readonly Column[] = [
    { key: 'mode', label: $localize`Mode`, number: true },
    { key: 'frequency', label: $localize`Frequency`, number: true, unit: 'Hz' },
    { key: 'energy', label: $localize`What gives most` },
    { key: 'excited', label: $localize`Excited nearest by` },
    { key: 'at', label: $localize`At speed, of nominal`, number: true, unit: '%' },
  ];
  protected readonly rows = computed((): Row[] => {
    const m = this.made();
    if (!m) return [];
    return m.modes.map((x, k): Row => {
      const crossing = m.crossings.find((c) => c.mode === k);
      const near = crossing !== undefined && Math.abs(crossing.speed - 1) < APART;
      const [most] = x.energy;
      return {
        id: String(k),
        selected: k === this.chosen(),
        cells: [
          { text: String(k + 1), value: k + 1 },
          { text: this.units().number(x.frequency, '', 4), value: x.frequency },
          { text: `${most.name}, ${Math.round(100 * most.part)}\u00a0%` },
          { text: crossing ? m.excitations[crossing.excitation].name : '–' },
          crossing
            ? {
                text: `${near ? '▲ ' : ''}${(100 * crossing.speed).toFixed(0)}`,
                value: 100 * crossing.speed,
                ...(near && { tone: 'missed' as const }),
              }
            : { text: '–' },
        ],
      };
    });
  });
  protected readonly shapeLabel = computed(() => {
    const m = this.made();
    return (m?.places ?? []).map((p, k) => `${p.name} ${this.mode()!.amplitudes[k]?.toFixed(2) ?? '–'}`).join('; ');
  });

  protected readonly campbell = computed(() => {
    const m = this.made();
    const speed = Math.abs(m?.source?.speed ?? 0);
    if (!m?.source || speed === 0 || !m.excitations.length || !m.modes.length) return undefined;
    // Planets that are alike excite alike.
    const distinct = m.excitations.filter((e, k) => !k || Math.abs(e.frequency / m.excitations[k - 1].frequency - 1) > SAME);
    const shown = distinct.slice(-4);
    const top = Math.max(UP_TO * shown[shown.length - 1].frequency, 1.1 * m.modes[0].frequency);
    const { speed: unit } = motionUnit(m.source.slides);
    const xs = [0, UP_TO * speed * this.units().factor(unit)];
    const lines = shown.map((e, k) => ({
      text: e.kind === 'turn' ? $localize`${e.name}, once a turn` : e.kind === 'mesh' ? $localize`${e.name}, teeth` : $localize`${e.name}, ripple`,
      colour: CURVE_COLOURS[(k + 1) % CURVE_COLOURS.length],
      dashed: false,
      ys: [0, UP_TO * e.frequency],
    }));
    const modes = m.modes
      .map((x, k) => ({ ...x, k }))
      .filter((x) => x.frequency <= top)
      .map((x) => ({ text: $localize`mode ${x.k + 1}`, colour: CURVE_COLOURS[0], dashed: true, ys: [x.frequency, x.frequency] }));
    return {
      label: m.source.name,
      unit,
      curves: [...lines, ...modes].map((l): Curve => ({ label: l.text, xs, ys: l.ys, colour: l.colour, dashed: l.dashed })),
      legend: [...lines, ...modes.slice(0, 1).map((l) => ({ ...l, text: modes.length > 1 ? $localize`modes 1 to ${modes.length}` : l.text }))],
    };
  });

  protected readonly outputColumns: readonly Column[] = [
    { key: 'output', label: $localize`Output` },
    { key: 'least', label: $localize`Lost motion, least`, number: true },
    { key: 'likely', label: $localize`likely`, number: true },
    { key: 'worst', label: $localize`worst`, number: true },
    { key: 'stiffness', label: $localize`Stiffness`, number: true },
    { key: 'load', label: $localize`Load`, number: true },
    { key: 'windUp', label: $localize`Wind-up`, number: true },
  ];
  protected readonly outputs = computed((): Row[] =>
    (this.made()?.outputs ?? []).map((o): Row => {
      const [way, effort, rate] = o.slides ? ['mm', 'N', 'N/mm'] : ['deg', 'N·m', 'N·m/deg'];
      const cell = (x: number | undefined, unit: string, none: string) =>
        x === undefined ? { text: none } : { text: this.units().text(x, unit, 3), value: x * this.units().factor(unit) };
      const rigid = $localize`rigid`;
      return {
        id: o.joint,
        cells: [
          { text: o.name },
          o.why === undefined ? cell(o.least, way, '–') : { text: o.why },
          cell(o.statistical, way, '–'),
          cell(o.worst, way, '–'),
          cell(o.stiffness, rate, o.why === undefined ? rigid : '–'),
          cell(o.load, effort, '–'),
          cell(o.windUp, way, '–'),
        ],
      };
    }),
  );
  /** What the lost motion of each output is made of. */
  protected readonly plays = computed(() =>
    (this.made()?.outputs ?? [])
      .filter((o) => o.parts?.length)
      .map((o) => {
        const way = o.slides ? 'mm' : 'deg';
        return `${o.name}: ${o.parts!.map((p) => `${p.name} ${this.units().text(p.part, way, 3)} (${p.from})`).join(', ')}.`;
      }),
  );
  protected readonly assumptions = computed(() => (this.made()?.assumptions ?? []).map((a) => `${a.name}: ${a.why}`));

  constructor() {
    effect(() => {
      this.problem.set('');
      this.latest.ask(this.asked());
    });
    inject(DestroyRef).onDestroy(() => this.worker.end());
  }
}
