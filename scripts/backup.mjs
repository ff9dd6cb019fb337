/**
 * npm run backup [-- file]: writes all designs, revisions, people
 * and settings into one compressed file, while Unirota goes on.
 */
import { existsSync, statSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { Plain, command, dataFolder, say } from './common.mjs';
import { dump, makeFolder } from './dump.mjs';
import { ownDatabase } from './own-database.mjs';

const stamp = new Date().toISOString().slice(0, 19).replaceAll(':', '');
await command(async () => {
  const file = resolve(process.argv[2] ?? join(dataFolder, 'backups', `unirota-${stamp}.sql.gz`));
  if (existsSync(file)) throw new Plain(`${file} is there already: choose another name.`);
  makeFolder(dirname(file));
  const database = await ownDatabase();
  try {
    await dump(database.url, file);
  } finally {
    await database.close();
  }
  say(`${file}: ${(statSync(file).size / 1024 ** 2).toFixed(1)} MiB`);
});
