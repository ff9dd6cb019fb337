import { type DBSchema, type IDBPDatabase, openDB } from 'idb';

interface Content {
  hash: string;
  bytes: Uint8Array<ArrayBuffer>;
  size: number;
  /** When it was last asked for, ms since 1970. */
  at: number;
  /** Designs whose server has not taken it yet. */
  waiting: string[];
}
interface Schema extends DBSchema {
  contents: { key: string; value: Content; indexes: { at: number } };
}

/** Bytes that are kept of contents which the server has; those that were asked for longest ago go first. */
const MOST_BYTES = 1024 * 1024 * 1024;

/** Contents of imported shapes of one person in IndexedDB, by hash: like drafts, here before they are on the server. */
export class ShapeContents {
  private opened: Promise<IDBPDatabase<Schema>> | undefined;

  constructor(private readonly owner = '') {}

  private database(): Promise<IDBPDatabase<Schema>> {
    this.opened ??= openDB<Schema>(`unirota-shapes${this.owner && `.${this.owner}`}`, 1, {
      upgrade: (db) => void db.createObjectStore('contents', { keyPath: 'hash' }).createIndex('at', 'at'),
      blocking: (_old, _new, e) => (e.target as IDBDatabase | null)?.close(),
      terminated: () => (this.opened = undefined),
    });
    this.opened.catch(() => (this.opened = undefined));
    return this.opened;
  }

  async get(hash: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
    return (await (await this.database()).get('contents', hash))?.bytes;
  }

  /** Keeps a content; for a design whose server has still to take it, where one is named. */
  async put(hash: string, bytes: Uint8Array<ArrayBuffer>, waitingFor?: string): Promise<void> {
    const tx = (await this.database()).transaction('contents', 'readwrite', { durability: 'strict' });
    const had = await tx.store.get(hash);
    const waiting = new Set([...(had?.waiting ?? []), ...(waitingFor === undefined ? [] : [waitingFor])]);
    await Promise.all([tx.store.put({ hash, bytes, size: bytes.length, at: Date.now(), waiting: [...waiting] }), tx.done]);
    await this.makeRoom();
  }

  /** The server has taken it for a design. */
  async taken(hash: string, design: string): Promise<void> {
    const tx = (await this.database()).transaction('contents', 'readwrite');
    const had = await tx.store.get(hash);
    if (had) await tx.store.put({ ...had, waiting: had.waiting.filter((d) => d !== design) });
    await tx.done;
  }

  private async makeRoom(): Promise<void> {
    const tx = (await this.database()).transaction('contents', 'readwrite');
    const all: { hash: string; size: number; waits: boolean }[] = [];
    for (let c = await tx.store.index('at').openCursor(null, 'prev'); c; c = await c.continue()) {
      all.push({ hash: c.value.hash, size: c.value.size, waits: c.value.waiting.length > 0 });
    }
    let sum = 0;
    for (const { hash, size, waits } of all) {
      sum += size;
      if (sum > MOST_BYTES && !waits) await tx.store.delete(hash);
    }
    await tx.done;
  }

  /** Whoever signs out leaves none that the server has. */
  async drop(): Promise<void> {
    const tx = (await this.database()).transaction('contents', 'readwrite');
    for (let c = await tx.store.openCursor(); c; c = await c.continue()) if (!c.value.waiting.length) await c.delete();
    await tx.done;
  }
}
