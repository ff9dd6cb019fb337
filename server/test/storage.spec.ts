import { randomUUID } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { deflateSync } from 'node:zlib';
import fc from 'fast-check';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Design, emptyDesign, readDesign } from '@unirota/core/document';
import { row } from '../../core/testing/designs';
import { anyDesign } from '../../core/testing/random-design';
import { applied, difference } from '../src/jobs/delta';
import { type Kept, superfluous } from '../src/designs/thinning';
import { compileQuickCheck } from '../src/jobs/quick';
import { type OwnDatabase, Site, ownDatabase } from './site';

const DEMO = new URL('../../demo/', import.meta.url);
const demos = readdirSync(DEMO)
  .filter((f) => f.endsWith('.json'))
  .map((f) => JSON.parse(readFileSync(new URL(f, DEMO), 'utf8')) as Design);

describe('the quick check and the schema', () => {
  const quick = compileQuickCheck();
  const agree = (document: unknown): void => {
    // Yup remembers items that have passed; a copy has none.
    const { problems } = readDesign(structuredClone(document));
    expect([quick(document), problems?.[0]]).toEqual([!problems, problems?.[0]]);
  };

  it('wave the demos and random designs through', () => {
    demos.forEach(agree);
    fc.assert(fc.property(anyDesign, agree), { numRuns: 200 });
  });

  it('agree on every document that one or two changes have made of a design', () => {
    const odd = fc.oneof(
      fc.constantFrom<unknown>(
        null,
        undefined,
        '',
        ' ',
        0,
        -1,
        1e400,
        NaN,
        true,
        [],
        {},
        'x'.repeat(201),
        '1/3',
        '1/0',
        'π',
        '__proto__',
        [1, 2],
        [1, 2, 3],
        [0, 0, 0],
        { id: 'a' },
      ),
      fc.double(),
      fc.string(),
      fc.integer(),
    );
    /** Puts something in some place of the document, takes something away, doubles it, or renames a field. */
    const change = (document: unknown, way: number, kind: string, value: unknown): unknown => {
      const copy = structuredClone(document) as Record<string, unknown>;
      const places: [Record<string, unknown>, string][] = [];
      const walk = (x: unknown): void => {
        if (typeof x !== 'object' || x === null) return;
        for (const k of Object.keys(x)) {
          places.push([x as Record<string, unknown>, k]);
          walk((x as Record<string, unknown>)[k]);
        }
      };
      walk(copy);
      const [holder, key] = places[way % places.length];
      if (kind === 'set') holder[key] = value;
      else if (kind === 'delete') delete holder[key];
      else if (kind === 'rename') {
        holder[`${key}x`] = holder[key];
        delete holder[key];
      } else if (Array.isArray(holder)) holder.push(structuredClone(holder[Number(key)]));
      else holder[key] = [holder[key]];
      // As it comes over the line.
      return JSON.parse(JSON.stringify(copy));
    };
    const step = fc.tuple(fc.nat(), fc.constantFrom('set', 'delete', 'rename', 'double'), odd);
    fc.assert(
      fc.property(fc.oneof(fc.constantFrom(...demos), anyDesign), fc.array(step, { minLength: 1, maxLength: 2 }), (design, steps) => {
        agree(steps.reduce<unknown>((d, [way, kind, value]) => change(d, way, kind, value), design));
      }),
      { numRuns: 1500 },
    );
  });

  it('and a long document with one wrong item names its place', () => {
    const long = row(Array.from({ length: 500 }, () => [19, 23] as const)).design;
    const wrong = structuredClone(long) as unknown as { elements: Record<string, unknown>[] };
    wrong.elements[777]['teeth'] = 2.5;
    expect(readDesign(wrong).problems).toMatchObject([{ path: 'elements[777].teeth' }]);
    const doubled = structuredClone(long) as unknown as { elements: { id: string }[] };
    doubled.elements[900].id = doubled.elements[3].id;
    expect(readDesign(doubled).problems).toMatchObject([{ path: 'elements', message: expect.stringMatching(/share an id/) }]);
    agree(wrong);
    agree(doubled);
  });
});

describe('differences between documents', () => {
  it('give the very same text back, for texts of any kind', () => {
    const piece = fc.constantFrom('a', '},{', '{', '}', ',', '"x"', '},{},{', '½', 'same piece');
    const text = fc.oneof(
      fc.string(),
      fc.array(piece, { maxLength: 40 }).map((p) => p.join('')),
      anyDesign.map((d) => JSON.stringify(d)),
    );
    fc.assert(
      fc.property(text, text, (a, b) => applied(a, difference(a, b)) === b),
      { numRuns: 1000 },
    );
  });
  it('that do not belong to a text are refused, not made up', () => {
    expect(() => applied('a', '[0,5]')).toThrow(RangeError);
    expect(() => applied('a', '[-1,1]')).toThrow(RangeError);
  });
});

