import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { analyse, loadSheet } from '@unirota/core';
import type { Design } from '@unirota/core/document';
import type { StrengthNews, StrengthRequest, StrengthResult } from '@unirota/contract/strength';
import { ensureTools } from '../src/strength/tools';
import { Site, withSite } from './site';

let site: Site;
withSite((s) => (site = s));

/** A gate's lever: 400 mm long, hinged at its eye, 250 N on its end, held by its source. */
const design: Design = {
  ...({ format: 'unirota-design', version: 1 } as object),
  ...JSON.parse(readFileSync(new URL('../../demo/weed-rake.json', import.meta.url), 'utf8')),
} as Design;
const worked = analyse(design);
const lever = design.members.find((m) => m.name === 'Trip lever')!.id;
const lines = loadSheet(worked.forces, lever, lever, false).lines;
const request = (more: Partial<StrengthRequest> = {}): StrengthRequest => ({
  design,
  member: lever,
  lines,
  size: 6,
  young: 210_000,
  poisson: 0.3,
  solve: true,
  ...more,
});
async function news(r: StrengthRequest): Promise<StrengthNews[]> {
  const answer = await site.call('POST', '/api/strength', r);
  expect(answer.status).toBe(200);
  return answer.text
    .split('\n')
    .filter((l) => l.trim())
    .map((l) => JSON.parse(l) as StrengthNews);
}
const done = (n: StrengthNews[]): StrengthResult => {
  const last = n.at(-1)!;
  if (!('done' in last)) throw new Error(JSON.stringify(last));
  return last.done;
};
const folders = (): string[] => readdirSync(tmpdir()).filter((f) => f.startsWith('unirota-strength-'));

describe('strength models', () => {
  it('are meshed, told step by step, solved, and the deck runs as it is; the supports carry nothing', async () => {
    const told = await news(request());
    expect(told.slice(0, -1)).toEqual(['waiting', 'installing', 'meshing', 'placing', 'solving'].map((step) => ({ step })));
    const r = done(told);
    expect(r.sets.map((s) => s.name)).toEqual(lines.map((l) => l.name));
    const most = Math.max(...lines.map((l) => Math.hypot(...l.force)));
    expect(r.answer!.carried).toBeLessThan(1e-6 * most);
    expect(r.answer!.stress).toBeGreaterThan(0.1);
    expect(r.answer!.change).toBeGreaterThan(0);
    // The roller stands beside the arm.
    expect(r.ties).toHaveLength(1);
    const folder = mkdtempSync(join(tmpdir(), 'deck-'));
    writeFileSync(join(folder, 'x.inp'), r.deck);
    expect(execFileSync('ccx', ['x'], { cwd: folder, timeout: 60_000 }).toString()).toContain('Job finished');
    rmSync(folder, { recursive: true });
    expect(folders()).toEqual([]);
  });

  it('grow stiffer nowhere: twice the modulus is half the change of shape and the same stress', async () => {
    const [one, two] = [done(await news(request())).answer!, done(await news(request({ young: 420_000 }))).answer!];
    expect(two.stress / one.stress).toBeCloseTo(1, 3);
    expect(two.change / one.change).toBeCloseTo(0.5, 3);
  });

  it('say what is in the way: no such member, elements too small, a sheet that does not add up, no tools', async () => {
    expect((await news(request({ member: 'frame' }))).at(-1)).toMatchObject({ problem: expect.stringContaining('stands still') });
    expect((await news(request({ size: 0.1 }))).at(-1)).toMatchObject({ problem: expect.stringContaining('Choose larger ones') });
    expect((await news(request({ lines: lines.slice(1) }))).at(-1)).toMatchObject({ problem: expect.stringContaining('does not add up') });
    vi.stubEnv('PATH', '/nowhere');
    const send = process.send;
    process.send = undefined;
    expect(await ensureTools()).toMatch(/not installed.*apt-get install gmsh calculix-ccx/);
    process.send = send;
  });
  afterEach(() => void vi.unstubAllEnvs());

  it('are refused where the request is wrong, with what is wrong', async () => {
    const wrong = async (more: object): Promise<unknown> => (await site.call('POST', '/api/strength', { ...request(), ...more })).body;
    expect(await wrong({ size: -1 })).toMatchObject({
      status: 422,
      problems: [{ path: 'size', message: 'Size of elements (mm) must be at least 0.01' }],
    });
    expect(await wrong({ poisson: 0.5 })).toMatchObject({ status: 422, problems: [{ path: 'poisson' }] });
    expect(await wrong({ lines: [{ ...lines[0], force: [1, 2] }] })).toMatchObject({ status: 422, problems: [{ path: 'lines[0].force' }] });
    expect(await wrong({ design: { ...design, members: 5 } })).toMatchObject({ status: 422 });
    expect(await wrong({ command: 'ls' })).toMatchObject({ status: 422 });
  });

  it('are ended with whoever asked: nothing goes on, nothing stays', async () => {
    const gone = new AbortController();
    const answer = await fetch(`${site.url}/api/strength`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(request({ size: 1.5 })),
      signal: gone.signal,
    });
    const reader = answer.body!.getReader();
    let text = '';
    while (!text.includes('meshing')) text += new TextDecoder().decode((await reader.read()).value);
    gone.abort();
    await vi.waitFor(() => expect(folders()).toEqual([]), 10_000);
    // The next one has its turn.
    done(await news(request({ solve: false })));
  });
});
