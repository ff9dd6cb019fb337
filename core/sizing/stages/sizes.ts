import { num } from '../../elements/index';
import { type Field, exactField, numberField, wholeField } from '../../fields/fields';
import type { Values } from './values';

export const ANGLE = numberField('angle', 'Direction of the line of centres', {
  unit: 'deg',
  initial: 0,
  min: -360,
  max: 360,
  help: 'About the driving axis, from its own x.',
});
export const MODULE = exactField('module', 'Module', { unit: 'mm', symbol: 'm', initial: 2, above: 0, max: 100 });
export const WIDTH = numberField('width', 'Face width', { unit: 'mm', symbol: 'b', initial: 20, above: 0, max: 1e4 });
export const teeth = (key: string, label: string, initial: number, min = 6): Field => wholeField(key, label, { initial, min, max: 2000 });

/** Counts whose quotient is nearest to the ratio, small first; a prime pair where two are equally near, so that wear spreads. */
export function countsFor(ratio: number, least: number, most: number, wheelMost = 400): [number, number] {
  let best: [number, number] = [least, Math.round(least * ratio)],
    off = Infinity;
  for (let a = least; a <= most; a++) {
    const b = Math.max(least, Math.min(wheelMost, Math.round(a * ratio)));
    const d = Math.abs(b / a / ratio - 1);
    if (d < off - 1e-12) {
      best = [a, b];
      off = d;
    }
  }
  return best;
}
export const pairFor = (ratio: number): Record<string, number> => {
  const up = ratio < 1;
  const [a, b] = countsFor(up ? 1 / ratio : ratio, 18, 36);
  return up ? { z1: b, z2: a } : { z1: a, z2: b };
};

export const DISTANCE = numberField('distance', 'Centre distance', { unit: 'mm', initial: 0, min: 0, max: 1e5, help: 'Nought: proposed.' });
export const rims = (ratio: number, v: Values): Record<string, number> => {
  const d1 = num(v['d1'] as number, 80);
  return ratio >= 1 ? { d1, d2: Number((d1 * ratio).toPrecision(10)) } : { d1: Number((d1 / ratio).toPrecision(10)), d2: d1 };
};

export const chainCounts =
  (least: number, most: number) =>
  (ratio: number): Record<string, number> => {
    const up = ratio < 1;
    const [a, b] = countsFor(up ? 1 / ratio : ratio, least, most);
    return up ? { z1: b, z2: a } : { z1: a, z2: b };
  };
