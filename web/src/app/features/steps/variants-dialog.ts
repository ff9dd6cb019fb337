import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import { type Cell as TableCell, conflictsOf, fieldsInVariant, variedLines, variedText, variedValue } from '@unirota/core';
import { ITEM_FORMS, ITEM_LISTS, type Exact, type Field, type Id } from '@unirota/core/document';
import { DesignService } from '../../state/design.service';
import { UnitsService } from '../../state/units.service';
import { VariantService } from '../../state/variant.service';
import { Choice, type Option } from '../../ui/choice';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { Icon } from '../../ui/icon';
import { Named } from '../../ui/named';
import { type Committed, QuantityField } from '../../ui/quantity-field';
import { shownField } from '../../ui/shown-field';
import { TextField } from '../../ui/text-field';

/** How large it opens. */
export const VARIANTS_DIALOG = { width: '1080px', height: '90vh', maxWidth: '96vw', autoFocus: 'dialog' } as const;
const UNSTATED = '';

/** Variants of the design: what each states otherwise, and what base and variants come to, side by side. */
@Component({
  selector: 'uni-variants-dialog',
  imports: [
    Choice,
    DataTable,
    Icon,
    MatButton,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatIconButton,
    MatProgressBar,
    Named,
    QuantityField,
    TextField,
  ],
  providers: [VariantService],
  template: `
    <h2 i18n mat-dialog-title>Variants</h2>
    <mat-dialog-content>
      <div class="sides">
        <div class="given">
          <ul class="plainlist" i18n-aria-label aria-label="Variants">
            @for (v of variants(); track v.id) {
              <li [class.selected]="v.id === open()?.id">
                <button matButton class="plain" type="button" (click)="chosen.set(v.id)">{{ v.name }}</button>
                @if (!still()) {
                  <button matIconButton class="plain" type="button" i18n-uniName uniName="Delete {{ v.name }}" (click)="service.remove(v.id)">
                    <uni-icon name="del" />
                  </button>
                }
              </li>
            } @empty {
              <li i18n class="soft">None yet. A variant is the design with some fields stated otherwise; a change of the design reaches it.</li>
            }
          </ul>
          @if (!still()) {
            <button i18n matButton="outlined" type="button" (click)="add()">Add variant</button>
          }
          @if (open(); as v) {
            <section>
              <div class="rows">
                <label i18n for="va-name">Name</label>
                <uni-text-field inputId="va-name" needed [longest]="120" [disabled]="still()" [value]="v.name" (changed)="rename(v.id, $event)" />
              </div>
              <h3 i18n>Stated otherwise</h3>
              @for (l of lines(); track l.item + l.key) {
                <div class="change">
                  <label [for]="'va-' + l.item + l.key"
                    >{{ l.name }}: {{ l.label }} <span class="soft"><ng-container i18n>base</ng-container> {{ l.base }}</span></label
                  >
                  @if (!l.field) {
                    <span>{{ l.text }}</span>
                  } @else if (l.field.kind === 'choice' || l.field.kind === 'flag') {
                    <uni-choice
                      [inputId]="'va-' + l.item + l.key"
                      [label]="l.name + ': ' + l.label"
                      [disabled]="still()"
                      [options]="l.options"
                      [value]="l.text"
                      (picked)="vary(l.item, l.key, $event)"
                    />
                  } @else if (l.field.kind === 'text') {
                    <uni-text-field
                      [inputId]="'va-' + l.item + l.key"
                      [longest]="200"
                      [disabled]="still()"
                      [value]="l.text"
                      (changed)="vary(l.item, l.key, $event)"
                    />
                  } @else {
                    <uni-quantity-field
                      [inputId]="'va-' + l.item + l.key"
                      [field]="l.field"
                      [disabled]="still()"
                      [value]="l.value"
                      (committed)="quantity(l.item, l.key, $event)"
                    />
                  }
                  @if (!still()) {
                    <button
                      matIconButton
                      class="plain"
                      type="button"
                      i18n-uniName
                      uniName="As in the base: {{ l.name }}, {{ l.label }}"
                      (click)="vary(l.item, l.key, undefined)"
                    >
                      <uni-icon name="del" />
                    </button>
                  }
                </div>
              } @empty {
                <p i18n class="soft">Nothing yet: choose an item and one of its fields.</p>
              }
              @if (!still()) {
                <div class="pick">
                  <uni-choice
                    i18n-label
                    i18n-placeholder
                    label="Item"
                    placeholder="Item"
                    [options]="items()"
                    [value]="item()"
                    (picked)="item.set($event)"
                  />
                  <uni-choice
                    i18n-label
                    i18n-placeholder
                    label="Field to change"
                    placeholder="Change field …"
                    [disabled]="!fields().length"
                    [options]="fields()"
                    (picked)="begin($event)"
                  />
                </div>
                <div class="rows">
                  <span i18n id="va-out">Leave out</span>
                  <uni-choice
                    i18n-label
                    labelledBy="va-out"
                    label="Leave out"
                    [multiple]="true"
                    [options]="items()"
                    [value]="left()"
                    (pickedMany)="leave($event)"
                  />
                </div>
                <button i18n matButton="outlined" type="button" (click)="service.makeBase(v.id)">Make base</button>
              }
              @for (c of conflicts(); track $index) {
                <p class="caution" role="alert">▲ {{ c }}</p>
              }
            </section>
          }
          @if (problem() || service.trouble()) {
            <p class="caution" role="alert">▲ {{ problem() || service.trouble() }}</p>
          }
        </div>
        <div class="shown">
          @if (!current()) {
            <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Comparing variants" />
          }
          @if (table(); as t) {
            <uni-data-table i18n-label label="Variants compared" [columns]="columns()" [rows]="rows()" [file]="doc.design().name + ' variants'" />
          }
        </div>
      </div>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton type="button" mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      height: 100%;
    }
    mat-dialog-content {
      flex: 1;
      max-height: none;
    }
    .sides {
      display: grid;
      grid-template-columns: 400px minmax(0, 1fr);
      gap: 20px;
    }
    ul {
      list-style: none;
      margin: 0 0 6px;
      padding: 0;
    }
    li {
      display: flex;
      align-items: center;
      justify-content: space-between;
    }
    .selected {
      background: var(--brass-fill);
    }
    h3 {
      margin: 10px 0 4px;
      font-size: 14px;
    }
    .rows {
      display: grid;
      grid-template-columns: 90px minmax(0, 1fr);
      gap: 4px 10px;
      align-items: center;
      margin-top: 8px;
    }
    .change {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 140px 32px;
      gap: 8px;
      align-items: center;
    }
    .pick {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px;
      margin: 8px 0;
    }
    p {
      margin: 4px 0;
    }
    .soft {
      color: var(--ink-soft);
    }
    .caution {
      color: var(--caution);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VariantsDialog {
  protected readonly doc = inject(DesignService);
  protected readonly service = inject(VariantService);
  protected readonly units = inject(UnitsService).now;
  protected readonly still = computed(() => this.doc.readOnly() !== '');
  protected readonly variants = computed(() => this.doc.design().variants ?? []);
  protected readonly chosen = signal<Id | undefined>(undefined);
  protected readonly open = computed(() => this.variants().find((v) => v.id === this.chosen()) ?? this.variants().at(0));
  protected readonly problem = signal('');
  protected readonly item = signal<Id | undefined>(undefined);
  protected readonly items = computed((): Option[] => {
    const d = this.doc.design();
    return ITEM_LISTS.flatMap((list) => d[list].map((x) => ({ value: x.id, label: x.name ?? `${ITEM_FORMS[list].title} ${x.id}` })));
  });
  protected readonly fields = computed((): Option[] => {
    const id = this.item();
    const v = this.open();
    return id === undefined || !v ? [] : fieldsInVariant(this.doc.design(), v, id).map((f) => ({ value: f.key, label: this.labelOf(f) }));
  });
  protected readonly lines = computed(() => {
    const v = this.open();
    if (!v) return [];
    return variedLines(this.doc.design(), v).map((l) => {
      const field = l.field && shownField(l.field, this.units());
      return {
        ...l,
        field,
        label: field ? this.labelOf(field) : l.key,
        base: this.shownValue(field, l.base),
        value: l.field && (variedValue(l.field, l.text) as Exact | undefined),
        options: this.optionsOf(l.field),
      };
    });
  });
  protected readonly left = computed(() => [...(this.open()?.suppressed ?? [])]);
  protected readonly conflicts = computed(() => {
    const v = this.open();
    return v ? conflictsOf(this.doc.design(), v) : [];
  });
  protected readonly table = computed(() => this.service.compared.answer()?.is);
  protected readonly current = computed(() => this.service.compared.answer()?.of === this.doc.design() || this.service.trouble() !== '');
  protected readonly columns = computed((): Column[] =>
    (this.table()?.columns ?? []).map((c, k) => ({ key: `c${k}`, label: c.label, number: c.number === true })),
  );
  protected readonly rows = computed((): Row[] =>
    (this.table()?.rows ?? []).map((r) => ({
      cells: r.map((c, k) => ({
        text: this.cellText(c),
        ...(typeof c === 'number' && { value: c }),
        ...(k > 1 && k < r.length - 1 && c === 'missed' && { tone: 'missed' as const }),
      })),
    })),
  );

  constructor() {
    effect(() => {
      const design = this.doc.design();
      untracked(() => this.service.compared.ask(design));
    });
  }

  private labelOf(f: Field): string {
    return f.label;
  }
  private cellText(c: TableCell): string {
    return c === undefined ? '' : typeof c === 'number' ? this.units().number(c, '', 5) : c;
  }
  private shownValue(f: Field | undefined, value: unknown): string {
    if (value === undefined) return $localize`not stated`;
    return typeof value === 'number' && f?.unit ? this.units().text(value, f.unit, 6) : variedText(value);
  }
  private optionsOf(f: Field | undefined): Option[] {
    if (f?.kind === 'flag') return [UNSTATED, 'yes', 'no'].map((value) => ({ value, label: value || $localize`not stated` }));
    return f?.kind === 'choice' ? [UNSTATED, ...(f.choices ?? [])].map((value) => ({ value, label: value || $localize`not stated` })) : [];
  }
  protected add(): void {
    const id = this.service.add();
    if (id) this.chosen.set(id);
  }
  protected rename(id: Id, name: string): void {
    this.problem.set(this.service.change(id, { name }) ?? '');
  }
  /** A field begins with what the base has. */
  protected begin(field: string): void {
    const id = this.item();
    const v = this.open();
    if (id === undefined || !v) return;
    const x = ITEM_LISTS.flatMap((list) => this.doc.design()[list] as readonly { id: Id }[]).find((y) => y.id === id);
    this.vary(id, field, variedText(x && (x as unknown as Record<string, unknown>)[field]));
  }
  protected vary(item: Id, field: string, text: string | undefined): void {
    const v = this.open();
    if (v) this.problem.set(this.service.vary(v.id, item, field, text) ?? '');
  }
  protected quantity(item: Id, field: string, { value }: Committed): void {
    this.vary(item, field, variedText(value));
  }
  protected leave(ids: readonly string[]): void {
    const v = this.open();
    if (v) this.problem.set(this.service.change(v.id, { suppressed: ids.length ? [...ids] : undefined }) ?? '');
  }
}
