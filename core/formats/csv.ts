import Papa from 'papaparse';

/** How numbers stand in a text: what is between them, and how their decimals are written. */
export interface Dialect {
  separator: ',' | ';' | 'tab';
  decimal: 'point' | 'comma';
}
/** A table read from text, with the dialect it was read in; or what is wrong and in which line. */
export type TableRead = { rows: number[][]; dialect: Dialect; problem?: undefined } | { problem: string; rows?: undefined };

const MOST_ROWS = 10_000;
/** Lines in which the separator is looked for. */
const SAMPLE = 20;

/** A dialect in words, for saying how a text was read. */
export const dialectText = ({ separator, decimal }: Dialect): string =>
  `${separator === ',' ? 'commas' : separator === ';' ? 'semicolons' : 'tabs'} between, decimal ${decimal}`;

/** The separator of a text: semicolons before tabs before commas, as neither of the first two stands in a number. */
export function separatorOf(lines: readonly string[]): Dialect['separator'] {
  const sample = lines.slice(0, SAMPLE).join('\n');
  return sample.includes(';') ? ';' : sample.includes('\t') ? 'tab' : ',';
}

/** How decimals are written in the cells of a text; or, where neither a point nor a comma fits all of them, that. */
export function dialectOf(separator: Dialect['separator'], cells: readonly string[]): Dialect | { problem: string } {
  const digits = cells.filter((c) => /\d/.test(c) && /^[\s\d.,eE+\-−–]*$/.test(c));
  const [points, commas] = ['.', ','].map((mark) => digits.some((c) => c.includes(mark)));
  if (separator !== ',' && points && commas) {
    return { problem: 'some numbers have a decimal point and others a decimal comma: write all of them one way' };
  }
  return { separator, decimal: separator !== ',' && commas ? 'comma' : 'point' };
}

/** A number as people and instruments write it, with a minus of any sort, or undefined. Digits in groups are not guessed at. */
export function numberIn(cell: string, decimal: Dialect['decimal']): number | undefined {
  const text = cell.trim().replace(/^[−–]/, '-');
  const other = decimal === 'comma' ? '.' : ',';
  if (text === '' || text.includes(other)) return undefined;
  const plain = decimal === 'comma' ? text.replace(',', '.') : text;
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(plain) ? Number(plain) : undefined;
}

/**
 * Reads a table of numbers (RFC 4180, and with semicolons or tabs). The separator is found from the
 * first lines; with commas between, decimals have a point; otherwise they have what the text has, and
 * a text that has both is not read. A heading of words is passed over, and so are empty lines. A line
 * with too few or too many cells is wrong: a comma in the wrong place would make two numbers of one.
 */
export function readTable(text: string, columns: number, dialect?: Dialect): TableRead {
  const plain = text.replace(/^\uFEFF/, '');
  const lines = plain.split(/\r\n|\r|\n/);
  const separator = dialect?.separator ?? separatorOf(lines);
  const parsed = Papa.parse<string[]>(plain, { delimiter: separator === 'tab' ? '\t' : separator, skipEmptyLines: false });
  const cells = parsed.data.map((r, k) => ({ line: k + 1, cells: r.map((c) => c.trim()) })).filter((r) => r.cells.some((c) => c !== ''));
  const found =
    dialect ??
    dialectOf(
      separator,
      cells.flatMap((r) => r.cells),
    );
  if ('problem' in found) return found;
  const { decimal } = found;
  const between = separator === 'tab' ? 'tabs' : `“${separator}”`;
  const rows: number[][] = [];
  for (const { line, cells: row } of cells) {
    // Empty cells at the end of a line are what spreadsheets leave there.
    let count = row.length;
    while (count > columns && row[count - 1] === '') count--;
    const numbers = row.slice(0, count).map((c) => numberIn(c, decimal));
    if (!rows.length && numbers.every((n) => n === undefined)) continue;
    if (count !== columns) return { problem: `line ${line} has ${count} values where ${columns} are needed, with ${between} between them` };
    const bad = numbers.findIndex((n) => n === undefined);
    if (bad >= 0) {
      return {
        problem: `line ${line} needs ${columns} numbers, with ${between} between them and a decimal ${decimal}: “${row[bad].slice(0, 40)}” is none`,
      };
    }
    rows.push(numbers.map((n) => n ?? 0));
    if (rows.length > MOST_ROWS) return { problem: `the table has more than ${MOST_ROWS} rows` };
  }
  return rows.length ? { rows, dialect: { separator, decimal } } : { problem: 'there are no numbers in this text' };
}

/** What a spreadsheet takes for a formula, or may once it has dropped what is before it. */
const FORMULA = /^[=+\-@\t\r\n]/;

/**
 * Comma separated text of a table (RFC 4180). Texts that a spreadsheet would
 * take for a formula get an apostrophe before them; numbers stay numbers.
 */
export const writeTable = (heading: readonly string[], rows: readonly (readonly (string | number)[])[]): string =>
  Papa.unparse(
    [heading, ...rows].map((r) => r.map((c) => (typeof c === 'number' && !Number.isFinite(c) ? '' : c))),
    {
      escapeFormulae: FORMULA,
      newline: '\r\n',
    },
  ) + '\r\n';
