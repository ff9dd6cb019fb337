import { readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import mysql, { type Connection, type RowDataPacket } from 'mysql2/promise';
import Postgrator from 'postgrator';
import { databaseAway } from '../refusal';

const MIGRATIONS = fileURLToPath(new URL('../../migrations/', import.meta.url));
const LOCK_SECONDS = 120;
const ROUNDS = 8;

/** The newest version that this program knows. */
export const newestVersion = (): number => Math.max(...readdirSync(MIGRATIONS).map((f) => Number.parseInt(f, 10)));

/** The schema is newer than the program. */
export class NewerSchema extends Error {}

async function schemaVersion(connection: Connection): Promise<number> {
  const [there] = await connection.query<RowDataPacket[]>("SHOW TABLES LIKE 'schema_versions'");
  if (!there.length) return 0;
  const [rows] = await connection.query<RowDataPacket[]>('SELECT MAX(version) AS version FROM schema_versions');
  return Number(rows[0].version ?? 0);
}

async function migrateWith(connection: Connection): Promise<number> {
  const newest = newestVersion();
  const standing = await schemaVersion(connection);
  if (standing > newest) {
    throw new NewerSchema(
      `The database is of version ${standing}, newer than this program knows (${newest}): start a newer Unirota on it, or bring back a backup of before.`,
    );
  }
  const [rows] = await connection.query<RowDataPacket[]>('SELECT DATABASE() AS name');
  const postgrator = new Postgrator({
    migrationPattern: `${MIGRATIONS}*.sql`,
    driver: 'mysql',
    database: rows[0].name as string,
    schemaTable: 'schema_versions',
    // The files may be run twice; what counts is the version that is reached.
    validateChecksums: false,
    execQuery: async (query) => {
      const [result] = await connection.query(query);
      return { rows: result as unknown[] };
    },
    execSqlScript: async (script) => {
      await connection.query(script);
    },
  });
  await postgrator.migrate();
  return newest;
}

/**
 * Brings the schema up to date, one starting server at a time, and does `then` (the demo data)
 * under the same lock. In a cluster the lock holds for one node only: each file is harmless
 * when run twice, at once or after half of it was done, and a lost race is run again.
 */
export async function migrate(url: string, then?: () => Promise<void>): Promise<number> {
  for (let round = 1; ; round++) {
    const connection = await mysql.createConnection({ uri: url, multipleStatements: true, timezone: 'Z', connectTimeout: 5000 });
    try {
      const [lock] = await connection.query<RowDataPacket[]>('SELECT GET_LOCK(CONCAT(DATABASE(), ?), ?) AS had', ['.unirota.migrate', LOCK_SECONDS]);
      if (Number(lock[0].had) !== 1) throw new Error('another server is still bringing the database up to date');
      const version = await migrateWith(connection);
      await then?.();
      return version;
    } catch (e) {
      if (e instanceof NewerSchema || databaseAway(e) || round >= ROUNDS) throw e;
      await new Promise((r) => setTimeout(r, 200 * round * (0.5 + Math.random())));
    } finally {
      await connection.end().catch(() => connection.destroy());
    }
  }
}
