import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { RunAnswer } from '../engine/run.worker';

interface Kept {
  key: string;
  used: number;
  answer: RunAnswer;
}
interface Schema extends DBSchema {
  runs: { key: string; value: Kept; indexes: { used: number } };
}

/** As many results are kept on this machine; the longest unused goes first. */
const MOST = 24;
/** A result larger than this is computed again instead, bytes. */
const LARGEST = 48e6;

const sizeOf = ({ result }: RunAnswer): number =>
  Object.values(result).reduce<number>((n, v) => n + (v instanceof Float64Array ? v.byteLength : 0), 0);

/** A text as a key of even length. Without a secure context there is none, and nothing is kept. */
async function digest(text: string): Promise<string | undefined> {
  if (!globalThis.crypto?.subtle) return undefined;
  const bytes = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text));
  return Array.from(new Uint8Array(bytes), (b) => b.toString(16).padStart(2, '0')).join('');
}

/** What came of kept runs, in this browser, by what they were computed from: a help to speed that may fail without harm. */
export class RunCache {
  private opened: Promise<IDBPDatabase<Schema>> | undefined;
  constructor(private readonly name = 'unirota-runs') {}

  private database(): Promise<IDBPDatabase<Schema>> {
    this.opened ??= openDB<Schema>(this.name, 1, {
      upgrade: (db) => void db.createObjectStore('runs', { keyPath: 'key' }).createIndex('used', 'used'),
    });
    this.opened.catch(() => (this.opened = undefined));
    return this.opened;
  }

  async get(of: string): Promise<RunAnswer | undefined> {
    try {
      const key = await digest(of);
      if (!key) return undefined;
      const db = await this.database();
      const kept = await db.get('runs', key);
      if (kept) await db.put('runs', { ...kept, used: Date.now() });
      return kept?.answer;
    } catch {
      return undefined;
    }
  }

  async put(of: string, answer: RunAnswer): Promise<void> {
    try {
      const key = sizeOf(answer) <= LARGEST ? await digest(of) : undefined;
      if (!key) return;
      const db = await this.database();
      await db.put('runs', { key, used: Date.now(), answer });
      const keys = await db.getAllKeysFromIndex('runs', 'used');
      await Promise.all(keys.slice(0, -MOST).map((k) => db.delete('runs', k)));
    } catch {
      // A full disk or a private window: it is computed again.
    }
  }
}
