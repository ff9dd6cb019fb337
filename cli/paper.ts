import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { type ChapterKey, type Compiled, analyse, newDrawing, reportOf } from '../core/engine';
import type { Design, KeptDrawing } from '../core/document/index';
import { writeSheetDxf, writeSheetSvg } from '../core/formats/geometry';
import { PDF_FONTS, type Paper, type PdfFonts, writePdf, writeSheetPdf } from '../core/formats/pdf';
import { CannotBeMade, drawingOf } from '../solids/index';
import { kernel, membersOf } from './convert';
import { type Input, Refused, writeTo } from './files';

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

/** What is asked of a drawing. */
export interface DrawingOptions {
  drawing?: string;
  member?: string;
  trainMap?: boolean;
  revision?: string;
}

/** The drawing that is asked for: one of the design's own, or one that it could have. */
function drawingIn(compiled: Compiled, { drawing, member, trainMap }: DrawingOptions): KeptDrawing {
  const { design } = compiled;
  if ([drawing, member, trainMap].filter((x) => x !== undefined).length > 1) {
    throw new Refused('State a drawing, a member or the train map: one of them.');
  }
  const kept = design.drawings ?? [];
  if (drawing !== undefined) {
    const found = kept.find((x) => x.id === drawing || x.name === drawing);
    if (!found) throw new Refused(`There is no drawing ${drawing}.${kept.length ? ` There are: ${kept.map((x) => x.name).join(', ')}.` : ''}`);
    return found;
  }
  if (trainMap) return { ...newDrawing(compiled), id: 'drawing', name: 'Train map', shows: 'train map' };
  if (member !== undefined) return { ...newDrawing(compiled, membersOf(design, [member])[0]), id: 'drawing' };
  return kept.at(0) ?? { ...newDrawing(compiled), id: 'drawing' };
}

/** Writes a drawing by the extension of its file; gives what it leaves out, in sentences. */
export async function writeDrawing({ design, shapes }: Input, path: string, o: DrawingOptions, date: Date): Promise<readonly string[]> {
  const format = /\.(svg|pdf|dxf)$/i.exec(path)?.[1].toLowerCase();
  if (!format) throw new Refused(`${path}: the extension must be svg, pdf or dxf.`);
  const worked = analyse(design);
  const drawing = drawingIn(worked.compiled, o);
  try {
    const { sheet, notes } = await drawingOf(
      worked,
      drawing,
      kernel,
      { revision: o.revision ?? '', date: date.toISOString().slice(0, 10), by: '' },
      shapes,
    );
    writeTo(
      path,
      format === 'svg' ? writeSheetSvg(sheet) : format === 'dxf' ? writeSheetDxf(sheet) : await writeSheetPdf(sheet, { fonts: fontsHere(), date }),
    );
    return notes;
  } catch (e) {
    throw e instanceof CannotBeMade ? new Refused(e.message) : e;
  }
}
