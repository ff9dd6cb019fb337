/** A size offered at a field: the value in the document's unit, and what to call it. Other values may be typed all the same. */
export interface Offer {
  value: number;
  label: string;
}

/** Modules, mm: ISO 54:1996, series I (values from memory). */
export const ISO_54 = [0.5, 0.6, 0.8, 1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10, 12, 16, 20, 25, 32, 40, 50];
/** Series II, to be avoided where series I will do. */
const ISO_54_II = [1.125, 1.375, 1.75, 2.25, 2.75, 3.5, 4.5, 5.5, 7, 9, 11, 14, 18];
/** Diametral pitches in common use, 1/in (common practice). */
const DIAMETRAL = [48, 32, 24, 20, 16, 12, 10, 8, 6, 5, 4, 3];
/** Timing belt pitches, mm: ISO 5296 (inch pitches), ISO 17396 (metric); from memory. */
const TIMING: readonly [number, string][] = [
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
/** Ball screws, nominal leads, mm: ISO 3408-2 (from memory). */
const BALL_LEADS = [2, 2.5, 4, 5, 6, 8, 10, 12, 16, 20, 25, 32, 40];

const plain = (values: readonly number[], unit: string): Offer[] => values.map((value) => ({ value, label: `${value}${unit}` }));

/** Standard sizes for a field of an element (or of a stage), or none. `item` is the element as stated so far. */
export function offersFor(type: string, key: string, item: Readonly<Record<string, unknown>> = {}): Offer[] {
  if (key === 'module') {
    return [
      ...plain(ISO_54, ' mm'),
      ...ISO_54_II.map((value) => ({ value, label: `${value} mm, second series` })),
      ...DIAMETRAL.map((p) => ({ value: Number((25.4 / p).toPrecision(12)), label: `${p} 1/in (diametral pitch)` })),
    ];
  }
  if (key === 'pressureAngle') return [20, 14.5, 25, 22.5].map((value) => ({ value, label: value === 20 ? '20° (ISO 53)' : `${value}°` }));
  const form = item['form'];
  if (key === 'pitch' && (form === 'toothed' || type === 'toothed-belt')) return TIMING.map(([value, n]) => ({ value, label: `${value} mm, ${n}` }));
  if (key === 'pitch' && (form === 'sprocket' || type === 'chain')) return CHAINS.map(([value, n]) => ({ value, label: `${value} mm, ${n}` }));
  if (key === 'pitch' && type === 'screw') {
    if (form === 'ball') return plain(BALL_LEADS, ' mm');
    const d = Number(item['diameter']);
    const own = ISO_2904.filter(([x]) => x === d);
    return (own.length ? own : ISO_2904)
      .map(([x, value]) => ({ value, label: `${value} mm, Tr ${x}×${value}` }))
      .filter((o, i, l) => l.findIndex((p) => p.value === o.value) === i);
  }
  if (key === 'diameter' && type === 'screw') return ISO_2904.map(([value, p]) => ({ value, label: `${value} mm, Tr ${value}×${p}` }));
  if ((key === 'diameter' && type === 'pulley') || ((key === 'd1' || key === 'd2') && (type === 'v-belt' || type === 'flat-belt'))) {
    return PULLEYS.map((value) => {
      const suits = SECTIONS.filter(([, least]) => value >= least).map(([s]) => s);
      return { value, label: `${value} mm${suits.length && type !== 'flat-belt' ? `, ${suits[suits.length - 1]} and below` : ''}` };
    });
  }
  return [];
}
