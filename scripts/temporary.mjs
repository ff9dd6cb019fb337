/**
 * Folders under the system's temporary one that are named after the
 * process that has them, so that what a killed one left is known.
 */
import { mkdtempSync, readFileSync, readdirSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const NAME = /^unirota-[a-z0-9]+-(\d+)-/;
const OLD_NAME = /^unirota-(server-|e2e-)?[A-Za-z0-9]{6}$/;
const DAY = 86_400_000;

export const alive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (e) {
    return e.code === 'EPERM';
  }
};

export const temporaryFolder = (purpose) => mkdtempSync(join(tmpdir(), `unirota-${purpose}-${process.pid}-`));

/** The command line of a process, or '' where it is gone. */
export const commandOf = (pid) => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
  } catch {
    return '';
  }
};

/** Ends the database server whose process number the file holds, if it is one and works on this folder. */
export async function endLeftover(pidFile, dataFolder) {
  let pid;
  try {
    pid = Number(readFileSync(pidFile, 'utf8'));
  } catch {
    return;
  }
  const ours = () => /(mariadbd|mysqld)/.test(commandOf(pid)) && commandOf(pid).includes(`--datadir=${dataFolder} `);
  if (!pid || !ours()) return;
  process.kill(pid, 'SIGTERM');
  for (let i = 0; i < 300 && ours(); i++) await new Promise((r) => setTimeout(r, 100));
  if (ours()) process.kill(pid, 'SIGKILL');
}

/** Takes away what processes that are gone have left, with the database servers that still run in it. */
export async function sweepTemporary() {
  for (const name of readdirSync(tmpdir())) {
    const folder = join(tmpdir(), name);
    const owner = NAME.exec(name)?.[1];
    try {
      const stale = owner ? !alive(Number(owner)) : OLD_NAME.test(name) && Date.now() - statSync(folder).mtimeMs > DAY;
      if (!stale || statSync(folder).uid !== (process.getuid?.() ?? 0)) continue;
      for (const file of ['run/mariadb.pid', 'mariadb.pid']) await endLeftover(join(folder, file), join(folder, 'mariadb'));
      rmSync(folder, { recursive: true, force: true });
    } catch {
      // Somebody else's, or just gone.
    }
  }
}
