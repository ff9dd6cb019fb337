import { randomUUID } from 'node:crypto';
import { inflate } from 'node:zlib';
import { promisify } from 'node:util';
import type { Logger } from 'pino';
import { type DeletedLine, DesignList, FolderLine, LIST_PAGE, ListOrder, May, RevisionLine, SaveAnswer } from '@unirota/contract';
import type { Audit } from '../accounts/audit';
import { LOCAL_ID, type Person } from '../accounts/person';
import type { Database, Statements } from '../database/database';
import { inCalendar } from '../http/calendar';
import { Refusal } from '../http/problem';
import type { Jobs } from '../jobs/jobs';
import type { Checked, Key, Refused } from '../jobs/tasks';
import { Sketches } from './sketches';
import { superfluous } from './thinning';

const unpack = promisify(inflate);

export const gone = (): Refusal => new Refusal(404, 'This design does not exist or has been deleted');

/**
 * The designs that a person may see, and what that person may do there. Every statement about designs stands on this one; the list
 * says the same in three parts, each by an index.
 */
const SEEN = `designs d LEFT JOIN shares s ON s.design_id = d.id AND s.person_id = :me
  JOIN (SELECT 1) seen ON d.owner_id = :me OR s.may IS NOT NULL OR (d.demo = 1 AND d.owner_id = '${LOCAL_ID}')`;
const MAY = `CASE WHEN d.owner_id = :me THEN 'own' ELSE COALESCE(s.may, 'look') END AS may`;

interface DesignRow {
  id: string;
  name: string;
  revision: number;
  last_number: number;
  key_number: number;
  saved_at: Date;
  may: May;
}
interface RevisionRow {
  number: number;
  save_id: string;
  name: string;
  saved_at: Date;
  body: Buffer;
  key_number: number | null;
  key_body: Buffer | null;
}
interface SaveRow {
  id: string;
  number: number;
  saved_at: Date;
}

/** A stored design whose document is still text: answers are put together without looking into it. */
export interface StoredText {
  id: string;
  revision: number;
  savedAt: string;
  may: May;
  design: string;
}

const ONE_SAVE = 'This save was already used for another design: give every save an id of its own';
/** The whole documents are this many saves apart at most. */
const KEY_EVERY = 60;
/** Sketches on one page of the list together, bytes. */
const SKETCH_ROOM = 72 * 1024;
/** So many of the deleted designs are listed. */
const MOST_DELETED = 200;
const THIN_EVERY = 3_600_000;
/** So few revisions need no thinning. */
const FEW = 20;
const MOST_REMEMBERED = 20_000;

const ORDERS: Readonly<Record<ListOrder, { column: string; down: boolean; read(v: unknown): string | Date }>> = {
  saved: { column: 'd.saved_at', down: true, read: (v) => new Date(v as string) },
  created: { column: 'd.created_at', down: true, read: (v) => new Date(v as string) },
  name: { column: 'd.name', down: false, read: String },
};

/** The index off which a person's own are read in each order. */
const OWN_INDEX: Readonly<Record<ListOrder, string>> = { saved: 'by_owner_saved', created: 'by_owner_created', name: 'by_owner_name' };

export interface ListRequest {
  order?: ListOrder;
  search?: string;
  folder?: string;
  after?: string;
}

export interface DesignsOptions {
  database: Database;
  jobs: Jobs;
  log: Logger;
  /** Only where people sign in. */
  audit?: Audit;
}

/** Designs and their revisions in SQL. What is done for a person goes through `of`; nothing here can be asked without one. */
export class Designs {
  readonly sketches: Sketches;
  /** When each design was last looked through for what is superfluous: by this server, so that it need not ask at every save. */
  private readonly thinned = new Map<string, number>();

  constructor(private readonly options: DesignsOptions) {
    this.sketches = new Sketches(options.database, options.jobs, options.log);
  }

  of(person: Person): PersonsDesigns {
    return new PersonsDesigns(person, this.options, this);
  }

  /** A demo design, once for a database: its save id says whether it has been here. Gives whether it was new. */
  async addDemo(checked: Checked): Promise<boolean> {
    return this.options.database.transaction(async (s) => {
      const had = await s.rows('SELECT 1 FROM revisions WHERE save_id = :save', { save: checked.save });
      if (had.length) return false;
      await insertDesign(s, LOCAL_ID, checked, true);
      return true;
    });
  }

