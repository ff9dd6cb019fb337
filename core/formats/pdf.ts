/**
 * PDF (ISO 32000-1, written by pdfmake) of a report: embedded IBM Plex, selectable text, contents, bookmarks, page numbers,
 * drawings as vectors.
 */
import type { Content, ContentTable, TDocumentDefinitions, TableCell } from 'pdfmake/interfaces';
import type { Sheet } from '../drawing/index';
import type { Block, Chapter, Report } from '../report/index';
import { writeSheetSvg } from './sheet-svg';

/** Files of the typefaces, in their packages. The condensed one has no Greek: the other one lends it. */
export const PDF_FONTS = {
  regular: '@expo-google-fonts/ibm-plex-sans-condensed/400Regular/IBMPlexSansCondensed_400Regular.ttf',
  bold: '@expo-google-fonts/ibm-plex-sans-condensed/600SemiBold/IBMPlexSansCondensed_600SemiBold.ttf',
  greek: '@expo-google-fonts/ibm-plex-sans/400Regular/IBMPlexSans_400Regular.ttf',
  greekBold: '@expo-google-fonts/ibm-plex-sans/600SemiBold/IBMPlexSans_600SemiBold.ttf',
} as const;
/** Bytes of each typeface. */
export type PdfFonts = Record<keyof typeof PDF_FONTS, Uint8Array>;

export const PAPERS = { A4: [595.28, 841.89], letter: [612, 792] } as const;
export type Paper = keyof typeof PAPERS;

export interface PdfOptions {
  fonts: PdfFonts;
  paper?: Paper;
  /** When it was made. */
  date: Date;
}

const CONDENSED = 'IBM Plex Sans Condensed';
const GREEK = 'IBM Plex Sans';
const MARGIN = 45;
const [INK, SOFT, RULE, FILL] = ['#26272b', '#5a564c', '#c9bfa8', '#f2ede0'];
const SEVERITY: Readonly<Record<string, string>> = { fault: '#a03a23', caution: '#8a5a00', note: SOFT };

/** Runs of letters that the condensed face has not: Greek, Cyrillic, the sign of a ratio. */
const LENT = /([\u0370-\u052f\u2236]+)/;
type Run = string | { text: string; font: string };
/** The faces have no narrow space; one that does not break stands for it. */
const spaced = (text: string): string => text.replace(/\u202f/g, '\u00a0');
const runs = (text: string): Run[] | string =>
  LENT.test(text)
    ? spaced(text)
        .split(LENT)
        .filter(Boolean)
        .map((t): Run => (LENT.test(t) ? { text: t, font: GREEK } : t))
    : spaced(text);
/** The same in the texts of a drawing. */
const lentSvg = (svg: string): string =>
  spaced(svg).replace(
    />([^<]+)</g,
    (_all, text: string) => `>${text.replace(new RegExp(LENT.source, 'g'), `<tspan font-family="${GREEK}">$1</tspan>`)}<`,
  );

/** Points of type in a table by how many columns it has. */
const typeOf = (columns: number): number => (columns > 9 ? 7 : columns > 6 ? 7.8 : 8.8);

type TableBlock = Extract<Block, { kind: 'table' }>;
/** Room at both sides of a cell, and about how wide a letter of the condensed face is against its size. */
const PADDING = 6;
const LETTER = { text: 0.48, number: 0.56 };

/**
 * Widths of columns: as wide as what stands in them, the rest to the texts; where that is too much the widest give way, down to
 * their longest word.
 */
function widthsOf({ columns, rows, total }: TableBlock, type: number, width: number): number[] {
  const cells = [columns.map((c) => c.label), ...rows, ...(total ? [total] : [])];
  const wide = (k: number, texts: readonly string[]): number =>
    texts.reduce((n, t) => Math.max(n, t.length), 0) * type * LETTER[columns[k].number ? 'number' : 'text'] + 2;
  const whole = columns.map((_, k) =>
    wide(
      k,
      cells.map((r) => r[k] ?? ''),
    ),
  );
  // A figure stays with its unit.
  const words = (t: string): string[] => (/^[−\d][^ ]* \S+$/.test(t) ? [t] : t.split(' '));
  const word = columns.map((_, k) =>
    wide(
      k,
      cells.flatMap((r) => words(r[k] ?? '')),
    ),
  );
  const room = width - PADDING * columns.length;
  const sum = (list: readonly number[]): number => list.reduce((s, x) => s + x, 0);
  const spare = room - sum(whole);
  if (spare >= 0) {
    const texts = columns.filter((c) => !c.number).length;
    return whole.map((w, k) => (texts === 0 ? w + spare / columns.length : columns[k].number ? w : w + spare / texts));
  }
  const out = shared(rows, type, word, whole, room);
  const over = sum(out) / room;
  return over > 1 ? out.map((w) => w / over) : out;
}

