import { STAGE_KINDS, type StageKind } from '@unirota/core';
import { LOAD_KINDS, unitSettings } from '@unirota/core/document';
import { writeTable } from '@unirota/core/formats';
import { INCH, METRIC } from '@unirota/core/units';
import { downloadCsv, downloadDrawing } from '../state/downloads';
import type { CommandsService } from '../state/commands.service';
import type { DesignService } from '../state/design.service';
import type { MotionService } from '../state/motion.service';
import type { RoomService } from '../state/room.service';
import type { RunService } from '../state/run.service';
import type { PapersService } from '../state/papers.service';
import type { ShapesService } from '../state/shapes.service';
import type { SelectionService } from '../state/selection.service';
import { DRAG_MODES, type LayoutTools, STEP_LABELS, type ViewService } from '../state/view.service';

/** Whose doing the commands are. */
export interface Doers {
  readonly doc: DesignService;
  readonly chosen: SelectionService;
  readonly view: ViewService;
  readonly room: RoomService;
  readonly motion: MotionService;
  readonly commands: CommandsService;
  readonly runs: RunService;
  readonly shapes: ShapesService;
  readonly papers: PapersService;
  /** What the page has besides. */
  history(): void;
  find(): void;
  keys(): void;
  geometry(): void;
  report(): void;
  shelf(): void;
  variants(): void;
  planner(): void;
  vibration(): void;
  guide(): void;
  remarks(): void;
  theme(): void;
  share?(): void;
}

export const GROUPS = ['Go', 'Insert', 'Edit', 'Motion', 'View', 'Tools', 'Export', 'Help'] as const;
export type CommandGroup = (typeof GROUPS)[number];

/** Something that can be done: the menu, the keys, the search and the list of keys are all made from these. */
export interface Command {
  readonly name: string;
  readonly group: CommandGroup;
  /** Keys as tinykeys writes them; the first is the one that is shown. */
  readonly keys?: readonly string[];
  /** How the key is shown, where not as it is written. */
  readonly shown?: string;
  /** The browser tells of it by an event of its own: the page does not listen for the keys. */
  readonly native?: true;
  /** Only in the search, not in the menu: one of many alike. */
  readonly searched?: true;
  can?(): boolean;
  run(): void;
}

/** What the pointer and the crank do: listed beside the keys. */
export const GESTURES: readonly (readonly [string, string])[] = [
  [$localize`Click in the layout`, $localize`Select an element; again, its member`],
  [$localize`Ctrl or Shift and click`, $localize`Select besides`],
  [$localize`Drag in the layout`, $localize`Turn the view, or move a member with its train`],
  [$localize`Double click on a border`, $localize`Fold or unfold the pane`],
  [$localize`Arrow keys on the map`, $localize`Walk along the train`],
  [$localize`Arrow keys on the crank`, $localize`Turn by 15°; with Shift a turn, with Alt a degree`],
  [$localize`Home, End on the crank`, $localize`To the lower and upper stop`],
];

