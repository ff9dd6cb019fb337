import { CdkFixedSizeVirtualScroll, CdkVirtualForOf, CdkVirtualScrollViewport } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, signal, viewChild } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogRef, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatRadioButton, MatRadioGroup } from '@angular/material/radio';
import { addShapes, replaceShape } from '@unirota/core';
import type { Id } from '@unirota/core/document';
import { type MeshUnit, PART_FORMATS, needsUnit, partFormatOf } from '@unirota/solids/formats';
import type { PartLine } from '../../engine/parts.worker';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { ShapesService } from '../../state/shapes.service';
import { UnitsService } from '../../state/units.service';
import { Choice } from '../../ui/choice';
import { LEAVE, type Sorting, linesOf, sorted, taken, targets } from './part-rows';

/** What is imported: files that were dropped or opened; or a newer file for a shape that is there. */
export interface ImportData {
  readonly files?: readonly File[];
  readonly replace?: Id;
}
export const IMPORT_DIALOG = { width: '860px', maxWidth: '96vw' } as const;

const SORTINGS: readonly { value: Sorting; label: string }[] = [
  { value: 'assembly', label: $localize`One member for each assembly` },
  { value: 'part', label: $localize`One member for each part` },
  { value: 'one', label: $localize`One member for all` },
  { value: 'frame', label: $localize`All on the frame` },
  { value: 'leave', label: $localize`Leave all out` },
];
const UNITS: readonly { value: MeshUnit; label: string }[] = [
  { value: 'mm', label: $localize`Millimetres` },
  { value: 'cm', label: $localize`Centimetres` },
  { value: 'm', label: $localize`Metres` },
  { value: 'in', label: $localize`Inches` },
];
const ROW = 34;

