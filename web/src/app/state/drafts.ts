import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { May } from '@unirota/contract';
import { type Design, type Problem, readDesign } from '@unirota/core/document';

/**
 * A save that was sent and is not answered yet: it may have arrived,
 * so it is sent again just as it was before anything newer.
 */
export interface SentSave {
  save: string;
  base: number;
  document: Design;
}

/** Work that the server has not confirmed yet, kept on this machine. */
export interface Draft {
  design: string;
  /** Who keeps it: one open design in one tab. Nobody else takes it away while that one lives. */
  writer: string;
  /** Counts the edits; what is confirmed up to a version is no longer needed. */
  version: number;
  /** Revision on the server that it started from. */
  base: number;
  document: Design;
  sent?: SentSave;
}

/** A design as the server had it when it was last opened or saved here: to go on with while the server is away. */
export interface Copy {
  design: string;
  name: string;
  revision: number;
  may: May;
  /** When it was kept, ms since 1970. */
  at: number;
  document: Design;
}

interface Schema extends DBSchema {
  copies: { key: string; value: Copy; indexes: { at: number } };
  drafts: { key: [string, string]; value: Draft; indexes: { design: string } };
}

/** What was found of a design: drafts that can be read, and records that cannot. */
export interface Found {
  drafts: Draft[];
  damaged: { writer: string; record: unknown; problems: readonly Problem[] }[];
}

/** Copies that are kept; those that were looked at longest ago go first. */
const MOST_COPIES = 40;
const DURABLE = { durability: 'strict' } as const;

/**
 * Drafts of one person in IndexedDB; of whoever is at the machine where nobody signs in. Nobody else sees them. What is promised
 * here is on the disk when the promise is kept, so that a killed browser has it.
 */
export class Drafts {
  private opened: Promise<IDBPDatabase<Schema>> | undefined;

  constructor(
    private readonly owner = '',
    private readonly name = 'unirota',
  ) {}

  private smallKey(design: string): string {
    return `unirota.draft.${this.owner && `${this.owner}.`}${design}`;
  }

  private database(): Promise<IDBPDatabase<Schema>> {
    this.opened ??= openDB<Schema>(this.owner ? `${this.name}.${this.owner}` : this.name, 3, {
      upgrade: (db, from, _to, tx) => {
        if (from < 1) db.createObjectStore('drafts', { keyPath: ['design', 'writer'] }).createIndex('design', 'design');
        if (from < 2) db.createObjectStore('copies', { keyPath: 'design' });
        if (from < 3) tx.objectStore('copies').createIndex('at', 'at');
      },
      // A tab of an earlier Unirota holds the old form: it lets go when it is asked.
      blocking: (_old, _new, e) => (e.target as IDBDatabase | null)?.close(),
      terminated: () => (this.opened = undefined),
    });
    this.opened.catch(() => (this.opened = undefined));
    return this.opened;
  }

  async put(draft: Draft): Promise<void> {
    const tx = (await this.database()).transaction('drafts', 'readwrite', DURABLE);
    await Promise.all([tx.store.put(draft), tx.done]);
  }

  /** All that is kept of a design, checked as edits are. */
  async find(design: string): Promise<Found> {
    const records = (await (await this.database()).getAllFromIndex('drafts', 'design', design)) as Partial<Draft>[];
    const found: Found = { drafts: [], damaged: [] };
    for (const r of records) {
      const problems = problemsOf(r);
      if (problems) found.damaged.push({ writer: String(r.writer), record: r, problems });
      else found.drafts.push(r as Draft);
    }
    found.drafts.sort((a, b) => a.version - b.version);
    return found;
  }

  /**
   * Keeps a draft in the browser's small storage, at once: the page is going and a writing to IndexedDB that is under way may go
   * with it. It is a second place, not a promise: too large a draft does not go in.
   */
  lastResort({ design, version, base, document, sent }: Draft): void {
    try {
      localStorage.setItem(this.smallKey(design), JSON.stringify({ design: document, version, base, ...(sent ? { sent } : {}) }));
    } catch {
      // Full or blocked.
    }
  }

  /**
   * What was put into the small storage comes in here, as of a writer who is no more; an earlier Unirota kept its drafts
   * there.
   */
  async takeOver(design: string): Promise<void> {
    const text = localStorage.getItem(this.smallKey(design));
    if (!text) return;
    const old = JSON.parse(text) as { design: Design; version?: number; base: number; save?: string; sent?: SentSave };
    const sent = old.sent ?? (old.save ? { save: old.save, base: old.base, document: old.design } : undefined);
    await this.put({ design, writer: 'small storage', version: old.version ?? 1, base: old.base, document: old.design, ...(sent ? { sent } : {}) });
    localStorage.removeItem(this.smallKey(design));
  }

  /** Takes a writer's draft away, unless it has gone on meanwhile. */
  async clear(design: string, writer: string, version: number): Promise<void> {
    const tx = (await this.database()).transaction('drafts', 'readwrite', DURABLE);
    const standing = await tx.store.get([design, writer]);
    if (standing && !(standing.version > version)) await tx.store.delete([design, writer]);
    await tx.done;
  }

  /** Keeps a copy of what the server has. Nothing is promised by it. */
  async keepCopy(copy: Copy): Promise<void> {
    const tx = (await this.database()).transaction('copies', 'readwrite');
    await tx.store.put(copy);
    // By their times alone: documents are not read for it.
    const over = (await tx.store.count()) - MOST_COPIES;
    const old = over > 0 ? await tx.store.index('at').getAllKeys(null, over) : [];
    await Promise.all([...old.map((design) => tx.store.delete(design)), tx.done]);
  }
  /** The copy of a design, checked as edits are; undefined where there is none that can be read. */
  async copyOf(design: string): Promise<Copy | undefined> {
    const copy = await (await this.database()).get('copies', design);
    return copy && typeof copy.revision === 'number' && !readDesign(copy.document).problems ? copy : undefined;
  }
  /** The designs that are kept here, newest first: names and times, without the documents. */
  async copies(): Promise<Omit<Copy, 'document'>[]> {
    const all = await (await this.database()).getAll('copies');
    return all.map(({ document: _, ...line }) => line).sort((a, b) => b.at - a.at);
  }
  async dropCopy(design: string): Promise<void> {
    await (await this.database()).delete('copies', design);
  }
  /** Whoever signs out leaves no copies for the next. Work that the server has not got stays. */
  async dropCopies(): Promise<void> {
    await (await this.database()).clear('copies');
  }

  /** Goes on with what a writer left who is no more: one step, so that nothing lies in two hands or in none. */
  async adopt(left: Draft, writer: string): Promise<Draft> {
    const mine = { ...left, writer };
    const tx = (await this.database()).transaction('drafts', 'readwrite', DURABLE);
    await Promise.all([tx.store.put(mine), tx.store.delete([left.design, left.writer]), tx.done]);
    return mine;
  }
}

function problemsOf(r: Partial<Draft>): readonly Problem[] | undefined {
  if (typeof r.base !== 'number' || typeof r.version !== 'number' || typeof r.writer !== 'string') {
    return [{ path: '', message: 'the record is not complete' }];
  }
  return readDesign(r.document).problems ?? (r.sent ? readDesign(r.sent.document).problems : undefined);
}
