import { type DBSchema, type IDBPDatabase, type IDBPTransaction, openDB } from 'idb';

interface Content {
  hash: string;
  bytes: Uint8Array<ArrayBuffer>;
  size: number;
  /** When it was put here, ms since 1970. */
  at: number;
  /** Designs whose server has not taken it yet, and their number: an index takes no list's length. */
  waiting: string[];
  waits: number;
}
/** What room is made by, without a look at the bytes. */
type Room = [at: number, size: number, waits: number];
interface Schema extends DBSchema {
  contents: { key: string; value: Content; indexes: { room: Room } };
}

/** Bytes that are kept of contents which the server has; those that were put here longest ago go first. */
const MOST_BYTES = 1024 * 1024 * 1024;

/** Contents of imported shapes of one person in IndexedDB, by hash: like drafts, here before they are on the server. */
export class ShapeContents {
  private opened: Promise<IDBPDatabase<Schema>> | undefined;

  constructor(private readonly owner = '') {}

  private database(): Promise<IDBPDatabase<Schema>> {
    this.opened ??= openDB<Schema>(`unirota-shapes${this.owner && `.${this.owner}`}`, 2, {
      upgrade: (db, old, _now, tx) => void upgrade(db, old, tx),
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
    await Promise.all([tx.store.put({ hash, bytes, size: bytes.length, at: Date.now(), waiting: [...waiting], waits: waiting.size }), tx.done]);
    await this.makeRoom();
  }

  /** The server has taken it for a design. */
  async taken(hash: string, design: string): Promise<void> {
    const tx = (await this.database()).transaction('contents', 'readwrite');
    const had = await tx.store.get(hash);
    const waiting = had?.waiting.filter((d) => d !== design) ?? [];
    if (had) await tx.store.put({ ...had, waiting, waits: waiting.length });
    await tx.done;
  }

  private async makeRoom(): Promise<void> {
    const tx = (await this.database()).transaction('contents', 'readwrite');
    let sum = 0;
    const gone: string[] = [];
    for (let c = await tx.store.index('room').openKeyCursor(null, 'prev'); c; c = await c.continue()) {
      const [, size, waits] = c.key;
      sum += size;
      if (sum > MOST_BYTES && !waits) gone.push(c.primaryKey);
    }
    await Promise.all(gone.map((hash) => tx.store.delete(hash)));
    await tx.done;
  }

  /** Whoever signs out leaves none that the server has. */
  async drop(): Promise<void> {
    const tx = (await this.database()).transaction('contents', 'readwrite');
    const gone: string[] = [];
    for (let c = await tx.store.index('room').openKeyCursor(); c; c = await c.continue()) if (!c.key[2]) gone.push(c.primaryKey);
    await Promise.all(gone.map((hash) => tx.store.delete(hash)));
    await tx.done;
  }
}

/** Brings the store to its present form; one of the first form had no number of waiting designs. */
async function upgrade(db: IDBPDatabase<Schema>, old: number, tx: IDBPTransaction<Schema, 'contents'[], 'versionchange'>): Promise<void> {
  if (!old) return void db.createObjectStore('contents', { keyPath: 'hash' }).createIndex('room', ['at', 'size', 'waits']);
  const store = tx.objectStore('contents');
  store.deleteIndex('at' as never);
  store.createIndex('room', ['at', 'size', 'waits']);
  for (let c = await store.openCursor(); c; c = await c.continue()) await c.update({ ...c.value, waits: c.value.waiting.length });
}
