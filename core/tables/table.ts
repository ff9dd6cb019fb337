/** A column: what stands in it, in which unit; figures may be summed below it. */
export interface TableColumn {
  label: string;
  unit?: string;
  number?: true;
  total?: true;
}
/** What stands in a cell: a text, a figure in its column's unit, or nothing. */
export type Cell = string | number | undefined;

/** A table as it is handed on. */
export interface Table {
  key: string;
  title: string;
  columns: readonly TableColumn[];
  rows: readonly (readonly Cell[])[];
}

/** A heading with its unit, as a file has it. */
export const heading = ({ label, unit }: TableColumn): string => (unit ? `${label}, ${unit}` : label);
