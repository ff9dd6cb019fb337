import { randomUUID } from 'node:crypto';
import { type ClientRequest, request } from 'node:http';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { gzipSync } from 'node:zlib';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { WebSocket } from 'ws';
import { emptyDesign } from '@unirota/core/document';
import { Jobs, asking } from '../src/jobs/jobs';
import { orderIn } from '../src/stand-ins/order';
import { type OwnDatabase, Site, withSite } from './site';

/** What one client may try, and what others must not feel of it. */
let own: OwnDatabase, site: Site;
withSite((s, o) => ([site, own] = [s, o]));

const save = (name: string): string => JSON.stringify({ design: emptyDesign(name), save: randomUUID() });
const alive = async (): Promise<void> => expect((await site.call('GET', '/api/live')).status).toBe(200);

/** Sends one message and gives what is heard until the socket ends. */
function tell(message: string | Buffer): Promise<string[]> {
  const ws = new WebSocket(`${site.url.replace('http', 'ws')}/api/stand-ins`);
  const heard: string[] = [];
  ws.on('open', () => ws.send(message));
  ws.on('message', (d: Buffer) => heard.push(d.toString()));
  return new Promise((resolve) => {
    ws.on('close', () => resolve(heard));
    ws.on('error', () => resolve(heard));
  });
}
const list = (n: number, f: (i: number) => number): number[] => Array.from({ length: n }, (_, i) => f(i));
const drive = (time: number[], more: object = {}): string =>
  JSON.stringify({
    device: 'drive',
    limit: 10,
    constant: 1,
    inertia: 0.1,
    counts: 1000,
    slide: false,
    pace: 0,
    time,
    place: time,
    speed: time.map(() => 1),
    effort: time.map(() => 0),
    load: time.map(() => 0.1),
    ...more,
  });

describe('messages over the socket', () => {
  const nested = (n: number, a: string, b: string): string => a.repeat(n) + b.repeat(n);
  const messages: [string, string | Buffer][] = [
    ['40 kB of nested brackets', nested(20_000, '[', ']')],
    ['nested objects', nested(8000, '{"a":', '}')],
    ['brackets left open', '['.repeat(40_000)],
    ['an order with nested brackets in a field', drive([0, 1], { effort: nested(9000, '[', ']') })],
    ['times where a step is lost in rounding', drive([1e15, 1e15 + 1])],
    ['a million numbers', drive(list(200_000, (i) => i))],
    ['bytes that are no text', Buffer.from([0xff, 0xfe, 0, 1, 2])],
    ['nothing', ''],
    ['null', 'null'],
    ['numbers without bound', '{"device":"drive","time":[0,1e999]}'],
  ];
  it.each(messages)('%s ends that socket with a sentence, and nothing else', async (_, message) => {
    const heard = await tell(message);
    expect(heard).toHaveLength(1);
    expect(JSON.parse(heard[0])).toEqual({ problem: expect.any(String) });
    await alive();
  });

  it('any bytes are read without an exception', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.uint8Array({ maxLength: 200 }),
          fc.json().map((x) => Buffer.from(x)),
        ),
        (bytes) => void orderIn(bytes),
      ),
    );
  });

  it('large orders, several at once, do not hold up the thread that answers', async () => {
    const order = drive(list(20_000, (i) => i / 10));
    const loop = monitorEventLoopDelay({ resolution: 5 });
    const began = performance.now();
    loop.enable();
    const said = await Promise.all([tell(order), tell(order), tell(drive(list(200_000, (i) => i)))]);
    loop.disable();
    // Computed on that thread, one order would hold it for most of the time that all of them take.
    expect(loop.max / 1e6 / (performance.now() - began)).toBeLessThan(0.2);
    expect(said.slice(0, 2).map((w) => w.at(-1))).toEqual(['{"end":true}', '{"end":true}']);
  }, 60_000);

  it('one person has three at work at once, and none is let in that a proxy passes on', async () => {
    const open = (headers: Record<string, string> = {}): Promise<number> =>
      new Promise((resolve) => {
        const ws = new WebSocket(`${site.url.replace('http', 'ws')}/api/stand-ins`, { headers });
        ws.on('open', () => (sockets.push(ws), resolve(101)));
        ws.on('error', () => undefined);
        ws.on('unexpected-response', (_q, res) => resolve(res.statusCode!));
      });
    const sockets: WebSocket[] = [];
    expect([await open(), await open(), await open(), await open()]).toEqual([101, 101, 101, 503]);
    sockets.forEach((s) => s.terminate());
    expect(await open({ 'x-forwarded-for': '203.0.113.7' })).toBe(403);
    expect(await open({ via: '1.1 proxy' })).toBe(403);
  });
});

