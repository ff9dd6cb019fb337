import type { RemarkSubject } from '@unirota/contract';
import { type Design, type Id, fieldsOfItem } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import { LISTS, itemOf } from '../../state/items';

const nameIn = (d: Design, id: Id): string => {
  const found = itemOf(d, id);
  return found ? (found.item.name ?? id) : $localize`an item that was deleted`;
};

/** What a remark is about, in words. */
export function subjectText(s: RemarkSubject, d: Design): string {
  switch (s.kind) {
    case 'design':
      return $localize`The whole design`;
    case 'item': {
      const found = itemOf(d, s.item);
      const name = nameIn(d, s.item);
      if (s.field === undefined) return name;
      const label = found && fieldsOfItem(LISTS[found.kind], found.item).find((f) => f.key === s.field)?.label;
      return $localize`${label ?? s.field}:field: of ${name}:item:`;
    }
    case 'finding':
      return $localize`Finding: ${s.message}`;
    case 'instant': {
      const run = d.runs?.find((r) => r.id === s.run)?.name;
      const named = run === undefined ? (s.run === undefined ? $localize`the unsaved run` : $localize`a run that was deleted`) : `“${run}”`;
      return $localize`${show(s.time, 4)}:time: s in ${named}:run:`;
    }
    case 'place':
      return $localize`A place on ${nameIn(d, s.member)}`;
  }
}
