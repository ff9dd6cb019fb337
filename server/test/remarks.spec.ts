import { randomUUID } from 'node:crypto';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { WebSocket } from 'ws';
import { emptyDesign } from '@unirota/core/document';
import { type RemarkLine, type RemarksAnswer, WATCH_ENDED, type WatchWord } from '@unirota/contract';
import { type OwnDatabase, Site, ownDatabase } from './site';
import { ServerProcess, port } from './processes';

let own: OwnDatabase, site: Site, second: Site, db: mysql.Connection;
beforeAll(async () => {
  own = await ownDatabase();
  site = await Site.open(own.url, { accounts: true });
  second = await Site.open(own.url, { accounts: true });
  db = await mysql.createConnection({ uri: own.url, timezone: 'Z' });
});
afterAll(async () => {
  await db?.end();
  await Promise.all([site?.close(), second?.close()]);
  await own?.stop();
});

let n = 0;
/** Somebody who is signed in, at every server of the database. */
async function person() {
  const { token } = await site.app.accounts.people.invite('member', undefined);
  const name = `Reviewer ${++n}`;
  const joined = await site.call('POST', '/api/join', { token, login: `reviewer${n}`, name, passphrase: 'heron under the lock gate' });
  const cookie = joined.headers.getSetCookie()[0].split(';')[0];
  const call = (method: string, path: string, body?: unknown, at: Site = site) => at.call(method, path, body, { headers: { cookie } });
  return {
    id: joined.body.person.id as string,
    name,
    cookie,
    call,
    create: async (): Promise<string> =>
      (await call('POST', '/api/designs', { design: emptyDesign('Reviewed'), save: randomUUID() })).body.id as string,
    remark: (design: string, more: object = { subject: { kind: 'design' } }, text = 'Is the pinion wide enough?', id = randomUUID() as string) =>
      call('POST', `/api/designs/${design}/remarks`, { id, text, ...more }),
    remarks: async (design: string, since = 0, at: Site = site): Promise<RemarksAnswer> =>
      (await call('GET', `/api/designs/${design}/remarks?since=${since}`, undefined, at)).body as RemarksAnswer,
    /** A page that has the design open: what it is told, and how it ends. */
    watch: (design: string, at = site.url): Watcher => new Watcher(at, design, cookie),
  };
}
class Watcher {
  readonly told: WatchWord[] = [];
  ended: number | undefined;
  private readonly socket: WebSocket;
  constructor(at: string, design: string, cookie: string, headers: Record<string, string> = {}) {
    this.socket = new WebSocket(`${at.replace('http', 'ws')}/api/designs/${design}/watch`, { headers: { cookie, ...headers } });
    this.socket.on('message', (d: Buffer) => this.told.push(JSON.parse(String(d)) as WatchWord));
    this.socket.on('close', (code) => (this.ended = code));
    this.socket.on('error', () => undefined);
    this.socket.on('unexpected-response', (_q, r) => (this.ended = r.statusCode));
  }
  get last(): WatchWord | undefined {
    return this.told.at(-1);
  }
  say(text: string): void {
    this.socket.send(text);
  }
  close(): void {
    this.socket.terminate();
  }
  /** Until what was told last is so; within 2 s, as a person at the other page would want it. */
  until(so: (w: WatchWord) => boolean, timeout = 2000): Promise<void> {
    return vi.waitFor(() => expect(this.last && so(this.last), JSON.stringify(this.last)).toBe(true), { timeout, interval: 20 });
  }
}
const text = (l: readonly RemarkLine[]): string[] => l.map((r) => r.text);

