import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { NgTemplateOutlet } from '@angular/common';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatExpansionPanel, MatExpansionPanelHeader } from '@angular/material/expansion';
import { MatTooltip } from '@angular/material/tooltip';
import { ChipsField } from '../../ui/chips-field';
import { Choice } from '../../ui/choice';
import { Icon } from '../../ui/icon';
import {
  actsOnJoint,
  endSeen,
  type Coordinate,
  Measure,
  Offer,
  fastenElement,
  fastenMember,
  measuresFor,
  newBearing,
  offersFor,
  renameMember,
  placedAt,
  unfastenMember,
  withJointKind,
  withElementMoved,
  withElement,
  type StatedValue,
  withValue,
} from '@unirota/core';
import { type DrivingSource, type Exact, FRAME, Field, ITEM_FORMS, Id, LOAD_KINDS } from '@unirota/core/document';
import { Derived, ELEMENT_KINDS, elementKind, facesOf } from '@unirota/core/elements';
import { show } from '@unirota/core/units';
import { Chart } from '../../ui/chart';
import { JointChooser } from '../../ui/joint-chooser';
import { MeasureHelper } from '../../ui/measure-helper';
import { Committed, QuantityField } from '../../ui/quantity-field';
import { TableField } from '../../ui/table-field';
import { DesignSheet } from './design-sheet';
import { directionsIn } from './directions';
import { FindingCard } from './finding-card';
import { Formula } from './formula';
import { formulaWithNumbers } from './formula-text';
import { Profile } from './profile';
import { ShaftStrip } from './shaft-strip';
import { StageSheet } from './stage-sheet';
import { StageTools } from './stage-tools';
import { WantedTools } from './wanted-tools';
import { type Standing, couplingValues, jointValues, memberValues, sourceValues, wantedValues } from './derived-values';
import { choicesOf, drivesSlide, itemKind, partSense, shownFields } from './item-kind';
import { besideValue } from './other-system';
import { relatedTo } from './related-items';
import { torqueLine } from './source-units';
import { shownField } from '../../ui/shown-field';
import { UnitsService } from '../../state/units.service';
import { Kind, LISTS } from '../../state/items';
import { DesignService } from '../../state/design.service';
import { RemarksService } from '../../state/remarks.service';
import { SelectionService } from '../../state/selection.service';
import { MotionService } from '../../state/motion.service';
import { FindingsService } from '../../state/findings.service';
import { CommandsService } from '../../state/commands.service';
import { HeldContents } from '../../state/held-contents.service';
import { TextField } from '../../ui/text-field';
import { Named } from '../../ui/named';

/** What of a reference can be pressed in the map or the layout. */
const PICKED = new Set(['member', 'joint', 'element', 'coupling', 'coordinate', 'load']);

