import { randomUUID } from 'node:crypto';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { addShapes } from '@unirota/core';
import { type Design, emptyDesign } from '@unirota/core/document';
import { contentHash, writeShape } from '@unirota/core/geometry';
import { WORLD } from '@unirota/core/math';
import { boxMesh, shapeFrom } from '../../core/testing/shapes';
import { type OwnDatabase, Site, ownDatabase } from './site';

let own: OwnDatabase, site: Site, db: mysql.Connection;
const MIB = 1024 * 1024;
beforeAll(async () => {
  own = await ownDatabase();
  site = await Site.open(own.url, { accounts: true, shapes: { one: 2 * MIB, all: 3 * MIB } });
  db = await mysql.createConnection({ uri: own.url, timezone: 'Z' });
});
afterAll(async () => {
  await db?.end();
  await site?.close();
  await own?.stop();
});

let n = 0;
/** Somebody who is signed in. */
async function person(): Promise<{
  id: string;
  call: (method: string, path: string, body?: unknown) => Promise<any>;
  put: (path: string, bytes: Uint8Array) => Promise<Response>;
  get: (path: string) => Promise<Response>;
}> {
  const { token } = await site.app.accounts.people.invite('member', undefined);
  const joined = await site.call('POST', '/api/join', { token, login: `shaper${++n}`, name: `Shaper ${n}`, passphrase: 'heron under the lock gate' });
  const cookie = joined.headers.getSetCookie()[0].split(';')[0];
  const headers = { cookie };
  const raw = (method: string, path: string, body?: Uint8Array): Promise<Response> =>
    fetch(site.url + path, { method, body: body as never, headers: { ...headers, 'Content-Type': 'application/octet-stream' } });
  return {
    id: joined.body.person.id as string,
    call: (method, path, body) => site.call(method, path, body, { headers }),
    put: (path, bytes) => raw('PUT', path, bytes),
    get: (path) => raw('GET', path),
  };
}
const part = (size: number): { bytes: Uint8Array<ArrayBuffer>; hash: string; data: ReturnType<typeof shapeFrom> } => {
  const data = shapeFrom(boxMesh(size, 20, 10));
  const bytes = writeShape(data);
  return { bytes, hash: contentHash(bytes), data };
};
const withPart = (p: ReturnType<typeof part>): Design =>
  addShapes(emptyDesign('With a part'), [{ content: p.hash, data: p.data, place: WORLD, onto: { newMember: 'Part', kind: 'body' } }]).design;
const create = async (who: Awaited<ReturnType<typeof person>>, design: Design): Promise<string> =>
  (await who.call('POST', '/api/designs', { design, save: randomUUID() })).body.id as string;
const count = async (sql: string): Promise<number> => Number(((await db.query(sql))[0] as { n: number }[])[0].n);

