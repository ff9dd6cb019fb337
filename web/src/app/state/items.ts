import type { Design, Id } from '@unirota/core/document';

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

/** An item of a design by its id, and what it is. */
export function itemOf(d: Design, id: Id): { kind: Kind; item: { id: Id; name?: string; type?: string } } | undefined {
  for (const kind of Object.keys(LISTS) as Kind[]) {
    const item = (d[LISTS[kind]] as { id: Id; name?: string; type?: string }[]).find((x) => x.id === id);
    if (item) return { kind, item };
  }
  return undefined;
}
