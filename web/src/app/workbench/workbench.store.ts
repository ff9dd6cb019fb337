import { Injectable, computed, inject, linkedSignal, signal, untracked } from '@angular/core';
import { Observable, Subject, map, switchMap, tap } from 'rxjs';
import {
  ledger,
  nominalRate,
  Held,
  Hand,
  Cure,
  Fragment,
  NotReworked,
  Reworked,
  Values,
  broughtAbout,
  copyItems,
  curesOf,
  endSeen,
  freshId,
  idsOf,
  inCase,
  insertBefore,
  insertStage,
  newLoad,
  pasteItems,
  placeAt,
  ready,
  removeItems,
  replaceStage,
  settle,
  hasWeight,
  withInputShaft,
  withSettings,
  withWeight,
  type LoadAt,
  type MappedStop,
  type Ready,
  type Snapshot,
  type Step,
} from '@unirota/core';
import { Design, Finding, Id, type KeptSheet, type Settings, emptyDesign, readDesign } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import type { May, StoredDesign } from '@unirota/contract';
import { ApiService, type ServerTrouble, newId } from '../services/api.service';
import { AnalysisService } from '../services/analysis.service';
import { CureService } from '../services/cures.service';
import { UnitsService } from '../services/units.service';
import { History, emptyHistory, redo, undo, withStep } from '../services/history';
import type { Found } from '../keeping/drafts';
import { Keeper } from '../keeping/keeper';

export type Kind = 'member' | 'joint' | 'element' | 'coupling' | 'source' | 'load' | 'wanted';
export interface Selection {
  kind: Kind;
  id: Id;
}

export const LISTS = {
  member: 'members',
  joint: 'joints',
  element: 'elements',
  coupling: 'couplings',
  source: 'sources',
  load: 'loads',
  wanted: 'wanted',
} as const;

export const STEP_LABELS: readonly { step: Step; label: string }[] = [
  { step: 'duty', label: 'Duty' },
  { step: 'train', label: 'Train' },
  { step: 'layout', label: 'Layout' },
  { step: 'motion', label: 'Motion' },
  { step: 'loads', label: 'Loads' },
  { step: 'release', label: 'Release' },
];

/** A stage that is being put in: where it begins, and what is asked for so far. */
export interface Inserting {
  from: Id | undefined;
  /** The coupling of a stage before which it goes, or in whose place. */
  before?: Id;
  instead?: Id;
}

const READ_ONLY = {
  shared: 'You may look at this design, not edit it: duplicate it to have one of your own',
  revision: 'This is an earlier revision: bring it back to go on from it',
} as const;

const MECHANISM = ['members', 'joints', 'elements', 'couplings', 'sources', 'loads', 'wanted', 'settings'] as const;

/** How often the ledger follows a movement, ms: numbers faster than that cannot be read. */
const LEDGER_EVERY = 80;

/** A field of the data sheet waits for what is pressed in the map or the layout. */
export interface Picking {
  readonly field: string;
  readonly kind: Kind;
  readonly label: string;
  readonly take: (id: Id) => void;
}

