import type { Id } from '@unirota/core/document';

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
