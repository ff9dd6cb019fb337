import type { Element } from '../fields/types';
import { type Stated, numberField } from '../fields/fields';
import { bar, rectangle } from '../solids/index';
import { DENSITY_FIELD, num } from './gear';
import { ElementKind } from './protocol';
import { WORLD } from '../math/index';

const FIELDS = [
  numberField('radius', 'Radius to the handle', { unit: 'mm', symbol: 'R', required: true, above: 0, max: 1e5 }),
  numberField('handle', 'Length of handle', { unit: 'mm', initial: 110, min: 0, max: 1e4 }),
  numberField('section', 'Width of arm', { unit: 'mm', initial: 30, above: 0, max: 1e4 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Crank = Element & Stated<typeof FIELDS>;

/** A crank: an arm along the element's x axis with a handle at its end, pointing along z. */
export const crank: ElementKind<Crank> = {
  type: 'crank',
  label: 'Crank',
  fields: FIELDS,
  shape(e) {
    const R = num(e.radius),
      w = num(e.section, 30),
      h = num(e.handle, 110);
    return [
      { kind: 'prism', outline: rectangle(-w / 2, -w / 2, R + w / 2, w / 2), from: -w / 4, to: w / 4 },
      bar(w * 0.9, -w / 2, w / 2),
      ...(h > 0 ? [bar(w * 0.45, w / 4, w / 4 + h, 0, { ...WORLD, o: [R, 0, 0] })] : []),
    ];
  },
  derived: (e) => [{ key: 'turn', label: 'Way of the hand per turn', value: 2 * Math.PI * num(e.radius), unit: 'mm', formula: '2·π·R' }],
};
