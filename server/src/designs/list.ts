import { type DeletedLine, type DesignList, type FolderLine, LIST_PAGE, type ListOrder } from '@unirota/contract';
import { LOCAL_ID } from '../accounts/person';
import { inCalendar } from '../database/calendar';
import { Refusal } from '../refusal';
import { type Context, type DesignRow, MAY, SEEN, mayOf } from './rows';

/** Sketches on one page of the list together, bytes. */
const SKETCH_ROOM = 72 * 1024;
/** So many of the deleted designs are listed. */
const MOST_DELETED = 200;

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

/** A page of the list. */
export async function list(c: Context, { order = 'saved', search = '', folder, after }: ListRequest): Promise<DesignList> {
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
  const rows = await c.database.read<
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
      me: c.person.id,
      ...(search ? { search: `%${search.replace(/[\\%_]/g, '\\$&')}%` } : {}),
      ...(folder === undefined ? {} : { folder }),
      ...(from ? { key: from.key, id: from.id } : {}),
    },
  );
  const page = rows.slice(0, LIST_PAGE);
  let room = SKETCH_ROOM;
  for (const r of page) if (r.sketch_revision < r.revision) c.sketches.wanted(r.id);
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
export async function folders(c: Context): Promise<FolderLine[]> {
  const rows = await c.database.read<{ name: string; designs: number }>(
    `SELECT MIN(f.folder) AS name, COUNT(*) AS designs FROM ${SEEN} JOIN filings f ON f.person_id = :me AND f.design_id = d.id
      WHERE d.deleted_at IS NULL GROUP BY f.folder ORDER BY name LIMIT 500`,
    { me: c.person.id },
  );
  return rows.map((r) => ({ name: r.name, designs: Number(r.designs) }));
}

/** Puts a design into a folder of the person's own, or takes it out: whoever sees a design may keep it where he likes. */
export async function file(c: Context, id: string, folder: string | null): Promise<void> {
  await mayOf(c, id);
  const { database } = c;
  if (folder === null) await database.change('DELETE FROM filings WHERE person_id = :me AND design_id = :id', { me: c.person.id, id });
  else {
    await database.change(
      'INSERT INTO filings (person_id, design_id, folder) VALUES (:me, :id, :folder) ON DUPLICATE KEY UPDATE folder = VALUES(folder)',
      { me: c.person.id, id, folder },
    );
  }
}

/** What this person has deleted and can still restore, the latest first. */
export async function deleted(c: Context): Promise<DeletedLine[]> {
  const rows = await c.database.read<{ id: string; name: string; deleted_at: Date }>(
    `SELECT id, name, deleted_at FROM designs WHERE owner_id = :me AND deleted_at IS NOT NULL ORDER BY deleted_at DESC, id LIMIT ${MOST_DELETED}`,
    { me: c.person.id },
  );
  return rows.map((r) => ({ id: r.id, name: r.name, deletedAt: r.deleted_at.toISOString() }));
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