/** The state of one open design: the document with its history, what was worked out of it, and the pose that the hand has found. */
@Injectable()
export class WorkbenchStore {
  private readonly api = inject(ApiService);
  private readonly cures = inject(CureService, { optional: true });
  readonly design = signal<Design>(emptyDesign('…'));
  private readonly units = inject(UnitsService).now;
  readonly id = signal('');
  /** An old revision that is looked at. */
  readonly revision = signal<number | undefined>(undefined);
  readonly may = signal<May>('edit');
  readonly opened = signal(false);
  readonly failure = signal<string | undefined>(undefined);
  readonly history = signal<History<Design>>(emptyHistory());
  /** What the data sheet shows; `also` is what is selected besides. */
  readonly selection = signal<Selection | undefined>(undefined);
  readonly also = signal<readonly Selection[]>([]);
  readonly selected = computed<readonly Selection[]>(() => {
    const s = this.selection();
    return s ? [s, ...this.also()] : [];
  });
  /** A stage being put in, shown in place of the data sheet. */
  readonly inserting = signal<Inserting | undefined>(undefined);
  /** The last edit: what was found before it, and the state that it made. */
  private readonly since = signal<{ had: readonly Finding[]; made: Design } | undefined>(undefined);
  private clipboard: Fragment | undefined;
  readonly copied = signal(0);
  /** What a finding points at while it is looked at: lit up in the map. */
  readonly pointed = signal<ReadonlySet<Id>>(new Set());
  /** Members that the layout leaves out, and those it shows through. */
  readonly hidden = signal<ReadonlySet<Id>>(new Set());
  readonly through = signal<ReadonlySet<Id>>(new Set());
  /** A member is moved alone, or a freedom shown: nothing of it stays. */
  readonly looking = signal(false);
  /** What is pressed next in the map or the layout is for a field of the data sheet, not a selection. */
  readonly picking = linkedSignal<Selection | undefined, Picking | undefined>({
    // It is over when something else is selected.
    source: () => this.selection(),
    computation: () => undefined,
  });
  /** Parts are being added and put together in the layout. */
  readonly building = signal(false);
  /** Which source the hand holds. */
  readonly driver = signal(0);
  /** The load case that is shown; as stated where none is. */
  readonly loadCase = signal<Id | undefined>(undefined);
  readonly step = signal<Step>('layout');
  /** Keeps the open design; none while an old revision is looked at. */
  readonly keeper = signal<Keeper | undefined>(undefined);
  readonly saver = computed(() => this.keeper()?.saver);
  /** Why nothing can be edited: the person may look only, or this is an old revision. */
  readonly readOnly = signal<'' | 'shared' | 'revision'>('');
  /** Work kept on this machine that cannot be read any more: to be taken away as it is. */
  readonly damaged = signal<Found['damaged']>([]);
  readonly said = signal('');
  /** The last step, for as long as its undoing is offered beside what was said. */
  readonly recent = signal('');

  /** The design as it is shown: in the load case that is chosen. */
  readonly shownDesign = computed(() => inCase(this.design(), this.loadCase()));
  /** The same, and the same object for as long as nothing of it moves or loads otherwise: names of views, runs and the like do not count. */
  readonly mechanism = computed(() => this.shownDesign(), { equal: (a, b) => MECHANISM.every((k) => a[k] === b[k]) });
  /** What moves the train, with the coordinates of its home; it stands there, or where the hand had it before the last edit. */
  readonly worked = computed<Ready & { home: Float64Array }>(() => {
    const w = ready(this.mechanism());
    const home = Float64Array.from(w.pose.q);
    const keep = this.kept;
    for (const s of w.compiled.sources) {
      const at = keep?.get(s.source.id);
      if (at !== undefined) new Hand(w.pose).move(s.coordinate, at);
    }
    return { ...w, home };
  });
  readonly hand = computed(() => {
    const w = this.worked();
    const hand = new Hand(w.pose);
    const driver = this.source()?.coordinate;
    hand.hold(w.compiled.sources.map((s) => s.coordinate).filter((c) => c !== driver));
    return hand;
  });
  private readonly analysed = inject(AnalysisService).of(computed(() => (this.opened() ? this.mechanism() : undefined)));
  /** What the engine's worker has made of the design: of its last state but one until the last is worked out; nothing while the first is. */
  readonly snapshot = computed<Snapshot | undefined>(() => this.analysed()?.is);
  /** The snapshot is of the design as it stands. */
  readonly current = computed(() => this.analysed()?.of === this.mechanism());
  readonly findings = computed<readonly Finding[]>(() => this.snapshot()?.findings ?? []);
  /** What the last edit brought about, until the next one. */
  readonly consequences = computed<readonly Finding[]>(() => {
    const since = this.since();
    return since && this.current() && since.made === this.design() ? broughtAbout(since.had, this.findings()) : [];
  });

