import { ChangeDetectionStrategy, Component, Injector, computed, effect, inject, untracked } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import {
  addPart,
  couplingsBetween,
  exactRatio,
  piInverseText,
  ratioTexts,
  withCoupling,
  withGroupNamed,
  withGroupMoved,
  ungrouped,
  withGroupCopied,
  withJoint,
} from '@unirota/core';
import { FRAME, Id } from '@unirota/core/document';
import { piToNumber } from '@unirota/core/math';
import { show, motionUnit, listed, listedUpTo } from '@unirota/core/units';
import { Choice } from '../../ui/choice';
import { type Cell, type Column, DataTable, type Row } from '../../ui/data-table';
import { Icon } from '../../ui/icon';
import { JointChooser } from '../../ui/joint-chooser';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { ViewService } from '../../state/view.service';
import { MotionService } from '../../state/motion.service';
import { FindingsService } from '../../state/findings.service';
import { ShelfService } from '../../state/shelf.service';
import { CommandsService } from '../../state/commands.service';
import { Findings } from './findings';
import { MatDialog } from '@angular/material/dialog';
import { TextField } from '../../ui/text-field';
import { Named } from '../../ui/named';

/**
 * Train: the ledger of all members, stages and free parts, ratios
 * between any two, mobility in words, and what the checks say.
 */
