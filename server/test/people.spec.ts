import { randomUUID } from 'node:crypto';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { emptyDesign } from '@unirota/core/document';
import { type Answer, type OwnDatabase, Site, ownDatabase } from './site';

let own: OwnDatabase, site: Site, second: Site, db: mysql.Connection;
const accounts = { accounts: true } as const;
beforeAll(async () => {
  own = await ownDatabase();
  site = await Site.open(own.url, accounts);
  second = await Site.open(own.url, accounts);
  db = await mysql.createConnection({ uri: own.url, timezone: 'Z' });
});
afterAll(async () => {
  await db?.end();
  await Promise.all([site?.close(), second?.close()]);
  await own?.stop();
});

const WORDS = 'heron under the lock gate';
class Client {
  cookie = '';
  constructor(private readonly at = site) {}
  async call(method: string, path: string, body?: unknown): Promise<Answer> {
    const r = await this.at.call(method, path, body, { headers: this.cookie ? { cookie: this.cookie } : {} });
    for (const set of r.headers.getSetCookie()) this.cookie = set.split(';')[0].endsWith('=') ? '' : set.split(';')[0];
    return r;
  }
  signIn = (login: string, passphrase = WORDS) => this.call('POST', '/api/session', { login, passphrase });
}
const invite = (role: 'administrator' | 'member' = 'member') => site.app.accounts.people.invite(role, undefined);
let n = 0;
async function member(role: 'administrator' | 'member' = 'member'): Promise<Client & { id: string; login: string }> {
  const client = new Client();
  const login = `person${++n}`;
  const joined = await client.call('POST', '/api/join', { token: (await invite(role)).token, login, name: `Person ${n}`, passphrase: WORDS });
  expect(joined.status, joined.text).toBe(201);
  return Object.assign(client, { id: joined.body.person.id as string, login });
}
const create = async (c: Client, name = 'Shared') =>
  (await c.call('POST', '/api/designs', { design: emptyDesign(name), save: randomUUID() })).body.id as string;

describe('coming in', () => {
  it('begins with a link from the command line; each link works once and not after its time', async () => {
    expect((await new Client().call('GET', '/api/session')).body).toEqual({ accounts: true, empty: true });
    const { token } = await invite('administrator');
    const join = (t: string, login: string) => new Client().call('POST', '/api/join', { token: t, login, name: 'Ada Brook', passphrase: WORDS });
    expect((await join(token, 'ada')).body.person).toMatchObject({ login: 'ada', role: 'administrator' });
    expect((await join(token, 'eve')).status).toBe(410);
    const late = await invite();
    await db.execute('UPDATE invitations SET expires_at = ? WHERE used_at IS NULL', [new Date(Date.now() - 1000)]);
    expect((await join(late.token, 'eve')).status).toBe(410);
    expect((await join('a'.repeat(43), 'eve')).status).toBe(410);
  });

  it('needs a passphrase that is long and not common, said beside the field', async () => {
    const { token } = await invite();
    const join = (passphrase: string) => new Client().call('POST', '/api/join', { token, login: 'weak', name: 'Weak', passphrase });
    for (const p of ['short', 'passwordpassword', 'aaaaaaaaaaaaaaaa', 'weakweakweak', '123456789012']) {
      const r = await join(p);
      expect([p, r.status]).toEqual([p, 422]);
      expect(r.body.problems[0].path).toBe('passphrase');
    }
    expect((await join(WORDS)).status).toBe(201);
  });

  it('keeps no secret that could be used: Argon2id for passphrases, hashes for tokens', async () => {
    const m = await member();
    const [people] = await db.query<any[]>('SELECT passphrase FROM people WHERE id = ?', [m.id]);
    expect(people[0].passphrase).toMatch(/^\$argon2id\$v=19\$m=\d{5,},t=\d+,p=\d+\$/);
    const token = m.cookie.split('=')[1];
    const [sessions] = await db.query<any[]>('SELECT token_hash FROM sessions WHERE person_id = ?', [m.id]);
    expect(sessions.map((s) => s.token_hash.toString('base64url'))).not.toContain(token);
  });
});

