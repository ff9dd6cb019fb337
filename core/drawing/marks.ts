import { type Outline, type Point, circle, line } from '../solids/index';

/** Lines by what they show (ISO 128-2): thick where seen, dashed where hidden, chains for axes and pitch surfaces. */
export type LineKind = 'visible' | 'hidden' | 'axis' | 'thin' | 'border';

/** Width of a line, mm, and its dashes and gaps, mm. Group 0.5 of ISO 128-2. */
export const LINES: Readonly<Record<LineKind, { width: number; dashes?: readonly number[] }>> = {
  visible: { width: 0.5 },
  hidden: { width: 0.25, dashes: [3, 0.75] },
  axis: { width: 0.25, dashes: [6, 0.75, 0.75, 0.75] },
  thin: { width: 0.25 },
  border: { width: 0.7 },
};
/** All of them, in the order in which they are drawn. */
export const LINE_KINDS = Object.keys(LINES) as readonly LineKind[];

/** A path on paper, mm: it need not be closed. */
export type Path = Outline;

/** A text on paper: where it stands, its height in mm, and by how much it is turned, deg counter-clockwise. */
export interface TextMark {
  kind: 'text';
  text: string;
  at: Point;
  height: number;
  anchor: 'start' | 'middle' | 'end';
  turn?: number;
  bold?: true;
}

/** What is drawn on a sheet, mm from its lower left corner, y upward. */
export type Mark = { kind: 'stroke'; line: LineKind; path: Path } | { kind: 'arrow'; tip: Point; along: Point } | TextMark;

/** Length and half the breadth of an arrowhead, mm. */
export const ARROW = [3, 0.5] as const;

/** A finished drawing. */
export interface Sheet {
  title: string;
  width: number;
  height: number;
  marks: readonly Mark[];
}

/** How wide a text is in the condensed face, mm: about. */
export const textWidth = (text: string, height: number): number => 0.62 * height * text.length;

/** Straight lines from point to point. */
export const through = (...[start, ...more]: readonly Point[]): Path => ({ start, pieces: more.map(line) });
export const drawn = (kind: LineKind, path: Path): Mark => ({ kind: 'stroke', line: kind, path });
export const stroke = (kind: LineKind, ...points: readonly Point[]): Mark => drawn(kind, through(...points));
export const box = (kind: LineKind, x0: number, y0: number, x1: number, y1: number): Mark =>
  stroke(kind, [x0, y0], [x1, y0], [x1, y1], [x0, y1], [x0, y0]);
export const text = (at: Point, written: string, height: number, anchor: TextMark['anchor'] = 'start', more: Partial<TextMark> = {}): TextMark => ({
  kind: 'text',
  text: written,
  at,
  height,
  anchor,
  ...more,
});
export const ring = (kind: LineKind, [x, y]: Point, r: number): Mark => drawn(kind, circle(r, x, y));
