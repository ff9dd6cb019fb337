import { fieldsOfItem } from '@unirota/core/document';
import { type Command, type Doers, nameField } from './command-table';
import type { Searchable } from './find-dialog';
import { LISTS, type Kind } from '../state/items';
import { intoField } from '../ui/field-focus';

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
            intoField(f.key);
          },
        });
      }
    }
  }
  return [...actions, ...more, ...items, ...fields];
}
