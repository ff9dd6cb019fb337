import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatFormField } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { MatTableModule } from '@angular/material/table';
import { Field, fieldProblem } from '@unirota/core/document';
import { readTable } from '@unirota/core/formats';
import { readQuantity } from '@unirota/core/units';
import { UnitsService } from '../state/units.service';
import { Choice, type Option } from './choice';
import { TextField } from './text-field';
import { Named } from './named';

type Row = Record<string, number | string>;

/**
 * A table that a person fills in: row by row, or pasted as text with
 * commas, semicolons or tabs. What is wrong stays, with its reason.
 */
@Component({
  selector: 'uni-table-field',
  imports: [Named, TextField, MatFormField, MatIconButton, MatInput, MatButton, MatTableModule, Choice],
  template: `
    <table mat-table [dataSource]="rows()" [trackBy]="byPlace" [attr.aria-label]="field().label" [class.many]="columns().length > 3">
      @for (c of columns(); track c.key) {
        <ng-container [matColumnDef]="c.key">
          <th mat-header-cell *matHeaderCellDef [class.choice]="c.kind === 'choice'">
            {{ c.label }}
            @if (c.unit) {
              <span class="soft">{{ units().of(c.unit) }}</span>
            }
          </th>
          <td mat-cell *matCellDef="let r; let k = index">
            <span class="what" aria-hidden="true">{{ c.label }}</span>
            @if (c.kind === 'choice') {
              <uni-choice
                i18n-label
                label="{{ c.label }}, row {{ k + 1 }}"
                [options]="optionsOf(c)"
                [value]="r[c.key] ?? ''"
                (picked)="put(k, c, $event)"
              />
            } @else {
              <uni-text-field
                figure
                quiet
                i18n-label
                label="{{ c.label }}, row {{ k + 1 }}"
                [refusal]="bad().get(k + c.key)?.why"
                [value]="bad().get(k + c.key)?.text ?? minus(r[c.key], c)"
                (changed)="put(k, c, $event)"
              />
              <span class="what unit" aria-hidden="true">{{ units().of(c.unit) }}</span>
            }
          </td>
        </ng-container>
      }
      <ng-container matColumnDef="drop">
        <th mat-header-cell *matHeaderCellDef><span i18n class="visually-hidden">Row</span></th>
        <td mat-cell *matCellDef="let r; let k = index">
          <button matIconButton type="button" class="plain" (click)="drop(k)" i18n-uniName uniName="Take out row {{ k + 1 }}">×</button>
        </td>
      </ng-container>
      <tr mat-header-row *matHeaderRowDef="keys()" [class.visually-hidden]="columns().length > 3"></tr>
      <tr mat-row *matRowDef="let r; columns: keys()"></tr>
    </table>
    <div class="under">
      <button i18n matButton="outlined" type="button" (click)="add()">Add a row</button>
      @if (numeric()) {
        <button i18n matButton="outlined" type="button" [attr.aria-expanded]="pasting()" (click)="pasting.set(!pasting())">Paste a table …</button>
      }
    </div>
    @if (pasting()) {
      <mat-form-field appearance="outline" subscriptSizing="dynamic" class="dense">
        <textarea i18n-aria-label matInput rows="4" aria-label="Rows as text, columns with commas, semicolons or tabs between" #text></textarea>
      </mat-form-field>
      <div class="under"><button i18n matButton="filled" type="button" class="main" (click)="take(text.value)">Take these rows</button></div>
    }
    @if (problem(); as p) {
      <p class="trouble" role="alert">{{ p }}</p>
    }
  `,
  styles: `
    :host {
      display: block;
      padding-bottom: 6px;
    }
    table {
      width: 100%;
      table-layout: fixed;
    }
    th {
      padding: 0;
      font-size: 12px;
      font-weight: 400;
      overflow-wrap: anywhere;
    }
    th.choice {
      width: 46%;
    }
    th:last-child {
      width: 26px;
    }
    th,
    td {
      height: auto;
      border: 0;
    }
    td {
      padding: 1px 2px 1px 0;
    }
    tr {
      height: auto;
    }
    uni-text-field,
    uni-choice {
      width: 100%;
    }
    mat-form-field {
      margin-top: 4px;
    }
    .what {
      display: none;
      font-size: 12px;
      color: var(--ink-soft);
    }
    /* More columns than fit beside each other: each row is a small form. */
    .many .mat-mdc-row {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 2px 10px;
      padding: 4px 0 6px;
      border-bottom: 1px solid var(--rule);
    }
    .many td {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      align-items: center;
      gap: 0 4px;
      border: 0;
    }
    .many .what {
      display: block;
      grid-column: 1 / -1;
    }
    .many .what.unit {
      grid-column: auto;
    }
    .many td:last-child {
      justify-items: end;
      grid-template-columns: 1fr;
    }
    .under {
      display: flex;
      gap: 6px;
      margin-top: 3px;
    }
    td button {
      padding: 0 6px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TableField {
  readonly field = input.required<Field>();
  readonly value = input<readonly Row[] | undefined>();
  readonly refusal = input<string | undefined>();
  /** A row to begin with that is right as a whole, where the cells by themselves would not make one. */
  readonly begin = input<((rows: readonly Row[]) => Row | undefined) | undefined>();
  readonly committed = output<Row[] | undefined>();
  protected readonly pasting = signal(false);
  protected readonly rows = computed(() => this.value() ?? []);
  protected readonly columns = computed(() => this.field().columns ?? []);
  protected readonly keys = computed(() => [...this.columns().map((c) => c.key), 'drop']);
  protected readonly byPlace = (place: number): number => place;
  protected readonly numeric = computed(() => this.columns().every((c) => c.kind !== 'choice' && c.kind !== 'text' && c.required));
  /** Cells as typed that are not right yet, by row and column. */
  protected readonly bad = linkedSignal<readonly Row[], ReadonlyMap<string, { text: string; why: string }>>({
    source: () => this.rows(),
    computation: () => new Map(),
  });
  private readonly pasteProblem = signal('');
  protected readonly problem = computed(() => [...this.bad().values()][0]?.why ?? (this.pasteProblem() || this.refusal()));

  protected readonly units = inject(UnitsService).now;
  protected minus(v: number | string | undefined, c: Field): string {
    if (v === undefined) return '';
    if (typeof v !== 'number') return v;
    return String(Number(this.units().shown(v, c.unit).toPrecision(12))).replace('-', '−');
  }

  protected optionsOf(c: Field): Option[] {
    return [...(c.required ? [] : [{ value: '', label: '–' }]), ...(c.choices ?? []).map((x) => ({ value: x, label: x }))];
  }
  protected put(k: number, c: Field, text: string): void {
    if (!c.required && text.trim() === '') {
      this.bad.update((m) => new Map([...m].filter(([cell]) => cell !== k + c.key)));
      return this.committed.emit(this.rows().map((r, i) => (i === k ? Object.fromEntries(Object.entries(r).filter(([key]) => key !== c.key)) : r)));
    }
    let value: number | string = text.trim();
    let why: string | undefined;
    if (c.kind !== 'choice' && c.kind !== 'text') {
      const q = readQuantity(text.replaceAll('−', '-'), this.units().of(c.unit));
      if ('problem' in q) why = $localize`${c.label}, row ${k + 1}:row:: ${q.problem}`;
      else value = this.units().of(c.unit) === (c.unit ?? '') ? q.value : q.value / this.units().factor(c.unit);
    }
    why ??= fieldProblem(c, value);
    if (why) {
      this.bad.update((m) => new Map(m).set(k + c.key, { text, why: why! }));
      return;
    }
    this.committed.emit(this.rows().map((r, i) => (i === k ? { ...r, [c.key]: value } : r)));
  }
  protected add(): void {
    const last = this.rows().at(-1);
    const needed = this.columns().filter((c) => c.required);
    const fresh = Object.fromEntries(
      needed.map((c, i) => {
        if (c.kind === 'choice') return [c.key, c.choices![0]];
        const before = last?.[c.key];
        return [
          c.key,
          typeof before === 'number'
            ? i === 0
              ? before + (c.above === 0 ? 0 : 1)
              : before
            : Math.max(c.min ?? 0, c.above !== undefined ? c.above + 1 : 0, 0),
        ];
      }),
    );
    this.committed.emit([...this.rows(), this.begin()?.(this.rows()) ?? fresh]);
  }
  protected drop(k: number): void {
    const next = this.rows().filter((_, i) => i !== k);
    this.committed.emit(next.length ? next : undefined);
  }
  protected take(text: string): void {
    const read = readTable(text, this.columns().length);
    if (read.problem !== undefined) return this.pasteProblem.set($localize`The text cannot be read: ${read.problem}`);
    // What is pasted is in the units that the heads show.
    const rows = read.rows.map((r) => Object.fromEntries(this.columns().map((c, i) => [c.key, r[i] / this.units().factor(c.unit)])));
    for (const [k, r] of rows.entries()) {
      for (const c of this.columns()) {
        const why = fieldProblem(c, r[c.key]);
        if (why) return this.pasteProblem.set($localize`Row ${k + 1}:row:: ${why}`);
      }
    }
    this.pasteProblem.set('');
    this.pasting.set(false);
    this.committed.emit(rows);
  }
}
