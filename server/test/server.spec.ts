import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { Design, emptyDesign } from '@unirota/core/document';
import { loadDemo } from '../src/designs/demo';
import { OwnDatabase, Site, withSite, silent } from './site';

/** The real server on a real MariaDB of its own. */
let own: OwnDatabase, site: Site;

withSite((s, o) => ([site, own] = [s, o]));

const call: Site['call'] = (...a) => site.call(...a);
const create = async (name: string) => (await call('POST', '/api/designs', { design: emptyDesign(name), save: randomUUID() })).body;
const save = (id: string, from: number, design: Design, token = randomUUID()) =>
  call('PUT', `/api/designs/${id}`, { base: from, save: token, design });

describe('designs', () => {
  it('are created, read, listed with a sketch, saved and kept as revisions', async () => {
    const d = await create('Weir hoist');
    expect(d).toMatchObject({ revision: 1, may: 'own' });
    const renamed = { ...emptyDesign('Weir hoist, second thought'), note: 'ünïcode ½ 🛶' };
    expect((await save(d.id, 1, renamed)).body.revision).toBe(2);
    expect((await call('GET', `/api/designs/${d.id}`)).body.design).toEqual(renamed);
    expect((await call('GET', `/api/designs/${d.id}/revisions/1`)).body.design.name).toBe('Weir hoist');
    expect((await call('GET', `/api/designs/${d.id}/revisions`)).body.map((r: { number: number }) => r.number)).toEqual([2, 1]);
    const line = (await call('GET', '/api/designs')).body.designs.find((x: { id: string }) => x.id === d.id);
    expect(line).toMatchObject({ name: 'Weir hoist, second thought', revision: 2, sketch: { curves: [] } });
    expect((await call('GET', `/api/designs/${d.id}/revisions/1/sketch`)).body).toMatchObject({ curves: [] });
  });

  it('lie in folders of a person’s own: listed, counted, copied with, taken out', async () => {
    const [a, b] = [await create('Filed, first'), await create('Filed, second')];
    const put = async (id: string, folder: unknown): Promise<number> => (await call('PUT', `/api/designs/${id}/folder`, { folder })).status;
    expect(await put(a.id, 'Upper locks')).toBe(204);
    expect(await put(b.id, 'Lower locks')).toBe(204);
    expect(await put(b.id, 'Upper locks')).toBe(204);
    const names = async (): Promise<string[]> =>
      (await call('GET', '/api/designs?folder=Upper%20locks&order=name')).body.designs.map((d: { name: string }) => d.name);
    expect(await names()).toEqual(['Filed, first', 'Filed, second']);
    expect((await call('GET', '/api/folders')).body).toEqual([{ name: 'Upper locks', designs: 2 }]);
    expect((await call('GET', '/api/designs?search=Filed,%20first')).body.designs[0].folder).toBe('Upper locks');
    const copy = (await call('POST', `/api/designs/${a.id}/copy`, { save: randomUUID() })).body;
    expect(await names()).toEqual(['Filed, first', 'Filed, first (copy)', 'Filed, second']);
    await call('DELETE', `/api/designs/${copy.id}`);
    expect(await put(b.id, null)).toBe(204);
    expect(await names()).toEqual(['Filed, first']);
    expect((await call('GET', '/api/folders')).body).toEqual([{ name: 'Upper locks', designs: 1 }]);
    for (const wrong of ['', ' x', 'y'.repeat(81), 5]) expect(await put(a.id, wrong)).toBe(422);
    expect(await put(randomUUID(), 'Upper locks')).toBe(404);
    await put(a.id, null);
  });

  it('answer 409 with who stands there when saved from an old revision, and change nothing', async () => {
    const d = await create('Contested');
    await save(d.id, 1, emptyDesign('Theirs'));
    const r = await save(d.id, 1, emptyDesign('Mine'));
    expect(r.status).toBe(409);
    expect(r.type).toContain('application/problem+json');
    expect(r.body.current).toMatchObject({ revision: 2 });
    expect((await call('GET', `/api/designs/${d.id}`)).body.design.name).toBe('Theirs');
  });

  it('keep the loser of a conflict beside the line, where it can be read, named and gone on from', async () => {
    const d = await create('Beside');
    await save(d.id, 1, emptyDesign('Theirs'));
    const aside = await call('POST', `/api/designs/${d.id}/aside`, { base: 1, save: randomUUID(), design: emptyDesign('Mine') });
    expect([aside.status, aside.body.revision]).toEqual([201, 3]);
    expect((await call('GET', `/api/designs/${d.id}`)).body).toMatchObject({ revision: 2, design: { name: 'Theirs' } });
    expect((await call('GET', `/api/designs/${d.id}/revisions/3`)).body.design.name).toBe('Mine');
    expect((await save(d.id, 2, emptyDesign('Both'))).body.revision).toBe(4);
    expect((await call('PUT', `/api/designs/${d.id}/revisions/3`, { label: 'Before the flood' })).status).toBe(204);
    expect((await call('GET', `/api/designs/${d.id}/revisions`)).body.map((r: any) => [r.number, !!r.beside, r.label])).toEqual([
      [4, false, undefined],
      [3, true, 'Before the flood'],
      [2, false, undefined],
      [1, false, undefined],
    ]);
  });

  it('let exactly one of many saves at once through', async () => {
    const d = await create('Crowd');
    const answers = await Promise.all(Array.from({ length: 12 }, (_, k) => save(d.id, 1, emptyDesign(`Crowd ${k}`))));
    expect(answers.filter((a) => a.status === 200)).toHaveLength(1);
    expect(answers.filter((a) => a.status === 409)).toHaveLength(11);
  });

  it('answer a repeated request as the first time, one after the other and at the very same time, saves, new designs and copies', async () => {
    const d = await create('Twice');
    const token = randomUUID();
    const one = await save(d.id, 1, emptyDesign('Twice, saved'), token);
    const two = await save(d.id, 1, emptyDesign('Twice, saved'), token);
    expect([one.status, two.status]).toEqual([200, 200]);
    expect(two.body).toEqual(one.body);
    for (let round = 2; round < 22; round++) {
      const id = randomUUID();
      const both = await Promise.all([1, 2, 3].map(() => save(d.id, round, emptyDesign(`Round ${round}`), id)));
      expect(both.map((r) => [r.status, r.body.revision])).toEqual(both.map(() => [200, round + 1]));
    }
    for (let round = 0; round < 10; round++) {
      const id = randomUUID();
      const copies = await Promise.all([1, 2, 3].map(() => call('POST', `/api/designs/${d.id}/copy`, { save: id })));
      expect(new Set(copies.map((r) => r.body.id)).size).toBe(1);
      const fresh = randomUUID();
      const made = await Promise.all([1, 2, 3].map(() => call('POST', '/api/designs', { design: emptyDesign('Once'), save: fresh })));
      expect(made.map((r) => [r.status, r.body.id])).toEqual(made.map(() => [201, made[0].body.id]));
    }
    const other = await create('Other');
    expect((await save(other.id, 1, emptyDesign('x'), token)).status).toBe(422);
  });

  it('are duplicated, deleted and brought back', async () => {
    const d = await create('Original');
    const copy = await call('POST', `/api/designs/${d.id}/copy`, { save: randomUUID() });
    expect(copy.body.design.name).toBe('Original (copy)');
    expect((await call('DELETE', `/api/designs/${d.id}`)).status).toBe(204);
    expect((await call('GET', `/api/designs/${d.id}`)).status).toBe(404);
    expect((await save(d.id, 1, emptyDesign('x'))).status).toBe(404);
    expect((await call('POST', `/api/designs/${d.id}/restore`, {})).body.design.name).toBe('Original');
    expect((await call('GET', `/api/designs/${d.id}`)).status).toBe(200);
  });
});