  /** Ways out of a finding that have been tried in the worker and cure it; none until it has. */
  readonly curesOf = computed(() => {
    const offer = curesOf(this.design(), this.worked().compiled);
    const proven = this.cures?.proven() ?? [];
    const findings = this.findings();
    return (f: Finding): Cure[] => {
      const labels = proven[findings.indexOf(f)];
      return labels?.length ? offer(f).filter((c) => labels.includes(c.label)) : [];
    };
  });

  /** True where bringing the train to its working distances and phases would help. */
  readonly canFit = computed(() =>
    this.findings().some((f) => f.severity !== 'note' && f.cures?.some((way) => way === 'working-distance' || way === 'phase')),
  );

  /** Fires once per movement; the layout listens without change detection. */
  readonly moved = new Subject<void>();
  /** Counts movements, for what is drawn through templates. */
  readonly pose = signal(0);
  readonly held = signal<Held | undefined>(undefined);
  readonly playing = signal<0 | 1 | -1>(0);
  private readonly ledgerTick = signal(0);
  private lastLedger = 0;
  private ledgerTimer?: ReturnType<typeof setTimeout>;
  private kept: Map<Id, number> | undefined;

  /** The ledger at the present pose, a few times a second while something moves. */
  readonly ledger = computed(() => {
    const w = this.worked();
    this.ledgerTick();
    return untracked(() => ledger(w.pose, w.forces));
  });

  /** The source that the deck turns. */
  readonly source = computed(() => {
    const all = this.worked().compiled.sources;
    return all[this.driver()] ?? all[0];
  });
  /** The way of the deck's source, as it is to be worked out. */
  readonly way = computed(() => ({ design: this.mechanism(), source: this.driverSlot() }));
  /** Does the deck's source slide, so that its way is in mm? */
  readonly sourceSlides = computed(() => {
    const s = this.source();
    return s !== undefined && this.worked().pose.kinematics.motion[s.coordinate] === 1;
  });
  readonly position = computed(() => {
    this.pose();
    const w = this.worked();
    const c = this.source()?.coordinate;
    return c === undefined ? 0 : w.pose.q[c] / w.pose.kinematics.scale[c];
  });

  /** Opens a design, with what is kept of it on this machine; or, with a number, one of its revisions to be looked at. */
  open(id: string, revision?: number): void {
    this.close();
    this.id.set(id);
    this.revision.set(revision);
    this.damaged.set([]);
    this.opened.set(false);
    this.failure.set(undefined);
    this.history.set(emptyHistory());
    if (revision !== undefined) {
      this.api
        .revision(id, revision)
        .subscribe({ next: (stored) => this.show(stored.design, 'revision'), error: (e: Error) => this.failure.set(e.message) });
      return;
    }
    const keeper = new Keeper({ api: this.api, id, changed: (d) => this.follow(d) });
    this.keeper.set(keeper);
    keeper.open().then(
      ({ design, may, damaged }) => {
        if (this.keeper() !== keeper) return;
        this.damaged.set(damaged);
        this.may.set(may);
        this.show(design, may === 'look' ? 'shared' : '');
      },
      (e: ServerTrouble) => this.keeper() === keeper && this.failure.set(e.message),
    );
  }

  private show(design: Design, readOnly: '' | 'shared' | 'revision'): void {
    this.readOnly.set(readOnly);
    this.design.set(design);
    this.opened.set(true);
  }

  close(): void {
    this.playing.set(0);
    this.keeper()?.close();
    this.keeper.set(undefined);
  }

  /** Before the design is left for another page of ours: what has just been done goes to the server first, if that answers. */
  async leave(): Promise<void> {
    await this.saver()?.flush();
  }

  /** The state that stands here as a design of its own; gives its id. What was kept of it here goes: it is on the server. */
  saveAsNew(): Observable<string> {
    const design = this.design();
    return this.api.create({ ...design, name: `${design.name.slice(0, 110)} (copy)` }).pipe(
      tap(() => this.keeper()?.abandon()),
      map((s) => s.id),
    );
  }

  /** A design that was deleted elsewhere comes back, with what stands here. */
  bringBack(): void {
    this.api.restore(this.id()).subscribe({ next: () => this.saver()?.now(), error: (e: Error) => this.said.set(e.message) });
  }

