import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { type ChapterKey, reportOf } from '../core/engine';
import type { Design } from '../core/document/index';
import { PDF_FONTS, type Paper, type PdfFonts, writePdf } from '../core/formats/pdf';
import { Refused, writeTo } from './files';

/** The typefaces from their packages. */
const fontsHere = (): PdfFonts => {
  const { resolve } = createRequire(import.meta.url);
  const bytes = (key: keyof PdfFonts): Uint8Array => readFileSync(resolve(PDF_FONTS[key]));
  return { regular: bytes('regular'), bold: bytes('bold'), greek: bytes('greek'), greekBold: bytes('greekBold') };
};

/** Writes the report of a design as PDF. */
export async function writeReport(
  design: Design,
  path: string,
  o: { chapters?: readonly ChapterKey[]; paper?: Paper; revision?: string },
  date: Date,
): Promise<void> {
  if (!/\.pdf$/i.test(path)) throw new Refused(`${path}: the extension must be pdf.`);
  const marks: [string, string][] = [
    ...(o.revision ? [['Revision', o.revision] as [string, string]] : []),
    ['Date', date.toISOString().slice(0, 10)],
  ];
  writeTo(path, await writePdf(reportOf(design, { chapters: o.chapters, marks }), { fonts: fontsHere(), paper: o.paper, date }));
}
