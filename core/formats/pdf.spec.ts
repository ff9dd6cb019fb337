import { readFileSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { beforeAll, describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, unitSettings, unitsOf } from '../document/index';
import { type Block, CHAPTERS, type Chapter, reportOf } from '../report/index';
import { type ReadPdf, readPdf } from '../testing/pdf';
import { INCH, motionUnit } from '../units/index';
import { PDF_FONTS, type PdfFonts, writePdf } from './pdf';

const { resolve } = createRequire(import.meta.url);
const fonts = Object.fromEntries(Object.entries(PDF_FONTS).map(([k, f]) => [k, new Uint8Array(readFileSync(resolve(f)))])) as unknown as PdfFonts;
const DEMOS = new URL('../../demo/', import.meta.url);
const demo = (file: string): Design => JSON.parse(readFileSync(new URL(file, DEMOS), 'utf8')) as Design;
const date = new Date('2026-11-30T12:00:00Z');

/** A text without spaces and hyphens: where lines break is the page's business. */
const close = (s: string): string => s.replace(/[\s-]+/g, '');

const files = readdirSync(DEMOS).filter((f) => f.endsWith('.json'));
describe.each(files)('the report of %s', (file) => {
  const design = demo(file);
  const worked = analyse(design);
  const report = reportOf(design, { marks: [['Revision', '7']] }, worked);
  let pdf: ReadPdf;
  let text = '';
  beforeAll(async () => {
    pdf = await readPdf(await writePdf(report, { fonts, date }));
    text = close(pdf.pages.join(' '));
  }, 60_000);

  it('has every chapter with its bookmark, in order, and a number on every page', () => {
    expect(pdf.outline).toEqual(report.chapters.map((c, k) => `${k + 1} ${c.title}`.replace(' ', '  ')));
    expect(pdf.title).toBe(design.name);
    pdf.pages.forEach((t, k) => expect(t).toContain(`${k + 1} / ${pdf.pages.length}`));
    for (const t of pdf.pages) expect(t).toContain('Revision 7');
  });

  it('says what the ledger says of every member', () => {
    const units = unitsOf(design.settings);
    for (const l of worked.ledger.lines) {
      if (l.motion === 'still') continue;
      const unit = motionUnit(l.motion);
      expect(text).toContain(close(units.text(l.speed, unit.speed)));
      expect(text).toContain(close(units.text(l.load, unit.effort)));
      expect(text).toContain(close(units.number(l.power, 'W')));
    }
  });

  it('names every wanted output as met or missed, every finding and every load', () => {
    for (const w of design.wanted) expect(text).toContain(close(w.name));
    for (const l of design.loads) expect(text).toContain(close(l.name));
    for (const f of worked.findings) expect(text).toContain(close(unitsOf(design.settings).sentence(f.message)));
  });

  it('shows no figure that is only rounding, and nothing that is no number', () => {
    expect(/.{40}(NaN|undefined|Infinity|\de−(9|1\d)).{5}/.exec(text)?.[0]).toBeUndefined();
  });
});

describe('a report', () => {
  it('loses nothing, however long its texts, rows and tables are', async () => {
    const long = (n: number, k: number): string => Array.from({ length: n }, (_, i) => `w${k}x${i}`).join(' ');
    const chapters: Chapter[] = [
      {
        key: 'findings',
        title: 'Long findings',
        blocks: [
          { kind: 'heading', text: 'Heading of the list' },
          { kind: 'list', lines: Array.from({ length: 20 }, (_, k) => ({ mark: 'fault', text: long(150, k), more: long(60, k + 100) })) },
        ],
      },
      {
        key: 'gears',
        title: 'Tall rows',
        blocks: [
          { kind: 'heading', text: 'Heading of tall rows' },
          {
            kind: 'table',
            columns: ['a', 'b', 'c'].map((label) => ({ label })),
            rows: [0, 1, 2].map((r) => [0, 1, 2].map((c) => long(400, 200 + 3 * r + c))),
          },
        ],
      },
      {
        key: 'masses',
        title: 'Many rows',
        blocks: [
          { kind: 'heading', text: 'Heading of many rows' },
          {
            kind: 'table',
            columns: [{ label: 'Name' }, { label: 'Figure', number: true }],
            rows: Array.from({ length: 300 }, (_, k) => [`row ${k} end`, `${k}.5`]),
          },
          { kind: 'text', text: long(3000, 500) },
        ],
      },
    ];
    const pdf = await readPdf(await writePdf({ title: 'A & <B> "C" 水', marks: [], note: long(500, 600), summary: [], chapters }, { fonts, date }));
    const all = close(pdf.pages.join(' '));
    const texts = (b: Block): string[] =>
      b.kind === 'table' ? b.rows.flat() : b.kind === 'list' ? b.lines.flatMap((l) => [l.text, l.more ?? '']) : b.kind === 'drawing' ? [] : [b.text];
    const words = chapters.flatMap((c) => c.blocks.flatMap(texts)).flatMap((t) => (t.startsWith('row ') ? [t] : t.split(' ')));
    expect(words.filter((w) => !all.includes(close(w)))).toEqual([]);
    // The heading of a long table is on every page that it goes on to.
    const pages = pdf.pages.filter((t) => /row \d+ end/.test(t));
    expect(pages.length).toBeGreaterThan(4);
    for (const t of pages) expect(t).toContain('Heading of many rows');
  });

  it('has the chapters that were chosen, on the paper that was chosen', async () => {
    const report = reportOf(demo('swing-footbridge.json'), { chapters: ['ledger', 'map'] });
    expect(report.chapters.map((c) => c.key)).toEqual(['map', 'ledger']);
    const pdf = await readPdf(await writePdf(report, { fonts, date, paper: 'letter' }));
    for (const [w, h] of pdf.sizes) expect([w, h].sort((a, b) => a - b)).toEqual([612, 792]);
    expect(pdf.pages.join(' ')).not.toContain('Gear data');
  });

  it('is in the units of the design', async () => {
    const d = demo('paddle-winding-gear.json');
    const inch = { ...d, settings: { ...d.settings, ...unitSettings(INCH) } };
    const pdf = await readPdf(await writePdf(reportOf(inch, { chapters: ['ledger', 'gears'] }), { fonts, date }));
    const text = pdf.pages.join(' ');
    // 72 mm and 80 mm across.
    expect(text).toContain('2.8346');
    expect(text).toContain('3.1496');
    expect(text).toContain('lbf·in');
    expect(text).not.toContain('N·m');
  });

  it('has the kept load sheets as the ledger has them, with what friction takes, and of the run that each is of', () => {
    const d = demo('inspection-lift.json');
    const worked = analyse(d);
    const member = d.members.find((m) => m.name === 'Screw')!.id;
    const rows = (design: Design, heading: RegExp): readonly (readonly string[])[] => {
      const blocks = reportOf(design, { chapters: ['sheets'] }).chapters[0].blocks;
      const table = blocks[blocks.findIndex((b) => b.kind === 'heading' && heading.test(b.text)) + 1];
      if (table.kind !== 'table') throw new Error('a table');
      return table.rows;
    };
    // At home in steady motion a kept sheet is that of the member itself; its screw rubs.
    const kept = rows({ ...d, sheets: [{ id: 'sheet1', name: 'Kept', member }] }, /^Kept$/);
    expect(kept).toEqual(rows({ ...d, sheets: [] }, /^Screw$/));
    expect(kept.flat()).toContain(unitsOf(d.settings).number(worked.ledger.sources[0].load, 'N·m', 4));
    // Two runs of one name: the sheet is of the second, which its id names.
    const runs = [
      { id: 'run1', name: 'Raise', duration: 1, frames: 11 },
      { id: 'run2', name: 'Raise', duration: 20, frames: 21 },
    ];
    const late = { ...d, runs, sheets: [{ id: 'sheet1', name: 'Late', member, run: 'run2', time: 20 }] };
    const early = { ...d, runs, sheets: [{ id: 'sheet1', name: 'Late', member, run: 'run1', time: 1 }] };
    expect(rows(late, /^Late: Raise at 20 s$/)).not.toEqual(rows(early, /^Late: Raise at 1 s$/));
  });

  it('tells each coupling once, also a belt of three wheels and two of one name', () => {
    const d = demo('screw-gate.json');
    const names = (design: Design): string[] =>
      reportOf(design, { chapters: ['couplings'] }).chapters[0].blocks.flatMap((b) => (b.kind === 'heading' ? [b.text] : []));
    expect(names(d)).toHaveLength(d.couplings.length);
    const [, , ...rest] = d.couplings;
    const alike = { ...d, couplings: [...d.couplings.slice(0, 2).map((c) => ({ ...c, name: 'Drive' })), ...rest] };
    expect(names(alike)).toHaveLength(d.couplings.length);
  });

  it('gives its room to the columns that need it: a long text beside short ones does not run down the page', async () => {
    const words = (n: number): string => Array.from({ length: n }, (_, k) => `word${k % 10}`).join(' ');
    const row = (k: number): string[] => [
      `Part ${k} of the long train`,
      'shaft, fatigue strength',
      'as stated in all cases',
      '1.2345',
      '1.2',
      '1.0288',
      words(18),
    ];
    const columns = ['Part', 'What', 'Case', 'Safety', 'Wanted', 'Reserve', 'Method'].map((label) => ({ label }));
    const chapters: Chapter[] = [
      { key: 'rating', title: 'Rating', blocks: [{ kind: 'table', columns, rows: Array.from({ length: 52 }, (_, k) => row(k)) }] },
    ];
    const pdf = await readPdf(await writePdf({ title: 'T', marks: [], summary: [], chapters }, { fonts, date }));
    // In columns of one width each it is a page more.
    expect(pdf.pages.filter((t) => /Part \d+ of/.test(t)).length).toBeLessThanOrEqual(3);
  });

  it('has Cyrillic and Greek in letters of its own', async () => {
    const report = reportOf({ ...demo('level-board.json'), name: 'Затвор α' }, { chapters: ['ledger'] });
    const pdf = await readPdf(await writePdf(report, { fonts, date }));
    expect(pdf.pages[0]).toContain('Затвор');
    expect(pdf.pages[0]).toContain('α');
  });

  it('gives ratios exactly, with the way along the train', () => {
    const { chapters } = reportOf(demo('paddle-winding-gear.json'), { chapters: ['ratios'] });
    const [table] = chapters[0].blocks;
    if (table.kind !== 'table') throw new Error('a table');
    // 18 and 108 teeth, then 17 of module 6: 17 · 6 π / 6 mm a turn of the crank.
    expect(table.rows.map((r) => [r[1], r[2], r[6]])).toEqual([
      ['Pinion bearing', '-1/6', '18/108'],
      ['Paddle guide', '17π mm/rev', '18/108 · −102π mm/rev'],
    ]);
  });

  it('of a design with nothing in it is short, and no error', async () => {
    const empty = {
      ...demo('paddle-winding-gear.json'),
      members: [],
      joints: [],
      elements: [],
      couplings: [],
      sources: [],
      loads: [],
      wanted: [],
      groups: [],
      runs: [],
      sheets: [],
      views: [],
      cases: [],
    };
    const report = reportOf(empty as unknown as Design);
    expect(report.chapters.length).toBeLessThan(CHAPTERS.length);
    expect((await readPdf(await writePdf(report, { fonts, date }))).pages.length).toBeGreaterThan(0);
  });

  it('is the same file for the same design and date', async () => {
    const once = async () =>
      Buffer.from(await writePdf(reportOf(demo('level-board.json'), { chapters: ['duty', 'ledger'] }), { fonts, date })).toString('latin1');
    expect((await once()) === (await once())).toBe(true);
  });
});