/** Takes parts of a file into the design: each is put onto a member or left out. Or takes a newer file for a shape. */
@Component({
  selector: 'uni-import-dialog',
  imports: [
    CdkFixedSizeVirtualScroll,
    CdkVirtualForOf,
    CdkVirtualScrollViewport,
    Choice,
    MatButton,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatProgressBar,
    MatRadioButton,
    MatRadioGroup,
  ],
  template: `
    <h2 mat-dialog-title>{{ title() }}</h2>
    <mat-dialog-content>
      <input #file type="file" hidden i18n-aria-label aria-label="File with parts" [accept]="accept" (change)="choose(file)" />
      <div class="head">
        <button i18n matButton="outlined" type="button" [disabled]="shapes.reading() !== undefined" (click)="file.click()">Choose file …</button>
        <span class="name">{{ current()?.name ?? nothing }}</span>
        @if (asksUnit()) {
          <span i18n id="i-unit">Unit of the file</span>
          <uni-choice i18n-label labelledBy="i-unit" label="Unit of the file" [options]="units" [value]="unit()" (picked)="setUnit($event)" />
        }
      </div>
      @if (!current()) {
        <p i18n class="soft">
          STEP (AP203, AP214, AP242) as exact solids with axes and faces; STL, 3MF and glTF as meshes. Up to 64 MiB. The geometry kernel (23 MB) is
          loaded with the first STEP file.
        </p>
      }
      @if (shapes.reading(); as part) {
        <mat-progress-bar i18n-aria-label [value]="100 * part" aria-label="Reading the file" />
      } @else if (shapes.reading() === 0) {
        <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Reading the file" />
      }
      @if (trouble(); as t) {
        <p class="trouble" role="alert">{{ t }}</p>
      }
      @if (parts().length) {
        @if (replacing()) {
          <p i18n class="soft">
            Choose the part that takes its place. Stops, joints and faces that refer to it are found again by kind, size and nearness.
          </p>
          <mat-radio-group i18n-aria-label aria-label="Part" class="list" [value]="pickedPart()" (change)="pickedPart.set($event.value)">
            @for (p of parts(); track $index) {
              <mat-radio-button [value]="$index"
                >{{ p.data.part }} <span class="soft">· {{ sizeOf(p) }}</span></mat-radio-button
              >
            }
          </mat-radio-group>
        } @else {
          <div class="head">
            <span i18n id="i-sort">Put parts on</span>
            <uni-choice i18n-label labelledBy="i-sort" label="Put parts on" [options]="sortings" [value]="sorting()" (picked)="sort($event)" />
            <span class="soft" role="status">{{ count() }}</span>
          </div>
          <div class="row heads" aria-hidden="true">
            <span></span><span i18n>Part</span><span class="number"><ng-container i18n>Size</ng-container> {{ lengthUnit() }}</span
            ><span i18n>Member</span>
          </div>
          <cdk-virtual-scroll-viewport [itemSize]="row" class="rows" [style.height.px]="height()">
            <ng-container *cdkVirtualFor="let line of lines()">
              @if (line.parts; as inside) {
                <div class="row assembly" role="group" [attr.aria-label]="line.name">
                  <span></span>
                  <span class="part">{{ line.name }}</span>
                  <span class="number soft">{{ inside.length }}</span>
                  <uni-choice
                    i18n-placeholder
                    [label]="memberLabel + ' ' + line.name"
                    placeholder="All of these …"
                    [options]="targetsOf(inside[0])"
                    [value]="shared(inside)"
                    (picked)="putAll(inside, $event)"
                  />
                </div>
              } @else if (parts()[line.part]; as p) {
                <div class="row" role="group" [attr.aria-label]="p.data.part">
                  <span class="swatch" [style.background]="p.data.colour ?? 'none'"></span>
                  <span class="part" [class.inside]="p.path.length">
                    {{ p.data.part }}
                    @if (!p.data.size.closed) {
                      <span i18n class="caution">▲ open surface</span>
                    }
                  </span>
                  <span class="number">{{ sizeOf(p) }}</span>
                  <uni-choice
                    [label]="memberLabel + ' ' + p.data.part"
                    [options]="targetsOf(line.part)"
                    [value]="onto()[line.part]"
                    (picked)="put(line.part, $event)"
                  />
                </div>
              }
            </ng-container>
          </cdk-virtual-scroll-viewport>
        }
        @for (n of notes(); track $index) {
          <p class="caution">▲ {{ n }}</p>
        }
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (shapes.reading() !== undefined) {
        <button i18n matButton="outlined" type="button" (click)="stop()">Stop reading</button>
      } @else {
        <button i18n matButton type="button" mat-dialog-close>Cancel</button>
        @if (replacing()) {
          <button i18n matButton="filled" type="button" [disabled]="!parts().length || busy()" (click)="replace()">Replace shape</button>
        } @else {
          <button i18n matButton="filled" type="button" [disabled]="!taking() || busy()" (click)="take()">Import parts</button>
        }
      }
    </mat-dialog-actions>
  `,
  styles: `
    .head {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 6px 12px;
      margin-bottom: 8px;
    }
    .head uni-choice {
      width: 250px;
    }
    .name {
      overflow-wrap: anywhere;
    }
    .row {
      display: grid;
      grid-template-columns: 16px minmax(0, 1fr) 210px 230px;
      align-items: center;
      gap: 10px;
      height: 34px;
    }
    .heads {
      height: 24px;
      color: var(--ink-soft);
      font-size: 13px;
      border-bottom: 1px solid var(--rule);
    }
    .assembly {
      font-weight: 600;
    }
    .inside {
      padding-left: 16px;
    }
    .part {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .number {
      text-align: right;
      font-variant-numeric: tabular-nums;
    }
    .swatch {
      width: 14px;
      height: 14px;
      border: 1px solid var(--rule);
    }
    .list {
      display: grid;
      max-height: 320px;
      overflow: auto;
    }
    .caution {
      color: var(--caution);
      margin: 4px 0;
    }
    p {
      margin: 6px 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ImportDialog {
  protected readonly shapes = inject(ShapesService);
  private readonly doc = inject(DesignService);
  private readonly selection = inject(SelectionService);
  private readonly unitNow = inject(UnitsService).now;
  private readonly data = inject<ImportData>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<ImportDialog>>(MatDialogRef);
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('file');
  protected readonly accept = PART_FORMATS.map((f) => `.${f}`).join(',');
  protected readonly nothing = $localize`No file chosen`;
  protected readonly memberLabel = $localize`Member of`;
  protected readonly units = UNITS;
  protected readonly sortings = SORTINGS;
  protected readonly row = ROW;
  protected readonly current = signal<File | undefined>(undefined);
  protected readonly unit = signal<MeshUnit>('mm');
  protected readonly trouble = signal('');
  protected readonly busy = signal(false);
  protected readonly parts = signal<readonly PartLine[]>([]);
  protected readonly notes = signal<readonly string[]>([]);
  protected readonly sorting = signal<Sorting>('assembly');
  protected readonly onto = signal<readonly string[]>([]);
  protected readonly pickedPart = signal(0);
  private contents: ReadonlyMap<string, Uint8Array<ArrayBuffer>> = new Map();
  /** Files that wait for their turn. */
  private rest: readonly File[] = [];

  protected readonly replacing = computed(() => this.doc.design().elements.find((e) => e.id === this.data.replace));
  protected readonly title = computed(() => {
    const e = this.replacing();
    return e ? $localize`Replace “${e.name}” by a newer file` : $localize`Import parts`;
  });
  protected readonly asksUnit = computed(() => {
    const f = this.current() && partFormatOf(this.current()!.name);
    return f !== undefined && needsUnit(f);
  });
  protected readonly taking = computed(() => this.onto().filter((x) => x !== LEAVE).length);
  protected readonly count = computed(() => $localize`${this.taking()} of ${this.parts().length} parts`);
  protected readonly height = computed(() => Math.min(340, ROW * this.lines().length));
  /** The tree as lines: each assembly with its parts below it. */
  protected readonly lines = computed(() => linesOf(this.parts()));
  protected readonly lengthUnit = computed(() => this.unitNow().of('mm'));

  constructor() {
    const [first, ...rest] = this.data.files ?? [];
    this.rest = rest;
    if (first) void this.read(first);
  }

  protected choose(field: HTMLInputElement): void {
    const file = field.files?.[0];
    field.value = '';
    if (file) void this.read(file);
  }
  protected setUnit(u: string): void {
    this.unit.set(UNITS.find((x) => x.value === u)!.value);
    const file = this.current();
    if (file) void this.read(file);
  }

  private async read(file: File): Promise<void> {
    this.current.set(file);
    this.trouble.set('');
    this.parts.set([]);
    this.notes.set([]);
    this.onto.set([]);
    const read = await this.shapes.read(file, this.unit());
    if (this.current() !== file) return;
    if (!read) return this.current.set(undefined);
    if (read.problem !== undefined) return this.trouble.set(read.problem);
    this.contents = read.contents;
    this.parts.set(read.parts);
    this.notes.set(read.notes);
    const e = this.replacing() as { part?: string } | undefined;
    this.pickedPart.set(
      Math.max(
        0,
        read.parts.findIndex((p) => p.data.part === e?.part),
      ),
    );
    const some = this.selection.selected().find((s) => s.kind === 'member');
    if (some && read.parts.length === 1) this.onto.set([some.id]);
    else this.sort(read.parts.some((p) => p.path.length > 1) ? 'assembly' : 'part');
  }
  protected stop(): void {
    this.shapes.end();
  }

  private stem(): string {
    return (this.current()?.name ?? '').replace(/\.[^.]*$/, '');
  }
  protected sort(by: string): void {
    const sorting = SORTINGS.find((s) => s.value === by)!.value;
    this.sorting.set(sorting);
    this.onto.set(sorted(this.parts(), sorting, this.stem()));
  }
  protected targetsOf(k: number): { value: string; label: string }[] {
    return targets(this.parts()[k], this.onto()[k], this.doc.design(), this.stem());
  }
  protected put(k: number, to: string): void {
    this.onto.update((all) => all.map((x, i) => (i === k ? to : x)));
  }
  protected putAll(parts: readonly number[], to: string): void {
    const all = new Set(parts);
    this.onto.update((list) => list.map((x, i) => (all.has(i) ? to : x)));
  }
  /** Where all of these go, where it is one place. */
  protected shared(parts: readonly number[]): string | undefined {
    const to = this.onto()[parts[0]];
    return parts.every((i) => this.onto()[i] === to) ? to : undefined;
  }
  protected sizeOf({ data: { size } }: PartLine): string {
    return size.most.map((x, i) => this.unitNow().number(x - size.least[i], 'mm', 4)).join(' × ');
  }

  protected async take(): Promise<void> {
    this.busy.set(true);
    const parts = taken(this.parts(), this.onto());
    await this.shapes.keep(new Map(parts.map((p) => [p.content, this.contents.get(p.content)!])));
    let made: ReturnType<typeof addShapes> | undefined;
    const trouble = this.doc.edit($localize`Import parts`, (d) => (made = addShapes(d, parts)).design);
    this.busy.set(false);
    if (trouble) return this.trouble.set(trouble);
    this.selection.select('element', made!.elements[0]);
    this.doc.said.set(
      parts.length === 1 ? $localize`“${this.doc.design().elements.at(-1)!.name}” is imported` : $localize`${parts.length} parts are imported`,
    );
    const [next, ...rest] = this.rest;
    this.rest = rest;
    if (next) void this.read(next);
    else this.dialog.close();
  }

  protected async replace(): Promise<void> {
    const p = this.parts()[this.pickedPart()];
    const id = this.data.replace!;
    this.busy.set(true);
    await this.shapes.keep(new Map([[p.content, this.contents.get(p.content)!]]));
    let made: ReturnType<typeof replaceShape> | undefined;
    const trouble = this.doc.edit($localize`Replace shape`, (d) => (made = replaceShape(d, id, p.content, p.data)).design);
    this.busy.set(false);
    if (trouble) return this.trouble.set(trouble);
    const moved = (made?.joints ?? []).map(({ joint, by }) => {
      const name = this.doc.design().joints.find((j) => j.id === joint)?.name ?? joint;
      return $localize`“${name}” moved by ${this.unitNow().text(by, 'mm', 4)}`;
    });
    const lost = made?.lost.length ? [$localize`${made.lost.length} places were not found again: see the findings`] : [];
    this.doc.said.set([$localize`The shape is replaced`, ...moved, ...lost].join('. '));
    this.dialog.close();
  }
}