/** Rows by which widths are chosen, and how many shares the room is given out in. */
const LOOKED_AT = 40,
  SHARES = 30;
/** Room given out from the longest words on, a share at a time to the column whose widening leaves the fewest lines. */
function shared(rows: readonly (readonly string[])[], type: number, word: readonly number[], whole: readonly number[], room: number): number[] {
  const out = [...word];
  const left = room - out.reduce((s, x) => s + x, 0);
  if (left <= 0) return out;
  const some = rows.slice(0, LOOKED_AT);
  const share = left / SHARES;
  const height = (widened: number): number =>
    some.reduce((sum, r) => sum + r.reduce((most, t, k) => Math.max(most, linesOf(t, type, out[k] + (k === widened ? share : 0))), 1), 0);
  // How far a column is from what stands in it: of equal gains the neediest comes first.
  const lacks = (k: number): number => whole[k] / out[k];
  for (let n = 0; n < SHARES; n++) {
    const now = height(-1);
    let [best, least] = [-1, Infinity];
    for (let k = 0; k < out.length; k++) {
      if (out[k] >= whole[k]) continue;
      const after = height(k);
      if (after < least || (after === least && lacks(k) > lacks(best))) [best, least] = [k, after];
    }
    if (best < 0) break;
    // Where nothing is gained by one share it goes on adding up in the column that lacks most.
    if (least === now) best = out.reduce((most, _, k) => (out[k] < whole[k] && (most < 0 || lacks(k) > lacks(most)) ? k : most), -1);
    out[best] += share;
  }
  return out;
}

function table(b: TableBlock, width: number, over?: string): ContentTable {
  const fontSize = typeOf(b.columns.length);
  const cell = (text: string, k: number, bold = false): TableCell => ({
    text: runs(text),
    alignment: b.columns[k].number ? 'right' : 'left',
    bold,
  });
  const head = b.columns.map((c, k): TableCell => ({ ...(cell(c.label, k, true) as object), fillColor: FILL }) as TableCell);
  const widths = widthsOf(b, fontSize, width);
  // A row that no page can hold must go on to the next: what is kept together and does not fit is lost.
  const tall = rowLines(b, width).some((n) => n > TOGETHER);
  // Over the heads of columns stands what the table is of: on every page that it goes on to.
  const first = over === undefined ? 0 : 1;
  return {
    fontSize,
    margin: [0, 3, 0, 9],
    table: {
      headerRows: tall ? 0 : over === undefined ? 1 : 2,
      dontBreakRows: !tall,
      keepWithHeaderRows: tall ? 0 : 1,
      widths,
      body: [
        ...(over === undefined ? [] : [[{ text: runs(over), style: 'heading', colSpan: b.columns.length }, ...b.columns.slice(1).map(() => '')]]),
        head,
        ...b.rows.map((r) => b.columns.map((_, k) => cell(r[k] ?? '', k))),
        ...(b.total ? [b.total.map((t, k) => cell(t, k, true))] : []),
      ],
    },
    layout: {
      hLineWidth: (i, node) => {
        const last = node.table.body.length;
        if (i < first) return 0;
        return i === first || i === first + 1 || i === last || (b.total && i === last - 1) ? 0.8 : 0.4;
      },
      vLineWidth: () => 0,
      hLineColor: (i, node) => (i <= first + 1 || i === node.table.body.length ? SOFT : RULE),
      paddingTop: () => 1.6,
      paddingBottom: () => 1.6,
      paddingLeft: () => 3,
      paddingRight: () => 3,
    },
  };
}

