import type { Element } from '../fields/types';
import { type Stated, exactField, numberField } from '../fields/fields';
import { DENSITY_FIELD, num } from './gear';
import { ElementKind, holeProblem } from './protocol';
import { bar, rectangle } from './solid';

const WHEEL_FIELDS = [
  exactField('diameter', 'Rolling diameter', { unit: 'mm', symbol: 'd', required: true, above: 0, max: 1e5 }),
  numberField('width', 'Width', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e5 }),
  numberField('bore', 'Bore', { unit: 'mm', initial: 0, min: 0, max: 1e5 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Wheel = Element & Stated<typeof WHEEL_FIELDS>;

/** A smooth wheel about z that rolls on a track or on another wheel. */
export const wheel: ElementKind<Wheel> = {
  type: 'wheel',
  label: 'Wheel',
  fields: WHEEL_FIELDS,
  problems: (e) => holeProblem('a bore', num(e.bore), num(e.diameter)),
  shape: (e) => [bar(num(e.diameter) / 2, -num(e.width) / 2, num(e.width) / 2, Math.min(num(e.bore), 0.9 * num(e.diameter)) / 2)],
  derived: (e) => [{ key: 'perTurn', label: 'Way per turn', value: Math.PI * num(e.diameter), unit: 'mm', formula: 'π·d' }],
};

const TRACK_FIELDS = [
  numberField('length', 'Length', { unit: 'mm', required: true, above: 0, max: 1e6 }),
  numberField('width', 'Width', { unit: 'mm', required: true, above: 0, max: 1e5 }),
  numberField('height', 'Height', { unit: 'mm', required: true, above: 0, max: 1e5 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Track = Element & Stated<typeof TRACK_FIELDS>;

/** A track: its running line along x, the running face towards +y, its width along z. */
export const track: ElementKind<Track> = {
  type: 'track',
  label: 'Track',
  fields: TRACK_FIELDS,
  shape: (e) => [
    { kind: 'prism', outline: rectangle(-num(e.length) / 2, -num(e.height), num(e.length) / 2, 0), from: -num(e.width) / 2, to: num(e.width) / 2 },
  ],
};
