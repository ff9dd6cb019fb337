import { randomUUID } from 'node:crypto';
import { request } from 'node:http';
import { connect } from 'node:net';
import { describe, expect, it, vi } from 'vitest';
import { emptyDesign } from '@unirota/core/document';
import { readConfig } from '../src/config';
import { type OwnDatabase, Site, withSite } from './site';

let own: OwnDatabase, site: Site;
withSite((s, o) => ([site, own] = [s, o]), {}, { sockets: { headers: 600, request: 1200, unfinished: 8 } });

/** A request with headers of any kind: fetch sets some of its own. */
function raw(method: string, path: string, headers: Record<string, string>, body = ''): Promise<{ status: number; text: string }> {
  return new Promise((resolve, reject) => {
    const r = request(
      site.url + path,
      { method, headers: { ...headers, ...(body ? { 'content-length': String(Buffer.byteLength(body)) } : {}) } },
      (res) => {
        let text = '';
        res.on('data', (d) => (text += d));
        res.on('end', () => resolve({ status: res.statusCode!, text }));
      },
    );
    r.once('error', reject);
    r.end(body);
  });
}
const body = (name = 'x') => JSON.stringify({ design: emptyDesign(name), save: randomUUID() });
const JSON_TYPE = { 'content-type': 'application/json' };
const names = async (): Promise<string[]> => (await site.call('GET', '/api/designs')).body.designs.map((d: { name: string }) => d.name);

describe('only our page', () => {
  it('a name that is not this server’s is not answered, for reading and for writing (DNS rebinding)', async () => {
    const foreign = { host: 'attacker.example' };
    expect((await raw('GET', '/api/designs', foreign)).status).toBe(421);
    expect((await raw('POST', '/api/designs', { ...foreign, ...JSON_TYPE }, body('rebound'))).status).toBe(421);
    expect((await raw('DELETE', `/api/designs/${randomUUID()}`, foreign)).status).toBe(421);
    expect((await raw('GET', '/api/designs', { host: 'localhost' })).status).toBe(200);
    expect(await names()).not.toContain('rebound');
  });

  it('what another page makes a browser send is refused, written or read', async () => {
    for (const headers of <Record<string, string>[]>[
      { origin: 'https://other.example' },
      { origin: 'null' },
      { 'sec-fetch-site': 'cross-site' },
      { 'sec-fetch-site': 'same-site' },
      { 'sec-fetch-site': 'none' },
    ]) {
      expect((await raw('POST', '/api/designs', { ...headers, ...JSON_TYPE }, body('foreign'))).status).toBe(403);
    }
    expect((await raw('GET', '/api/designs', { 'sec-fetch-site': 'cross-site' })).status).toBe(403);
    expect((await raw('GET', '/api/designs', { 'sec-fetch-site': 'none' })).status).toBe(200);
    const { host } = new URL(site.url);
    expect(
      (await raw('POST', '/api/designs', { host, origin: `http://${host}`, 'sec-fetch-site': 'same-origin', ...JSON_TYPE }, body('ours'))).status,
    ).toBe(201);
    const all = await names();
    expect(all).toContain('ours');
    expect(all).not.toContain('foreign');
  });

  it('nothing is written by a form, by GET, or by a method that nobody knows', async () => {
    for (const type of ['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data; boundary=x', '']) {
      expect((await raw('POST', '/api/designs', type ? { 'content-type': type } : {}, body('form'))).status).toBe(415);
    }
    expect((await raw('TRACE', '/api/designs', {})).status).toBeGreaterThanOrEqual(400);
    expect((await raw('GET', '/api/designs/x/copy', {})).status).toBe(404);
    expect(await names()).not.toContain('form');
  });

  it('a foreign page cannot use the limit of requests up', async () => {
    const tight = await Site.open(own.url, { requestsPerMinute: 20 });
    const foreign = { 'sec-fetch-site': 'cross-site' };
    for (let k = 0; k < 60; k++) expect((await tight.call('GET', '/api/designs', undefined, { headers: foreign })).status).toBe(403);
    expect((await tight.call('GET', '/api/designs')).status).toBe(200);
    await tight.close();
  });
});

describe('limits', () => {
  it('of requests hold over all servers of one database, and say when to come again', async () => {
    const two = await Promise.all([Site.open(own.url, { requestsPerMinute: 30 }), Site.open(own.url, { requestsPerMinute: 30 })]);
    const ask = (k: number) => two[k % 2].call('GET', '/api/designs');
    // Earlier tests have counted in this minute too.
    for (let k = 0; k < 30; k++) await ask(k);
    // Each server takes up within seconds what the other has counted.
    const late = [0, 1].map((k) =>
      vi.waitFor(
        async () => {
          const r = await ask(k);
          expect(r.status).toBe(429);
          expect(Number(r.headers.get('retry-after'))).toBeGreaterThan(0);
        },
        { timeout: 10_000, interval: 200 },
      ),
    );
    await Promise.all(late);
    await Promise.all(two.map((s) => s.close()));
  });
});

