/** One program at a time on a data folder: a lock of the system’s, which ends with the process that has it, however that ends. */
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';

/** Takes the lock of a folder; undefined where another has it. The returned function lets go. */
export function takeLock(folder) {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  // The lock is held by a child that ends when our end of its input closes.
  const child = spawn(
    'flock',
    ['--nonblock', '--exclusive', '--conflict-exit-code', '75', '--no-fork', join(folder, 'lock'), 'sh', '-c', 'echo held; exec cat >/dev/null'],
    {
      stdio: ['pipe', 'pipe', 'ignore'],
      detached: true,
    },
  );
  return new Promise((resolve, reject) => {
    child.stdout.once('data', () => {
      child.unref();
      /** @type {any} */ (child.stdin).unref?.();
      /** @type {any} */ (child.stdout).unref?.();
      resolve(() => child.stdin.end());
    });
    child.once('error', reject);
    child.once('exit', () => resolve(undefined));
  });
}