describe('requests of every kind', () => {
  const ROUTES: [string, string][] = [
    ['GET', '/api/designs'],
    ['POST', '/api/designs'],
    ['GET', '/api/folders'],
    ['PUT', '/api/designs/:/folder'],
    ['GET', '/api/designs/:'],
    ['PUT', '/api/designs/:'],
    ['POST', '/api/designs/:/aside'],
    ['DELETE', '/api/designs/:'],
    ['GET', '/api/designs/:/sketch'],
    ['POST', '/api/designs/:/copy'],
    ['POST', '/api/designs/:/restore'],
    ['GET', '/api/designs/:/revisions'],
    ['GET', '/api/designs/:/revisions/1'],
    ['PUT', '/api/designs/:/revisions/1'],
    ['POST', '/api/session'],
    ['PUT', '/api/passphrase'],
    ['GET', '/api/audit'],
    ['POST', '/api/strength'],
  ];
  it('are answered and never with 500, whatever they carry', async () => {
    const any = fc.oneof(
      fc.json({ maxDepth: 3 }),
      fc.constantFrom(
        '',
        '[',
        'null',
        '['.repeat(8000),
        '{"design":'.repeat(900) + '1' + '}'.repeat(900),
        `{"login":${'['.repeat(7000)}${']'.repeat(7000)}}`,
      ),
    );
    const query = fc.constantFrom(
      '',
      '?after=WzEsMl0',
      `?after=${Buffer.from('["+275760-09-13T00:00:00.000Z","x"]').toString('base64url')}`,
      `?after=${Buffer.from('["-000001-01-01T00:00:00.000Z","x"]').toString('base64url')}`,
      '?before=+275760-09-13',
      '?before=-271821-04-20',
      '?order=name&search=%25%5C_',
      '?search=%00',
      '?search=a&search=b',
    );
    const id = fc.constantFrom(randomUUID(), 'x', '..', '%00', '1'.repeat(300));
    const seen = new Set<number>();
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...ROUTES), id, query, any, async ([method, path], own, q, body) => {
        const r = await site.call(method, path.replace(':', own) + q, undefined, { raw: method === 'GET' ? undefined : body });
        seen.add(r.status);
        expect(r.status, `${method} ${path} ${q} ${body.slice(0, 80)}`).not.toBe(500);
      }),
      { numRuns: 300 },
    );
    expect([...seen]).toEqual(expect.arrayContaining([200, 404, 422]));
    await alive();
  }, 60_000);

  it('of times beyond the calendar are refused, not failed', async () => {
    const beyond = Buffer.from('["+275760-09-13T00:00:00.000Z","x"]').toString('base64url');
    expect((await site.call('GET', `/api/designs?after=${beyond}`)).status).toBe(400);
  });

  it('that are compressed are refused before they are opened', async () => {
    const packed = gzipSync(' '.repeat(8_000_000));
    const r = await site.call('POST', '/api/designs', undefined, { raw: packed, headers: { 'content-encoding': 'gzip' } });
    expect(r.status).toBe(415);
    const small = await site.call('PUT', `/api/designs/${randomUUID()}/folder`, undefined, {
      raw: gzipSync('{}'),
      headers: { 'content-encoding': 'gzip' },
    });
    expect(small.status).toBe(415);
  });
});

