/**
 * npm run restore -- FILE [--until TIME]: puts back what a backup holds, in place
 * of what stands; that is backed up first. With a time, also what was logged since.
 */
import { existsSync, readdirSync, renameSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { Plain, command, dataFolder, say } from './common.mjs';
import { LOG, binaryLogFolder, reachableFolder } from './database.mjs';
import { dump, forget, load, makeFolder, replay, whole } from './dump.mjs';
import { ownDatabase } from './own-database.mjs';

const stamp = new Date().toISOString().slice(0, 19).replaceAll(':', '');
const HOW = 'npm run restore -- FILE [--until 2026-05-04T13:05:00Z]';

function asked() {
  try {
    const { values, positionals } = parseArgs({ options: { until: { type: 'string' } }, allowPositionals: true });
    if (positionals.length !== 1) throw new Plain(`Name the backup: ${HOW}`);
    if (values.until === undefined) return { file: resolve(positionals[0]) };
    const until = new Date(values.until);
    if (!/^\d{4}-\d\d-\d\d/.test(values.until) || Number.isNaN(until.getTime())) throw new Plain(`“${values.until}” is no time: ${HOW}`);
    return { file: resolve(positionals[0]), until };
  } catch (e) {
    throw e instanceof Plain ? e : new Plain(`${e.message}: ${HOW}`);
  }
}

/** The logs from where a backup stands on. */
function logsFrom(at, folder) {
  if (process.env.UNIROTA_DATABASE) throw new Plain('--until is for the private database: for another one, play its binary log with mariadb-binlog.');
  if (!at) throw new Plain('This backup does not say where it stands in the log of changes: it was made while UNIROTA_BINARY_LOG_DAYS was not set.');
  const logs = existsSync(folder)
    ? readdirSync(folder)
        .filter((f) => LOG.test(f) && f >= at.log)
        .sort()
    : [];
  if (logs[0] !== at.log) throw new Plain(`The log of changes ${at.log}, in which this backup stands, is not in ${folder} any more.`);
  return logs;
}

await command(async () => {
  const { file, until } = asked();
  if (!existsSync(file)) throw new Plain(`There is no file ${file}.`);
  const at = await whole(file);
  const folder = process.env.UNIROTA_DATABASE ? '' : binaryLogFolder(reachableFolder(dataFolder));
  const logs = until ? logsFrom(at, folder) : [];
  makeFolder(join(dataFolder, 'backups'));
  // What is restored is not logged: the log is of what people did.
  const database = await ownDatabase({ alone: true, binaryLog: 0, replays: logs.length > 0 });
  try {
    const before = join(dataFolder, 'backups', `before-restore-${stamp}.sql.gz`);
    await dump(database.url, before);
    say(`What stood is kept in ${before}`);
    await load(database.url, file);
    if (until && at) {
      const text = until.toISOString().slice(0, 19).replace('T', ' ');
      const paths = logs.map((l) => join(folder, l));
      try {
        await replay(database.url, paths, at.position, text);
      } catch (e) {
        await load(database.url, before);
        throw e instanceof Plain ? new Plain(`${e.message}\nWhat stood before stands again.`) : e;
      }
      say(`With what was done until ${text} UTC.`);
    }
    await forget(database.url);
  } finally {
    await database.close();
  }
  // From here on it is another story: the next log begins by itself.
  if (folder && existsSync(folder)) {
    renameSync(folder, `${folder}-${stamp}`);
    say(`The log of changes of before is kept in ${folder}-${stamp}`);
  }
  say('Restored. Everybody signs in again. Start Unirota now, and make a backup.');
});
