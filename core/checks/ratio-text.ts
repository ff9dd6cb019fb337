import { PiRatio, piRatio, inverse, piToText, piToProportion } from '../math/index';

/** A ratio as it is printed: as one exact number, and as a proportion. Very long fractions are given by their first digits. */
export function ratioTexts(r: PiRatio): { exact: string; proportion: string } {
  return { exact: shorten(piToText(r)), proportion: shorten(piToProportion(r)) };
}

/** A ratio the other way round, as text. */
export const piInverseText = (r: PiRatio): string => shorten(piToText(piRatio(inverse(r.q), -r.pi)));

const shorten = (s: string): string => (s.length > 400 ? `${s.slice(0, 400)}… (${s.length} characters)` : s);
