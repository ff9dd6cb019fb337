import { type Design } from '../core/document/index';
import { analyse, heading, tablesOf } from '../core/engine';
import { writeTable } from '../core/formats/index';
import { writeXlsx } from '../core/formats/xlsx';
import { Refused, writeTo } from './files';

/** Writes the tables of a design by the extension of a file; gives the files written. */
export async function writeTables(design: Design, path: string): Promise<string[]> {
  const tables = tablesOf(analyse(design));
  if (!tables.length) throw new Refused('The design has nothing that a table could list.');
  if (/\.xlsx$/i.test(path)) {
    writeTo(path, await writeXlsx(design.name, tables));
    return [path];
  }
  if (!/\.csv$/i.test(path)) throw new Refused(`${path}: the extension must be xlsx or csv.`);
  return tables.map((t) => {
    const file = `${path.slice(0, -4)} ${t.key}.csv`;
    writeTo(
      file,
      writeTable(
        t.columns.map(heading),
        t.rows.map((r) => r.map((c) => c ?? '')),
      ),
    );
    return file;
  });
}
