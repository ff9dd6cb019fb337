import { answersOf, namesOf } from '@unirota/core';
import { listed } from '@unirota/core/units';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterRenderEffect,
  computed,
  effect,
  inject,
  input,
  numberAttribute,
  signal,
  untracked,
} from '@angular/core';
import { Title } from '@angular/platform-browser';
import { RouterLink } from '@angular/router';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatDialog, MatDialogState } from '@angular/material/dialog';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import { createKeybindingsHandler } from 'tinykeys';
import { SplitAreaComponent, SplitComponent, type SplitGutterInteractionEvent } from 'angular-split';
import type { Step } from '@unirota/core';
import { type Severity, unitsOf } from '@unirota/core/document';
import { CrankDeck } from '../features/deck/crank-deck';
import { stateText } from '../state/state-text';
import { LayoutView } from '../features/layout/layout-view';
import { AnalysisService } from '../state/analysis.service';
import { FixService } from '../state/fixes.service';
import { LoadsService } from '../state/loads.service';
import { FilmService } from '../state/film.service';
import { PictureService } from '../state/picture.service';
import { RunService } from '../state/run.service';
import { IncomingFiles } from '../state/incoming-files';
import { PapersService } from '../state/papers.service';
import { ShapesService } from '../state/shapes.service';
import { UnitsService } from '../state/units.service';
import { ThemeService } from '../state/theme.service';
import { unexpected } from './error-handler';
import { SessionService } from '../state/session.service';
import { Icon } from '../ui/icon';
import { DataSheet } from '../features/sheet/data-sheet';
import { DutyStep } from '../features/steps/duty-step';
import { LoadsStep } from '../features/steps/loads-step';
import { MotionStep } from '../features/steps/motion-step';
import { RatingStep } from '../features/steps/rating-step';
import { ReleaseStep } from '../features/steps/release-step';
import { TrainStep } from '../features/steps/train-step';
import { TrainMap } from '../features/map/train-map';
import { Guide } from '../features/guide/guide';
import { KeepingBanners } from './keeping-banners';
import { KeepingDialogs } from './keeping-dialogs';
import { DesignService } from '../state/design.service';
import { SelectionService } from '../state/selection.service';
import { RatingService } from '../state/rating.service';
import { RemarksService } from '../state/remarks.service';
import { RemarksPanel } from '../features/remarks/remarks-panel';
import { RoomService } from '../state/room.service';
import { STEP_LABELS, ViewService } from '../state/view.service';
import { type Doers, GROUPS, commandTable, keyList } from './command-table';
import { MotionService } from '../state/motion.service';
import { keepFocus } from './focus-keeper';
import { FindingsService } from '../state/findings.service';
import { CommandsService } from '../state/commands.service';
import { AutosaveService } from '../state/autosave.service';
import { TextField } from '../ui/text-field';
import { Named } from '../ui/named';

/** How long what was said stays, ms. */
const SAID_FOR = 9000;

/** The mark of a step while it is worked out. */
const BUSY = { mark: '·', word: 'being worked out' } as const;

