import { expose } from 'comlink';
import { Overlap, analyse, curesOf, overlaps, compile, provenCures, setPhases, poseOf, Hand } from '@unirota/core';
import type { Design, Finding, Id } from '@unirota/core/document';

export interface PoseOverlaps {
  /** Position of the first source, turns or mm. */
  at: number;
  overlaps: Overlap[];
}

const api = {
  /** Overlaps of all true profiles at one pose (free coordinates as given). */
  here(design: Design, free: Float64Array): Overlap[] {
    const m = poseOf(compile(design));
    if (free.length === m.kinematics.freeCount) m.setFree(free);
    return overlaps(m);
  },
  /** Overlaps at poses evenly from stop to stop; says after each how far it has come. */
  async way(design: Design, poses: number, report: (done: number) => void): Promise<PoseOverlaps[]> {
    const c = compile(design);
    const m = poseOf(c),
      hand = new Hand(m);
    const lead = c.sources[0]?.coordinate;
    if (lead === undefined) return [{ at: 0, overlaps: overlaps(m) }];
    const way = hand.interval(lead),
      k = m.kinematics.scale[lead];
    const from = way.lower?.at ?? (way.upper ? way.upper.at - 1 : 0),
      to = way.upper?.at ?? from + 1;
    const out: PoseOverlaps[] = [];
    for (let i = 0; i < poses; i++) {
      const at = from + ((to - from) * i) / Math.max(1, poses - 1);
      hand.move(lead, at * k);
      const found = overlaps(m);
      if (found.length) out.push({ at, overlaps: found });
      report((i + 1) / poses);
      // Lets the message out before the next pose.
      await new Promise((r) => setTimeout(r));
    }
    return out;
  },
  /** Labels of the ways out of each finding that cure it and bring no stop; notes have none. */
  proven(design: Design, findings: Finding[]): string[][] {
    const offer = curesOf(design);
    const look = (d: Design): Finding[] => analyse(d).findings;
    return findings.map((f) => (f.severity === 'note' ? [] : provenCures(design, f, look, offer, findings).map((c) => c.label)));
  },
  /** Puts teeth into spaces in all meshes, or in some. */
  phases(design: Design, only?: Id[]): ReturnType<typeof setPhases> {
    return setPhases(design, only && new Set(only));
  },
};
export type ChecksApi = typeof api;
expose(api);
