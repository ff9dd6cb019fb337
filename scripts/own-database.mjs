/**
 * The database of this installation, for the commands beside it: the one that UNIROTA_DATABASE
 * names, the private one as it runs, or the private one started for a moment.
 */
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Plain, dataFolder } from './common.mjs';
import { reachableFolder, startDatabase } from './database.mjs';
import { takeLock } from './lock.mjs';

/**
 * `alone`: nothing else may use it meanwhile. Other options are those of startDatabase, where it is started.
 * @param {{ alone?: boolean } & Parameters<typeof startDatabase>[1]} [options]
 */
export async function ownDatabase({ alone = false, ...options } = {}) {
  if (process.env.UNIROTA_DATABASE) return { url: process.env.UNIROTA_DATABASE, close: async () => undefined };
  if (!existsSync(dataFolder)) throw new Plain(`There is no database in ${dataFolder} yet: start Unirota once, or name one with UNIROTA_DATABASE.`);
  const release = await takeLock(dataFolder);
  if (!release) {
    if (alone) throw new Plain('Unirota is running on this database: stop it first.');
    const file = join(dataFolder, 'database.json');
    if (!existsSync(file)) throw new Plain('Unirota is just starting: try again in a moment.');
    return { url: JSON.parse(readFileSync(file, 'utf8')).url, close: async () => undefined };
  }
  const database = await startDatabase(reachableFolder(dataFolder), options);
  return {
    url: database.url,
    async close() {
      await database.stop();
      release();
    },
  };
}

/** Runs `work` with a file that tells MariaDB's own programs where to go; the secret stands in no command line. */
export async function withClientFile(url, work) {
  const u = new URL(url);
  const folder = mkdtempSync(join(tmpdir(), `unirota-client-${process.pid}-`));
  const file = join(folder, 'client.cnf');
  const quoted = (s) => `"${decodeURIComponent(s).replace(/(["\\])/g, '\\$1')}"`;
  writeFileSync(
    file,
    `[client]\nprotocol=tcp\nhost=${u.hostname}\nport=${u.port || 3306}\nuser=${quoted(u.username)}\npassword=${quoted(u.password)}\n`,
    { mode: 0o600 },
  );
  try {
    return await work(file, u.pathname.slice(1));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