describe('remarks', () => {
  it('are about the design, an item, a field, a finding, an instant or a place; answered, resolved, opened again', async () => {
    const owner = await person();
    const id = await owner.create();
    const subjects = [
      { kind: 'design' },
      { kind: 'item', item: 'pinion' },
      { kind: 'item', item: 'pinion', field: 'width' },
      { kind: 'finding', code: 'mesh.open', items: ['mesh'], message: 'The mesh is open' },
      { kind: 'instant', run: 'r1', time: 1.25 },
      { kind: 'place', member: 'shaft', at: [1, 2.5, -3] },
    ];
    for (const subject of subjects) expect((await owner.remark(id, { subject })).status).toBe(201);
    const { remarks } = await owner.remarks(id);
    expect(remarks.map((r) => r.subject)).toEqual(subjects);
    const head = remarks[1].id;
    const answered = await owner.remark(id, { answers: head }, ' Yes: 30 mm ');
    expect(answered.body).toMatchObject({ text: 'Yes: 30 mm', answers: head, person: owner.name, mine: true });
    const resolve = (resolved: boolean) => owner.call('PUT', `/api/designs/${id}/remarks/${head}/resolved`, { resolved });
    expect((await resolve(true)).body.resolved).toMatchObject({ person: owner.name });
    expect((await resolve(false)).body.resolved).toBeUndefined();
    // An answer is neither answered nor resolved by itself.
    expect((await owner.remark(id, { answers: answered.body.id })).status).toBe(422);
    expect((await owner.call('PUT', `/api/designs/${id}/remarks/${answered.body.id}/resolved`, { resolved: true })).status).toBe(422);
  });

  it('that are wrong are refused beside their field, with nothing stored', async () => {
    const owner = await person();
    const id = await owner.create();
    const d = { kind: 'design' };
    const wrong: [object, string][] = [
      [{ id: randomUUID(), text: ' ', subject: d }, 'text'],
      [{ id: randomUUID(), text: 'x'.repeat(2001), subject: d }, 'text'],
      [{ id: 'mine', text: 'x', subject: d }, 'id'],
      [{ id: randomUUID(), text: 'x' }, ''],
      [{ id: randomUUID(), text: 'x', subject: d, answers: randomUUID() }, ''],
      [{ id: randomUUID(), text: 'x', subject: { kind: 'toString' } }, 'subject'],
      [{ id: randomUUID(), text: 'x', subject: null }, 'subject'],
      [{ id: randomUUID(), text: 'x', subject: { kind: 'place', member: 'a', at: [1, 2] } }, 'subject.at'],
      [{ id: randomUUID(), text: 'x', subject: { kind: 'place', member: 'a', at: [1, 2, '3'] } }, 'subject.at[2]'],
      [{ id: randomUUID(), text: 'x', subject: { kind: 'item', item: 'a', sneaked: 1 } }, 'subject'],
    ];
    for (const [body, path] of wrong) {
      const r = await owner.call('POST', `/api/designs/${id}/remarks`, body);
      expect([r.status, r.body.problems?.[0]?.path], JSON.stringify(body)).toEqual([422, path]);
    }
    expect((await owner.call('GET', `/api/designs/${id}/remarks?since=-1`)).status).toBe(400);
    expect((await owner.remarks(id)).remarks).toEqual([]);
  });

  it('are asked for from the change that was seen last; the same request twice makes one', async () => {
    const owner = await person();
    const id = await owner.create();
    const [a, b] = [randomUUID(), randomUUID()];
    await owner.remark(id, undefined, 'first', a);
    expect((await owner.remark(id, undefined, 'first', a)).status).toBe(201);
    await owner.remark(id, undefined, 'second', b);
    const all = await owner.remarks(id);
    expect(text(all.remarks)).toEqual(['first', 'second']);
    expect((await owner.remarks(id, all.change)).remarks).toEqual([]);
    await owner.call('PUT', `/api/designs/${id}/remarks/${a}`, { text: 'first, said better' });
    const since = await owner.remarks(id, all.change);
    expect(text(since.remarks)).toEqual(['first, said better']);
    await owner.call('DELETE', `/api/designs/${id}/remarks/${b}`);
    expect((await owner.remarks(id, since.change)).remarks).toMatchObject([{ id: b, text: '', deleted: true }]);
  });

  it('that are sent, resolved or deleted again leave nothing to be asked for: what a page is told is what it gets to', async () => {
    const owner = await person();
    const id = await owner.create();
    const remark = randomUUID();
    await owner.remark(id, undefined, 'once', remark);
    await owner.remark(id, undefined, 'once', remark);
    const at = `/api/designs/${id}/remarks/${remark}`;
    for (const resolved of [true, true, false, false]) await owner.call('PUT', `${at}/resolved`, { resolved });
    for (let k = 0; k < 2; k++) await owner.call('DELETE', at);
    const page = owner.watch(id);
    await page.until(() => true);
    expect((await owner.remarks(id)).change).toBe(page.last!.remarks);
    page.close();
  });

  it('made at once at two servers are all numbered, and none is missed by whoever asks in between', async () => {
    const owner = await person();
    const id = await owner.create();
    const seen = new Set<string>();
    let change = 0;
    const made = Array.from({ length: 40 }, (_, k) =>
      owner.call('POST', `/api/designs/${id}/remarks`, { id: randomUUID(), text: `n${k}`, subject: { kind: 'design' } }, k % 2 ? site : second),
    );
    const asking = async (): Promise<void> => {
      const r = await owner.remarks(id, change, second);
      change = r.change;
      for (const x of r.remarks) seen.add(x.text);
    };
    let done = false;
    const all = Promise.all(made).finally(() => (done = true));
    while (!done) await asking();
    await all;
    await asking();
    expect(seen.size).toBe(40);
  });

  it('are made by whoever may look; each changes their own, the owner deletes any; strangers learn nothing', async () => {
    const [owner, reviewer, other, stranger] = [await person(), await person(), await person(), await person()];
    const id = await owner.create();
    for (const p of [reviewer, other]) await owner.call('PUT', `/api/designs/${id}/shares/${p.id}`, { may: 'look' });
    const made = (await reviewer.remark(id)).body as RemarkLine;
    expect((await owner.remarks(id)).remarks[0]).toMatchObject({ person: reviewer.name });
    expect((await owner.remarks(id)).remarks[0].mine).toBeUndefined();
    const at = `/api/designs/${id}/remarks/${made.id}`;
    for (const p of [owner, other]) expect((await p.call('PUT', at, { text: 'not mine' })).status).toBe(403);
    expect((await other.call('PUT', `${at}/resolved`, { resolved: true })).status).toBe(403);
    expect((await other.call('DELETE', at)).status).toBe(403);
    expect((await owner.call('PUT', `${at}/resolved`, { resolved: true })).status).toBe(200);
    expect((await reviewer.call('PUT', `${at}/resolved`, { resolved: false })).status).toBe(200);
    for (const [method, path, body] of [
      ['GET', `/api/designs/${id}/remarks`],
      ['POST', `/api/designs/${id}/remarks`, { id: randomUUID(), text: 'x', subject: { kind: 'design' } }],
      ['PUT', at, { text: 'x' }],
      ['PUT', `${at}/resolved`, { resolved: true }],
      ['DELETE', at],
    ] as const) {
      expect([method, (await stranger.call(method, path, body)).status]).toEqual([method, 404]);
    }
    expect((await owner.call('DELETE', at)).status).toBe(204);
    // Another's id is not taken over, and a remark is known in its own design only.
    const elsewhere = await stranger.create();
    expect((await stranger.remark(elsewhere, undefined, 'x', made.id)).status).toBe(409);
    expect((await stranger.call('DELETE', `/api/designs/${elsewhere}/remarks/${made.id}`)).status).toBe(404);
  });
});

