import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ownPlace } from '../src/accounts/sign-on';
import { readConfig } from '../src/config';
import { issuersIn } from '../src/issuers';
import { TestIssuer } from './issuer';
import { type OwnDatabase, Site, ownDatabase } from './site';

const CLIENT = 'unirota-test';
let own: OwnDatabase, issuer: TestIssuer, site: Site, second: Site, db: mysql.Connection;
/** Redirect addresses are registered, so that ports must be known before the sites are opened. */
beforeAll(async () => {
  own = await ownDatabase();
  // The sites first, with an issuer that is told of them afterwards.
  const issuers: object[] = [];
  site = await Site.open(own.url, { accounts: true, issuers: issuers as never });
  second = await Site.open(own.url, { accounts: true, issuers: issuers as never });
  issuer = await TestIssuer.open(CLIENT, [site.url, second.url], {
    ada: { name: 'Ada Weir', preferred_username: 'ada', roles: ['drives-admin'] },
    bo: { name: 'Bo Lock', email: 'bo@works.example', roles: ['drives'] },
    cy: { name: 'Cy Sluice', roles: ['kitchen'] },
    di: { name: 'Di Weir', preferred_username: 'ada', roles: ['drives'] },
  });
  issuers.push({
    id: 'works',
    name: 'Alder Works',
    issuer: issuer.url,
    clientId: CLIENT,
    clientSecret: 'a secret of the test',
    roleClaim: 'roles',
    administrators: ['drives-admin'],
    members: ['drives'],
  });
  issuers.push({ id: 'away', name: 'Nobody there', issuer: 'http://127.0.0.1:9', clientId: CLIENT });
  db = await mysql.createConnection({ uri: own.url, timezone: 'Z' });
});
afterAll(async () => {
  await db?.end();
  await Promise.all([site?.close(), second?.close()]);
  await issuer?.close();
  await own?.stop();
});

/** A browser as far as it matters: cookies by origin, redirects one by one. */
class Browser {
  private readonly cookies = new Map<string, Map<string, string>>();
  async go(address: string, method = 'GET', body?: string, headers: Record<string, string> = {}): Promise<Response> {
    const { origin } = new URL(address);
    const jar = this.cookies.get(origin) ?? new Map<string, string>();
    this.cookies.set(origin, jar);
    const cookie = [...jar].map(([k, v]) => `${k}=${v}`).join('; ');
    const r = await fetch(address, { method, redirect: 'manual', body: body ?? null, headers: { ...(cookie ? { cookie } : {}), ...headers } });
    for (const set of r.headers.getSetCookie()) {
      const [pair, ...rest] = set.split(';');
      const [name, ...value] = pair.split('=');
      if (rest.some((x) => /max-age=0|expires=thu, 01 jan 1970/i.test(x)) || value.join('=') === '') jar.delete(name);
      else jar.set(name, value.join('='));
    }
    return r;
  }
  /** Follows redirects until a page comes, or until an address is left out. */
  async follow(address: string, until?: (a: string) => boolean): Promise<string> {
    let at = address;
    for (let k = 0; k < 12; k++) {
      if (until?.(at)) return at;
      const r = await this.go(at);
      const to = r.headers.get('location');
      await r.arrayBuffer();
      if (!to) return at;
      at = new URL(to, at).href;
    }
    throw new Error(`round and round at ${at}`);
  }
  async session(at = site): Promise<any> {
    return (await this.go(`${at.url}/api/session`)).json();
  }
}
const place = (address: string): string => address.replace(/^https?:\/\/[^/]+/, '');
async function signedIn(as: string, to = '/', at = site): Promise<{ browser: Browser; came: string }> {
  issuer.as = as;
  const browser = new Browser();
  const came = await browser.follow(`${at.url}/api/sign-on/works?to=${encodeURIComponent(to)}`, (a) => a.startsWith(at.url) && !a.includes('/api/'));
  return { browser, came: place(came) };
}

