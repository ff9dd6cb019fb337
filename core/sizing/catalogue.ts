import { DIAMETRAL } from '../edits/inch';

/** A size offered at a field: the value in the document's unit, and what to call it. Other values may be typed all the same. */
export interface Offer {
  /** A number, or an exact fraction in quotes where it is none: "25.4/12". */
  value: number | string;
  label: string;
}

/** Modules, mm: ISO 54:1996, series I (values from memory). */
export const ISO_54 = [1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 16, 20, 25, 32, 40, 50];
/** Series II, to be avoided where series I will do; 6.5 most of all. */
export const ISO_54_II = [1.125, 1.375, 1.75, 2.25, 2.75, 3.5, 4.5, 5.5, 6.5, 7, 9, 11, 14, 18, 22, 28, 36, 45];
/** Below a module of 1 the standard has none; these are common practice. */
const FINE = [0.2, 0.25, 0.3, 0.4, 0.5, 0.6, 0.8];
/** Timing belt pitches, mm: ISO 5296 (inch pitches), ISO 17396 (metric); from memory. */
const TIMING: readonly [number, string][] = [
  [2, '2 mm curved'],
  [2.032, 'MXL'],
  [2.5, 'T2.5'],
  [3, '3 mm curved'],
  [5, '5 mm, T5, curved'],
  [5.08, 'XL'],
  [8, '8 mm curved'],
  [9.525, 'L'],
  [10, 'T10'],
  [12.7, 'H'],
  [14, '14 mm curved'],
  [20, 'T20'],
  [22.225, 'XH'],
];
/** Roller chains, pitch mm: ISO 606 (from memory). */
const CHAINS: readonly [number, string][] = [
  [6.35, '04C'],
  [8, '05B'],
  [9.525, '06B'],
  [12.7, '08B'],
  [15.875, '10B'],
  [19.05, '12B'],
  [25.4, '16B'],
  [31.75, '20B'],
  [38.1, '24B'],
  [44.45, '28B'],
  [50.8, '32B'],
  [63.5, '40B'],
  [76.2, '48B'],
];
/** V-belt sections: least pitch diameter, mm, and width of the pulley's groove: ISO 4183 and 4184 (from memory). */
const SECTIONS: readonly [string, number][] = [
  ['Z, SPZ', 63],
  ['A, SPA', 90],
  ['B, SPB', 140],
  ['C, SPC', 224],
];
/** Preferred pulley diameters, mm: ISO 4183, R20 series (from memory). */
const PULLEYS = [63, 71, 80, 90, 100, 112, 125, 140, 160, 180, 200, 224, 250, 280, 315, 355, 400, 450, 500, 560, 630];
/** Trapezoidal threads, nominal diameter and pitch, mm: ISO 2904, preferred pairs. */
export const ISO_2904: readonly [number, number][] = [
  [8, 1.5],
  [10, 2],
  [12, 3],
  [16, 4],
  [20, 4],
  [24, 5],
  [28, 5],
  [32, 6],
  [36, 6],
  [40, 7],
  [44, 7],
  [48, 8],
  [52, 8],
  [60, 9],
  [70, 10],
  [80, 10],
];
/** Metric threads, nominal diameter and coarse pitch, mm: ISO 261, first choice (from memory). */
export const ISO_261: readonly [number, number][] = [
  [3, 0.5],
  [4, 0.7],
  [5, 0.8],
  [6, 1],
  [8, 1.25],
  [10, 1.5],
  [12, 1.75],
  [16, 2],
  [20, 2.5],
  [24, 3],
  [30, 3.5],
  [36, 4],
  [42, 4.5],
  [48, 5],
  [56, 5.5],
  [64, 6],
];
/** Ball screws, nominal leads, mm: ISO 3408-2 (from memory). */
const BALL_LEADS = [1, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 16, 20, 25, 32, 40];

/** A length as a design writes it. */
const length = (mm: number, inch: boolean): string => (inch ? `${Number((mm / 25.4).toPrecision(5))} in` : `${mm} mm`);
const plain = (values: readonly number[], inch: boolean): Offer[] => values.map((value) => ({ value, label: length(value, inch) }));

/** Standard threads of a form, and how they are written; a square thread has no standard, ball screws have their own. */
const threadsOf = (form: unknown): readonly [readonly (readonly [number, number])[], string] =>
  form === 'metric' ? [ISO_261, 'M'] : form === 'square' || form === 'ball' ? [[], ''] : [ISO_2904, 'Tr'];

/**
 * Standard sizes for a field of an element (or of a stage), or none. `item` is the
 * element as stated so far; those of an inch design are written, and begin, in inches.
 */
export function offersFor(type: string, key: string, item: Readonly<Record<string, unknown>> = {}, inch = false): Offer[] {
  if (key === 'module') {
    const pitches = DIAMETRAL.map((p) => ({ value: `25.4/${p}`, label: `${p} 1/in (diametral pitch)` }));
    return [
      ...(inch ? pitches : []),
      ...ISO_54.map((value) => ({ value, label: `${value} mm, ISO 54 series I` })),
      ...ISO_54_II.map((value) => ({ value, label: `${value} mm, ISO 54 series II` })),
      ...FINE.map((value) => ({ value, label: `${value} mm, fine` })),
      ...(inch ? [] : pitches),
    ];
  }
  if (key === 'pressureAngle') return [20, 14.5, 25, 22.5].map((value) => ({ value, label: value === 20 ? '20° (ISO 53)' : `${value}°` }));
  const form = item['form'];
  if (key === 'pitch' && (form === 'toothed' || type === 'toothed-belt')) {
    return TIMING.map(([value, n]) => ({ value, label: `${length(value, inch)}, ${n}` }));
  }
  if (key === 'pitch' && (form === 'sprocket' || type === 'chain')) {
    return CHAINS.map(([value, n]) => ({ value, label: `${length(value, inch)}, ${n}` }));
  }
  if (key === 'pitch' && type === 'screw') {
    if (form === 'ball') return plain(BALL_LEADS, inch);
    const [threads, sign] = threadsOf(form);
    const d = Number(item['diameter']);
    const own = threads.filter(([x]) => x === d);
    return (own.length ? own : threads)
      .map(([x, value]) => ({ value, label: `${length(value, inch)}, ${sign} ${x}×${value}` }))
      .filter((o, i, l) => l.findIndex((p) => p.value === o.value) === i);
  }
  if (key === 'diameter' && type === 'screw') {
    const [threads, sign] = threadsOf(form);
    return threads.map(([value, p]) => ({ value, label: `${length(value, inch)}, ${sign} ${value}×${p}` }));
  }
  if ((key === 'diameter' && type === 'pulley') || ((key === 'd1' || key === 'd2') && (type === 'v-belt' || type === 'flat-belt'))) {
    return PULLEYS.map((value) => {
      const suits = SECTIONS.filter(([, least]) => value >= least).map(([s]) => s);
      // Sections are of V-belts: a flat pulley has none.
      return {
        value,
        label: `${length(value, inch)}${suits.length && (type === 'v-belt' || form === 'v') ? `, ${suits[suits.length - 1]} and below` : ''}`,
      };
    });
  }
  return [];
}
