import { listed } from '@unirota/core/units';
import { ChangeDetectionStrategy, Component, Injector, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { Icon } from '../../ui/icon';
import { PapersService } from '../../state/papers.service';
import { ShapesService } from '../../state/shapes.service';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { MotionService } from '../../state/motion.service';
import { FindingsService } from '../../state/findings.service';
import { Findings } from './findings';
import { MatDialog } from '@angular/material/dialog';

/** Release: every finding and wanted output in one place, and the design document to take away. */
@Component({
  selector: 'uni-release',
  imports: [DataTable, MatButton, Findings, Icon],
  template: `
    <section>
      <h2 i18n>Wanted outputs</h2>
      <ul class="plainlist">
        @for (w of wanted(); track w.id) {
          <li [class.met]="w.met" [class.missed]="!w.met">{{ w.met ? '✓' : '✗' }} {{ w.name }}: {{ w.text }}</li>
        } @empty {
          <li i18n class="soft">None stated.</li>
        }
      </ul>
    </section>
    <section>
      <h2 i18n>Findings</h2>
      <uni-findings />
    </section>
    <section>
      <h2 i18n>Scope of the checks</h2>
      <h3 i18n>Checked</h3>
      <ul class="plainlist">
        @for (c of checked(); track c) {
          <li class="met">✓ {{ c }}</li>
        } @empty {
          <li i18n class="soft">Nothing yet.</li>
        }
      </ul>
      <h3 i18n>Not checked</h3>
      <ul class="plainlist">
        @for (c of unchecked(); track c) {
          <li>○ {{ c }}</li>
        }
      </ul>
    </section>
    <section>
      <h2 i18n>Parts</h2>
      <uni-data-table
        i18n-label
        label="Parts"
        [columns]="columns()"
        [rows]="parts()"
        none="No members yet."
        [file]="doc.design().name + ' parts'"
        (pressed)="chosen.select('member', $event.id)"
      />
    </section>
    <section>
      <h2 i18n>Export</h2>
      <div class="add">
        <button i18n matButton="outlined" type="button" (click)="report()"><uni-icon name="download" /> Report (PDF) …</button>
        <button i18n matButton="outlined" type="button" (click)="geometry()">
          <uni-icon name="download" /> Geometry: solids and cutting profiles …
        </button>
        <button i18n matButton="outlined" type="button" (click)="download()"><uni-icon name="download" /> Design document</button>
        <button i18n matButton="outlined" type="button" (click)="papers.tables()"><uni-icon name="download" /> Tables (XLSX)</button>
      </div>
    </section>
  `,
  styleUrl: './step.scss',
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReleaseStep {
  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly motion = inject(MotionService);
  protected readonly found = inject(FindingsService);
  protected readonly units = inject(UnitsService).now;
  protected readonly wanted = computed(() =>
    this.motion.ledger().wanted.map((r) => ({
      id: r.wanted,
      name: this.doc.design().wanted.find((w) => w.id === r.wanted)?.name ?? r.wanted,
      met: r.met,
      text:
        r.value === undefined
          ? r.because
          : `${this.units().text(r.value, r.unit)}${r.met ? '' : `, off by ${this.units().text(r.off ?? 0, r.unit, 3)}`}`,
    })),
  );
  /** What the findings speak for, and what they do not: no mark stands for more than was looked at. */
  protected readonly checked = computed(() => {
    const d = this.doc.design();
    // Of this very state: what is still being worked out is not checked yet.
    if (!this.found.current() || !d.members.length) return [];
    const of = this.caseName();
    return [
      $localize`Ratios, mobility and closed loops`,
      ...(d.couplings.length ? [$localize`Couplings: distances, alignment, teeth, phases and engagement over the travel`] : []),
      ...(this.motion.source() ? [$localize`Stops and home of the source’s travel`] : []),
      $localize`Overlap of bodies in the home position`,
      ...(d.sources.length
        ? [$localize`Forces and wanted outputs in the home position, in steady motion${of ? `, in the load case “${of}”` : ''}`]
        : []),
    ];
  });
  protected readonly unchecked = computed(() => {
    const d = this.doc.design();
    const cases = (d.cases ?? []).filter((c) => c.id !== this.doc.loadCase());
    return [
      $localize`Strength, wear and life of teeth, shafts, bearings, belts and other parts`,
      $localize`Overlap of bodies away from home: Layout, Tools looks from stop to stop or over a run`,
      $localize`Forces at other positions: Motion and Loads show them; no finding judges them`,
      ...(cases.length ? [$localize`Load cases that are not shown: ${listed(cases.map((c) => c.name))}`] : []),
    ];
  });
  private readonly caseName = computed(() => this.doc.design().cases?.find((c) => c.id === this.doc.loadCase())?.name);
  protected readonly parts = computed(() => {
    const d = this.doc.design();
    return d.members.map((m): Row => {
      const mass = this.found.snapshot()?.masses.get(m.id)?.mass ?? 0;
      const elements = d.elements.filter((e) => e.member === m.id).map((e) => e.name);
      return {
        id: m.id,
        cells: [{ text: m.name }, { text: elements.join(', ') }, { text: this.units().number(mass, 'kg', 4), value: this.units().shown(mass, 'kg') }],
      };
    });
  });
  protected readonly columns = computed((): Column[] => [
    { key: 'member', label: $localize`Member` },
    { key: 'elements', label: $localize`Elements` },
    { key: 'mass', label: $localize`Mass`, unit: this.units().of('kg'), number: true },
  ]);
  private readonly shapes = inject(ShapesService);
  protected readonly papers = inject(PapersService);
  protected async report(): Promise<void> {
    const { ReportDialog, REPORT_DIALOG } = await import('./report-dialog');
    this.dialog.open(ReportDialog, { ...REPORT_DIALOG, injector: this.injector });
  }
  protected async geometry(): Promise<void> {
    const { GeometryDialog, GEOMETRY_DIALOG } = await import('./geometry-dialog');
    this.dialog.open(GeometryDialog, { ...GEOMETRY_DIALOG, injector: this.injector });
  }
  protected download(): void {
    void this.shapes.downloadDesign();
  }
}
