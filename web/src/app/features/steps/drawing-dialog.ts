import { ChangeDetectionStrategy, Component, type ElementRef, computed, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import { MatExpansionPanel, MatExpansionPanelHeader, MatExpansionPanelTitle } from '@angular/material/expansion';
import { MatProgressBar } from '@angular/material/progress-bar';
import { DRAWING_FIELDS, FRAME, type Field, type Id, type KeptDrawing, numberField } from '@unirota/core/document';
import { DRAWING_FORMATS, type DrawingFormat } from '@unirota/solids/formats';
import type { DrawingPicture } from '../../engine/drawing.worker';
import { DesignService } from '../../state/design.service';
import { DrawingService } from '../../state/drawing.service';
import { UnitsService } from '../../state/units.service';
import { Choice, type Option } from '../../ui/choice';
import { Icon } from '../../ui/icon';
import { Named } from '../../ui/named';
import { type Committed, QuantityField } from '../../ui/quantity-field';
import { TextField } from '../../ui/text-field';

/** How large it opens. */
export const DRAWING_DIALOG = { width: '96vw', height: '94vh', maxWidth: '96vw', autoFocus: 'dialog' } as const;

type Key = keyof KeptDrawing;
type Size = DrawingPicture['sizes'][number];
const fields = new Map<string, Field>(DRAWING_FIELDS.map((f) => [f.key, f]));
const options = (key: Key): Option[] => (fields.get(key)?.choices ?? []).map((value) => ({ value, label: value }));
const TITLE_KEYS = ['number', 'owner', 'creator', 'approved', 'date'] as const;
const FLAGS = ['hidden', 'overall', 'gearData'] as const;
const CHOICES = ['paper', 'scale', 'angle', 'along', 'teeth'] as const;
const WHOLE = '*';
/** What the wheel zooms by at each notch, and how far a press may move and still be one, px. */
const ZOOM = 1.15,
  STILL = 4;

/** A drawing of the design: what it shows at the side, itself beside it; a press on a body offers its sizes. */
@Component({
  selector: 'uni-drawing-dialog',
  imports: [
    Choice,
    Icon,
    MatButton,
    MatCheckbox,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatExpansionPanel,
    MatExpansionPanelHeader,
    MatExpansionPanelTitle,
    MatIconButton,
    MatProgressBar,
    Named,
    QuantityField,
    TextField,
  ],
  template: `
    <h2 mat-dialog-title><ng-container i18n>Drawing</ng-container> {{ drawing()?.name }}</h2>
    <mat-dialog-content>
      @if (drawing(); as d) {
        <div class="sides">
          <div class="given" [class.still]="still()">
            <div class="rows">
              <label i18n for="dr-name">Name</label>
              <uni-text-field inputId="dr-name" needed [disabled]="still()" [value]="d.name" (changed)="set('name', $event)" />
              @if (!map()) {
                <span i18n id="dr-member">Member</span>
                <uni-choice
                  i18n-label
                  labelledBy="dr-member"
                  label="Member"
                  [disabled]="still()"
                  [options]="members()"
                  [value]="d.member ?? WHOLE"
                  (picked)="set('member', $event === WHOLE ? undefined : $event)"
                />
              }
              @for (k of choices(); track k) {
                <span [id]="'dr-' + k">{{ fields.get(k)?.label }}</span>
                <uni-choice
                  [labelledBy]="'dr-' + k"
                  [label]="fields.get(k)?.label ?? ''"
                  [disabled]="still()"
                  [options]="options(k)"
                  [value]="shown(d, k)"
                  (picked)="set(k, $event)"
                />
              }
              @if (!map()) {
                <span i18n id="dr-sides">Views</span>
                <uni-choice
                  i18n-label
                  labelledBy="dr-sides"
                  label="Views"
                  [multiple]="true"
                  [disabled]="still()"
                  [options]="sideOptions"
                  [value]="sides(d)"
                  (pickedMany)="setSides($event)"
                />
              }
            </div>
            @if (!map()) {
              <div class="flags">
                @for (k of flags; track k) {
                  <mat-checkbox [checked]="flag(d, k)" [disabled]="still()" (change)="set(k, $event.checked)">{{
                    fields.get(k)?.label
                  }}</mat-checkbox>
                }
              </div>
              <p class="where">
                <span class="soft">{{ d.starts ? words.kept : words.home }}</span>
                <button i18n matButton type="button" [disabled]="still()" (click)="service.standHere(d.id)">Use current position</button>
                @if (d.starts) {
                  <button i18n matButton type="button" [disabled]="still()" (click)="set('starts', undefined)">Use home</button>
                }
              </p>
              <mat-expansion-panel [expanded]="true" class="mat-elevation-z0">
                <mat-expansion-panel-header
                  ><mat-panel-title
                    ><ng-container i18n>Dimensions</ng-container> ({{ d.dimensions?.length ?? 0 }})</mat-panel-title
                  ></mat-expansion-panel-header
                >
                <p class="soft">
                  @if (picked(); as p) {
                    {{ p.name }}
                    <button i18n matButton type="button" (click)="picked.set(undefined)">Show all sizes</button>
                  } @else {
                    <ng-container i18n>Press a body in the drawing to see its sizes alone.</ng-container>
                  }
                </p>
                <div class="sizes">
                  @for (s of sizes(); track s.size + s.a + s.b) {
                    <mat-checkbox [checked]="s.shown" [disabled]="still()" (change)="measure(s, $event.checked)"
                      >{{ s.name }} <span class="figure">{{ units().text(s.value, 'mm', 6) }}</span></mat-checkbox
                    >
                  } @empty {
                    <p i18n class="soft">No sizes to show yet.</p>
                  }
                </div>
              </mat-expansion-panel>
              <mat-expansion-panel class="mat-elevation-z0">
                <mat-expansion-panel-header
                  ><mat-panel-title
                    ><ng-container i18n>Sections</ng-container> ({{ d.sections?.length ?? 0 }})</mat-panel-title
                  ></mat-expansion-panel-header
                >
                @for (s of d.sections ?? []; track $index) {
                  <div class="section">
                    <uni-choice
                      i18n-label
                      label="Section seen along"
                      [disabled]="still()"
                      [options]="options('along')"
                      [value]="s.along"
                      (picked)="setSection($index, { along: $event })"
                    />
                    <uni-quantity-field [inputId]="'dr-cut' + $index" [field]="cutField" [value]="s.at" (committed)="cutAt($index, $event)" />
                    <button
                      matIconButton
                      type="button"
                      i18n-uniName
                      uniName="Delete section {{ $index + 1 }}"
                      [disabled]="still()"
                      (click)="setSection($index, undefined)"
                    >
                      <uni-icon name="del" />
                    </button>
                  </div>
                }
                <uni-choice
                  i18n-label
                  i18n-placeholder
                  label="Add section"
                  placeholder="Add section through …"
                  [disabled]="still()"
                  [options]="planes()"
                  (picked)="addSection($event)"
                />
              </mat-expansion-panel>
            }
            <mat-expansion-panel class="mat-elevation-z0">
              <mat-expansion-panel-header><mat-panel-title i18n>Title block</mat-panel-title></mat-expansion-panel-header>
              <div class="rows">
                @for (k of titles; track k) {
                  <label [for]="'dr-' + k">{{ fields.get(k)?.label }}</label>
                  <uni-text-field
                    [inputId]="'dr-' + k"
                    [longest]="60"
                    [disabled]="still()"
                    [value]="d[k] ?? ''"
                    (changed)="set(k, $event.trim() || undefined)"
                  />
                }
              </div>
            </mat-expansion-panel>
          </div>
          <div class="shown">
            @if (!current() && !service.trouble()) {
              <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Drawing" />
            }
            @if (picture(); as p) {
              <!-- The keyboard has all sizes in the list. -->
              <svg
                #paper
                i18n-aria-label
                role="img"
                aria-label="The drawing"
                [attr.viewBox]="box()"
                (wheel)="zoom($event)"
                (pointerdown)="press($event)"
                (pointermove)="drag($event)"
                (pointerup)="release($event)"
                (dblclick)="fit()"
              >
                <rect class="paper" x="0" [attr.y]="-p.height" [attr.width]="p.width" [attr.height]="p.height" />
                @for (a of marked(); track $index) {
                  <rect class="picked" [attr.x]="a[0]" [attr.y]="-a[3]" [attr.width]="a[2] - a[0]" [attr.height]="a[3] - a[1]" />
                }
                @for (l of p.lines; track l.kind) {
                  <path class="line" [attr.d]="l.d" [attr.stroke-width]="l.width" [attr.stroke-dasharray]="l.dashes || null" />
                }
                <path class="arrows" [attr.d]="p.arrows" />
                @for (t of p.texts; track $index) {
                  <text
                    [attr.x]="t.at[0]"
                    [attr.y]="-t.at[1]"
                    [attr.font-size]="t.height / 0.7"
                    [attr.text-anchor]="t.anchor"
                    [attr.font-weight]="t.bold ? 600 : null"
                    [attr.transform]="t.turn ? 'rotate(' + -t.turn + ' ' + t.at[0] + ' ' + -t.at[1] + ')' : null"
                    [textContent]="t.text"
                  ></text>
                }
              </svg>
              @for (n of p.notes; track $index) {
                <p class="caution">▲ {{ n }}</p>
              }
            }
            @if (service.trouble()) {
              <p role="alert" class="caution">▲ {{ service.trouble() }}</p>
            }
          </div>
        </div>
      } @else {
        <p i18n>This drawing is deleted.</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (!current() && !service.trouble()) {
        <button i18n matButton type="button" (click)="service.end()">Stop drawing</button>
      }
      <button i18n matButton type="button" mat-dialog-close>Close</button>
      @for (f of formats; track f) {
        <button matButton="outlined" type="button" [disabled]="!current()" (click)="download(f)">
          <ng-container i18n>Export</ng-container> {{ f.toUpperCase() }}
        </button>
      }
    </mat-dialog-actions>
  `,
  styleUrl: './drawing-dialog.scss',
  host: { class: 'tall' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DrawingDialog {
  private readonly id = inject<Id>(MAT_DIALOG_DATA);
  private readonly doc = inject(DesignService);
  protected readonly service = inject(DrawingService);
  protected readonly units = inject(UnitsService).now;
  protected readonly WHOLE = WHOLE;
  protected readonly fields = fields;
  protected readonly options = options;
  protected readonly titles = TITLE_KEYS;
  protected readonly flags = FLAGS;
  protected readonly formats = DRAWING_FORMATS;
  protected readonly sideOptions: Option[] = (fields.get('sides')?.columns?.[0].choices ?? []).map((value) => ({ value, label: value }));
  protected readonly cutField = numberField('at', $localize`Cut at`, { unit: 'mm', required: true, min: -1e9, max: 1e9 });
  protected readonly words = {
    home: $localize`Drawn at home.`,
    kept: $localize`Drawn at a stated position.`,
  };
  protected readonly still = computed(() => this.doc.readOnly() !== '');
  protected readonly drawing = computed(() => this.doc.design().drawings?.find((x) => x.id === this.id));
  protected readonly map = computed(() => this.drawing()?.shows === 'train map');
  protected readonly choices = computed(() => (this.map() ? (['paper'] as const) : CHOICES));
  protected readonly members = computed((): Option[] => {
    const { members, elements } = this.doc.design();
    const carried = new Set(elements.map((e) => e.member));
    return [
      { value: WHOLE, label: $localize`Whole design` },
      ...[{ id: FRAME as Id, name: $localize`Frame` }, ...members].filter((m) => carried.has(m.id)).map((m) => ({ value: m.id, label: m.name })),
    ];
  });
  private readonly question = computed(() => {
    const drawing = this.drawing();
    return drawing && { design: this.doc.design(), drawing };
  });
  protected readonly picture = computed(() => this.service.pictures.answer()?.is);
  protected readonly current = computed(() => this.service.pictures.answer()?.of === this.question());
  /** The body that was pressed. */
  protected readonly picked = signal<{ element: Id; name: string } | undefined>(undefined);
  protected readonly sizes = computed(() => {
    const p = this.picked();
    const all = this.picture()?.sizes ?? [];
    return p ? all.filter((s) => s.a === p.element || s.b === p.element) : all;
  });
  protected readonly marked = computed(() => {
    const p = this.picked();
    return p ? (this.picture()?.areas ?? []).filter((a) => a.element === p.element).map((a) => a.box) : [];
  });
  protected readonly planes = computed((): Option[] => (this.picture()?.planes ?? []).map((p) => ({ value: p.element, label: p.name })));
  private readonly paperSize = computed(() => this.drawing()?.paper);
  private readonly paper = viewChild<ElementRef<SVGSVGElement>>('paper');
  /** What of the paper is seen: x, y, width, height; all of it where undefined. */
  private readonly seen = signal<readonly [number, number, number, number] | undefined>(undefined);
  protected readonly box = computed(() => {
    const p = this.picture();
    return (this.seen() ?? (p ? [-2, -p.height - 2, p.width + 4, p.height + 4] : [0, 0, 1, 1])).join(' ');
  });
  private held: { x: number; y: number; at: readonly [number, number, number, number]; moved: boolean } | undefined;

  constructor() {
    effect(() => {
      const question = this.question();
      untracked(() => question && this.service.pictures.ask(question));
    });
    // Another paper is seen whole.
    effect(() => {
      this.paperSize();
      untracked(() => this.seen.set(undefined));
    });
  }

  protected shown(d: KeptDrawing, k: Key): string {
    return String(d[k] ?? fields.get(k)?.initial ?? '');
  }
  protected flag(d: KeptDrawing, k: Key): boolean {
    return (d[k] ?? fields.get(k)?.initial) === true;
  }
  protected sides(d: KeptDrawing): string[] {
    return d.sides?.map((s) => s.side) ?? [];
  }
  protected set(key: Key, value: unknown): void {
    const initial = fields.get(key)?.initial;
    const trouble = this.service.change(this.id, { [key]: value === initial ? undefined : value });
    if (trouble) this.service.trouble.set(trouble);
  }
  protected setSides(sides: readonly string[]): void {
    // In the order in which they are offered, whichever was chosen first.
    this.set(
      'sides',
      this.sideOptions.filter((o) => sides.includes(String(o.value))).map((o) => ({ side: o.value })),
    );
  }
  protected measure({ size, a, b }: Size, on: boolean): void {
    const rest = (this.drawing()?.dimensions ?? []).filter((x) => x.size !== size || x.a !== a || x.b !== b);
    const all = on ? [...rest, { size, a, b }] : rest;
    this.set('dimensions', all.length ? all : undefined);
  }
  protected addSection(element: string): void {
    const plane = this.picture()?.planes.find((p) => p.element === element);
    if (plane) this.set('sections', [...(this.drawing()?.sections ?? []), { along: plane.along, at: plane.at }]);
  }
  protected setSection(at: number, change: object | undefined): void {
    const all = (this.drawing()?.sections ?? []).flatMap((s, i) => (i !== at ? [s] : change ? [{ ...s, ...change }] : []));
    this.set('sections', all.length ? all : undefined);
  }
  protected cutAt(index: number, { value }: Committed): void {
    if (value !== undefined && value !== '') this.setSection(index, { at: Number(value) });
  }
  protected download(format: DrawingFormat): void {
    const d = this.drawing();
    if (d) void this.service.download(d, format);
  }

  /** Where a pointer is on the paper, mm, y downward. */
  private on(e: PointerEvent | WheelEvent): DOMPoint | undefined {
    const svg = this.paper()?.nativeElement;
    const to = svg?.getScreenCTM()?.inverse();
    return to && new DOMPoint(e.clientX, e.clientY).matrixTransform(to);
  }
  private view(): readonly [number, number, number, number] {
    return this.box().split(' ').map(Number) as unknown as readonly [number, number, number, number];
  }
  protected zoom(e: WheelEvent): void {
    e.preventDefault();
    const p = this.on(e);
    const whole = this.picture();
    if (!p || !whole) return;
    const [x, y, w, h] = this.view();
    const k = e.deltaY > 0 ? ZOOM : 1 / ZOOM;
    if (w * k > 2 * whole.width || w * k < whole.width / 50) return;
    this.seen.set([p.x + k * (x - p.x), p.y + k * (y - p.y), k * w, k * h]);
  }
  protected press(e: PointerEvent): void {
    if (e.button !== 0) return;
    this.paper()?.nativeElement.setPointerCapture(e.pointerId);
    this.held = { x: e.clientX, y: e.clientY, at: this.view(), moved: false };
  }
  protected drag(e: PointerEvent): void {
    const { held } = this;
    const svg = this.paper()?.nativeElement;
    const scale = svg?.getScreenCTM()?.a;
    if (!held || !scale) return;
    const [dx, dy] = [e.clientX - held.x, e.clientY - held.y];
    if (!held.moved && Math.hypot(dx, dy) < STILL) return;
    held.moved = true;
    const [x, y, w, h] = held.at;
    this.seen.set([x - dx / scale, y - dy / scale, w, h]);
  }
  protected release(e: PointerEvent): void {
    const { held } = this;
    this.held = undefined;
    if (!held || held.moved) return;
    const p = this.on(e);
    if (!p) return;
    // The smallest body there.
    const size = (b: readonly [number, number, number, number]): number => (b[2] - b[0]) * (b[3] - b[1]);
    const there = (this.picture()?.areas ?? []).filter(({ box: b }) => p.x >= b[0] && p.x <= b[2] && -p.y >= b[1] && -p.y <= b[3]);
    const hit = there.reduce<(typeof there)[number] | undefined>((best, a) => (best && size(best.box) <= size(a.box) ? best : a), undefined);
    const element = hit && this.doc.design().elements.find((x) => x.id === hit.element);
    this.picked.set(element && { element: element.id, name: element.name });
  }
  protected fit(): void {
    this.seen.set(undefined);
  }
}
