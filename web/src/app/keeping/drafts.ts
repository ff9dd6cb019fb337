import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import { type Design, type Problem, readDesign } from '@unirota/core/design';

/** A save that was sent and is not answered yet: it may have arrived, so it is sent again just as it was before anything newer. */
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

interface Schema extends DBSchema {
  drafts: { key: [string, string]; value: Draft; indexes: { design: string } };
}

/** What was found of a design: drafts that can be read, and records that cannot. */
export interface Found {
  drafts: Draft[];
  damaged: { writer: string; record: unknown; problems: readonly Problem[] }[];
}

const DURABLE = { durability: 'strict' } as const;

/** Drafts in IndexedDB. What is promised here is on the disk when the promise is kept, so that a killed browser has it. */
export class Drafts {
  private opened: Promise<IDBPDatabase<Schema>> | undefined;

  constructor(private readonly name = 'unirota') {}

  private database(): Promise<IDBPDatabase<Schema>> {
    this.opened ??= openDB<Schema>(this.name, 1, {
      upgrade: (db) => void db.createObjectStore('drafts', { keyPath: ['design', 'writer'] }).createIndex('design', 'design'),
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

  /** What an earlier Unirota kept in the browser's small storage comes in here, as of a writer who is no more. */
  async takeOver(design: string): Promise<void> {
    const key = `unirota.draft.${design}`;
    const text = localStorage.getItem(key);
    if (!text) return;
    const old = JSON.parse(text) as { design: Design; base: number; save?: string };
    const sent = old.save ? { sent: { save: old.save, base: old.base, document: old.design } } : {};
    await this.put({ design, writer: 'earlier', version: 1, base: old.base, document: old.design, ...sent });
    localStorage.removeItem(key);
  }

  /** Takes a writer's draft away, unless it has gone on meanwhile. */
  async clear(design: string, writer: string, version: number): Promise<void> {
    const tx = (await this.database()).transaction('drafts', 'readwrite', DURABLE);
    const standing = await tx.store.get([design, writer]);
    if (standing && !(standing.version > version)) await tx.store.delete([design, writer]);
    await tx.done;
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
