import type { GearData } from './gear-data';
import { formRadius, pointedTip } from './gear-outline';

/** Distance from the point where the line of action touches the base circle to where it crosses the circle of radius r, mm. */
export const alongLine = (g: GearData, r: number): number => Math.sqrt(Math.max(0, r * r - g.baseRadius * g.baseRadius));

/**
 * The involute part of a flank as distances along the line of action from the wheel's own base
 * tangent point: from the form circle to the tip, or where the tooth comes to a point before it.
 */
function flank(g: GearData): { low: number; high: number } {
  if (g.internal) return { low: alongLine(g, Math.max(g.tipRadius, g.baseRadius)), high: alongLine(g, formRadius(g)) };
  return { low: alongLine(g, formRadius(g)), high: alongLine(g, pointedTip(g, g.tipRadius)) };
}

/**
 * What touches on the line of action: its length, and by how much a
 * tip reaches below the other flank's involute, mm along the line.
 */
export interface ContactLine {
  length: number;
  /** Of the first wheel's tip on the second flank, and of the second wheel's tip on the first. */
  beyondSecond: number;
  beyondFirst: number;
}

/**
 * The part of the line of action on which both flanks are involutes that are there: between the tips, the form circles
 * (undercut ones included) and the base tangent points (ISO 21771-1:2007, path of contact, with form circles in place of
 * circles that the flanks do not reach). `distance` mm, `angle` the working pressure angle, rad. `b` may be internal.
 */
export function contactLine(a: GearData, b: GearData, distance: number, angle: number): ContactLine {
  const fa = flank(a);
  const fb = flank(b);
  // Everything as a distance from a's base tangent point.
  const far = distance * Math.sin(angle);
  const at = b.internal ? { low: fb.low - far, high: fb.high - far } : { low: far - fb.high, high: far - fb.low };
  // An internal wheel's tip is its inner end, an external one's its outer end: both stand at the low end of a's flank.
  return {
    length: Math.min(fa.high, at.high) - Math.max(fa.low, at.low),
    beyondSecond: fa.high - at.high,
    beyondFirst: fa.low - at.low,
  };
}

/**
 * As `contactLine` for a gear and a rack: `tip` and `foot` are how far the rack's straight flanks reach from
 * its reference line towards the gear and away from it, `height` from the gear's axis to that line, mm.
 */
export function rackContactLine(a: GearData, tip: number, foot: number, height: number): ContactLine {
  const fa = flank(a);
  const sin = Math.sin(a.alphaT);
  const pitchPoint = a.pitchRadius * sin;
  const low = pitchPoint - (tip - (height - a.pitchRadius)) / sin;
  const high = pitchPoint + (foot + (height - a.pitchRadius)) / sin;
  return { length: Math.min(fa.high, high) - Math.max(fa.low, low), beyondSecond: fa.high - high, beyondFirst: fa.low - low };
}

/** Base pitch in the transverse section, mm. */
export const basePitch = (g: GearData): number => Math.PI * g.moduleT * Math.cos(g.alphaT);
