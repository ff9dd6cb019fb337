/** A table read from comma, semicolon or tab separated text; or what is wrong and in which line. */
export type TableRead = { rows: number[][]; problem?: undefined } | { problem: string; rows?: undefined };

const MOST_ROWS = 10_000;

/**
 * Reads a table of numbers. The separator is found from the first lines; where it is a semicolon or a tab, a comma is a decimal comma. A heading
 * of words is passed over, and so are empty lines.
 */
export function readTable(text: string, columns: number): TableRead {
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
  const sample = lines.slice(0, 20).join('\n');
  const separator = sample.includes(';') ? ';' : sample.includes('\t') ? '\t' : ',';
  const rows: number[][] = [];
  for (const [k, line] of lines.entries()) {
    if (!line.trim()) continue;
    const cells = line.split(separator).map((c) => c.trim().replace(/^"|"$/g, ''));
    const numbers = cells.slice(0, columns).map((c) => (c === '' ? NaN : Number(separator === ',' ? c : c.replace(',', '.'))));
    if (cells.length < columns || numbers.some((n) => !Number.isFinite(n))) {
      if (!rows.length && cells.every((c) => !Number.isFinite(Number(c.replace(',', '.'))) || c === '')) continue;
      return { problem: `line ${k + 1} needs ${columns} numbers, with ${separator === '\t' ? 'tabs' : `“${separator}”`} between them` };
    }
    rows.push(numbers);
    if (rows.length > MOST_ROWS) return { problem: `the table has more than ${MOST_ROWS} rows` };
  }
  return rows.length ? { rows } : { problem: 'there are no numbers in this text' };
}

const cell = (v: string | number): string => {
  const s = String(v);
  return /[",\n\r]/.test(s) ? `"${s.replace(/"/g, '""')}"` : /^[=+@]/.test(s) ? `'${s}` : s;
};

/** Comma separated text of a table (RFC 4180). Texts that a spreadsheet would take for a formula are quoted. */
export const writeTable = (heading: readonly string[], rows: readonly (readonly (string | number)[])[]): string =>
  [heading, ...rows].map((r) => r.map(cell).join(',')).join('\r\n') + '\r\n';
