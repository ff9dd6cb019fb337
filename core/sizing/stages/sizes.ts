import { gearOf, num } from '../../elements/index';
import { type GearData, formRadius } from '../../teeth/index';
import { type Field, choiceField, moduleField, numberField, wholeField } from '../../fields/fields';
import type { Values } from './values';

export const ANGLE = numberField('angle', 'Direction of the line of centres', {
  unit: 'deg',
  initial: 0,
  min: -360,
  max: 360,
  help: 'About the driving axis, from its own x.',
});
/** Which of the two travels: what is driven, or the drive itself, with all that it is coupled with. */
export const MOVES = (drive: string, driven: string): Field =>
  choiceField('moves', 'What travels', [driven, drive], {
    initial: driven,
    help: `The ${driven}, or the ${drive} with its whole drive along a fixed ${driven}.`,
  });
export const MODULE = moduleField('Module', 'm', { initial: 2 });
export const WIDTH = numberField('width', 'Face width', { unit: 'mm', symbol: 'b', initial: 20, above: 0, max: 1e5 });
export const teeth = (key: string, label: string, initial: number, min = 4, max = 2000): Field => wholeField(key, label, { initial, min, max });
/** A size that follows from others, without odd decimals: whole millimetres, two figures below ten. */
export const neat = (x: number): number => (x >= 10 ? Math.round(x) : Number(x.toPrecision(2)));

/** Number of a size. */
export const size = (v: Values, key: string, otherwise = 0): number => {
  const given = v[key];
  return typeof given === 'boolean' ? otherwise : num(given, otherwise);
};
/** Turns in for one out of a pair of counts or rims. */
export const quotient =
  (driver: string, driven: string) =>
  (v: Values): number =>
    size(v, driven) / size(v, driver);

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
export const PAIR_BOUNDS = 'the smaller wheel keeps 18 teeth or more, the larger has at most 400';
export const pairFor = (ratio: number): Record<string, number> => {
  const up = ratio < 1;
  const [a, b] = countsFor(up ? 1 / ratio : ratio, 18, 36);
  return up ? { z1: b, z2: a } : { z1: a, z2: b };
};

export const DISTANCE = numberField('distance', 'Centre distance', { unit: 'mm', initial: 0, min: 0, max: 1e5, help: 'Nought: proposed.' });
/** Largest rim of a pulley, mm. */
export const LARGEST_RIM = 1e5;
/** The smaller rim stays as it is, the other follows within what a pulley may have. */
export const rims = (ratio: number, v: Values): Values => {
  const d1 = size(v, 'd1', 80);
  const other = Number(Math.min(LARGEST_RIM, d1 * Math.max(ratio, 1 / ratio)).toPrecision(10));
  return ratio >= 1 ? { d1, d2: other } : { d1: other, d2: d1 };
};

export const chainCounts =
  (least: number, most: number) =>
  (ratio: number): Record<string, number> => {
    const up = ratio < 1;
    const [a, b] = countsFor(up ? 1 / ratio : ratio, least, most);
    return up ? { z1: b, z2: a } : { z1: a, z2: b };
  };

/** A standard gear of the basic rack, mm. */
const standard = (count: number, module: number, internal = false): GearData =>
  gearOf({ id: 'size', name: 'size', type: 'gear', member: 'size', teeth: count, module, internal });

/**
 * Root fillet of a ring, in modules: as a shaper's sharp corners
 * leave it, out of the way of the tips inside. Common practice.
 */
export const RING_FILLET = 0.2;

/**
 * How much a ring's tips are shortened so as not to reach below the
 * involutes of the wheel inside it, up to a hundredth of a millimetre.
 */
export function ringTipCut(wheel: number, ring: number, module: number): { tipCut?: number } {
  const a = standard(wheel, module),
    b = standard(ring, module, true);
  const low = Math.sqrt(Math.max(0, formRadius(a) ** 2 - a.baseRadius ** 2));
  const clear = Math.hypot(b.baseRadius, low + (b.pitchRadius - a.pitchRadius) * Math.sin(b.alphaT));
  const cut = Math.ceil(100 * (clear - b.tipRadius) + 1e-9) / 100;
  return cut > 0 ? { tipCut: cut } : {};
}
