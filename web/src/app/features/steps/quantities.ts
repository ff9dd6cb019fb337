import { ChangeDetectionStrategy, Component, Injector, computed, inject, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatTableModule } from '@angular/material/table';
import { MatTooltip } from '@angular/material/tooltip';
import { namesOf, unitOfQuantity, usesOf, withNewQuantity, withQuantity, withoutQuantity } from '@unirota/core';
import { type NamedQuantity, QUANTITY_UNITS, keptValue } from '@unirota/core/document';
import { exactly, toNumber, toText } from '@unirota/core/math';
import { listedUpTo, readQuantity } from '@unirota/core/units';
import { DesignService } from '../../state/design.service';
import { UnitsService } from '../../state/units.service';
import { Choice } from '../../ui/choice';
import { Icon } from '../../ui/icon';
import { Named } from '../../ui/named';
import { TextField } from '../../ui/text-field';

/** A quantity as its row shows it. */
interface QuantityRow {
  readonly of: NamedQuantity;
  readonly stated: string;
  readonly comesTo: string;
  readonly uses: readonly string[];
}
const UNITS = QUANTITY_UNITS.map((u) => ({ value: u, label: u === 'number' ? $localize`plain number` : u }));

/** Named quantities of the design: stated, or by formulas of each other; fields may name them. */
@Component({
  selector: 'uni-quantities',
  imports: [Choice, Icon, MatButton, MatIconButton, MatTableModule, MatTooltip, Named, TextField],
  template: `
    @if (rows().length) {
      <div class="table">
        <table i18n-aria-label mat-table [dataSource]="rows()" [trackBy]="byId" aria-label="Named quantities">
          <ng-container matColumnDef="symbol">
            <th i18n mat-header-cell *matHeaderCellDef>Symbol</th>
            <td mat-cell *matCellDef="let r">
              <uni-text-field
                class="symbol"
                i18n-label
                label="Symbol of {{ r.of.name }}"
                [longest]="24"
                needed
                [disabled]="shut()"
                [value]="r.of.symbol"
                [refusal]="trouble(r.of.id, 'symbol')"
                (changed)="state(r.of, 'symbol', { symbol: $event.trim() })"
              />
            </td>
          </ng-container>
          <ng-container matColumnDef="name">
            <th i18n mat-header-cell *matHeaderCellDef>Name</th>
            <td mat-cell *matCellDef="let r">
              <uni-text-field
                class="name"
                i18n-label
                label="Name of {{ r.of.symbol }}"
                [longest]="120"
                needed
                [disabled]="shut()"
                [value]="r.of.name"
                [refusal]="trouble(r.of.id, 'name')"
                (changed)="state(r.of, 'name', { name: $event })"
              />
            </td>
          </ng-container>
          <ng-container matColumnDef="formula">
            <th i18n mat-header-cell *matHeaderCellDef class="num">Value or formula</th>
            <td mat-cell *matCellDef="let r">
              <uni-text-field
                class="formula"
                i18n-label
                label="Value or formula of {{ r.of.symbol }}"
                figure
                [disabled]="shut()"
                [value]="r.stated"
                [refusal]="trouble(r.of.id, 'value')"
                (changed)="value(r.of, $event)"
              />
            </td>
          </ng-container>
          <ng-container matColumnDef="unit">
            <th i18n mat-header-cell *matHeaderCellDef>Unit</th>
            <td mat-cell *matCellDef="let r">
              <uni-choice
                class="unit"
                i18n-label
                label="Unit of {{ r.of.symbol }}"
                [options]="unitsToChoose"
                [disabled]="shut()"
                [value]="r.of.unit ?? 'number'"
                (picked)="state(r.of, 'value', { unit: $any($event) })"
              />
            </td>
          </ng-container>
          <ng-container matColumnDef="is">
            <th i18n mat-header-cell *matHeaderCellDef class="num used">Comes to</th>
            <td mat-cell *matCellDef="let r" class="num">{{ r.comesTo }}</td>
          </ng-container>
          <ng-container matColumnDef="uses">
            <th i18n mat-header-cell *matHeaderCellDef class="used">Used by</th>
            <td mat-cell *matCellDef="let r">
              <span
                class="soft"
                [matTooltip]="
                  r.uses.join(
                    '
'
                  )
                "
                >{{ usedBy(r) }}</span
              >
            </td>
          </ng-container>
          <ng-container matColumnDef="note">
            <th i18n mat-header-cell *matHeaderCellDef>Note</th>
            <td mat-cell *matCellDef="let r">
              <span class="end">
                <uni-text-field
                  i18n-label
                  label="Note on {{ r.of.symbol }}"
                  [longest]="500"
                  [disabled]="shut()"
                  [value]="r.of.note ?? ''"
                  (changed)="state(r.of, 'note', { note: $event.trim() || undefined })"
                />
                @if (!shut()) {
                  <button matIconButton type="button" class="plain" i18n-uniName uniName="Delete {{ r.of.symbol }}" (click)="drop(r)">
                    <uni-icon name="del" />
                  </button>
                }
              </span>
            </td>
          </ng-container>
          <tr mat-header-row *matHeaderRowDef="columns"></tr>
          <tr mat-row *matRowDef="let r; columns: columns"></tr>
        </table>
      </div>
    } @else {
      <p i18n class="soft">
        A named quantity is a number with a symbol, such as a module m_n or a tooth count z_1. Fields and other quantities may name it in formulas:
        4*z_1 − 1, m_n*z_1/2 + 5 mm, round(i*z_1).
      </p>
    }
    @if (!shut()) {
      <div class="add">
        <button i18n matButton="outlined" type="button" (click)="add()"><uni-icon name="add" /> Named quantity</button>
        @if (rows().length) {
          <button i18n matButton="outlined" type="button" (click)="openStudy()">Study …</button>
        }
      </div>
    }
  `,
  styleUrl: './step.scss',
  styles: `
    :host {
      padding: 0;
      overflow: visible;
    }
    td {
      padding: 3px 5px;
    }
    .table {
      overflow-x: auto;
    }
    .symbol {
      width: 66px;
    }
    .name {
      width: 100%;
      min-width: 130px;
    }
    .formula {
      width: 150px;
    }
    .unit {
      width: 122px;
    }
    .end uni-text-field {
      width: 90px;
    }
    .num {
      text-align: right;
    }
    .used {
      white-space: nowrap;
    }
    .end {
      display: flex;
      align-items: center;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Quantities {
  private readonly doc = inject(DesignService);
  private readonly units = inject(UnitsService).now;
  protected readonly unitsToChoose = UNITS;
  protected readonly columns = ['symbol', 'name', 'formula', 'unit', 'is', 'uses', 'note'];
  protected readonly shut = computed(() => !!this.doc.readOnly());
  protected readonly rows = computed((): QuantityRow[] => {
    const d = this.doc.design();
    const uses = usesOf(d);
    return (d.quantities ?? []).map((of) => ({
      of,
      stated: of.formula ?? String(of.value).replace('-', '−'),
      comesTo: this.comesTo(of),
      uses: uses.get(of.symbol) ?? [],
    }));
  });
  protected readonly byId = (_: number, r: QuantityRow): string => r.of.id;
  /** A fraction is shown as it is, with what it is about. */
  private comesTo(q: NamedQuantity): string {
    const exact = exactly(q.value);
    const text = this.units().text(toNumber(exact), unitOfQuantity(q), 6);
    return exact.d === 1n || typeof q.value === 'number' || unitOfQuantity(q) ? text : `${toText(exact)} ≈ ${text}`;
  }
  protected usedBy({ uses }: QuantityRow): string {
    return uses.length ? listedUpTo(2, [...uses]) : '–';
  }

  /** What is wrong with a field as it was typed last, by quantity and field. */
  private readonly troubles = signal<Readonly<Record<string, string>>>({});
  protected trouble(id: string, field: string): string | undefined {
    return this.troubles()[`${id} ${field}`];
  }
  private say(id: string, field: string, trouble: string | undefined): void {
    const { [`${id} ${field}`]: _, ...others } = this.troubles();
    this.troubles.set(trouble === undefined ? others : { ...others, [`${id} ${field}`]: trouble });
  }
  protected state(q: NamedQuantity, field: string, changes: Partial<NamedQuantity>): void {
    const trouble = this.doc.edit($localize`State ${q.symbol}`, (d) => withQuantity(d, q.id, changes));
    this.say(q.id, field, trouble);
    if (trouble) this.doc.said.set(trouble);
  }
  /** A number is a value; everything else is kept as the formula that was typed. */
  protected value(q: NamedQuantity, typed: string): void {
    const text = typed.trim().replaceAll('−', '-');
    const read = readQuantity(text, unitOfQuantity(q), namesOf(this.doc.design()));
    if ('problem' in read) return this.say(q.id, 'value', read.problem);
    const plain = /^[-\d.,\s]+(?:\/\d+)?$/.test(text);
    this.state(q, 'value', { value: keptValue({ kind: 'exact' }, read), formula: plain ? undefined : text });
  }
  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  protected async openStudy(): Promise<void> {
    const { StudyDialog, STUDY_DIALOG } = await import('./study-dialog');
    this.dialog.open(StudyDialog, { ...STUDY_DIALOG, injector: this.injector });
  }
  protected add(): void {
    const trouble = this.doc.edit($localize`Add a named quantity`, withNewQuantity);
    if (trouble) this.doc.said.set(trouble);
  }
  protected drop({ of, uses }: QuantityRow): void {
    if (uses.length) return this.doc.said.set($localize`“${of.symbol}” is used by ${listedUpTo(5, [...uses])}; state them without it first`);
    const trouble = this.doc.edit($localize`Delete ${of.symbol}`, (d) => withoutQuantity(d, of.id));
    if (trouble) this.doc.said.set(trouble);
  }
}
