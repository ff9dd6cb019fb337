/** Writing all of a database into a file, and back. */
import { spawn } from 'node:child_process';
import { closeSync, createReadStream, createWriteStream, fsyncSync, openSync, renameSync, rmSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { Plain } from './common.mjs';
import { withClientFile } from './own-database.mjs';

/** What is worth nothing after an hour, and would be worth something to a thief. */
const PASSING = ['sessions', 'counts'];
const END = '-- Dump completed';

const ended = (child, what) => {
  let trouble = '';
  child.stderr.on('data', (d) => (trouble = (trouble + d).slice(-2000)));
  return new Promise((resolve, reject) => {
    child.once('error', () => reject(new Plain(`${what} needs ${child.spawnfile}, which comes with Debian’s package mariadb-client.`)));
    child.once('exit', (code) => (code === 0 ? resolve() : reject(new Plain(`${what} failed: ${trouble.trim() || `ended with ${code}`}`))));
  });
};

/** One consistent state of all, while the servers go on. The file is there under its name only when it is whole. */
export async function dump(url, file) {
  const part = `${file}.part`;
  await withClientFile(url, async (client, name) => {
    const child = spawn(
      'mariadb-dump',
      [
        `--defaults-file=${client}`,
        '--single-transaction',
        '--quick',
        '--hex-blob',
        '--no-tablespaces',
        ...PASSING.map((t) => `--ignore-table-data=${name}.${t}`),
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
    } finally {
      rmSync(part, { force: true });
    }
  });
}

/** Reads the file to its end; refused where it is not a whole backup. */
export async function whole(file) {
  let tail = '';
  let head = '';
  try {
    for await (const chunk of createReadStream(file).pipe(createGunzip())) {
      const text = chunk.toString('latin1');
      if (head.length < 4000) head += text.slice(0, 4000);
      tail = (tail + text).slice(-200);
    }
  } catch (e) {
    throw new Plain(`${file} is not a whole backup: ${e.message}`);
  }
  if (!head.includes('MariaDB dump') || !tail.includes(END)) throw new Plain(`${file} is not a whole backup: its beginning or its end is missing.`);
}

export async function load(url, file) {
  await whole(file);
  await withClientFile(url, async (client, name) => {
    const child = spawn('mariadb', [`--defaults-file=${client}`, '--binary-mode', name], { stdio: ['pipe', 'ignore', 'pipe'] });
    await Promise.all([ended(child, 'The restore'), pipeline(createReadStream(file), createGunzip(), child.stdin).catch(() => undefined)]);
  });
}
