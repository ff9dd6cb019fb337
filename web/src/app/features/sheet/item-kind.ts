import { couplingKind, jointKind } from '@unirota/core';
import { type Field, LOAD_KINDS, SOURCE_KINDS, WANTED_KINDS } from '@unirota/core/document';
import { elementKind } from '@unirota/core/elements';
import type { Kind } from '../../state/items';

/** The kind of an item of a list, with its own fields; undefined for a member. */
export function itemKind(kind: Kind, type: string): { label: string; fields?: readonly Field[] } | undefined {
  switch (kind) {
    case 'element':
      return elementKind(type);
    case 'joint':
      return jointKind(type);
    case 'coupling':
      return couplingKind(type);
    case 'source':
      return SOURCE_KINDS.find((k) => k.type === type);
    case 'load':
      return LOAD_KINDS.find((k) => k.type === type);
    case 'wanted':
      return WANTED_KINDS.find((k) => k.type === type);
    default:
      return undefined;
  }
}
