import type { Id } from '../document/index';
import type { MapCoupling, MapLayout, MapMember } from './layout';

/** One thing on the way along a train: a member, or the coupling that goes on from it. */
export interface WayPart {
  key: string;
  member?: MapMember;
  coupling?: MapCoupling;
}

/**
 * The shortest way along couplings from the first source to a member, or through a coupling; to the member farthest from it where
 * neither can be reached.
 */
export function wayTo({ members, couplings }: Pick<MapLayout, 'members' | 'couplings'>, to: Id | undefined): WayPart[] {
  const start = members.find((m) => m.source) ?? members[0];
  if (!start) return [];
  const at = new Map(members.flatMap((m) => [m.id, ...m.alike].map((id) => [id, m] as const)));
  const from = new Map<MapMember, { member: MapMember; coupling: MapCoupling } | undefined>([[start, undefined]]);
  const queue = [start];
  // Along what ties motions as far as that goes; only then by what merely carries something, from the far end on.
  for (const some of [couplings.filter((c) => c.type !== 'joint'), couplings]) {
    queue.reverse();
    for (const here of queue) {
      for (const c of some) {
        const touched = c.touches.flatMap((t) => at.get(t.member) ?? []);
        if (!touched.includes(here)) continue;
        for (const m of touched) {
          if (from.has(m)) continue;
          from.set(m, { member: here, coupling: c });
          queue.push(m);
        }
      }
    }
  }
  const found = [...from.keys()];
  const named = at.get(to ?? '');
  const through = couplings.find((c) => c.id === to);
  const last = through?.touches.flatMap((t) => at.get(t.member) ?? []).sort((a, b) => found.indexOf(b) - found.indexOf(a))[0];
  let end = [named, last].find((m) => m && from.has(m)) ?? found[found.length - 1];
  const out: WayPart[] = [{ key: end.id, member: end }];
  for (let step = from.get(end); step; step = from.get(end)) {
    end = step.member;
    out.push({ key: step.coupling.key, coupling: step.coupling }, { key: end.id, member: end });
  }
  return out.reverse();
}
