import { LOAD_KINDS, fieldsOfItem, unitSettings } from '@unirota/core/document';
import { INCH, METRIC } from '@unirota/core/units';
import type { Findable } from './find-dialog';
import { LISTS, STEP_LABELS, type Kind, type WorkbenchStore } from './workbench.store';

/** Puts the caret into a field of the data sheet, once it is there. */
function into(key: string): void {
  setTimeout(() => {
    const field = document.getElementById(`f-${key}`);
    if (!field) return;
    const shut = field.closest('mat-expansion-panel')?.querySelector<HTMLElement>('[aria-expanded=false]');
    shut?.click();
    const take = (): void => {
      field.scrollIntoView({ block: 'center' });
      field.focus();
      if (field instanceof HTMLInputElement) field.select();
    };
    // What is folded away can be taken once it is unfolded.
    if (shut) setTimeout(take, UNFOLDS);
    else take();
  });
}
/** How long a panel takes to unfold, ms. */
const UNFOLDS = 250;

/** Everything of an open design that has a name: what can be done, its items, and their fields. */
export function findables(store: WorkbenchStore, more: readonly Findable[]): Findable[] {
  const d = store.design();
  const members = (): string[] =>
    store
      .selected()
      .filter((x) => x.kind === 'member')
      .map((x) => x.id);
  const actions: Findable[] = [
    ...STEP_LABELS.map((s, k) => ({ name: `Go to ${s.label}`, what: String(k + 1), act: () => store.step.set(s.step) })),
    { name: 'Put a stage in', what: 'P', act: () => store.inserting.set({ from: store.memberAt() }) },
    {
      name: 'Build: add parts and put them together',
      what: 'B',
      act: () => {
        store.toReference();
        store.step.set('layout');
        store.building.set(true);
      },
    },
    { name: 'Undo', what: 'Ctrl Z', act: () => store.undo() },
    { name: 'Redo', what: 'Ctrl Y', act: () => store.redo() },
    { name: 'Play at nominal speed, or pause', what: 'Space', act: () => store.play(store.playing() ? 0 : 1) },
    { name: 'Turn the source on by a quarter turn', what: ']', act: () => store.turnBy(0.25) },
    { name: 'Turn the source back by a quarter turn', what: '[', act: () => store.turnBy(-0.25) },
    { name: 'Everything back where it stands at rest', what: 'action', act: () => store.toReference() },
    { name: 'Fit the train: working distances and phases', what: 'W', act: () => store.fit() },
    { name: 'Copy the selected', what: 'Ctrl C', act: () => store.copy() },
    { name: 'Paste', what: 'Ctrl V', act: () => store.paste() },
    { name: 'Duplicate the selected', what: 'Ctrl D', act: () => store.duplicate(store.selected().map((s) => s.id)) },
    { name: 'Delete the selected', what: 'Delete', act: () => store.removeSelected() },
    { name: 'Group the selected', what: 'G', act: () => store.group() },
    { name: 'Hide the selected members', what: 'H', act: () => store.toggleSet('hidden', members()) },
    { name: 'Show only the selected members', what: 'O', act: () => store.isolate(members()) },
    { name: 'See through the selected members', what: 'N', act: () => store.toggleSet('through', members()) },
    {
      name: 'Show all members',
      what: '.',
      act: () => {
        store.hidden.set(new Set());
        store.through.set(new Set());
      },
    },
    { name: 'Units: metric', what: 'action', act: () => store.editSettings('Metric units', unitSettings(METRIC)) },
    { name: 'Units: inch', what: 'action', act: () => store.editSettings('Units in inches', unitSettings(INCH)) },
    ...LOAD_KINDS.map((k) => ({ name: `Add a load: ${k.label.toLowerCase()}`, what: 'action', act: () => store.addLoad(k.type, atSelected(store)) })),
    ...(d.cases ?? []).map((c) => ({ name: `Show the load case ${c.name}`, what: 'action', act: () => store.loadCase.set(c.id) })),
  ];
  const items: Findable[] = [];
  const fields: Findable[] = [];
  for (const kind of Object.keys(LISTS) as Kind[]) {
    for (const x of d[LISTS[kind]] as { id: string; name?: string; type?: string }[]) {
      const name = x.name ?? x.id;
      items.push({ name, what: kind === 'wanted' ? 'wanted output' : kind, act: () => store.select(kind, x.id) });
      for (const f of fieldsOfItem(LISTS[kind], x)) {
        if (f.when && !f.when(x)) continue;
        fields.push({
          name: `${f.label} of ${name}`,
          what: 'field',
          act: () => {
            store.select(kind, x.id);
            into(f.key);
          },
        });
      }
    }
  }
  return [...actions, ...more, ...items, ...fields];
}

const atSelected = (store: WorkbenchStore): { member?: string; joint?: string } => {
  const s = store.selection();
  return s?.kind === 'joint' ? { joint: s.id } : s?.kind === 'member' ? { member: s.id } : {};
};
