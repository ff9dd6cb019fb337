import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readPdf } from '../core/testing/pdf';

const root = fileURLToPath(new URL('..', import.meta.url));
const run = (...args: string[]) =>
  spawnSync(process.execPath, [join(root, 'cli/unirota.mjs'), ...args], { cwd: root, encoding: 'utf8', maxBuffer: 64e6 });
const DEMO = join(root, 'demo/paddle-winding-gear.json');

describe('npx unirota', () => {
  let folder: string;
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'unirota-cli-'));
  });
  afterAll(() => rmSync(folder, { recursive: true }));
  const file = (name: string): string => join(folder, name);

  it('analyses as the older command does, and writes to a file where one is named', () => {
    const old = spawnSync(process.execPath, ['--import', 'tsx', join(root, 'cli/analyse.ts'), DEMO], { cwd: root, encoding: 'utf8' });
    const r = run('analyse', DEMO, '--out', file('a.json'));
    expect([r.status, r.stdout]).toEqual([0, '']);
    expect(readFileSync(file('a.json'), 'utf8')).toBe(old.stdout);
  });

  it('rates a design, worst first; ends with 1 where something is below what is wanted, and names what it does not rate', () => {
    const sound = run('rate', DEMO);
    expect(sound.status).toBe(0);
    const rows = sound.stdout.trim().split(/\r?\n/);
    expect(rows[0]).toBe('part,what,load case or run,safety or life,unit,wanted,load reserve,method');
    expect(rows).toHaveLength(34);
    expect(sound.stderr).toContain('Not rated: Paddle: the strength of bodies of members is not rated yet.');
    const weak = run('rate', join(root, 'demo/inspection-lift.json'));
    expect(weak.status).toBe(1);
    expect(weak.stdout.split(/\r?\n/)[1]).toMatch(/^"Arm A wheel, Geared arms","flank, static",as stated,0\.5/);
  });

  it('prints natural frequencies, lost motion and wind-up; ends with 1 where nothing gives', () => {
    const rake = run('vibration', join(root, 'demo/weed-rake.json'));
    expect(rake.status).toBe(0);
    const rows = rake.stdout.trim().split(/\r?\n/);
    expect(rows[0]).toBe('mode,"frequency, Hz",gives most,part of its energy,excited nearest by,"at speed, of nominal"');
    expect(rows).toHaveLength(9);
    expect(rows[1]).toContain('Trip spring');
    expect(rake.stderr).toContain('Rake guide: lost motion 0.0449 mm at worst');
    const held = run('vibration', join(root, 'demo/weed-rake.json'), '--held').stdout.trim().split(/\r?\n/);
    expect(held.slice(1).every((r) => !r.includes('Trip spring'))).toBe(true);
    const rigid = run('vibration', join(root, 'demo/screw-gate.json'), '--held');
    expect(rigid.stderr).toContain('a shaft without round bars between two elements counts as rigid');
  });

  it('prints a run as a table of every quantity, and a sweep from stop to stop', () => {
    const r = run('run', DEMO, '--duration', '2', '--frames', '5');
    expect(r.status).toBe(0);
    const rows = r.stdout.trim().split(/\r?\n/);
    expect(rows).toHaveLength(6);
    expect(rows[0]).toContain('time, s');
    expect(rows[5].startsWith('2,')).toBe(true);
    const way = run('sweep', DEMO, '--frames', '3').stdout.trim().split(/\r?\n/);
    // 900 mm over 17π mm per turn.
    expect(Number(way[3].split(',')[0])).toBeCloseTo(900 / (17 * Math.PI), 9);
  });

  it.each(['step', 'stl', '3mf', 'glb', 'dxf', 'svg', 'mjcf.zip', 'urdf.zip', 'sdf.zip'])('converts to %s by the extension', (ext) => {
    const to = file(`paddle.${ext}`);
    const r = run('convert', DEMO, to);
    expect([r.status, r.stdout.trim()]).toEqual([0, to]);
    expect(statSync(to).size).toBeGreaterThan(2000);
  });

  it('writes several sheets as several files', () => {
    const r = run('convert', DEMO, file('plates.dxf'), '--sheet', '1100x300', '--kerf', '0.2');
    expect(r.status).toBe(0);
    const files = r.stdout.trim().split('\n');
    expect(files.length).toBeGreaterThan(1);
    expect(files.every((f) => existsSync(f))).toBe(true);
    // The large wheel fits on none of them.
    expect(r.stderr).toContain('Spur wheel: no sheet is large enough');
  });

  it.each([
    [['convert', DEMO, 'x.abc'], /extension must be one of step, stl/],
    [['convert', DEMO, 'x.dxf', '--member', 'Nobody'], /no member Nobody/],
    [['convert', DEMO, 'x.dxf', '--sheet', 'wide'], /width x height/],
    [['convert', DEMO, 'x.dxf', '--kerf', '1e999'], /must be a number/],
    [['convert', DEMO, 'x.step', '--unit', 'ft'], /Allowed choices are mm, in/],
    [['convert', DEMO, 'x.step', '--run'], /--run is of no use for step: it is for glb/],
    [['convert', DEMO, 'x.urdf.zip', '--member', 'Paddle'], /--member is of no use for urdf.zip/],
    [['convert', DEMO, 'x.glb', '--unit', 'in'], /--unit is of no use for glb/],
    [['convert', DEMO, 'x.stl', '--kerf', '1'], /--kerf is of no use for stl: it is for dxf, svg/],
    [['convert', DEMO, 'nowhere/x.stl'], /cannot be written/],
    [['convert', 'nowhere.json', 'x.step'], /There is no file nowhere.json/],
    [['run', DEMO, '--frames', '1'], /whole number from 2/],
    [['paint'], /unknown command/],
  ])('refuses %j in words, with exit code 2', (args, why) => {
    const r = run(...args);
    expect(r.status).toBe(2);
    expect(r.stderr).toMatch(why);
    expect(r.stderr).not.toMatch(/\n\s+at /);
  });

  it('makes a design of parts, and solids of that again; a mesh is no solid, and it is said so', () => {
    const zip = join(folder, 'parts.unirota.zip');
    expect(run('convert', 'demo/parts/head-beam.step', zip)).toMatchObject({ status: 0 });
    expect(run('analyse', zip).stdout).toContain('Head beam');
    const step = join(folder, 'again.step');
    expect(run('convert', zip, step)).toMatchObject({ status: 0 });
    expect(readFileSync(step, 'utf8')).toContain("PRODUCT('Head beam");
    const stl = join(folder, 'beam.stl');
    expect(run('convert', zip, stl).status).toBe(0);
    const mesh = join(folder, 'mesh.unirota.zip');
    expect(run('convert', stl, mesh, '--read-as', 'in').status).toBe(0);
    expect(run('convert', mesh, join(folder, 'mesh.step'))).toMatchObject({ status: 2, stderr: expect.stringMatching(/came as a mesh/) as string });
    expect(run('convert', zip, join(folder, 'parts.json'))).toMatchObject({ status: 2, stderr: expect.stringMatching(/unirota\.zip/) as string });
  });

  it('writes the report as PDF, whole or some chapters of it', async () => {
    expect(run('report', DEMO, file('r.pdf'), '--chapters', 'ledger', 'duty', '--revision', 'C')).toMatchObject({ status: 0 });
    const { pages, outline } = await readPdf(new Uint8Array(readFileSync(file('r.pdf'))));
    expect(outline).toEqual(['1  Duty and wanted outputs', '2  Ledger']);
    expect(pages[0]).toContain('Revision C');
    expect(run('report', DEMO, file('r.doc')).status).toBe(2);
    expect(run('report', DEMO, file('r.pdf'), '--chapters', 'weather').status).toBe(2);
  });

  it('searches trains for a ratio, and says how many there are', () => {
    const r = run('plan', '355/113', '--pairs', '2', '--teeth', '12-120', '--within', '0');
    expect(r).toMatchObject({ status: 0, stderr: expect.stringMatching(/^\d+ trains, all that there are/) as string });
    const [head, first] = r.stdout.split('\r\n');
    expect(head).toBe('error in ppm,ratio,teeth in all,pairs');
    expect(first).toMatch(/^0,355\/113,\d+,/);
    const change = run('plan', '127/120', '--teeth', '20,30,40,60,80,127', '--within', '0');
    expect(change.stdout).toMatch(/^0,127\/120,\d+,.*\b127\b/m);
    expect(run('plan', '10/373', '--within', '0').status).toBe(1);
    for (const wrong of [
      ['0'],
      ['-2'],
      ['two'],
      ['2', '--teeth', '20-12'],
      ['2', '--teeth', 'many'],
      ['2', '--within', '2'],
      ['2', '--pairs', '4'],
    ]) {
      expect(run('plan', ...wrong), wrong.join(' ')).toMatchObject({ status: 2 });
    }
  });

  it('writes a drawing of the design, of a member, or the train map, by the extension', () => {
    expect(run('drawing', DEMO, file('d.svg'), '--drawing', 'Pinion shaft')).toMatchObject({ status: 0, stderr: '' });
    const svg = readFileSync(file('d.svg'), 'utf8');
    for (const t of ['Paddle winding gear: Pinion shaft', 'Ø440', 'A–A', 'Gear data', 'AC-10-02']) expect(svg).toContain(t);
    expect(run('drawing', DEMO, file('m.dxf'), '--train-map')).toMatchObject({ status: 0 });
    expect(readFileSync(file('m.dxf'), 'latin1')).toContain('18 : 108');
    expect(run('drawing', DEMO, file('p.pdf'), '--member', 'Paddle')).toMatchObject({ status: 0 });
    expect(readFileSync(file('p.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
    const none = run('drawing', DEMO, file('d.svg'), '--drawing', 'Nothing');
    expect(none).toMatchObject({ status: 2, stderr: 'There is no drawing Nothing. There are: General arrangement, Pinion shaft.\n' });
    expect(run('drawing', DEMO, file('d.doc')).status).toBe(2);
    expect(run('drawing', DEMO, file('d.svg'), '--member', 'Paddle', '--train-map').status).toBe(2);
  });

  it('writes all tables as one workbook, or each as CSV', () => {
    expect(run('tables', DEMO, file('t.xlsx'))).toMatchObject({ status: 0 });
    expect(readFileSync(file('t.xlsx')).subarray(0, 2).toString()).toBe('PK');
    const r = run('tables', DEMO, file('t.csv'));
    expect(r.stdout.trim().split('\n')).toContain(file('t gears.csv'));
    expect(readFileSync(file('t ledger.csv'), 'utf8')).toMatch(/^Load case,Member,Speed/);
    expect(run('tables', DEMO, file('t.doc')).status).toBe(2);
  });

  it('makes a design of a mechanism, with what is not taken over', () => {
    const model = join(folder, 'gear.mjcf.zip');
    run('convert', DEMO, model);
    const r = run('convert', model, join(folder, 'gear.unirota.zip'));
    expect(r).toMatchObject({ status: 0, stderr: expect.stringMatching(/Not taken over: 1 × actuator/) as string });
    const found = run('analyse', join(folder, 'gear.unirota.zip'));
    expect((JSON.parse(found.stdout) as { mobility: { freedoms: number } }).mobility.freedoms).toBe(1);
  });

  it('refuses a body that no solid can be made of by its name, without a trace of the program', () => {
    const design = JSON.parse(readFileSync(DEMO, 'utf8')) as { elements: { type: string; name: string }[] };
    const gear = design.elements.find((e) => e.type === 'gear')!;
    Object.assign(gear, { bore: 4000 });
    writeFileSync(file('odd.json'), JSON.stringify(design));
    const r = run('convert', file('odd.json'), file('odd.step'));
    expect([r.status, r.stdout]).toEqual([2, '']);
    expect(r.stderr).toMatch(new RegExp(`^“${gear.name}” cannot be made as a solid: .*\n$`));
    expect(existsSync(file('odd.step'))).toBe(false);
    // What is drawn of it says that it is wrong.
    expect(run('convert', file('odd.json'), file('odd.dxf')).stderr).toMatch(new RegExp(`Fault: “${gear.name}”`));
  });

  it('lists its commands and exit codes', () => {
    const r = run('--help');
    expect(r.status).toBe(0);
    for (const word of ['analyse', 'run', 'sweep', 'overlap', 'convert', 'Exit codes']) expect(r.stdout).toContain(word);
  });
});
