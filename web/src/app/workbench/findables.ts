import { LOAD_KINDS, fieldsOfItem, unitSettings } from '@unirota/core/document';
import { INCH, METRIC } from '@unirota/core/units';
import type { Findable } from './find-dialog';
import type { CommandsService } from './commands.service';
import type { DesignService } from './design.service';
import { LISTS, type Kind } from './items';
import type { MotionService } from './motion.service';
import type { SelectionService } from './selection.service';
import type { RoomService } from './room.service';
import { STEP_LABELS, type ViewService } from './view.service';

/** Whose doing the actions are. */
export interface Doers {
  doc: DesignService;
  chosen: SelectionService;
  view: ViewService;
  room: RoomService;
  motion: MotionService;
  commands: CommandsService;
}

/** How often it is tried to put the caret into a field that is still being unfolded, and after how long again, ms. */
const TRIES = 30,
  AGAIN = 80;
/** Puts the caret into a field of the data sheet, once it is there. */
function into(key: string): void {
  setTimeout(() => {
    const field = document.getElementById(`f-${key}`);
    if (!field) return;
    const shut = field.closest('mat-expansion-panel')?.querySelector<HTMLElement>('[aria-expanded=false]');
    shut?.click();
    const take = (left: number): void => {
      field.scrollIntoView({ block: 'center' });
      field.focus();
      // What is folded away takes the caret once it is unfolded.
      if (document.activeElement !== field && left > 0) setTimeout(() => take(left - 1), AGAIN);
      else if (field instanceof HTMLInputElement) field.select();
    };
    take(TRIES);
  });
}

/** Everything of an open design that has a name: what can be done, its items, and their fields. */
export function findables({ doc, chosen, view, room, motion, commands }: Doers, more: readonly Findable[]): Findable[] {
  const d = doc.design();
  const members = (): string[] =>
    chosen
      .selected()
      .filter((x) => x.kind === 'member')
      .map((x) => x.id);
  const actions: Findable[] = [
    ...STEP_LABELS.map((s, k) => ({ name: `Go to ${s.label}`, what: String(k + 1), act: () => view.step.set(s.step) })),
    { name: 'Put a stage in', what: 'P', act: () => chosen.inserting.set({ from: commands.memberAt() }) },
    {
      name: 'Build: add parts and put them together',
      what: 'B',
      act: () => {
        motion.toReference();
        view.step.set('layout');
        view.building.set(true);
      },
    },
    { name: 'Full picture: the layout takes the whole window', what: 'F', act: () => room.whole.update((w) => !w) },
    { name: 'Fold or unfold the train map', what: 'M', act: () => room.fold('map') },
    { name: 'Fold or unfold the crank deck', what: 'C', act: () => room.fold('deck') },
    { name: 'Fold or unfold the data sheet', what: 'S', act: () => room.fold('sheet') },
    { name: 'Undo', what: 'Ctrl Z', act: () => doc.undo() },
    { name: 'Redo', what: 'Ctrl Y', act: () => doc.redo() },
    { name: 'Play at nominal speed, or pause', what: 'Space', act: () => motion.play(motion.playing() ? 0 : 1) },
    { name: 'Turn the source on by a quarter turn', what: ']', act: () => motion.turnBy(0.25) },
    { name: 'Turn the source back by a quarter turn', what: '[', act: () => motion.turnBy(-0.25) },
    { name: 'Everything back where it stands at rest', what: 'action', act: () => motion.toReference() },
    { name: 'Fit the train: working distances and phases', what: 'W', act: () => commands.fit() },
    { name: 'Copy the selected', what: 'Ctrl C', act: () => commands.copy() },
    { name: 'Paste', what: 'Ctrl V', act: () => commands.paste() },
    { name: 'Duplicate the selected', what: 'Ctrl D', act: () => commands.duplicate(chosen.selected().map((s) => s.id)) },
    { name: 'Delete the selected', what: 'Delete', act: () => commands.removeSelected() },
    { name: 'Group the selected', what: 'G', act: () => commands.group() },
    { name: 'Hide the selected members', what: 'H', act: () => view.toggleSet('hidden', members()) },
    { name: 'Show only the selected members', what: 'O', act: () => view.isolate(members()) },
    { name: 'See through the selected members', what: 'N', act: () => view.toggleSet('through', members()) },
    {
      name: 'Show all members',
      what: '.',
      act: () => {
        view.hidden.set(new Set());
        view.through.set(new Set());
      },
    },
    { name: 'Units: metric', what: 'action', act: () => doc.editSettings('Metric units', unitSettings(METRIC)) },
    { name: 'Units: inch', what: 'action', act: () => doc.editSettings('Units in inches', unitSettings(INCH)) },
    ...LOAD_KINDS.map((k) => ({
      name: `Add a load: ${k.label.toLowerCase()}`,
      what: 'action',
      act: () => commands.addLoad(k.type, atSelected(chosen)),
    })),
    ...(d.cases ?? []).map((c) => ({ name: `Show the load case ${c.name}`, what: 'action', act: () => doc.loadCase.set(c.id) })),
  ];
  const items: Findable[] = [];
  const fields: Findable[] = [];
  for (const kind of Object.keys(LISTS) as Kind[]) {
    for (const x of d[LISTS[kind]] as { id: string; name?: string; type?: string }[]) {
      const name = x.name ?? x.id;
      items.push({ name, what: kind === 'wanted' ? 'wanted output' : kind, act: () => chosen.select(kind, x.id) });
      for (const f of fieldsOfItem(LISTS[kind], x)) {
        if (f.when && !f.when(x)) continue;
        fields.push({
          name: `${f.label} of ${name}`,
          what: 'field',
          act: () => {
            chosen.select(kind, x.id);
            into(f.key);
          },
        });
      }
    }
  }
  return [...actions, ...more, ...items, ...fields];
}

const atSelected = (chosen: SelectionService): { member?: string; joint?: string } => {
  const s = chosen.selection();
  return s?.kind === 'joint' ? { joint: s.id } : s?.kind === 'member' ? { member: s.id } : {};
};
