import { type ElementProblem, problem } from '../findings/index';
import type { Exact } from '../fields/types';
import { choiceField } from '../fields/fields';
import { type Outline, arc, circle, line, outline } from '../solids/index';

/** A keyway in a bore, mm: its width, and how far its flat lies from the axis of the bore. */
export interface Keyway {
  width: number;
  top: number;
}

/**
 * Parallel keys by the shaft's diameter (over, up to and counting), mm: width of the key, depth in the hub t2 over the bore's
 * own top, height of the key and depth in the shaft t1 (DIN 6885-1, ISO 773; from memory).
 */
const METRIC: readonly (readonly [upTo: number, width: number, inHub: number, height: number, inShaft: number])[] = [
  [8, 2, 1, 2, 1.2],
  [10, 3, 1.4, 3, 1.8],
  [12, 4, 1.8, 4, 2.5],
  [17, 5, 2.3, 5, 3],
  [22, 6, 2.8, 6, 3.5],
  [30, 8, 3.3, 7, 4],
  [38, 10, 3.3, 8, 5],
  [44, 12, 3.3, 8, 5],
  [50, 14, 3.8, 9, 5.5],
  [58, 16, 4.3, 10, 6],
  [65, 18, 4.4, 11, 7],
  [75, 20, 4.9, 12, 7.5],
  [85, 22, 5.4, 14, 9],
  [95, 25, 5.4, 14, 9],
  [110, 28, 6.4, 16, 10],
  [130, 32, 7.4, 18, 11],
  [150, 36, 8.4, 20, 12],
  [170, 40, 9.4, 22, 13],
  [200, 45, 10.4, 25, 15],
  [230, 50, 11.4, 28, 17],
];
/**
 * Square keys by the shaft's diameter, inches: half of the key stands in the hub, from the edge of the keyway (ANSI B17.1;
 * from memory).
 */
const INCH: readonly (readonly [upTo: number, key: number])[] = [
  [7 / 16, 3 / 32],
  [9 / 16, 1 / 8],
  [7 / 8, 3 / 16],
  [1.25, 1 / 4],
  [1.375, 5 / 16],
  [1.75, 3 / 8],
  [2.25, 1 / 2],
  [2.75, 5 / 8],
  [3.25, 3 / 4],
  [3.75, 7 / 8],
  [4.5, 1],
  [5.5, 1.25],
  [6.5, 1.5],
];
/** The smallest shafts that have one, mm. */
const LEAST = { 'DIN 6885': 6, 'ANSI B17.1': (5 / 16) * 25.4 } as const;

export const KEYWAY_FIELD = choiceField('keyway', 'Keyway', ['none', 'DIN 6885', 'ANSI B17.1'], {
  initial: 'none',
  rare: true,
  when: (e: { bore?: Exact; internal?: boolean }) => Number(e.bore ?? 0) !== 0 && !e.internal,
  help: 'In the bore, where its own x points; by the diameter of the bore.',
});
type Stated = 'none' | 'DIN 6885' | 'ANSI B17.1' | null | undefined;

/** The key of DIN 6885-1 on a shaft: its height and its depth in the shaft, mm; none beyond the table. */
export function parallelKey(diameter: number): { height: number; depth: number } | undefined {
  const row = diameter > LEAST['DIN 6885'] ? METRIC.find(([upTo]) => diameter <= upTo) : undefined;
  return row && { height: row[3], depth: row[4] };
}

/** The keyway of a bore of a diameter, mm; undefined where none is stated, or the table has none for it. */
export function keywayOf(kind: Stated, diameter: number): Keyway | undefined {
  if (!kind || kind === 'none' || !(diameter > LEAST[kind])) return undefined;
  if (kind === 'DIN 6885') {
    const row = METRIC.find(([upTo]) => diameter <= upTo);
    return row && { width: row[1], top: diameter / 2 + row[2] };
  }
  const row = INCH.find(([upTo]) => diameter <= upTo * 25.4 + 1e-9);
  if (!row) return undefined;
  const width = row[1] * 25.4;
  return { width, top: Math.sqrt((diameter / 2) ** 2 - (width / 2) ** 2) + width / 2 };
}

/** The outline of a bore of a radius, mm, with its keyway. */
export function boreOutline(radius: number, kind: Stated): Outline {
  const key = keywayOf(kind, 2 * radius);
  if (!key) return circle(radius);
  const half = key.width / 2;
  const angle = Math.asin(half / radius);
  const start = [radius * Math.cos(angle), half] as const;
  return outline(start, [arc(start, [0, 0], 2 * (Math.PI - angle)), line([key.top, -half]), line([key.top, half]), line(start)]);
}

/** What is wrong with a keyway: the table has none for the bore, or it leaves nothing of a body of a radius, mm. */
export function keywayProblems(kind: Stated, diameter: number, body: number): ElementProblem[] {
  if (!kind || kind === 'none' || !(diameter > 0)) return [];
  const key = keywayOf(kind, diameter);
  if (!key) return [problem('keyway-size', { bore: diameter, table: kind })];
  return key.top >= body
    ? [
        problem(
          'bore-too-large/body',
          { what: 'a keyway with its bore', size: Number((2 * key.top).toFixed(2)), most: Number((2 * body).toFixed(2)) },
          'keyway',
        ),
      ]
    : [];
}