describe('contents of shapes', () => {
  it('are stored once, whatever designs they are in, and come back byte by byte', async () => {
    const ada = await person();
    const p = part(31);
    const [one, two] = [await create(ada, withPart(p)), await create(ada, withPart(p))];
    for (const id of [one, two, one]) expect((await ada.put(`/api/designs/${id}/shapes/${p.hash}`, p.bytes)).status).toBe(204);
    expect(await count('SELECT COUNT(*) AS n FROM shapes')).toBe(1);
    expect((await ada.call('GET', `/api/designs/${one}/shapes`)).body).toEqual([p.hash]);
    const got = await ada.get(`/api/designs/${two}/shapes/${p.hash}`);
    expect(new Uint8Array(await got.arrayBuffer())).toEqual(p.bytes);
  });

  it('of some megabytes come back as well', async () => {
    const ada = await person();
    const data = { ...shapeFrom(boxMesh(3, 4, 5)), step: crypto.getRandomValues(new Uint8Array(65_536)) };
    const big = {
      ...data,
      step: new Uint8Array(Array.from({ length: 25 }, () => Array.from(crypto.getRandomValues(new Uint8Array(65_536)))).flat()),
    };
    const bytes = writeShape(big);
    expect(bytes.length).toBeGreaterThan(1.5 * MIB);
    const id = await create(ada, emptyDesign('Big'));
    expect((await ada.put(`/api/designs/${id}/shapes/${contentHash(bytes)}`, bytes)).status).toBe(204);
    expect(new Uint8Array(await (await ada.get(`/api/designs/${id}/shapes/${contentHash(bytes)}`)).arrayBuffer())).toEqual(bytes);
  });

  it('a known hash opens nothing: not in another’s design, not in one’s own that names it, not after a share ended', async () => {
    const [ada, eve] = [await person(), await person()];
    const p = part(32);
    const id = await create(ada, withPart(p));
    await ada.put(`/api/designs/${id}/shapes/${p.hash}`, p.bytes);
    expect((await eve.get(`/api/designs/${id}/shapes/${p.hash}`)).status).toBe(404);
    const hers = await create(eve, withPart(p));
    expect((await eve.get(`/api/designs/${hers}/shapes/${p.hash}`)).status).toBe(404);
    expect((await eve.call('GET', `/api/designs/${id}/shapes`)).status).toBe(404);
    await ada.call('PUT', `/api/designs/${id}/shares/${eve.id}`, { may: 'look' });
    expect((await eve.get(`/api/designs/${id}/shapes/${p.hash}`)).status).toBe(200);
    expect((await eve.put(`/api/designs/${id}/shapes/${part(33).hash}`, part(33).bytes)).status).toBe(403);
    await ada.call('DELETE', `/api/designs/${id}/shares/${eve.id}`);
    expect((await eve.get(`/api/designs/${id}/shapes/${p.hash}`)).status).toBe(404);
  });

  it('go with a duplicate of their design', async () => {
    const ada = await person();
    const p = part(34);
    const id = await create(ada, withPart(p));
    await ada.put(`/api/designs/${id}/shapes/${p.hash}`, p.bytes);
    const copy = (await ada.call('POST', `/api/designs/${id}/copy`, { save: randomUUID() })).body.id as string;
    expect((await ada.get(`/api/designs/${copy}/shapes/${p.hash}`)).status).toBe(200);
  });

  it('that are not what they say, or no shapes, are refused with a sentence', async () => {
    const ada = await person();
    const id = await create(ada, emptyDesign('Empty'));
    const p = part(35);
    const noShape = new TextEncoder().encode('not a shape');
    for (const [hash, bytes, status] of [
      [part(36).hash, p.bytes, 422],
      [contentHash(noShape), noShape, 422],
      ['0', p.bytes, 422],
      [p.hash, new Uint8Array(2 * MIB + 1), 413],
    ] as const) {
      const r = await ada.put(`/api/designs/${id}/shapes/${hash}`, bytes);
      expect(r.status).toBe(status);
      expect(((await r.json()) as { title: string }).title).toMatch(/^[A-Z].*[a-z]/);
    }
    expect((await ada.call('GET', `/api/designs/${id}/shapes`)).body).toEqual([]);
  });

  it('of one design are no larger together than is allowed', async () => {
    const ada = await person();
    const id = await create(ada, emptyDesign('Full'));
    const random = (): Uint8Array<ArrayBuffer> =>
      writeShape({
        ...shapeFrom(boxMesh(1, 1, 1)),
        step: new Uint8Array(Array.from({ length: 20 }, () => Array.from(crypto.getRandomValues(new Uint8Array(65_536)))).flat()),
      });
    const statuses: number[] = [];
    for (let k = 0; k < 3; k++) {
      const bytes = random();
      statuses.push((await ada.put(`/api/designs/${id}/shapes/${contentHash(bytes)}`, bytes)).status);
    }
    expect(statuses).toEqual([204, 204, 413]);
  });

  it('go when no revision refers to them any more, and not before', async () => {
    const ada = await person();
    const [p, q] = [part(37), part(38)];
    const id = await create(ada, withPart(p));
    for (const x of [p, q]) await ada.put(`/api/designs/${id}/shapes/${x.hash}`, x.bytes);
    const later = new Date(Date.now() + 2 * 86_400_000);
    // The first is referred to, the second never was; at once nothing goes.
    expect(await site.app.designs.sweepShapes()).toEqual({ links: 0, contents: 0 });
    await site.app.designs.sweepShapes(later);
    expect((await ada.get(`/api/designs/${id}/shapes/${p.hash}`)).status).toBe(200);
    expect((await ada.get(`/api/designs/${id}/shapes/${q.hash}`)).status).toBe(404);
    expect(await count(`SELECT COUNT(*) AS n FROM shapes WHERE hash = UNHEX('${q.hash}')`)).toBe(0);
    // Saved without it, the earlier revision still has it; with that gone, it goes.
    await ada.call('PUT', `/api/designs/${id}`, { base: 1, save: randomUUID(), design: emptyDesign('With a part') });
    await site.app.designs.sweepShapes(later);
    expect((await ada.get(`/api/designs/${id}/shapes/${p.hash}`)).status).toBe(200);
    await db.query('DELETE FROM revisions WHERE design_id = ? AND number = 1', [id]);
    await site.app.designs.sweepShapes(later);
    expect((await ada.get(`/api/designs/${id}/shapes/${p.hash}`)).status).toBe(404);
    expect(await count(`SELECT COUNT(*) AS n FROM shapes WHERE hash = UNHEX('${p.hash}')`)).toBe(0);
    expect(await count('SELECT COUNT(*) AS n FROM shape_pieces s LEFT JOIN shapes b ON b.hash = s.hash WHERE b.hash IS NULL')).toBe(0);
  });

  it('go with their design when it is purged', async () => {
    const ada = await person();
    const p = part(39);
    const id = await create(ada, withPart(p));
    await ada.put(`/api/designs/${id}/shapes/${p.hash}`, p.bytes);
    await ada.call('DELETE', `/api/designs/${id}`);
    expect((await ada.get(`/api/designs/${id}/shapes/${p.hash}`)).status).toBe(404);
    await site.app.designs.purge(0, new Date(Date.now() + 1000));
    expect(await count(`SELECT COUNT(*) AS n FROM design_shapes WHERE design_id = '${id}'`)).toBe(0);
  });
});