function block(b: Block, width: number): Content {
  switch (b.kind) {
    case 'heading':
      return { text: runs(b.text), style: 'heading' };
    case 'text':
      return { text: runs(b.text), color: b.soft ? SOFT : INK, margin: [0, 1, 0, 4] };
    case 'list':
      return {
        margin: [0, 2, 0, 6],
        stack: b.lines.map((l): Content => ({
          columns: [
            { width: 46, text: l.mark, bold: true, color: SEVERITY[l.mark] ?? INK },
            { width: '*', stack: [{ text: runs(l.text) }, ...(l.more ? [{ text: runs(l.more), color: SOFT }] : [])] },
          ],
          margin: [0, 1.5, 0, 1.5],
        })),
      };
    case 'table':
      return table(b, width);
    case 'drawing': {
      const scale = Math.min(1, width / b.width);
      return { svg: lentSvg(b.svg), width: b.width * scale, height: b.height * scale, margin: [0, 3, 0, 6] };
    }
  }
}

/** A drawing that is legible only across the long side of the paper. */
const isWide = (c: Chapter, width: number): boolean => c.blocks.some((b) => b.kind === 'drawing' && width / b.width < 0.42);

/** A heading with what it is over, up to the next. */
function sections(blocks: readonly Block[]): Block[][] {
  const out: Block[][] = [[]];
  for (const b of blocks) {
    if (b.kind === 'heading') out.push([]);
    out[out.length - 1].push(b);
  }
  return out.filter((x) => x.length);
}

/** Lines that stay on one page with the heading over them: half of the shortest page. What is kept together must fit on one. */
const TOGETHER = 20;
const LINE_HEIGHT = 13;

/** About how many lines a text takes. */
const linesOf = (text: string, type: number, width: number): number =>
  text.split('\n').reduce((n, t) => n + Math.max(1, Math.ceil((t.length * type * 0.6) / Math.max(20, width))), 0);

/** About how many lines the rows of a table take. */
function rowLines(b: TableBlock, width: number): number[] {
  const type = typeOf(b.columns.length);
  const widths = widthsOf(b, type, width);
  return b.rows.map((r) => Math.max(1, ...r.map((t, k) => linesOf(t, type, widths[k]))));
}

/** About how many lines a block takes. */
function heightOf(b: Block, width: number): number {
  switch (b.kind) {
    case 'heading':
      return 1 + linesOf(b.text, 10.5, width);
    case 'text':
      return linesOf(b.text, 9.5, width);
    case 'list':
      return b.lines.reduce((n, l) => n + linesOf(l.text, 9.5, width - 46) + (l.more ? linesOf(l.more, 9.5, width - 46) : 0), 0);
    case 'table':
      return 2 + rowLines(b, width).reduce((n, x) => n + x, 0);
    case 'drawing':
      return Math.ceil((b.height * Math.min(1, width / b.width)) / LINE_HEIGHT);
  }
}

/**
 * A section: its heading stays with what comes first below it. A long table has it as the first of its heads; then `whole` is
 * false, and the title of a chapter over it begins a page.
 */
function section(blocks: readonly Block[], width: number): { whole: boolean; first: Content[]; rest: Content[] } {
  const upTo = blocks.findIndex((b) => b.kind === 'table' || b.kind === 'drawing' || b.kind === 'list');
  const at = upTo < 0 ? blocks.length - 1 : upTo;
  const b = blocks[at];
  const rest = blocks.slice(at + 1).map((x) => block(x, width));
  const lines = blocks.slice(0, at + 1).reduce((n, x) => n + heightOf(x, width), 0);
  if (lines <= TOGETHER) return { whole: true, first: blocks.slice(0, at + 1).map((x) => block(x, width)), rest };
  const [head] = blocks;
  const titled = b.kind === 'table' && head.kind === 'heading';
  const before = blocks.slice(titled ? 1 : 0, at).map((x) => block(x, width));
  return { whole: false, first: before, rest: [titled ? table(b, width, head.text) : block(b, width), ...rest] };
}

function chapter(c: Chapter, k: number, wide: boolean, turned: boolean, [w, h]: readonly [number, number]): Content[] {
  const width = (wide ? h : w) - 2 * MARGIN;
  const all = sections(c.blocks).map((x) => section(x, width));
  const begins = wide !== turned || k === 0 || !all[0].whole;
  const title: Content = { text: `${k + 1}  ${c.title}`, style: 'chapter', tocItem: true, outline: true };
  const orientation = wide ? ('landscape' as const) : ('portrait' as const);
  return all.flatMap(({ whole, first, rest }, i): Content[] => {
    const stack = [...(i === 0 ? [title] : []), ...first];
    if (!stack.length) return rest;
    return [
      {
        stack,
        unbreakable: whole,
        ...(i === 0 && begins ? { pageBreak: 'before' as const, pageOrientation: orientation } : {}),
      },
      ...rest,
    ];
  });
}

