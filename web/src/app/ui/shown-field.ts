import type { Field } from '@unirota/core/document';
import type { Units } from '@unirota/core/units';

const inInches = new WeakMap<Field, Field>();

/** A field as a design of these units calls it: in inches a module is a diametral pitch. */
export function shownField(f: Field, units: Units): Field {
  if (!units.inch || !f.perInch) return f;
  let shown = inInches.get(f);
  if (!shown) inInches.set(f, (shown = { ...f, ...f.perInch, help: undefined }));
  return shown;
}

/**
 * A field that is stated per inch with its bounds the same way up:
 * what is most in mm is least per inch. `toOne`: mm times 1/in.
 */
export function perInchBounds(f: Field, toOne: number): Field {
  const over = (bound: number | undefined): number | undefined => (bound ? toOne / bound : undefined);
  return { ...f, min: over(f.max), max: over(f.min), above: over(f.below) ?? 0, below: over(f.above) };
}
