import { FRAME, type Id } from '../fields/types';
import { type Compiled, mobility, poseOf } from '../kinematics/index';
import type { RunResult } from './recorder';
import { motionUnit } from '../units/index';

/** What moved in a run though nothing led it. */
export interface MovedFree {
  /** Members that move together, the frame left out. */
  readonly members: readonly Id[];
  /** The joint that moved farthest, from where it began to where it ended: deg or mm. */
  readonly joint: Id;
  readonly slide: boolean;
  readonly by: number;
}

/** Less than this is no motion worth a word: rad, m. */
const WORTH = { turn: 1e-3, slide: 1e-4 };

/**
 * The freedoms that nothing drives and that have moved in a run,
 * the farthest first: what is missing in an unfinished mechanism.
 */
export function movedFree(compiled: Compiled, r: RunResult): MovedFree[] {
  const { undriven } = mobility(poseOf(compiled));
  const last = (r.frames - 1) * r.coordinates;
  const { coordinates } = compiled.structure;
  const out: (MovedFree & { part: number })[] = [];
  for (const { members } of undriven) {
    const own = new Set(members.filter((m) => m !== FRAME));
    let best: (MovedFree & { part: number }) | undefined;
    for (const c of coordinates) {
      if (!own.has(c.joint.child)) continue;
      const way = r.q[last + c.index] - r.q[c.index];
      const slide = c.motion === 'slide';
      const part = Math.abs(way) / (slide ? WORTH.slide : WORTH.turn);
      if (part >= 1 && (!best || part > best.part)) {
        best = { members: [...own], joint: c.joint.id, slide, by: way * motionUnit(slide).placesPerSi, part };
      }
    }
    if (best && !out.some((x) => x.joint === best.joint)) out.push(best);
  }
  return out.sort((a, b) => b.part - a.part).map(({ part: _, ...x }) => x);
}
