import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { withNote } from '@unirota/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatFormField } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { type Field, SETTINGS_FIELDS, UNIT_FIELDS, unitSettings } from '@unirota/core/document';
import { type ChosenUnits, INCH, METRIC, QUANTIFIED } from '@unirota/core/units';
import { Choice } from '../../ui/choice';
import { type Committed, QuantityField } from '../../ui/quantity-field';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';

const LABELS: Record<keyof ChosenUnits, string> = {
  length: $localize`Length`,
  speed: $localize`Speed of a slide`,
  force: $localize`Force`,
  torque: $localize`Torque`,
  power: $localize`Power`,
  stress: $localize`Stress`,
};

/**
 * The design's own sheet, where nothing is selected: what it is for,
 * whether weight counts, the units and decimals of its figures.
 */
@Component({
  selector: 'uni-design-sheet',
  imports: [Choice, MatButton, MatCheckbox, MatFormField, MatInput, QuantityField],
  template: `
    <p i18n class="soft hint">
      Select a member, a coupling or a source in the train map, or an element in the layout: its given and derived values stand here.
    </p>
    <h3 i18n>The design</h3>
    <label i18n for="d-note" class="soft">Note</label>
    <mat-form-field appearance="outline" subscriptSizing="dynamic" class="dense">
      <textarea
        i18n-placeholder
        matInput
        id="d-note"
        rows="4"
        maxlength="20000"
        placeholder="Description and decisions"
        [value]="doc.design().note ?? ''"
        (change)="note($any($event.target).value)"
      ></textarea>
    </mat-form-field>
    <mat-checkbox i18n [checked]="doc.weight()" (change)="doc.setWeight($event.checked)">Include weight</mat-checkbox>
    <p class="soft">{{ sum() }}</p>
    <h3 i18n>Units</h3>
    <div class="presets">
      <button i18n matButton="outlined" type="button" [attr.aria-pressed]="is(metric)" (click)="take(metric)">Metric</button>
      <button i18n matButton="outlined" type="button" [attr.aria-pressed]="is(inch)" (click)="take(inch)">Inch</button>
    </div>
    @for (u of fields; track u.key) {
      <div class="row">
        <label [id]="'d-l-' + u.key" [attr.for]="'d-' + u.key">{{ u.label }}</label>
        <uni-choice
          [inputId]="'d-' + u.key"
          [labelledBy]="'d-l-' + u.key"
          [options]="u.options"
          [value]="now()[u.quantity]!"
          (picked)="set(u.key, $event)"
        />
      </div>
    }
    <div class="row">
      <label i18n for="d-decimals">Decimals</label>
      <uni-quantity-field inputId="d-decimals" [field]="decimals" [value]="doc.design().settings?.decimals" (committed)="fix($event)" />
    </div>
    <mat-checkbox i18n [checked]="units.both()" (change)="units.showBoth($event.checked)">Show the other system beside fields</mat-checkbox>
    <p i18n class="soft">Left empty, figures have the digits that matter. A value may be typed in any unit: 1 1/2 in, 3/4, 20*2, 5 ft 3 in.</p>
  `,
  styles: `
    :host {
      display: block;
    }
    .hint {
      margin: 0 0 12px;
    }
    h3 {
      margin: 14px 0 6px;
    }
    mat-form-field {
      margin: 2px 0 8px;
    }
    textarea {
      resize: vertical;
    }
    .row {
      display: grid;
      grid-template-columns: 128px minmax(0, 1fr);
      align-items: center;
      gap: 8px;
      margin: 2px 0;
    }
    .row uni-choice {
      width: 100%;
    }
    .presets {
      display: flex;
      gap: 6px;
      margin-bottom: 6px;
    }
    .presets button[aria-pressed='true'] {
      background: var(--brass-fill);
      border-color: var(--brass-line);
      font-weight: 600;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DesignSheet {
  protected readonly doc = inject(DesignService);
  protected readonly units = inject(UnitsService);
  protected readonly metric = METRIC;
  protected readonly inch = INCH;
  protected readonly fields = UNIT_FIELDS.map(([key, quantity, f]) => ({
    key,
    quantity,
    label: LABELS[quantity],
    options: (f.choices ?? []).map((c) => ({ value: c, label: c })),
  }));
  protected readonly decimals: Field = { ...SETTINGS_FIELDS.find((f) => f.key === 'decimals')!, label: $localize`Decimals` };
  protected readonly now = computed<Required<ChosenUnits>>(() => {
    const s = this.doc.design().settings;
    const chosen = UNIT_FIELDS.map(([key, q]) => [q, s?.[key] ?? METRIC[q]]);
    return Object.fromEntries(chosen) as Required<ChosenUnits>;
  });
  protected readonly sum = computed(() => {
    const d = this.doc.design();
    const n = (k: number, one: string, many: string): string => `${k} ${k === 1 ? one : many}`;
    return `${n(d.members.length, 'member', 'members')}, ${n(d.elements.length, 'element', 'elements')}, ${n(d.couplings.length, 'coupling', 'couplings')}.`;
  });

  protected is(units: Required<ChosenUnits>): boolean {
    return QUANTIFIED.every((q) => this.now()[q] === units[q]);
  }
  protected take(units: Required<ChosenUnits>): void {
    this.doc.editSettings(units === INCH ? $localize`Units in inches` : $localize`Metric units`, unitSettings(units));
  }
  protected set(key: string, unit: string): void {
    this.doc.editSettings($localize`Choose a unit`, { [key]: unit });
  }
  protected fix(c: Committed): void {
    this.doc.editSettings($localize`Decimals`, { decimals: c.value === undefined ? undefined : Number(c.value) });
  }
  protected note(text: string): void {
    this.doc.edit($localize`Note of the design`, (d) => withNote(d, text));
  }
}
