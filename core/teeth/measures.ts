import { type GearData, spanOverTeeth } from './gear-data';
import { inverseInvolute, involute } from './involute';

/** Face width that a span over k teeth of a helical gear takes, mm: its plates lie across the teeth. */
export function spanNeeds(g: GearData, k: number): number {
  const base = Math.asin(Math.sin(g.beta) * Math.cos(g.alpha));
  return Math.abs(spanOverTeeth(g, k) * Math.sin(base));
}

/**
 * Measure over two pins or balls of a diameter, mm, between those of internal gears (ISO 21771-1, 5.9): pins in opposite spaces,
 * or the nearest to it where the count of teeth is odd. Undefined where the pin does not rest on the flanks.
 */
export function overPins(g: GearData, pin: number): number | undefined {
  const side = g.internal ? -1 : 1;
  // Half the angle of a space at the base circle, widened by the pin.
  const space = Math.PI / g.teeth - g.halfTooth;
  const inv = involute(g.alphaT) + side * (pin / (g.module * g.teeth * Math.cos(g.alpha)) - space);
  if (!(inv > 0)) return undefined;
  const at = g.baseRadius / Math.cos(inverseInvolute(inv));
  const across = g.teeth % 2 ? Math.cos(Math.PI / (2 * g.teeth)) : 1;
  return 2 * at * across + side * pin;
}

/** A usual pin, mm: 1.728 times the module, 1.44 in internal gears (common practice). */
export const pinFor = (g: GearData): number => (g.internal ? 1.44 : 1.728) * g.module;