describe('one person who sends much', () => {
  let team: Site;
  const people: Record<string, string> = {};
  beforeAll(async () => {
    team = await Site.open(own.url, { accounts: true });
    for (const login of ['first', 'second']) people[login] = `unirota=${await team.app.accounts.sessions.begin(await personOf(login))}`;
  });
  afterAll(async () => {
    await team?.close();
  });
  async function personOf(login: string): Promise<string> {
    const id = randomUUID();
    await team.database.change(
      'INSERT INTO people (id, login, name, role, passphrase, created_at) VALUES (:id, :login, :login, :role, :passphrase, :now)',
      { id, login, role: 'member', passphrase: '', now: new Date() },
    );
    return id;
  }
  /** A request that is begun and not finished; given when what there is of it has gone out. */
  const half = (cookie: string): Promise<ClientRequest> => {
    const r = request(`${team.url}/api/designs`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'content-length': String(8 * 1024 * 1024), cookie },
    });
    r.on('error', () => undefined);
    return new Promise((begun) => r.write('{"design":', () => begun(r)));
  };
  const saveAs = (who: string): Promise<{ status: number }> =>
    team.call('POST', '/api/designs', undefined, { raw: save(`of ${who}`), headers: { cookie: people[who] } });

  it('does not shut others out with uploads that he never finishes', async () => {
    const halves = await Promise.all(list(40, () => 0).map(() => half(people['first'])));
    expect((await saveAs('second')).status).toBe(201);
    halves.forEach((h) => h.destroy());
  });

  it('does not cut another’s upload at the same address with requests that he never finishes', async () => {
    const body = save('slow');
    const r = request(`${team.url}/api/designs`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'content-length': String(Buffer.byteLength(body)), cookie: people['second'] },
    });
    const other = new Promise<number>((resolve, reject) => {
      r.on('response', (res) => resolve(res.statusCode!));
      r.on('error', reject);
    });
    await new Promise<void>((begun) => r.write(body.slice(0, 20), () => begun()));
    const halves = await Promise.all(list(200, () => 0).map(() => half(people['first'])));
    expect((await team.call('GET', '/api/live')).status).toBe(200);
    r.end(body.slice(20));
    expect(await other).toBe(201);
    halves.forEach((h) => h.destroy());
  });

  it('waits for himself: another’s save is answered while his are still being looked into', async () => {
    const jobs = new Jobs(2);
    try {
      await jobs.run('textOf', { body: gzipSync('{}') }).catch(() => undefined);
      const wrong = JSON.stringify({
        save: randomUUID(),
        design: { ...emptyDesign('x'), members: list(4000, (i) => i).map((i) => ({ id: i, kind: 7 })) },
      });
      let done = 0;
      const his = Promise.all(
        list(40, () => 0).map(() => asking.run('first', () => jobs.run('check', { body: Buffer.from(wrong), kind: 'create' })).then(() => done++)),
      );
      // Where the test ends before they do, their end is no failure of its own.
      his.catch(() => undefined);
      const mine = await asking.run('second', () => jobs.run('check', { body: Buffer.from(save('mine')), kind: 'create' }));
      expect(mine).toMatchObject({ name: 'mine' });
      expect(done).toBeLessThan(20);
      await his;
    } finally {
      await jobs.end();
    }
  }, 60_000);

  it('is told when he has more looked into than one person can', async () => {
    const jobs = new Jobs(1);
    try {
      const all = await Promise.allSettled(
        list(100, () => 0).map(() => asking.run('first', () => jobs.run('check', { body: Buffer.from(save('x')), kind: 'create' }))),
      );
      const refused = all.filter((x) => x.status === 'rejected').map((x) => (x.reason as { status: number }).status);
      expect(refused.length).toBeGreaterThan(30);
      expect(new Set(refused)).toEqual(new Set([429]));
    } finally {
      await jobs.end();
    }
  }, 60_000);
});