  /** Takes away revisions that their age makes superfluous; at most once an hour for a design, by whichever server comes first. */
  async thin(id: string, now = new Date()): Promise<number> {
    const { database } = this.options;
    const mine = await database.change('UPDATE designs SET thinned_at = :now WHERE id = :id AND (thinned_at IS NULL OR thinned_at < :before)', {
      id,
      now,
      before: new Date(now.getTime() - THIN_EVERY),
    });
    if (!mine) return 0;
    return database.transaction(async (s) => {
      const [d] = await s.rows<{ revision: number; key_number: number }>('SELECT revision, key_number FROM designs WHERE id = :id FOR UPDATE', {
        id,
      });
      const rows = await s.rows<{ number: number; saved_at: Date; label: string | null; beside: number; key_number: number | null }>(
        'SELECT number, saved_at, label, beside, key_number FROM revisions WHERE design_id = :id',
        { id },
      );
      const kept = rows.map((r) => ({ number: r.number, savedAt: r.saved_at, label: r.label, beside: r.beside === 1, keyNumber: r.key_number }));
      const go = superfluous(kept, d.revision, d.key_number, now);
      for (const number of go) await s.change('DELETE FROM revisions WHERE design_id = :id AND number = :number', { id, number });
      return go.length;
    });
  }

  /** Takes away for good what was deleted so many days ago, with all its revisions; some at a time. Gives how many. */
  async purge(days: number, now = new Date()): Promise<number> {
    const { database } = this.options;
    const rows = await database.read<{ id: string }>('SELECT id FROM designs WHERE deleted_at < :old LIMIT 50', {
      old: new Date(now.getTime() - days * 86_400_000),
    });
    for (const { id } of rows) {
      await database.transaction(async (s) => {
        // Restored meanwhile, it stays.
        const [still] = await s.rows('SELECT 1 FROM designs WHERE id = :id AND deleted_at IS NOT NULL FOR UPDATE', { id });
        if (!still) return;
        for (const table of ['filings', 'shares', 'links', 'revisions']) await s.change(`DELETE FROM ${table} WHERE design_id = :id`, { id });
        await s.change('DELETE FROM designs WHERE id = :id', { id });
      });
    }
    return rows.length;
  }

  /** As `thin`, after a save: asks only when an hour has passed here. */
  async thinSometimes(id: string): Promise<void> {
    const now = Date.now();
    if (now - (this.thinned.get(id) ?? 0) < THIN_EVERY) return;
    if (this.thinned.size > MOST_REMEMBERED) this.thinned.clear();
    this.thinned.set(id, now);
    await this.thin(id);
  }

  end(): void {
    this.sketches.end();
  }
}

/** The designs as one person has them. */
export class PersonsDesigns {
  constructor(
    private readonly person: Person,
    private readonly options: DesignsOptions,
    private readonly all: Designs,
  ) {}

