import type { May, SaveAnswer } from '@unirota/contract';
import type { Statements } from '../database/database';
import { Refusal } from '../refusal';
import type { Checked, Key } from '../jobs/tasks';
import { type StoredText, readDesign, revisionOf } from './revisions';
import { roomForDesign, roomForRevision } from './quota';
import { copyShapes } from './shapes';
import { type Context, type SaveRow, MAY, SEEN, accepted, editable, gone, insertDesign, insertRevision, note, packed } from './rows';

const ONE_SAVE = 'This save was already used for another design: give every save an id of its own';
/** The whole documents are this many saves apart at most. */
const KEY_EVERY = 60;

export async function create(c: Context, checked: Checked): Promise<StoredText> {
  const made = await once(c, checked.save, async (s) => {
    await roomForDesign(c, s);
    await roomForRevision(c, s);
    return insertDesign(s, c.person.id, checked, false, (id) => note(c, 'created', id, '', s));
  });
  return readDesign(c, made.id, made.number);
}

/** Reads and checks a save, then adds it as a revision: behind the newest, or beside the line. */
export async function save(c: Context, id: string, body: Uint8Array, beside = false): Promise<SaveAnswer> {
  const checked = await check(c, 'save', body, await keyFor(c, id));
  return add(c, id, checked, beside);
}

export async function check(c: Context, kind: 'create' | 'save', body: Uint8Array, key?: Key): Promise<Checked> {
  return accepted(await c.jobs.run('check', { body, kind, key, withSketch: kind === 'create' }));
}

export async function copy(c: Context, id: string, save: string): Promise<StoredText> {
  const r = await revisionOf(c, id);
  const stem = [...r.name].slice(0, 110).join('').slice(0, 110);
  const made = await create(c, {
    ...(await c.jobs.run('renamed', { ...packed(r), name: `${stem} (copy)`, save })),
    ...(await sketchToCopy(c, id)),
  });
  await copyShapes(c, id, made.id);
  await note(c, 'copied', id);
  // A copy lies beside what it is a copy of.
  await c.database.change(
    'INSERT IGNORE INTO filings (person_id, design_id, folder) SELECT person_id, :made, folder FROM filings WHERE person_id = :me AND design_id = :id',
    { me: c.person.id, id, made: made.id },
  );
  return made;
}

export async function remove(c: Context, id: string): Promise<void> {
  await ownersChange(c, id, 'UPDATE designs SET deleted_at = :now WHERE id = :id AND deleted_at IS NULL', 'deleted');
}

export async function restore(c: Context, id: string): Promise<StoredText> {
  await ownersChange(c, id, 'UPDATE designs SET deleted_at = NULL WHERE id = :id AND :now IS NOT NULL', 'restored');
  return readDesign(c, id);
}

/** The whole document from which the next save may be told apart. */
async function keyFor(c: Context, id: string): Promise<Key | undefined> {
  const { database } = c;
  const d = await editable(c, { rows: (sql, values) => database.read(sql, values) }, id);
  if (!d.key_number || d.last_number - d.key_number >= KEY_EVERY) return undefined;
  const [k] = await database.read<{ body: Buffer }>('SELECT body FROM revisions WHERE design_id = :id AND number = :number AND key_number IS NULL', {
    id,
    number: d.key_number,
  });
  return k && { number: d.key_number, body: k.body };
}

/**
 * Adds a revision that started from `base`. When another one has come meanwhile, refuses with 409 and both stay as they are; a
 * repeated request (same save id) is answered as the first time. Beside the line it is kept whatever has come, and the newest
 * stays the newest.
 */
async function add(c: Context, id: string, checked: Checked, beside: boolean): Promise<SaveAnswer> {
  const saved = await once(c, checked.save, async (s) => {
    const d = await editable(c, s, id, 'FOR UPDATE');
    // The lock may have been had after the first of two equal requests.
    const done = await bySave(c, s, checked.save);
    if (done) return done;
    if (!beside && d.revision !== checked.base) {
      throw new Refusal(409, 'This design was saved elsewhere meanwhile', {
        detail: 'Both versions are kept: choose which one to go on with',
        current: { revision: d.revision, savedAt: d.saved_at.toISOString(), ...(await whoSaved(c, s, id, d.revision)) },
      });
    }
    await roomForRevision(c, s, id);
    const number = Math.max(d.last_number, d.revision) + 1;
    const now = new Date();
    await insertRevision(s, id, number, c.person.id, checked, now, beside);
    const key = checked.keyNumber === null && !beside ? number : d.key_number;
    await s.change(
      beside
        ? 'UPDATE designs SET last_number = :number WHERE id = :id'
        : 'UPDATE designs SET last_number = :number, revision = :number, key_number = :key, name = :name, saved_at = :now WHERE id = :id',
      beside ? { id, number } : { id, number, key, name: checked.name, now },
    );
    await note(c, beside ? 'kept beside' : 'saved', id, '', s);
    return { id, number, saved_at: now };
  });
  if (saved.id !== id) throw new Refusal(422, ONE_SAVE);
  c.sketches.saved(id);
  return { revision: saved.number, savedAt: saved.saved_at.toISOString() };
}

/** Does what a save id stands for once: whoever comes second, also at the very same time, gets what the first one did. */
async function once(c: Context, save: string, work: (s: Statements) => Promise<SaveRow>): Promise<SaveRow> {
  const { database } = c;
  for (let round = 1; ; round++) {
    try {
      return await database.transaction(async (s) => (await bySave(c, s, save)) ?? work(s));
    } catch (e) {
      if ((e as { code?: string }).code !== 'ER_DUP_ENTRY') throw e;
      if (round >= 4) throw new Refusal(422, ONE_SAVE);
    }
  }
}

async function bySave(c: Context, s: Statements, save: string): Promise<SaveRow | undefined> {
  const [row] = await s.rows<SaveRow>(
    `SELECT r.design_id AS id, r.number, r.saved_at FROM ${SEEN} JOIN revisions r ON r.design_id = d.id WHERE r.save_id = :save AND d.deleted_at IS NULL`,
    { me: c.person.id, save },
  );
  return row;
}

async function whoSaved(c: Context, s: Statements, id: string, number: number): Promise<{ person?: string }> {
  const [r] = await s.rows<{ name: string }>(
    'SELECT p.name FROM revisions r JOIN people p ON p.id = r.person_id WHERE r.design_id = :id AND r.number = :number',
    { id, number },
  );
  return r ? { person: r.name } : {};
}

async function sketchToCopy(c: Context, id: string): Promise<{ sketch?: string }> {
  const [row] = await c.database.read<{ sketch: string | null }>('SELECT sketch FROM designs WHERE id = :id', { id });
  return row?.sketch ? { sketch: row.sketch } : {};
}

async function ownersChange(c: Context, id: string, sql: string, action: 'deleted' | 'restored'): Promise<void> {
  await c.database.transaction(async (s) => {
    const [row] = await s.rows<{ may: May }>(`SELECT ${MAY} FROM ${SEEN} WHERE d.id = :id FOR UPDATE`, { me: c.person.id, id });
    if (!row) throw gone();
    if (row.may !== 'own') throw new Refusal(403, `Only the owner can have this design ${action}`);
    if (action === 'restored') await roomForDesign(c, s);
    if ((await s.change(sql, { id, now: new Date() })) === 0 && action === 'deleted') throw gone();
    await note(c, action, id, '', s);
  });
}
