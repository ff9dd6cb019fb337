import { randomUUID } from 'node:crypto';
import type { CheckLine } from '@unirota/core';
import { letterOf } from '@unirota/core';
import type { ReleaseLine } from '@unirota/contract';
import type { Statements } from '../database/database';
import type { SentRelease } from '../jobs/tasks';
import { Refusal } from '../refusal';
import { MIB, SHAPE_LIMITS } from './shapes';
import { openRemarks } from './remarks';
import { revisionOf } from './revisions';
import { type Context, SEEN, editable, gone, mayOf, note, packed } from './rows';

/** Bytes of one piece: well below what any database takes in one statement. */
const PIECE = MIB;

interface ReleaseRow {
  letter: string;
  number: number;
  released_at: Date;
  reason: string | null;
  checklist: string;
  person: string | null;
}
interface FileRow {
  letter: string;
  name: string;
  size: number;
  hash: Buffer;
}

const lineOf = (r: ReleaseRow, files: readonly FileRow[]): ReleaseLine => ({
  letter: r.letter,
  revision: r.number,
  releasedAt: r.released_at.toISOString(),
  ...(r.person ? { person: r.person } : {}),
  ...(r.reason ? { reason: r.reason } : {}),
  checklist: JSON.parse(r.checklist) as CheckLine[],
  files: files.filter((f) => f.letter === r.letter).map(({ name, size, hash }) => ({ name, size, sha256: hash.toString('hex') })),
});

/** What was released of a design, the newest first. */
export async function releases(c: Context, id: string, only?: string): Promise<ReleaseLine[]> {
  await mayOf(c, id);
  const rows = await c.database.read<ReleaseRow>(
    `SELECT r.letter, r.number, r.released_at, r.reason, r.checklist, p.name AS person FROM releases r LEFT JOIN people p ON p.id = r.person_id
      WHERE r.design_id = :id AND (:only IS NULL OR r.letter = :only) ORDER BY r.number DESC LIMIT 1000`,
    { id, only: only ?? null },
  );
  const files = await c.database.read<FileRow>('SELECT letter, name, size, hash FROM release_files WHERE design_id = :id ORDER BY name', { id });
  return rows.map((r) => lineOf(r, files));
}

/** A file of a release, piece by piece, for whoever may look at the design. */
export async function releaseFile(
  c: Context,
  id: string,
  letter: string,
  name: string,
): Promise<{ size: number; hash: string; pieces: AsyncGenerator<Buffer> }> {
  const [row] = await c.database.read<{ file: string; size: number; hash: Buffer }>(
    `SELECT f.id AS file, f.size, f.hash FROM ${SEEN} JOIN release_files f ON f.design_id = d.id AND f.letter = :letter AND f.name = :name
      WHERE d.id = :id AND d.deleted_at IS NULL`,
    { me: c.person.id, id, letter, name },
  );
  if (!row) throw new Refusal(404, 'This design has no such released file');
  const { database } = c;
  async function* pieces(): AsyncGenerator<Buffer> {
    for (let number = 0; number * PIECE < row.size; number++) {
      const [piece] = await database.read<{ body: Buffer }>('SELECT body FROM release_pieces WHERE file_id = :file AND number = :number', {
        file: row.file,
        number,
      });
      if (!piece) throw gone();
      yield piece.body;
    }
  }
  return { size: row.size, hash: row.hash.toString('hex'), pieces: pieces() };
}

/**
 * Releases the newest revision under the next letter, with its files. It must have no fault; where the checklist leaves something
 * open, a reason must be given. What is released is never changed.
 */
export async function release(c: Context, id: string, body: Uint8Array): Promise<ReleaseLine> {
  await editable(c, { rows: (sql, values) => c.database.read(sql, values) }, id);
  const sent = await c.jobs.run('releaseIn', { body });
  if ('status' in sent) throw new Refusal(sent.status, sent.title, sent.problems ? { problems: sent.problems } : {});
  if (sent.checklist.some((l) => l.state === 'fault')) throw new Refusal(422, 'A design with a fault is not released: cure it first');
  if (!sent.reason && sent.checklist.some((l) => l.state === 'open')) {
    throw new Refusal(422, 'Something is open: state why it is released all the same', {
      problems: [{ path: 'reason', message: 'Reason is missing: state it' }],
    });
  }
  // What the page says of remarks may be of a moment ago.
  if (!sent.reason && (await openRemarks(c, id)) > 0) {
    throw new Refusal(422, 'A remark is not resolved: resolve it, or state why it is released all the same', {
      problems: [{ path: 'reason', message: 'Reason is missing: state it' }],
    });
  }
  const faults = await c.jobs.run('faultsIn', packed(await revisionOf(c, id, sent.revision)));
  if (faults.length) throw new Refusal(422, `This revision has a fault: ${faults[0]}`);
  const letter = await c.database.transaction((s) => insertRelease(c, s, id, sent));
  const [line] = await releases(c, id, letter);
  return line;
}

async function insertRelease(c: Context, s: Statements, id: string, sent: SentRelease): Promise<string> {
  const now = await editable(c, s, id, 'FOR UPDATE');
  const had = await s.rows<{ letter: string; number: number }>('SELECT letter, number FROM releases WHERE design_id = :id', { id });
  const same = had.find((r) => r.number === sent.revision);
  if (same) throw new Refusal(409, `Revision ${sent.revision} is released already, as ${same.letter}`);
  if (now.revision !== sent.revision) {
    throw new Refusal(409, `The design stands at revision ${now.revision} by now: look at it, and release that`);
  }
  const [{ size }] = await s.rows<{ size: string | number | null }>('SELECT SUM(size) AS size FROM release_files WHERE design_id = :id', { id });
  const most = (c.shapeLimits ?? SHAPE_LIMITS).all;
  if (sent.files.reduce((sum, f) => sum + f.bytes.length, Number(size ?? 0)) > most) {
    throw new Refusal(413, `The released files of this design would be larger than ${Math.round(most / MIB)} MiB together`);
  }
  const letter = letterOf(had.length);
  // It stands on the papers that were sent.
  if (sent.letter !== letter) throw new Refusal(409, `The next release is ${letter} by now: look at the list, and release again`);
  await s.change(
    `INSERT INTO releases (design_id, letter, number, person_id, released_at, reason, checklist)
     VALUES (:id, :letter, :number, :person, :now, :reason, :checklist)`,
    {
      id,
      letter,
      number: sent.revision,
      person: c.person.id,
      now: new Date(),
      reason: sent.reason || null,
      checklist: JSON.stringify(sent.checklist),
    },
  );
  for (const f of sent.files) {
    const file = randomUUID();
    await s.change('INSERT INTO release_files (id, design_id, letter, name, hash, size) VALUES (:file, :id, :letter, :name, :hash, :size)', {
      file,
      id,
      letter,
      name: f.name,
      hash: Buffer.from(f.hash, 'hex'),
      size: f.bytes.length,
    });
    for (let n = 0; n * PIECE < f.bytes.length; n++) {
      await s.change('INSERT INTO release_pieces (file_id, number, body) VALUES (:file, :n, :piece)', {
        file,
        n,
        piece: Buffer.from(f.bytes.subarray(n * PIECE, (n + 1) * PIECE)),
      });
    }
  }
  await note(c, 'released', id, `${letter}: revision ${sent.revision}`, s);
  return letter;
}