describe('nothing that a client sends costs much', () => {
  const timed = async (work: () => Promise<{ status: number; text: string }>) => {
    let blocked = 0;
    let last = performance.now();
    const tick = setInterval(() => {
      blocked = Math.max(blocked, performance.now() - last - 5);
      last = performance.now();
    }, 5);
    const answer = await work();
    clearInterval(tick);
    return { ...answer, blocked };
  };

  it('a fraction of 394 KiB is refused at once and shortly', async () => {
    const design = {
      ...emptyDesign('long fraction'),
      couplings: [{ id: 'c', type: 'proportional', from: 'a', to: 'b', ratio: `1/${'7'.repeat(394 * 1024)}` }],
    };
    const r = await timed(() => site.call('POST', '/api/designs', { design, save: randomUUID() }));
    expect(r.status).toBe(422);
    expect(r.text.length).toBeLessThan(20_000);
  });

  it('nesting, long lists and many wrong places are answered in under 20 kB', async () => {
    const deep = `{"save":"${randomUUID()}","design":${'{"a":'.repeat(100_000)}1${'}'.repeat(100_000)}}`;
    const long = { ...emptyDesign('x'), members: Array.from({ length: 200_000 }, (_, k) => ({ id: `m${k}`, kind: 'wrong' })) };
    const wrong = { ...emptyDesign('x'), elements: Array.from({ length: 3000 }, () => ({ id: 1, type: 'no', a: 'b' })) };
    const keys = { ...emptyDesign('x'), ...Object.fromEntries(Array.from({ length: 50_000 }, (_, k) => [`k${k}`, k])) };
    for (const sent of [
      deep,
      JSON.stringify({ save: randomUUID(), design: long }),
      JSON.stringify({ save: randomUUID(), design: wrong }),
      JSON.stringify({ save: randomUUID(), design: keys }),
    ]) {
      const r = await timed(() => site.call('POST', '/api/designs', undefined, { raw: sent }));
      expect(r.status).toBeGreaterThanOrEqual(400);
      expect(r.status).toBeLessThan(500);
      expect(r.text.length).toBeLessThan(20_000);
    }
  });

  it('requests that never end are ended, and one address has few of them', async () => {
    const { port } = new URL(site.url);
    const ended: number[] = [];
    const start = Date.now();
    Array.from({ length: 30 }, (_, k) => {
      const s = connect(Number(port), '127.0.0.1');
      // Half never finish their headers, half never their body.
      s.write(
        k % 2
          ? 'GET /api/live HTTP/1.1\r\nHost: localhost\r\nX-Slow: '
          : 'POST /api/designs HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 100000\r\n\r\n{',
      );
      s.on('error', () => undefined).resume();
      s.once('close', () => ended.push(Date.now() - start));
      return s;
    });
    // More than eight without headers, and eight without their body, are not borne: the oldest make room.
    await vi.waitFor(() => expect(ended.length).toBeGreaterThanOrEqual(14), { timeout: 3000 });
    expect((await site.call('GET', '/api/live')).status).toBe(200);
    await vi.waitFor(() => expect(ended).toHaveLength(30), { timeout: 40_000, interval: 100 });
  }, 60_000);
});

describe('settings', () => {
  const base = { UNIROTA_DATABASE: 'mysql://a:b@127.0.0.1:3306/c' };
  it('that others could reach without signing in are refused with a sentence', () => {
    expect(() => readConfig({ ...base, UNIROTA_HOST: '0.0.0.0' })).toThrow(/people must sign in. Set UNIROTA_ACCOUNTS=on/);
    expect(() => readConfig({ ...base, UNIROTA_HOST: '::' })).toThrow(/UNIROTA_ACCOUNTS=on/);
    expect(() => readConfig({ ...base, UNIROTA_ADDRESS: 'https://drives.example/' })).toThrow(/UNIROTA_ACCOUNTS=on/);
    expect(readConfig({ ...base, UNIROTA_HOST: '0.0.0.0', UNIROTA_ACCOUNTS: 'on' }).accounts).toBe(true);
    expect(readConfig(base)).toMatchObject({ host: '127.0.0.1', accounts: false });
  });
  it('that are wrong are named with what they must be', () => {
    expect(() => readConfig({})).toThrow(/UNIROTA_DATABASE is missing/);
    expect(() => readConfig({ ...base, UNIROTA_PORT: '70000' })).toThrow(/UNIROTA_PORT must be a whole number from 0 to 65535/);
    expect(() => readConfig({ ...base, UNIROTA_ACCOUNTS: 'yes' })).toThrow(/UNIROTA_ACCOUNTS must be one of on, off/);
    expect(() => readConfig({ ...base, UNIROTA_ADDRESS: 'ftp://x' })).toThrow(/UNIROTA_ADDRESS must be the address/);
  });
  it('name the hosts that are answered and the proxies that are trusted', () => {
    const c = readConfig({ ...base, UNIROTA_ACCOUNTS: 'on', UNIROTA_ADDRESS: 'https://Drives.example/', UNIROTA_TRUST_PROXY: '10.0.0.1, 10.0.0.2' });
    expect([...c.hosts]).toContain('drives.example');
    expect(c.trustProxy).toEqual(['10.0.0.1', '10.0.0.2']);
    expect(readConfig({ ...base, UNIROTA_TRUST_PROXY: '1' }).trustProxy).toBe(1);
  });
});