  /** A page of the list. */
  async list({ order = 'saved', search = '', folder, after }: ListRequest): Promise<DesignList> {
    const { column, down, read } = ORDERS[order];
    const from = after ? cursorOf(after, read) : undefined;
    const [ahead, way] = down ? ['<', 'DESC'] : ['>', 'ASC'];
    // As many as fill the page of what is his own, is shared with him, or is everybody's, each by an index.
    const some = (tables: string, whose: string): string => `(SELECT d.id, ${column} AS place
         FROM ${tables} ${folder === undefined ? '' : 'JOIN filings f ON f.person_id = :me AND f.design_id = d.id AND f.folder = :folder'}
        WHERE ${whose} AND d.deleted_at IS NULL
          ${search ? 'AND d.name LIKE :search' : ''}
          ${from ? `AND ${column} ${ahead}= :key AND (${column} ${ahead} :key OR d.id ${ahead} :id)` : ''}
        ORDER BY ${column} ${way}, d.id ${way} LIMIT ${LIST_PAGE + 1})`;
    const own = folder === undefined ? `designs d FORCE INDEX (${OWN_INDEX[order]})` : 'designs d';
    // The first of them all; only these are looked at.
    const rows = await this.options.database.read<
      DesignRow & { created_at: Date; sketch: string | null; sketch_revision: number; owner: string | null; folder: string | null }
    >(
      `SELECT d.id, d.name, d.revision, d.saved_at, d.created_at, d.sketch, d.sketch_revision, ${MAY}, p.name AS owner, f.folder
         FROM (
           ${some(own, 'd.owner_id = :me')}
           UNION ${some('shares s JOIN designs d ON d.id = s.design_id', 's.person_id = :me')}
           UNION ${some('designs d', `d.demo = 1 AND d.owner_id = '${LOCAL_ID}'`)}
           ORDER BY place ${way}, id ${way} LIMIT ${LIST_PAGE + 1}
         ) first JOIN designs d ON d.id = first.id
              LEFT JOIN shares s ON s.design_id = d.id AND s.person_id = :me
              LEFT JOIN people p ON p.id = d.owner_id AND p.id <> :me
              LEFT JOIN filings f ON f.person_id = :me AND f.design_id = d.id
        ORDER BY ${column} ${way}, d.id ${way}`,
      {
        me: this.person.id,
        ...(search ? { search: `%${search.replace(/[\\%_]/g, '\\$&')}%` } : {}),
        ...(folder === undefined ? {} : { folder }),
        ...(from ? { key: from.key, id: from.id } : {}),
      },
    );
    const page = rows.slice(0, LIST_PAGE);
    let room = SKETCH_ROOM;
    for (const r of page) if (r.sketch_revision < r.revision) this.all.sketches.wanted(r.id);
    const last = page.at(-1);
    return {
      designs: page.map((r) => {
        const fits = r.sketch !== null && r.sketch.length <= room;
        if (fits) room -= r.sketch!.length;
        return {
          id: r.id,
          name: r.name,
          revision: r.revision,
          savedAt: r.saved_at.toISOString(),
          may: r.may,
          ...(r.owner ? { owner: r.owner } : {}),
          ...(r.folder === null ? {} : { folder: r.folder }),
          ...(fits ? { sketch: JSON.parse(r.sketch!) } : {}),
        };
      }),
      ...(rows.length > LIST_PAGE && last
        ? { next: cursor(order === 'name' ? last.name : (order === 'saved' ? last.saved_at : last.created_at).toISOString(), last.id) }
        : {}),
    };
  }

  /** The person's folders that something is in. */
  async folders(): Promise<FolderLine[]> {
    const rows = await this.options.database.read<{ name: string; designs: number }>(
      `SELECT MIN(f.folder) AS name, COUNT(*) AS designs FROM ${SEEN} JOIN filings f ON f.person_id = :me AND f.design_id = d.id
        WHERE d.deleted_at IS NULL GROUP BY f.folder ORDER BY name LIMIT 500`,
      { me: this.person.id },
    );
    return rows.map((r) => ({ name: r.name, designs: Number(r.designs) }));
  }

  /** Puts a design into a folder of the person's own, or takes it out: whoever sees a design may keep it where he likes. */
  async file(id: string, folder: string | null): Promise<void> {
    await this.may(id);
    const { database } = this.options;
    if (folder === null) await database.change('DELETE FROM filings WHERE person_id = :me AND design_id = :id', { me: this.person.id, id });
    else {
      await database.change(
        'INSERT INTO filings (person_id, design_id, folder) VALUES (:me, :id, :folder) ON DUPLICATE KEY UPDATE folder = VALUES(folder)',
        { me: this.person.id, id, folder },
      );
    }
  }

  /** The sketch of a design as JSON, drawn now where none is kept. */
  async sketch(id: string): Promise<string> {
    const [row] = await this.options.database.read<{ sketch: string | null }>(
      `SELECT d.sketch FROM ${SEEN} WHERE d.id = :id AND d.deleted_at IS NULL`,
      {
        me: this.person.id,
        id,
      },
    );
    if (!row) throw gone();
    return row.sketch ?? this.options.jobs.run('sketched', packed(await this.revision(id)));
  }

  async revisionSketch(id: string, number: number): Promise<string> {
    return this.options.jobs.run('sketched', packed(await this.revision(id, number)));
  }

  /** The newest revision of a design, or the one named. */
  async read(id: string, number?: number): Promise<StoredText> {
    const r = await this.revision(id, number);
    const { body, key } = packed(r);
    // Small and whole is unpacked beside; what has to be put together is a worker's.
    const design = key || body.length > 100_000 ? await this.options.jobs.run('textOf', { body, key }) : (await unpack(body)).toString();
    await (number === undefined ? this.note('opened', id) : this.note('opened revision', id, String(number)));
    return { id, revision: r.number, savedAt: r.saved_at.toISOString(), may: r.may, design };
  }

