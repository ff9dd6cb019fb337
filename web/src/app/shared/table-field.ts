import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output, signal } from '@angular/core';
import { Field, fieldProblem } from '@unirota/core/document';
import { readTable } from '@unirota/core/formats';
import { readQuantity } from '@unirota/core/units';
import { Choice, type Option } from './choice';

type Row = Record<string, number | string>;

/** A table that a person fills in: row by row, or pasted as text with commas, semicolons or tabs. What is wrong stays, with its reason. */
@Component({
  selector: 'uni-table-field',
  imports: [Choice],
  template: `
    <table [attr.aria-label]="field().label">
      <thead>
        <tr>
          @for (c of columns(); track c.key) {
            <th [class.choice]="c.kind === 'choice'">
              {{ c.label }}
              @if (c.unit) {
                <span class="soft">{{ c.unit }}</span>
              }
            </th>
          }
          <th><span class="visually-hidden">Row</span></th>
        </tr>
      </thead>
      <tbody>
        @for (r of rows(); track $index; let k = $index) {
          <tr>
            @for (c of columns(); track c.key) {
              <td>
                @if (c.kind === 'choice') {
                  <uni-choice [label]="c.label + ', row ' + (k + 1)" [options]="optionsOf(c)" [value]="r[c.key]" (picked)="put(k, c, $event)" />
                } @else {
                  <input
                    type="text"
                    [attr.aria-label]="c.label + ', row ' + (k + 1)"
                    [attr.aria-invalid]="bad().get(k + c.key) ? true : null"
                    [value]="bad().get(k + c.key)?.text ?? minus(r[c.key])"
                    (change)="put(k, c, $any($event.target).value)"
                  />
                }
              </td>
            }
            <td><button type="button" class="plain" (click)="drop(k)" [attr.aria-label]="'Take out row ' + (k + 1)">×</button></td>
          </tr>
        }
      </tbody>
    </table>
    <div class="under">
      <button type="button" (click)="add()">Add a row</button>
      @if (numeric()) {
        <button type="button" [attr.aria-expanded]="pasting()" (click)="pasting.set(!pasting())">Paste a table …</button>
      }
    </div>
    @if (pasting()) {
      <textarea rows="4" aria-label="Rows as text, columns with commas, semicolons or tabs between" #text></textarea>
      <div class="under"><button type="button" class="main" (click)="take(text.value)">Take these rows</button></div>
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
    td {
      padding: 1px 2px 1px 0;
    }
    input,
    uni-choice {
      width: 100%;
      padding: 1px 3px;
    }
    input {
      text-align: right;
    }
    textarea {
      width: 100%;
      margin-top: 4px;
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
  readonly committed = output<Row[] | undefined>();
  protected readonly pasting = signal(false);
  protected readonly rows = computed(() => this.value() ?? []);
  protected readonly columns = computed(() => this.field().columns ?? []);
  protected readonly numeric = computed(() => this.columns().every((c) => c.kind !== 'choice'));
  /** Cells as typed that are not right yet, by row and column. */
  protected readonly bad = linkedSignal<readonly Row[], ReadonlyMap<string, { text: string; why: string }>>({
    source: () => this.rows(),
    computation: () => new Map(),
  });
  private readonly pasteProblem = signal('');
  protected readonly problem = computed(() => [...this.bad().values()][0]?.why ?? (this.pasteProblem() || this.refusal()));

  protected minus(v: number | string): string {
    return String(v).replace('-', '−');
  }

  protected optionsOf(c: Field): Option[] {
    return (c.choices ?? []).map((x) => ({ value: x, label: x }));
  }
  protected put(k: number, c: Field, text: string): void {
    let value: number | string = text;
    let why: string | undefined;
    if (c.kind !== 'choice') {
      const q = readQuantity(text.replaceAll('−', '-'), c.unit ?? '');
      if ('problem' in q) why = `${c.label}, row ${k + 1}: ${q.problem}`;
      else value = q.value;
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
    const fresh = Object.fromEntries(
      this.columns().map((c, i) => {
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
    this.committed.emit([...this.rows(), fresh]);
  }
  protected drop(k: number): void {
    const next = this.rows().filter((_, i) => i !== k);
    this.committed.emit(next.length ? next : undefined);
  }
  protected take(text: string): void {
    const read = readTable(text, this.columns().length);
    if (read.problem !== undefined) return this.pasteProblem.set(`The text cannot be read: ${read.problem}`);
    const rows = read.rows.map((r) => Object.fromEntries(this.columns().map((c, i) => [c.key, r[i]])));
    for (const [k, r] of rows.entries()) {
      for (const c of this.columns()) {
        const why = fieldProblem(c, r[c.key]);
        if (why) return this.pasteProblem.set(`row ${k + 1}: ${why}`);
      }
    }
    this.pasteProblem.set('');
    this.pasting.set(false);
    this.committed.emit(rows);
  }
}
