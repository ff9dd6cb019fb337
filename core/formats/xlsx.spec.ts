import { readFileSync, readdirSync } from 'node:fs';
import Excel from 'exceljs';
import { describe, expect, it } from 'vitest';
import { analyse, ready } from '../checks/index';
import { inCase, withPartsList } from '../edits/index';
import { bearingForces, ledger } from '../forces/index';
import type { Design } from '../document/index';
import { Builder } from '../testing/designs';
import { heading, tablesOf } from '../tables/index';
import { readPartsBook, writeXlsx } from './xlsx';

const DEMOS = new URL('../../demo/', import.meta.url);
const demos = readdirSync(DEMOS).filter((f) => f.endsWith('.json'));
const worked = (file: string) => analyse(JSON.parse(readFileSync(new URL(file, DEMOS), 'utf8')) as Design);
const book = async (bytes: Uint8Array): Promise<Excel.Workbook> => {
  const b = new Excel.Workbook();
  await b.xlsx.load(bytes.buffer as ArrayBuffer);
  return b;
};

describe.each(demos)('the tables of %s', (file) => {
  const s = worked(file);
  const tables = tablesOf(s);

  it('read back from XLSX are the same figures, as numbers, with the headings and units', async () => {
    const b = await book(await writeXlsx('x', tables));
    expect(b.worksheets).toHaveLength(tables.length);
    tables.forEach((t, i) => {
      const sheet = b.worksheets[i];
      expect(sheet.getRow(1).values).toEqual([undefined, ...t.columns.map(heading)]);
      t.rows.forEach((r, k) =>
        r.forEach((v, c) => {
          const cell = sheet.getCell(k + 2, c + 1).value;
          if (v === undefined || v === '') expect(cell ?? '').toBe('');
          else expect(cell).toEqual(v);
        }),
      );
    });
  });

  it('say what the ledger says, and sum what members weigh by a formula', async () => {
    const lines = tables.find((t) => t.key === 'ledger');
    const first = s.ledger.lines.filter((l) => l.motion !== 'still');
    expect(lines?.rows.slice(0, first.length).map((r) => [r[2], r[4], r[6]])).toEqual(first.map((l) => [l.speed, l.load, l.power]));
    const masses = tables.findIndex((t) => t.key === 'masses');
    const sheet = (await book(await writeXlsx('x', tables))).worksheets[masses];
    const total = sheet.getCell(tables[masses].rows.length + 2, 2).value as { formula: string; result: number };
    expect(total.formula).toBe(`SUM(B2:B${tables[masses].rows.length + 1})`);
    expect(total.result).toBeCloseTo(
      [...s.masses.values()].reduce((sum, m) => sum + m.mass, 0),
      9,
    );
  });
});

describe('the runs of the weed rake', () => {
  it('are told by their quantities: least, greatest, and when', () => {
    const t = tablesOf(worked('weed-rake.json')).find((x) => x.key === 'runs')!;
    const row = t.rows.find((r) => r[1] === 'Place of Rake guide')!;
    // 400 mm to the stop; 720 rev/min · 99/250 · 2/50 · 17/25 · 126π mm / 60 = 51.16 mm/s, so that it is there after 7.82 s.
    expect([row[2], row[6]]).toEqual([0, 'mm']);
    expect(row[3]).toBeCloseTo(400, 4);
    expect(row[7]).toBeGreaterThan(7.81);
    expect(row[7]).toBeLessThan(8);
  });
});

