import { randomUUID } from 'node:crypto';
import { Writable } from 'node:stream';
import express from 'express';
import { type Logger, pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { emptyDesign } from '@unirota/core/document';
import { openMetrics, requestLog } from '../src/http/log';
import { Refusal, databaseAway, diskFull } from '../src/refusal';
import { problems } from '../src/http/problem';
import { type OwnDatabase, Site, ownDatabase } from './site';

/** A log that the test reads. */
function written(): { log: Logger; text(): string; lines(): Record<string, unknown>[] } {
  let text = '';
  const stream = new Writable({
    write(chunk, _e, done) {
      text += String(chunk);
      done();
    },
  });
  return {
    log: pino({ level: 'info' }, stream),
    text: () => text,
    lines: () =>
      text
        .trim()
        .split('\n')
        .filter(Boolean)
        .map((l) => JSON.parse(l)),
  };
}

describe('the request log', () => {
  const w = written();
  let own: OwnDatabase, site: Site;
  beforeAll(async () => {
    own = await ownDatabase();
    site = await Site.open(own.url, { accounts: true }, { log: w.log });
  });
  afterAll(async () => {
    await site?.close();
    await own?.stop();
  });

  it('has a line for each request with id, pattern of the address, status and who, and no secret and no body', async () => {
    const { token } = await site.app.accounts.people.invite('member', undefined);
    const words = 'heron under the lock gate';
    const joined = await site.call('POST', '/api/join', { token, login: 'ada', name: 'Ada Brook', passphrase: words });
    const cookie = joined.headers.getSetCookie()[0].split(';')[0];
    site.cookie = cookie;
    const { id } = (await site.call('POST', '/api/designs', { design: emptyDesign('Confidential weir'), save: randomUUID() })).body;
    const link = (await site.call('POST', `/api/designs/${id}/links`, { may: 'look', days: 1 })).body;
    await site.call('GET', '/api/designs?search=Confidential');
    await site.call('GET', `/api/designs/${id}`, undefined, { headers: { 'x-request-id': 'from-the-proxy-1' } });
    await site.call('POST', '/api/session', { login: 'ada', passphrase: 'a wrong one, as typed' });
    await site.call('GET', `/api/designs/${randomUUID()}`);
    for (const secret of [token, words, cookie.split('=')[1], 'Confidential', link.token, 'a wrong one', 'ada', 'Ada Brook']) {
      expect(w.text()).not.toContain(secret);
    }
    const lines = w.lines().filter((l) => l['msg'] === 'request');
    expect(lines.map((l) => [l['method'], l['route'], l['status']])).toEqual([
      ['POST', '/api/join', 201],
      ['POST', '/api/designs', 201],
      ['POST', '/api/designs/:id/links', 201],
      ['GET', '/api/designs', 200],
      ['GET', '/api/designs/:id', 200],
      ['POST', '/api/session', 401],
      ['GET', '/api/designs/:id', 404],
    ]);
    expect(lines[4]).toMatchObject({ id: 'from-the-proxy-1', design: id, person: joined.body.person.id });
    expect(new Set(lines.map((l) => l['id'])).size).toBe(lines.length);
  });

  it('takes no id from a client that could break a line or a log', async () => {
    for (const id of ['short', 'x'.repeat(65), '"},{"level":60', 'a b c d e f g h']) {
      const r = await site.call('GET', '/api/live', undefined, { headers: { 'x-request-id': id } });
      expect(r.headers.get('x-request-id')).toMatch(/^[0-9a-f-]{36}$/);
    }
  });

  it('measures come in the open text format: each with help and type, requests by pattern and status', async () => {
    const { text, type } = await site.call('GET', '/api/metrics');
    expect(type).toMatch(/^text\/plain; version=0\.0\.4/);
    for (const line of text.split('\n').filter(Boolean)) {
      expect(line).toMatch(/^(# (HELP|TYPE) \w+ .+|\w+(\{(\w+="[^"]*",?)+\})? (-?[\d.e+-]+|NaN|[+-]Inf))$/);
    }
    expect(text).toMatch(/unirota_request_seconds_count\{method="GET",route="\/api\/designs\/:id",status="404"\} 1/);
    expect(text).not.toMatch(/[0-9a-f]{8}-[0-9a-f]{4}/);
    const passed = await site.call('GET', '/api/metrics', undefined, { headers: { 'x-forwarded-for': '10.0.0.9' } });
    expect(passed.status).toBe(403);
    const guarded = await Site.open(own.url, { metricsToken: 'for the watcher' });
    expect((await guarded.call('GET', '/api/metrics')).status).toBe(403);
    expect((await guarded.call('GET', '/api/metrics', undefined, { headers: { authorization: 'Bearer for the watcher' } })).status).toBe(200);
    await guarded.close();
  });
});

describe('what went wrong', () => {
  const w = written();
  const app = express();
  app.use(
    requestLog(
      w.log,
      openMetrics(() => 0),
    ),
  );
  const cases: Record<string, unknown> = {
    refusal: new Refusal(409, 'Saved elsewhere', { current: { revision: 2, savedAt: 'x' } }),
    gone: Object.assign(new Error('connect ECONNREFUSED 127.0.0.1:1 secret-host'), { code: 'ECONNREFUSED' }),
    busy: Object.assign(new Error('Lock wait timeout'), { code: 'ER_LOCK_WAIT_TIMEOUT' }),
    full: Object.assign(new Error("The table 'revisions' is full"), { code: 'ER_RECORD_FILE_FULL' }),
    notReady: Object.assign(new Error('WSREP has not yet prepared node for application use'), { code: 'ER_UNKNOWN_COM_ERROR', errno: 1047 }),
    bug: new TypeError('cannot read secret of undefined'),
    thrown: 'a text that somebody threw',
    many: new Refusal(422, 'wrong', { problems: Array.from({ length: 500 }, (_, k) => ({ path: `x${k}`, message: 'wrong' })) }),
  };
  app.get('/:case', (req) => {
    throw cases[String(req.params['case'])];
  });
  app.use(problems(w.log));
  const server = app.listen(0, '127.0.0.1');
  afterAll(() => server.close());
  const ask = async (name: string) => {
    const { port } = server.address() as { port: number };
    const r = await fetch(`http://127.0.0.1:${port}/${name}`);
    return { status: r.status, retry: r.headers.get('retry-after'), text: await r.text() };
  };

  it('is answered by what the client can do about it, and never with what happened inside', async () => {
    const statuses: Record<string, number> = {};
    for (const name of Object.keys(cases)) {
      const { status, text, retry } = await ask(name);
      statuses[name] = status;
      expect(text).not.toMatch(/secret|ECONN|ER_|at .*\.ts|somebody threw/);
      expect(JSON.parse(text)).toMatchObject({ status, type: 'about:blank' });
      if ([503, 507].includes(status)) expect(Number(retry)).toBeGreaterThan(0);
    }
    expect(statuses).toEqual({ refusal: 409, gone: 503, busy: 503, full: 507, notReady: 503, bug: 500, thrown: 500, many: 422 });
    expect(JSON.parse((await ask('many')).text).problems).toHaveLength(50);
    // Whoever runs the server is told what happened.
    expect(w.text()).toContain('cannot read secret of undefined');
  });

  it('tells a database that is away from a statement that is wrong', () => {
    expect(databaseAway(cases['gone'])).toBe(true);
    expect(databaseAway(Object.assign(new Error('syntax'), { code: 'ER_PARSE_ERROR' }))).toBe(false);
    expect(diskFull(cases['full'])).toBe(true);
    expect(diskFull(Object.assign(new Error('Duplicate entry'), { code: 'ER_DUP_ENTRY' }))).toBe(false);
  });
});