describe('thinning', () => {
  const HOUR = 3_600_000;
  const now = new Date('2026-06-30T12:00:00Z');
  const ago = (h: number): Date => new Date(now.getTime() - h * HOUR);
  const kept = (number: number, hours: number, more: Partial<Kept> = {}): Kept => ({
    number,
    savedAt: ago(hours),
    label: null,
    beside: false,
    keyNumber: null,
    ...more,
  });
  const left = (list: Kept[], current = list.at(-1)!.number): number[] => {
    const go = new Set(superfluous(list, current, current, now));
    return list.map((r) => r.number).filter((n) => !go.has(n));
  };

  it('keeps all of a day, the last of each hour for a month, then the last of each day', () => {
    const list = [
      kept(1, 24 * 40 + 0.6),
      kept(2, 24 * 40 + 0.5),
      kept(3, 24 * 40 - 6),
      kept(4, 50.9),
      kept(5, 50.2),
      kept(6, 49.5),
      kept(7, 3.1),
      kept(8, 3.05),
      kept(9, 0),
    ];
    expect(left(list)).toEqual([3, 5, 6, 7, 8, 9]);
  });
  it('keeps named ones for ever, the losers of conflicts for 90 days, and the whole documents that others are told apart from', () => {
    const list = [
      kept(1, 24 * 900, { label: 'Before the flood' }),
      kept(2, 24 * 200),
      kept(3, 24 * 200, { beside: true }),
      kept(4, 24 * 89, { beside: true }),
      kept(5, 24 * 199.9, { keyNumber: 2 }),
      kept(6, 0),
    ];
    expect(left(list)).toEqual([1, 2, 4, 5, 6]);
  });
  it('never takes the newest, a named one, or what another needs, whatever the history', () => {
    const one = fc.record({
      hours: fc.double({ min: 0, max: 24 * 400, noNaN: true }),
      label: fc.option(fc.constant('n')),
      beside: fc.boolean(),
      key: fc.option(fc.nat()),
    });
    fc.assert(
      fc.property(fc.array(one, { minLength: 1, maxLength: 60 }), (raw) => {
        raw.sort((a, b) => b.hours - a.hours);
        const list = raw.map((r, i) =>
          kept(i + 1, r.hours, { label: r.label, beside: r.beside, keyNumber: r.key !== null && i > 0 ? 1 + (r.key % i) : null }),
        );
        const plain = list.map((r) => ({ ...r, keyNumber: r.keyNumber && list[r.keyNumber - 1].keyNumber === null ? r.keyNumber : null }));
        const stays = new Set(left(plain));
        expect(stays.has(plain.length)).toBe(true);
        for (const r of plain) {
          if (r.label) expect(stays.has(r.number)).toBe(true);
          if (stays.has(r.number) && r.keyNumber) expect(stays.has(r.keyNumber)).toBe(true);
        }
        // Thinned once, it stays as it is.
        const again = plain.filter((r) => stays.has(r.number));
        expect(superfluous(again, plain.length, plain.length, now)).toEqual([]);
      }),
    );
  });
});