describe('gear data', () => {
  it('of the paddle winding gear: the pinion’s diameters, span and mating gear', () => {
    const t = tablesOf(worked('paddle-winding-gear.json')).find((x) => x.key === 'gears')!;
    const at = (label: string): unknown => t.rows[0][t.columns.findIndex((c) => c.label === label)];
    // z 18, m 4, 20°: d = 72, da = 80, df = 62; W3 = 4 · 7.6324 (tables of spans; from memory).
    expect([at('Reference diameter d'), at('Tip diameter da'), at('Root diameter df'), at('Span over teeth k')]).toEqual([72, 80, 62, 3]);
    expect(at('Span Wk')).toBeCloseTo(4 * 7.6324, 3);
    expect([at('Mating gear'), at('Teeth of the mating gear'), at('Centre distance a')]).toEqual(['Spur wheel', 108, 252]);
  });
  it('of the limits of the paddle winding gear’s teeth: DIN 3967, cd 25 at 72 mm, and ISO 1328-1', () => {
    const t = tablesOf(worked('paddle-winding-gear.json')).find((x) => x.key === 'gears')!;
    const at = (label: string): unknown => t.rows[0][t.columns.findIndex((c) => c.label === label)];
    expect([at('Tooth thickness limits'), at('Upper deviation Esns'), at('Lower deviation Esni')]).toEqual(['DIN 3967 cd25', -0.07, -0.11]);
    const cos = Math.cos(Math.PI / 9);
    expect(at('Greatest span')).toBeCloseTo(Number(at('Span Wk')) - 0.07 * cos, 9);
    expect(at('Least span')).toBeCloseTo(Number(at('Span Wk')) - 0.11 * cos, 9);
    expect(Number(at('Greatest over pins'))).toBeGreaterThan(Number(at('Least over pins')));
    expect(Number(at('Least backlash'))).toBeGreaterThan(0.07);
    expect(Number(at('Greatest backlash'))).toBeGreaterThan(Number(at('Least backlash')));
    for (const label of ['Single pitch fpt', 'Total pitch Fp', 'Profile Fα', 'Helix Fβ', 'Runout Fr']) expect(at(label), label).toBeGreaterThan(5);
  });
  it('of a gear in several meshes: a line for each, with the distance and backlash of that mesh', () => {
    const s = worked('swing-footbridge.json');
    const t = tablesOf(s).find((x) => x.key === 'gears')!;
    const col = (label: string): number => t.columns.findIndex((c) => c.label === label);
    const lines = t.rows.filter((r) => /planet/i.test(String(r[0])));
    const first = lines.filter((r) => r[0] === lines[0][0]);
    // With the sun and with the ring: 24 · 30 · 84.
    expect(first.map((r) => r[col('Teeth of the mating gear')]).sort()).toEqual([24, 84]);
    for (const r of t.rows) {
      const mesh = s.compiled.couplings.find(({ coupling: c }) => {
        const names = [c['a'], c['b']].map((id) => s.compiled.design.elements.find((e) => e.id === id)?.name);
        return names.includes(String(r[0])) && names.includes(String(r[col('Mating gear')]));
      })!;
      const value = (key: string) => mesh.model.derived!.find((d) => d.key === key)?.value;
      expect([r[col('Centre distance a')], r[col('Backlash')]]).toEqual([value('distance'), value('backlash')]);
    }
  });
  it('of every load case: its wanted outputs, its ledger, and what each bearing carries there', () => {
    const design = worked('weed-rake.json').compiled.design;
    const s = analyse({ ...design, cases: [{ id: 'ice', name: 'Ice', loads: design.loads.map((l) => ({ load: l.id, factor: 2 })) }] });
    const tables = tablesOf(s);
    const { pose, forces } = ready(inCase(s.compiled.design, 'ice'));
    const there = ledger(pose, forces);
    const rows = (key: string, c: string): (readonly unknown[])[] => tables.find((t) => t.key === key)!.rows.filter((r) => r[0] === c);
    expect(rows('ledger', 'Ice').map((r) => [r[2], r[4], r[6]])).toEqual(
      there.lines.filter((l) => l.motion !== 'still').map((l) => [l.speed, l.load, l.power]),
    );
    expect(rows('wanted', 'Ice').map((r) => r[4])).toEqual(there.wanted.map((w) => w.value));
    const carried = (f: typeof forces) =>
      design.joints.flatMap((j) => bearingForces(f, j.id)?.bearings ?? []).map((x) => [x.at, x.radial, x.axial, x.tilting]);
    expect(rows('bearings', 'Ice').map((r) => r.slice(3))).toEqual(carried(forces));
    expect(rows('bearings', 'as stated').map((r) => r.slice(3))).toEqual(carried(s.forces));
    // Four bearings; they carry more under twice the loads.
    expect(carried(forces)).toHaveLength(4);
    expect(rows('bearings', 'Ice')).not.toEqual(rows('bearings', 'as stated'));
  });
  it('of an empty design there is no table', () =>
    expect(
      tablesOf(
        analyse({
          ...worked(demos[0]).compiled.design,
          members: [],
          joints: [],
          elements: [],
          couplings: [],
          sources: [],
          loads: [],
          wanted: [],
          cases: [],
        } as Design),
      ),
    ).toEqual([]));
  it('a name that looks like a formula stays a text', async () => {
    const [t] = tablesOf(worked('level-board.json'));
    const b = await book(await writeXlsx('x', [{ ...t, rows: [['=1+1', ...t.rows[0].slice(1)]] }]));
    expect(b.worksheets[0].getCell(2, 1).value).toBe('=1+1');
  });

  it('of a bevel pair 20 : 40 of module 3 at right angles, by the formulas of ISO 23509', () => {
    const b = new Builder();
    // tan δ1 = 20/40: δ1 = 26.565°, Re = 60 / (2 sin δ1) = 67.082.
    const cone = (Math.atan(0.5) * 180) / Math.PI;
    const [one, two] = [b.shaft([0, 0, 0]), b.shaft([0, 0, 0], 'frame', { axis: [1, 0, 0] })];
    const small = b.element('bevel-gear', one.member, { teeth: 20, module: 3, coneAngle: cone, width: 20 });
    const large = b.element('bevel-gear', two.member, { teeth: 40, module: 3, coneAngle: 90 - cone, width: 20 });
    b.couple('bevel-pair', { a: small, b: large });
    const t = tablesOf(analyse(b.design)).find((x) => x.key === 'bevels')!;
    const at = (row: number, label: string) => t.rows[row][t.columns.findIndex((c) => c.label === label)] as number;
    expect(at(0, 'Outer cone distance Re')).toBeCloseTo(67.082, 3);
    expect(at(1, 'Outer cone distance Re')).toBeCloseTo(67.082, 3);
    // dae = de + 2 me cos δ.
    expect(at(0, 'Outer tip diameter dae')).toBeCloseTo(60 + 6 * Math.cos(Math.atan(0.5)), 9);
    expect(at(1, 'Outer tip diameter dae')).toBeCloseTo(120 + 6 * Math.sin(Math.atan(0.5)), 9);
    // θa = atan(3 / 67.082) = 2.5606°, θf = atan(3.6 / 67.082) = 3.0719°.
    expect(at(0, 'Tip cone angle δa') - cone).toBeCloseTo(2.5606, 4);
    expect(cone - at(0, 'Root cone angle δf')).toBeCloseTo(3.0719, 4);
    expect(t.rows.map((r) => r[13])).toEqual([b.design.elements[1].name, b.design.elements[0].name]);
    expect(at(0, 'Shaft angle Σ')).toBeCloseTo(90, 9);
  });
});