describe('a session', () => {
  it('has a cookie that scripts and other pages do not get, new at each sign-in; the old one ends', async () => {
    const m = await member();
    const before = m.cookie;
    const r = await m.signIn(m.login);
    const set = r.headers.getSetCookie()[0];
    expect(set).toMatch(/HttpOnly/);
    expect(set).toMatch(/SameSite=Lax/);
    expect(m.cookie).not.toBe(before);
    const old = new Client();
    old.cookie = before;
    expect((await old.call('GET', '/api/designs')).status).toBe(401);
    const tls = await Site.open(own.url, { ...accounts, address: new URL('https://localhost/') });
    const there = await tls.call('POST', '/api/session', { login: m.login, passphrase: WORDS });
    expect(there.headers.getSetCookie()[0]).toMatch(/^__Host-unirota=.*Secure/);
    await tls.close();
  });

  it('holds on every server, and ends everywhere at once: when idle, in the end, when signed out, when closed', async () => {
    const m = await member();
    const elsewhere = new Client(second);
    elsewhere.cookie = m.cookie;
    const status = async (): Promise<number> => (await elsewhere.call('GET', '/api/designs')).status;
    expect(await status()).toBe(200);
    const [[row]] = (await db.query<any[]>('SELECT * FROM sessions WHERE person_id = ?', [m.id])) as any;
    const ago = (minutes: number) => new Date(Date.now() - minutes * 60_000);
    await db.execute('UPDATE sessions SET seen_at = ? WHERE person_id = ?', [ago(31), m.id]);
    expect(await status()).toBe(401);
    await db.execute('UPDATE sessions SET seen_at = ?, created_at = ? WHERE person_id = ?', [new Date(), ago(12 * 60 + 1), m.id]);
    expect(await status()).toBe(401);
    await db.execute('REPLACE INTO sessions (token_hash, person_id, created_at, seen_at) VALUES (?, ?, ?, ?)', [
      row.token_hash,
      m.id,
      new Date(),
      new Date(),
    ]);
    expect(await status()).toBe(200);
    const again = new Client();
    await again.signIn(m.login);
    await again.call('DELETE', '/api/sessions');
    expect(await status()).toBe(401);
  });

  it('ends for all others when the passphrase changes', async () => {
    const m = await member();
    const other = new Client();
    await other.signIn(m.login);
    expect((await m.call('PUT', '/api/passphrase', { current: 'not it at all', next: 'a paddle of weathered oak' })).body.problems[0].path).toBe(
      'current',
    );
    expect((await m.call('PUT', '/api/passphrase', { current: WORDS, next: 'a paddle of weathered oak' })).status).toBe(204);
    expect((await other.call('GET', '/api/designs')).status).toBe(401);
    expect((await m.call('GET', '/api/designs')).status).toBe(200);
    expect((await new Client().signIn(m.login)).status).toBe(401);
    expect((await new Client().signIn(m.login, 'a paddle of weathered oak')).status).toBe(200);
  });

  it('is listed with the others of its person, and each can be ended by itself', async () => {
    const m = await member();
    const other = new Client();
    await other.signIn(m.login);
    const list = (await m.call('GET', '/api/sessions')).body as { id: string; present: boolean; begun: string }[];
    expect(list.map((s) => s.present).sort()).toEqual([false, true]);
    expect(list.every((s) => Math.abs(Date.parse(s.begun) - Date.now()) < 60_000)).toBe(true);
    const there = list.find((s) => !s.present)!;
    const stranger = await member();
    expect((await stranger.call('DELETE', `/api/sessions/${there.id}`)).status).toBe(404);
    expect((await m.call('DELETE', '/api/sessions/nothing')).status).toBe(404);
    expect((await m.call('DELETE', `/api/sessions/${there.id}`)).status).toBe(204);
    expect((await other.call('GET', '/api/designs')).status).toBe(401);
    expect((await m.call('GET', '/api/designs')).status).toBe(200);
  });

  it('is not to be had by trying: ten wrong ones on two servers, and also the right one has to wait', async () => {
    const m = await member();
    const unknown = await new Client().signIn('nobody at all'.replaceAll(' ', ''));
    const wrong = await new Client().signIn(m.login, 'wrong wrong wrong');
    expect([unknown.status, unknown.body.title]).toEqual([wrong.status, wrong.body.title]);
    const statuses = [];
    for (let k = 0; k < 11; k++) statuses.push((await new Client(k % 2 ? second : site).signIn(m.login, `wrong wrong ${k}`)).status);
    expect(statuses).toContain(429);
    const right = await new Client(second).signIn(m.login);
    expect(right.status).toBe(429);
    expect(Number(right.headers.get('retry-after'))).toBeGreaterThan(0);
    // A process that starts anew has not forgotten.
    const third = await Site.open(own.url, accounts);
    expect((await new Client(third).signIn(m.login)).status).toBe(429);
    await third.close();
    await db.execute("DELETE FROM counts WHERE name LIKE 'sign-in%'");
  });
});

