import { randomUUID } from 'node:crypto';
import { mkdirSync, rmSync } from 'node:fs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { emptyDesign } from '@unirota/core/document';
// @ts-expect-error plain JavaScript shared with the start command
import { startDatabase } from '../../scripts/database.mjs';
// @ts-expect-error plain JavaScript shared with the start command
import { temporaryFolder } from '../../scripts/temporary.mjs';
import { ServerProcess, port, sleep } from './processes';

const LASTS = 40_000;
const AT_MOST = 100_000;
const CLIENTS = 8;

let folder: string;
let database: { url: string; port: number; pid: number; exited: Promise<unknown>; stop(): Promise<void> };
let servers: ServerProcess[];
beforeAll(async () => {
  folder = temporaryFolder('chaos');
  mkdirSync(folder, { recursive: true });
  database = await startDatabase(folder);
  servers = await Promise.all([0, 1].map(async () => new ServerProcess(await port(), database.url)));
  await Promise.all(servers.map((s) => s.start()));
});
afterAll(async () => {
  await Promise.all((servers ?? []).map((s) => s.kill()));
  await database?.stop();
  rmSync(folder, { recursive: true, force: true });
});

it('servers and database are killed at random while people save: every acknowledged revision is there and right', async () => {
  const begun = Date.now();
  // On a busy machine it takes longer until enough has been killed and saved.
  const done = (): boolean => Date.now() - begun > (kills > 10 && acknowledged.length > 100 ? LASTS : AT_MOST);
  let over = false;
  let kills = 0;
  /** Asks one server after the other until one answers for good. */
  async function ask(method: string, path: string, body?: unknown): Promise<{ status: number; body: any }> {
    for (let k = Math.floor(Math.random() * 2); ; k++) {
      try {
        const r = await fetch(servers[k % 2].url + path, {
          method,
          headers: { 'content-type': 'application/json' },
          ...(body ? { body: JSON.stringify(body) } : {}),
          signal: AbortSignal.timeout(10_000),
        });
        if (r.status < 500) return { status: r.status, body: await r.json() };
      } catch {
        // Killed, or not there yet.
      }
      await sleep(40);
    }
  }
  const acknowledged: { id: string; revision: number; name: string }[] = [];
  const made = async (name: string): Promise<string> =>
    (await ask('POST', '/api/designs', { design: emptyDesign(name), save: randomUUID() })).body.id as string;
  const shared = await made('Shared');

  async function person(n: number): Promise<void> {
    const own = await made(`Person ${n}`);
    const base = new Map([
      [own, 1],
      [shared, 1],
    ]);
    for (let k = 1; !done(); k++) {
      const id = k % 4 ? own : shared;
      const name = `Person ${n}, edit ${k}`;
      const r = await ask('PUT', `/api/designs/${id}`, {
        base: base.get(id),
        save: randomUUID(),
        design: { ...emptyDesign(name), note: 'w'.repeat(3000) + k },
      });
      if (r.status === 200) {
        acknowledged.push({ id, revision: r.body.revision, name });
        base.set(id, r.body.revision);
      } else {
        // Only the shared one can be saved by somebody else meanwhile.
        expect([r.status, id]).toEqual([409, shared]);
        base.set(id, r.body.current.revision);
      }
    }
  }
  async function killServers(): Promise<void> {
    while (!done()) {
      await sleep(800 + Math.random() * 2500);
      const s = servers[Math.floor(Math.random() * 2)];
      await s.kill();
      kills++;
      // It may come up while the database is dead, and then ends: started again, as the start command does.
      while (
        !over &&
        !(await s.start().then(
          () => true,
          () => false,
        ))
      ) {
        await sleep(300);
      }
    }
  }
  async function killDatabase(): Promise<void> {
    while (!done()) {
      await sleep(3000 + Math.random() * 4000);
      process.kill(database.pid, 'SIGKILL');
      kills++;
      await database.exited;
      database = await startDatabase(folder, { port: database.port });
    }
  }
  await Promise.all([...Array.from({ length: CLIENTS }, (_, n) => person(n)), killServers(), killDatabase()]);
  over = true;

  expect(kills).toBeGreaterThan(10);
  expect(acknowledged.length).toBeGreaterThan(100);
  const seen = new Set(acknowledged.map((a) => `${a.id} ${a.revision}`));
  expect(seen.size).toBe(acknowledged.length);
  for (const id of new Set(acknowledged.map((a) => a.id))) {
    const lines = new Map<number, string>((await ask('GET', `/api/designs/${id}/revisions`)).body.map((r: any) => [r.number, r.name]));
    for (const a of acknowledged.filter((x) => x.id === id)) {
      // The list ends at the newest thousand; on a fast machine there are more.
      const name = lines.get(a.revision) ?? (await ask('GET', `/api/designs/${id}/revisions/${a.revision}`)).body.design?.name;
      expect(name).toBe(a.name);
    }
    const newest = (await ask('GET', `/api/designs/${id}`)).body;
    expect(newest.design.name).toBe(lines.get(newest.revision));
  }
  // Whole documents, not only their names.
  for (const a of acknowledged.filter((_, k) => k % 20 === 0)) {
    const { body } = await ask('GET', `/api/designs/${a.id}/revisions/${a.revision}`);
    expect([body.design.name, body.design.note.slice(0, 3000)]).toEqual([a.name, 'w'.repeat(3000)]);
  }
  console.log(`chaos: ${kills} kills, ${acknowledged.length} acknowledged revisions, all there`);
}, 150_000);
