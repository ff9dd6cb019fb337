import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import type { May } from '@unirota/contract';
import type { Audit } from '../accounts/audit';
import { LOCAL_ID, type Person } from '../accounts/person';
import type { Database, Statements } from '../database/database';
import { Refusal } from '../refusal';
import type { Jobs } from '../jobs/jobs';
import type { Checked, Refused } from '../jobs/tasks';
import type { Sketches } from './sketches';

/** What a design may hold of imported shapes, bytes. */
export interface ShapeLimits {
  readonly one: number;
  readonly all: number;
}

/** What one person's designs may come to; unbounded where nothing is stated. */
export interface Quota {
  readonly designs?: number;
  /** Bytes of all revisions together, as they are stored. */
  readonly bytes?: number;
}

export const gone = (): Refusal => new Refusal(404, 'This design does not exist or has been deleted');

/**
 * The designs that a person may see, and what that person may do there. Every statement about designs stands on this one; the
 * list says the same in three parts, each by an index.
 */
export const SEEN = `designs d LEFT JOIN shares s ON s.design_id = d.id AND s.person_id = :me
  JOIN (SELECT 1) seen ON d.owner_id = :me OR s.may IS NOT NULL OR (d.demo = 1 AND d.owner_id = '${LOCAL_ID}')`;
export const MAY = `CASE WHEN d.owner_id = :me THEN 'own' ELSE COALESCE(s.may, 'look') END AS may`;

export interface DesignRow {
  id: string;
  name: string;
  revision: number;
  last_number: number;
  key_number: number;
  saved_at: Date;
  may: May;
}
export interface RevisionRow {
  number: number;
  save_id: string;
  name: string;
  saved_at: Date;
  body: Buffer;
  key_number: number | null;
  key_body: Buffer | null;
}
export interface SaveRow {
  id: string;
  number: number;
  saved_at: Date;
}

export interface DesignsOptions {
  database: Database;
  jobs: Jobs;
  log: Logger;
  shapeLimits?: ShapeLimits;
  quota?: Quota;
  /** Only where people sign in. */
  audit?: Audit;
}

/** What is asked for one person. */
export interface Context extends DesignsOptions {
  readonly person: Person;
  readonly sketches: Sketches;
}

export async function mayOf(c: Context, id: string): Promise<May> {
  const [row] = await c.database.read<{ may: May }>(`SELECT ${MAY} FROM ${SEEN} WHERE d.id = :id AND d.deleted_at IS NULL`, {
    me: c.person.id,
    id,
  });
  if (!row) throw gone();
  return row.may;
}

/** Refuses who may not edit. Gives the row. */
export async function editable(c: Context, s: Pick<Statements, 'rows'>, id: string, lock: '' | 'FOR UPDATE' = ''): Promise<DesignRow> {
  const [row] = await s.rows<DesignRow>(
    `SELECT d.id, d.name, d.revision, d.last_number, d.key_number, d.saved_at, ${MAY} FROM ${SEEN} WHERE d.id = :id AND d.deleted_at IS NULL ${lock}`,
    { me: c.person.id, id },
  );
  if (!row) throw gone();
  if (row.may === 'look') throw new Refusal(403, 'You may look at this design, not edit it: duplicate it to have one of your own');
  return row;
}

export async function note(c: Context, action: Parameters<Audit['note']>[1], design: string, detail = '', within?: Statements): Promise<void> {
  const { audit, log } = c;
  if (!audit) return;
  if (within) return audit.note(c.person, action, design, detail, within);
  // What is only looked at is answered also where the note cannot be written.
  await audit.note(c.person, action, design, detail).catch((e: unknown) => log.warn({ err: e }, 'audit line not written'));
}

export function accepted(c: Checked | Refused): Checked {
  if ('status' in c) throw new Refusal(c.status, c.title, c.problems ? { problems: c.problems } : {});
  return c;
}

export const packed = (r: RevisionRow): { body: Uint8Array; key?: Uint8Array } => ({ body: r.body, ...(r.key_body ? { key: r.key_body } : {}) });

export async function insertDesign(s: Statements, owner: string, c: Checked, demo: boolean, then?: (id: string) => Promise<void>): Promise<SaveRow> {
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

export async function insertRevision(
  s: Statements,
  id: string,
  number: number,
  person: string,
  c: Checked,
  now: Date,
  beside: boolean,
): Promise<void> {
  await s.change(
    `INSERT INTO revisions (design_id, number, save_id, name, saved_at, body, key_number, size, person_id, beside)
     VALUES (:id, :number, :save, :name, :now, :body, :key, :size, :person, :beside)`,
    { id, number, save: c.save, name: c.name, now, body: Buffer.from(c.body), key: c.keyNumber, size: c.size, person, beside: beside ? 1 : 0 },
  );
  for (const hash of c.shapes ?? []) {
    await s.change('INSERT INTO revision_shapes (design_id, number, hash) VALUES (:id, :number, :hash)', {
      id,
      number,
      hash: Buffer.from(hash, 'hex'),
    });
  }
}