/** Every command of an open design. */
export function commandTable(d: Doers): Command[] {
  const { doc, chosen, view, room, motion, commands, runs } = d;
  const members = (): string[] =>
    chosen.selected().flatMap((x) => {
      if (x.kind === 'member') return [x.id];
      const e = x.kind === 'element' ? doc.design().elements.find((y) => y.id === x.id) : undefined;
      return e ? [e.member] : [];
    });
  const some = (): boolean => chosen.selected().length > 0;
  const withMembers = (act: (ids: string[]) => void) => (): void => {
    const ids = members();
    if (ids.length) act(ids);
    else doc.said.set($localize`Select a member first`);
  };
  const tool = (act: (t: LayoutTools) => void) => (): void => view.withTools(act);
  const insert = (k: StageKind): Command => ({
    name: $localize`Insert stage: ${k.label.toLowerCase()}`,
    group: 'Insert',
    searched: true,
    run: () => chosen.inserting.set({ from: commands.memberAt(), kind: k.kind }),
  });
  return [
    ...STEP_LABELS.map((s, k): Command => ({
      name: $localize`Go to ${s.label}`,
      group: 'Go',
      keys: [String(k + 1)],
      run: () => view.step.set(s.step),
    })),
    {
      name: $localize`Find an action, an item or a field`,
      group: 'Go',
      keys: ['$mod+k', '/', 'Shift+/'],
      shown: $localize`Ctrl K or /`,
      run: () => d.find(),
    },
    { name: $localize`History`, group: 'Go', run: () => d.history() },
    { name: $localize`Remarks`, group: 'Go', keys: ['e'], shown: 'E', run: () => d.remarks() },
    ...(d.share ? [{ name: $localize`Share`, group: 'Go' as const, run: () => d.share!() }] : []),

    { name: $localize`Insert stage`, group: 'Insert', keys: ['p'], shown: 'P', run: () => chosen.inserting.set({ from: commands.memberAt() }) },
    ...STAGE_KINDS.map(insert),
    {
      name: $localize`Build: add parts and connect them`,
      group: 'Insert',
      keys: ['b'],
      shown: 'B',
      run: () => commands.build(),
    },
    { name: $localize`Measure between places`, group: 'Tools', keys: ['d'], shown: 'D', run: () => commands.measure() },
    { name: $localize`Natural frequencies and lost motion`, group: 'Go', keys: ['y'], shown: 'Y', run: () => d.vibration() },
    { name: $localize`Variants side by side`, group: 'Go', keys: ['v'], shown: 'V', run: () => d.variants() },
    { name: $localize`Planner: gear pairs for a ratio`, group: 'Insert', keys: ['r'], shown: 'R', run: () => d.planner() },
    { name: $localize`Shelf: save or insert a piece`, group: 'Insert', keys: ['q'], shown: 'Q', run: () => d.shelf() },
    { name: $localize`Import parts (STEP, STL, 3MF, glTF)`, group: 'Insert', keys: ['i'], shown: 'I', run: () => commands.import() },
    ...LOAD_KINDS.map((k): Command => ({
      name: $localize`Add a load: ${k.label.toLowerCase()}`,
      group: 'Insert',
      searched: true,
      run: () => commands.addLoad(k.type, atSelected(chosen)),
    })),

    {
      name: $localize`Undo`,
      group: 'Edit',
      keys: ['$mod+z'],
      shown: $localize`Ctrl Z`,
      can: () => doc.history().done.length > 0,
      run: () => doc.undo(),
    },
    {
      name: $localize`Redo`,
      group: 'Edit',
      keys: ['$mod+y', '$mod+Shift+z'],
      shown: $localize`Ctrl Y`,
      can: () => doc.history().undone.length > 0,
      run: () => doc.redo(),
    },
    {
      name: $localize`Copy the selected`,
      group: 'Edit',
      keys: ['$mod+c'],
      shown: $localize`Ctrl C`,
      native: true,
      can: () => some(),
      run: () => commands.copyToClipboard(),
    },
    {
      name: $localize`Paste`,
      group: 'Edit',
      keys: ['$mod+v'],
      shown: $localize`Ctrl V`,
      native: true,
      run: () => void commands.pasteFromClipboard(),
    },
    {
      name: $localize`Duplicate the selected`,
      group: 'Edit',
      keys: ['$mod+d'],
      shown: $localize`Ctrl D`,
      can: some,
      run: () => commands.duplicate(chosen.selected().map((s) => s.id)),
    },
    { name: $localize`Rename the selected`, group: 'Edit', keys: ['F2'], can: some, run: () => nameField(room) },
    { name: $localize`Delete the selected`, group: 'Edit', keys: ['Delete'], can: some, run: () => commands.removeSelected() },
    {
      name: $localize`Group the selected`,
      group: 'Edit',
      keys: ['g'],
      shown: 'G',
      can: () => chosen.selected().length > 1,
      run: () => commands.group(),
    },
    { name: $localize`Fit the train: working distances and phases`, group: 'Edit', keys: ['w'], shown: 'W', run: () => commands.fit() },
    { name: $localize`Units: metric`, group: 'Edit', run: () => void doc.editSettings($localize`Metric units`, unitSettings(METRIC)) },
    { name: $localize`Units: inch`, group: 'Edit', run: () => void doc.editSettings($localize`Units in inches`, unitSettings(INCH)) },

    { name: $localize`Play at nominal speed, or pause`, group: 'Motion', keys: ['Space'], run: () => motion.play(motion.playing() ? 0 : 1) },
    // Brackets are on a third level of some keyboards.
    { name: $localize`Turn the source on by a quarter turn`, group: 'Motion', keys: [']', 'Alt+]', 'AltGraph+]'], run: () => motion.turnBy(0.25) },
    { name: $localize`Turn the source back by a quarter turn`, group: 'Motion', keys: ['[', 'Alt+[', 'AltGraph+['], run: () => motion.turnBy(-0.25) },
    { name: $localize`Everything back where it stands at rest`, group: 'Motion', run: () => motion.toReference() },
    ...(doc.design().cases ?? []).map((c): Command => ({
      name: $localize`Show the load case ${c.name}`,
      group: 'Motion',
      searched: true,
      run: () => doc.loadCase.set(c.id),
    })),

    {
      name: $localize`Full picture: the layout takes the whole window`,
      group: 'View',
      keys: ['f'],
      shown: 'F',
      run: () => room.whole.update((w) => !w),
    },
    { name: $localize`Fold or unfold the train map`, group: 'View', keys: ['m'], shown: 'M', run: () => room.fold('map') },
    { name: $localize`Fold or unfold the crank deck`, group: 'View', keys: ['c'], shown: 'C', run: () => room.fold('deck') },
    { name: $localize`Fold or unfold the data sheet`, group: 'View', keys: ['s'], shown: 'S', run: () => room.fold('sheet') },
    { name: $localize`Hide the selected members`, group: 'View', keys: ['h'], shown: 'H', run: withMembers((ids) => view.toggleSet('hidden', ids)) },
    { name: $localize`Show only the selected members`, group: 'View', keys: ['o'], shown: 'O', run: withMembers((ids) => view.isolate(ids)) },
    {
      name: $localize`See through the selected members`,
      group: 'View',
      keys: ['n'],
      shown: 'N',
      run: withMembers((ids) => view.toggleSet('through', ids)),
    },
    { name: $localize`Show all members`, group: 'View', keys: ['.'], run: () => view.showAll() },
    { name: $localize`Light or dark theme`, group: 'View', run: () => d.theme() },

    { name: $localize`Fit the picture`, group: 'Tools', run: tool((t) => t.fitPicture()) },
    { name: $localize`Show pitch circles, lines and axes`, group: 'Tools', run: tool((t) => t.dimension('circles')) },
    { name: $localize`Show centre distances`, group: 'Tools', run: tool((t) => t.dimension('distances')) },
    { name: $localize`Show travel and stops`, group: 'Tools', run: tool((t) => t.dimension('travel')) },
    ...(['x', 'y', 'z'] as const).map((a): Command => ({
      name: $localize`Section across ${a}`,
      group: 'Tools',
      searched: true,
      run: tool((t) => t.cutAcross(a)),
    })),
    { name: $localize`Save view`, group: 'Tools', run: tool((t) => t.saveView()) },
    { name: $localize`Check overlap at this position`, group: 'Tools', run: tool((t) => t.overlapHere()) },
    { name: $localize`Check overlap from stop to stop`, group: 'Tools', run: tool((t) => t.overlapOnTheWay()) },
    { name: $localize`Set all phase angles`, group: 'Tools', run: tool((t) => t.setPhases()) },
    ...(['force', 'torque', 'spring'] as const).map((k): Command => ({
      name: $localize`Add a ${k} at a point of a member`,
      group: 'Tools',
      searched: true,
      run: tool((t) => t.loadAtPoint(k)),
    })),
    ...DRAG_MODES.map(({ mode, label }): Command => ({
      name: $localize`Drag: ${label.toLowerCase()}`,
      group: 'Tools',
      searched: true,
      run: tool((t) => t.dragBy(mode)),
    })),

    { name: $localize`Export report (PDF)`, group: 'Export', run: () => d.report() },
    { name: $localize`Export geometry (STEP, 3MF, STL, glTF, DXF, SVG)`, group: 'Export', run: () => d.geometry() },
    { name: $localize`Export design`, group: 'Export', run: () => void d.shapes.downloadDesign() },
    { name: $localize`Export tables (XLSX)`, group: 'Export', run: () => void d.papers.tables() },
    { name: $localize`Export ledger (CSV)`, group: 'Export', run: () => downloadCsv(ledgerText(d), `${doc.design().name} ledger`) },
    { name: $localize`Export train map (SVG)`, group: 'Export', run: () => exportMap(doc) },
    { name: $localize`Export run, all quantities (CSV)`, group: 'Export', can: () => runs.shown() !== undefined, run: () => exportRun(d) },

    { name: $localize`Guide`, group: 'Help', keys: ['F1'], run: () => d.guide() },
    { name: $localize`Keys`, group: 'Help', keys: ['Shift+?', '?'], shown: '?', run: () => d.keys() },
  ];
}