  async may(id: string): Promise<May> {
    const [row] = await this.options.database.read<{ may: May }>(`SELECT ${MAY} FROM ${SEEN} WHERE d.id = :id AND d.deleted_at IS NULL`, {
      me: this.person.id,
      id,
    });
    if (!row) throw gone();
    return row.may;
  }

  async revisions(id: string): Promise<RevisionLine[]> {
    const rows = await this.options.database.read<{
      number: number;
      saved_at: Date;
      name: string;
      label: string | null;
      beside: number;
      size: number;
      person: string | null;
    }>(
      `SELECT r.number, r.saved_at, r.name, r.label, r.beside, r.size, p.name AS person
         FROM ${SEEN} JOIN revisions r ON r.design_id = d.id LEFT JOIN people p ON p.id = r.person_id
        WHERE d.id = :id AND d.deleted_at IS NULL ORDER BY r.number DESC LIMIT 1000`,
      { me: this.person.id, id },
    );
    if (!rows.length) throw gone();
    return rows.map((r) => ({
      number: r.number,
      savedAt: r.saved_at.toISOString(),
      name: r.name,
      size: r.size,
      ...(r.person ? { person: r.person } : {}),
      ...(r.label !== null ? { label: r.label } : {}),
      ...(r.beside ? { beside: true } : {}),
    }));
  }

  /** Gives a revision a name, so that it is kept for ever, or takes the name away. */
  async label(id: string, number: number, label: string | null): Promise<void> {
    await this.options.database.transaction(async (s) => {
      await this.editable(s, id, 'FOR UPDATE');
      const n = await s.rows('SELECT 1 FROM revisions WHERE design_id = :id AND number = :number', { id, number });
      if (!n.length) throw new Refusal(404, 'There is no such revision');
      await s.change('UPDATE revisions SET label = :label WHERE design_id = :id AND number = :number', { id, number, label });
      await this.note('named', id, `${number}: ${label ?? '—'}`, s);
    });
  }

  async create(checked: Checked): Promise<StoredText> {
    const made = await this.once(checked.save, (s) => insertDesign(s, this.person.id, checked, false, (id) => this.note('created', id, '', s)));
    return this.read(made.id, made.number);
  }

  /** Reads and checks a save, then adds it as a revision: behind the newest, or beside the line. */
  async save(id: string, body: Uint8Array, beside = false): Promise<SaveAnswer> {
    const checked = await this.check('save', body, await this.key(id));
    return this.add(id, checked, beside);
  }

  async check(kind: 'create' | 'save', body: Uint8Array, key?: Key): Promise<Checked> {
    return accepted(await this.options.jobs.run('check', { body, kind, key, withSketch: kind === 'create' }));
  }

  async copy(id: string, save: string): Promise<StoredText> {
    const r = await this.revision(id);
    const stem = [...r.name].slice(0, 110).join('').slice(0, 110);
    const made = await this.create({
      ...(await this.options.jobs.run('renamed', { ...packed(r), name: `${stem} (copy)`, save })),
      ...(await this.sketchToCopy(id)),
    });
    await this.note('copied', id);
    // A copy lies beside what it is a copy of.
    await this.options.database.change(
      'INSERT IGNORE INTO filings (person_id, design_id, folder) SELECT person_id, :made, folder FROM filings WHERE person_id = :me AND design_id = :id',
      { me: this.person.id, id, made: made.id },
    );
    return made;
  }

  /** What this person has deleted and can still restore, the latest first. */
  async deleted(): Promise<DeletedLine[]> {
    const rows = await this.options.database.read<{ id: string; name: string; deleted_at: Date }>(
      `SELECT id, name, deleted_at FROM designs WHERE owner_id = :me AND deleted_at IS NOT NULL ORDER BY deleted_at DESC, id LIMIT ${MOST_DELETED}`,
      { me: this.person.id },
    );
    return rows.map((r) => ({ id: r.id, name: r.name, deletedAt: r.deleted_at.toISOString() }));
  }

  async remove(id: string): Promise<void> {
    await this.ownersChange(id, 'UPDATE designs SET deleted_at = :now WHERE id = :id AND deleted_at IS NULL', 'deleted');
  }

  async restore(id: string): Promise<StoredText> {
    await this.ownersChange(id, 'UPDATE designs SET deleted_at = NULL WHERE id = :id AND :now IS NOT NULL', 'restored');
    return this.read(id);
  }

