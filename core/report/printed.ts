import type { Cell, Table } from '../tables/index';
import { heading } from '../tables/index';
import type { Units } from '../units/index';
import type { Block } from './report';

/** Digits of figures on paper. */
const DIGITS = 5;
/** Digits of sizes that parts are made by. */
const MADE_DIGITS = 6;

const cellText = (c: Cell, units: Units, digits = DIGITS): string => (c === undefined ? '' : typeof c === 'number' ? units.number(c, '', digits) : c);

/**
 * A table as it is printed; its figures are in the shown units already. Columns by their labels where not all are wanted; a
 * column of units goes behind the figures before it.
 */
export function printed(t: Table, units: Units, labels?: readonly string[]): Block {
  const kept = t.columns.map((_, k) => k).filter((k) => t.columns[k].label !== 'Unit' && (!labels || labels.includes(t.columns[k].label)));
  const unitOf = (k: number): number => {
    const { number, unit } = t.columns[k];
    return number && unit === undefined ? t.columns.findIndex((c, i) => i > k && c.label === 'Unit') : -1;
  };
  const text = (row: readonly Cell[], k: number): string => {
    const is = cellText(row[k], units);
    const unit = unitOf(k);
    return is && unit >= 0 && typeof row[k] === 'number' && row[unit] ? `${is} ${row[unit]}` : is;
  };
  const total = kept.map((k, i) => {
    if (t.columns[k].total) {
      return cellText(
        t.rows.reduce((s, r) => s + (typeof r[k] === 'number' ? r[k] : 0), 0),
        units,
      );
    }
    return i === 0 ? 'Total' : '';
  });
  return {
    kind: 'table',
    columns: kept.map((k) => ({ label: heading(t.columns[k]), ...(t.columns[k].number && { number: true as const }) })),
    rows: t.rows.map((r) => kept.map((k) => text(r, k))),
    ...(t.columns.some((c, k) => c.total && kept.includes(k)) && { total }),
  };
}

/** A table stood on its side: what was a heading begins a line, what was a line is a column; so many lines side by side. */
export function onSide(t: Table, units: Units, name: string, most = 4): Block[] {
  const at = t.columns.findIndex((c) => c.label === name);
  const out: Block[] = [];
  for (let from = 0; from < t.rows.length; from += most) {
    const some = t.rows.slice(from, from + most);
    const rows = t.columns.flatMap((c, k) => {
      if (k === at) return [];
      const cells = some.map((r) => cellText(r[k], units, MADE_DIGITS));
      return cells.some((x) => x !== '') ? [[heading(c), ...cells]] : [];
    });
    out.push({
      kind: 'table',
      columns: [{ label: name }, ...some.map((r) => ({ label: cellText(r[at], units), number: true as const }))],
      rows,
    });
  }
  return out;
}

/** Part of the greatest below which a component is rounding, and shown as nothing. */
const ROUNDING = 1e-9;

/** A vector's components; `most` is the greatest of those that they came from. */
export const components = (v: readonly number[], unit: string, units: Units, most = 0): string[] =>
  v.map((x) => units.number(Math.abs(x) < ROUNDING * most ? 0 : x, unit, 4));
