import type { Id } from '../document/index';
import type { MapCoupling, MapLayout, MapMember } from './layout';

/** One thing on the way along a train: a member, or the coupling that goes on from it. */
export interface WayPart {
  key: string;
  member?: MapMember;
  coupling?: MapCoupling;
}

type Drawn = Pick<MapLayout, 'members' | 'couplings'>;

/** How each member is reached from the first source: the member before it and the coupling between, in the order found. */
export interface MapWays {
  readonly start: MapMember;
  readonly at: ReadonlyMap<Id, MapMember>;
  readonly from: ReadonlyMap<MapMember, { member: MapMember; coupling: MapCoupling } | undefined>;
}

/** The shortest ways along couplings from the first source to every member; undefined where there is none. */
export function reachedFrom({ members, couplings }: Drawn): MapWays | undefined {
  const start = members.find((m) => m.source) ?? members.at(0);
  if (!start) return undefined;
  const at = new Map(members.flatMap((m) => [m.id, ...m.alike].map((id) => [id, m] as const)));
  const from = new Map<MapMember, { member: MapMember; coupling: MapCoupling } | undefined>([[start, undefined]]);
  const ends = new Map(couplings.map((c) => [c, c.touches.flatMap((t) => at.get(t.member) ?? [])]));
  const queue = [start];
  // Along what ties motions as far as that goes; only then by what merely carries something, from the far end on.
  for (const some of [couplings.filter((c) => c.type !== 'joint'), couplings]) {
    const of = new Map<MapMember, MapCoupling[]>();
    for (const c of some) for (const m of new Set(ends.get(c))) of.set(m, [...(of.get(m) ?? []), c]);
    queue.reverse();
    for (const here of queue) {
      for (const c of of.get(here) ?? []) {
        for (const m of ends.get(c)!) {
          if (from.has(m)) continue;
          from.set(m, { member: here, coupling: c });
          queue.push(m);
        }
      }
    }
  }
  return { start, at, from };
}

/** Couplings from the first source to a member, in order; none where it is not reached. */
export function couplingsTo({ at, from }: MapWays, member: Id): MapCoupling[] {
  const out: MapCoupling[] = [];
  for (let step = from.get(at.get(member)!); step; step = from.get(step.member)) out.push(step.coupling);
  return out.reverse();
}

/**
 * The shortest way along couplings from the first source to a member, or through a coupling; to the member farthest from it where
 * neither can be reached.
 */
export function wayTo(drawn: Drawn, to: Id | undefined): WayPart[] {
  const reached = reachedFrom(drawn);
  if (!reached) return [];
  const { at, from } = reached;
  const found = [...from.keys()];
  const named = at.get(to ?? '');
  const through = drawn.couplings.find((c) => c.id === to);
  const last = through?.touches.flatMap((t) => at.get(t.member) ?? []).sort((a, b) => found.indexOf(b) - found.indexOf(a))[0];
  let end = [named, last].find((m) => m && from.has(m)) ?? found[found.length - 1];
  const out: WayPart[] = [{ key: end.id, member: end }];
  for (let step = from.get(end); step; step = from.get(end)) {
    end = step.member;
    out.push({ key: step.coupling.key, coupling: step.coupling }, { key: end.id, member: end });
  }
  return out.reverse();
}
