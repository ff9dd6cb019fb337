import { ChangeDetectionStrategy, Component, booleanAttribute, computed, input, output, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatSort, MatSortHeader, type Sort } from '@angular/material/sort';
import { MatTableModule } from '@angular/material/table';
import { writeTable } from '@unirota/core/formats';
import { Icon } from './icon';
import { downloadCsv } from '../state/downloads';
import { Named } from './named';

export interface Column {
  readonly key: string;
  readonly label: string;
  readonly unit?: string;
  readonly number?: boolean;
  readonly tone?: string;
}
/** What stands in a cell, and what it is sorted and saved by. */
export interface Cell {
  readonly text: string;
  readonly value?: number | string;
  /** Where the rows of a column have units of their own; saved in a column beside it. */
  readonly unit?: string;
  /** How it is lettered: in order, or wrong. */
  readonly tone?: 'met' | 'missed';
  /** The line of a chart that it speaks of. */
  readonly line?: { readonly colour: string; readonly dashed: boolean };
}
export interface Row {
  /** Handed on when the row is pressed; not pressable without. */
  readonly id?: string;
  readonly cells: readonly Cell[];
  /** Belongs to the row before it, and stays with it. */
  readonly part?: boolean;
  readonly selected?: boolean;
}

/**
 * A table of figures: sorted by a press on a heading (numbers by size, the
 * largest first), copied, saved as comma separated text. A row can be pressed.
 */
@Component({
  selector: 'uni-data-table',
  imports: [Named, Icon, MatButton, MatIconButton, MatSort, MatSortHeader, MatTableModule],
  template: `
    <table mat-table [dataSource]="sorted()" [trackBy]="byId" matSort (matSortChange)="sort.set($event)" [attr.aria-label]="label()">
      @for (c of columns(); track c.key; let k = $index) {
        <ng-container [matColumnDef]="c.key">
          <th
            mat-header-cell
            *matHeaderCellDef
            mat-sort-header
            [start]="c.number ? 'desc' : 'asc'"
            [class.num]="c.number"
            [arrowPosition]="c.number ? 'before' : 'after'"
          >
            <span [class]="c.tone ?? ''"
              >{{ c.label }}
              @if (c.unit) {
                <span class="soft">{{ c.unit }}</span>
              }
            </span>
          </th>
          <td mat-cell *matCellDef="let r" [class.num]="c.number" [class]="r.cells[k]?.tone ?? ''">
            @if (r.cells[k]?.line; as l) {
              <svg class="line" width="18" height="8" aria-hidden="true">
                <path d="M0 4h18" [style.stroke]="l.colour" [attr.stroke-dasharray]="l.dashed ? '4 3' : null" />
              </svg>
            }
            @if (k === 0 && r.id !== undefined) {
              <button matButton type="button" class="plain" (click)="press(r, $event)">{{ r.cells[k].text }}</button>
            } @else {
              {{ r.cells[k]?.text }}
              @if (r.cells[k]?.unit; as unit) {
                <span class="unit">{{ unit }}</span>
              }
            }
          </td>
        </ng-container>
      }
      @if (removes()) {
        <ng-container matColumnDef="remove">
          <th mat-header-cell *matHeaderCellDef><span i18n class="visually-hidden">Delete</span></th>
          <td mat-cell *matCellDef="let r" class="remove">
            <button matIconButton type="button" class="plain" i18n-uniName uniName="Delete {{ r.cells[0].text }}" (click)="remove(r, $event)">
              <uni-icon name="del" />
            </button>
          </td>
        </ng-container>
      }
      <tr mat-header-row *matHeaderRowDef="keys()"></tr>
      <tr
        mat-row
        *matRowDef="let r; columns: keys()"
        [class.part]="r.part"
        [class.selected]="r.selected"
        [class.presses]="r.id !== undefined"
        (click)="press(r, $event)"
      ></tr>
      <tr *matNoDataRow>
        <td class="soft" [attr.colspan]="keys().length">{{ none() }}</td>
      </tr>
    </table>
    @if (file()) {
      <div class="take">
        <button matButton type="button" (click)="copy()">{{ copied() || 'Copy' }}</button>
        <button i18n matButton type="button" (click)="save()">Save as CSV</button>
      </div>
    }
  `,
  styleUrl: './data-table.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DataTable {
  readonly label = input.required<string>();
  readonly columns = input.required<readonly Column[]>();
  readonly rows = input.required<readonly Row[]>();
  /** Said where there are no rows. */
  readonly none = input($localize`Nothing here yet.`);
  /** Name of the file that it is saved to; it is not offered without. */
  readonly file = input('');
  /** Each row can be deleted. */
  readonly removes = input(false, { transform: booleanAttribute });
  readonly removed = output<{ id: string; name: string }>();
  /** A row's id, and whether it is to be beside what is chosen already. */
  readonly pressed = output<{ id: string; add: boolean }>();
  protected readonly sort = signal<Sort>({ active: '', direction: '' });
  protected readonly copied = signal('');
  protected readonly keys = computed(() => [...this.columns().map((c) => c.key), ...(this.removes() ? ['remove'] : [])]);
  protected readonly byId = (place: number, r: Row): string | number => r.id ?? place;
  protected readonly sorted = computed(() => {
    const { active, direction } = this.sort();
    const k = this.keys().indexOf(active);
    if (k < 0 || !direction) return [...this.rows()];
    const blocks: Row[][] = [];
    for (const r of this.rows()) {
      if (r.part && blocks.length) blocks.at(-1)!.push(r);
      else blocks.push([r]);
    }
    const by = (r: Row): number | string => r.cells[k]?.value ?? r.cells[k]?.text ?? '';
    // A large force is large whichever way it points.
    const compare = (a: number | string, b: number | string): number =>
      typeof a === 'number' && typeof b === 'number' ? Math.abs(a) - Math.abs(b) : String(a).localeCompare(String(b), undefined, { numeric: true });
    blocks.sort((a, b) => (direction === 'asc' ? 1 : -1) * compare(by(a[0]), by(b[0])));
    return blocks.flat();
  });

  protected press(r: Row, e: MouseEvent): void {
    e.stopPropagation();
    if (r.id !== undefined) this.pressed.emit({ id: r.id, add: e.ctrlKey || e.shiftKey });
  }

  protected remove(r: Row, e: MouseEvent): void {
    e.stopPropagation();
    this.removed.emit({ id: r.id!, name: r.cells[0].text });
  }

  /** Heading and rows as they are taken away; a column whose cells have units has a second one for these. */
  private text(): { heading: string[]; rows: (string | number)[][] } {
    const rows = this.sorted();
    const units = this.columns().map((_, k) => rows.some((r) => r.cells[k]?.unit !== undefined));
    return {
      heading: this.columns().flatMap((c, k) => [c.unit ? `${c.label}, ${c.unit}` : c.label, ...(units[k] ? [$localize`Unit`] : [])]),
      rows: rows.map((r) =>
        this.columns().flatMap((_, k) => [r.cells[k]?.value ?? r.cells[k]?.text ?? '', ...(units[k] ? [r.cells[k]?.unit ?? ''] : [])]),
      ),
    };
  }
  protected copy(): void {
    const { heading, rows } = this.text();
    void navigator.clipboard?.writeText([heading, ...rows].map((r) => r.join('\t')).join('\n')).then(
      () => this.copied.set($localize`Copied`),
      () => this.copied.set($localize`This browser does not let it be copied`),
    );
    setTimeout(() => this.copied.set(''), 3000);
  }
  protected save(): void {
    const { heading, rows } = this.text();
    downloadCsv(writeTable(heading, rows), this.file());
  }
}