/** The data sheet of what is selected: given values left, derived values right of them below, findings that concern it. */
@Component({
  selector: 'uni-data-sheet',
  imports: [
    Named,
    TextField,
    MatIconButton,
    MatButton,
    ChipsField,
    Choice,
    Icon,
    MatCheckbox,
    MatExpansionPanel,
    MatExpansionPanelHeader,
    MatTooltip,
    QuantityField,
    TableField,
    MeasureHelper,
    Profile,
    FindingCard,
    DesignSheet,
    Formula,
    JointChooser,
    ShaftStrip,
    StageSheet,
    StageTools,
    WantedTools,
    Chart,
    NgTemplateOutlet,
  ],
  templateUrl: './data-sheet.html',
  styleUrl: './data-sheet.scss',
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DataSheet {
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly motion = inject(MotionService);
  protected readonly found = inject(FindingsService);
  protected readonly commands = inject(CommandsService);
  protected readonly remarks = inject(RemarksService);
  private readonly unitChoice = inject(UnitsService);
  protected readonly units = this.unitChoice.now;
  private readonly both = this.unitChoice.both;
  protected readonly show = show;
  protected readonly FRAME = FRAME;
  protected readonly formulas = signal<ReadonlySet<string>>(new Set());
  protected readonly refusals = signal<ReadonlyMap<string, string>>(new Map());

  protected readonly item = computed(() => {
    this.doc.design();
    return this.doc.item(this.chosen.selection());
  });
  protected readonly kindName = computed(() => {
    const s = this.chosen.selection();
    const i = this.item();
    if (!s || !i) return '';
    const own = itemKind(s.kind, String(i['type'] ?? ''));
    const { title } = ITEM_FORMS[LISTS[s.kind]];
    return own ? `${title} · ${own.label}` : title;
  });

  /** Fields of the selected item, with units as they are for it (a joint that slides is in mm). */
  protected readonly fields = computed<Field[]>(() => this.allFields().map((f) => shownField(f, this.units())));
  private readonly allFields = computed<Field[]>(() => {
    const s = this.chosen.selection();
    const i = this.item();
    if (!s || !i) return [];
    return shownFields(s.kind, i, {
      slides: drivesSlide(this.doc.design(), i),
      movesSlide: drivesSlide(this.doc.design(), { joint: i['motionOf'] ?? i['joint'] }),
      asSeen: (f) => this.asSeen(f),
    });
  });

  /** The selected joint's first coordinate. */
  private readonly coordinate = computed<Coordinate | undefined>(() => {
    const { structure } = this.motion.worked().compiled;
    const id = this.chosen.selection()?.id;
    return structure.coordinates.find((c) => c.joint.id === id && c.order === 0);
  });
  /** A stop whose name goes against what is seen (a slide that falls while its value grows) says where it lies. */
  private asSeen(f: Field): string {
    const c = this.coordinate();
    const which = /^(lower|upper)/.exec(f.key)?.[1] as 'lower' | 'upper' | undefined;
    const seen = c && which && endSeen(c, which);
    return seen && (seen === 'top') !== (which === 'upper') ? `${f.label} (${seen})` : f.label;
  }
  protected stopLabel(which: 'lower' | 'upper'): string {
    return this.asSeen({ key: which, label: `${which} stop`, kind: 'exact' });
  }
  /** A stop that two faces give is shown in the field of the stop. */
  private fromFaces(f: Field): Exact | undefined {
    if (this.chosen.selection()?.kind !== 'joint' || (f.key !== 'lower' && f.key !== 'upper')) return undefined;
    return (this.item()?.[`${f.key}Faces`] as unknown[] | undefined)?.length ? this.coordinate()?.[f.key] : undefined;
  }

  /** Another kind of joint in the same place; what the new kind does not know goes. */
  protected changeJoint(type: string): void {
    const id = this.chosen.selection()?.id;
    const trouble = id && this.doc.edit($localize`What the joint leaves free`, (d) => withJointKind(d, id, type));
    if (trouble) this.doc.said.set(trouble);
  }

  /** What is selected besides and is of the same sort: its shared fields are edited together. */
  protected readonly alike = computed<Record<string, unknown>[]>(() => {
    const s = this.chosen.selection();
    const i = this.item();
    if (!s || !i) return [];
    return this.chosen
      .also()
      .filter((x) => x.kind === s.kind)
      .map((x) => this.doc.item(x) as Record<string, unknown> | undefined)
      .filter((x): x is Record<string, unknown> => x?.['type'] === i['type']);
  });
  /** Whether those that are selected together state a field differently. */
  protected differs(f: Field): boolean {
    const own = JSON.stringify(this.item()?.[f.key]);
    return this.alike().some((x) => JSON.stringify(x[f.key]) !== own);
  }

  protected readonly hasRare = computed(() => this.fields().some((f) => f.rare));

  protected readonly derived = computed<Derived[]>(() => {
    const s = this.chosen.selection();
    const i = this.item();
    if (!s || !i) return [];
    const id = i['id'] as Id;
    // What an element derives does not follow the movement.
    const standing = (): Standing => ({
      worked: this.motion.worked(),
      ledger: this.motion.ledger(),
      snapshot: this.found.snapshot(),
      units: this.units(),
    });
    switch (s.kind) {
      case 'element': {
        const all = elementKind(String(i['type']))?.derived?.(i as never) ?? [];
        // In inches it is given, in millimetres it is of the other system.
        return this.both() ? all : all.filter((x) => x.key !== 'diametralPitch');
      }
      case 'coupling':
        return couplingValues(id, standing());
      case 'joint':
      case 'member': {
        this.motion.reading();
        const joint = s.kind === 'joint' ? id : this.doc.design().joints.find((j) => j.child === id)?.id;
        return [...(joint === undefined ? [] : jointValues(joint, standing())), ...(s.kind === 'member' ? memberValues(id, standing()) : [])];
      }
      case 'source':
        return sourceValues(id, drivesSlide(this.doc.design(), i), standing());
      case 'wanted':
        return wantedValues(id, standing());
      default:
        return [];
    }
  });

  /** What belongs to the selected thing: elements and joints of a member, the member of an element, the pair of a coupling. */
  protected readonly related = computed(() => {
    const s = this.chosen.selection();
    const i = this.item();
    return s && i ? relatedTo(this.doc.design(), s, i) : [];
  });

  /** Metric and inch beside each other: the value of a field in the other system. */
  protected other(f: Field): string {
    if (this.fromFaces(f) !== undefined) return $localize`where the faces meet`;
    return besideValue(f, this.scalar(f), this.typed(f) !== undefined, this.units(), this.both());
  }
  protected unitText(unit: string | undefined): string {
    return this.units().of(unit);
  }
  protected offers(f: Field): Offer[] {
    const s = this.chosen.selection(),
      i = this.item();
    return s?.kind === 'element' && i ? offersFor(String(i['type']), f.key, i, this.units().inch) : [];
  }
  /** A fraction stays as it is written: it is exact. */
  protected takeOffer(f: Field, value: string): void {
    this.set(f, value.includes('/') ? value : Number(value));
  }
  protected measures(f: Field): readonly Measure[] {
    const s = this.chosen.selection(),
      i = this.item();
    return s?.kind === 'element' && i ? measuresFor(String(i['type']), f.key) : [];
  }
  protected readonly measuring = signal('');
  protected measured(f: Field, v: number): void {
    this.measuring.set('');
    this.set(f, v);
  }
  protected tableValue(f: Field): Record<string, number | string>[] | undefined {
    return this.item()?.[f.key] as Record<string, number | string>[] | undefined;
  }
  /** A row that is right from the start: a bearing fits its shaft. */
  protected beginOf(f: Field): ((rows: readonly unknown[]) => Record<string, number | string> | undefined) | undefined {
    if (f.key !== 'bearings') return undefined;
    return (rows) => {
      const made = newBearing(this.doc.design(), String(this.item()?.['id']), rows as Parameters<typeof newBearing>[2]);
      return made && { ...made };
    };
  }
  protected commitTable(f: Field, rows: unknown): void {
    this.set(f, rows);
  }

  /** Faces that a stop can be taken from: the sides of every element, those of the two members first. */
  protected faceChoices(): { value: string; label: string }[] {
    const d = this.doc.design(),
      j = this.item();
    const near = (m: Id): number => (m === j?.['child'] || m === j?.['parent'] ? 0 : 1);
    const faces = [...d.elements]
      .sort((a, b) => near(a.member) - near(b.member))
      .flatMap((e) => facesOf(e).map((s) => ({ value: `${e.id}:${s.key}`, label: `${e.name} ${s.label}` })));
    return [{ value: '', label: $localize`no face` }, ...faces];
  }
  protected facePicked(f: Field, k: number): string {
    return ((this.item()?.[f.key] as string[] | undefined) ?? [])[k] ?? '';
  }
  protected pickFace(f: Field, k: number, face: string): void {
    const now = [...((this.item()?.[f.key] as string[] | undefined) ?? ['', ''])];
    now[k] = face;
    const left = now.filter(Boolean);
    this.halves.set(left.length === 1 ? { key: f.key, list: now } : undefined);
    if (left.length !== 1) this.set(f, left.length ? left : undefined);
  }
  /** One face chosen, the other still to come. */
  protected readonly halves = signal<{ key: string; list: string[] } | undefined>(undefined);
  protected half(f: Field, k: number): string {
    const h = this.halves();
    return h?.key === f.key ? (h.list[k] ?? '') : this.facePicked(f, k);
  }

  private readonly contents = inject(HeldContents);
  /** The selected shape's content can be had nowhere. */
  protected readonly noContent = computed(() => this.contents.missing().has(String(this.item()?.['content'])));

  protected takeFromHand(which: 'lower' | 'upper' | 'home'): void {
    const id = this.item()?.['id'] as Id;
    const trouble = this.commands.takeFromHand(id, which);
    if (trouble) this.doc.said.set(trouble);
  }

  /** Elements of the selected member with their place along it. */
  protected readonly parts = computed(() => {
    const s = this.chosen.selection(),
      i = this.item();
    if (s?.kind !== 'member' || !i) return [];
    return this.doc
      .design()
      .elements.filter((e) => e.member === i['id'])
      .map((e) => ({ id: e.id, name: e.name, type: elementKind(e.type)?.label ?? e.type, z: e.at?.[2] ?? 0 }));
  });
  protected readonly zField: Field = { key: 'z', label: $localize`Place along the axis`, kind: 'number', unit: 'mm', min: -1e6, max: 1e6 };
  protected movePart(id: Id, c: Committed): void {
    const z = c.value;
    // Enter and leaving the field both commit: the second time nothing is left to do.
    if (typeof z !== 'number' || this.parts().find((p) => p.id === id)?.z === z) return;
    this.doc.edit($localize`Move along the axis`, (d) => placedAt(d, id, z));
  }
  protected orderPart(id: Id, step: 1 | -1): void {
    this.doc.edit($localize`Order the elements`, (d) => withElementMoved(d, id, step));
  }
  protected readonly addable = ELEMENT_KINDS.filter((k) => !k.imported).map((k) => ({ value: k.type, label: k.label }));
  /** Adds an element with sizes to begin with, on the selected member. */
  protected addElement(type: string): void {
    const member = this.item()?.['id'] as Id | undefined;
    const made = member && withElement(this.doc.design(), type, member);
    if (!made) return;
    const trouble = this.doc.edit($localize`Add ${elementKind(type)!.label.toLowerCase()}`, () => made.design);
    if (trouble) this.doc.said.set(trouble);
    else this.chosen.select('element', made.id);
  }
  /** Loads that can act on what is selected: on a joint, or on a member and on the joint that carries it. */
  protected readonly addableLoads = computed(() =>
    LOAD_KINDS.filter((k) => this.chosen.selection()?.kind === 'member' || actsOnJoint(k.type)).map((k) => ({ value: k.type, label: k.label })),
  );
  protected addLoad(type: string): void {
    const s = this.chosen.selection();
    if (s) this.commands.addLoad(type, s.kind === 'joint' ? { joint: s.id } : { member: s.id });
  }
  protected fasten(to: Id): void {
    const id = this.item()?.['id'] as Id;
    if (this.chosen.selection()?.kind === 'element') this.doc.edit($localize`Fasten to another member`, (d) => fastenElement(d, id, to));
    else this.doc.edit($localize`Fasten`, (d) => fastenMember(d, id, to));
  }
  protected unfasten(): void {
    const id = this.item()?.['id'] as Id;
    this.doc.edit($localize`Unfasten`, (d) => unfastenMember(d, id));
  }
  protected readonly fastened = computed(() => {
    const i = this.item();
    return this.chosen.selection()?.kind === 'member' && this.doc.design().joints.some((j) => j.child === i?.['id'] && j.type === 'fixed');
  });
  protected readonly otherMembers = computed(() => {
    const i = this.item();
    const own = this.chosen.selection()?.kind === 'element' ? i?.['member'] : i?.['id'];
    return [{ id: FRAME, name: $localize`the frame` }, ...this.doc.design().members]
      .filter((m) => m.id !== own)
      .map((m) => ({ value: m.id, label: m.name }));
  });

  /** A source whose motion over time is stated. */
  protected readonly leads = computed(
    () => this.chosen.selection()?.kind === 'source' && !this.chosen.also().length && this.fields().some((f) => f.key === 'profile'),
  );
  /** The torque-speed line of a source with what the train needs of it. */
  protected readonly line = computed(() => {
    const s = this.chosen.selection(),
      i = this.item();
    if (s?.kind !== 'source' || i?.['type'] !== 'torque-line') return undefined;
    const source: DrivingSource = this.doc.design().sources.find((x) => x.id === s.id)!;
    return torqueLine(source, drivesSlide(this.doc.design(), i), this.motion.ledger().sources.find((x) => x.source === s.id)?.speed);
  });

  protected readonly findings = computed(() => {
    const id = this.item()?.['id'];
    return this.found.findings().filter((f) => f.ids.includes(id as Id));
  });

  protected typed(f: Field): string | undefined {
    return this.doc.design().typed?.[`${this.item()?.['id']}.${f.key}`];
  }
  protected scalar(f: Field): number | string | undefined {
    return this.fromFaces(f) ?? (this.item()?.[f.key] as number | string | undefined);
  }
  protected sense(f: Field, k: number): string {
    return f.key === 'at' ? partSense(this.chosen.selection()?.kind, this.item()?.['member'] === FRAME, k) : '';
  }
  protected vectorPart(f: Field, k: number): number {
    return this.vectorOf(f)[k];
  }
  private vectorOf(f: Field, of = this.item()): number[] {
    return [...((of?.[f.key] as number[] | undefined) ?? (f.key === 'axis' ? [0, 0, 1] : f.key === 'up' ? [1, 0, 0] : [0, 0, 0]))];
  }
  protected partField(f: Field, k: number): Field {
    return { ...f, kind: 'number', label: `${f.label} ${'xyz'[k]}`, required: false, direction: undefined };
  }
  /** Directions to choose from instead of three numbers, in the frame in which this item states them. */
  protected readonly directions = computed(() => {
    const s = this.chosen.selection(),
      i = this.item();
    if (!s || !i) return [];
    const of = s.kind === 'element' ? i['member'] : s.kind === 'joint' ? i['child'] : FRAME;
    return directionsIn(this.motion.worked().compiled, of as Id, s.id);
  });
  protected point(f: Field, value: string | number): void {
    this.set(f, JSON.parse(String(value)) as number[]);
  }
  protected choices(f: Field): { value: string; label: string }[] {
    return choicesOf(f, this.doc.design());
  }

  /** States a field of what is selected; `each`: what it comes to be on what is selected besides, where that is not the same. */
  protected set(field: Field, value: unknown, typed?: string, each?: StatedValue['each']): void {
    const s = this.chosen.selection();
    const i = this.item();
    if (!s || !i) return;
    const key = `${i['id']}.${field.key}`;
    // Enter and leaving the field both commit: the second time nothing is left to do.
    if (i[field.key] === value && this.typed(field) === typed && !this.refusals().has(key)) return;
    // What is selected besides, and of the same sort, takes the value as well; a name is everybody's own.
    const ids: [Id, ...Id[]] = [s.id, ...(field.key === 'name' ? [] : this.alike().map((x) => x['id'] as Id))];
    const trouble = this.doc.edit(`${field.label} of ${String(i['name'] ?? i['id'])}`, (d) =>
      withValue(d, { list: LISTS[s.kind], ids, field: field.key, value, typed, each }),
    );
    this.refusals.update((m) => {
      const next = new Map(m);
      if (trouble) next.set(key, trouble);
      else next.delete(key);
      return next;
    });
  }

  protected refusal(f: Field): string | undefined {
    return this.refusals().get(`${this.item()?.['id']}.${f.key}`);
  }
  protected commit(f: Field, c: Committed): void {
    this.set(f, c.value, c.typed);
  }
  protected commitPart(f: Field, k: number, c: Committed): void {
    const v = this.vectorOf(f);
    if (v[k] === Number(c.value ?? 0)) return;
    v[k] = Number(c.value ?? 0);
    // Of the others too only this part goes there.
    this.set(f, v, undefined, (x) => this.vectorOf(f, x).map((was, part) => (part === k ? v[k] : was)));
  }
  protected pickChoice(f: Field, value: string): void {
    this.set(f, value || undefined);
  }
  protected pickedOf(f: Field): readonly string[] {
    return (this.item()?.[f.key] as readonly string[] | undefined) ?? [];
  }
  protected pickable(f: Field): boolean {
    return f.to !== undefined && PICKED.has(f.to);
  }
  /** What is pressed next is for this field; a second press of the button ends that. */
  protected pick(f: Field): void {
    if (this.chosen.picking()?.field === f.key) return this.chosen.picking.set(undefined);
    this.chosen.picking.set({
      field: f.key,
      kind: f.to === 'coordinate' ? 'joint' : (f.to as Kind),
      label: f.label,
      take: (id) => {
        if (!this.choices(f).some((o) => o.value === id)) return this.doc.said.set($localize`${f.label}:field:: this cannot be chosen here`);
        if (f.kind === 'ref') this.pickChoice(f, id);
        else if (!this.pickedOf(f).includes(id)) this.set(f, [...this.pickedOf(f), id]);
      },
    });
    this.doc.said.set($localize`${f.label}:field:: press it in the map or the layout; Esc ends`);
  }
  protected rename(name: string): void {
    const s = this.chosen.selection();
    // What is called after a member is called after it still.
    if (s?.kind === 'member' && name !== this.item()?.['name']) {
      const trouble = this.doc.edit($localize`Name of ${String(this.item()?.['name'] ?? s.id)}`, (d) => renameMember(d, s.id, name));
      if (!trouble) return;
    }
    this.set({ key: 'name', label: $localize`Name`, kind: 'text' }, name);
  }
  protected toggleFormula(key: string): void {
    this.formulas.update((s) => {
      const next = new Set(s);
      if (!next.delete(key)) next.add(key);
      return next;
    });
  }
  /** A formula with the numbers of this sheet put in, where it has them all and they are in its units. */
  protected numbersOf(d: Derived): string | undefined {
    return this.units().plain ? formulaWithNumbers(d, this.derived(), this.fields(), (f) => this.scalar(f)) : undefined;
  }
  protected valueText(d: Derived): string {
    return typeof d.value === 'string' ? d.value : this.units().number(d.value, d.unit, 6);
  }
}