describe('signing in at an issuer', () => {
  it('is offered, and goes by code with PKCE, state and nonce; back to where one was', async () => {
    expect((await new Browser().session()).issuers).toEqual([
      { id: 'works', name: 'Alder Works' },
      { id: 'away', name: 'Nobody there' },
    ]);
    const { browser, came } = await signedIn('ada', '/design/abc');
    expect(came).toBe('/design/abc');
    expect((await browser.session()).person).toMatchObject({ name: 'Ada Weir', login: 'ada', role: 'administrator' });
    const asked = issuer.asked.at(-1)!;
    expect(asked.get('code_challenge_method')).toBe('S256');
    for (const k of ['state', 'nonce', 'code_challenge']) expect(asked.get(k)!.length, k).toBeGreaterThan(30);
    expect(asked.get('response_type')).toBe('code');
  });

  it('gives the same account each time, its role as the issuer says; no account without one of the roles', async () => {
    const first = (await (await signedIn('bo')).browser.session()).person;
    expect(first).toMatchObject({ name: 'Bo Lock', login: 'bo@works.example', role: 'member' });
    issuer.people.set('bo', { name: 'Bo Lock', email: 'bo@works.example', roles: ['drives', 'drives-admin'] });
    const again = (await (await signedIn('bo', '/', second)).browser.session(second)).person;
    expect(again).toMatchObject({ id: first.id, role: 'administrator' });
    expect((await signedIn('cy')).came).toBe('/?signOn=role');
    const [[{ n }]] = await db.query<any>("SELECT COUNT(*) AS n FROM people WHERE name = 'Cy Sluice'");
    expect(n).toBe(0);
    // Another person with the same wished name is another account.
    expect((await (await signedIn('di')).browser.session()).person).toMatchObject({ name: 'Di Weir', login: 'ada.2' });
  });

  it('has no passphrase: nobody comes in by an empty one or any other', async () => {
    for (const passphrase of ['', ' ', '!', 'ada']) {
      expect((await site.call('POST', '/api/session', { login: 'ada', passphrase })).status, passphrase).toBeGreaterThanOrEqual(401);
    }
  });

  it('is refused to whoever did not begin it in this browser, who comes twice, late, or with another state', async () => {
    issuer.as = 'ada';
    const victim = new Browser(),
      thief = new Browser();
    const callback = await victim.follow(`${site.url}/api/sign-on/works`, (a) => a.includes('/callback'));
    // Somebody else's answer in this browser.
    expect(place(await thief.follow(callback, (a) => !a.includes('/api/')))).toBe('/?signOn=late');
    const forged = new URL(callback);
    forged.searchParams.set('state', 'x'.repeat(43));
    expect(place(await victim.follow(forged.href, (a) => !a.includes('/api/')))).toBe('/?signOn=late');
    // Taken once.
    const other = new Browser();
    const answer = await other.follow(`${site.url}/api/sign-on/works`, (a) => a.includes('/callback'));
    const cookie = `unirota-sign-on=${new URL(answer).searchParams.get('state')}`;
    const take = async (): Promise<string> => (await fetch(answer, { redirect: 'manual', headers: { cookie } })).headers.get('location')!;
    expect([await take(), await take()]).toEqual(['/', '/?signOn=late']);
    // Late.
    const late = new Browser();
    const slow = await late.follow(`${site.url}/api/sign-on/works`, (a) => a.includes('/callback'));
    await db.execute('UPDATE sign_ons SET begun_at = ?', [new Date(Date.now() - 11 * 60_000)]);
    expect(place(await late.follow(slow, (a) => !a.includes('/api/')))).toBe('/?signOn=late');
    // A code that the issuer did not give for this.
    const wrong = new Browser();
    const real = new URL(await wrong.follow(`${site.url}/api/sign-on/works`, (a) => a.includes('/callback')));
    real.searchParams.set('code', 'made-up');
    expect(place(await wrong.follow(real.href, (a) => !a.includes('/api/')))).toBe('/?signOn=refused');
  });

  it('is begun by our own page alone, leads nowhere else, and says when the issuer is away or unknown', async () => {
    const start = `${site.url}/api/sign-on/works`;
    expect((await new Browser().go(start, 'GET', undefined, { 'sec-fetch-site': 'cross-site' })).status).toBe(403);
    expect((await new Browser().go(`${site.url}/api/sign-on/elsewhere`)).status).toBe(404);
    expect((await new Browser().go(`${site.url}/api/sign-on/works/callback`, 'POST', '{}')).status).toBeGreaterThanOrEqual(400);
    expect((await new Browser().go(`${site.url}/api/sign-on/away`)).headers.get('location')).toBe('/?signOn=away');
    expect(['//evil.example', '/\\evil.example', 'https://evil.example', '/api/session', '/a?b', undefined, '/design/a-1'].map(ownPlace)).toEqual([
      '/',
      '/',
      '/',
      '/',
      '/',
      '/',
      '/design/a-1',
    ]);
  });

  it('signs out at the issuer too, and comes back', async () => {
    const { browser } = await signedIn('ada');
    const out = (await (await browser.go(`${site.url}/api/session`, 'DELETE')).json()) as { leave: string };
    expect((await browser.session()).person).toBeUndefined();
    const leave = new URL(out.leave);
    expect(leave.origin).toBe(issuer.url);
    expect(leave.searchParams.get('post_logout_redirect_uri')).toBe(`${site.url}/`);
    const form = await (await browser.go(out.leave)).text();
    const xsrf = /name="xsrf" value="([^"]+)"/.exec(form)![1];
    const r = await browser.go(`${issuer.url}/session/end/confirm`, 'POST', `xsrf=${xsrf}&logout=yes`, {
      'content-type': 'application/x-www-form-urlencoded',
    });
    expect(r.headers.get('location')).toBe(`${site.url}/`);
    expect(issuer.ended).toBe(1);
  });

  it('adds an identity to the account that is signed in; one that belongs to another account is not taken over', async () => {
    const { token } = await site.app.accounts.people.invite('member', undefined);
    const browser = new Browser();
    const json = { 'content-type': 'application/json' };
    const joined = await browser.go(
      `${site.url}/api/join`,
      'POST',
      JSON.stringify({ token, login: 'eve', name: 'Eve Pound', passphrase: 'heron under the lock gate' }),
      json,
    );
    const { person } = (await joined.json()) as { person: { id: string } };
    issuer.people.set('eve', { name: 'Eve at the works', roles: ['drives'] });
    issuer.as = 'eve';
    await browser.follow(`${site.url}/api/sign-on/works`, (a) => a.startsWith(site.url) && !a.includes('/api/'));
    expect((await browser.session()).person).toMatchObject({ id: person.id, name: 'Eve Pound' });
    expect((await (await signedIn('eve')).browser.session()).person.id).toBe(person.id);
    // Signed in as Ada, Eve's identity is refused.
    const ada = (await signedIn('ada')).browser;
    issuer.as = 'eve';
    const fresh = new Browser();
    Object.assign(fresh, { cookies: new Map([...(ada as any).cookies].filter(([o]) => o === site.url)) });
    expect(place(await fresh.follow(`${site.url}/api/sign-on/works`, (a) => a.startsWith(site.url) && !a.includes('/api/')))).toBe('/?signOn=taken');
    // A closed account stays closed.
    await db.execute('UPDATE people SET disabled_at = NOW(3) WHERE id = ?', [person.id]);
    expect((await signedIn('eve')).came).toBe('/?signOn=closed');
  });
});

