/** Names, materials, costs and notes read back from a workbook of tables (XLSX, ISO/IEC 29500, read by exceljs). */
import type { CellValue } from 'exceljs';
import type { PartLine } from '../edits/index';
import { ID_COLUMN } from '../tables/index';
import { CannotRead } from './refused';
import { isZip, unzipped } from './unzip';

/** Bytes of a workbook at most, as it is and unpacked; lines that are read. */
export const LARGEST_BOOK = 16 * 1024 * 1024;
const LARGEST_UNPACKED_BOOK = 96 * 1024 * 1024,
  MOST_LINES = 50_000;

/** Columns by their headings, and what they are read as. */
const COLUMNS: Readonly<Record<string, 'name' | 'material' | 'cost' | 'note'>> = {
  Part: 'name',
  Member: 'name',
  Material: 'material',
  Cost: 'cost',
  Note: 'note',
};

/** What a cell says: of a formula its result, of a link or a rich text its words. Undefined of an error. */
function said(v: CellValue): string | number | undefined {
  if (v === null || v === undefined) return '';
  if (typeof v === 'string' || typeof v === 'number') return v;
  if (typeof v === 'boolean') return String(v);
  if (v instanceof Date) return v.toISOString().slice(0, 10);
  if ('richText' in v) return v.richText.map((t) => t.text).join('');
  if ('text' in v) return String(v.text);
  if ('result' in v) return said(v.result as CellValue);
  return undefined;
}

/**
 * The lines of a workbook's tables of parts and of members: those sheets that have a column of ids. Throws `CannotRead` where it
 * is no workbook, or has no such sheet.
 */
export async function readPartsBook(bytes: Uint8Array): Promise<PartLine[]> {
  if (bytes.length > LARGEST_BOOK) throw new CannotRead(`The file is larger than ${LARGEST_BOOK / 1024 / 1024} MiB.`);
  if (!isZip(bytes)) throw new CannotRead('This is no XLSX workbook: export the tables of the design as XLSX, and fill those in.');
  // Sizes are asked before anything is unpacked.
  unzipped(bytes, () => true, LARGEST_UNPACKED_BOOK);
  const { default: Excel } = await import('exceljs');
  const book = new Excel.Workbook();
  try {
    await book.xlsx.load(bytes.slice().buffer);
  } catch {
    throw new CannotRead('The workbook is damaged: it cannot be read.');
  }
  const out: PartLine[] = [];
  let tables = 0;
  for (const sheet of book.worksheets) {
    const heads = new Map<string, number>();
    sheet.getRow(1).eachCell((c, k) => {
      const head = said(c.value);
      // The first column of a name: “Member” in the list of parts says what a part is fastened to.
      if (typeof head === 'string' && !heads.has(head)) heads.set(head, k);
    });
    const id = heads.get(ID_COLUMN);
    if (id === undefined) continue;
    tables++;
    const name = heads.has('Part') ? 'Part' : 'Member';
    const columns = [...heads].filter(([head]) => COLUMNS[head] && (COLUMNS[head] !== 'name' || head === name));
    for (let r = 2; r <= sheet.rowCount; r++) {
      const row = sheet.getRow(r);
      const key = said(row.getCell(id).value);
      if (typeof key !== 'string' || key === '') continue;
      if (out.length >= MOST_LINES) throw new CannotRead(`The workbook has more than ${MOST_LINES} lines.`);
      const line: PartLine = { where: `${sheet.name}, row ${r}`, id: key };
      for (const [head, k] of columns) {
        const value = said(row.getCell(k).value);
        if (value === undefined) continue;
        const what = COLUMNS[head];
        if (what === 'cost') line.cost = value;
        else line[what] = String(value);
      }
      out.push(line);
    }
  }
  if (!tables) throw new CannotRead(`No sheet has the column “${ID_COLUMN}”: export the tables of the design as XLSX, and fill those in.`);
  return out;
}
