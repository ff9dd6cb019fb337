import { ChangeDetectionStrategy, Component, Injector, computed, effect, inject, linkedSignal, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import {
  type RatingFix,
  type RatingLine,
  byReason,
  canPropose,
  withMaterialGroup,
  withSteel,
  withoutMaterialGroup,
  withoutSteel,
} from '@unirota/core';
import { RATING_SETTINGS, SHAFT_STEELS, type Settings, type ShaftSteel, statedBy } from '@unirota/core/document';
import { MATERIAL_GROUPS, type MaterialGroup, RATING_FIELDS } from '@unirota/core/elements';
import { Choice } from '../../ui/choice';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { type Committed, QuantityField } from '../../ui/quantity-field';
import { DesignService } from '../../state/design.service';
import { RatingService } from '../../state/rating.service';
import { SelectionService } from '../../state/selection.service';
import { UnitsService } from '../../state/units.service';
import { HINT, STIFFER, WHAT } from './rating-words';

const keyOf = (l: RatingLine): string => [l.item, l.element ?? '', l.bearing ?? '', l.what, l.name].join(' ');

/** Rating: what bears its load and for how long, worst first, with every factor, and what would cure it. */
@Component({
  selector: 'uni-rating',
  imports: [Choice, DataTable, MatButton, MatCheckbox, MatProgressBar, QuantityField],
  templateUrl: './rating-step.html',
  styleUrls: ['./step.scss', './rating-step.scss'],
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RatingStep {
  protected readonly doc = inject(DesignService);
  protected readonly ratings = inject(RatingService);
  private readonly chosen = inject(SelectionService);
  protected readonly units = inject(UnitsService).now;
  protected readonly settings = RATING_SETTINGS;
  protected readonly valueOf = (f: (typeof RATING_SETTINGS)[number]): number =>
    (statedBy(this.doc.design().settings ?? {})[f.key] ?? f.initial) as number;
  protected state(key: string, label: string, c: Committed): void {
    const trouble = this.doc.editSettings(label, { [key]: typeof c.value === 'string' ? Number(c.value) : c.value } as Partial<Settings>);
    if (trouble) this.doc.said.set(trouble);
  }

  protected readonly agma = computed(() => this.doc.design().settings?.agma === true);
  protected stateAgma(on: boolean): void {
    const trouble = this.doc.editSettings($localize`Rate by AGMA`, { agma: on || undefined });
    if (trouble) this.doc.said.set(trouble);
  }

  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  protected async openVibration(): Promise<void> {
    const { VibrationDialog, VIBRATION_DIALOG } = await import('./vibration-dialog');
    this.dialog.open(VibrationDialog, { ...VIBRATION_DIALOG, injector: this.injector });
  }

  protected readonly lines = computed(() => this.ratings.rating()?.lines ?? []);
  protected readonly columns: readonly Column[] = [
    { key: 'part', label: $localize`Part` },
    { key: 'what', label: $localize`What` },
    { key: 'case', label: $localize`Load case or run` },
    { key: 'value', label: $localize`Safety or life`, number: true },
    { key: 'wanted', label: $localize`Wanted`, number: true },
    { key: 'reserve', label: $localize`Load reserve`, number: true },
  ];
  protected readonly rows = computed((): Row[] =>
    this.lines().map((l) => {
      const tone = l.reserve >= 1 ? 'met' : 'missed';
      const unit = l.unit === undefined ? {} : { unit: l.unit };
      const figure = (x: number): string => (Number.isFinite(x) ? this.units().number(x, '', 3) : $localize`no load`);
      return {
        id: keyOf(l),
        selected: keyOf(l) === this.shown(),
        cells: [
          { text: l.name },
          { text: WHAT[l.what] },
          { text: l.case },
          { text: `${tone === 'met' ? '✓' : '✗'} ${figure(l.value)}`, value: l.value, tone, ...unit },
          { text: figure(l.wanted), value: l.wanted, ...unit },
          { text: figure(l.reserve), value: l.reserve, tone },
        ],
      };
    }),
  );
  protected readonly none = computed(() =>
    this.ratings.rating()
      ? $localize`Nothing is rated yet: state materials of gears, dynamic ratings of bearings in their joints, steel and keys of shafts, and limits of belts, chains, springs and motors.`
      : $localize`The rating is being worked out …`,
  );
  protected readonly WHAT = WHAT;
  protected readonly HINT = HINT;
  /** The line that is looked at: the worst until one is chosen. */
  protected readonly shown = linkedSignal<string | undefined, string | undefined>({
    source: () => (this.lines().length ? keyOf(this.lines()[0]) : undefined),
    computation: (worst, before) => (before?.value && this.lines().some((l) => keyOf(l) === before.value) ? before.value : worst),
  });
  protected readonly line = computed(() => this.lines().find((l) => keyOf(l) === this.shown()));
  protected press(key: string): void {
    this.shown.set(key);
    const l = this.line();
    if (l) this.goTo(l.element ?? l.item);
  }
  protected goTo(item: string): void {
    const found = this.doc.find(item);
    if (found) this.chosen.select(found.kind, found.id);
  }
  protected readonly number = (value: number, unit = ''): string => (Number.isFinite(value) ? this.units().text(value, unit, 4) : $localize`no load`);

  protected readonly notRated = computed(() =>
    byReason(this.ratings.rating()?.unrated ?? []).map(({ why, parts }) => ({
      why,
      parts: parts.map((p) => ({ ...p, there: !!this.doc.find(p.item) })),
    })),
  );

  /** Fixes of the line that is looked at; undefined while they are tried. */
  protected readonly fixes = signal<readonly RatingFix[] | undefined>([]);
  constructor() {
    effect((done) => {
      const line = this.line();
      this.fixes.set([]);
      if (!line || line.reserve >= 1 || line.bearing !== undefined || HINT[line.what] === STIFFER || !this.ratings.current() || this.doc.readOnly()) {
        return;
      }
      let stale = false;
      done(() => (stale = true));
      this.fixes.set(undefined);
      this.ratings.fixes(line).then(
        (list) => stale || this.fixes.set(list),
        () => stale || this.fixes.set([]),
      );
    });
  }

  /** Of the teeth of a mesh that bear what is wanted: whether less would do, asked for by a press. */
  protected readonly sizeable = computed(() => {
    const l = this.line();
    return !!l && canPropose(this.doc.design(), l) && this.ratings.current() && !this.doc.readOnly();
  });
  protected readonly sizes = linkedSignal<unknown, readonly RatingFix[] | 'asked' | undefined>({
    source: () => [this.doc.design(), this.line()?.item],
    computation: () => undefined,
  });
  protected readonly proposed = computed((): readonly RatingFix[] => {
    const is = this.sizes();
    return is === undefined || is === 'asked' ? [] : is;
  });
  protected proposeSizes(line: RatingLine): void {
    const design = this.doc.design();
    const mine = (): boolean => this.doc.design() === design && this.line()?.item === line.item;
    this.sizes.set('asked');
    this.ratings.sizes(line).then(
      (list) => mine() && this.sizes.set(list),
      () => mine() && this.sizes.set(undefined),
    );
  }

  /** Gears without a material group: stated for all at once. */
  protected readonly bare = computed(() => withoutMaterialGroup(this.doc.design()));
  protected readonly groups = MATERIAL_GROUPS.map((g) => ({ value: g, label: g }));
  protected readonly group = signal<MaterialGroup>('case-hardened steel');
  protected readonly hardnessField = RATING_FIELDS.find((f) => f.key === 'hardness')!;
  protected readonly hardness = signal<number | undefined>(undefined);
  protected stateMaterial(): void {
    const n = this.bare().length;
    const trouble = this.doc.edit($localize`State the material of ${n} gears`, (d) => withMaterialGroup(d, this.group(), this.hardness()));
    if (trouble) this.doc.said.set(trouble);
  }

  /** Shafts without a steel: stated for all at once. */
  protected readonly steelless = computed(() => withoutSteel(this.doc.design()));
  protected readonly steels = SHAFT_STEELS.map((x) => ({ value: x, label: x }));
  protected readonly steel = signal<ShaftSteel>('C45E quenched and tempered');
  protected stateSteel(): void {
    const n = this.steelless().length;
    const trouble = this.doc.edit($localize`State the steel of ${n} shafts`, (d) => withSteel(d, this.steel()));
    if (trouble) this.doc.said.set(trouble);
  }
}