const atSelected = (chosen: SelectionService): { member?: string; joint?: string } => {
  const s = chosen.selection();
  return s?.kind === 'joint' ? { joint: s.id } : s?.kind === 'member' ? { member: s.id } : {};
};

/** Puts the caret into the name of what is selected. */
export function nameField(room: RoomService): void {
  room.showSheet();
  setTimeout(() => {
    const field = document.querySelector<HTMLInputElement>('aside[aria-label="Data sheet"] header input');
    field?.focus();
    field?.select();
  });
}

/** The member-by-member table, in the units that are shown. */
function ledgerText({ doc, motion, view }: Doers): string {
  const u = view.units();
  const name = (id: string): string => doc.design().members.find((m) => m.id === id)?.name ?? id;
  const rows = motion
    .ledger()
    .lines.filter((l) => l.motion !== 'still')
    .map((l) => {
      const [speed, load] = l.motion === 'slide' ? ['mm/s', 'N'] : ['rev/min', 'N·m'];
      return [name(l.member), u.shown(l.speed, speed), u.of(speed), u.shown(l.load, load), u.of(load), u.shown(l.power, 'W'), u.of('W')];
    });
  return writeTable(
    [$localize`Member`, $localize`Speed`, $localize`Unit`, $localize`Torque or force`, $localize`Unit`, $localize`Power`, $localize`Unit`],
    rows,
  );
}

function exportMap(doc: DesignService): void {
  const drawing = document.querySelector<SVGSVGElement>('uni-train-map svg');
  if (drawing?.viewBox.baseVal.width) downloadDrawing(drawing, $localize`${doc.design().name} train map`);
  else doc.said.set($localize`The train map is folded: unfold it first`);
}

/** Everything that a run knows, at every recorded instant. */
function exportRun({ doc, runs, view }: Doers): void {
  const run = runs.shown();
  if (!run) return;
  const u = view.units();
  const rows = Array.from({ length: run.result.frames }, (_, f) => [run.result.time[f], ...run.quantities.map((q) => u.shown(q.at(f), q.unit))]);
  downloadCsv(writeTable(['Time, s', ...run.quantities.map((q) => `${q.label}, ${u.of(q.unit)}`)], rows), `${doc.design().name} run`);
}

/** The keys of the workbench and what they do, as they are listed. */
export const keyList = (table: readonly Command[]): (readonly [string, string])[] => [
  ...table.flatMap((c): (readonly [string, string])[] => (c.keys ? [[c.shown ?? c.keys[0], c.name]] : [])),
  [$localize`Esc`, $localize`Leave off, select nothing`],
  ...GESTURES,
];