/** The workbench: title line, train map, work order, main area, data sheet, crank deck. */
@Component({
  selector: 'uni-workbench',
  imports: [
    Named,
    SplitAreaComponent,
    SplitComponent,
    TextField,
    MatButton,
    RouterLink,
    MatIconButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatTooltip,
    Guide,
    RemarksPanel,
    Icon,
    KeepingBanners,
    TrainMap,
    LayoutView,
    DataSheet,
    CrankDeck,
    DutyStep,
    TrainStep,
    MotionStep,
    LoadsStep,
    RatingStep,
    ReleaseStep,
  ],
  providers: [
    AnalysisService,
    AutosaveService,
    CommandsService,
    DesignService,
    FindingsService,
    KeepingDialogs,
    MotionService,
    SelectionService,
    ViewService,
    RemarksService,
    RoomService,
    RunService,
    LoadsService,
    PictureService,
    FilmService,
    ShapesService,
    PapersService,
    RatingService,
  ],
  templateUrl: './workbench.html',
  styleUrl: './workbench.scss',
  host: {
    '(window:keydown)': 'key($event)',
    '(document:copy)': 'copied($event)',
    '(document:paste)': 'pasted($event)',
    '(window:beforeunload)': 'leaving($event)',
    '(window:pagehide)': 'autosave.close()',
    '(window:pageshow)': 'back($event)',
    '(dragover)': 'dragOver($event)',
    '(drop)': 'dropFiles($event)',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Workbench {
  readonly id = input.required<string>();
  readonly revision = input(undefined, { transform: (v: unknown) => (v === undefined ? undefined : numberAttribute(v)) });
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly view = inject(ViewService);
  protected readonly room = inject(RoomService);
  protected readonly motion = inject(MotionService);
  protected readonly found = inject(FindingsService);
  protected readonly commands = inject(CommandsService);
  protected readonly autosave = inject(AutosaveService);
  private readonly runs = inject(RunService);
  private readonly loads = inject(LoadsService);
  private readonly shapes = inject(ShapesService);
  private readonly papers = inject(PapersService);
  protected readonly remarks = inject(RemarksService);
  private readonly ratings = inject(RatingService);
  protected readonly dialogs = inject(KeepingDialogs);
  private readonly overlaid = inject(MatDialog);
  protected readonly session = inject(SessionService).session;
  protected readonly theme = inject(ThemeService);
  private readonly cures = inject(FixService);
  protected readonly steps = STEP_LABELS;
  protected readonly unexpected = unexpected;

  /** How the layout stands on the page in this step of the work: alone, beside the step, or not. One picture serves all. */
  protected readonly picture = computed(() => {
    const step = this.view.step();
    if (this.room.whole()) return 'whole';
    return step === 'layout' ? 'alone' : step === 'motion' || step === 'loads' ? 'beside' : 'none';
  });
  protected readonly saving = computed(() => {
    const s = this.autosave.saver();
    return this.doc.opened() && s ? stateText(s.server(), s.here(), this.autosave.keeper()!.blocked(), s.trouble()) : { text: '', tone: '' };
  });
  protected readonly mayShare = computed(() => !!this.session()?.accounts && this.doc.may() === 'own');

  /** What each step's mark says: empty, in work, in order, trouble. */
  protected readonly marks = computed<Record<Step, { mark: string; word: string }>>(() => {
    const d = this.doc.design();
    // A caution that is accepted leaves nothing to do.
    const answers = answersOf(d, this.found.findings());
    const f = this.found.findings().filter((x) => !answers.get(x)?.holds);
    const unknown = !this.found.snapshot();
    const fault = f.some((x) => x.severity === 'fault'),
      caution = f.some((x) => x.severity === 'caution');
    const wanted = this.motion.ledger().wanted;
    const of = (empty: boolean, trouble: boolean, work: boolean): { mark: string; word: string } =>
      unknown
        ? BUSY
        : empty
          ? { mark: '○', word: 'empty' }
          : trouble
            ? { mark: '■', word: 'trouble' }
            : work
              ? { mark: '◐', word: 'in work' }
              : { mark: '✓', word: 'in order' };
    const r = this.ratings.rating();
    const rated = r || !this.ratings.asks() ? of(!r?.lines.length, this.ratings.failed() > 0, !!r?.unrated.length) : BUSY;
    const has = (step: Step, severity: Severity): boolean => f.some((x) => x.severity === severity && x.step === step && !x.because);
    return {
      duty: of(
        !d.sources.length && !d.wanted.length,
        wanted.some((w) => !w.met && w.value !== undefined) || has('duty', 'fault'),
        !d.sources.length || !d.wanted.length || wanted.some((w) => w.value === undefined),
      ),
      train: of(!d.members.length, has('train', 'fault'), has('train', 'caution')),
      layout: of(!d.elements.length, has('layout', 'fault'), has('layout', 'caution')),
      motion: of(!this.motion.source(), has('motion', 'fault'), (this.found.snapshot()?.undriven.length ?? 0) > 0),
      loads: of(!d.loads.length, has('loads', 'fault'), has('loads', 'caution')),
      rating: rated,
      release: of(
        !d.members.length,
        fault || wanted.some((w) => !w.met && w.value !== undefined),
        caution || wanted.some((w) => w.value === undefined),
      ),
    };
  });
  protected readonly counts = computed(() => {
    const f = this.found.findings();
    const n = (severity: string): number => f.filter((x) => x.severity === severity).length;
    return {
      fault: n('fault'),
      caution: n('caution'),
      label: $localize`Findings: ${n('fault')} faults, ${n('caution')} cautions, ${n('note')} notes`,
      fit: this.found.canFit(),
    };
  });
  /** Mobility in a few words, always in sight; Train has it in full, with what to do about it. */
  protected readonly mobility = computed(() => {
    const w = this.found.snapshot();
    const d = this.doc.design();
    if (!w || !d.members.length) return '';
    const name = (id: string): string => d.members.find((m) => m.id === id)?.name ?? id;
    const free = w.undriven[0];
    if (w.freedoms === 0) return $localize`no motion possible`;
    if (!free) return w.freedoms === 1 ? $localize`1 degree of freedom, driven` : $localize`${w.freedoms} degrees of freedom, all driven`;
    const who = free.length > 2 ? $localize`${name(free[0])} and ${free.length - 1} more` : listed(free.map(name));
    return `${who} free: nothing drives ${free.length > 1 ? 'them' : 'it'}${w.undriven.length > 1 ? `, and ${w.undriven.length - 1} more` : ''}`;
  });
  protected readonly remarkLabel = computed(() => {
    const n = this.remarks.openCount();
    return n === undefined ? $localize`Remarks` : $localize`Remarks, ${n} open`;
  });
  /** Who else has the design open. */
  protected readonly othersText = computed(() => {
    const all = this.remarks.others();
    if (!all.length) return undefined;
    const people = [...new Set(all.filter((o) => !o.mine && o.person).map((o) => o.person))];
    const short = people.length === 1 ? people[0] : people.length ? $localize`${people.length} others here` : $localize`open in another page`;
    return { short, all: people.length ? $localize`Also has it open: ${listed(people)}` : $localize`You have this design open in another page` };
  });
  /** A revision that was saved elsewhere while nothing was edited here. */
  protected readonly newer = computed(() => {
    const [saver, there] = [this.autosave.saver(), this.remarks.revision()];
    return saver?.server() === 'saved' && there !== undefined && there > saver.base ? there : undefined;
  });
  protected readonly undoName = computed(() => this.doc.history().done.at(-1)?.name);
  protected readonly redoName = computed(() => this.doc.history().undone.at(-1)?.name);

  constructor() {
    const tab = inject(Title);
    const incoming = inject(IncomingFiles);
    const units = inject(UnitsService).now;
    const settings = computed(() => this.doc.design().settings);
    effect(() => units.set(unitsOf(settings())));
    const quantities = computed(() => this.doc.design().quantities);
    const names = inject(UnitsService).names;
    effect(() => {
      quantities();
      names.set(namesOf(untracked(this.doc.design)));
    });
    effect(() => tab.setTitle(`${this.doc.design().name} · Unirota`));
    effect(() => {
      if (this.found.current()) void this.cures.ask(this.doc.design(), this.found.findings());
    });
    effect(() => {
      const [id, revision] = [this.id(), this.revision()];
      untracked(() => this.autosave.open(id, revision));
    });
    // What was said is of its moment: after a while it goes, and the offer to take the last step back with it.
    effect((done) => {
      const { said, recent } = this.doc;
      if (!said() && !recent()) return;
      const timer = setTimeout(() => {
        said.set('');
        recent.set('');
      }, SAID_FOR);
      done(() => clearTimeout(timer));
    });
    // A border with a pane of free size before it has no size of its own to tell.
    const here = inject<ElementRef<HTMLElement>>(ElementRef);
    keepFocus(here, inject(DestroyRef));
    const host = here.nativeElement;
    afterRenderEffect(() => {
      if (!this.doc.opened()) return;
      const sizes: readonly [string, number][] = [
        ['.panes > .as-split-gutter ~ .as-split-gutter', this.room.deck()],
        ['.work > as-split > .as-split-gutter', this.room.sheet()],
      ];
      for (const [gutter, size] of sizes) host.querySelector(gutter)?.setAttribute('aria-valuenow', String(Math.round(size)));
    });
    this.dialogs.prepare();
    effect(() => {
      // Parts that were opened on the start page.
      if (this.doc.opened() && incoming.files().length) untracked(() => this.commands.import({ files: incoming.take() }));
    });
    // Before a hint that stands open takes the key for itself.
    const ends = (e: KeyboardEvent): void => {
      if (e.key !== 'Escape' || !this.chosen.picking()) return;
      this.chosen.picking.set(undefined);
      e.stopPropagation();
    };
    addEventListener('keydown', ends, true);
    inject(DestroyRef).onDestroy(() => removeEventListener('keydown', ends, true));
    inject(DestroyRef).onDestroy(() => this.autosave.close());
  }

  leave(): Promise<void> {
    return this.autosave.leave();
  }

  /** What the server has not confirmed is kept here, but a person may rather wait a moment. */
  protected leaving(e: BeforeUnloadEvent): void {
    if (this.autosave.saver()?.unconfirmed()) e.preventDefault();
  }
  /** The browser has brought the page back as it was left. */
  protected back(e: PageTransitionEvent): void {
    if (e.persisted) this.autosave.open(this.id(), this.revision());
  }

  protected rename(name: string): void {
    this.nameTrouble.set(this.doc.edit($localize`Rename the design`, (d) => ({ ...d, name })) ?? '');
  }
  protected readonly nameTrouble = signal('');

  /** The border between map and work, or work and deck, was drawn. */
  protected drawn({ gutterNum, sizes }: SplitGutterInteractionEvent): void {
    const size = Number(sizes[gutterNum === 1 ? 0 : 2]);
    if (Number.isFinite(size)) this.room.draw(gutterNum === 1 ? 'map' : 'deck', size);
  }
  protected sheetDrawn({ sizes }: SplitGutterInteractionEvent): void {
    const size = Number(sizes[1]);
    if (Number.isFinite(size)) this.room.draw('sheet', size);
  }
  protected folded({ gutterNum }: SplitGutterInteractionEvent): void {
    this.room.fold(gutterNum === 1 ? 'map' : 'deck');
  }
  /** What the page has for commands besides its services. */
  protected readonly doers: Doers = {
    doc: this.doc,
    chosen: this.chosen,
    view: this.view,
    room: this.room,
    motion: this.motion,
    commands: this.commands,
    runs: this.runs,
    shapes: this.shapes,
    papers: this.papers,
    history: () => void this.dialogs.history(),
    find: () => this.find(),
    keys: () => void this.dialogs.keys(keyList(this.table())),
    geometry: () => void this.dialogs.geometry(),
    report: () => void this.dialogs.report(),
    shelf: () => void this.dialogs.shelf(),
    variants: () => void this.dialogs.variants(),
    planner: () => void this.dialogs.planner(),
    vibration: () => void this.dialogs.vibration(),
    guide: () => this.room.guide.update((g) => !g),
    remarks: () => this.room.remarks.update((s) => !s),
    theme: () => this.theme.toggle(),
  };
  /** Every command: for menu, keys, search and the list of keys. */
  protected readonly table = computed(() => commandTable(this.mayShare() ? { ...this.doers, share: () => void this.dialogs.sharing() } : this.doers));
  protected readonly menu = computed(() => GROUPS.map((group) => ({ group, list: this.table().filter((c) => c.group === group && !c.searched) })));
  private readonly pressed = createKeybindingsHandler(
    Object.fromEntries(
      commandTable(this.doers).flatMap((c) =>
        (c.native ? [] : (c.keys ?? [])).map((keys) => [
          keys,
          (e: KeyboardEvent) => {
            if (c.can && !c.can()) return;
            e.preventDefault();
            c.run();
          },
        ]),
      ),
    ),
  );

  protected find(): void {
    if (!this.doc.opened()) return;
    void this.dialogs.find(this.table(), [
      ...this.runs.kept().map((r) => ({
        name: r.name,
        what: $localize`saved run`,
        act: () => {
          this.view.step.set('motion');
          void this.runs.openAt(r.id, 0);
        },
      })),
      ...this.loads.sheets().map((x) => ({
        name: x.name,
        what: $localize`saved load sheet`,
        act: () => {
          this.view.step.set('loads');
          void this.loads.goToSheet(x);
        },
      })),
    ]);
  }

  /** Whether the page itself is meant: not a field, nor what lies over the page. */
  private forPage(e: Event): boolean {
    const t = e.target as HTMLElement | Document;
    const over = this.overlaid.openDialogs.some((d) => d.getState() === MatDialogState.OPEN);
    const field = t instanceof Element && t.closest('input, textarea, select, [contenteditable], .cdk-overlay-container, .cdk-overlay-pane') !== null;
    return this.doc.opened() && !e.defaultPrevented && !over && !field;
  }
  /** A text that is marked is what is meant to be copied; else what is selected. */
  protected copied(e: ClipboardEvent): void {
    if (!this.forPage(e) || getSelection()?.toString()) return;
    const text = this.commands.copy();
    if (text === undefined) return;
    e.clipboardData?.setData('text/plain', text);
    e.preventDefault();
  }
  protected pasted(e: ClipboardEvent): void {
    if (!this.forPage(e)) return;
    e.preventDefault();
    this.commands.paste(e.clipboardData?.getData('text/plain'));
  }

  protected key(e: KeyboardEvent): void {
    const t = e.target as HTMLElement;
    // What lies over the page has the keys to itself; so has what has used a key already.
    if (e.defaultPrevented) return;
    if (this.dialogs.finding) {
      if (e.key.length === 1 && !e.ctrlKey && !e.metaKey) this.dialogs.typed += e.key;
      e.preventDefault();
      return;
    }
    if (t.closest('.cdk-overlay-container, .cdk-overlay-pane') || this.overlaid.openDialogs.some((d) => d.getState() === MatDialogState.OPEN)) return;
    // A field, or a list that is searched by typing, keeps what is typed; of a field's keys only those with Ctrl are for the page.
    const typing =
      t.closest('[role=combobox], [role=listbox], [contenteditable]') !== null ||
      (/^(INPUT|TEXTAREA|SELECT)$/.test(t.tagName) && (t as HTMLInputElement).type !== 'range' && (t as HTMLInputElement).type !== 'checkbox');
    const held = e.ctrlKey || e.metaKey;
    if (typing && !(held && e.key.toLowerCase() === 'k') && e.key !== 'F1') return;
    if (e.key === ' ' && (t.tagName === 'BUTTON' || t.getAttribute('role') === 'button')) return;
    if (e.key === 'Escape') this.leaveOff();
    else this.pressed(e);
  }
  private leaveOff(): void {
    if (this.room.whole()) this.room.whole.set(false);
    else if (this.chosen.inserting()) this.chosen.inserting.set(undefined);
    else if (this.view.placing()) this.view.placing.set(undefined);
    else this.chosen.only(undefined);
  }

  /** Files with parts can be dropped anywhere on the workbench. */
  protected dragOver(e: DragEvent): void {
    if (e.dataTransfer?.types.includes('Files')) e.preventDefault();
  }
  protected dropFiles(e: DragEvent): void {
    const files = [...(e.dataTransfer?.files ?? [])];
    if (!files.length) return;
    e.preventDefault();
    this.commands.import({ files });
  }
}