  /** Refuses who may not edit. Gives the row. */
  private async editable(s: Pick<Statements, 'rows'>, id: string, lock: '' | 'FOR UPDATE' = ''): Promise<DesignRow> {
    const [row] = await s.rows<DesignRow>(
      `SELECT d.id, d.name, d.revision, d.last_number, d.key_number, d.saved_at, ${MAY} FROM ${SEEN} WHERE d.id = :id AND d.deleted_at IS NULL ${lock}`,
      { me: this.person.id, id },
    );
    if (!row) throw gone();
    if (row.may === 'look') throw new Refusal(403, 'You may look at this design, not edit it: duplicate it to have one of your own');
    return row;
  }

  /** The whole document from which the next save may be told apart. */
  private async key(id: string): Promise<Key | undefined> {
    const { database } = this.options;
    const d = await this.editable({ rows: (sql, values) => database.read(sql, values) }, id);
    if (!d.key_number || d.last_number - d.key_number >= KEY_EVERY) return undefined;
    const [k] = await database.read<{ body: Buffer }>(
      'SELECT body FROM revisions WHERE design_id = :id AND number = :number AND key_number IS NULL',
      {
        id,
        number: d.key_number,
      },
    );
    return k && { number: d.key_number, body: k.body };
  }

  /**
   * Adds a revision that started from `base`. When another one has come meanwhile, refuses with 409 and both stay as they are; a
   * repeated request (same save id) is answered as the first time. Beside the line it is kept whatever has come, and the newest
   * stays the newest.
   */
  private async add(id: string, checked: Checked, beside: boolean): Promise<SaveAnswer> {
    const saved = await this.once(checked.save, async (s) => {
      const d = await this.editable(s, id, 'FOR UPDATE');
      // The lock may have been had after the first of two equal requests.
      const done = await this.bySave(s, checked.save);
      if (done) return done;
      if (!beside && d.revision !== checked.base) {
        throw new Refusal(409, 'This design was saved elsewhere meanwhile', {
          detail: 'Both versions are kept: choose which one to go on with',
          current: { revision: d.revision, savedAt: d.saved_at.toISOString(), ...(await this.whoSaved(s, id, d.revision)) },
        });
      }
      const number = Math.max(d.last_number, d.revision) + 1;
      const now = new Date();
      await insertRevision(s, id, number, this.person.id, checked, now, beside);
      const key = checked.keyNumber === null && !beside ? number : d.key_number;
      await s.change(
        beside
          ? 'UPDATE designs SET last_number = :number WHERE id = :id'
          : 'UPDATE designs SET last_number = :number, revision = :number, key_number = :key, name = :name, saved_at = :now WHERE id = :id',
        beside ? { id, number } : { id, number, key, name: checked.name, now },
      );
      await this.note(beside ? 'kept beside' : 'saved', id, '', s);
      return { id, number, saved_at: now };
    });
    if (saved.id !== id) throw new Refusal(422, ONE_SAVE);
    this.all.sketches.saved(id);
    if (saved.number > FEW) void this.all.thinSometimes(id).catch((e: unknown) => this.options.log.debug({ err: e }, 'not thinned'));
    return { revision: saved.number, savedAt: saved.saved_at.toISOString() };
  }

  /** Does what a save id stands for once: whoever comes second, also at the very same time, gets what the first one did. */
  private async once(save: string, work: (s: Statements) => Promise<SaveRow>): Promise<SaveRow> {
    const { database } = this.options;
    for (let round = 1; ; round++) {
      try {
        return await database.transaction(async (s) => (await this.bySave(s, save)) ?? work(s));
      } catch (e) {
        if ((e as { code?: string }).code !== 'ER_DUP_ENTRY') throw e;
        if (round >= 4) throw new Refusal(422, ONE_SAVE);
      }
    }
  }

  private async bySave(s: Statements, save: string): Promise<SaveRow | undefined> {
    const [row] = await s.rows<SaveRow>(
      `SELECT r.design_id AS id, r.number, r.saved_at FROM ${SEEN} JOIN revisions r ON r.design_id = d.id WHERE r.save_id = :save AND d.deleted_at IS NULL`,
      { me: this.person.id, save },
    );
    return row;
  }

  private async whoSaved(s: Statements, id: string, number: number): Promise<{ person?: string }> {
    const [r] = await s.rows<{ name: string }>(
      'SELECT p.name FROM revisions r JOIN people p ON p.id = r.person_id WHERE r.design_id = :id AND r.number = :number',
      { id, number },
    );
    return r ? { person: r.name } : {};
  }

