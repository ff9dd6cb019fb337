import { listed } from '@unirota/core/units';
import { ChangeDetectionStrategy, Component, Injector, computed, inject, signal } from '@angular/core';
import { DatePipe } from '@angular/common';
import { RouterLink } from '@angular/router';
import { MatButton } from '@angular/material/button';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { Icon } from '../../ui/icon';
import { DrawingService } from '../../state/drawing.service';
import { GeometryService } from '../../state/geometry.service';
import { RatingService } from '../../state/rating.service';
import { ReleaseService } from '../../state/release.service';
import { PapersService } from '../../state/papers.service';
import { ShapesService } from '../../state/shapes.service';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { MotionService } from '../../state/motion.service';
import { FindingsService } from '../../state/findings.service';
import { Drawings } from './drawings';
import { Findings } from './findings';
import { MatDialog } from '@angular/material/dialog';

/** Release: every finding and wanted output in one place, and the design document to take away. */
@Component({
  selector: 'uni-release',
  providers: [ReleaseService, GeometryService, DrawingService],
  imports: [DataTable, DatePipe, Drawings, MatButton, Findings, Icon, RouterLink],
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
      <uni-drawings />
    </section>
    <section>
      <h2 i18n>Releases</h2>
      @if (releases.trouble()) {
        <p class="soft">{{ releases.trouble() }}</p>
      }
      @for (r of releases.list() ?? []; track r.letter) {
        <article>
          <p class="release">
            <b>{{ r.letter }}</b>
            <a i18n [routerLink]="['/design', doc.id(), 'revision', r.revision]">revision {{ r.revision }}</a>
            <span class="soft">{{ r.releasedAt | date: 'yyyy-MM-dd HH:mm' }}{{ r.person ? ', ' + r.person : '' }}</span>
          </p>
          @if (r.reason) {
            <p><ng-container i18n>Released with open points:</ng-container> {{ r.reason }}</p>
          }
          <p i18n class="soft">Files, with the SHA-256 of each</p>
          <ul class="files">
            @for (f of r.files; track f.name) {
              <li>
                <button matButton type="button" (click)="releases.download(r.letter, f)"><uni-icon name="download" /> {{ f.name }}</button>
                <span class="soft">{{ size(f.size) }}</span>
                <span class="hash soft">{{ f.sha256 }}</span>
              </li>
            }
          </ul>
        </article>
      } @empty {
        @if (releases.list()) {
          <p i18n class="soft">Nothing is released yet. A release fixes a revision under a letter, with its files.</p>
        }
      }
      @if (releases.changes(); as c) {
        <h3><ng-container i18n>Changes since release</ng-container> {{ c.letter }}</h3>
        <ul class="plainlist">
          @for (x of c.list.slice(0, MOST_CHANGES); track $index) {
            <li>{{ units().sentence(x) }}</li>
          } @empty {
            <li i18n class="soft">None: the design stands as released.</li>
          }
          @if (c.list.length > MOST_CHANGES) {
            <li class="soft"><ng-container i18n>and more, in all</ng-container> {{ c.list.length }}</li>
          }
        </ul>
      }
      @if (!doc.readOnly()) {
        <button
          matButton="filled"
          type="button"
          class="main"
          [disabled]="!releases.list() || releases.changes()?.list?.length === 0"
          (click)="release()"
        >
          <ng-container i18n>Release as</ng-container> {{ releases.next() }} …
        </button>
      }
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
        @if (!doc.readOnly()) {
          <button i18n matButton="outlined" type="button" (click)="list.click()">Import parts list (XLSX) …</button>
          <input
            #list
            type="file"
            hidden
            i18n-aria-label
            aria-label="Parts list"
            accept=".xlsx,application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
            (change)="importParts(list)"
          />
        }
      </div>
      @if (listProblems().length) {
        <ul class="plainlist" role="alert">
          @for (p of listProblems().slice(0, MOST_CHANGES); track $index) {
            <li class="missed">▲ {{ p }}</li>
          }
          @if (listProblems().length > MOST_CHANGES) {
            <li class="soft"><ng-container i18n>and more, in all</ng-container> {{ listProblems().length }}</li>
          }
        </ul>
      }
    </section>
  `,
  styleUrl: './step.scss',
  styles: `
    .release {
      display: flex;
      gap: 10px;
      align-items: baseline;
      margin: 8px 0 4px;
    }
    .release b {
      font-size: 17px;
      min-width: 18px;
    }
    a {
      color: var(--ink);
    }
    article {
      margin-bottom: 10px;
    }
    .files {
      display: grid;
      grid-template-columns: auto auto minmax(0, 1fr);
      list-style: none;
      margin: 0;
      padding: 0;
    }
    .files li {
      display: grid;
      grid-column: 1 / -1;
      grid-template-columns: subgrid;
      align-items: center;
      gap: 8px;
    }
    .files button {
      justify-content: start;
    }
    .main {
      margin-top: 6px;
    }
    .files .soft:first-of-type {
      text-align: right;
    }
    .hash {
      font-size: 11.5px;
      overflow-wrap: anywhere;
    }
  `,
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
  private readonly ratings = inject(RatingService);
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
    const rated = this.ratings.current() ? (this.ratings.rating()?.lines.length ?? 0) : 0;
    return [
      ...(rated ? [$localize`Rating: ${rated} safeties and lives of teeth, shafts, bearings and screws in all load cases and saved runs`] : []),
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
      this.ratings.rating()?.lines.length
        ? $localize`Strength, wear and life of what Rating lists as not rated`
        : $localize`Strength, wear and life of teeth, shafts, bearings, belts and other parts`,
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
  protected readonly releases = inject(ReleaseService);
  protected readonly MOST_CHANGES = 12;
  protected size(bytes: number): string {
    return bytes < 1e6 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
  }
  protected async release(): Promise<void> {
    const { ReleaseDialog, RELEASE_DIALOG } = await import('./release-dialog');
    this.dialog.open(ReleaseDialog, { ...RELEASE_DIALOG, injector: this.injector });
  }
  protected async report(): Promise<void> {
    const { ReportDialog, REPORT_DIALOG } = await import('./report-dialog');
    this.dialog.open(ReportDialog, { ...REPORT_DIALOG, injector: this.injector });
  }
  protected async geometry(): Promise<void> {
    const { GeometryDialog, GEOMETRY_DIALOG } = await import('./geometry-dialog');
    this.dialog.open(GeometryDialog, { ...GEOMETRY_DIALOG, injector: this.injector });
  }
  /** What was wrong in the parts list that was imported last. */
  protected readonly listProblems = signal<readonly string[]>([]);
  protected async importParts(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    // The same file can be chosen again after it was mended.
    input.value = '';
    if (file) this.listProblems.set(await this.papers.importParts(file));
  }
  protected download(): void {
    void this.shapes.downloadDesign();
  }
}
