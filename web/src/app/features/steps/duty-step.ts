import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { FRAME, LOAD_KINDS, SOURCE_KINDS, WANTED_KINDS, type WantedOutput } from '@unirota/core/document';
import { type ActingLoad, missing, stillNeeded, withSource, withWanted } from '@unirota/core';
import { LoadCases } from './load-cases';
import { Quantities } from './quantities';
import { type Cell, type Column, DataTable, type Row } from '../../ui/data-table';
import { loadSize } from '@unirota/core';
import { effectText } from '../../ui/load-effect';
import { show, motionUnit } from '@unirota/core/units';
import { Icon } from '../../ui/icon';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { MotionService } from '../../state/motion.service';
import { CommandsService } from '../../state/commands.service';

const columns = (words: readonly string[], figures: readonly string[], more: readonly string[] = []): Column[] => [
  ...words.map((label) => ({ key: label, label })),
  ...figures.map((label) => ({ key: label, label, number: true })),
  ...more.map((label) => ({ key: label, label })),
];

/** Duty: what drives, and what is wanted of the train. */
@Component({
  selector: 'uni-duty',
  imports: [DataTable, MatButton, Icon, LoadCases, MatCheckbox, Quantities],
  template: `
    <section>
      <h2 i18n>Sources</h2>
      <uni-data-table
        i18n-label
        label="Sources"
        [columns]="sourceColumns"
        [rows]="sources()"
        [none]="nothingDrives()"
        removes
        (pressed)="chosen.select('source', $event.id)"
        (removed)="commands.remove($event.id, $event.name)"
      />
      <div class="add">
        @for (k of sourceKinds; track k.type) {
          <button matButton="outlined" type="button" (click)="addSource(k.type, k.label)"><uni-icon name="add" /> {{ k.label }}</button>
        }
      </div>
    </section>
    <section>
      <h2 i18n>Loads</h2>
      <uni-data-table
        i18n-label
        label="Loads"
        [columns]="loadColumns"
        [rows]="loads()"
        [none]="nothingLoads()"
        removes
        (pressed)="chosen.select('load', $event.id)"
        (removed)="commands.remove($event.id, $event.name)"
      />
      <div class="add">
        @for (k of loadKinds; track k.type) {
          <button matButton="outlined" type="button" (click)="addLoad(k.type)"><uni-icon name="add" /> {{ k.label }}</button>
        }
        <mat-checkbox i18n [checked]="doc.weight()" (change)="doc.setWeight($event.checked)">Include weight</mat-checkbox>
      </div>
    </section>
    <section>
      <h2 i18n>Load cases</h2>
      <uni-load-cases />
    </section>
    <section>
      <h2 i18n>Wanted outputs</h2>
      <uni-data-table
        i18n-label
        label="Wanted outputs"
        [columns]="wantedColumns"
        [rows]="wanted()"
        none="Nothing is wanted yet: state what the outputs must do, and every stage shows whether they do it."
        removes
        (pressed)="chosen.select('wanted', $event.id)"
        (removed)="commands.remove($event.id, $event.name)"
      />
      <div class="add">
        @for (k of wantedKinds; track k.type) {
          <button matButton="outlined" type="button" (click)="addWanted(k.type, k.label)"><uni-icon name="add" /> {{ k.label }}</button>
        }
      </div>
    </section>
    <section>
      <h2 i18n>Named quantities</h2>
      <uni-quantities />
    </section>
  `,
  styleUrl: './step.scss',
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DutyStep {
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly motion = inject(MotionService);
  protected readonly commands = inject(CommandsService);
  protected readonly units = inject(UnitsService).now;
  protected readonly sourceKinds = SOURCE_KINDS;
  protected readonly wantedKinds = WANTED_KINDS;
  protected readonly joints = computed(() => this.doc.design().joints);
  protected readonly sourceColumns = columns(
    [$localize`Source`, $localize`Kind`, $localize`Drives`],
    [$localize`Nominal speed`, $localize`Needs`, $localize`Power`],
  );
  protected readonly loadColumns = columns([$localize`Load`, $localize`Kind`, $localize`Acts on`], [$localize`Size`], [$localize`Effect`]);
  protected readonly wantedColumns = columns(
    [$localize`Wanted`, $localize`What`, 'Of'],
    [$localize`Target`, $localize`Tolerance`, $localize`Actual`],
    [$localize`Result`],
  );
  protected readonly nothingDrives = computed(() =>
    this.joints().length
      ? $localize`Nothing drives this design yet. Choose what drives.`
      : $localize`Nothing drives this design yet. Choose what drives: an input shaft comes with it, and the train grows from there.`,
  );
  protected readonly nothingLoads = computed(
    () =>
      $localize`Nothing loads this train${this.doc.weight() ? ' but its own weight' : ''}. Add what it has to move or to hold; select a member or a joint first, and it acts there.`,
  );

  private slides(joint: unknown): boolean {
    const w = this.motion.worked().compiled.structure;
    const i = w.firstOf.get(String(joint ?? '').split(':')[0]);
    return i !== undefined && w.coordinates[i]?.motion === 'slide';
  }
  private jointName(ref: unknown): string {
    const j = this.joints().find((x) => x.id === String(ref ?? '').split(':')[0]);
    return j?.name ?? j?.id ?? '–';
  }
  protected readonly sources = computed(() =>
    this.doc.design().sources.map((s): Row => {
      const r = this.motion.ledger().sources.find((x) => x.source === s.id);
      const slide = this.slides(s.joint);
      const figure = (x: number | undefined, unit: string, digits?: number): Cell => ({
        text: x === undefined ? '–' : this.units().text(x, unit, digits),
        value: x,
      });
      return {
        id: s.id,
        selected: this.chosen.selection()?.id === s.id,
        cells: [
          { text: s.name },
          { text: SOURCE_KINDS.find((k) => k.type === s.type)?.label ?? s.type },
          { text: this.jointName(s.joint) },
          figure(r?.speed, motionUnit(slide).speed),
          figure(r?.load, motionUnit(slide).effort, 4),
          figure(r?.power, 'W', 4),
        ],
      };
    }),
  );
  protected readonly wanted = computed(() =>
    this.doc.design().wanted.map((w: WantedOutput): Row => {
      const r = this.motion.ledger().wanted.find((x) => x.wanted === w.id);
      const unit = r?.unit ?? '';
      const missed = r?.value !== undefined && !r.met;
      const sense = w.sense === 'at least' ? '≥ ' : w.sense === 'at most' ? '≤ ' : '';
      return {
        id: w.id,
        selected: this.chosen.selection()?.id === w.id,
        cells: [
          { text: w.name },
          { text: WANTED_KINDS.find((k) => k.type === w.type)?.label ?? w.type },
          { text: w.source ? (this.doc.design().sources.find((s) => s.id === w.source)?.name ?? '–') : this.jointName(w.joint) },
          { text: sense + this.units().text(Number(w.value), unit), value: Number(w.value) },
          { text: `± ${this.units().text(Number(w.tolerance ?? 0), unit)}`, value: Number(w.tolerance ?? 0) },
          { text: r?.value === undefined ? '–' : this.units().text(r.value, unit), value: r?.value },
          {
            text: missed
              ? `✗ missed by ${this.units().text(r.off ?? 0, unit, 3)}${this.more(w)}`
              : r?.value === undefined
                ? (this.left(w.id) ?? r?.because ?? '')
                : '✓ met',
            tone: missed ? 'missed' : r?.met ? 'met' : undefined,
          },
        ],
      };
    }),
  );

  protected readonly loadKinds = LOAD_KINDS;
  protected readonly loads = computed(() => {
    const d = this.doc.design();
    const memberName = (id: string | undefined): string =>
      id === undefined || id === FRAME ? $localize`the frame` : (d.members.find((m) => m.id === id)?.name ?? id);
    return d.loads.map((l: ActingLoad): Row => {
      const size = loadSize(l, l.joint !== undefined && this.slides(l.joint), this.units());
      const on = l.joint
        ? this.jointName(l.joint)
        : l.type === 'spring'
          ? $localize`${memberName(l.member)} and ${memberName(l.other)}`
          : memberName(l.member);
      return {
        id: l.id,
        selected: this.chosen.selection()?.id === l.id,
        cells: [
          { text: l.name },
          { text: LOAD_KINDS.find((k) => k.type === l.type)?.label ?? l.type },
          { text: on },
          { text: size },
          { text: effectText(this.motion.loadEffects().get(l.id)) },
        ],
      };
    });
  });
  protected addLoad(type: string): void {
    const s = this.chosen.selection();
    const element = s?.kind === 'element' ? this.doc.design().elements.find((e) => e.id === s.id) : undefined;
    this.commands.addLoad(
      type,
      s?.kind === 'joint' ? { joint: s.id } : s?.kind === 'member' ? { member: s.id } : element ? { member: element.member } : {},
    );
  }

  /** What is still needed for a wanted speed, behind the member that was built last. */
  private left(wanted: string): string | undefined {
    const lines = this.motion.ledger().lines;
    const last = [...lines].reverse().find((l) => l.motion === 'turn' && l.speed !== 0);
    const n = last && stillNeeded(this.doc.design(), this.motion.ledger(), last.member).find((x) => x.wanted === wanted);
    if (!n) return undefined;
    const name = this.doc.design().members.find((m) => m.id === last.member)?.name ?? last.member;
    return $localize`still needed behind ${name}:name:: ${n.kind === 'travel' ? this.units().text(n.ratio, 'mm/rev') : `${show(n.ratio, 5)} : 1`}`;
  }

  /** By what a speed that a joint has taken is still missed. */
  private more(w: WantedOutput): string {
    const [n] = missing(w, this.motion.ledger());
    return n ? `; still needed ${show(n.ratio, 5)} : 1` : '';
  }

  protected addSource(type: string, label: string): void {
    const fields: Record<string, unknown> =
      type === 'torque'
        ? { torque: 10, speed: 60 }
        : type === 'power'
          ? { power: 100, speed: 60 }
          : type === 'torque-line'
            ? { stall: 10, noLoad: 1500, speed: undefined }
            : {};
    if (!this.joints().length) return this.commands.beginWith(type, label, fields);
    const taken = new Set(this.doc.design().sources.map((s) => s.joint));
    const joint = this.joints().find((j) => !taken.has(j.id) && j.type !== 'fixed') ?? this.joints()[0];
    const made = withSource(this.doc.design(), type, label, joint.id, this.slides(joint.id), fields);
    this.doc.edit($localize`Add ${label.toLowerCase()}`, () => made.design);
    this.chosen.select('source', made.id);
  }
  private jointFor(type: string): string | undefined {
    const slide = type === 'linear-speed' || type === 'travel' || type === 'force';
    const any = type === 'time';
    return [...this.joints()].reverse().find((j) => j.type !== 'fixed' && (any || this.slides(j.id) === slide))?.id;
  }
  protected addWanted(type: string, label: string): void {
    // What the train does not have yet is left open: the next stage that fits takes it up.
    const source = this.doc.design().sources[0]?.id,
      joint = this.jointFor(type);
    const of = type === 'input-torque' || type === 'hand-force' ? (source ? { source } : {}) : joint ? { joint } : {};
    const made = withWanted(this.doc.design(), type, label, of);
    this.doc.edit($localize`Add wanted ${label.toLowerCase()}`, () => made.design);
    this.chosen.select('wanted', made.id);
  }
}