  private async revision(id: string, number?: number): Promise<RevisionRow & { may: May }> {
    const [row] = await this.options.database.read<RevisionRow & { may: May }>(
      `SELECT r.number, r.save_id, r.name, r.saved_at, r.body, r.key_number, k.body AS key_body, ${MAY}
         FROM ${SEEN} JOIN revisions r ON r.design_id = d.id AND r.number = COALESCE(:number, d.revision)
         LEFT JOIN revisions k ON k.design_id = d.id AND k.number = r.key_number
        WHERE d.id = :id AND d.deleted_at IS NULL`,
      { me: this.person.id, id, number: number ?? null },
    );
    if (!row) throw number === undefined ? gone() : new Refusal(404, 'There is no such revision: it may have been thinned out');
    return row;
  }

  private async sketchToCopy(id: string): Promise<{ sketch?: string }> {
    const [row] = await this.options.database.read<{ sketch: string | null }>('SELECT sketch FROM designs WHERE id = :id', { id });
    return row?.sketch ? { sketch: row.sketch } : {};
  }

  private async ownersChange(id: string, sql: string, action: 'deleted' | 'restored'): Promise<void> {
    await this.options.database.transaction(async (s) => {
      const [row] = await s.rows<{ may: May }>(`SELECT ${MAY} FROM ${SEEN} WHERE d.id = :id FOR UPDATE`, { me: this.person.id, id });
      if (!row) throw gone();
      if (row.may !== 'own') throw new Refusal(403, `Only the owner can have this design ${action}`);
      if ((await s.change(sql, { id, now: new Date() })) === 0 && action === 'deleted') throw gone();
      await this.note(action, id, '', s);
    });
  }

  private async note(action: Parameters<Audit['note']>[1], design: string, detail = '', within?: Statements): Promise<void> {
    const { audit, log } = this.options;
    if (!audit) return;
    if (within) return audit.note(this.person, action, design, detail, within);
    // What is only looked at is answered also where the note cannot be written.
    await audit.note(this.person, action, design, detail).catch((e: unknown) => log.warn({ err: e }, 'audit line not written'));
  }
}

export function accepted(c: Checked | Refused): Checked {
  if ('status' in c) throw new Refusal(c.status, c.title, c.problems ? { problems: c.problems } : {});
  return c;
}

const packed = (r: RevisionRow): { body: Uint8Array; key?: Uint8Array } => ({ body: r.body, ...(r.key_body ? { key: r.key_body } : {}) });

async function insertDesign(s: Statements, owner: string, c: Checked, demo: boolean, then?: (id: string) => Promise<void>): Promise<SaveRow> {
  const id = randomUUID();
  const now = new Date();
  await s.change(
    `INSERT INTO designs (id, name, revision, last_number, key_number, created_at, saved_at, owner_id, demo, sketch, sketch_revision)
     VALUES (:id, :name, 1, 1, 1, :now, :now, :owner, :demo, :sketch, :drawn)`,
    { id, name: c.name, now, owner, demo: demo ? 1 : 0, sketch: c.sketch ?? null, drawn: c.sketch === undefined ? 0 : 1 },
  );
  await insertRevision(s, id, 1, owner, c, now, false);
  await then?.(id);
  return { id, number: 1, saved_at: now };
}

async function insertRevision(s: Statements, id: string, number: number, person: string, c: Checked, now: Date, beside: boolean): Promise<void> {
  await s.change(
    `INSERT INTO revisions (design_id, number, save_id, name, saved_at, body, key_number, size, person_id, beside)
     VALUES (:id, :number, :save, :name, :now, :body, :key, :size, :person, :beside)`,
    { id, number, save: c.save, name: c.name, now, body: Buffer.from(c.body), key: c.keyNumber, size: c.size, person, beside: beside ? 1 : 0 },
  );
}

const cursor = (key: string, id: string): string => Buffer.from(JSON.stringify([key, id])).toString('base64url');

function cursorOf(text: string, read: (v: unknown) => string | Date): { key: string | Date; id: string } {
  try {
    const [key, id] = JSON.parse(Buffer.from(text, 'base64url').toString()) as [unknown, unknown];
    const value = read(key);
    if (typeof key === 'string' && typeof id === 'string' && !(value instanceof Date && !inCalendar(value))) return { key: value, id };
  } catch {
    // Said below.
  }
  throw new Refusal(400, 'The place in the list is not one that this server gave');
}
