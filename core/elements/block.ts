import type { Element } from '../fields/types';
import { type Stated, numberField } from '../fields/fields';
import { rectangle } from '../solids/index';
import { DENSITY_FIELD, num } from './gear';
import { ElementKind } from './protocol';

const FIELDS = [
  numberField('length', 'Length along x', { unit: 'mm', required: true, above: 0, max: 1e6 }),
  numberField('depth', 'Depth along y', { unit: 'mm', required: true, above: 0, max: 1e6 }),
  numberField('height', 'Height along z', { unit: 'mm', required: true, above: 0, max: 1e6 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Block = Element & Stated<typeof FIELDS>;

/** A rectangular body, its middle at the element's origin: a plate, a paddle, a housing. */
export const block: ElementKind<Block> = {
  type: 'block',
  label: 'Block',
  fields: FIELDS,
  shape: (e) => {
    const l = num(e.length) / 2,
      d = num(e.depth) / 2,
      h = num(e.height) / 2;
    return [{ kind: 'prism', outline: rectangle(-l, -d, l, d), from: -h, to: h }];
  },
};
