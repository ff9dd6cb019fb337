import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import { type Design, FRAME, numberField } from '@unirota/core/document';
import { elementKind } from '@unirota/core/elements';
import type { FlatFormat, GeometryOptions, ModelFormat, SolidFormat } from '@unirota/solids';
import { DesignService } from '../../state/design.service';
import { wasEnded } from '../../engine/worker-client';
import { GeometryService } from '../../state/geometry.service';
import { MotionService } from '../../state/motion.service';
import { RunService } from '../../state/run.service';
import { UnitsService } from '../../state/units.service';
import type { Preview } from '../../engine/geometry.worker';
import { Latest } from '../../engine/latest';
import { Choice } from '../../ui/choice';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { type Committed, QuantityField } from '../../ui/quantity-field';

type Format = SolidFormat | FlatFormat | ModelFormat;

/** Solids in place, flat parts on sheets, or the mechanism. */
type Sort = 'solid' | 'flat' | 'model';
const FORMATS: { value: Format; label: string; sort: Sort; about: string }[] = [
  {
    value: 'step',
    label: $localize`STEP: solids`,
    sort: 'solid',
    about: $localize`Exact solids with names and colours, for modelling (ISO 10303, AP214).`,
  },
  { value: '3mf', label: $localize`3MF: meshes`, sort: 'solid', about: $localize`Closed meshes with names and colours.` },
  { value: 'stl', label: $localize`STL: one mesh`, sort: 'solid', about: $localize`One mesh without names, colours or unit.` },
  { value: 'glb', label: $localize`glTF: scene`, sort: 'solid', about: $localize`A scene with names and colours, in metres, for viewing (GLB).` },
  {
    value: 'dxf',
    label: $localize`DXF: cutting profiles`,
    sort: 'flat',
    about: $localize`Closed polylines with arcs in true size, a layer for each member.`,
  },
  { value: 'svg', label: $localize`SVG: cutting profiles`, sort: 'flat', about: $localize`Curves in true size, a group for each member.` },
  {
    value: 'mjcf',
    label: $localize`MJCF: mechanism`,
    sort: 'model',
    about: $localize`Links with masses, joints, ties and loops for simulation, with meshes (zip).`,
  },
  {
    value: 'urdf',
    label: $localize`URDF: mechanism`,
    sort: 'model',
    about: $localize`Links with masses and joints, those that follow another as mimic joints, with meshes (zip).`,
  },
  {
    value: 'sdf',
    label: $localize`SDF: mechanism`,
    sort: 'model',
    about: $localize`Links with masses, joints and loops, those that follow another as mimic joints, with meshes (zip).`,
  },
];
const CUT = {
  kerf: numberField('kerf', $localize`Kerf`, { unit: 'mm', min: -50, max: 50 }),
  backlash: numberField('backlash', $localize`Backlash`, { unit: 'mm', min: 0, max: 10 }),
  gap: numberField('gap', $localize`Gap`, { unit: 'mm', min: 0, max: 1000 }),
  width: numberField('width', $localize`Sheet width`, { unit: 'mm', above: 0, max: 1e5 }),
  height: numberField('height', $localize`Sheet height`, { unit: 'mm', above: 0, max: 1e5 }),
};
type Cut = Partial<Record<keyof typeof CUT, number>>;
/** How large it opens. */
export const GEOMETRY_DIALOG = { width: '980px', maxWidth: '96vw' } as const;

