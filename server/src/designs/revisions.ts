import { inflate } from 'node:zlib';
import { promisify } from 'node:util';
import type { May, RevisionLine } from '@unirota/contract';
import { Refusal } from '../refusal';
import { type Context, type RevisionRow, MAY, SEEN, editable, gone, note, packed } from './rows';

const unpack = promisify(inflate);

/** A stored design whose document is still text: answers are put together without looking into it. */
export interface StoredText {
  id: string;
  revision: number;
  savedAt: string;
  may: May;
  design: string;
}

export async function revisionOf(c: Context, id: string, number?: number): Promise<RevisionRow & { may: May }> {
  const [row] = await c.database.read<RevisionRow & { may: May }>(
    `SELECT r.number, r.save_id, r.name, r.saved_at, r.body, r.key_number, k.body AS key_body, ${MAY}
       FROM ${SEEN} JOIN revisions r ON r.design_id = d.id AND r.number = COALESCE(:number, d.revision)
       LEFT JOIN revisions k ON k.design_id = d.id AND k.number = r.key_number
      WHERE d.id = :id AND d.deleted_at IS NULL`,
    { me: c.person.id, id, number: number ?? null },
  );
  if (!row) throw number === undefined ? gone() : new Refusal(404, 'There is no such revision: it may have been thinned out');
  return row;
}

/** The newest revision of a design, or the one named. */
export async function readDesign(c: Context, id: string, number?: number): Promise<StoredText> {
  const r = await revisionOf(c, id, number);
  const { body, key } = packed(r);
  // Small and whole is unpacked beside; what has to be put together is a worker's.
  const design = key || body.length > 100_000 ? await c.jobs.run('textOf', { body, key }) : (await unpack(body)).toString();
  await (number === undefined ? note(c, 'opened', id) : note(c, 'opened revision', id, String(number)));
  return { id, revision: r.number, savedAt: r.saved_at.toISOString(), may: r.may, design };
}

export async function revisions(c: Context, id: string): Promise<RevisionLine[]> {
  const rows = await c.database.read<{
    number: number;
    saved_at: Date;
    name: string;
    label: string | null;
    beside: number;
    size: number;
    person: string | null;
    letter: string | null;
  }>(
    `SELECT r.number, r.saved_at, r.name, r.label, r.beside, r.size, p.name AS person, l.letter
       FROM ${SEEN} JOIN revisions r ON r.design_id = d.id LEFT JOIN people p ON p.id = r.person_id
       LEFT JOIN releases l ON l.design_id = d.id AND l.number = r.number
      WHERE d.id = :id AND d.deleted_at IS NULL ORDER BY r.number DESC LIMIT 1000`,
    { me: c.person.id, id },
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
    ...(r.letter !== null ? { released: r.letter } : {}),
  }));
}

/** Gives a revision a name, so that it is kept for ever, or takes the name away. */
export async function label(c: Context, id: string, number: number, label: string | null): Promise<void> {
  await c.database.transaction(async (s) => {
    await editable(c, s, id, 'FOR UPDATE');
    const n = await s.rows('SELECT 1 FROM revisions WHERE design_id = :id AND number = :number', { id, number });
    if (!n.length) throw new Refusal(404, 'There is no such revision');
    await s.change('UPDATE revisions SET label = :label WHERE design_id = :id AND number = :number', { id, number, label });
    await note(c, 'named', id, `${number}: ${label ?? '—'}`, s);
  });
}

/** The sketch of a design as JSON, drawn now where none is kept. */
export async function sketch(c: Context, id: string): Promise<string> {
  const [row] = await c.database.read<{ sketch: string | null }>(`SELECT d.sketch FROM ${SEEN} WHERE d.id = :id AND d.deleted_at IS NULL`, {
    me: c.person.id,
    id,
  });
  if (!row) throw gone();
  return row.sketch ?? c.jobs.run('sketched', packed(await revisionOf(c, id)));
}

export async function revisionSketch(c: Context, id: string, number: number): Promise<string> {
  return c.jobs.run('sketched', packed(await revisionOf(c, id, number)));
}
