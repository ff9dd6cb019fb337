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