describe('the list', () => {
  it('comes in pages, by time or by name, found by a part of the name, with every design once', async () => {
    for (let k = 0; k < 30; k++) await create(`Lock ${String(k).padStart(2, '0')} 100%_weir`);
    for (const order of ['saved', 'created', 'name'] as const) {
      const names: string[] = [];
      let after = '';
      for (let page = 0; page < 5; page++) {
        const { body } = await call('GET', `/api/designs?order=${order}&search=${encodeURIComponent('100%_W')}${after && `&after=${after}`}`);
        names.push(...body.designs.map((d: { name: string }) => d.name));
        if (!body.next) break;
        after = body.next;
      }
      expect(new Set(names).size).toBe(30);
      expect(names).toHaveLength(30);
      if (order === 'name') expect(names).toEqual([...names].sort());
      else expect(names[0]).toContain('Lock 29');
    }
    expect((await call('GET', '/api/designs?search=100x')).body.designs).toEqual([]);
    expect((await call('GET', '/api/designs?after=rubbish')).status).toBe(400);
    expect((await call('GET', '/api/designs?order=up')).status).toBe(400);
  });
});

describe('what is sent wrongly', () => {
  it('is refused with the places that are wrong', async () => {
    const d = await create('Strict');
    const r = await save(d.id, 1, { ...emptyDesign('x'), members: [{ id: 'a b', name: '', kind: 'shaft' }] });
    expect(r.status).toBe(422);
    expect(r.body.problems.map((p: { path: string }) => p.path)).toEqual(expect.arrayContaining(['members[0].id', 'members[0].name']));
    expect((await call('PUT', `/api/designs/${d.id}`, { base: 'x' })).status).toBe(422);
    expect((await call('PUT', `/api/designs/${d.id}`, undefined, { raw: '{' })).status).toBe(400);
    expect((await call('PUT', `/api/designs/${d.id}`, undefined, { raw: new Uint8Array([0x22, 0xff, 0x22]) })).status).toBe(400);
    expect((await call('POST', '/api/designs', { design: emptyDesign('x'), save: 'no' })).status).toBe(422);
    expect((await call('POST', `/api/designs/${d.id}/copy`, { save: 3 })).status).toBe(422);
    expect((await call('PUT', `/api/designs/${d.id}/revisions/1`, { label: 4 })).status).toBe(422);
  });

  it('is answered by 4xx, and with no stack trace, however strange it is', async () => {
    const d = await create('Probe');
    for (const path of [
      "/api/designs/' OR 1=1 --",
      '/api/designs/x',
      '/api/nothing',
      '/api/designs/%E0%A4%A',
      `/api/designs/${randomUUID()}`,
      `/api/designs/${d.id}/revisions/0`,
      `/api/designs/${d.id}/revisions/99999999999999`,
      `/api/designs/${d.id}/revisions/1e3`,
    ]) {
      const r = await call('GET', path);
      expect([path, r.status >= 400 && r.status < 500]).toEqual([path, true]);
      expect(r.text).not.toMatch(/\\n\s+at |node_modules/);
    }
    for (const headers of [
      { 'content-encoding': 'zip' },
      { 'content-type': 'application/json; charset=utf-16' },
      { 'content-encoding': 'gzip' },
    ] as Record<string, string>[]) {
      const r = await call('PUT', `/api/designs/${d.id}`, { base: 1 }, { headers });
      expect([headers, r.status >= 400 && r.status < 500]).toEqual([headers, true]);
    }
  });

  it('keeps text that looks like SQL as text', async () => {
    const d = await create("Robert'); DROP TABLE designs; --");
    expect((await call('GET', `/api/designs/${d.id}`)).body.design.name).toBe("Robert'); DROP TABLE designs; --");
  });

  it('limits the size of a document', async () => {
    const r = await call('POST', '/api/designs', { design: emptyDesign('x'), save: randomUUID(), more: 'x'.repeat(9 * 1024 * 1024) });
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
    // Scripts of workers alone may make functions of texts, for the geometry kernel.
    for (const [path, may] of [
      ['/', false],
      ['/main-ABCD1234.js', false],
      ['/worker-ABCD1234.js', true],
      ['/worker-ABCD1234.js/x', false],
      ['/api/worker-ABCD1234.js', false],
    ] as const) {
      expect((await call('GET', path)).headers.get('content-security-policy')!.includes('unsafe-eval'), path).toBe(may);
    }
    expect(r.headers.get('x-powered-by')).toBeNull();
    expect(r.headers.get('x-request-id')).toMatch(/^[0-9a-f-]{36}$/);
  });

  it('loads each demo once, and not again after it was deleted', async () => {
    expect(await loadDemo(site.app.designs, site.jobs, silent)).toBe(8);
    const { body } = await call('GET', '/api/designs?search=Paddle winding gear');
    await call('DELETE', `/api/designs/${body.designs[0].id}`);
    expect(await loadDemo(site.app.designs, site.jobs, silent)).toBe(0);
  });

  it('tells apart that it lives from that it can serve, and gives measures in the open text format', async () => {
    const dark = await Site.open(own.url);
    const broken = await Site.open(own.url);
    await broken.database.end();
    expect((await broken.call('GET', '/api/live')).status).toBe(200);
    expect((await broken.call('GET', '/api/ready')).status).toBe(503);
    const list = await broken.call('GET', '/api/designs');
    expect(list.status).toBeGreaterThanOrEqual(500);
    const measures = await dark.call('GET', '/api/metrics');
    expect(measures.text).toMatch(/^unirota_request_seconds_count\{method="GET"|# TYPE unirota_request_seconds histogram/m);
    await Promise.all([dark.close(), broken.close()]);
  });
});
