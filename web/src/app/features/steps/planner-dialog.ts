import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogRef, MatDialogTitle } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import { type FoundTrain, type FoundTrains, STAGE_KINDS, canBegin, stageValues, toothCounts } from '@unirota/core';
import { type Exact, type Field, type Id } from '@unirota/core/document';
import { parseRatio, toNumber } from '@unirota/core/math';
import { show } from '@unirota/core/units';
import type { SearchApi } from '../../engine/search.worker';
import { WorkerClient } from '../../engine/worker-client';
import { CommandsService } from '../../state/commands.service';
import { DesignService } from '../../state/design.service';
import { MotionService } from '../../state/motion.service';
import { Choice, type Option } from '../../ui/choice';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { type Committed, QuantityField } from '../../ui/quantity-field';
import { TextField } from '../../ui/text-field';

/** How large it opens. */
export const PLANNER_DIALOG = { width: '980px', maxWidth: '96vw', autoFocus: 'dialog' } as const;
const SPUR = STAGE_KINDS.find((k) => k.kind === 'spur')!;
const SIZES: readonly Field[] = SPUR.fields.filter((f) => ['module', 'width'].includes(f.key));
/** Trains that are shown. */
const SHOWN = 200;

/** The search for trains of gear pairs by a ratio; the one that is chosen is inserted at a member. */
@Component({
  selector: 'uni-planner-dialog',
  imports: [
    Choice,
    DataTable,
    MatButton,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatProgressBar,
    QuantityField,
    TextField,
  ],
  template: `
    <h2 i18n mat-dialog-title>Planner: gear pairs for a ratio</h2>
    <mat-dialog-content>
      <div class="sides">
        <div class="given">
          <label i18n for="pl-ratio">Ratio, output by input</label>
          <uni-text-field inputId="pl-ratio" [longest]="40" [value]="ratio()" [refusal]="wrongRatio()" (changed)="ratio.set($event)" />
          <label i18n for="pl-within">Tolerance, %</label>
          <uni-text-field inputId="pl-within" [longest]="20" [value]="within()" [refusal]="wrongWithin()" (changed)="within.set($event)" />
          <span i18n id="pl-pairs">Pairs</span>
          <uni-choice i18n-label labelledBy="pl-pairs" label="Pairs" [options]="pairOptions" [value]="pairs()" (picked)="pairs.set($event)" />
          <label i18n for="pl-teeth">Tooth counts</label>
          <uni-text-field inputId="pl-teeth" [longest]="400" [value]="teeth()" [refusal]="wrongTeeth()" (changed)="teeth.set($event)" />
          <span></span>
          @if (busy()) {
            <button i18n matButton="outlined" type="button" (click)="end()">Stop search</button>
          } @else {
            <button i18n matButton="filled" type="button" [disabled]="!sound()" (click)="search()">Search</button>
          }
          <span i18n id="pl-at">Insert at</span>
          <uni-choice i18n-label labelledBy="pl-at" label="Insert at" [options]="members()" [value]="at()" (picked)="at.set($event)" />
          @for (f of sizes; track f.key) {
            <label [for]="'pl-' + f.key">{{ f.label }}</label>
            <uni-quantity-field [inputId]="'pl-' + f.key" [field]="f" [value]="values()[f.key]" (committed)="size(f.key, $event)" />
          }
        </div>
        <div class="shown">
          @if (busy()) {
            <mat-progress-bar i18n-aria-label mode="indeterminate" aria-label="Searching" />
          }
          @if (found(); as f) {
            <p role="status">{{ said() }}</p>
            @if (f.trains.length) {
              <uni-data-table
                i18n-label
                label="Trains found"
                [columns]="columns"
                [rows]="rows()"
                [file]="doc.design().name + ' trains'"
                (pressed)="chosen.set(+$event.id)"
              />
            }
          } @else if (!busy()) {
            <p i18n class="soft">
              Every train of so many pairs is looked at, with all tooth counts that are stated: 12-120, or the set that is at hand, 20,24,25,30. The
              sense follows from how wheels are placed.
            </p>
          }
          @if (problem()) {
            <p role="alert" class="caution">▲ {{ problem() }}</p>
          }
        </div>
      </div>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton type="button" mat-dialog-close>Close</button>
      <button i18n matButton="filled" type="button" [disabled]="!picked() || !at() || doc.readOnly() !== ''" (click)="insert()">Insert train</button>
    </mat-dialog-actions>
  `,
  styleUrl: './sides.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlannerDialog {
  private readonly self = inject<MatDialogRef<PlannerDialog>>(MatDialogRef);
  protected readonly doc = inject(DesignService);
  private readonly motion = inject(MotionService);
  private readonly commands = inject(CommandsService);
  private readonly worker = new WorkerClient<SearchApi>(() => new Worker(new URL('../../engine/search.worker', import.meta.url), { type: 'module' }));
  protected readonly pairOptions: Option[] = ['1', '2', '3'].map((value) => ({ value, label: value }));
  protected readonly sizes = SIZES;
  protected readonly within = signal('0.1');
  protected readonly pairs = signal('2');
  protected readonly teeth = signal('12-120');
  protected readonly at = signal<Id | undefined>(this.commands.memberAt());
  protected readonly ratio = signal(this.beginning());
  protected readonly values = signal<Readonly<Record<string, Exact>>>(
    Object.fromEntries(Object.entries(stageValues(SPUR)).filter(([key]) => SIZES.some((f) => f.key === key))) as Record<string, Exact>,
  );
  protected readonly found = signal<FoundTrains | undefined>(undefined);
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  protected readonly chosen = signal<number | undefined>(undefined);
  private readonly exactRatio = computed(() => parseRatio(this.ratio()));
  private readonly exactWithin = computed(() => {
    const r = parseRatio(this.within());
    return r && parseRatio(`${r.n}/${r.d * 100n}`);
  });
  private readonly counts = computed(() => toothCounts(this.teeth()));
  protected readonly wrongRatio = computed(() => {
    const r = this.exactRatio();
    return r && r.n > 0n ? '' : $localize`Ratio must be a number or a fraction above zero, such as 1/37.3`;
  });
  protected readonly wrongWithin = computed(() => {
    const r = this.exactWithin();
    return r && r.n >= 0n && r.n < r.d ? '' : $localize`Tolerance must be from 0 to below 100 %`;
  });
  protected readonly wrongTeeth = computed(() => {
    const c = this.counts();
    return typeof c === 'string' ? c : '';
  });
  protected readonly sound = computed(() => !this.wrongRatio() && !this.wrongWithin() && !this.wrongTeeth());
  protected readonly members = computed((): Option[] => {
    const d = this.doc.design();
    return d.members.filter((m) => canBegin(d, 'spur', m.id)).map((m) => ({ value: m.id, label: m.name }));
  });
  protected readonly said = computed(() => {
    const f = this.found();
    if (!f) return '';
    if (!f.complete) return $localize`More than ${f.count} trains: state a smaller tolerance for a complete search`;
    if (!f.count) return $localize`No train of these wheels has this ratio: widen the tolerance or the tooth counts, or take more pairs`;
    return $localize`${f.count} trains, all that there are with these teeth; the best ${f.trains.length} are listed`;
  });
  protected readonly columns: Column[] = [
    { key: 'pairs', label: $localize`Pairs, driver : driven` },
    { key: 'error', label: $localize`Error`, unit: 'ppm', number: true },
    { key: 'ratio', label: $localize`Ratio`, number: true },
    { key: 'teeth', label: $localize`Teeth in all`, number: true },
  ];
  protected readonly rows = computed((): Row[] =>
    (this.found()?.trains ?? []).map((t, k) => ({
      id: String(k),
      selected: k === this.chosen(),
      cells: [
        { text: this.textOf(t) },
        { text: show(t.error * 1e6, 4), value: Math.abs(t.error * 1e6) },
        { text: `${t.ratio.n}/${t.ratio.d}`, value: toNumber(t.ratio) },
        { text: String(t.teeth), value: t.teeth },
      ],
    })),
  );
  protected readonly picked = computed((): FoundTrain | undefined => this.found()?.trains[this.chosen() ?? -1]);

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker.end());
  }

  private textOf(t: FoundTrain): string {
    return t.pairs.map(([a, b]) => `${a} : ${b}`).join(' · ');
  }
  /** What the first wanted speed asks of the member that the train begins at; where the design says neither, one to ten. */
  private beginning(): string {
    const { lines, wanted } = this.motion.ledger();
    const turning = new Set(wanted.filter((w) => w.unit === 'rev/min').map((w) => w.wanted));
    const asked = this.doc.design().wanted.find((w) => turning.has(w.id)) as { value?: number } | undefined;
    const line = lines.find((l) => l.member === this.at() && l.motion === 'turn');
    const [out, into] = [asked?.value, line?.speed].map((x) => Math.abs(Number((x ?? 0).toPrecision(9))));
    return out && into ? `${out}/${into}` : '1/10';
  }
  protected size(key: string, { value }: Committed): void {
    if (value !== undefined && value !== '') this.values.update((v) => ({ ...v, [key]: value }));
  }
  protected async search(): Promise<void> {
    const [ratio, within, teeth] = [this.exactRatio(), this.exactWithin(), this.counts()];
    if (!ratio || !within || typeof teeth === 'string') return;
    this.busy.set(true);
    this.problem.set('');
    this.chosen.set(undefined);
    try {
      const found = await this.worker.attempt((api) => api.find({ ratio, within, pairs: Number(this.pairs()) as 1 | 2 | 3, teeth, most: SHOWN }));
      if (!found) return;
      this.found.set(found);
      if (found.trains.length) this.chosen.set(0);
    } catch (e) {
      this.problem.set($localize`The search failed: ${(e as Error).message}`);
    } finally {
      this.busy.set(false);
    }
  }
  protected end(): void {
    this.worker.end();
  }
  protected insert(): void {
    const train = this.picked();
    const from = this.at();
    if (!train || from === undefined) return;
    const usual = { ...stageValues(SPUR), ...this.values() };
    const sizes = train.pairs.map(([z1, z2]) => ({ ...usual, z1, z2 }));
    const trouble = this.commands.insert('spur', $localize`Train ${this.textOf(train)}`, sizes, { from });
    if (trouble) this.problem.set(trouble);
    else this.self.close();
  }
}
