import { createHash, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { strToU8, zipSync } from 'fflate';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { CheckLine } from '@unirota/core';
import { type Design, emptyDesign } from '@unirota/core/document';
import { type OwnDatabase, Site, ownDatabase } from './site';

let own: OwnDatabase, site: Site, db: mysql.Connection;
beforeAll(async () => {
  own = await ownDatabase();
  site = await Site.open(own.url, { accounts: true });
  db = await mysql.createConnection({ uri: own.url, timezone: 'Z' });
});
afterAll(async () => {
  await db?.end();
  await site?.close();
  await own?.stop();
});

let n = 0;
/** Somebody who is signed in. */
async function person(at = site) {
  const { token } = await at.app.accounts.people.invite('member', undefined);
  const joined = await at.call('POST', '/api/join', {
    token,
    login: `releaser${++n}`,
    name: `Releaser ${n}`,
    passphrase: 'heron under the lock gate',
  });
  const cookie = joined.headers.getSetCookie()[0].split(';')[0];
  const call = (method: string, path: string, body?: unknown): Promise<any> => at.call(method, path, body, { headers: { cookie } });
  return {
    id: joined.body.person.id as string,
    call,
    /** Sends bytes as a release; gives status and answer. */
    send: async (design: string, body: Uint8Array): Promise<{ status: number; body: any }> => {
      const r = await fetch(`${at.url}/api/designs/${design}/releases`, {
        method: 'POST',
        body: body as never,
        headers: { cookie, 'Content-Type': 'application/octet-stream' },
      });
      return { status: r.status, body: await r.json() };
    },
    get: (path: string): Promise<Response> => fetch(at.url + path, { headers: { cookie } }),
    create: async (design: Design): Promise<string> => (await call('POST', '/api/designs', { design, save: randomUUID() })).body.id as string,
    save: async (id: string, base: number, design: Design): Promise<number> =>
      (await call('PUT', `/api/designs/${id}`, { base, save: randomUUID(), design })).body.revision as number,
  };
}
const OK: CheckLine[] = [{ key: 'faults', state: 'ok', text: 'No faults.' }];
const OPEN: CheckLine[] = [...OK, { key: 'cautions', state: 'open', text: '1 caution: something.' }];
const packed = (revision: number, more: object = {}, files: Record<string, Uint8Array> = { 'report.pdf': strToU8('%PDF paper') }): Uint8Array =>
  zipSync({
    'release.json': strToU8(JSON.stringify({ letter: 'A', revision, reason: null, checklist: OK, ...more })),
    ...Object.fromEntries(Object.entries(files).map(([name, bytes]) => [`files/${name}`, bytes])),
  });
const demo = JSON.parse(readFileSync(new URL('../../demo/paddle-winding-gear.json', import.meta.url), 'utf8')) as Design;

describe('a release', () => {
  it('takes the next letter, keeps its files byte by byte with their SHA-256, and names who and when', async () => {
    const ada = await person();
    const id = await ada.create(demo);
    // Larger than a piece.
    const solid = Uint8Array.from({ length: 2_500_000 }, (_, i) => (i * 31) % 251);
    const first = await ada.send(id, packed(1, {}, { 'report.pdf': strToU8('%PDF'), 'whole.step': solid }));
    expect(first.status).toBe(201);
    expect(first.body).toMatchObject({ letter: 'A', revision: 1, person: `Releaser ${n}`, checklist: OK });
    const file = first.body.files.find((f: { name: string }) => f.name === 'whole.step');
    expect(file.sha256).toBe(createHash('sha256').update(solid).digest('hex'));
    const back = new Uint8Array(await (await ada.get(`/api/designs/${id}/releases/A/whole.step`)).arrayBuffer());
    expect(Buffer.compare(back, solid)).toBe(0);
    // The next revision has the next letter.
    const revision = await ada.save(id, 1, { ...demo, note: 'Changed' });
    // Papers with another letter than the next are none of this release.
    const old = await ada.send(id, packed(revision));
    expect([old.status, old.body.title]).toEqual([409, expect.stringContaining('next release is B')]);
    expect((await ada.send(id, packed(revision, { letter: 'B' }))).body).toMatchObject({ letter: 'B', revision });
    const list = (await ada.call('GET', `/api/designs/${id}/releases`)).body;
    expect(list.map((l: { letter: string }) => l.letter)).toEqual(['B', 'A']);
    const revisions = (await ada.call('GET', `/api/designs/${id}/revisions`)).body as { number: number; released?: string }[];
    expect(revisions.map((r) => [r.number, r.released])).toEqual([
      [2, 'B'],
      [1, 'A'],
    ]);
  });

  it('asks for a reason while a remark is open, whatever the checklist says that was sent', async () => {
    const ada = await person();
    const id = await ada.create(demo);
    const made = await ada.call('POST', `/api/designs/${id}/remarks`, { id: randomUUID(), text: 'Wide enough?', subject: { kind: 'design' } });
    const refused = await ada.send(id, packed(1));
    expect([refused.status, refused.body.problems?.[0]?.path]).toEqual([422, 'reason']);
    await ada.call('PUT', `/api/designs/${id}/remarks/${made.body.id}/resolved`, { resolved: true });
    expect((await ada.send(id, packed(1))).status).toBe(201);
  });

  it('is of the newest revision, once: what was saved meanwhile, or released already, is said', async () => {
    const ada = await person();
    const id = await ada.create(demo);
    await ada.save(id, 1, { ...demo, note: 'Changed' });
    const late = await ada.send(id, packed(1));
    expect([late.status, late.body.title]).toEqual([409, expect.stringContaining('stands at revision 2')]);
    expect((await ada.send(id, packed(2))).status).toBe(201);
    const again = await ada.send(id, packed(2));
    expect([again.status, again.body.title]).toEqual([409, expect.stringContaining('released already, as A')]);
    // Two at once: one letter.
    const other = await ada.create(demo);
    const both = await Promise.all([ada.send(other, packed(1)), ada.send(other, packed(1))]);
    expect(both.map((x) => x.status).sort()).toEqual([201, 409]);
  });

  it('is refused with a fault, and with something open and no reason', async () => {
    const ada = await person();
    const open = await ada.create(demo);
    const without = await ada.send(open, packed(1, { checklist: OPEN }));
    expect([without.status, without.body.problems[0].path]).toEqual([422, 'reason']);
    expect((await ada.send(open, packed(1, { checklist: OPEN, reason: '   ' }))).status).toBe(422);
    const said = await ada.send(open, packed(1, { checklist: OPEN, reason: 'Agreed with the keeper' }));
    expect(said.body).toMatchObject({ letter: 'A', reason: 'Agreed with the keeper', checklist: OPEN });
    // The server looks at the document itself, whatever the checklist says.
    const faulty = { ...demo, elements: demo.elements.map((e) => (e.type === 'gear' ? { ...e, module: 5 } : e)) };
    const bad = await ada.create(faulty as Design);
    const r = await ada.send(bad, packed(1));
    expect([r.status, r.body.title]).toEqual([422, expect.stringMatching(/^This revision has a fault: /)]);
    expect((await ada.call('GET', `/api/designs/${bad}/releases`)).body).toEqual([]);
  });

  it('stands: its revision is never thinned out, a deleted design with a release is not purged', async () => {
    const ada = await person();
    const id = await ada.create(demo);
    await ada.send(id, packed(1));
    let base = 1;
    for (let k = 0; k < 3; k++) base = await ada.save(id, base, { ...demo, note: `Change ${k}` });
    await db.query('UPDATE revisions SET saved_at = saved_at - INTERVAL 400 DAY WHERE design_id = ?', [id]);
    await site.app.designs.thin(id, new Date());
    const { body } = await ada.call('GET', `/api/designs/${id}/revisions`);
    expect(body.map((r: { number: number }) => r.number)).toContain(1);
    expect((await ada.call('GET', `/api/designs/${id}/revisions/1`)).body.design.note).toBe(demo.note);
    await ada.call('DELETE', `/api/designs/${id}`);
    await db.query('UPDATE designs SET deleted_at = deleted_at - INTERVAL 400 DAY WHERE id = ?', [id]);
    await site.app.designs.purge(30);
    const [rows] = await db.query('SELECT COUNT(*) AS n FROM release_files WHERE design_id = ?', [id]);
    expect((rows as { n: number }[])[0].n).toBe(1);
    // No way leads to changing or taking away what was released.
    for (const method of ['PUT', 'DELETE', 'PATCH']) {
      expect((await ada.call(method, `/api/designs/${id}/releases/A`, {})).status).toBe(404);
    }
  });

  it('is seen by who may look at the design alone, and made by who may edit it', async () => {
    const [ada, bob] = [await person(), await person()];
    const id = await ada.create(demo);
    await ada.send(id, packed(1));
    expect((await bob.call('GET', `/api/designs/${id}/releases`)).status).toBe(404);
    expect((await bob.get(`/api/designs/${id}/releases/A/report.pdf`)).status).toBe(404);
    expect((await bob.send(id, packed(1))).status).toBe(404);
    await ada.call('PUT', `/api/designs/${id}/shares/${bob.id}`, { may: 'look' });
    expect((await bob.get(`/api/designs/${id}/releases/A/report.pdf`)).status).toBe(200);
    expect((await bob.send(id, packed(1))).status).toBe(403);
  });

  it('takes so many bytes in all, packed and unpacked', async () => {
    const MIB = 1024 * 1024;
    const small = await Site.open(own.url, { accounts: true, shapes: { one: 2 * MIB, all: 3 * MIB } });
    try {
      const ada = await person(small);
      const id = await ada.create(demo);
      const noise = (n: number): Uint8Array => Uint8Array.from({ length: n }, (_, i) => (i * 2654435761) >>> 24);
      // Packs to little, and is 200 MiB.
      const bomb = await ada.send(id, packed(1, {}, { 'a.step': new Uint8Array(200 * MIB) }));
      expect([bomb.status, bomb.body.title]).toEqual([422, expect.stringContaining('128 MiB')]);
      expect((await ada.send(id, packed(1, {}, { 'a.step': noise(2.5 * MIB) }))).status).toBe(201);
      const revision = await ada.save(id, 1, { ...demo, note: 'Changed' });
      const more = await ada.send(id, packed(revision, { letter: 'B' }, { 'a.step': noise(MIB) }));
      expect([more.status, more.body.title]).toEqual([413, expect.stringContaining('3 MiB together')]);
      expect((await ada.call('GET', `/api/designs/${id}/releases`)).body).toHaveLength(1);
    } finally {
      await small.close();
    }
  });

  it.each([
    ['no zip', strToU8('hello'), 400],
    ['a zip without release.json', zipSync({ 'files/a.pdf': strToU8('x') }), 400],
    ['no files', zipSync({ 'release.json': strToU8(JSON.stringify({ letter: 'A', revision: 1, reason: null, checklist: OK })) }), 422],
    ['a name that leaves its folder', packed(1, {}, { '../../etc': strToU8('x') }), 422],
    ['an unknown field', packed(1, { colour: 'red' }), 422],
    ['a checklist that is none', packed(1, { checklist: 'fine' }), 422],
    ['a damaged zip', packed(1).slice(0, 60), 422],
  ])('%s is refused in a sentence', async (_name, body, status) => {
    const ada = await person();
    const id = await ada.create(demo);
    const r = await ada.send(id, body);
    expect([r.status, typeof r.body.title]).toEqual([status, 'string']);
  });

  it('of an empty design says what is missing', async () => {
    const ada = await person();
    const id = await ada.create(emptyDesign('Nothing yet'));
    expect((await ada.send(id, packed(1, { checklist: OPEN }))).status).toBe(422);
  });
});
