import { type Gear, toothLimits } from '../../elements/index';
import { type GearData, type PairData, pairData } from '../../teeth/index';
import type { Derived } from '../../elements/protocol';
import type { PairGeometry } from './geometry';

const DEG = 180 / Math.PI;

/** Pairs with the least and the greatest backlash that the stated limits allow; of such as do not pair all is NaN. */
export interface BacklashLimits {
  readonly least: PairData;
  readonly most: PairData;
}

/**
 * Backlash between the limits of tooth thickness and of the centre distance, `tolerance` mm to either side (DIN 3967; the true
 * profiles at the limits, not the sum of allowances). A gear that states no limits counts as drawn. Undefined where nothing is
 * stated.
 */
export function backlashLimits({ a, b, ga, gb, outer, distance }: PairGeometry, tolerance: number): BacklashLimits | undefined {
  const limitsOf = (e: Gear, g: GearData): { thick: GearData; thin: GearData } => toothLimits(e) ?? { thick: g, thin: g };
  const [la, lb] = [limitsOf(a.element, ga), limitsOf(b.element, gb)];
  if (la.thick === la.thin && lb.thick === lb.thin && tolerance === 0) return undefined;
  const [first, second] = outer === ga ? [la, lb] : [lb, la];
  // A ring runs tighter the farther its wheel stands out.
  const apart = second.thick.internal ? -tolerance : tolerance;
  return { least: pairData(first.thick, second.thick, 0, distance - apart), most: pairData(first.thin, second.thin, 0, distance + apart) };
}

/** What the limits come to, as the data sheet shows it; least and greatest in mm, and as turns of the first wheel in rad. */
export function limitsDerived(least: number, most: number, turns: readonly [least: number, most: number], name: string): Derived[] {
  if (!Number.isFinite(least + most)) return [];
  return [
    { key: 'backlashLeast', label: 'Least backlash', symbol: 'jmin', value: least, unit: 'mm', formula: 'thickest teeth, least distance' },
    { key: 'backlashMost', label: 'Greatest backlash', symbol: 'jmax', value: most, unit: 'mm', formula: 'thinnest teeth, greatest distance' },
    { key: 'backlashALeast', label: `Least backlash as a turn of ${name}`, value: turns[0] * DEG, unit: 'deg' },
    { key: 'backlashAMost', label: `Greatest backlash as a turn of ${name}`, value: turns[1] * DEG, unit: 'deg' },
  ];
}