describe('a page that has a design open', () => {
  it('is told of remarks, revisions and other pages within 2 s, also by another server', async () => {
    const [owner, reviewer] = [await person(), await person()];
    const id = await owner.create();
    await owner.call('PUT', `/api/designs/${id}/shares/${reviewer.id}`, { may: 'look' });
    const a = owner.watch(id);
    await a.until((w) => w.revision === 1 && w.remarks === 0 && w.others.length === 0);
    const b = reviewer.watch(id, second.url);
    await a.until((w) => w.others.length === 1 && w.others[0].person === reviewer.name);
    await b.until((w) => w.others[0]?.person === owner.name && !w.others[0].mine);
    b.say(JSON.stringify({ step: 'loads' }));
    await a.until((w) => w.others[0].step === 'loads');
    await owner.remark(id);
    await Promise.all([a, b].map((w) => w.until((x) => x.remarks === 1)));
    await owner.call('PUT', `/api/designs/${id}`, { base: 1, save: randomUUID(), design: emptyDesign('Reviewed again') });
    await b.until((w) => w.revision === 2);
    b.close();
    await a.until((w) => w.others.length === 0);
    a.close();
  });

  it('is not told any more when the design is taken away, or its person signs out or loses the right', { timeout: 20_000 }, async () => {
    const [owner, guest, leaver] = [await person(), await person(), await person()];
    const id = await owner.create();
    for (const p of [guest, leaver]) await owner.call('PUT', `/api/designs/${id}/shares/${p.id}`, { may: 'edit' });
    const [a, b, c] = [owner.watch(id), guest.watch(id), leaver.watch(id, second.url)];
    for (const w of [a, b, c]) await w.until((x) => x.others.length === 2);
    await owner.call('DELETE', `/api/designs/${id}/shares/${guest.id}`);
    await leaver.call('DELETE', '/api/session');
    await vi.waitFor(() => expect([b.ended, c.ended]).toEqual([WATCH_ENDED.gone, WATCH_ENDED.signIn]), { timeout: 8000 });
    await a.until((x) => x.others.length === 0);
    await owner.call('DELETE', `/api/designs/${id}`);
    await vi.waitFor(() => expect(a.ended).toBe(WATCH_ENDED.gone), { timeout: 3000 });
  });

  it('is not opened to strangers, to whoever is not signed in, or for another site; what it says is bounded', async () => {
    const [owner, stranger] = [await person(), await person()];
    const id = await owner.create();
    const refused = async (w: Watcher, status: number): Promise<void> => {
      await vi.waitFor(() => expect(w.ended).toBeDefined());
      expect(w.ended).toBe(status);
      expect(w.told).toEqual([]);
    };
    await refused(stranger.watch(id), 404);
    await refused(owner.watch(randomUUID()), 404);
    await refused(new Watcher(site.url, id, ''), 401);
    await refused(new Watcher(site.url, id, owner.cookie, { origin: 'https://elsewhere.example' }), 403);
    for (const said of ['nothing', '{"step":7}', '{"step":"x","more":1}', JSON.stringify({ step: 'x'.repeat(2000) })]) {
      const w = owner.watch(id);
      await w.until(() => true);
      w.say(said);
      await vi.waitFor(() => expect(w.ended).toBeDefined());
    }
    const w = owner.watch(id);
    await w.until(() => true);
    for (let k = 0; k < 60; k++) w.say(JSON.stringify({ step: k % 2 ? 'duty' : 'train' }));
    await vi.waitFor(() => expect(w.ended).toBeDefined());
  });

  it(
    'that opens and goes at once leaves nobody behind, and one person has no more than 40 of them, however fast they come',
    { timeout: 40_000 },
    async () => {
      const [owner, guest] = [await person(), await person()];
      const id = await owner.create();
      await owner.call('PUT', `/api/designs/${id}/shares/${guest.id}`, { may: 'look' });
      const here = owner.watch(id);
      await here.until(() => true);
      const many = Array.from({ length: 60 }, () => guest.watch(id));
      await vi.waitFor(() => expect(many.filter((w) => w.ended === 503).length + many.filter((w) => w.told.length > 0).length).toBe(60), {
        timeout: 15_000,
      });
      expect(many.filter((w) => w.ended === 503)).toHaveLength(20);
      for (const w of many) w.close();
      for (let k = 0; k < 10; k++) guest.watch(id).close();
      await here.until((w) => w.others.length === 0, 20_000);
      here.close();
    },
  );

  it('of a server that was killed is gone after a while; a page that comes back asks for what it missed', { timeout: 60_000 }, async () => {
    const owner = await person();
    const id = await owner.create();
    const process = new ServerProcess(await port(), own.url, { UNIROTA_ACCOUNTS: 'on' });
    await process.start();
    const [here, there] = [owner.watch(id), owner.watch(id, process.url)];
    await here.until((w) => w.others.length === 1 && w.others[0].mine === true, 5000);
    await process.kill();
    await vi.waitFor(() => expect(there.ended).toBeDefined());
    await owner.remark(id, undefined, 'said meanwhile');
    expect(text((await owner.remarks(id, 0, second)).remarks)).toEqual(['said meanwhile']);
    await here.until((w) => w.others.length === 0, 25_000);
    await process.start();
    const back = owner.watch(id, process.url);
    await back.until((w) => w.remarks === 1, 5000);
    await process.kill();
    here.close();
  });

  it('sees nobody where the design is everybody’s, which takes no remarks', async () => {
    await db.execute('UPDATE designs SET demo = 1, owner_id = ? WHERE id = ?', [
      '00000000-0000-4000-8000-000000000000',
      await (await person()).create(),
    ]);
    const [[row]] = await db.query<any>('SELECT id FROM designs WHERE demo = 1');
    const [a, b] = [await person(), await person()];
    const pages = [a.watch(row.id), b.watch(row.id)];
    for (const w of pages) await w.until((x) => x.revision === 1);
    expect((await a.remark(row.id)).status).toBe(403);
    await new Promise((r) => setTimeout(r, 1300));
    expect(pages.map((p) => p.last!.others)).toEqual([[], []]);
    for (const p of pages) p.close();
  });
});
