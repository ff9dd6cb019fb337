import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const root = fileURLToPath(new URL('..', import.meta.url));
const run = (...args: string[]) =>
  spawnSync(process.execPath, ['--import', 'tsx', join(root, 'cli/analyse.ts'), ...args], { cwd: root, encoding: 'utf8' });

describe('the command line', () => {
  let folder: string;
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'unirota-cli-'));
  });
  afterAll(() => rmSync(folder, { recursive: true }));
  const file = (name: string, text: string): string => {
    const p = join(folder, name);
    writeFileSync(p, text);
    return p;
  };

  it('prints one JSON object about the demo and exits 0', () => {
    const r = run(join(root, 'demo/paddle-winding-gear.json'));
    expect(r.status).toBe(0);
    const out = JSON.parse(r.stdout);
    expect(out.mobility.freedoms).toBe(1);
    expect(out.ratios.find((x: { to: string }) => x.to === 'j-paddle')).toMatchObject({ exact: '17π', unit: 'mm/turn' });
    // 900 mm over 17π mm per turn.
    expect(out.stops[0].upper.at).toBeCloseTo(900 / (17 * Math.PI), 12);
    expect(out.ledger.efficiency).toBeCloseTo(0.97 * 0.95, 3);
  });

  it('exits 1 with a stop finding', () => {
    const doc = {
      format: 'unirota-design',
      version: 1,
      name: 'x',
      members: [{ id: 'm', name: 'Loose', kind: 'shaft' }],
      joints: [],
      elements: [],
      couplings: [],
      sources: [],
      loads: [],
      wanted: [],
    };
    const r = run(file('loose.json', JSON.stringify(doc)));
    expect(r.status).toBe(1);
    expect(JSON.parse(r.stdout).findings[0].message).toContain('nothing carries “Loose”');
  });

  it.each([
    ['no file named', () => [], /Name a design document/],
    ['a file that is not there', () => [join(tmpdir(), 'unirota-none.json')], /There is no file/],
    ['a folder', () => [folder], /is a folder/],
    ['text that is not JSON', () => [file('bad.json', '{')], /is not JSON/],
    [
      'a document that is not valid',
      () => [file('invalid.json', '{"format":"unirota-design","version":1}')],
      /members: the list of members is missing/,
    ],
  ])('exits 2 for %s, in words', (_what, args, words) => {
    const r = run(...args());
    expect(r.status).toBe(2);
    expect(r.stdout).toBe('');
    expect(r.stderr).toMatch(words);
    expect(r.stderr).not.toMatch(/ {4}at /);
  });
});
