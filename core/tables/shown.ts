import type { Units } from '../units/index';
import type { Cell, Table, TableColumn } from './table';

/** A figure without a unit in its heading has that of the next column of units in its row, if there is one. */
const unitColumn = (columns: readonly TableColumn[], k: number): number => {
  if (!columns[k].number || columns[k].unit !== undefined) return -1;
  return columns.findIndex((c, i) => i > k && c.label === 'Unit');
};

/** A table in the units of a design: figures with their headings, and with the units that stand beside them. */
export function shownIn(t: Table, units: Units): Table {
  const at = t.columns.map((_, k) => unitColumn(t.columns, k));
  return {
    ...t,
    columns: t.columns.map((c) => (c.unit === undefined ? c : { ...c, unit: units.of(c.unit) })),
    rows: t.rows.map((row) =>
      row.map((cell, k): Cell => {
        if (t.columns[k].label === 'Unit' && typeof cell === 'string') return units.of(cell);
        const unit = t.columns[k].unit ?? (at[k] >= 0 ? row[at[k]] : undefined);
        return typeof cell === 'number' && typeof unit === 'string' ? units.shown(cell, unit) : cell;
      }),
    ),
  };
}
