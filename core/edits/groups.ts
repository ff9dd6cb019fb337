import type { Design, Id } from '../fields/types';
import { changed, freshId, idsOf, reorder, withoutGaps } from './items';
import { pieceOf, sameTargets, withPiece } from './pieces';

/** Groups items under the next name. */
export const withGroup = (design: Design, items: readonly Id[]): Design => ({
  ...design,
  groups: [...(design.groups ?? []), { id: freshId(idsOf(design), 'group'), name: `Stage ${(design.groups?.length ?? 0) + 1}`, items: [...items] }],
});

/** A group under another name. */
export const withGroupNamed = (design: Design, id: Id, name: string): Design => ({
  ...design,
  groups: design.groups && changed(design.groups, id, (g) => ({ ...g, name })),
});

/** A group one place up or down in its list. */
export function withGroupMoved(design: Design, id: Id, step: 1 | -1): Design {
  const { groups = [] } = design;
  const moved = reorder(groups, id, step);
  return moved === groups ? design : { ...design, groups: [...moved] };
}

/** Takes a group apart; its items stay. */
export function ungrouped(design: Design, id: Id): Design {
  const groups = (design.groups ?? []).filter((g) => g.id !== id);
  return withoutGaps({ ...design, groups: groups.length ? groups : undefined });
}

/** A copy of a group with all its items, connected as the old one is. */
export function withGroupCopied(design: Design, id: Id): Design {
  const group = design.groups?.find((g) => g.id === id);
  const name = `${group?.name} again`;
  const piece = group && pieceOf(design, [id], name);
  return piece ? withPiece(design, piece, { to: sameTargets(design, piece), group: name }).design : design;
}
