import type { Statements } from '../database/database';
import { Refusal } from '../refusal';
import { type Context, SEEN, type ShapeLimits, editable, gone, mayOf, note } from './rows';

export const MIB = 1024 * 1024;
export const SHAPE_LIMITS: ShapeLimits = { one: 64 * MIB, all: 512 * MIB };

/** Bytes of one piece: well below what any database takes in one statement. */
const PIECE = MIB;
/** A content that no revision refers to stays this long: its save may be on the way. */
const UNUSED = 86_400_000;

const HASH = /^[0-9a-f]{64}$/;
const binary = (hash: string): Buffer => Buffer.from(hash, 'hex');
const noSuchShape = (): Refusal => new Refusal(404, 'This design has no such shape');

/** The contents that are stored with a design, by hash. */
export async function shapes(c: Context, id: string): Promise<string[]> {
  await mayOf(c, id);
  const rows = await c.database.read<{ hash: Buffer }>('SELECT hash FROM design_shapes WHERE design_id = :id', { id });
  return rows.map((r) => r.hash.toString('hex'));
}

/**
 * A content of a design that the person may look at, piece by piece. A hash alone opens nothing: it must be stored with that
 * very design.
 */
export async function shapeContent(c: Context, id: string, hash: string): Promise<{ size: number; pieces: AsyncGenerator<Buffer> }> {
  if (!HASH.test(hash)) throw noSuchShape();
  const [row] = await c.database.read<{ size: number }>(
    `SELECT b.size FROM ${SEEN} JOIN design_shapes l ON l.design_id = d.id AND l.hash = :hash JOIN shapes b ON b.hash = l.hash
      WHERE d.id = :id AND d.deleted_at IS NULL`,
    { me: c.person.id, id, hash: binary(hash) },
  );
  if (!row) throw noSuchShape();
  const { database } = c;
  async function* pieces(): AsyncGenerator<Buffer> {
    for (let number = 0; number * PIECE < row.size; number++) {
      const [piece] = await database.read<{ body: Buffer }>('SELECT body FROM shape_pieces WHERE hash = :hash AND number = :number', {
        hash: binary(hash),
        number,
      });
      if (!piece) throw gone();
      yield piece.body;
    }
  }
  return { size: row.size, pieces: pieces() };
}

/** Stores a content with a design. It must be a shape, and what its hash says; the same content twice is stored once. */
export async function storeShape(c: Context, id: string, hash: string, body: Uint8Array, limits: ShapeLimits): Promise<void> {
  if (!HASH.test(hash)) throw new Refusal(422, 'The name of a shape is its SHA-256 in hexadecimal');
  await editable(c, { rows: (sql, values) => c.database.read(sql, values) }, id);
  const problem = await c.jobs.run('shapeProblem', { body, hash });
  if (problem) throw new Refusal(422, problem);
  await c.database.transaction(async (s) => {
    await editable(c, s, id, 'FOR UPDATE');
    const [had] = await s.rows('SELECT 1 FROM design_shapes WHERE design_id = :id AND hash = :hash', { id, hash: binary(hash) });
    if (had) return;
    const [{ size }] = await s.rows<{ size: string | number | null }>(
      'SELECT SUM(b.size) AS size FROM design_shapes l JOIN shapes b ON b.hash = l.hash WHERE l.design_id = :id',
      { id },
    );
    if (Number(size ?? 0) + body.length > limits.all) {
      throw new Refusal(413, `The shapes of this design would be larger than ${Math.round(limits.all / MIB)} MiB together`);
    }
    await insertContent(s, id, hash, body);
    await note(c, 'shape stored', id, '', s);
  });
}

/** Puts a content into the database, where it is not yet, and with a design. */
export async function insertContent(s: Statements, id: string, hash: string, body: Uint8Array): Promise<void> {
  const now = new Date();
  const isNew = await s.change('INSERT IGNORE INTO shapes (hash, size, stored_at) VALUES (:hash, :size, :now)', {
    hash: binary(hash),
    size: body.length,
    now,
  });
  for (let n = 0; isNew && n * PIECE < body.length; n++) {
    await s.change('INSERT INTO shape_pieces (hash, number, body) VALUES (:hash, :n, :piece)', {
      hash: binary(hash),
      n,
      piece: Buffer.from(body.subarray(n * PIECE, (n + 1) * PIECE)),
    });
  }
  await s.change('INSERT INTO design_shapes (design_id, hash, stored_at) VALUES (:id, :hash, :now)', { id, hash: binary(hash), now });
}

/** A copy has the shapes of what it is a copy of. */
export async function copyShapes(c: Context, from: string, to: string): Promise<void> {
  await c.database.change(
    `INSERT IGNORE INTO design_shapes (design_id, hash, stored_at)
     SELECT DISTINCT :to, l.hash, :now FROM design_shapes l JOIN revision_shapes r ON r.design_id = :to AND r.hash = l.hash WHERE l.design_id = :from`,
    { from, to, now: new Date() },
  );
}

/**
 * Takes away contents that no revision refers to any more; some at a time.
 * Gives how many designs let go of one, and how many went.
 */
export async function sweepShapes({ database }: Pick<Context, 'database'>, now = new Date()): Promise<{ links: number; contents: number }> {
  const unused = await database.read<{ design_id: string; hash: Buffer }>(
    `SELECT l.design_id, l.hash FROM design_shapes l LEFT JOIN revision_shapes r ON r.design_id = l.design_id AND r.hash = l.hash
      WHERE l.stored_at < :old AND r.hash IS NULL LIMIT 200`,
    { old: new Date(now.getTime() - UNUSED) },
  );
  let links = 0;
  for (const { design_id: id, hash } of unused) {
    links += await database.change(
      `DELETE FROM design_shapes WHERE design_id = :id AND hash = :hash
        AND NOT EXISTS (SELECT 1 FROM revision_shapes r WHERE r.design_id = :id AND r.hash = :hash)`,
      { id, hash },
    );
  }
  const free = await database.read<{ hash: Buffer }>(
    'SELECT b.hash FROM shapes b LEFT JOIN design_shapes l ON l.hash = b.hash WHERE l.hash IS NULL AND b.stored_at < :old LIMIT 50',
    { old: new Date(now.getTime() - UNUSED) },
  );
  let contents = 0;
  for (const { hash } of free) {
    // Somebody may store it again at this very moment: then it stays.
    contents += await database
      .change('DELETE FROM shapes WHERE hash = :hash AND NOT EXISTS (SELECT 1 FROM design_shapes l WHERE l.hash = :hash)', { hash })
      .catch((e: unknown) => ((e as { code?: string }).code === 'ER_ROW_IS_REFERENCED_2' ? 0 : Promise.reject(e as Error)));
  }
  return { links, contents };
}