@Component({
  selector: 'uni-train',
  providers: [ShelfService],
  imports: [Named, TextField, MatIconButton, MatButton, Choice, DataTable, Findings, Icon, JointChooser],
  templateUrl: './train-step.html',
  styleUrls: ['./step.scss', './train-step.scss'],
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TrainStep {
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly view = inject(ViewService);
  protected readonly motion = inject(MotionService);
  protected readonly found = inject(FindingsService);
  protected readonly commands = inject(CommandsService);
  protected readonly units = inject(UnitsService).now;
  protected readonly columns: readonly Column[] = [
    { key: 'name', label: $localize`Member` },
    { key: 'speed', label: $localize`Relative speed`, number: true },
    { key: 'space', label: $localize`Absolute speed`, number: true },
    { key: 'load', label: $localize`Torque or force`, number: true },
    { key: 'power', label: $localize`Power`, number: true },
  ];
  private cell(v: number, unit: string): Cell {
    const u = this.units();
    return { text: u.number(v, unit), value: u.shown(v, unit), unit: u.of(unit) };
  }
  protected readonly lines = computed<Row[]>(() => {
    const names = new Map(this.doc.design().members.map((m) => [m.id, m.name]));
    return this.motion.ledger().lines.map((l) => {
      const slide = l.motion === 'slide' || !!l.travel;
      const speed = motionUnit(slide).speed;
      return {
        id: l.member,
        selected: this.chosen.isSelected(l.member),
        cells: [
          { text: names.get(l.member) ?? l.member },
          this.cell(l.travel?.speed ?? l.speed, speed),
          this.cell(l.travel?.speed ?? l.space, speed),
          this.cell(l.travel?.load ?? l.load, motionUnit(slide).effort),
          this.cell(l.travel?.power ?? l.power, 'W'),
        ],
      };
    });
  });
  protected readonly file = computed(() => `${this.doc.design().name} ledger`);
  protected readonly total = computed(() => {
    const l = this.motion.ledger();
    return {
      input: this.units().text(l.input, 'W', 4),
      output: this.units().text(l.output, 'W', 4),
      loss: this.units().text(l.loss, 'W', 4),
      efficiency: l.efficiency === undefined ? '–' : `${show(l.efficiency * 100, 4)} %`,
    };
  });

  protected readonly ratioColumns: readonly Column[] = [
    { key: 'joint', label: $localize`Joint` },
    { key: 'exact', label: $localize`Exact`, number: true },
    { key: 'decimal', label: $localize`Decimal`, number: true },
    { key: 'inverse', label: $localize`The other way round`, number: true },
    { key: 'inverse-decimal', label: $localize`Decimal`, number: true },
  ];
  protected readonly ratios = computed<Row[]>(() =>
    (this.found.snapshot()?.ratios ?? []).map((r) => {
      const u = this.units();
      const unit = r.unit.replaceAll('turn', 'rev');
      const inverse = unit.split('/').reverse().join('/');
      // Exact in the units of the document; as a decimal in those that the design shows.
      const exact = (text: string, value: number, of: string): Cell => ({
        text: `${text.replace('-', '−')}${u.of(of) === of ? '' : ` ${of}`}`,
        value,
        unit: u.of(of),
      });
      return {
        id: r.to,
        cells: [
          { text: this.doc.design().joints.find((j) => j.id === r.to)?.name ?? r.to },
          exact(r.exact, r.decimal, unit),
          { text: u.number(r.decimal, unit, 6), value: u.shown(r.decimal, unit) },
          exact(r.inverse, r.inverseDecimal, inverse),
          { text: u.number(r.inverseDecimal, inverse, 6), value: u.shown(r.inverseDecimal, inverse) },
        ],
      };
    }),
  );

  /** The ratio between the two members selected, both ways round. */
  protected readonly between = computed(() => {
    const members = this.chosen.selected().filter((s) => s.kind === 'member');
    if (members.length !== 2) return undefined;
    const c = this.motion.worked().compiled;
    const of = (id: Id) => {
      const j = this.doc.design().joints.find((x) => x.child === id);
      const i = j && c.structure.firstOf.get(j.id);
      return i === undefined ? undefined : c.structure.coordinates[i];
    };
    // Selected first, selected last.
    const [b, a] = [of(members[0].id), of(members[1].id)];
    const name = (id: Id): string => this.doc.design().members.find((m) => m.id === id)?.name ?? id;
    const heading = `${name(members[1].id)} → ${name(members[0].id)}`;
    if (!a || !b) return { heading, text: $localize`one of them has no joint of its own` };
    const r = exactRatio(c.reduction, b.index, a.index);
    if (!r || r.q.n === 0n) return { heading, text: $localize`neither follows from the other alone` };
    const unit = (x: typeof a): string => motionUnit(x.motion).path;
    const [there, back] = [`${unit(b)}/${unit(a)}`, `${unit(a)}/${unit(b)}`];
    const u = this.units();
    return {
      heading,
      text: $localize`${ratioTexts(r).exact.replace('-', '−')} ${there} = ${u.text(piToNumber(r), there, 7)}; the other way round ${piInverseText(r).replace('-', '−')} ${back} = ${u.text(1 / piToNumber(r), back, 7)}`,
    };
  });

  protected readonly mobility = computed(() => {
    const w = this.found.snapshot();
    if (!w) return '';
    const n = w.freedoms;
    const words = n === 0 ? $localize`Nothing can move.` : n === 1 ? $localize`One freedom.` : `${n} freedoms.`;
    return `${words} ${w.undriven.length === 0 ? (n ? $localize`Every freedom has a source.` : '') : $localize`${w.undriven.length} without a source.`}`;
  });
  /** What can still move, in words, with what it would need. */
  protected readonly freedoms = computed(() => {
    const name = (id: Id): string => this.doc.design().members.find((m) => m.id === id)?.name ?? id;
    return (this.found.snapshot()?.undriven ?? []).map((members) => {
      const names = listedUpTo(5, members.map(name));
      return members.length > 1
        ? $localize`${names} move together: a source on one of them, or a coupling to what is driven, would take this freedom`
        : $localize`${names} can move alone: a source, a coupling or a fixed joint would take this freedom`;
    });
  });
  protected readonly holding = computed(() => {
    const d = this.doc.design();
    return (this.found.snapshot()?.holding ?? []).map((h) => {
      const name = d.sources.find((s) => s.id === h.source)?.name ?? h.source;
      const slide = this.slides(d.sources.find((s) => s.id === h.source)?.joint);
      const coupling = d.couplings.find((c) => c.id === h.coupling)?.name ?? h.coupling;
      return h.by === 'pawl'
        ? $localize`When ${name} lets go, ${coupling} holds the train.`
        : h.by === 'self-locking'
          ? $localize`When ${name} lets go, the train holds itself by friction.`
          : h.by === 'brake'
            ? $localize`When ${name} lets go, its brake holds the train against ${this.units().text(h.needed, motionUnit(slide).effort, 4)}.`
            : h.by === 'balanced'
              ? $localize`When ${name} lets go, nothing pushes it back.`
              : $localize`When ${name} lets go, the load turns it back: ${this.units().text(h.needed, motionUnit(slide).effort, 4)} must hold it.`;
    });
  });
  private slides(joint: unknown): boolean {
    const s = this.motion.worked().compiled.structure;
    const i = s.firstOf.get(String(joint ?? '').split(':')[0]);
    return i !== undefined && s.coordinates[i]?.motion === 'slide';
  }

  protected readonly groups = computed(() => {
    const d = this.doc.design();
    return (d.groups ?? []).map((g) => ({
      ...g,
      members: g.items
        .map((id) => this.doc.find(id))
        .filter((s) => s?.kind === 'member' || s?.kind === 'coupling')
        .map((s) => ({ ...s!, name: String(this.doc.item(s)?.['name'] ?? s!.id) })),
    }));
  });
  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  private readonly shelved = inject(ShelfService);
  private readonly hasPieces = computed(() => this.doc.design().groups?.some((g) => g.origin !== undefined) ?? false);
  // What the shelf has by now is asked once something of it is here.
  protected readonly asks = effect(() => {
    if (this.hasPieces()) untracked(() => void this.shelved.load());
  });
  /** The newer revision that the shelf has of a piece, if it has one. */
  protected newer(g: { origin?: string; originRevision?: number }): number | undefined {
    const line = this.shelved.pieces()?.find((p) => p.id === g.origin);
    return line && line.revision > (g.originRevision ?? 0) ? line.revision : undefined;
  }
  protected async takeOver(g: { id: Id; name: string }): Promise<void> {
    this.doc.said.set((await this.shelved.takeOver(g.id)) ?? $localize`${g.name} is as the shelf has it`);
  }
  protected async planner(): Promise<void> {
    const { PlannerDialog, PLANNER_DIALOG } = await import('./planner-dialog');
    this.dialog.open(PlannerDialog, { ...PLANNER_DIALOG, injector: this.injector });
  }
  protected async variants(): Promise<void> {
    const { VariantsDialog, VARIANTS_DIALOG } = await import('./variants-dialog');
    this.dialog.open(VariantsDialog, { ...VARIANTS_DIALOG, injector: this.injector });
  }
  protected async shelf(): Promise<void> {
    const { ShelfDialog, SHELF_DIALOG } = await import('./shelf-dialog');
    this.dialog.open(ShelfDialog, { ...SHELF_DIALOG, injector: this.injector });
  }
  protected renameGroup(id: Id, name: string): void {
    this.doc.edit($localize`Rename the stage`, (d) => withGroupNamed(d, id, name));
  }
  protected orderGroup(id: Id, step: 1 | -1): void {
    this.doc.edit($localize`Order the stages`, (d) => withGroupMoved(d, id, step));
  }
  protected ungroup(id: Id): void {
    this.doc.edit($localize`Ungroup`, (d) => ungrouped(d, id));
  }
  protected selectGroup(id: Id): void {
    const all = this.groups().find((g) => g.id === id)?.members ?? [];
    if (!all.length) return;
    this.chosen.selection.set({ kind: all[0].kind, id: all[0].id });
    this.chosen.also.set(all.slice(1).map((x) => ({ kind: x.kind, id: x.id })));
  }
  protected duplicateGroup(id: Id, name: string): void {
    this.doc.edit($localize`Duplicate ${name}`, (d) => withGroupCopied(d, id));
  }

  protected show(freedom: number): void {
    const vector = this.found.current() ? this.found.snapshot()?.freedomVectors[freedom] : undefined;
    if (vector) this.motion.showFreedom(vector);
  }
  protected addMember(kind: string): void {
    const made = addPart(this.doc.design(), kind);
    const trouble = this.doc.edit($localize`Add ${kind}`, () => made.design);
    if (trouble) this.doc.said.set(trouble);
    else this.chosen.select('member', made.member);
  }
  private readonly members = computed(() =>
    this.chosen
      .selected()
      .filter((s) => s.kind === 'member')
      .map((s) => s.id),
  );
  protected readonly jointEnds = computed(() => {
    const [child, parent] = this.members();
    const name = (id: Id | undefined): string =>
      id === undefined ? $localize`the frame` : (this.doc.design().members.find((m) => m.id === id)?.name ?? id);
    return child ? { child, parent: parent ?? FRAME, text: `${name(child)} on ${name(parent)}` } : undefined;
  });
  protected addJoint(type: string): void {
    const e = this.jointEnds();
    if (!e || !type) return;
    const made = withJoint(this.doc.design(), type, e.child, e.parent);
    const trouble = this.doc.edit($localize`Add ${type} joint`, () => made.design);
    if (trouble) this.doc.said.set(trouble);
    else this.chosen.select('joint', made.id);
  }
  /** Couplings that fit between what is selected, in the order in which it was picked. */
  private readonly offers = computed(() =>
    couplingsBetween(
      this.doc.design(),
      [...this.chosen.selected()].reverse().map((s) => s.id),
    ),
  );
  protected readonly couplingOptions = computed(() => this.offers().map(({ kind }) => ({ value: kind.type, label: kind.label })));
  protected readonly couplingHint = computed(() => {
    const picked = this.chosen.selected();
    const name = (id: Id): string => String(this.doc.item(this.doc.find(id))?.['name'] ?? id);
    if (picked.length < 2) return $localize`Couple: select two elements, or two members`;
    const [offer] = this.offers();
    return offer ? $localize`Couple ${listed(offer.joins.map(name))} …` : $localize`No coupling fits what is selected`;
  });
  protected addCoupling(type: string): void {
    const offer = this.offers().find((o) => o.kind.type === type);
    if (!offer) return;
    const made = withCoupling(this.doc.design(), offer);
    const trouble = this.doc.edit($localize`Add ${offer.kind.label.toLowerCase()}`, () => made.design);
    if (trouble) return this.doc.said.set(trouble);
    this.chosen.select('coupling', made.id);
  }
}