/** Export of geometry: solids for modelling at the current position, or flat parts for cutting with a preview of the sheets. */
@Component({
  selector: 'uni-geometry-dialog',
  imports: [
    Choice,
    DataTable,
    MatButton,
    MatCheckbox,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatProgressBar,
    QuantityField,
  ],
  providers: [GeometryService],
  template: `
    <h2 i18n mat-dialog-title>Export geometry</h2>
    <mat-dialog-content>
      <div class="sides">
        <div class="given">
          <span i18n id="g-format">Format</span>
          <uni-choice i18n-label labelledBy="g-format" label="Format" [options]="formats" [value]="format()" (picked)="pickFormat($event)" />
          @if (!model()) {
            <span i18n id="g-members">Members</span>
            <uni-choice
              i18n-label
              i18n-placeholder
              labelledBy="g-members"
              label="Members"
              placeholder="All"
              [multiple]="true"
              [options]="members()"
              [value]="chosen()"
              (pickedMany)="chosen.set($event)"
            />
          }
          @if (format() !== 'glb' && !model()) {
            <span i18n id="g-unit">Unit</span>
            <uni-choice i18n-label labelledBy="g-unit" label="Unit" [options]="unitChoices" [value]="unit()" (picked)="pickUnit($event)" />
          }
          @if (flat()) {
            @for (k of cutKeys; track k) {
              <label [for]="'g-' + k">{{ fields[k].label }}</label>
              <uni-quantity-field [inputId]="'g-' + k" [field]="fields[k]" [value]="cut()[k]" (committed)="setCut(k, $event)" />
            }
          }
        </div>
        <div class="shown">
          <p class="soft">{{ about() }}</p>
          @if (flat()) {
            @if (halfSheet()) {
              <p i18n class="caution">▲ State the width and the height of the sheets, or neither: one sheet is as large as it takes.</p>
            }
            @if (!current()) {
              <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Making the preview" />
            }
            @if (preview(); as p) {
              @for (s of p.sheets; track $index) {
                <figure>
                  <svg
                    i18n-aria-label
                    role="img"
                    aria-label="Parts on the sheet"
                    [attr.viewBox]="'-2 ' + (-s.height - 2) + ' ' + (s.width + 4) + ' ' + (s.height + 4)"
                  >
                    <rect x="0" [attr.y]="-s.height" [attr.width]="s.width" [attr.height]="s.height" />
                    @for (d of s.paths; track $index) {
                      <path [attr.d]="d" />
                    }
                  </svg>
                  <figcaption>
                    <ng-container i18n>Sheet</ng-container> {{ $index + 1 }}: {{ units().text(s.width, 'mm', 5) }} ×
                    {{ units().text(s.height, 'mm', 5) }}
                  </figcaption>
                </figure>
              }
              <uni-data-table i18n-label label="Flat parts" [columns]="columns()" [rows]="rows()" [file]="doc.design().name + ' flat parts'" />
              @for (n of p.notes; track $index) {
                <p class="caution">▲ {{ n }}</p>
              }
            } @else if (preview() === null) {
              <p i18n>None of these members has a part that can be cut from plate. Gears, racks, cams, pawls, levers, wheels and blocks can.</p>
            }
          } @else if (model()) {
            <p i18n>
              Positions are those of the mechanism; forces are its weight alone. Stops with two ends are joint limits. What the format does not hold
              is listed when the file is made.
            </p>
          } @else {
            <p i18n>
              {{ bodyCount() }} bodies of {{ memberCount() }} members at the current position. Threads and worms are plain cylinders with the thread
              in their name; teeth of bevel gears and worm wheels are approximate.
            </p>
            @if (hasThreads()) {
              <mat-checkbox i18n [checked]="threads()" (change)="threads.set($event.checked)"
                >Model threads of screws and worms (up to 60 turns)</mat-checkbox
              >
            }
            @if (format() === 'step') {
              <p i18n class="soft">The geometry kernel (23 MB) is loaded with the first STEP file.</p>
            }
            @if (format() === 'glb') {
              <mat-checkbox i18n [checked]="withRun()" [disabled]="!runs.shown()" (change)="withRun.set($event.checked)"
                >With the run as an animation</mat-checkbox
              >
              @if (!runs.shown()) {
                <p i18n class="soft">No run is computed: Motion computes one.</p>
              }
            }
          }
        </div>
      </div>
      @if (files.done(); as part) {
        <mat-progress-bar i18n-aria-label [value]="100 * part" aria-label="Writing the file" />
      } @else if (files.done() === 0) {
        <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Preparing the file" />
      }
      @if (files.trouble(); as t) {
        <p class="trouble" role="alert">{{ t }}</p>
      }
      @if (files.said(); as s) {
        <p role="status">✓ {{ s }}</p>
      }
      @if (!flat() && files.notes().length) {
        <h3 i18n>About the file</h3>
        <ul class="notes">
          @for (n of files.notes(); track $index) {
            <li>{{ n }}</li>
          }
        </ul>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (files.done() !== undefined) {
        <button i18n matButton="outlined" type="button" (click)="files.end()">Stop export</button>
      } @else {
        <button i18n matButton type="button" mat-dialog-close>Close</button>
        <button i18n matButton="filled" type="button" [disabled]="!possible()" (click)="write()">Export</button>
      }
    </mat-dialog-actions>
  `,
  styles: `
    .sides {
      display: grid;
      grid-template-columns: 290px minmax(0, 1fr);
      gap: 20px;
      align-items: start;
    }
    .given {
      display: grid;
      grid-template-columns: auto 170px;
      gap: 6px 12px;
      align-items: center;
    }
    .shown p {
      margin: 4px 0 10px;
    }
    figure {
      margin: 0 0 8px;
    }
    svg {
      display: block;
      width: 100%;
      max-height: 300px;
      background: var(--sheet);
    }
    rect {
      fill: none;
      stroke: var(--rule);
      vector-effect: non-scaling-stroke;
    }
    path {
      fill: var(--brass-fill);
      fill-rule: evenodd;
      stroke: var(--ink);
      vector-effect: non-scaling-stroke;
    }
    figcaption {
      color: var(--ink-soft);
      font-size: 13px;
    }
    .notes {
      margin: 0;
      padding-left: 18px;
      max-height: 120px;
      overflow: auto;
    }
    .caution {
      color: var(--caution);
      margin: 4px 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GeometryDialog {
  protected readonly doc = inject(DesignService);
  protected readonly runs = inject(RunService);
  private readonly motion = inject(MotionService);
  protected readonly files = inject(GeometryService);
  protected readonly units = inject(UnitsService).now;
  protected readonly formats = FORMATS.map(({ value, label }) => ({ value, label }));
  protected readonly unitChoices = [
    { value: 'mm', label: 'mm' },
    { value: 'in', label: 'in' },
  ];
  protected readonly fields = CUT;
  protected readonly cutKeys = Object.keys(CUT) as (keyof typeof CUT)[];
  protected readonly format = signal<Format>('step');
  protected readonly unit = signal<'mm' | 'in'>(this.units().of('mm') === 'in' ? 'in' : 'mm');
  protected readonly chosen = signal<string[]>([]);
  protected readonly cut = signal<Cut>({ gap: 5 });
  protected readonly withRun = signal(false);
  protected readonly threads = signal(false);
  protected readonly hasThreads = computed(() => this.doc.design().elements.some((e) => elementKind(e.type)?.threaded));
  private readonly previews = new Latest<{ design: Design; options: GeometryOptions }, Preview | undefined>(
    ({ design, options }) => this.files.preview(design, options),
    (e) => !wasEnded(e) && this.files.trouble.set((e as Error).message),
  );
  /** The last preview that was made; null where there is nothing that can be cut. */
  protected readonly preview = computed(() => {
    const made = this.previews.answer();
    return made && (made.is ?? null);
  });
  /** It is that of what is stated now. */
  protected readonly current = computed(() => this.previews.answer()?.of === this.question());
  private readonly chosenFormat = computed(() => FORMATS.find((f) => f.value === this.format())!);
  protected readonly flat = computed(() => this.chosenFormat().sort === 'flat');
  protected readonly halfSheet = computed(() => (this.cut().width === undefined) !== (this.cut().height === undefined));
  protected readonly model = computed(() => this.chosenFormat().sort === 'model');
  protected readonly about = computed(() => this.chosenFormat().about);
  protected readonly members = computed(() => {
    const { members, elements } = this.doc.design();
    const carried = new Set(elements.map((e) => e.member));
    return [{ id: FRAME, name: $localize`Frame` }, ...members].filter((m) => carried.has(m.id)).map((m) => ({ value: m.id, label: m.name }));
  });
  protected readonly memberCount = computed(() => this.chosen().length || this.members().length);
  protected readonly bodyCount = computed(() => {
    const only = this.chosen();
    return this.doc.design().elements.filter((e) => !only.length || only.includes(e.member)).length;
  });
  protected readonly possible = computed(() =>
    this.flat() ? this.current() && !!this.preview()?.sheets.length : this.model() || this.bodyCount() > 0,
  );
  private readonly options = computed((): GeometryOptions => {
    const { width, height, kerf, backlash, gap } = this.cut();
    const sheet = width !== undefined && height !== undefined ? { width, height } : undefined;
    return {
      format: this.format(),
      unit: this.unit(),
      threads: this.threads(),
      members: this.chosen().length ? this.chosen() : undefined,
      cut: { kerf, backlash, gap, sheet },
    };
  });
  private readonly question = computed(() => (this.flat() ? { design: this.doc.design(), options: this.options() } : undefined));
  protected readonly columns = computed((): Column[] => {
    const unit = this.units().of('mm');
    return [
      { key: 'part', label: $localize`Part` },
      { key: 'member', label: $localize`Member` },
      { key: 'width', label: $localize`Width`, unit, number: true },
      { key: 'height', label: $localize`Height`, unit, number: true },
      { key: 'thickness', label: $localize`Thickness`, unit, number: true },
      { key: 'sheet', label: $localize`Sheet`, number: true },
    ];
  });
  protected readonly rows = computed((): Row[] =>
    (this.preview()?.parts ?? []).map((p) => {
      const mm = (v: number): Row['cells'][number] => ({ text: this.units().number(v, 'mm', 5), value: this.units().shown(v, 'mm') });
      return {
        cells: [
          { text: p.name },
          { text: p.member },
          mm(p.width),
          mm(p.height),
          mm(p.thickness),
          p.sheet === undefined ? { text: '–' } : { text: String(p.sheet + 1), value: p.sheet + 1 },
        ],
      };
    }),
  );

  constructor() {
    effect(() => {
      const question = this.question();
      untracked(() => {
        this.files.clear();
        if (question) this.previews.ask(question);
      });
    });
  }

  protected pickFormat(value: string): void {
    this.format.set(value as Format);
  }

  protected pickUnit(value: string): void {
    this.unit.set(value as 'mm' | 'in');
  }

  protected setCut(key: keyof typeof CUT, { value }: Committed): void {
    this.cut.update((c) => ({ ...c, [key]: value === undefined || value === '' ? undefined : Number(value) }));
  }

  protected write(): void {
    const run = this.format() === 'glb' && this.withRun() ? this.runs.shown() : undefined;
    const free = Float64Array.from(this.motion.worked().pose.u);
    void this.files.write(this.doc.design(), free, this.options(), run && { design: run.design, result: run.result });
  }
}
