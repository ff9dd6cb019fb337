import type { Design } from '@unirota/core/design';

/** Work that the server has not confirmed yet, kept in the browser. */
export interface Draft {
  design: Design;
  /** Revision on the server that it started from. */
  base: number;
  /** Id of the save, once one was sent: a repeated request is then known for what it is. */
  save?: string;
}

const key = (id: string): string => `unirota.draft.${id}`;

/** Drafts in local storage: written before anything is sent, taken away when the server has confirmed. */
export const drafts = {
  read(id: string, store: Pick<Storage, 'getItem'> = localStorage): Draft | undefined {
    try {
      const text = store.getItem(key(id));
      const d = text ? (JSON.parse(text) as Draft) : undefined;
      return d && typeof d.base === 'number' && d.design ? d : undefined;
    } catch {
      return undefined;
    }
  },
  /** False when the browser would not keep it. */
  write(id: string, draft: Draft, store: Pick<Storage, 'setItem'> = localStorage): boolean {
    try {
      store.setItem(key(id), JSON.stringify(draft));
      return true;
    } catch {
      return false;
    }
  },
  clear(id: string, store: Pick<Storage, 'removeItem'> = localStorage): void {
    try {
      store.removeItem(key(id));
    } catch {
      // Nothing was kept, so nothing is left.
    }
  },
};