describe('administrators', () => {
  it('give new passphrases, close and open accounts; members do not', async () => {
    const [admin, m] = [await member('administrator'), await member()];
    for (const [method, path, body] of [
      ['POST', '/api/invitations', { role: 'administrator' }],
      ['POST', `/api/people/${admin.id}/reset`, {}],
      ['PATCH', `/api/people/${m.id}`, { role: 'administrator' }],
      ['GET', '/api/audit'],
    ] as const) {
      expect([path, (await m.call(method, path, body)).status]).toEqual([path, 403]);
    }
    const { token } = (await admin.call('POST', `/api/people/${m.id}/reset`, {})).body;
    expect((await new Client().call('POST', '/api/join', { token, passphrase: 'willow by the water' })).status).toBe(201);
    expect((await m.call('GET', '/api/designs')).status).toBe(401);
    expect((await m.signIn(m.login, 'willow by the water')).status).toBe(200);
    expect((await admin.call('PATCH', `/api/people/${m.id}`, { disabled: true })).status).toBe(204);
    expect((await m.call('GET', '/api/designs')).status).toBe(401);
    expect((await m.signIn(m.login, 'willow by the water')).status).toBe(401);
    expect((await admin.call('PATCH', `/api/people/${m.id}`, { disabled: false })).status).toBe(204);
    expect((await m.signIn(m.login, 'willow by the water')).status).toBe(200);
    const members = (await m.call('GET', '/api/people')).body;
    expect(members[0]).not.toHaveProperty('login');
    expect((await admin.call('GET', '/api/audit')).body.map((a: any) => a.action)).toEqual(
      expect.arrayContaining(['passphrase set', 'account changed', 'joined']),
    );
  });

  it('are never none', async () => {
    const [rows] = await db.query<any[]>("SELECT id FROM people WHERE role = 'administrator' AND disabled_at IS NULL");
    const admin = await member('administrator');
    for (const r of rows) await admin.call('PATCH', `/api/people/${r.id}`, { role: 'member' });
    expect((await admin.call('PATCH', `/api/people/${admin.id}`, { role: 'member' })).status).toBe(422);
    expect((await admin.call('PATCH', `/api/people/${admin.id}`, { disabled: true })).status).toBe(422);
    expect((await admin.call('GET', '/api/session')).body.person.role).toBe('administrator');
  });
});

