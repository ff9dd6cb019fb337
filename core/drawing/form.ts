import type { Design, KeptDrawing } from '../fields/types';
import type { Point } from '../solids/index';
import { type Mark, box, ring, stroke, text, textWidth } from './marks';

/** Papers of ISO 216, mm: A4 upright, the others lying (ISO 5457). */
export const PAPER_SIZES = { A4: [210, 297], A3: [420, 297], A2: [594, 420], A1: [841, 594] } as const;
/** The name of a paper. */
export type PaperSize = keyof typeof PAPER_SIZES;

/** Margins of ISO 5457, mm: at the left for filing. */
const MARGIN = 10,
  FILING = 20;
/** Title block of ISO 7200, mm. */
const TITLE = [180, 36] as const;

/** What is stated in the title block beside the drawing's own fields. */
export interface TitleData {
  revision: string;
  date: string;
  by: string;
}

/** A part of a sheet that is free for views, mm: x, y of its lower left corner, width, height. */
export interface Area {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Gear data: a row's heading and its figures, a column a wheel. */
export interface GearTable {
  heads: readonly string[];
  rows: readonly (readonly string[])[];
}
const ROW = 4.2,
  HEAD = 42,
  COLUMN = 30,
  LETTERS = 2.5;
const tableWidth = (t: GearTable): number => HEAD + COLUMN * t.heads.length;
/** A text in lines no wider than a column of figures, by its words. */
function linesOf(written: string): string[] {
  const out: string[] = [];
  for (const word of written.split(' ')) {
    const longer = out.length ? `${out[out.length - 1]} ${word}` : word;
    if (out.length && textWidth(longer, LETTERS) <= COLUMN - 2) out[out.length - 1] = longer;
    else out.push(word);
  }
  return out;
}
const rowLines = ([, ...values]: readonly string[]): number => Math.max(1, ...values.map((v) => linesOf(v).length));
const tableHeight = (t: GearTable): number => ROW * t.rows.reduce((n, r) => n + rowLines(r), 1);

/** How far a mark at the middle of a side reaches into the area, mm. */
const CENTRING = 5;
/** The upper left corner of a table, mm: in the upper right one of the border, clear of the marks at the middles of the sides. */
function cornerOf(paper: PaperSize, t: GearTable): { x: number; top: number } {
  const [w, h] = PAPER_SIZES[paper];
  const [width, height] = [tableWidth(t), tableHeight(t)];
  const past = (reach: number, side: number): number => (MARGIN + reach > side / 2 - CENTRING - 1 ? CENTRING + 1 : 0);
  return { x: w - MARGIN - width - past(height, h), top: h - MARGIN - past(width, w) };
}

/** How many wheels a table can have beside each other on a paper. */
export const mostWheels = (paper: PaperSize): number => (paper === 'A4' ? 4 : paper === 'A3' ? 5 : 8);

/** The area for views on a paper: all that border, title block and table leave. */
export function areaOf(paper: PaperSize, table?: GearTable): Area {
  const [w, h] = PAPER_SIZES[paper];
  const [x, y] = [FILING + 4, MARGIN + TITLE[1] + 5];
  const [right, top] = [w - MARGIN - 4, h - MARGIN - 4];
  if (!table) return { x, y, width: right - x, height: top - y };
  const corner = cornerOf(paper, table);
  // Beside the views where the paper lies, above them where it stands.
  return paper === 'A4'
    ? { x, y, width: right - x, height: corner.top - tableHeight(table) - 8 - y }
    : { x, y, width: corner.x - 10 - x, height: top - y };
}

/** A text no longer than a width, with … where it was cut; what was cut is put with the others. */
function fitted(written: string, height: number, width: number, cut: string[]): string {
  if (textWidth(written, height) <= width) return written;
  cut.push(written);
  const letters = Math.floor((width * written.length) / textWidth(written, height));
  return `${written.slice(0, Math.max(1, letters - 1))}…`;
}

/** The symbol of the method of projection (ISO 5456-2): a cone cut off, its small end at the left, and it seen from there. */
function symbolOf(third: boolean, [x, y]: Point): Mark[] {
  const cone = (at: number): Mark[] => [
    stroke('visible', [at - 5, y - 1.5], [at + 5, y - 3], [at + 5, y + 3], [at - 5, y + 1.5], [at - 5, y - 1.5]),
    stroke('axis', [at - 7, y], [at + 7, y]),
  ];
  const end = (at: number): Mark[] => [
    ring('visible', [at, y], 3),
    ring('visible', [at, y], 1.5),
    stroke('axis', [at - 4.5, y], [at + 4.5, y]),
    stroke('axis', [at, y - 4.5], [at, y + 4.5]),
  ];
  // The view from the left stands at the right in the first angle, at the left in the third.
  return third ? [...end(x - 7), ...cone(x + 5)] : [...cone(x - 5), ...end(x + 7)];
}

/** Border, title block and table of a sheet; and the texts that were too long for their places. */
export function formOf(
  design: Design,
  d: KeptDrawing,
  title: TitleData,
  o: { scale: string; kind: string; material: string; unit: string; third: boolean; symbol: boolean; table?: GearTable },
): { marks: Mark[]; cut: string[] } {
  const cut: string[] = [];
  const paper = d.paper ?? 'A3';
  const [w, h] = PAPER_SIZES[paper];
  const out: Mark[] = [box('border', FILING, MARGIN, w - MARGIN, h - MARGIN)];
  // Marks at the middle of each side (ISO 5457), for copying.
  out.push(
    stroke('border', [w / 2, 0], [w / 2, MARGIN + CENTRING]),
    stroke('border', [w / 2, h], [w / 2, h - MARGIN - CENTRING]),
    stroke('border', [0, h / 2], [FILING + CENTRING, h / 2]),
    stroke('border', [w, h / 2], [w - MARGIN - CENTRING, h / 2]),
  );
  const [x0, y0] = [w - MARGIN - TITLE[0], MARGIN];
  const cells: [x: number, y: number, width: number, height: number, label: string, value: string, size?: number][] = [
    [0, 24, 36, 12, 'Drawn by', d.creator ?? title.by],
    [36, 24, 36, 12, 'Approved by', d.approved ?? ''],
    [72, 24, 44, 12, 'Document type', o.kind],
    [116, 24, 36, 12, 'Material', o.material],
    [152, 24, 28, 12, '', ''],
    [0, 12, 60, 12, 'Owner', d.owner ?? ''],
    [60, 12, 120, 12, 'Title', `${design.name}: ${d.name}`, 4.2],
    [0, 0, 49, 12, 'Drawing number', d.number ?? ''],
    [49, 0, 33, 12, 'Revision', title.revision],
    [82, 0, 30, 12, 'Date of issue', d.date ?? title.date],
    [112, 0, 14, 12, 'Language', 'en'],
    [126, 0, 24, 12, 'Scale', o.scale],
    [150, 0, 16, 12, 'Unit', o.unit],
    [166, 0, 14, 12, 'Sheet', '1/1'],
  ];
  for (const [x, y, cw, ch, label, value, size = 3.5] of cells) {
    out.push(box('thin', x0 + x, y0 + y, x0 + x + cw, y0 + y + ch));
    if (label) out.push(text([x0 + x + 1.5, y0 + y + ch - 3.2], label, 2));
    if (value) out.push(text([x0 + x + 1.5, y0 + y + 2.6], fitted(value, size, cw - 3, cut), size, 'start', label === 'Title' ? { bold: true } : {}));
  }
  out.push(box('visible', x0, y0, x0 + TITLE[0], y0 + TITLE[1]));
  if (o.symbol) out.push(...symbolOf(o.third, [x0 + 166, y0 + 30]));
  if (o.table) out.push(...tableMarks(o.table, cornerOf(paper, o.table), cut));
  return { marks: out, cut };
}

function tableMarks(t: GearTable, { x, top }: { x: number; top: number }, cut: string[]): Mark[] {
  const width = tableWidth(t),
    height = tableHeight(t);
  const out: Mark[] = [box('visible', x, top - height, x + width, top)];
  for (let k = 0; k < t.heads.length; k++) out.push(stroke('thin', [x + HEAD + COLUMN * k, top], [x + HEAD + COLUMN * k, top - height]));
  const y = (line: number): number => top - ROW * (line + 1) + 1;
  out.push(text([x + 1.2, y(0)], 'Gear data', LETTERS, 'start', { bold: true }));
  t.heads.forEach((head, k) =>
    out.push(text([x + HEAD + COLUMN * k + 1.2, y(0)], fitted(head, LETTERS, COLUMN - 2, cut), LETTERS, 'start', { bold: true })),
  );
  let line = 1;
  t.rows.forEach((row, k) => {
    const [label, ...values] = row;
    out.push(stroke(k === 0 ? 'visible' : 'thin', [x, top - ROW * line], [x + width, top - ROW * line]));
    out.push(text([x + 1.2, y(line)], fitted(label, LETTERS, HEAD - 2, cut), LETTERS));
    values.forEach((v, i) =>
      linesOf(v).forEach((part, n) => {
        const at = [x + HEAD + COLUMN * (i + 1) - 1.2, y(line + n)] as const;
        if (part) out.push(text(at, fitted(part, LETTERS, COLUMN - 2, cut), LETTERS, 'end'));
      }),
    );
    line += rowLines(row);
  });
  return out;
}
