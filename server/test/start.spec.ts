import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { emptyDesign } from '@unirota/core/document';
// @ts-expect-error plain JavaScript shared with the start command
import { temporaryFolder } from '../../scripts/temporary.mjs';
import { port, root, sleep } from './processes';

interface Started {
  child: ChildProcess;
  said(): string;
  ended: Promise<number | null>;
}
const running: Started[] = [];
function run(script: string, env: Record<string, string>, ...args: string[]): Started {
  const child = spawn(process.execPath, [join(root, 'scripts', script), ...args], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, ...env },
  });
  let said = '';
  for (const s of [child.stdout, child.stderr]) s.on('data', (d) => (said += d));
  const started = { child, said: () => said, ended: new Promise<number | null>((r) => child.once('exit', r)) };
  running.push(started);
  return started;
}
async function until(work: () => unknown, what: string, ms = 60_000): Promise<void> {
  for (const end = Date.now() + ms; Date.now() < end; await sleep(100)) if (await Promise.resolve(work()).catch(() => false)) return;
  throw new Error(`not within ${ms} ms: ${what}`);
}
/** Processes that have a text in their command line. */
const processes = (text: string, name: string): number[] => {
  try {
    return execFileSync('pgrep', ['-f', `${name}.*${text}`], { encoding: 'utf8' })
      .trim()
      .split('\n')
      .map(Number);
  } catch {
    return [];
  }
};

let data: string, at: number, url: string, first: Started;
const env = () => ({ UNIROTA_DATA: data, UNIROTA_PORT: String(at) });
const call = async (method: string, path: string, body?: unknown): Promise<any> => {
  const r = await fetch(url + path, { method, headers: { 'content-type': 'application/json' }, ...(body ? { body: JSON.stringify(body) } : {}) });
  return r.json();
};
const ready = async (): Promise<boolean> => (await call('GET', '/api/ready')).database === 'ok';
const serverPid = (): number =>
  Number(execFileSync('pgrep', ['-P', String(first.child.pid), '-f', 'server/src/main.ts'], { encoding: 'utf8' }).trim());

beforeAll(async () => {
  data = temporaryFolder('start');
  at = await port();
  url = `http://127.0.0.1:${at}`;
  first = run('start.mjs', env());
  await until(() => /Unirota is ready/.test(first.said()), `ready: ${first.said()}`, 200_000);
}, 220_000);
afterAll(async () => {
  for (const s of running) if (s.child.exitCode === null) s.child.kill('SIGTERM');
  await Promise.all(running.map((s) => s.ended));
  rmSync(data, { recursive: true, force: true });
});

