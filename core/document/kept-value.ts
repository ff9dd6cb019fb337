import { parseRatio, toText } from '../math/index';
import type { Field } from '../fields/fields';
import type { Quantity } from '../units/index';

/** A quantity that was read, as documents keep it in a field: an exact one as a number where that says it, else as a fraction. */
export function keptValue(f: Pick<Field, 'kind'>, { value, exact }: Quantity): number | string {
  if (f.kind !== 'exact' || !exact) return value;
  const back = parseRatio(value);
  return back && back.n === exact.n && back.d === exact.d ? value : toText(exact);
}
