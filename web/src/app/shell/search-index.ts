import { fieldsOfItem } from '@unirota/core/document';
import { type Command, type Doers, nameField } from './command-table';
import type { Searchable } from './find-dialog';
import { LISTS, type Kind } from '../state/items';

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

/** Everything of an open design that has a name: what can be done, its items with their names, and their fields. */
export function searchIndex(
  table: readonly Command[],
  { doc, chosen, room }: Pick<Doers, 'doc' | 'chosen' | 'room'>,
  more: readonly Searchable[],
): Searchable[] {
  const d = doc.design();
  const actions = table
    .filter((c) => !c.can || c.can())
    .map((c): Searchable => ({ name: c.name, what: c.shown ?? c.keys?.[0] ?? 'action', act: () => c.run() }));
  const items: Searchable[] = [];
  const fields: Searchable[] = [];
  for (const kind of Object.keys(LISTS) as Kind[]) {
    for (const x of d[LISTS[kind]] as { id: string; name?: string; type?: string }[]) {
      const name = x.name ?? x.id;
      const show = (): void => {
        room.showSheet();
        chosen.select(kind, x.id);
      };
      items.push({ name, what: kind === 'wanted' ? $localize`wanted output` : kind, act: show });
      fields.push({
        name: $localize`Rename ${name}`,
        what: 'rename',
        act: () => {
          show();
          nameField(room);
        },
      });
      for (const f of fieldsOfItem(LISTS[kind], x)) {
        if (f.when && !f.when(x)) continue;
        fields.push({
          name: `${f.label} of ${name}`,
          what: 'field',
          act: () => {
            show();
            into(f.key);
          },
        });
      }
    }
  }
  return [...actions, ...more, ...items, ...fields];
}
