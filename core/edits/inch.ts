import { unitsOf } from '../document/kinds';
import type { Field } from '../fields/fields';
import type { Design } from '../fields/types';
import { exactly, toNumber } from '../math/index';
import { usualInch } from '../units/index';

/** Diametral pitches in common use, 1/in (common practice). */
export const DIAMETRAL = [48, 32, 24, 20, 16, 12, 10, 8, 6, 5, 4, 3];
/** Threads and belt teeth to the inch in common use, 1/in (common practice; 5.08 mm is XL of ISO 5296). */
const PER_INCH_PITCHES = [20, 16, 12, 10, 8, 6, 5, 4, 3, 2];

/** Whether a design shows its lengths in inches. */
export const isInch = (d: Design): boolean => unitsOf(d.settings).inch;

/** The member of a list nearest to a value, by ratio. */
const nearest = (list: readonly number[], to: number): number =>
  list.reduce((best, x) => (Math.abs(Math.log(x / to)) < Math.abs(Math.log(best / to)) ? x : best));

/**
 * A size in mm as an inch design begins with: the usual inch size near by, a common diametral pitch
 * for a module, a common number to the inch for a pitch. Everything that is no length stays as it is.
 */
export function inchSize(f: Pick<Field, 'key' | 'unit' | 'perInch'>, value: number | string): number | string {
  if (f.unit !== 'mm') return value;
  const mm = toNumber(exactly(value));
  if (mm === 0) return value;
  if (f.perInch) return `25.4/${nearest(DIAMETRAL, 25.4 / mm)}`;
  return f.key === 'pitch' ? Number((25.4 / nearest(PER_INCH_PITCHES, 25.4 / mm)).toPrecision(12)) : usualInch(mm);
}

/** What a field begins with in a design. */
export function beginsWith(f: Field, inch: boolean): Field['initial'] {
  const { initial } = f;
  return !inch || initial === undefined || typeof initial === 'boolean' ? initial : inchSize(f, initial);
}

/** Sizes stated for an element or a stage, in mm, as a design of these units begins with. */
export function beginningSizes(fields: readonly Field[], sizes: Readonly<Record<string, unknown>>, inch: boolean): Record<string, unknown> {
  if (!inch) return { ...sizes };
  return Object.fromEntries(
    Object.entries(sizes).map(([key, v]) => {
      const f = fields.find((x) => x.key === key);
      return [key, f && (typeof v === 'number' || (typeof v === 'string' && (f.kind === 'exact' || f.kind === 'number'))) ? inchSize(f, v) : v];
    }),
  );
}
