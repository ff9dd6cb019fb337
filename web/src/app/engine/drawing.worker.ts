import { expose, transfer } from 'comlink';
import { type Drawn, type Sheet, type TextMark, type TitleData, analyse } from '@unirota/core';
import type { Design, KeptDrawing } from '@unirota/core/document';
import { drawingOf, loadKernel, type DrawingFormat, type Kernel } from '@unirota/solids';
import { holdContents } from './held-contents';
import { fontsFrom } from './typefaces';

/**
 * A drawing as the page shows it: paths by kind of line, arrowheads, texts; what can be written on it, and where its bodies
 * are.
 */
export interface DrawingPicture extends Omit<Drawn, 'sheet'> {
  readonly width: number;
  readonly height: number;
  readonly lines: readonly { readonly kind: string; readonly d: string; readonly width: number; readonly dashes: string }[];
  readonly arrows: string;
  readonly texts: readonly TextMark[];
}

/** What is to be drawn. Two questions with the same number are the same. */
export interface DrawingQuestion {
  readonly number: number;
  readonly design: Design;
  readonly drawing: KeptDrawing;
  readonly title: TitleData;
  /** Where the geometry kernel's code is. */
  readonly kernel: string;
  readonly contents: ReadonlyMap<string, Uint8Array>;
}

let kernel: Promise<Kernel> | undefined;
let last: { number: number; drawn: Promise<Drawn> } | undefined;

async function draw({ design, drawing, title, kernel: address, contents }: DrawingQuestion): Promise<Drawn> {
  await holdContents(design);
  const { readShape } = await import('@unirota/core/geometry');
  const shapes = new Map([...contents].map(([hash, bytes]) => [hash, readShape(bytes, hash)]));
  const load = (): Promise<Kernel> => {
    kernel ??= loadKernel({ address });
    kernel.catch(() => (kernel = undefined));
    return kernel;
  };
  return drawingOf(analyse(design), drawing, load, title, shapes);
}
/** The drawing of a question; the last one is kept, so that its files need not be drawn again. */
function drawn(q: DrawingQuestion): Promise<Drawn> {
  if (last?.number !== q.number) last = { number: q.number, drawn: draw(q) };
  const { drawn: made } = last;
  made.catch(() => (last = undefined));
  return made;
}

async function fileOf(sheet: Sheet, format: DrawingFormat, fonts: string): Promise<Uint8Array> {
  if (format === 'pdf') {
    const { writeSheetPdf, PDF_FONTS } = await import('@unirota/core/pdf');
    return writeSheetPdf(sheet, { fonts: await fontsFrom(fonts, PDF_FONTS), date: new Date() });
  }
  const { writeSheetDxf, writeSheetSvg } = await import('@unirota/core/geometry');
  return new TextEncoder().encode(format === 'dxf' ? writeSheetDxf(sheet) : writeSheetSvg(sheet));
}

const api = {
  async picture(q: DrawingQuestion): Promise<DrawingPicture> {
    const { sheet, ...rest } = await drawn(q);
    const { sheetParts } = await import('@unirota/core/geometry');
    return {
      ...rest,
      width: sheet.width,
      height: sheet.height,
      ...sheetParts(sheet),
      texts: sheet.marks.filter((m) => m.kind === 'text'),
    };
  },

  /** The drawing as a file. `fonts` is where the typefaces are. */
  async file(q: DrawingQuestion, format: DrawingFormat, fonts: string): Promise<Uint8Array<ArrayBuffer>> {
    const bytes = (await fileOf((await drawn(q)).sheet, format, fonts)) as Uint8Array<ArrayBuffer>;
    return transfer(bytes, [bytes.buffer]);
  },
};
export type DrawingApi = typeof api;
expose(api);
