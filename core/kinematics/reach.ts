import { idOf, namedBy } from '../document/index';
import { type Design, FRAME, type Id } from '../fields/types';

/**
 * For every member how many joints and couplings lie between it and the nearest
 * source; the frame carries nothing on. Members that none reaches are left out.
 */
export function distancesFromSources(design: Design): ReadonlyMap<Id, number> {
  const memberOf = new Map(design.elements.map((e) => [e.id, e.member]));
  const joints = new Map(design.joints.map((j) => [j.id, j]));
  const beside = new Map<Id, Set<Id>>();
  const tie = (members: readonly Id[]): void => {
    for (const a of members) {
      let to = beside.get(a);
      if (!to) beside.set(a, (to = new Set()));
      for (const b of members) if (b !== a && b !== FRAME) to.add(b);
    }
  };
  for (const j of design.joints) tie([j.parent, j.child]);
  for (const c of design.couplings) {
    tie(
      namedBy('couplings', c).flatMap((id) => {
        const j = joints.get(id);
        return memberOf.get(id) ?? (j ? [j.child, j.parent] : []);
      }),
    );
  }
  const found = new Map<Id, number>();
  let edge = design.sources.flatMap((s) => joints.get(idOf(s.joint))?.child ?? []).filter((m) => m !== FRAME);
  for (let step = 0; edge.length; step++) {
    const next: Id[] = [];
    for (const m of edge) {
      if (found.has(m)) continue;
      found.set(m, step);
      for (const b of beside.get(m) ?? []) if (!found.has(b)) next.push(b);
    }
    edge = next;
  }
  return found;
}
