import { expose, transfer } from 'comlink';
import {
  type CheckLine,
  type PartLine,
  type Rating,
  type RatingFix,
  type ReportOptions,
  type Table,
  analyse,
  checklistOf,
  ratingFixes,
  ratingSizes,
  ratingOf,
  reportOf,
  tablesOf,
  variantTable,
} from '@unirota/core';
import type { Design, Id } from '@unirota/core/document';
import type { Paper } from '@unirota/core/pdf';
import { holdContents } from './held-contents';
import { fontsFrom } from './typefaces';

/** How a report is asked for. */
export interface ReportRequest extends ReportOptions {
  readonly paper: Paper;
  /** ms since 1970 */
  readonly date: number;
  /** Where the typefaces are, by their files' names. */
  readonly fonts: string;
}

const api = {
  /** All tables of a design as one file. */
  async tables(design: Design): Promise<Uint8Array<ArrayBuffer>> {
    await holdContents(design);
    const { writeXlsx } = await import('@unirota/core/xlsx');
    return writeXlsx(design.name, tablesOf(analyse(design)));
  },

  /** What teeth, shafts, bearings and screws bear in all load cases. */
  async rating(design: Design): Promise<Rating> {
    await holdContents(design);
    return ratingOf(design);
  },
  /** Changes with which a mesh, a shaft or a screw that fails bears what is wanted. */
  async ratingFixes(design: Design, item: Id): Promise<RatingFix[]> {
    await holdContents(design);
    return ratingFixes(design, item);
  },
  /** What would do in place of a mesh that bears more than is wanted. */
  async ratingSizes(design: Design, coupling: Id): Promise<RatingFix[]> {
    await holdContents(design);
    return ratingSizes(design, coupling);
  },

  /** Base and variants side by side. */
  async variants(design: Design): Promise<Table> {
    await holdContents(design);
    return variantTable(design);
  },

  /** What a workbook says of parts and members. Throws, in a sentence, where it cannot be read. */
  async partsOf(bytes: Uint8Array): Promise<PartLine[]> {
    const { readPartsBook } = await import('@unirota/core/xlsx');
    return readPartsBook(bytes);
  },

  /** What a release asks for, and the free coordinates of the home position. */
  async checklist(design: Design): Promise<{ lines: CheckLine[]; home: Float64Array }> {
    await holdContents(design);
    const worked = analyse(design);
    return { lines: checklistOf(worked), home: Float64Array.from(worked.pose.u) };
  },

  /** Files and what is said of them as one zip. */
  async zip(entries: Record<string, Uint8Array>): Promise<Uint8Array<ArrayBuffer>> {
    const { zipSync } = await import('fflate');
    const bytes = zipSync(entries, { level: 6 }) as Uint8Array<ArrayBuffer>;
    return transfer(bytes, [bytes.buffer]);
  },

  /** The report of a design as PDF. */
  async report(design: Design, { paper, date, fonts: folder, ...options }: ReportRequest): Promise<Uint8Array<ArrayBuffer>> {
    const [{ writePdf, PDF_FONTS }] = await Promise.all([import('@unirota/core/pdf'), holdContents(design)]);
    const faces = await fontsFrom(folder, PDF_FONTS);
    const bytes = await writePdf(reportOf(design, options), { fonts: faces, paper, date: new Date(date) });
    return transfer(bytes, [bytes.buffer]);
  },
};
export type PapersApi = typeof api;
expose(api);