describe('designs of people', () => {
  /** Every route about one design, as it would be asked. */
  const routes = (id: string, other: string): [string, string, unknown?][] => [
    ['GET', `/api/designs/${id}`],
    ['PUT', `/api/designs/${id}`, { base: 1, save: randomUUID(), design: emptyDesign('Taken over') }],
    ['POST', `/api/designs/${id}/aside`, { base: 1, save: randomUUID(), design: emptyDesign('Taken over') }],
    ['DELETE', `/api/designs/${id}`],
    ['GET', `/api/designs/${id}/sketch`],
    ['POST', `/api/designs/${id}/copy`, { save: randomUUID() }],
    ['POST', `/api/designs/${id}/restore`, {}],
    ['GET', `/api/designs/${id}/revisions`],
    ['GET', `/api/designs/${id}/revisions/1`],
    ['PUT', `/api/designs/${id}/revisions/1`, { label: 'mine' }],
    ['GET', `/api/designs/${id}/revisions/1/sketch`],
    ['GET', `/api/designs/${id}/shares`],
    ['PUT', `/api/designs/${id}/shares/${other}`, { may: 'edit' }],
    ['DELETE', `/api/designs/${id}/shares/${other}`],
    ['POST', `/api/designs/${id}/links`, { may: 'edit', days: 1 }],
    ['DELETE', `/api/designs/${id}/links/${randomUUID()}`],
    ['GET', `/api/designs/${id}/audit`],
  ];

  it('are nobody else’s: every route answers a stranger 401 and another person 404, and changes nothing', async () => {
    const [owner, other] = [await member(), await member()];
    const id = await create(owner, 'Private');
    for (const [method, path, body] of routes(id, other.id)) {
      expect([method, path, (await new Client().call(method, path, body)).status]).toEqual([method, path, 401]);
      expect([method, path, (await other.call(method, path, body)).status]).toEqual([method, path, 404]);
    }
    for (const path of ['/api/designs', '/api/people', '/api/audit', '/api/links', '/api/invitations']) {
      expect((await new Client().call('GET', path)).status).toBe(401);
    }
    expect((await other.call('GET', '/api/designs?search=Private')).body.designs).toEqual([]);
    expect((await owner.call('GET', `/api/designs/${id}`)).body).toMatchObject({ revision: 1, design: { name: 'Private' } });
    expect((await owner.call('GET', `/api/designs/${id}/shares`)).body.shares).toEqual([]);
  });

  it('shared to look can be read and copied and nothing else; shared to edit can be saved, not deleted or shared on', async () => {
    const [owner, other] = [await member(), await member()];
    const id = await create(owner);
    const changes = (): [string, string, unknown?][] => routes(id, other.id).filter(([m, p]) => m !== 'GET' && !p.endsWith('/copy'));
    await owner.call('PUT', `/api/designs/${id}/shares/${other.id}`, { may: 'look' });
    expect((await other.call('GET', `/api/designs/${id}`)).body.may).toBe('look');
    expect((await other.call('POST', `/api/designs/${id}/copy`, { save: randomUUID() })).body.may).toBe('own');
    for (const [method, path, body] of changes()) expect([method, path, (await other.call(method, path, body)).status]).toEqual([method, path, 403]);
    await owner.call('PUT', `/api/designs/${id}/shares/${other.id}`, { may: 'edit' });
    expect((await other.call('PUT', `/api/designs/${id}`, { base: 1, save: randomUUID(), design: emptyDesign('By the other') })).body.revision).toBe(
      2,
    );
    for (const [method, path, body] of changes().filter(([, p]) => /shares|links|restore$/.test(p))) {
      expect([method, path, (await other.call(method, path, body)).status]).toEqual([method, path, 403]);
    }
    expect((await other.call('DELETE', `/api/designs/${id}`)).status).toBe(403);
    expect((await owner.call('GET', `/api/designs/${id}/revisions`)).body[0]).toMatchObject({ number: 2, person: `Person ${n}` });
    await owner.call('DELETE', `/api/designs/${id}/shares/${other.id}`);
    expect((await other.call('GET', `/api/designs/${id}`)).status).toBe(404);
    const actions = (await owner.call('GET', `/api/designs/${id}/audit`)).body.map((a: any) => a.action);
    expect(actions).toEqual(expect.arrayContaining(['created', 'shared', 'opened', 'saved', 'unshared']));
  });

  it('are listed when deleted, to their owner alone, and restored from there', async () => {
    const [owner, other] = [await member(), await member()];
    const id = await create(owner, 'Taken away');
    await owner.call('PUT', `/api/designs/${id}/shares/${other.id}`, { may: 'edit' });
    expect((await owner.call('GET', '/api/deleted')).body).toEqual([]);
    await owner.call('DELETE', `/api/designs/${id}`);
    expect((await owner.call('GET', '/api/deleted')).body).toMatchObject([{ id, name: 'Taken away' }]);
    expect((await other.call('GET', '/api/deleted')).body).toEqual([]);
    expect((await new Client().call('GET', '/api/deleted')).status).toBe(401);
    expect((await owner.call('POST', `/api/designs/${id}/restore`)).status).toBe(200);
    expect((await owner.call('GET', '/api/deleted')).body).toEqual([]);
  });

  it('of a closed account go over to another person, with what they are shared for', async () => {
    const [admin, owner, heir, guest] = [await member('administrator'), await member(), await member(), await member()];
    const ids = [await create(owner, 'First'), await create(owner, 'Second'), await create(owner, 'Third')];
    await owner.call('PUT', `/api/designs/${ids[0]}/shares/${heir.id}`, { may: 'look' });
    await owner.call('PUT', `/api/designs/${ids[0]}/shares/${guest.id}`, { may: 'look' });
    await owner.call('DELETE', `/api/designs/${ids[2]}`);
    const transfer = (by: Client, to: string) => by.call('POST', `/api/people/${owner.id}/transfer`, { to });
    expect((await transfer(heir, heir.id)).status).toBe(403);
    expect((await transfer(admin, heir.id)).body.title).toMatch(/close it first/);
    await admin.call('PATCH', `/api/people/${owner.id}`, { disabled: true });
    expect((await transfer(admin, owner.id)).body.problems[0]).toMatchObject({ path: 'to' });
    expect((await transfer(admin, randomUUID())).status).toBe(404);
    expect((await transfer(admin, 'nobody')).status).toBe(422);
    expect((await transfer(admin, heir.id)).body).toEqual({ designs: 3 });
    expect((await transfer(admin, heir.id)).body).toEqual({ designs: 0 });
    for (const id of ids.slice(0, 2)) expect((await heir.call('GET', `/api/designs/${id}`)).body.may).toBe('own');
    expect((await heir.call('GET', '/api/deleted')).body).toMatchObject([{ id: ids[2] }]);
    expect((await guest.call('GET', `/api/designs/${ids[0]}`)).body.may).toBe('look');
    expect((await heir.call('GET', `/api/designs/${ids[0]}/shares`)).body.shares.map((s: any) => s.person.id)).toEqual([guest.id]);
    expect((await admin.call('GET', `/api/designs/${ids[0]}`)).status).toBe(404);
    const said = (await admin.call('GET', '/api/audit')).body.filter((a: any) => a.action === 'designs transferred');
    expect(said.map((a: any) => a.detail)).toContainEqual(expect.stringMatching(/^3 from Person \d+ to Person \d+$/));
  });

  it('are kept in folders of each person’s own', async () => {
    const [owner, other] = [await member(), await member()];
    const id = await create(owner, 'In two places');
    const file = async (who: Client, folder: string): Promise<number> => (await who.call('PUT', `/api/designs/${id}/folder`, { folder })).status;
    expect(await file(new Client(), 'Mine')).toBe(401);
    expect(await file(other, 'Mine')).toBe(404);
    await owner.call('PUT', `/api/designs/${id}/shares/${other.id}`, { may: 'look' });
    expect([await file(owner, 'Sluices'), await file(other, 'Theirs')]).toEqual([204, 204]);
    expect((await owner.call('GET', '/api/folders')).body).toEqual([{ name: 'Sluices', designs: 1 }]);
    expect((await other.call('GET', '/api/folders')).body).toEqual([{ name: 'Theirs', designs: 1 }]);
    await owner.call('DELETE', `/api/designs/${id}/shares/${other.id}`);
    expect((await other.call('GET', '/api/folders')).body).toEqual([]);
  });

  it('are shared by a link until it ends, also with what it gave', async () => {
    const [owner, other] = [await member(), await member()];
    const id = await create(owner);
    const link = (await owner.call('POST', `/api/designs/${id}/links`, { may: 'edit', days: 3 })).body;
    expect((await new Client().call('POST', '/api/links', { token: link.token })).status).toBe(401);
    expect((await other.call('POST', '/api/links', { token: link.token })).body).toEqual({ id });
    expect((await other.call('GET', `/api/designs/${id}`)).body.may).toBe('edit');
    const told = (await owner.call('GET', `/api/designs/${id}/shares`)).body.links[0];
    expect(told).not.toHaveProperty('token');
    await owner.call('DELETE', `/api/designs/${id}/links/${link.id}`);
    expect((await other.call('GET', `/api/designs/${id}`)).status).toBe(404);
    expect((await other.call('POST', '/api/links', { token: link.token })).status).toBe(410);
  });
});

