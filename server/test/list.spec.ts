import { randomUUID } from 'node:crypto';
import { beforeAll, describe, expect, it } from 'vitest';
import type { DesignList } from '@unirota/contract';
import { LOCAL } from '../src/accounts/person';
import { Site, withSite } from './site';

/** Many designs of one owner, few of another's among them, some shared. */
let site: Site;
const few = { ...LOCAL, id: randomUUID(), name: 'Few', role: 'member' as const };
const many = { ...LOCAL, id: randomUUID(), name: 'Many', role: 'member' as const };
const MANY = 4000;
withSite((s) => (site = s));
beforeAll(async () => {
  await site.database.change(
    `INSERT INTO designs (id, name, revision, last_number, key_number, created_at, saved_at, owner_id, demo, sketch, sketch_revision)
     SELECT LOWER(CONCAT(LPAD(HEX(seq), 8, '0'), '-0000-4000-8000-000000000000')), CONCAT('Gearbox ', seq), 1, 1, 1,
            TIMESTAMPADD(SECOND, FLOOR(seq / 3), '2026-01-01'), TIMESTAMPADD(SECOND, FLOOR(seq / 3), '2026-02-01'),
            IF(seq % 500 = 0, :few, :many), 0, NULL, 1 FROM seq_1_to_${MANY}`,
    { few: few.id, many: many.id },
  );
  await site.database.change(
    "INSERT INTO shares (design_id, person_id, may, direct, created_at) SELECT id, :few, 'look', 'look', NOW() FROM designs WHERE owner_id = :many AND name LIKE 'Gearbox 77_'",
    { few: few.id, many: many.id },
  );
});

async function pages(person: typeof few, request: Parameters<ReturnType<typeof site.app.designs.of>['list']>[0]): Promise<DesignList['designs']> {
  const all: DesignList['designs'] = [];
  let after: string | undefined;
  do {
    const page = await site.app.designs.of(person).list({ ...request, after });
    all.push(...page.designs);
    after = page.next;
  } while (after);
  return all;
}

describe('the list of designs', () => {
  it.each(['saved', 'created', 'name'] as const)('page by page holds each once, in order: %s', async (order) => {
    const all = await pages(many, { order });
    expect(all).toHaveLength(MANY - MANY / 500);
    expect(new Set(all.map((d) => d.id)).size).toBe(all.length);
    if (order === 'saved') {
      expect(all.map((d) => d.savedAt)).toEqual(
        all
          .map((d) => d.savedAt)
          .sort()
          .reverse(),
      );
    }
  });

  it('stays in place while others are saved between two pages', async () => {
    const first = await site.app.designs.of(many).list({ order: 'created' });
    const [top] = first.designs;
    await site.database.change('UPDATE designs SET saved_at = NOW(3), name = CONCAT(name, "!") WHERE id = :id', { id: top.id });
    const second = await site.app.designs.of(many).list({ order: 'created', after: first.next });
    expect(second.designs.map((d) => d.id)).not.toContain(top.id);
    expect(first.designs.some((d) => second.designs.some((x) => x.id === d.id))).toBe(false);
  });

  it('of who has few holds his own and what is shared with him; a search finds it by a part of its name', async () => {
    const all = await pages(few, {});
    expect(all.filter((d) => d.may === 'own')).toHaveLength(MANY / 500);
    expect(
      all
        .filter((d) => d.may === 'look')
        .map((d) => d.name)
        .sort(),
    ).toEqual(Array.from({ length: 10 }, (_, k) => `Gearbox 77${k}`));
    expect((await pages(few, { search: 'box 77' })).length).toBe(10);
    expect((await pages(few, { search: '%' })).length).toBe(0);
    expect((await pages(many, { search: 'BOX 123' })).map((d) => d.name).sort()[0]).toBe('Gearbox 123');
  });

  it('loses for good what was deleted long ago, and nothing else', async () => {
    const his = site.app.designs.of(many);
    const [old, recent, kept] = (await his.list({})).designs.map((d) => d.id);
    await site.database.change('UPDATE designs SET deleted_at = :when WHERE id = :id', { id: old, when: new Date(Date.now() - 91 * 86_400_000) });
    await site.database.change('UPDATE designs SET deleted_at = :when WHERE id = :id', { id: recent, when: new Date(Date.now() - 89 * 86_400_000) });
    expect(await site.app.designs.purge(90)).toBe(1);
    const there = await site.database.read<{ id: string }>('SELECT id FROM designs WHERE id IN (:old, :recent, :kept)', { old, recent, kept });
    expect(there.map((r) => r.id).sort()).toEqual([recent, kept].sort());
  });

  it('is read by index: nobody’s designs but his own are looked at', async () => {
    const before = await reads();
    await site.app.designs.of(few).list({ search: 'nothing like it' });
    expect((await reads()) - before).toBeLessThan(300);
  });
});

/** Rows that the database has read so far, all sessions together. */
async function reads(): Promise<number> {
  const rows = await site.database.read<{ Value: string }>(
    "SHOW GLOBAL STATUS WHERE Variable_name IN ('Handler_read_next', 'Handler_read_prev', 'Handler_read_key', 'Handler_read_rnd_next')",
  );
  return rows.reduce((s, r) => s + Number(r.Value), 0);
}
