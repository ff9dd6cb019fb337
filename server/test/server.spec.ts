import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Pool } from 'mysql2/promise';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Design, emptyDesign } from '@unirota/core/design';
// @ts-expect-error plain JavaScript shared with the start command
import { startDatabase } from '../../scripts/common.mjs';
import { createApp } from '../src/app';
import { migrate, openPool } from '../src/database';
import { loadDemo } from '../src/demo';
import { Designs } from '../src/designs';

/** The real server on a real MariaDB of its own. */
let folder: string, database: { url: string; stop(): Promise<void> }, pool: Pool, server: Server, base: string;
const log = pino({ level: 'silent' });

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'unirota-server-'));
  database = await startDatabase(folder);
  await migrate(database.url);
  await migrate(database.url);
  pool = openPool(database.url);
  server = createApp({ designs: new Designs(pool), log, limit: 400 }).listen(0, '127.0.0.1');
  await new Promise((r) => server.once('listening', r));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(async () => {
  server?.close();
  await pool?.end().catch(() => undefined);
  await database?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const call = async (method: string, path: string, body?: unknown, raw?: string) => {
  const r = await fetch(base + path, {
    method,
    headers: { 'content-type': 'application/json' },
    body: raw ?? (body === undefined ? undefined : JSON.stringify(body)),
  });
  const text = await r.text();
  return { status: r.status, type: r.headers.get('content-type') ?? '', headers: r.headers, body: text ? JSON.parse(text) : undefined };
};
const create = async (name: string) => (await call('POST', '/api/designs', { design: emptyDesign(name), save: randomUUID() })).body;
const save = (id: string, from: number, design: Design, token = randomUUID()) =>
  call('PUT', `/api/designs/${id}`, { base: from, save: token, design });

describe('designs', () => {
  it('are created, read, listed with a sketch, saved and kept as revisions', async () => {
    const d = await create('Weir hoist');
    expect(d.revision).toBe(1);
    const renamed = { ...emptyDesign('Weir hoist, second thought'), note: 'ünïcode ½' };
    expect((await save(d.id, 1, renamed)).body.revision).toBe(2);
    expect((await call('GET', `/api/designs/${d.id}`)).body.design).toEqual(renamed);
    expect((await call('GET', `/api/designs/${d.id}/revisions/1`)).body.design.name).toBe('Weir hoist');
    expect((await call('GET', `/api/designs/${d.id}/revisions`)).body.map((r: { number: number }) => r.number)).toEqual([2, 1]);
    const line = (await call('GET', '/api/designs')).body.find((x: { id: string }) => x.id === d.id);
    expect(line).toMatchObject({ name: 'Weir hoist, second thought', revision: 2, sketch: { curves: [] } });
  });

  it('answer 409 with both versions when saved from an old revision, and change nothing', async () => {
    const d = await create('Contested');
    await save(d.id, 1, emptyDesign('Theirs'));
    const r = await save(d.id, 1, emptyDesign('Mine'));
    expect(r.status).toBe(409);
    expect(r.type).toContain('application/problem+json');
    expect(r.body.current).toMatchObject({ revision: 2, design: { name: 'Theirs' } });
    expect((await call('GET', `/api/designs/${d.id}`)).body.design.name).toBe('Theirs');
  });

  it('let exactly one of many saves at once through', async () => {
    const d = await create('Crowd');
    const answers = await Promise.all(Array.from({ length: 8 }, (_, k) => save(d.id, 1, emptyDesign(`Crowd ${k}`))));
    expect(answers.filter((a) => a.status === 200)).toHaveLength(1);
    expect(answers.filter((a) => a.status === 409)).toHaveLength(7);
  });

  it('answer a repeated save as the first time', async () => {
    const d = await create('Twice');
    const token = randomUUID();
    const one = await save(d.id, 1, emptyDesign('Twice, saved'), token);
    const two = await save(d.id, 1, emptyDesign('Twice, saved'), token);
    expect([one.status, two.status]).toEqual([200, 200]);
    expect(two.body).toEqual(one.body);
    expect((await call('GET', `/api/designs/${d.id}/revisions`)).body).toHaveLength(2);
  });

  it('are duplicated, deleted and brought back', async () => {
    const d = await create('Original');
    const copy = await call('POST', `/api/designs/${d.id}/copy`, { save: randomUUID() });
    expect(copy.body.design.name).toBe('Original (copy)');
    expect((await call('DELETE', `/api/designs/${d.id}`)).status).toBe(204);
    expect((await call('GET', `/api/designs/${d.id}`)).status).toBe(404);
    expect((await save(d.id, 1, emptyDesign('x'))).status).toBe(404);
    expect((await call('POST', `/api/designs/${d.id}/restore`)).body.design.name).toBe('Original');
    expect((await call('GET', `/api/designs/${d.id}`)).status).toBe(200);
  });
});

describe('what is sent wrongly', () => {
  it('is refused with the places that are wrong', async () => {
    const d = await create('Strict');
    const r = await save(d.id, 1, { ...emptyDesign('x'), members: [{ id: 'a b', name: '', kind: 'shaft' }] });
    expect(r.status).toBe(422);
    expect(r.body.problems.map((p: { path: string }) => p.path)).toEqual(expect.arrayContaining(['members[0].id', 'members[0].name']));
    expect((await call('PUT', `/api/designs/${d.id}`, { base: 'x' })).status).toBe(422);
    expect((await call('PUT', `/api/designs/${d.id}`, undefined, '{')).status).toBe(400);
    expect((await call('POST', '/api/designs', { design: emptyDesign('x'), save: 'no' })).status).toBe(422);
  });

  it('finds nothing behind strange addresses, and no stack trace anywhere', async () => {
    for (const path of [
      "/api/designs/' OR 1=1 --",
      '/api/designs/x',
      '/api/nothing',
      `/api/designs/${randomUUID()}`,
      `/api/designs/${randomUUID()}/revisions/0`,
    ]) {
      const r = await call('GET', path);
      expect(r.status).toBe(404);
      expect(JSON.stringify(r.body)).not.toMatch(/\\n\s+at |node_modules/);
    }
  });

  it('keeps text that looks like SQL as text', async () => {
    const d = await create("Robert'); DROP TABLE designs; --");
    expect((await call('GET', `/api/designs/${d.id}`)).body.design.name).toBe("Robert'); DROP TABLE designs; --");
  });

  it('limits the size of a document', async () => {
    const r = await call(
      'POST',
      '/api/designs',
      undefined,
      JSON.stringify({ design: emptyDesign('x'), save: randomUUID(), more: 'x'.repeat(9 * 1024 * 1024) }),
    );
    expect(r.status).toBe(413);
  });
});

describe('the server', () => {
  it('sends a content security policy that runs only its own scripts', async () => {
    const r = await call('GET', '/api/health');
    expect(r.body).toEqual({ server: 'ok', database: 'ok' });
    const csp = r.headers.get('content-security-policy')!;
    expect(csp).toContain("script-src 'self'");
    expect(csp).not.toContain('unsafe-eval');
    expect(r.headers.get('x-powered-by')).toBeNull();
  });

  it('loads each demo once, and not again after it was deleted', async () => {
    const designs = new Designs(pool);
    expect(await loadDemo(designs, pool, log)).toBeGreaterThan(0);
    for (const d of await designs.list()) if (d.name === 'Paddle winding gear') await designs.remove(d.id);
    expect(await loadDemo(designs, pool, log)).toBe(0);
  });

  it('limits how often it is asked', async () => {
    const answers = await Promise.all(Array.from({ length: 420 }, () => fetch(`${base}/api/designs/x`)));
    expect(answers.some((a) => a.status === 429)).toBe(true);
  });

  it('says so, and recovers, when the database goes away', async () => {
    const own = openPool(database.url);
    const app = createApp({ designs: new Designs(own), log }).listen(0, '127.0.0.1');
    await new Promise((r) => app.once('listening', r));
    const at = `http://127.0.0.1:${(app.address() as AddressInfo).port}`;
    const broken = openPool(database.url.replace(/:\d+\//, ':1/'));
    const dark = createApp({ designs: new Designs(broken), log }).listen(0, '127.0.0.1');
    await new Promise((r) => dark.once('listening', r));
    const there = `http://127.0.0.1:${(dark.address() as AddressInfo).port}`;
    expect((await fetch(`${at}/api/health`)).status).toBe(200);
    const health = await fetch(`${there}/api/health`);
    expect([health.status, (await health.json()).database]).toEqual([503, 'away']);
    const list = await fetch(`${there}/api/designs`);
    expect(list.status).toBe(503);
    expect((await list.json()).title).toMatch(/nothing is lost/);
    app.close();
    dark.close();
    await Promise.all([own.end(), broken.end()]);
  });
});