  /** The revision that is looked at becomes the newest. */
  bringBackRevision(): Observable<unknown> {
    const id = this.id();
    return this.api.read(id).pipe(switchMap((now) => this.api.save(id, { base: now.revision, save: newId(), design: this.design() })));
  }

  /** Puts a draft away that cannot be read. */
  forget(writer: string): void {
    void this.keeper()
      ?.forget(writer)
      .then(() => this.damaged.update((l) => l.filter((d) => d.writer !== writer)));
  }

  /** Another tab has changed the design: this one shows the same. */
  private follow(after: Design): void {
    if (!this.opened()) return this.design.set(after);
    this.remember();
    const before = this.design();
    this.history.update((h) => withStep(h, { name: 'From another tab', before, after }));
    this.take(after);
  }

  /** Applies an edit under a name; what does not pass the schema never reaches the design. Gives the problem, or undefined. */
  edit(name: string, change: (d: Design) => Design, merge = false): string | undefined {
    if (!this.opened()) return 'The design is not open yet: wait a moment';
    if (this.readOnly()) {
      this.said.set(READ_ONLY[this.readOnly() as keyof typeof READ_ONLY]);
      return READ_ONLY[this.readOnly() as keyof typeof READ_ONLY];
    }
    const before = this.design();
    const after = change(before);
    if (after === before) return undefined;
    const read = readDesign(after);
    if (read.problems) return read.problems[0].message;
    this.remember();
    const had = this.findings();
    this.history.update((h) => withStep(h, { name, before, after }, merge));
    this.recent.set(name);
    this.said.set('');
    this.put(after);
    this.since.set({ had, made: after });
    return undefined;
  }

  /** Puts a stage into the train at a member (an input shaft of its own in an empty design) and selects its coupling. */
  insert(kind: string, label: string, values: Values, at: Inserting): string | undefined {
    const d = this.design();
    const made: Reworked | NotReworked | undefined = at.before
      ? insertBefore(d, at.before, { kind, values })
      : at.instead
        ? replaceStage(d, at.instead, { kind, values })
        : insertStage(d, { kind, from: at.from, values });
    if (made?.problem !== undefined) return made.problem;
    if (!made) return 'a stage of this kind cannot begin at this member: choose one that turns about its own axis';
    const trouble = this.edit(`${at.instead ? 'Replace by' : 'Put in'} ${label.toLowerCase()}`, () => made.design);
    if (trouble) return trouble;
    this.inserting.set(undefined);
    this.also.set([]);
    const c = made.coupling;
    this.selection.set(c ? { kind: 'coupling', id: c } : { kind: 'member', id: made.output });
    this.said.set(`${label} is in, meshed, with tooth in space`);
    return undefined;
  }

  /** A source on the frame's first shaft, where the design has none yet. */
  beginWith(type: string, label: string, fields: Record<string, unknown> = {}): void {
    const made = withInputShaft(this.design(), { type, name: label, fields });
    this.edit(`Add ${label.toLowerCase()}`, () => made.design);
    const s = this.design().sources.at(-1);
    if (s) this.select('source', s.id);
  }

  cure(c: Cure): void {
    const trouble = this.edit(c.label, (d) => c.apply(d));
    this.said.set(trouble ?? `Done: ${c.label}`);
  }

  /** The member at which something is to go on: the selected one, that of the selected thing, else the shaft that a source drives. */
  memberAt(): Id | undefined {
    const d = this.design();
    const s = this.selection();
    const childOf = (joint: string | undefined): Id | undefined => d.joints.find((j) => j.id === joint?.split(':')[0])?.child;
    if (s?.kind === 'member') return s.id;
    if (s?.kind === 'element') return d.elements.find((e) => e.id === s.id)?.member;
    if (s?.kind === 'joint') return childOf(s.id);
    const source = s?.kind === 'source' ? d.sources.find((x) => x.id === s.id) : d.sources[0];
    return childOf(source?.joint);
  }

