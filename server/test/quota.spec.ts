import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { emptyDesign } from '@unirota/core/document';
import { readConfig } from '../src/config';
import { Site, withSite } from './site';

let site: Site;
withSite((s) => (site = s), { quota: { designs: 3, bytes: 2000 } });
const create = (note = '') => site.call('POST', '/api/designs', { design: { ...emptyDesign('Room'), note }, save: randomUUID() });

describe('quotas', () => {
  it('bound how many designs a person has: deleting makes room, and what comes back needs it', async () => {
    const ids: string[] = [];
    for (let k = 0; k < 3; k++) ids.push((await create()).body.id as string);
    const fourth = await create();
    expect([fourth.status, fourth.body.title]).toEqual([413, expect.stringContaining('3 designs')]);
    expect((await site.call('POST', `/api/designs/${ids[0]}/copy`, { save: randomUUID() })).status).toBe(413);
    await site.call('DELETE', `/api/designs/${ids[0]}`);
    expect((await create()).status).toBe(201);
    expect((await site.call('POST', `/api/designs/${ids[0]}/restore`, {})).status).toBe(413);
    await site.call('DELETE', `/api/designs/${ids[1]}`);
    expect((await site.call('POST', `/api/designs/${ids[0]}/restore`, {})).status).toBe(200);
  });
  it('bound what all revisions take; a save that was answered is answered again', async () => {
    const { body } = (await site.call('GET', '/api/designs')) as { body: { designs: { id: string; revision: number }[] } };
    const [d] = body.designs;
    let [base, last, status] = [d.revision, { base: 0, save: '', design: emptyDesign('') }, 200];
    for (let k = 0; k < 60 && status === 200; k++) {
      // What cannot be packed, so that each revision takes room.
      const design = { ...emptyDesign('Room'), note: Array.from({ length: 30 }, () => randomUUID()).join() };
      const request = { base, save: randomUUID(), design };
      const r = await site.call('PUT', `/api/designs/${d.id}`, request);
      status = r.status;
      if (status === 200) [base, last] = [r.body.revision as number, request];
      else expect(r.body.title).toMatch(/as much as one person may have here/);
    }
    expect(status).toBe(413);
    expect((await site.call('PUT', `/api/designs/${d.id}`, last)).status).toBe(200);
  });
  it('are read from the settings, and unbounded without', () => {
    const env = { UNIROTA_DATABASE: 'mysql://u:p@127.0.0.1/x' };
    expect(readConfig(env).quota).toEqual({});
    expect(readConfig({ ...env, UNIROTA_QUOTA_DESIGNS: '50', UNIROTA_QUOTA_MIB: '2' }).quota).toEqual({ designs: 50, bytes: 2 * 1024 * 1024 });
    expect(() => readConfig({ ...env, UNIROTA_QUOTA_DESIGNS: 'many' })).toThrow(/UNIROTA_QUOTA_DESIGNS must be a whole number/);
  });
});