describe('identity', () => {
  it('counts wrong tries by the account that is meant, however its name is spelled', async () => {
    const m = await member();
    const spelled = [m.login, m.login.toUpperCase(), `${m.login} `, m.login.replace('person', 'pérson'), m.login.replace('p', 'ｐ')];
    const statuses: number[] = [];
    for (let k = 0; k < 30; k++) statuses.push((await new Client().signIn(spelled[k % spelled.length], 'not this passphrase')).status);
    expect(statuses).toContain(429);
    // The right one is shut out as well: the counter is the account's.
    for (const s of spelled) expect((await new Client().signIn(s, WORDS)).status).toBe(429);
    await db.execute('DELETE FROM counts');
  });

  it('counts the present passphrase in a change of it, and writes failed sign-ins down', async () => {
    const m = await member();
    let last = 0;
    for (let k = 0; k < 12; k++) last = (await m.call('PUT', '/api/passphrase', { current: `wrong number ${k}`, next: `${WORDS} again` })).status;
    expect(last).toBe(429);
    await db.execute('DELETE FROM counts');
    await new Client().signIn(m.login, 'not this passphrase');
    await vi.waitFor(async () => {
      const [lines] = await db.query<any[]>("SELECT times FROM audit WHERE action = 'sign-in failed' AND person_id = ?", [m.id]);
      expect(lines).toHaveLength(1);
    });
  });

  it('does not shut out who chooses new passphrases that will not do', async () => {
    const m = await member();
    for (let k = 0; k < 12; k++) expect((await m.call('PUT', '/api/passphrase', { current: WORDS, next: 'passwordpassword' })).status).toBe(422);
    expect((await m.call('PUT', '/api/passphrase', { current: WORDS, next: `${WORDS} again` })).status).toBe(204);
  });

  it('makes older links for a new passphrase void by a newer one, and invitations with the account that gave them', async () => {
    const [admin, m] = [await member('administrator'), await member()];
    const first = (await admin.call('POST', `/api/people/${m.id}/reset`)).body.token as string;
    const second = (await admin.call('POST', `/api/people/${m.id}/reset`)).body.token as string;
    const use = (token: string, more: object = {}) => new Client().call('POST', '/api/join', { token, passphrase: `${WORDS} anew`, ...more });
    expect((await use(first)).status).toBe(410);
    expect((await use(second)).status).toBe(201);
    const invited = (await admin.call('POST', '/api/invitations', { role: 'member' })).body.token as string;
    const chief = await member('administrator');
    await chief.call('PATCH', `/api/people/${admin.id}`, { disabled: true });
    expect((await use(invited, { login: 'late', name: 'Late' })).status).toBe(410);
  });

  it('lists open invitations to administrators, who can revoke them', async () => {
    const [admin, m] = [await member('administrator'), await member()];
    const { token } = (await admin.call('POST', '/api/invitations', { role: 'member' })).body as { token: string };
    expect((await m.call('GET', '/api/invitations')).status).toBe(403);
    const open = (await admin.call('GET', '/api/invitations')).body as { id: string; role: string; by?: string }[];
    expect(JSON.stringify(open)).not.toContain(token);
    const mine = open.filter((x) => x.by === `Person ${admin.login.slice(6)}`);
    expect(mine).toHaveLength(1);
    expect((await admin.call('DELETE', `/api/invitations/${mine[0].id}`)).status).toBe(204);
    expect((await admin.call('DELETE', `/api/invitations/${mine[0].id}`)).status).toBe(404);
    expect((await new Client().call('POST', '/api/join', { token, login: 'nobody', name: 'N', passphrase: WORDS })).status).toBe(410);
  });

  it('keeps what was given directly when a link ends', async () => {
    const [owner, m] = [await member(), await member()];
    const id = await create(owner);
    await owner.call('PUT', `/api/designs/${id}/shares/${m.id}`, { may: 'look' });
    const link = (await owner.call('POST', `/api/designs/${id}/links`, { may: 'edit', days: 3 })).body as { id: string; token: string };
    await m.call('POST', '/api/links', { token: link.token });
    expect((await m.call('GET', `/api/designs/${id}`)).body.may).toBe('edit');
    await owner.call('DELETE', `/api/designs/${id}/links/${link.id}`);
    expect((await m.call('GET', `/api/designs/${id}`)).body.may).toBe('look');
  });

  it('tells administrators no names of designs that are not shared with them; reading revisions and copying is written down', async () => {
    const [owner, admin, m] = [await member(), await member('administrator'), await member()];
    const id = await create(owner, 'A secret name');
    expect((await admin.call('GET', '/api/audit')).text).not.toContain('A secret name');
    await owner.call('PUT', `/api/designs/${id}/shares/${m.id}`, { may: 'look' });
    await m.call('GET', `/api/designs/${id}/revisions/1`);
    await m.call('POST', `/api/designs/${id}/copy`, { save: randomUUID() });
    const lines = (await owner.call('GET', `/api/designs/${id}/audit`)).body as { person: string; action: string }[];
    const his = lines.filter((l) => l.person === `Person ${m.login.slice(6)}`).map((l) => l.action);
    expect(his).toEqual(expect.arrayContaining(['opened revision', 'copied']));
  });
});
