import { readFileSync, readdirSync } from 'node:fs';
import Excel from 'exceljs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import type { Design } from '../document/index';
import { heading, tablesOf } from '../tables/index';
import { writeXlsx } from './xlsx';

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
    const ledger = tables.find((t) => t.key === 'ledger');
    const first = s.ledger.lines.filter((l) => l.motion !== 'still');
    expect(ledger?.rows.slice(0, first.length).map((r) => [r[2], r[4], r[6]])).toEqual(first.map((l) => [l.speed, l.load, l.power]));
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

describe('gear data', () => {
  it('of the paddle winding gear: the pinion’s diameters, span and mating gear', () => {
    const t = tablesOf(worked('paddle-winding-gear.json')).find((x) => x.key === 'gears')!;
    const at = (label: string): unknown => t.rows[0][t.columns.findIndex((c) => c.label === label)];
    // z 18, m 4, 20°: d = 72, da = 80, df = 62; W3 = 4 · 7.6324 (tables of spans; from memory).
    expect([at('Reference diameter d'), at('Tip diameter da'), at('Root diameter df'), at('Span over teeth k')]).toEqual([72, 80, 62, 3]);
    expect(at('Span Wk')).toBeCloseTo(4 * 7.6324, 3);
    expect([at('Mating gear'), at('Teeth of the mating gear'), at('Centre distance a')]).toEqual(['Spur wheel', '108', 252]);
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
});
