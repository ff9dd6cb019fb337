import { randomUUID } from 'node:crypto';
import type { Pool, PoolConnection, ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import type { DesignLine, RevisionLine, SaveAnswer, StoredDesign } from '@unirota/contract';
import type { Design } from '@unirota/core/design';
import { sketch } from '@unirota/core/sketch';
import { Refusal } from './problem';

interface Row extends RowDataPacket {
  id: string;
  name: string;
  revision: number;
  number: number;
  saved_at: Date;
  document: string;
  sketch: string;
  save_id: string;
  deleted_at: Date | null;
}

const gone = (): Refusal => new Refusal(404, 'This design does not exist or has been deleted');

/** Designs and their revisions in SQL. A revision is written once and never changed. */
export class Designs {
  constructor(private readonly pool: Pool) {}

  async list(): Promise<DesignLine[]> {
    const [rows] = await this.pool.execute<Row[]>(
      `SELECT d.id, d.name, d.revision, d.saved_at, r.sketch
         FROM designs d JOIN revisions r ON r.design_id = d.id AND r.number = d.revision
        WHERE d.deleted_at IS NULL ORDER BY d.saved_at DESC, d.id LIMIT 500`,
    );
    return rows.map((r) => ({ id: r.id, name: r.name, revision: r.revision, savedAt: r.saved_at.toISOString(), sketch: JSON.parse(r.sketch) }));
  }

  async read(id: string, revision?: number, connection: Pool | PoolConnection = this.pool): Promise<StoredDesign> {
    const [rows] = await connection.execute<Row[]>(
      `SELECT d.id, r.number, r.saved_at, r.document
         FROM designs d JOIN revisions r ON r.design_id = d.id AND r.number = COALESCE(?, d.revision)
        WHERE d.id = ? AND d.deleted_at IS NULL`,
      [revision ?? null, id],
    );
    if (!rows.length) throw gone();
    return { id, revision: rows[0].number, savedAt: rows[0].saved_at.toISOString(), design: JSON.parse(rows[0].document) };
  }

  async revisions(id: string): Promise<RevisionLine[]> {
    const [rows] = await this.pool.execute<Row[]>(
      `SELECT r.number, r.saved_at, r.name FROM revisions r JOIN designs d ON d.id = r.design_id
        WHERE d.id = ? AND d.deleted_at IS NULL ORDER BY r.number DESC LIMIT 1000`,
      [id],
    );
    if (!rows.length) throw gone();
    return rows.map((r) => ({ number: r.number, savedAt: r.saved_at.toISOString(), name: r.name }));
  }

  async create(design: Design, save: string): Promise<StoredDesign> {
    return this.inTransaction(async (c) => {
      const done = await this.bySave(c, save);
      if (done) return this.read(done.id, done.number, c);
      const id = randomUUID();
      const now = new Date();
      await c.execute('INSERT INTO designs (id, name, revision, created_at, saved_at) VALUES (?, ?, 1, ?, ?)', [id, design.name, now, now]);
      await this.insertRevision(c, id, 1, save, design, now);
      return { id, revision: 1, savedAt: now.toISOString(), design };
    });
  }

  /**
   * Adds a revision that started from `base`. When another one has come meanwhile, refuses with 409 and both stay as they are; a
   * repeated request (same save id) is answered as the first time.
   */
  async save(id: string, base: number, save: string, design: Design): Promise<SaveAnswer> {
    return this.inTransaction(async (c) => {
      const [rows] = await c.execute<Row[]>('SELECT revision FROM designs WHERE id = ? AND deleted_at IS NULL FOR UPDATE', [id]);
      if (!rows.length) throw gone();
      const done = await this.bySave(c, save);
      if (done && done.id === id) return { revision: done.number, savedAt: done.saved_at.toISOString() };
      if (rows[0].revision !== base) {
        throw new Refusal(409, 'This design was saved elsewhere meanwhile', {
          detail: 'Both versions are kept: choose which one to go on with',
          current: await this.read(id, undefined, c),
        });
      }
      const now = new Date();
      await this.insertRevision(c, id, base + 1, save, design, now);
      await c.execute('UPDATE designs SET revision = ?, name = ?, saved_at = ? WHERE id = ?', [base + 1, design.name, now, id]);
      return { revision: base + 1, savedAt: now.toISOString() };
    });
  }

  async copy(id: string, save: string): Promise<StoredDesign> {
    const { design } = await this.read(id);
    return this.create({ ...design, name: `${design.name.slice(0, 110)} (copy)` }, save);
  }

  async remove(id: string): Promise<void> {
    const [r] = await this.pool.execute<ResultSetHeader>('UPDATE designs SET deleted_at = ? WHERE id = ? AND deleted_at IS NULL', [new Date(), id]);
    if (r.affectedRows === 0) throw gone();
  }

  async restore(id: string): Promise<StoredDesign> {
    await this.pool.execute('UPDATE designs SET deleted_at = NULL WHERE id = ?', [id]);
    return this.read(id);
  }

  async answers(): Promise<boolean> {
    await this.pool.query({ sql: 'SELECT 1', timeout: 2000 });
    return true;
  }

  private async bySave(c: PoolConnection, save: string): Promise<Row | undefined> {
    const [rows] = await c.execute<Row[]>('SELECT design_id AS id, number, saved_at FROM revisions WHERE save_id = ?', [save]);
    return rows[0];
  }

  private async insertRevision(c: PoolConnection, id: string, number: number, save: string, design: Design, at: Date): Promise<void> {
    await c.execute('INSERT INTO revisions (design_id, number, save_id, name, document, sketch, saved_at) VALUES (?, ?, ?, ?, ?, ?, ?)', [
      id,
      number,
      save,
      design.name,
      JSON.stringify(design),
      JSON.stringify(sketch(design)),
      at,
    ]);
  }

  private async inTransaction<T>(work: (c: PoolConnection) => Promise<T>): Promise<T> {
    const c = await this.pool.getConnection();
    try {
      await c.beginTransaction();
      const result = await work(c);
      await c.commit();
      return result;
    } catch (e) {
      await c.rollback().catch(() => undefined);
      throw e;
    } finally {
      c.release();
    }
  }
}
