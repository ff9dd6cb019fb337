import { type Sector, num, sectorArc } from '../../elements/index';
import { type Vec3, dot } from '../../math/index';
import type { Placed } from '../common';
import type { Engagement, Port } from '../protocol';

/**
 * The turns of a sector over which the pitch point, `towards` it from its axis, lies among
 * its teeth, half a pitch beyond the first and the last; from the reference position, turned
 * by whole turns so that this lies within where it can. None of one with teeth all round.
 */
export function sectorEngagement(sector: Placed<Sector>, towards: Vec3, motion: Port, word = 'sector'): Engagement[] {
  const { first, last, pitch } = sectorArc(sector.element);
  if (num(sector.element.arcTeeth, 2) >= num(sector.element.teeth)) return [];
  const { frame } = sector;
  const pitchPoint = Math.atan2(dot(towards, frame.y), dot(towards, frame.x));
  const from = (pitchPoint - last - pitch / 2) / (2 * Math.PI),
    to = (pitchPoint - first + pitch / 2) / (2 * Math.PI);
  const back = Math.ceil(from) <= to ? Math.ceil(from) : Math.round((from + to) / 2);
  return [{ motion, from: from - back, to: to - back, what: `the ${word}’s arc of ${num(sector.element.arcTeeth, 2)} teeth` }];
}
