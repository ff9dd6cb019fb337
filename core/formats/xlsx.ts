/**
 * XLSX (ISO/IEC 29500, written by exceljs): a sheet for each table, numbers as numbers, totals as formulas.
 * Texts are texts: none is taken for a formula.
 */
import { type Table, heading } from '../tables/index';

export { LARGEST_BOOK, readPartsBook } from './parts-book';

/** Digits that matter of a figure, as a number format. */
const format = (values: readonly unknown[]): string => {
  const most = Math.max(0, ...values.map((v) => (typeof v === 'number' && Number.isFinite(v) ? Math.abs(v) : 0)));
  return most >= 1000 ? '#,##0.0' : most >= 10 ? '0.00' : '0.0000';
};
/** Names of sheets take no more characters, and none of these. */
const sheetName = (title: string): string => title.replace(/[*?:\\/[\]]/g, ' ').slice(0, 31);

export async function writeXlsx(name: string, tables: readonly Table[]): Promise<Uint8Array<ArrayBuffer>> {
  const { default: Excel } = await import('exceljs');
  const book = new Excel.Workbook();
  book.title = name;
  // The same design gives the same file.
  book.created = book.modified = new Date(0);
  for (const t of tables) {
    const sheet = book.addWorksheet(sheetName(t.title), { views: [{ state: 'frozen', ySplit: 1 }] });
    sheet.columns = t.columns.map((c, k) => ({
      header: heading(c),
      width: Math.min(40, Math.max(10, heading(c).length + 2, ...t.rows.map((r) => (typeof r[k] === 'string' ? r[k].length + 2 : 0)))),
      ...(c.number && {
        style: { numFmt: t.rows.every((r) => r[k] === undefined || Number.isInteger(r[k])) ? '0' : format(t.rows.map((r) => r[k])) },
      }),
    }));
    sheet.getRow(1).font = { bold: true };
    for (const r of t.rows) sheet.addRow([...r]);
    if (t.columns.some((c) => c.total)) {
      const last = t.rows.length + 1;
      const sum = t.columns.map((c, k) => {
        if (!c.total) return k === 0 ? 'Total' : undefined;
        const letter = sheet.getColumn(k + 1).letter;
        return { formula: `SUM(${letter}2:${letter}${last})`, result: t.rows.reduce((s, r) => s + (typeof r[k] === 'number' ? r[k] : 0), 0) };
      });
      sheet.addRow(sum).font = { bold: true };
    }
  }
  return new Uint8Array(await book.xlsx.writeBuffer());
}
