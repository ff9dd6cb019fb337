import type { Element } from '../fields/types';
import { problem } from '../findings/index';
import { type Stated, numberField } from '../fields/fields';
import { bar } from '../solids/index';
import { DENSITY_FIELD, num } from './gear';
import { ElementKind } from './protocol';

const FIELDS = [
  numberField('diameter', 'Diameter', { unit: 'mm', symbol: 'd', required: true, above: 0, max: 1e5 }),
  numberField('bore', 'Bore', { unit: 'mm', initial: 0, min: 0, max: 1e5 }),
  numberField('length', 'Length', { unit: 'mm', symbol: 'L', required: true, above: 0, max: 1e6 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Rod = Element & Stated<typeof FIELDS>;

/** A round bar along z: a shaft, a pin, a drum, a collar. */
export const rod: ElementKind<Rod> = {
  type: 'rod',
  label: 'Round bar',
  fields: FIELDS,
  shape: (e) => [bar(num(e.diameter) / 2, -num(e.length) / 2, num(e.length) / 2, num(e.bore) / 2)],
  problems: (e) => (num(e.bore) >= num(e.diameter) ? [problem('bore-too-large/rod', {})] : []),
};