describe('what is stored', () => {
  let own: OwnDatabase, site: Site, db: mysql.Connection;
  beforeAll(async () => {
    own = await ownDatabase();
    site = await Site.open(own.url);
    db = await mysql.createConnection({ uri: own.url, timezone: 'Z' });
  });
  afterAll(async () => {
    await db?.end();
    await site?.close();
    await own?.stop();
  });

  /** A design whose text is about so many KiB. */
  function ofSize(kib: number): Design {
    let n = 2;
    const make = (): Design => row(Array.from({ length: n }, (_, k) => [19 + (k % 7), 23 + (k % 5)] as const)).design;
    while (JSON.stringify(make()).length < kib * 1024) n += Math.max(1, Math.round(kib / 8));
    return make();
  }

  async function storedAfter(saves: number, kib: number): Promise<number> {
    const design = ofSize(kib);
    const made = (await site.call('POST', '/api/designs', { design, save: randomUUID() })).body as { id: string };
    for (let k = 1; k <= saves; k++) {
      // As people edit: now this item, now that.
      const e = design.elements[(k * 7) % design.elements.length] as { name?: string; width?: number };
      e.name = `Wheel ${k}`;
      e.width = 10 + (k % 90) / 7;
      const r = await site.call('PUT', `/api/designs/${made.id}`, { base: k, save: randomUUID(), design });
      expect(r.body?.revision, r.text).toBe(k + 1);
    }
    for (const n of [1, 2, 61, 62, saves >> 1, saves + 1]) {
      const r = await site.call('GET', `/api/designs/${made.id}/revisions/${n}`);
      expect(readDesign(r.body.design).problems).toBeUndefined();
    }
    expect((await site.call('GET', `/api/designs/${made.id}`)).body.design).toEqual(design);
    const [[{ bytes }]] = (await db.query<any[]>('SELECT SUM(LENGTH(body)) AS bytes FROM revisions WHERE design_id = ?', [made.id])) as any;
    return Number(bytes);
  }

  it('1 000 saves of a design of 8 KiB take less than 5 MiB', async () => {
    expect(await storedAfter(1000, 8)).toBeLessThan(5 * 1024 ** 2);
  }, 300_000);

  it('1 000 saves of a design of 196 KiB take less than 30 MiB', async () => {
    expect(await storedAfter(1000, 196)).toBeLessThan(30 * 1024 ** 2);
    const [[{ bytes }]] = (await db.query<any[]>(
      'SELECT SUM(data_length + index_length) AS bytes FROM information_schema.tables WHERE table_schema = DATABASE()',
    )) as any;
    // As the table stands on the disk, both designs together.
    expect(Number(bytes)).toBeLessThan(35 * 1024 ** 2);
  }, 600_000);

  it('thins old revisions, and what is left can be read', async () => {
    const design = ofSize(8);
    const { id } = (await site.call('POST', '/api/designs', { design, save: randomUUID() })).body;
    for (let k = 1; k <= 40; k++) {
      await site.call('PUT', `/api/designs/${id}`, { base: k, save: randomUUID(), design: { ...design, note: `note ${k}` } });
    }
    await site.call('PUT', `/api/designs/${id}/revisions/7`, { label: 'As built' });
    await db.execute('UPDATE revisions SET saved_at = saved_at - INTERVAL 3 DAY WHERE design_id = ? AND number <= 30', [id]);
    await db.execute('UPDATE designs SET thinned_at = NULL WHERE id = ?', [id]);
    expect(await site.app.designs.thin(id)).toBeGreaterThan(20);
    const left = (await site.call('GET', `/api/designs/${id}/revisions`)).body.map((r: any) => r.number) as number[];
    expect(left).toEqual(expect.arrayContaining([1, 7, 30, 31, 41]));
    for (const n of left) {
      expect((await site.call('GET', `/api/designs/${id}/revisions/${n}`)).body.design.note).toBe(n === 1 ? undefined : `note ${n - 1}`);
    }
    expect((await site.call('GET', `/api/designs/${id}/revisions/8`)).status).toBe(404);
  });

  it('the first page of 5 000 designs is under 100 KB and asked by an index', async () => {
    const body = deflateSync(JSON.stringify(emptyDesign('x')));
    const sketch = JSON.stringify({ box: [0, 0, 100, 60], curves: [{ kind: 'gear', path: 'M0 0'.padEnd(7000, 'L1.5 2.5') }] });
    const at = (k: number): Date => new Date(Date.now() - k * 1000);
    for (let from = 0; from < 5000; from += 500) {
      const ids = Array.from({ length: 500 }, () => randomUUID());
      await db.query('INSERT INTO designs (id, name, revision, created_at, saved_at, last_number, key_number, sketch, sketch_revision) VALUES ?', [
        ids.map((id, k) => [id, `Design ${((from + k) * 7919) % 5000}`, 1, at(from + k), at(from + k), 1, 1, sketch, 1]),
      ]);
      await db.query('INSERT INTO revisions (design_id, number, save_id, name, body, size, saved_at) VALUES ?', [
        ids.map((id) => [id, 1, randomUUID(), 'x', body, 100, at(from)]),
      ]);
    }
    await db.query('ANALYZE TABLE designs');
    const seen = new Set<string>();
    for (const order of ['saved', 'created', 'name']) {
      const page = await site.call('GET', `/api/designs?order=${order}`);
      expect(page.text.length).toBeLessThan(100_000);
      expect(page.body.designs).toHaveLength(24);
    }
    let after: string | undefined;
    for (let pages = 0; pages < 300; pages++) {
      const { body: page } = await site.call('GET', `/api/designs?order=name${after ? `&after=${encodeURIComponent(after)}` : ''}`);
      for (const d of page.designs) {
        expect(seen.has(d.id)).toBe(false);
        seen.add(d.id);
      }
      after = page.next;
      if (!after) break;
    }
    expect(seen.size).toBeGreaterThanOrEqual(5000);
    expect((await site.call('GET', '/api/designs?search=sign%2049')).body.designs.every((d: any) => d.name.includes('sign 49'))).toBe(true);
    const [plan] = await db.query<any[]>('EXPLAIN SELECT id FROM designs WHERE deleted_at IS NULL ORDER BY saved_at DESC, id DESC LIMIT 25');
    expect([plan[0].key, /filesort/.test(plan[0].Extra ?? '')]).toEqual(['by_saved', false]);
  }, 120_000);
});
