/** Writing all of a database into a file, and back. */
import { spawn } from 'node:child_process';
import { closeSync, createReadStream, createWriteStream, existsSync, fsyncSync, mkdirSync, openSync, renameSync, rmSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { PassThrough } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { Plain } from './common.mjs';
import { withClientFile } from './own-database.mjs';

const WHY = {
  EACCES: 'this user may not write there',
  EPERM: 'this user may not write there',
  EROFS: 'it can only be read',
  ENOENT: 'there is no such folder, and none can be made there',
  ENOTDIR: 'a file stands in its way',
  EISDIR: 'it is a folder',
  ENOSPC: 'the disk is full',
  EDQUOT: 'the disk is full',
  ENAMETOOLONG: 'its name is too long',
};
/** Trouble with a file, in one sentence. */
export const fileTrouble = (what, file, e) => (e instanceof Plain ? e : new Plain(`${what} ${file}: ${WHY[e.code] ?? e.message}.`));

/** Makes a folder and those above it, one by one from the first that is there. */
export function makeFolder(folder) {
  const missing = [];
  for (let at = folder; !existsSync(at); at = dirname(at)) {
    missing.unshift(at);
    if (dirname(at) === at) break;
  }
  try {
    for (const f of missing) mkdirSync(f, { mode: 0o700 });
    if (!statSync(folder).isDirectory()) throw Object.assign(new Error(), { code: 'ENOTDIR' });
  } catch (e) {
    throw fileTrouble('Nothing can be written into', folder, e);
  }
}

/** What is worth nothing after an hour, and would be worth something to a thief. */
const PASSING = ['sessions', 'counts'];
const END = '-- Dump completed';

const ended = (child, what) => {
  let trouble = '';
  child.stderr.on('data', (d) => (trouble = (trouble + d).slice(-2000)));
  return new Promise((resolve, reject) => {
    child.once('error', () => reject(new Plain(`${what} needs ${child.spawnfile}, which comes with Debian’s package mariadb-client.`)));
    child.once('exit', (code) => (code === 0 ? resolve(undefined) : reject(new Plain(`${what} failed: ${trouble.trim() || `ended with ${code}`}`))));
  });
};

/** What the database answers to a question of one line. */
async function answer(client, sql) {
  const child = spawn('mariadb', [`--defaults-file=${client}`, '-N', '-e', sql], { stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  child.stdout.on('data', (d) => (said += d));
  await ended(child, 'The backup');
  return said.trim();
}

/** One consistent state of all, while the servers go on. The file is there under its name only when it is whole. */
export async function dump(url, file) {
  const part = `${file}.part`;
  await withClientFile(url, async (client, name) => {
    // Where changes are logged, the backup says from where on they go
    // beyond it. Only of the private one: elsewhere that may need rights.
    const logged = !process.env.UNIROTA_DATABASE && (await answer(client, 'SELECT @@log_bin')) === '1';
    const child = spawn(
      'mariadb-dump',
      [
        `--defaults-file=${client}`,
        '--single-transaction',
        '--quick',
        '--hex-blob',
        '--no-tablespaces',
        // The log goes on from exactly this state, passing rows too; a restore takes those away.
        ...(logged ? ['--master-data=2'] : PASSING.map((t) => `--ignore-table-data=${name}.${t}`)),
        name,
      ],
      { stdio: ['ignore', 'pipe', 'pipe'] },
    );
    try {
      await Promise.all([ended(child, 'The backup'), pipeline(child.stdout, createGzip(), createWriteStream(part, { mode: 0o600 }))]);
      const fd = openSync(part, 'r+');
      fsyncSync(fd);
      closeSync(fd);
      await whole(part);
      renameSync(part, file);
    } catch (e) {
      child.kill();
      throw fileTrouble('The backup cannot be written to', file, e);
    } finally {
      rmSync(part, { force: true });
    }
  });
}

/**
 * Reads the file to its end; refused where it is not a whole backup.
 * Gives where in the log of changes it stands, if it says so.
 */
export async function whole(file) {
  let tail = '';
  let head = '';
  try {
    // By a pipeline, so that trouble with the file itself is heard as well.
    const out = new PassThrough();
    const read = pipeline(createReadStream(file), createGunzip(), out);
    read.catch(() => undefined);
    for await (const chunk of out) {
      const text = chunk.toString('latin1');
      if (head.length < 8000) head += text.slice(0, 8000);
      tail = (tail + text).slice(-200);
    }
    await read;
  } catch (e) {
    throw WHY[e.code] ? fileTrouble('The backup cannot be read from', file, e) : new Plain(`${file} is not a whole backup: ${e.message}`);
  }
  if (!head.includes('MariaDB dump') || !tail.includes(END)) throw new Plain(`${file} is not a whole backup: its beginning or its end is missing.`);
  const at = /^-- CHANGE MASTER TO MASTER_LOG_FILE='(changes-[0-9a-f]{8}\.\d+)', MASTER_LOG_POS=(\d+);$/m.exec(head);
  return at ? { log: at[1], position: Number(at[2]) } : undefined;
}

export async function load(url, file) {
  await whole(file);
  await withClientFile(url, async (client, name) => {
    const child = spawn('mariadb', [`--defaults-file=${client}`, '--binary-mode', name], { stdio: ['pipe', 'ignore', 'pipe'] });
    await Promise.all([ended(child, 'The restore'), pipeline(createReadStream(file), createGunzip(), child.stdin).catch(() => undefined)]);
  });
}

/** Takes away what is worth nothing after a restore: everybody signs in again. */
export async function forget(url) {
  await withClientFile(url, async (client, name) => {
    const sql = PASSING.map((t) => `DELETE FROM ${name}.${t};`).join(' ');
    await ended(spawn('mariadb', [`--defaults-file=${client}`, '-e', sql], { stdio: ['ignore', 'ignore', 'pipe'] }), 'The restore');
  });
}

/** Plays what was logged after a backup, up to a moment. `logs`: files in their order, the first from `position` on. */
export async function replay(url, logs, position, until) {
  await withClientFile(url, async (client, name) => {
    const from = spawn(
      'mariadb-binlog',
      ['--no-defaults', `--database=${name}`, `--start-position=${position}`, `--stop-datetime=${until}`, ...logs],
      { stdio: ['ignore', 'pipe', 'pipe'], env: { ...process.env, TZ: 'UTC' } },
    );
    const into = spawn('mariadb', [`--defaults-file=${client}`, '--binary-mode', name], { stdio: ['pipe', 'ignore', 'pipe'] });
    await Promise.all([
      ended(from, 'Reading the log of changes'),
      ended(into, 'Playing the log of changes'),
      pipeline(from.stdout, into.stdin).catch(() => undefined),
    ]);
  });
}
