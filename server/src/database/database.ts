import mysql, { type Pool, type PoolConnection, type ResultSetHeader, type RowDataPacket } from 'mysql2/promise';
import { Refusal } from '../refusal';

export type Values = Readonly<Record<string, string | number | boolean | Date | Buffer | null>>;
export interface DatabaseOptions {
  connections?: number;
  /** A statement longer than this is ended by the database, ms. */
  statementTime?: number;
  /** A lock that is not had by then is given up, s. */
  lockTime?: number;
  /** How long a request waits for a connection, ms. */
  queueTime?: number;
}

const LOST_RACE = new Set(['ER_LOCK_DEADLOCK', 'ER_CHECKREAD']);
const TRIES = 6;
const pause = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

/**
 * A database that hangs does not answer at all, not even that it was too slow: what is not
 * answered in time is given up together with its connection, which nobody can use any more.
 */
async function answered<T>(connection: PoolConnection, ms: number, work: Promise<T>): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      connection.destroy();
      reject(Object.assign(new Error('the database has not answered in time'), { code: 'PROTOCOL_SEQUENCE_TIMEOUT' }));
    }, ms);
  });
  try {
    return await Promise.race([work, late]);
  } finally {
    clearTimeout(timer);
    work.catch(() => undefined);
  }
}

/** The database has said no itself, so the connection is in order. */
const saidByDatabase = (e: unknown): boolean => /^ER_/.test((e as { code?: string }).code ?? '') && !(e as { fatal?: boolean }).fatal;
/** Neither the database nor the line to it: our own work has refused or failed. */
const saidByUs = (e: unknown): boolean => e instanceof Refusal || (e as { code?: string }).code === undefined;

/** Statements of one connection. */
export class Statements {
  constructor(
    private readonly connection: PoolConnection,
    private readonly timeout: number,
  ) {}

  async rows<T>(sql: string, values: Values = {}): Promise<T[]> {
    const [rows] = await answered(this.connection, this.timeout, this.connection.execute<(RowDataPacket & T)[]>({ sql, values: values as never }));
    return rows;
  }

  /** Gives how many rows were changed. */
  async change(sql: string, values: Values = {}): Promise<number> {
    const [r] = await answered(this.connection, this.timeout, this.connection.execute<ResultSetHeader>({ sql, values: values as never }));
    return r.affectedRows;
  }

  async say(sql: 'START TRANSACTION' | 'COMMIT' | 'ROLLBACK'): Promise<void> {
    await answered(this.connection, this.timeout, this.connection.query(sql));
  }
}

/**
 * The database behind a bounded queue: reads and writes have connections of their own,
 * so that reading does not wait for whoever waits for a locked row; statements, locks
 * and the queue have an end; what lost a race against another transaction is done again.
 */
export class Database {
  private readonly reads: Pool;
  private readonly writes: Pool;
  private readonly statementTime: number;
  private readonly queueTime: number;

  constructor(url: string, { connections = 16, statementTime = 8000, lockTime = 4, queueTime = 5000 }: DatabaseOptions = {}) {
    this.statementTime = statementTime;
    this.queueTime = queueTime;
    const open = (limit: number): Pool => {
      const pool = mysql.createPool({
        uri: url,
        connectionLimit: Math.max(1, limit),
        queueLimit: 1000,
        connectTimeout: 5000,
        timezone: 'Z',
        charset: 'utf8mb4_unicode_ci',
        namedPlaceholders: true,
        flags: ['-LOCAL_FILES'],
      });
      // In a cluster, what has been answered anywhere is seen here: reads wait for what other nodes have confirmed.
      const session = `SET SESSION max_statement_time = ${statementTime / 1000}, innodb_lock_wait_timeout = ${lockTime}, wsrep_sync_wait = 7, tx_isolation = 'READ-COMMITTED', sql_mode = 'STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION'`;
      pool.pool.on('connection', (c) => c.query(session));
      return pool;
    };
    this.reads = open(Math.ceil(connections / 2));
    this.writes = open(Math.floor(connections / 2));
  }

  async end(): Promise<void> {
    await Promise.allSettled([this.reads.end(), this.writes.end()]);
  }

  /** A read that waits for nobody's lock. */
  async read<T>(sql: string, values: Values = {}): Promise<T[]> {
    return this.with(this.reads, (s) => s.rows<T>(sql, values));
  }

  async change(sql: string, values: Values = {}): Promise<number> {
    return this.transaction((s) => s.change(sql, values));
  }

  /**
   * All or nothing. Done again where it lost a race against another
   * transaction, here or on another node; `work` must bear that.
   */
  async transaction<T>(work: (s: Statements) => Promise<T>): Promise<T> {
    for (let round = 1; ; round++) {
      try {
        return await this.with(this.writes, async (s, c) => {
          try {
            await s.say('START TRANSACTION');
            const result = await work(s);
            await s.say('COMMIT');
            return result;
          } catch (e) {
            if (saidByDatabase(e) || saidByUs(e)) await s.say('ROLLBACK').catch(() => c.destroy());
            throw e;
          }
        });
      } catch (e) {
        if (!LOST_RACE.has((e as { code?: string }).code ?? '') || round >= TRIES) throw e;
        await pause(5 * 2 ** round * (0.5 + Math.random()));
      }
    }
  }

  async answers(): Promise<boolean> {
    await this.with(this.reads, (s) => s.rows('SELECT 1'), 2000);
    return true;
  }

  private async with<T>(pool: Pool, work: (s: Statements, c: PoolConnection) => Promise<T>, timeout = this.statementTime + 2000): Promise<T> {
    const c = await this.connection(pool);
    try {
      const result = await work(new Statements(c, timeout), c);
      c.release();
      return result;
    } catch (e) {
      // A connection that failed, or that still carries an unanswered statement, is not used again.
      if (saidByDatabase(e) || saidByUs(e)) c.release();
      else c.destroy();
      throw e;
    }
  }

  private connection(pool: Pool): Promise<PoolConnection> {
    return new Promise((resolve, reject) => {
      let late = false;
      const timer = setTimeout(() => {
        late = true;
        reject(Object.assign(new Error('no connection to the database became free in time'), { code: 'POOL_TIMEOUT' }));
      }, this.queueTime);
      pool.getConnection().then(
        (c) => {
          clearTimeout(timer);
          if (late) c.release();
          else resolve(c);
        },
        (e: unknown) => {
          clearTimeout(timer);
          reject(e as Error);
        },
      );
    });
  }
}
