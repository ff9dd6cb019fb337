import type { Element } from '../fields/types';
import { type Stated, choiceField, numberField } from '../fields/fields';
import { problem } from '../findings/index';
import { ALLOWANCE_SERIES, type SizeLimits, TOLERANCE_SERIES, thicknessLimits } from '../fits/index';
import type { ElementProblem } from './protocol';

/** Limits of tooth thickness that a drawing states in numbers. */
export const THICKNESS_FIELDS = [
  numberField('thicknessUpper', 'Tooth thickness, upper deviation', {
    rare: true,
    unit: 'mm',
    symbol: 'Esns',
    min: -100,
    max: 100,
    when: (e: { thicknessAllowance?: unknown }) => e.thicknessAllowance === undefined,
    help: 'Normal, from the tooth without backlash: negative where the tooth is thinner.',
  }),
  numberField('thicknessLower', 'Tooth thickness, lower deviation', {
    rare: true,
    unit: 'mm',
    symbol: 'Esni',
    min: -100,
    max: 100,
    when: (e: { thicknessAllowance?: unknown }) => e.thicknessAllowance === undefined,
  }),
] as const;
/** Limits of tooth thickness by series, or in numbers. */
export const SERIES_FIELDS = [
  choiceField('thicknessAllowance', 'Tooth thickness allowance', ALLOWANCE_SERIES, {
    rare: true,
    help: 'Series of DIN 3967, from the tooth without backlash: a is the thinnest tooth, h has no allowance.',
  }),
  choiceField('thicknessTolerance', 'Tooth thickness tolerance', TOLERANCE_SERIES, {
    rare: true,
    when: (e: { thicknessAllowance?: unknown }) => e.thicknessAllowance !== undefined,
    help: 'Series of DIN 3967: 21 is the finest.',
  }),
  ...THICKNESS_FIELDS,
] as const;
export type ThicknessStated = Element & Stated<typeof SERIES_FIELDS>;

const series = (e: ThicknessStated): boolean => e.thicknessAllowance !== undefined || e.thicknessTolerance !== undefined;

/**
 * Limits of the normal tooth thickness from that without backlash, mm, as stated by series or in numbers; `diameter`: the
 * reference diameter, mm. Undefined where they are not, or not wholly, stated.
 */
export function thicknessOf(e: ThicknessStated, diameter: number): SizeLimits | undefined {
  if (series(e)) {
    const { thicknessAllowance: a, thicknessTolerance: t } = e;
    return a === undefined || t === undefined ? undefined : thicknessLimits(a, t, diameter);
  }
  const { thicknessUpper: upper, thicknessLower: lower } = e;
  return upper === undefined || lower === undefined || lower > upper ? undefined : { lower, upper };
}

/** What is wrong with stated limits of tooth thickness. */
export function thicknessProblems(e: ThicknessStated, diameter: number): ElementProblem[] {
  const say = (why: string, field: string): ElementProblem[] => [problem('tooth-thickness', { why }, field)];
  if (series(e)) {
    if (e.thicknessTolerance === undefined) return say('an allowance needs the series of its tolerance too', 'thicknessTolerance');
    if (e.thicknessAllowance === undefined) return say('a tolerance needs the series of its allowance too', 'thicknessAllowance');
    return thicknessOf(e, diameter) ? [] : say('DIN 3967 goes to diameters of 1600 mm: state both deviations in numbers', 'thicknessAllowance');
  }
  const { thicknessUpper: upper, thicknessLower: lower } = e;
  if ((upper === undefined) !== (lower === undefined)) {
    return say('both deviations are needed', upper === undefined ? 'thicknessUpper' : 'thicknessLower');
  }
  return upper !== undefined && lower! > upper ? say('the lower deviation is above the upper one', 'thicknessLower') : [];
}
