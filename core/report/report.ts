/** A cell of a report's table: its text as printed. */
export interface ReportColumn {
  label: string;
  number?: true;
}

/** What a chapter is made of, top to bottom. */
export type Block =
  | { kind: 'text'; text: string; soft?: true }
  | { kind: 'heading'; text: string }
  | { kind: 'list'; lines: readonly { mark: string; text: string; more?: string }[] }
  | {
      kind: 'table';
      columns: readonly ReportColumn[];
      rows: readonly (readonly string[])[];
      /** Sums below the columns. */
      total?: readonly string[];
    }
  /** A drawing, SVG; its size in its own units. */
  | { kind: 'drawing'; svg: string; width: number; height: number };

/** A chapter that can be chosen. */
export interface Chapter {
  key: ChapterKey;
  title: string;
  blocks: Block[];
}

/** Chapters in the order in which they stand; each may be left out. */
export const CHAPTERS = [
  ['duty', 'Duty and wanted outputs'],
  ['map', 'Train map'],
  ['ratios', 'Ratios'],
  ['ledger', 'Ledger'],
  ['couplings', 'Meshes, belts and screws'],
  ['gears', 'Gear data'],
  ['rating', 'Rating'],
  ['findings', 'Findings'],
  ['travel', 'Required input over the travel'],
  ['runs', 'Runs'],
  ['reactions', 'Joint reactions and bearings'],
  ['sheets', 'Load sheets'],
  ['shafts', 'Shaft diagrams'],
  ['masses', 'Masses and parts'],
] as const;
/** The key of a chapter. */
export type ChapterKey = (typeof CHAPTERS)[number][0];
/** All of them, in order. */
export const CHAPTER_KEYS: readonly ChapterKey[] = CHAPTERS.map(([key]) => key);

/** A design on paper: nothing but texts and drawings, in the units of the design. */
export interface Report {
  title: string;
  /** Revision, date and what else tells this report from another. */
  marks: readonly (readonly [label: string, value: string])[];
  /** What the designer wrote of it. */
  note?: string;
  /** What it comes to, in a few lines. */
  summary: readonly string[];
  chapters: readonly Chapter[];
}