  /** States settings of the design otherwise; what is undefined is stated no more. */
  editSettings(name: string, changes: Partial<Settings>): string | undefined {
    return this.edit(name, (d) => withSettings(d, changes));
  }
  readonly weight = computed(() => hasWeight(this.design()));
  setWeight(on: boolean): void {
    this.edit(on ? 'Count the weight' : 'Leave the weight out', (d) => withWeight(d, on));
  }

  /** Puts a load of a kind where asked, else on what was built last, and shows it. */
  addLoad(type: string, at: LoadAt = {}): void {
    const load = newLoad(this.design(), type, at);
    if (!load) return this.said.set('There is nothing yet that a load could act on: put a stage in first');
    const trouble = this.edit(`Add ${load.name.toLowerCase()}`, (d) => ({ ...d, loads: [...d.loads, load] }));
    if (trouble) this.said.set(trouble);
    else this.select('load', load.id);
  }

  copy(): void {
    const ids = this.selected().map((s) => s.id);
    if (!ids.length) return;
    this.clipboard = copyItems(this.design(), ids);
    const n = this.clipboard.members.length + this.clipboard.elements.length + this.clipboard.couplings.length;
    this.copied.set(n);
    this.said.set(n ? `Copied: ${n} items` : 'Nothing of this can be copied by itself');
  }
  paste(): void {
    const f = this.clipboard;
    if (!f || !this.copied()) return;
    const made = pasteItems(this.design(), f, [0, 0, 60]);
    this.edit('Paste', () => made.design);
    const first = made.made.map((id) => this.find(id)).find((s) => s?.kind === 'member' || s?.kind === 'element');
    if (first) this.selection.set(first);
    this.said.set('Pasted beside the old one');
  }
  duplicate(ids: readonly Id[]): void {
    const made = pasteItems(this.design(), copyItems(this.design(), ids), [0, 0, 60]);
    this.edit('Duplicate', () => made.design);
    const first = made.made.map((id) => this.find(id)).find((s) => s?.kind === 'member' || s?.kind === 'element');
    if (first) this.selection.set(first);
  }
  removeSelected(): void {
    const all = this.selected();
    if (!all.length) return;
    const d = this.design();
    const name = all.length === 1 ? String((this.item(all[0]) as { name?: string } | undefined)?.name ?? all[0].id) : `${all.length} items`;
    this.selection.set(undefined);
    this.also.set([]);
    this.edit(`Delete ${name}`, () =>
      removeItems(
        d,
        all.map((s) => s.id),
      ),
    );
  }
  group(): void {
    const items = this.selected().map((s) => s.id);
    if (items.length < 2) return;
    const n = (this.design().groups?.length ?? 0) + 1;
    const id = freshId(idsOf(this.design()), 'group');
    this.edit('Group', (d) => ({ ...d, groups: [...(d.groups ?? []), { id, name: `Stage ${n}`, items }] }));
  }

  /** The stop or home of a joint becomes where the hand has found it. */
  takeFromHand(joint: Id, which: 'lower' | 'upper' | 'home'): string | undefined {
    const w = this.worked();
    const i = w.compiled.structure.firstOf.get(joint);
    if (i === undefined) return undefined;
    const slide = w.pose.kinematics.motion[i] === 1;
    const value = Number(((w.pose.q[i] / w.pose.kinematics.scale[i]) * (slide ? 1 : 360)).toFixed(slide ? 4 : 5));
    const word = which === 'home' ? 'Home' : which === 'lower' ? 'Lower stop' : 'Upper stop';
    return this.edit(`${word} from the hand`, (d) => ({
      ...d,
      joints: d.joints.map((j) => {
        if (j.id !== joint) return j;
        const next = { ...j, [which]: value };
        if (which !== 'home') delete next[`${which}Faces`];
        return next;
      }),
    }));
  }

