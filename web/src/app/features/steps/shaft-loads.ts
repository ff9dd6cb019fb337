import { ChangeDetectionStrategy, Component, Injector, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { largestAlong, shaftDiagram } from '@unirota/core';
import type { Id } from '@unirota/core/document';
import { lineAt } from '@unirota/core/math';
import { show } from '@unirota/core/units';
import { AnalysisService, type EnvelopeQuestion } from '../../state/analysis.service';
import { Chart, type Curve } from '../../ui/chart';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { LoadsService } from '../../state/loads.service';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';

/**
 * Shear, bending and torsion along the chosen shaft at the instant, with the
 * largest over the run behind them; how it bends at its wheels and bearings.
 */
@Component({
  selector: 'uni-shaft-loads',
  imports: [Chart, DataTable, MatButton],
  template: `
    <h2 i18n>Along the shaft</h2>
    @if (diagram(); as d) {
      <p i18n class="soft">
        {{ name() }}, {{ loads.when() }}: bends most at {{ units().text(most().bending.at, 'mm', 4) }},
        {{ units().text(most().bending.value, 'N·m', 4) }}; torsion at most {{ units().text(most().torsion.value, 'N·m', 4) }}.
        @if (worst(); as w) {
          Over the run {{ units().text(w.bending.value, 'N·m', 4) }} at {{ units().text(w.bending.at, 'mm', 4) }}, {{ show(w.bending.time, 4) }} s,
          and torsion {{ units().text(w.torsion.value, 'N·m', 4) }}.
          <button matButton="outlined" type="button" (click)="loads.goTo(w.bending.time)">Go to the worst bending</button>
        }
      </p>
      <div class="charts">
        @for (c of charts(); track c.heading) {
          <uni-chart i18n-xLabel [heading]="c.heading" [unit]="c.unit" xLabel="Along the axis" xUnit="mm" [curves]="c.curves" />
        }
      </div>
      <uni-data-table i18n-label label="At wheels and bearings" [columns]="columns()" [rows]="rows()" [file]="name() + ' along the shaft'" />
      @if (!d.deflection) {
        <p i18n class="soft">How it bends needs a round bar on the member, along its axis, and a joint that carries it.</p>
      } @else {
        <p i18n class="soft">
          Bends as steel (E = 206 GPa) by its round bars, without shear; its bearings do not give way{{
            d.supports.length > 1 ? '' : ', and its one joint holds it straight'
          }}. Weight and inertia act at the centre of mass.
        </p>
      }
    } @else {
      <p i18n class="soft">Select a shaft: what it bears along its axis stands here.</p>
    }
  `,
  styleUrl: './section.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShaftLoads {
  private readonly doc = inject(DesignService);
  protected readonly loads = inject(LoadsService);
  protected readonly units = inject(UnitsService).now;
  protected readonly show = show;
  /** The chosen member, where it is a shaft or turns as one. */
  private readonly member = computed<Id | undefined>(() => {
    const id = this.loads.member();
    const m = this.doc.design().members.find((x) => x.id === id);
    return m && (m.kind === 'shaft' || m.kind === 'carrier') ? m.id : undefined;
  });
  protected readonly name = computed(() => this.doc.design().members.find((m) => m.id === this.member())?.name ?? '');
  protected readonly diagram = computed(() => {
    const member = this.member();
    const { forces, inertia } = this.loads.now();
    const d = member === undefined ? undefined : shaftDiagram(forces, member, inertia);
    return d && d.at.length > 1 ? d : undefined;
  });
  private readonly question = computed<EnvelopeQuestion | undefined>(() => {
    const [run, member] = [this.loads.run(), this.member()];
    return run && member !== undefined ? { design: run.design, kept: run.kept, result: run.result, member } : undefined;
  });
  private readonly answer = inject(AnalysisService).envelopeOf(this.question, inject(Injector));
  private readonly envelope = computed(() => {
    const [q, a] = [this.question(), this.answer()];
    return q && a?.of.member === q.member && a.of.result === q.result ? a.is : undefined;
  });
  protected readonly worst = computed(() => this.envelope()?.worst);
  protected readonly most = computed(() => {
    const d = this.diagram()!;
    return { bending: largestAlong(d.at, d.resultant), torsion: largestAlong(d.at, d.torsion) };
  });
  protected readonly charts = computed(() => {
    const d = this.diagram();
    if (!d) return [];
    const e = this.envelope();
    const curve = (label: string, ys: Float64Array, colour: string, dashed = false): Curve => ({ label, xs: d.at, ys, colour, dashed });
    const behind = (ys: Float64Array | undefined): Curve[] =>
      e && ys ? [{ label: $localize`over the run`, xs: e.at, ys, colour: 'var(--brass-line)', dashed: true }] : [];
    const across = (v: readonly [Float64Array, Float64Array]): Float64Array => v[0].map((x, i) => Math.hypot(x, v[1][i]));
    return [
      {
        heading: $localize`Bending: in all${e ? ', most of the run dashed' : ''}; about x and y`,
        unit: 'N·m',
        curves: [
          curve($localize`in all`, d.resultant, 'var(--ink)'),
          curve('about x', d.bending[0], 'var(--teal)'),
          curve('about y', d.bending[1], 'var(--violet)'),
          ...behind(e?.bending),
        ],
      },
      { heading: $localize`Torsion`, unit: 'N·m', curves: [curve('torsion', d.torsion, 'var(--ink)'), ...behind(e?.torsion)] },
      {
        heading: $localize`Shear: in all; along x and y`,
        unit: 'N',
        curves: [
          curve($localize`in all`, across(d.shear), 'var(--ink)'),
          curve('x', d.shear[0], 'var(--teal)'),
          curve('y', d.shear[1], 'var(--violet)'),
          ...behind(e?.shear),
        ],
      },
      ...(d.deflection
        ? [
            {
              heading: $localize`Deflection`,
              unit: 'mm',
              curves: [curve('deflection', across(d.deflection), 'var(--ink)'), ...behind(e?.deflection)],
            },
          ]
        : []),
    ];
  });
  protected readonly columns = computed<Column[]>(() => {
    const u = this.units();
    return [
      { key: 'what', label: $localize`Where` },
      { key: 'at', label: $localize`at`, unit: u.of('mm'), number: true },
      { key: 'bending', label: $localize`Bending`, unit: u.of('N·m'), number: true },
      { key: 'torsion', label: $localize`Torsion`, unit: u.of('N·m'), number: true },
      { key: 'deflection', label: $localize`Deflection`, unit: u.of('mm'), number: true },
      { key: 'slope', label: $localize`Slope`, unit: 'mrad', number: true },
    ];
  });
  protected readonly rows = computed<Row[]>(() => {
    const d = this.diagram();
    if (!d) return [];
    const u = this.units();
    const cell = (x: number, unit: string) => ({ text: u.number(x, unit, 4), value: u.shown(x, unit) });
    const done = new Set<string>();
    return d.loads.flatMap((l) => {
      const key = `${l.name} ${l.at.toFixed(6)}`;
      if (done.has(key)) return [];
      done.add(key);
      const across = (v: readonly [Float64Array, Float64Array] | undefined): number | undefined =>
        v && Math.hypot(lineAt(d.at, v[0], l.at), lineAt(d.at, v[1], l.at));
      const [deflection, slope] = [across(d.deflection), across(d.slope)];
      return [
        {
          cells: [
            { text: l.name },
            cell(l.at, 'mm'),
            cell(lineAt(d.at, d.resultant, l.at), 'N·m'),
            cell(lineAt(d.at, d.torsion, l.at), 'N·m'),
            deflection === undefined ? { text: '–' } : cell(deflection < 1e-12 ? 0 : deflection, 'mm'),
            slope === undefined ? { text: '–' } : { text: show(slope * 1e3, 4), value: slope * 1e3 },
          ],
        },
      ];
    });
  });
}