describe('the settings of issuers', () => {
  const folder = mkdtempSync(join(tmpdir(), 'unirota-issuers-'));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  const said = (list: unknown): string => {
    const file = join(folder, 'issuers.json');
    writeFileSync(file, typeof list === 'string' ? list : JSON.stringify(list));
    try {
      issuersIn(file);
      return '';
    } catch (e) {
      return (e as Error).message;
    }
  };
  const right = { id: 'works', name: 'Alder Works', issuer: 'https://id.works.example', clientId: 'unirota' };
  it('are refused with a sentence where they cannot be', () => {
    expect(said([right])).toBe('');
    expect(said([{ ...right, issuer: 'http://id.works.example' }])).toMatch(/must begin with https/);
    expect(said([{ ...right, id: 'Works!' }])).toMatch(/small letters/);
    expect(said([{ ...right, sneaked: 1 }])).toMatch(/no field sneaked/);
    expect(said([right, right])).toMatch(/one id/);
    expect(said([{ ...right, administrators: ['a'] }])).toMatch(/no roleClaim/);
    expect(said('[')).not.toBe('');
    const env = { UNIROTA_DATABASE: 'mysql://u:p@127.0.0.1/x', UNIROTA_SIGN_ON: join(folder, 'none.json') };
    expect(() => readConfig({ ...env, UNIROTA_ACCOUNTS: 'on' })).toThrow(/UNIROTA_SIGN_ON: the file cannot be read/);
    expect(() => readConfig(env)).toThrow(/UNIROTA_ACCOUNTS=on/);
  });
});