describe('the start command', () => {
  it('starts again what dies, with a sentence, and nothing is lost', async () => {
    const { id } = await call('POST', '/api/designs', { design: emptyDesign('Lives on'), save: randomUUID() });
    const [db] = processes(`${data}/mariadb`, 'mariadbd');
    process.kill(db, 'SIGKILL');
    await until(() => /The database has stopped \(SIGKILL\); it is started again in/.test(first.said()), 'the sentence about the database');
    await until(ready, 'ready again');
    process.kill(serverPid(), 'SIGKILL');
    await until(() => /The server has stopped \(SIGKILL\); it is started again in/.test(first.said()), 'the sentence about the server');
    await until(ready, 'ready once more');
    expect((await call('GET', `/api/designs/${id}`)).design.name).toBe('Lives on');
    expect(first.child.exitCode).toBeNull();
  }, 120_000);

  it('a second one, on whatever port, says where the first is and leaves it alone', async () => {
    for (const more of [{}, { UNIROTA_PORT: String(await port()) }]) {
      const second = run('start.mjs', { ...env(), ...more });
      expect(await second.ended).toBe(0);
      expect(second.said()).toContain(`Unirota is running already: ${url}/`);
    }
    const elsewhere = temporaryFolder('start') as string;
    const third = run('start.mjs', { ...env(), UNIROTA_DATA: elsewhere });
    expect(await third.ended).toBe(1);
    expect(third.said()).toMatch(/Port \d+ is taken by another program. Stop that one, or choose another port/);
    rmSync(elsewhere, { recursive: true, force: true });
    expect(await ready()).toBe(true);
  }, 60_000);

  it('backs up while it runs, and puts back what was backed up', async () => {
    const { id } = await call('POST', '/api/designs', { design: emptyDesign('In the backup'), save: randomUUID() });
    const file = join(data, 'kept.sql.gz');
    const backup = run('backup.mjs', env(), file);
    expect([await backup.ended, backup.said()]).toEqual([0, expect.stringContaining(file)]);
    await call('PUT', `/api/designs/${id}`, { base: 1, save: randomUUID(), design: emptyDesign('After the backup') });
    const early = run('restore.mjs', env(), file);
    expect([await early.ended, early.said()]).toEqual([1, expect.stringContaining('stop it first')]);

    first.child.kill('SIGTERM');
    expect(await first.ended).toBe(0);
    expect(processes(data, 'mariadbd')).toEqual([]);
    const cut = join(data, 'cut.sql.gz');
    writeFileSync(cut, readFileSync(file).subarray(0, 5000));
    const broken = run('restore.mjs', env(), cut);
    expect([await broken.ended, broken.said()]).toEqual([1, expect.stringContaining('not a whole backup')]);
    const restore = run('restore.mjs', env(), file);
    expect([await restore.ended, restore.said()]).toEqual([0, expect.stringContaining('Restored.')]);

    first = run('start.mjs', env());
    await until(() => /Unirota is ready/.test(first.said()), 'ready after the restore');
    // What a build makes is no source of it: a page that stands is not built again.
    expect(first.said()).not.toContain('Building the page');
    expect(await call('GET', `/api/designs/${id}`)).toMatchObject({ revision: 1, design: { name: 'In the backup' } });
    // The content of the demo's shape has come back byte by byte.
    const [gate] = (await call('GET', '/api/designs?search=Screw%20gate')).designs as { id: string }[];
    const [hash] = (await call('GET', `/api/designs/${gate.id}/shapes`)) as unknown as string[];
    const content = await fetch(`${url}/api/designs/${gate.id}/shapes/${hash}`);
    expect(Buffer.from(await content.arrayBuffer())).toEqual(readFileSync(new URL(`../../demo/shapes/${hash}`, import.meta.url)));
  }, 180_000);

  it('killed itself, leaves nothing that keeps the next one from starting', async () => {
    const [pid, db] = [serverPid(), ...processes(`${data}/mariadb`, 'mariadbd')];
    first.child.kill('SIGKILL');
    await first.ended;
    // What it had started ends by itself.
    const lives = (p: number): boolean => existsSync(`/proc/${p}/exe`);
    await until(() => !lives(pid) && !lives(db), 'server and database have ended', 30_000);
    first = run('start.mjs', env());
    await until(() => /Unirota is ready/.test(first.said()), `ready after the kill: ${first.said()}`);
    expect(processes(`${data}/mariadb`, 'mariadbd')).toHaveLength(1);
    expect((await call('GET', '/api/designs?search=backup')).designs).toHaveLength(1);
  }, 90_000);

  it('goes back to any moment, by a backup and the log of what was done since', async () => {
    first.child.kill('SIGTERM');
    await first.ended;
    const logged = () => ({ ...env(), UNIROTA_BINARY_LOG_DAYS: '7' });
    first = run('start.mjs', logged());
    await until(() => /Unirota is ready/.test(first.said()), `ready: ${first.said()}`);
    const { id } = await call('POST', '/api/designs', { design: emptyDesign('Before'), save: randomUUID() });
    // A session that is there at the backup, and changes and ends after it.
    const session = Buffer.alloc(32, 7);
    const sql = async (text: string, values: unknown[] = []): Promise<unknown[]> => {
      const db = await mysql.createConnection({ uri: JSON.parse(readFileSync(join(data, 'database.json'), 'utf8')).url, timezone: 'Z' });
      const [rows] = await db.query(text, values);
      await db.end();
      return rows as unknown[];
    };
    await sql('INSERT INTO sessions (token_hash, person_id, created_at, seen_at) VALUES (?, ?, NOW(), NOW())', [session, randomUUID()]);
    const file = join(data, 'base.sql.gz');
    const backup = run('backup.mjs', logged(), file);
    expect([await backup.ended, backup.said()]).toEqual([0, expect.stringContaining(file)]);
    await call('PUT', `/api/designs/${id}`, { base: 1, save: randomUUID(), design: emptyDesign('Wanted') });
    await sql('UPDATE sessions SET seen_at = ? WHERE token_hash = ?', [new Date(0), session]);
    await sql('DELETE FROM sessions WHERE token_hash = ?', [session]);
    await sql('INSERT INTO sessions (token_hash, person_id, created_at, seen_at) VALUES (?, ?, NOW(), NOW())', [Buffer.alloc(32, 8), randomUUID()]);
    // The log counts in whole seconds.
    const moment = Math.floor(Date.now() / 1000) * 1000 + 1000;
    await until(() => Date.now() > moment + 50, 'the next second');
    await call('PUT', `/api/designs/${id}`, { base: 2, save: randomUUID(), design: emptyDesign('By mistake') });
    first.child.kill('SIGTERM');
    await first.ended;
    for (const [args, sentence] of [
      [[file, '--until', 'yesterday'], 'is no time'],
      [[file, '--til', 'x'], 'npm run restore -- FILE'],
      [[join(data, 'kept.sql.gz'), '--until', '2026-01-01'], 'does not say where it stands'],
    ] as const) {
      const wrong = run('restore.mjs', logged(), ...args);
      expect([await wrong.ended, wrong.said()]).toEqual([1, expect.stringContaining(sentence)]);
    }
    const restore = run('restore.mjs', logged(), file, '--until', new Date(moment).toISOString());
    expect([await restore.ended, restore.said()]).toEqual([0, expect.stringContaining('Restored.')]);
    first = run('start.mjs', logged());
    await until(() => /Unirota is ready/.test(first.said()), 'ready after the restore');
    expect(await call('GET', `/api/designs/${id}`)).toMatchObject({ revision: 2, design: { name: 'Wanted' } });
    expect(await sql('SELECT 1 FROM sessions')).toEqual([]);
    const again = run('restore.mjs', logged(), file, '--until', new Date(moment).toISOString());
    expect([await again.ended, again.said()]).toEqual([1, expect.stringContaining('is not in')]);
  }, 240_000);

  it('prints a link for the first administrator', async () => {
    const asked = run('administrator.mjs', { ...env(), UNIROTA_ADDRESS: 'https://drives.example/', UNIROTA_ACCOUNTS: 'on' });
    expect([await asked.ended, asked.said()]).toEqual([
      0,
      expect.stringMatching(/^For one administrator, once, until 20\d\d-\d\d-\d\d:\nhttps:\/\/drives\.example\/join#[\w-]{43}\n$/),
    ]);
    expect(existsSync(join(data, 'running.json'))).toBe(true);
  });
});
