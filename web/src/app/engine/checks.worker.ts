import { expose } from 'comlink';
import { Bodies, type Interference, Overlap, analyse, curesOf, overlaps, compile, provenCures, setPhases, poseOf, Hand } from '@unirota/core';
import type { Design, Finding, Id } from '@unirota/core/document';
import { holdContents } from './held-contents';

/** What stands in each other at one position: true profiles of teeth, and members. */
export interface Overlaps {
  teeth: Overlap[];
  bodies: Interference[];
}
export interface PoseOverlaps extends Overlaps {
  /** Position of the first source, turns or mm; or the time in a run, s. */
  at: number;
}
/** How often a long look says how far it has come, ms. */
const REPORT = 60;

const api = {
  /** Overlaps of all true profiles and of members at one pose (free coordinates as given). */
  async here(design: Design, free: Float64Array): Promise<Overlaps> {
    await holdContents(design);
    const c = compile(design);
    const m = poseOf(c);
    if (free.length === m.kinematics.freeCount) m.setFree(free);
    return { teeth: overlaps(m), bodies: new Bodies(c).at(m) };
  },
  /** Members that stand in each other at the instants of a run, coordinates one after the other as recorded. */
  async over(design: Design, time: Float64Array, q: Float64Array, report: (done: number) => void): Promise<PoseOverlaps[]> {
    await holdContents(design);
    const c = compile(design);
    const m = poseOf(c);
    const bodies = new Bodies(c);
    const n = m.kinematics.count;
    const out: PoseOverlaps[] = [];
    let said = performance.now();
    for (let f = 0; f < time.length; f++) {
      m.q.set(q.subarray(f * n, (f + 1) * n));
      m.replace();
      const found = bodies.at(m);
      if (found.length) out.push({ at: time[f], teeth: [], bodies: found });
      if (performance.now() - said < REPORT) continue;
      report((f + 1) / time.length);
      said = performance.now();
      await new Promise((r) => setTimeout(r));
    }
    return out;
  },
  /** Overlaps at poses evenly from stop to stop; says after each how far it has come. */
  async way(design: Design, poses: number, report: (done: number) => void): Promise<PoseOverlaps[]> {
    await holdContents(design);
    const c = compile(design);
    const m = poseOf(c),
      hand = new Hand(m);
    const lead = c.sources[0]?.coordinate;
    const bodies = new Bodies(c);
    if (lead === undefined) return [{ at: 0, teeth: overlaps(m), bodies: bodies.at(m) }];
    const way = hand.interval(lead),
      k = m.kinematics.scale[lead];
    const from = way.lower?.at ?? (way.upper ? way.upper.at - 1 : 0),
      to = way.upper?.at ?? from + 1;
    const out: PoseOverlaps[] = [];
    for (let i = 0; i < poses; i++) {
      const at = from + ((to - from) * i) / Math.max(1, poses - 1);
      hand.move(lead, at * k);
      const found = { teeth: overlaps(m), bodies: bodies.at(m) };
      if (found.teeth.length || found.bodies.length) out.push({ at, ...found });
      report((i + 1) / poses);
      // Lets the message out before the next pose.
      await new Promise((r) => setTimeout(r));
    }
    return out;
  },
  /** Labels of the fixes of each finding that cure it and bring no fault; notes have none. */
  async proven(design: Design, findings: Finding[]): Promise<string[][]> {
    await holdContents(design);
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