describe('a workbook of tables, read back', () => {
  it('gives the design again as it was, and what was filled in besides', async () => {
    const work = worked('paddle-winding-gear.json');
    const { design } = work.compiled;
    const bytes = await writeXlsx('x', tablesOf(work));
    expect(withPartsList(design, await readPartsBook(bytes))).toMatchObject({ changed: 0, problems: [] });
    const filledIn = await book(bytes.slice());
    const sheet = filledIn.getWorksheet('Parts')!;
    const head = (label: string): number => (sheet.getRow(1).values as string[]).indexOf(label);
    const line = sheet.getColumn(head('Id (do not change)')).values.indexOf('z2');
    sheet.getRow(line).getCell(head('Material')).value = '42CrMo4';
    sheet.getRow(line).getCell(head('Cost')).value = { formula: '2*61', result: 122 };
    sheet.getRow(line).getCell(head('Part')).value = { richText: [{ text: 'Large ' }, { text: 'wheel' }] };
    const filled = new Uint8Array(await filledIn.xlsx.writeBuffer());
    const r = withPartsList(design, await readPartsBook(filled));
    expect(r).toMatchObject({ changed: 1, problems: [] });
    expect(r.design.elements.find((e) => e.id === 'z2')).toMatchObject({ name: 'Large wheel', material: '42CrMo4', cost: 122 });
    // The member that a part is fastened to is not its name.
    expect(r.design.members).toEqual(design.members);
  });

  it('or says why it cannot be read', async () => {
    await expect(readPartsBook(new TextEncoder().encode('Part;Cost'))).rejects.toThrow(/no XLSX workbook/);
    const other = await writeXlsx('x', [{ key: 'a', title: 'A', columns: [{ label: 'Part' }], rows: [['x']] }]);
    await expect(readPartsBook(other)).rejects.toThrow(/No sheet has the column/);
    await expect(readPartsBook(other.slice(0, other.length - 40))).rejects.toThrow(/damaged/);
  });
});
