/** npm run restore -- file: puts back what a backup holds, in place of what stands; that is backed up first. */
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { Plain, command, dataFolder, say } from './common.mjs';
import { dump, load, makeFolder, whole } from './dump.mjs';
import { ownDatabase } from './own-database.mjs';

const stamp = new Date().toISOString().slice(0, 19).replaceAll(':', '');
await command(async () => {
  const file = process.argv[2] && resolve(process.argv[2]);
  if (!file) throw new Plain('Name the backup: npm run restore -- file.sql.gz');
  if (!existsSync(file)) throw new Plain(`There is no file ${file}.`);
  await whole(file);
  makeFolder(join(dataFolder, 'backups'));
  const database = await ownDatabase({ alone: true });
  try {
    const before = join(dataFolder, 'backups', `before-restore-${stamp}.sql.gz`);
    await dump(database.url, before);
    say(`What stood is kept in ${before}`);
    await load(database.url, file);
  } finally {
    await database.close();
  }
  say('Restored. Everybody signs in again. Start Unirota now.');
});