  /** Moves along what is still free, to and fro for a moment, without touching the design. */
  showFreedom(k: number): void {
    const m = this.worked().pose;
    const vector = this.current() ? this.snapshot()?.freedomVectors[k] : undefined;
    if (!vector) return;
    this.play(0);
    this.looking.set(true);
    const u0 = Float64Array.from(m.u),
      latches = Float64Array.from(m.limit);
    const rates = new Float64Array(m.kinematics.count);
    m.spreadRates(vector, rates);
    let most = 0;
    for (let i = 0; i < m.kinematics.count; i++) most = Math.max(most, Math.abs(rates[i]) * (m.kinematics.motion[i] === 1 ? 8 : 1));
    const size = 0.5 / (most || 1);
    const begin = performance.now();
    const u = new Float64Array(m.kinematics.freeCount);
    const frame = (now: number): void => {
      const t = (now - begin) / 1000;
      if (t > 3 || this.worked().pose !== m) {
        m.setFree(u0);
        m.limit.set(latches);
        this.looking.set(false);
        this.changed();
        return;
      }
      const a = size * Math.sin((2 * Math.PI * t) / 1.5);
      for (let i = 0; i < u.length; i++) u[i] = u0[i] + a * vector[i];
      m.setFree(u);
      if (!m.kinematics.linear) m.solve([], []);
      this.moved.next();
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  }

  toggleSet(which: 'hidden' | 'through', ids: readonly Id[]): void {
    this[which].update((s) => {
      const next = new Set(s);
      const all = ids.every((i) => next.has(i));
      for (const i of ids) {
        if (all) next.delete(i);
        else next.add(i);
      }
      return next;
    });
  }
  /** Shows only the given members. */
  isolate(ids: readonly Id[]): void {
    const keep = new Set(ids);
    this.hidden.set(new Set([...this.design().members.map((m) => m.id), 'frame'].filter((m) => !keep.has(m))));
  }

  /** Shows a state of the design without making it an edit: while something is dragged. */
  preview(design: Design): void {
    if (this.readOnly()) return;
    this.remember();
    this.design.set(design);
    this.pose.update((n) => n + 1);
  }

  /** Changes one item of the design. */
  editItem(sel: Selection, name: string, change: (item: Record<string, unknown>) => Record<string, unknown>): string | undefined {
    const key = LISTS[sel.kind];
    return this.edit(name, (d) => ({
      ...d,
      [key]: (d[key] as { id: Id }[]).map((x) => (x.id === sel.id ? change(x as unknown as Record<string, unknown>) : x)),
    }));
  }

  /** Takes an item out of the design. */
  remove(id: Id, name: string): void {
    if (this.selection()?.id === id) this.selection.set(undefined);
    this.edit(`Delete ${name}`, (d) => removeItems(d, [id]));
  }

  undo(): void {
    this.travel(undo(this.history()), 'Undone');
  }
  redo(): void {
    this.travel(redo(this.history()), 'Done again');
  }
  private travel(r: ReturnType<typeof undo<Design>>, word: string): void {
    if (!r) return;
    this.remember();
    this.history.set(r.history);
    this.put(r.state);
    this.recent.set('');
    this.said.set(`${word}: ${r.name}`);
  }

  /** Brings the train to its working distances and teeth into spaces, because the person asked for it. */
  fit(): void {
    this.edit('Fit the train', (d) => settle(d).design);
    this.said.set('Working distances and phases are set');
  }

  /** After a conflict a person has chosen what goes on. It is a step that can be undone. */
  settleConflict(name: string, after: Design, theirs: StoredDesign): void {
    const before = this.design();
    this.remember();
    this.history.update((h) => withStep(h, { name, before, after }));
    this.take(after);
    this.keeper()?.settle(after, theirs);
  }

  item(sel: Selection | undefined): Record<string, unknown> | undefined {
    if (!sel) return undefined;
    return (this.design()[LISTS[sel.kind]] as { id: Id }[]).find((x) => x.id === sel.id) as Record<string, unknown> | undefined;
  }

  /** Does a joint carry this member, so that a stage can begin at it? */
  hasJoint(member: Id): boolean {
    return this.design().joints.some((j) => j.child === member && j.type !== 'fixed');
  }

  /** Any id to what it is. */
  find(id: Id): Selection | undefined {
    const d = this.design();
    for (const kind of Object.keys(LISTS) as Kind[]) if ((d[LISTS[kind]] as { id: Id }[]).some((x) => x.id === id)) return { kind, id };
    return undefined;
  }

  /** Selects an item; with `add` beside what is selected already, or takes it out of it again. */
  select(kind: Kind, id: Id, add = false): void {
    if (this.picking()) return this.picked(kind, id);
    this.inserting.set(undefined);
    const s = this.selection();
    if (!add || !s) {
      this.also.set([]);
      this.selection.set({ kind, id });
      return;
    }
    if (s.id === id) {
      const [next, ...rest] = this.also();
      this.selection.set(next);
      this.also.set(rest);
    } else if (this.also().some((x) => x.id === id)) this.also.update((l) => l.filter((x) => x.id !== id));
    else {
      this.also.update((l) => [s, ...l]);
      this.selection.set({ kind, id });
    }
  }
  /** Something was pressed for a field: itself, or what of it the field can mean. */
  private picked(kind: Kind, id: Id): void {
    const p = this.picking()!;
    const d = this.design();
    const fits = ((): Id[] => {
      if (kind === p.kind) return [id];
      if (kind === 'element' && p.kind === 'member') return d.elements.filter((e) => e.id === id).map((e) => e.member);
      if (kind === 'member' && p.kind === 'element') return d.elements.filter((e) => e.member === id).map((e) => e.id);
      if (kind === 'member' && p.kind === 'joint') return d.joints.filter((j) => j.child === id).map((j) => j.id);
      return [];
    })();
    if (fits.length !== 1) {
      this.said.set(
        fits.length
          ? `${p.label}: several of this member could be meant; pick it in the layout or from the list`
          : `${p.label}: this is not one; pick another, or press Esc`,
      );
      return;
    }
    this.picking.set(undefined);
    p.take(fits[0]);
  }
  isSelected(id: Id): boolean {
    return this.selected().some((s) => s.id === id);
  }

  /** Moves one coordinate alone for a look; `endLook` puts everything back. */
  look(coordinate: number, value: number): void {
    this.looking.set(true);
    this.hand().peek(coordinate, value);
    this.moved.next();
  }
  /** The train is shown where a run has it, not where the hand does. */
  private elsewhere = false;
  /** Fires when the hand takes the train from a run. */
  readonly taken = new Subject<void>();
  private takeBack(): void {
    if (!this.elsewhere) return;
    this.elsewhere = false;
    // The hand goes on from what is seen, where the train can stand there.
    const { pose } = this.worked();
    const q = Float64Array.from(pose.q);
    if (
      pose.solve(
        Array.from(q, (_, i) => i),
        q,
      ) !== 'ok'
    ) {
      this.hand().back();
    } else pose.latch();
    this.taken.next();
  }
  /** Shows the train with its coordinates as given (rad or m), for a look; undefined: as the hand has it. */
  showAt(q: Float64Array | undefined): void {
    const { pose } = this.worked();
    this.elsewhere = q !== undefined;
    if (q) {
      pose.q.set(q);
      pose.replace();
    }
    this.moved.next();
    this.pose.update((n) => n + 1);
  }
  endLook(): void {
    if (!this.looking()) return;
    this.hand().back();
    this.looking.set(false);
    this.changed();
  }

  /** Everything back where it stands in the document. */
  toReference(): void {
    this.play(0);
    this.takeBack();
    const { pose } = this.worked();
    pose.setFree(new Float64Array(pose.kinematics.freeCount));
    pose.latch();
    this.held.set(undefined);
    this.changed();
  }

  /** Puts the train where it was kept, deg or mm; says where it cannot stand there any more. */
  standAt(starts: KeptSheet['starts']): void {
    this.play(0);
    this.takeBack();
    const { pose } = this.worked();
    if (!placeAt(pose, starts)) this.said.set('The train cannot stand there any more: it is at home');
    pose.latch();
    this.held.set(undefined);
    this.changed();
  }

  /** Moves a coordinate by hand (rad or m), from where the train is seen; what holds it is said. */
  lead(coordinate: number, value: number): void {
    this.takeBack();
    const r = this.hand().move(coordinate, value);
    this.held.set(r.held);
    this.changed();
  }

  /** The end of a way in parts: whose it is, where it lies (top or bottom of a slide that rises), and where the joint then stands. */
  endParts(end: Held | MappedStop): { name: string; seen?: 'top' | 'bottom'; at: string } {
    const d = this.design();
    const list: readonly { id: Id; name?: string }[] = end.leaves || end.which === 'pawl' ? d.couplings : d.joints;
    const name = list.find((x) => x.id === end.joint)?.name ?? end.joint;
    const { structure } = this.worked().compiled;
    const c = structure.coordinates[structure.firstOf.get(end.joint) ?? -1];
    const at = end.own === undefined || !c ? '' : c.motion === 'slide' ? ` at ${this.units().text(end.own, 'mm')}` : ` at ${show(360 * end.own, 5)}°`;
    return { name, seen: c && end.which !== 'pawl' ? endSeen(c, end.which) : undefined, at };
  }
  /** The end of a way in a few words. */
  endText(end: Held | MappedStop): string {
    const { name, seen, at } = this.endParts(end);
    if (end.leaves) return `${name} ends`;
    if (end.dead) return `${end.dead === 'dead-point' ? 'dead centre' : 'out of reach'}: ${name}${at}`;
    return end.which === 'pawl' ? name : `${name}${seen ? ` ${seen}` : at}`;
  }

  /** Leads the deck's source to a position in turns or mm. */
  turnTo(position: number): void {
    const s = this.source();
    if (s) this.lead(s.coordinate, position * this.worked().pose.kinematics.scale[s.coordinate]);
  }
  turnBy(step: number): void {
    this.turnTo(this.position() + step);
  }

  play(direction: 0 | 1 | -1): void {
    const was = this.playing();
    this.playing.set(direction);
    if (direction && !was) this.run();
  }

  /** Runs at the source's nominal speed on the page's clock until a stop or until told. */
  private run(): void {
    let last = performance.now();
    const frame = (now: number): void => {
      const d = this.playing();
      const s = this.source();
      if (!d || !s) return;
      const dt = Math.min(0.1, (now - last) / 1000);
      last = now;
      const m = this.worked().pose;
      this.lead(s.coordinate, m.q[s.coordinate] + d * dt * this.rate() * nominalRate(m, s.coordinate, m.sourceSpeed[this.driverSlot()]));
      if (this.held() && !this.loop()) this.playing.set(0);
      else if (this.held()) this.playing.set(d > 0 ? -1 : 1);
      requestAnimationFrame(frame);
    };
    requestAnimationFrame((t) => {
      last = t;
      frame(t);
    });
  }
  /** Which of the compiled sources the hand holds. */
  readonly driverSlot = computed(() => (this.worked().compiled.sources[this.driver()] ? this.driver() : 0));
  readonly rate = signal(1);
  readonly loop = signal(false);

  private changed(): void {
    this.moved.next();
    this.pose.update((n) => n + 1);
    const now = performance.now();
    clearTimeout(this.ledgerTimer);
    if (now - this.lastLedger > LEDGER_EVERY) {
      this.lastLedger = now;
      this.ledgerTick.update((n) => n + 1);
    } else this.ledgerTimer = setTimeout(() => this.ledgerTick.update((n) => n + 1), LEDGER_EVERY);
  }

  private remember(): void {
    const w = this.worked();
    this.kept = new Map(w.compiled.sources.map((s) => [s.source.id, w.pose.q[s.coordinate]]));
  }

  private put(design: Design): void {
    this.take(design);
    this.keeper()?.edited(design);
  }

  private take(design: Design): void {
    this.design.set(design);
    this.since.set(undefined);
    this.held.set(undefined);
    // What is no longer there is no longer selected.
    const gone = (x: Selection): boolean => !(design[LISTS[x.kind]] as { id: Id }[]).some((y) => y.id === x.id);
    if (this.also().some(gone)) this.also.update((l) => l.filter((x) => !gone(x)));
    const sel = this.selection();
    if (sel && gone(sel)) this.selection.set(undefined);
    this.pose.update((n) => n + 1);
  }
}
