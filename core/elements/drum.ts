import { problem } from '../findings/index';
import type { Element } from '../fields/types';
import { type Stated, exactField, numberField, wholeField } from '../fields/fields';
import { type Ratio, add, exactly, mul, ratio, toNumber } from '../math/index';
import { DENSITY_FIELD, exactOf, num } from './gear';
import { ElementKind, holeProblem } from './protocol';
import { type Solid, polygon } from '../solids/index';

const FIELDS = [
  exactField('diameter', 'Barrel diameter', { unit: 'mm', symbol: 'D', required: true, above: 0, max: 1e5 }),
  exactField('rope', 'Rope diameter', { unit: 'mm', symbol: 'dr', required: true, above: 0, max: 1e3 }),
  numberField('width', 'Width between flanges', { unit: 'mm', symbol: 'b', required: true, above: 0, max: 1e5 }),
  wholeField('layers', 'Layers', { initial: 1, min: 1, max: 20, help: 'For which the flanges leave room.' }),
  numberField('bore', 'Bore', { unit: 'mm', initial: 0, min: 0, max: 1e5 }),
  DENSITY_FIELD,
];
/** What is stated of one, from its fields. */
export type Drum = Element & Stated<typeof FIELDS>;

/**
 * Diameter on which the middle of the rope lies in a layer, the first being 1: D + (2k − 1)·dr, layers lying square on each
 * other. mm
 */
export const windingDiameter = (e: Drum, layer: number): Ratio => add(exactOf(e.diameter), mul(exactOf(e.rope), ratio(2 * layer - 1)));

/** Turns of rope that lie side by side in one layer. */
export const turnsPerLayer = (e: Drum): number => Math.floor(num(e.width) / num(e.rope, 1) + 1e-9);

/** A drum on which a rope is wound, about z, with two flanges as high as its layers and one rope more. */
export const drum: ElementKind<Drum> = {
  type: 'drum',
  label: 'Rope drum',
  fields: FIELDS,
  shape(e): Solid[] {
    const d = num(e.rope),
      r = num(e.diameter) / 2,
      rim = r + (num(e.layers, 1) + 1) * d,
      b = num(e.width) / 2,
      bore = Math.min(num(e.bore) / 2, 0.9 * r);
    if (!(r > 0 && d > 0)) return [];
    return [{ kind: 'turned', section: polygon([bore, -b - d, rim, -b - d, rim, -b, r, -b, r, b, rim, b, rim, b + d, bore, b + d]) }];
  },
  derived: (e) => [
    {
      key: 'windingDiameter',
      label: 'Winding diameter, first layer',
      symbol: 'Dw',
      value: toNumber(windingDiameter(e, 1)),
      unit: 'mm',
      formula: 'Dw = D + dr',
    },
    { key: 'turnsPerLayer', label: 'Turns in a layer', value: turnsPerLayer(e), formula: 'b / dr' },
    {
      key: 'capacity',
      label: 'Rope that it holds',
      value:
        Math.PI *
        turnsPerLayer(e) *
        Array.from({ length: num(e.layers, 1) }, (_, k) => toNumber(windingDiameter(e, k + 1))).reduce((s, x) => s + x, 0),
      unit: 'mm',
      formula: 'π·(b/dr)·Σ Dw',
    },
  ],
  problems(e) {
    if (turnsPerLayer(e) < 1) return [problem('drum-narrow', { width: num(e.width), rope: toNumber(exactly(e.rope ?? 0)) }, 'width')];
    return holeProblem('a bore', num(e.bore), num(e.diameter));
  },
};
