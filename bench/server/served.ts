/** A real server and database for a measurement, and requests to it. */
import { type ChildProcess, spawn } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { fileURLToPath } from 'node:url';
// @ts-expect-error plain JavaScript shared with the start command
import { freePort } from '../../scripts/common.mjs';
// @ts-expect-error plain JavaScript shared with the start command
import { startDatabase } from '../../scripts/database.mjs';
// @ts-expect-error plain JavaScript shared with the start command
import { temporaryFolder } from '../../scripts/temporary.mjs';

export const root = fileURLToPath(new URL('../../', import.meta.url));
const agent = new Agent({ keepAlive: true, maxSockets: 600 });

export function call(
  url: string,
  method: string,
  path: string,
  body?: string,
  more: Record<string, string> = {},
): Promise<{ status: number; text: string }> {
  return new Promise((resolve, reject) => {
    const headers = { ...more, ...(body ? { 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) } : {}) };
    const r = request(url + path, { method, agent, headers }, (res) => {
      let text = '';
      res.setEncoding('utf8').on('data', (d: string) => (text += d));
      res.once('end', () => resolve({ status: res.statusCode!, text }));
    });
    r.once('error', reject);
    r.setTimeout(60_000, () => r.destroy(new Error('no answer')));
    r.end(body);
  });
}

/** Serves the tree at `folder` on a fresh database while `work` runs. */
export async function served<T>(
  folder: string,
  work: (url: string, database: string) => Promise<T>,
  settings: Record<string, string> = {},
): Promise<T> {
  const data = temporaryFolder('bench') as string;
  mkdirSync(data, { recursive: true });
  const database = (await startDatabase(data)) as { url: string; stop(): Promise<void> };
  const port = (await freePort()) as number;
  const env = {
    ...process.env,
    UNIROTA_DATABASE: database.url,
    UNIROTA_PORT: String(port),
    UNIROTA_REQUESTS: '10000000',
    UNIROTA_LOG: 'error',
    ...settings,
  };
  const child: ChildProcess = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
    cwd: folder,
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    env,
  });
  try {
    await new Promise<void>((resolve, reject) => {
      child.once('message', () => resolve());
      child.once('exit', (c) => reject(new Error(`the server ended with ${c}`)));
    });
    return await work(`http://127.0.0.1:${port}`, database.url);
  } finally {
    child.kill('SIGKILL');
    await database.stop();
    rmSync(data, { recursive: true, force: true });
  }
}