/** The report as a document of pdfmake. */
export function pdfDefinition(report: Report, paper: Paper, date: Date): TDocumentDefinitions {
  const size = PAPERS[paper];
  const wide = report.chapters.map((c) => isWide(c, size[0] - 2 * MARGIN));
  const marks = report.marks.map(([label, value]) => `${label} ${value}`).join(' · ');
  return {
    pageSize: { width: size[0], height: size[1] },
    pageMargins: [MARGIN, 52, MARGIN, 46],
    info: { title: report.title, subject: 'Report', creator: 'Unirota', producer: 'Unirota', creationDate: date, modDate: date },
    defaultStyle: { font: CONDENSED, fontSize: 9.5, color: INK, lineHeight: 1.15 },
    styles: {
      chapter: { fontSize: 14, bold: true, margin: [0, 12, 0, 4] },
      heading: { fontSize: 10.5, bold: true, margin: [0, 8, 0, 1] },
    },
    header: (page: number): Content => (page === 1 ? '' : { text: runs(report.title), fontSize: 8, color: SOFT, margin: [MARGIN, 26, MARGIN, 0] }),
    footer: (page: number, of: number): Content => ({
      columns: [
        { text: runs(marks), alignment: 'left' },
        { text: `${page} / ${of}`, alignment: 'right', width: 60 },
      ],
      fontSize: 8,
      color: SOFT,
      margin: [MARGIN, 14, MARGIN, 0],
    }),
    content: [
      { text: runs(report.title), fontSize: 22, bold: true, margin: [0, 6, 0, 2] },
      { text: runs(marks), color: SOFT, margin: [0, 0, 0, 10] },
      ...(report.note ? [{ text: runs(report.note), margin: [0, 0, 0, 10] } as Content] : []),
      { ul: report.summary.map((text) => ({ text: runs(text) })), margin: [0, 0, 0, 14] },
      { toc: { title: { text: 'Contents', style: 'heading' }, outlines: false } },
      ...report.chapters.flatMap((c, k) => chapter(c, k, wide[k], k > 0 && wide[k - 1], size)),
    ],
  };
}

/** Writes a report as PDF. */
export const writePdf = (report: Report, { fonts, paper = 'A4', date }: PdfOptions): Promise<Uint8Array<ArrayBuffer>> =>
  written(pdfDefinition(report, paper, date), fonts);

const POINTS_A_MM = 72 / 25.4;

/** Writes a drawing as PDF in true size: lines as vectors, texts as such. */
export function writeSheetPdf(sheet: Sheet, { fonts, date }: Omit<PdfOptions, 'paper'>): Promise<Uint8Array<ArrayBuffer>> {
  const [width, height] = [sheet.width * POINTS_A_MM, sheet.height * POINTS_A_MM];
  return written(
    {
      pageSize: { width, height },
      pageMargins: 0,
      info: { title: sheet.title, subject: 'Drawing', creator: 'Unirota', producer: 'Unirota', creationDate: date, modDate: date },
      defaultStyle: { font: CONDENSED },
      content: [{ svg: lentSvg(writeSheetSvg(sheet).replace(/^<\?xml.*\?>\n/, '')), width, height }],
    },
    fonts,
  );
}

async function written(definition: TDocumentDefinitions, fonts: PdfFonts): Promise<Uint8Array<ArrayBuffer>> {
  const { default: pdfmake } = await import('pdfmake/build/pdfmake');
  const make = pdfmake as unknown as {
    virtualfs: { writeFileSync(name: string, bytes: Uint8Array): void };
    fonts: Record<string, Record<'normal' | 'bold' | 'italics' | 'bolditalics', string>>;
    createPdf(d: TDocumentDefinitions): { getBuffer(): Promise<Uint8Array> };
  };
  for (const [key, bytes] of Object.entries(fonts)) make.virtualfs.writeFileSync(`${key}.ttf`, bytes);
  const face = (normal: keyof PdfFonts, bold: keyof PdfFonts) => ({
    normal: `${normal}.ttf`,
    bold: `${bold}.ttf`,
    italics: `${normal}.ttf`,
    bolditalics: `${bold}.ttf`,
  });
  make.fonts = { [CONDENSED]: face('regular', 'bold'), [GREEK]: face('greek', 'greekBold') };
  return new Uint8Array(await make.createPdf(definition).getBuffer());
}
