import type { Design, Id } from '../fields/types';
import { FRAME } from '../fields/types';
import { Vec3, norm, vadd } from '../math/index';
import { Standing, setPhases } from '../kinematics/index';
import { namedBy } from '../document/index';
import { carryMembers, tidy, turnedAbout } from './frames';

/** A member that was moved to the working distance of a mesh. */
export interface SettleStep {
  coupling: Id;
  members: Id[];
  by: Vec3;
}

const CLOSE = 1e-7;

/**
 * Members that every coupling joins by elements, which have to
 * stand where they meet; what ties joints alone may stand anywhere.
 */
function meetingMembers(design: Design): Map<Id, Id[]> {
  const memberOf = new Map(design.elements.map((e) => [e.id, e.member]));
  return new Map(
    design.couplings.map((c) => [
      c.id,
      [
        ...new Set(
          namedBy('couplings', c)
            .map((x) => memberOf.get(x))
            .filter((m): m is Id => !!m && m !== FRAME),
        ),
      ],
    ]),
  );
}

/**
 * A member with all that hangs behind it, seen from a coupling: what is reached over other
 * couplings, and what the members carry. Members on the near side of the coupling stay out.
 */
export const hangingBehind = (design: Design, coupling: Id, member: Id): Set<Id> => hangingIn(design)(coupling, member);

/** As `hangingBehind`, for many couplings of one design. */
function hangingIn(design: Design): (coupling: Id, member: Id) => Set<Id> {
  const ends = meetingMembers(design);
  const nextTo = new Map<Id, { to: Id; by: Id | undefined }[]>();
  const link = (from: Id, to: Id, by: Id | undefined): void => {
    const list = nextTo.get(from);
    if (list) list.push({ to, by });
    else nextTo.set(from, [{ to, by }]);
  };
  for (const [id, e] of ends) for (const from of e) for (const to of e) if (from !== to) link(from, to, id);
  for (const j of design.joints) if (j.parent !== FRAME && j.child !== FRAME) link(j.parent, j.child, undefined);
  return (coupling, member) => {
    const near = new Set((ends.get(coupling) ?? []).filter((x) => x !== member));
    const moved = new Set<Id>([member]);
    for (const from of moved) {
      for (const { to, by } of nextTo.get(from) ?? []) if (by !== coupling && !near.has(to)) moved.add(to);
    }
    return moved;
  };
}

/** Moves members in the world, mm. */
export const shiftMembers = (design: Design, members: ReadonlySet<Id>, by: Vec3): Design => ({
  ...design,
  members: design.members.map((m) => (members.has(m.id) ? { ...m, at: tidy(vadd(m.at ?? [0, 0, 0], by)) } : m)),
});

/** Turns members as one about a line. rad, mm. */
export const turnMembers = (design: Design, members: ReadonlySet<Id>, o: Vec3, axis: Vec3, angle: number): Design =>
  carryMembers(design, members, turnedAbout(o, axis, angle));

/**
 * Brings a train to its working distances and puts teeth into spaces, from the sources outward: each mesh
 * moves its driven member, and what hangs behind it, along its line of centres. Meshes that close a loop
 * are left to the findings. Nothing is moved unasked: this is called by a person. Gives a new design.
 */
export function settle(design: Design): { design: Design; steps: SettleStep[] } {
  const steps: SettleStep[] = [];
  let current = design;
  const ends = meetingMembers(design);
  // Order of couplings from the sources, breadth first over members.
  const roots = design.sources.map((s) => design.joints.find((j) => j.id === String(s.joint).split(':')[0])?.child).filter((m): m is Id => !!m);
  const seen = new Set<Id>(roots.length ? roots : design.members.slice(0, 1).map((m) => m.id));
  const queue = [...seen];
  const order: { coupling: Id; far: Id[] }[] = [];
  const done = new Set<Id>();
  while (queue.length) {
    const m = queue.shift()!;
    for (const c of design.couplings) {
      const e = ends.get(c.id)!;
      if (done.has(c.id) || !e.includes(m)) continue;
      done.add(c.id);
      const far = e.filter((x) => !seen.has(x));
      order.push({ coupling: c.id, far });
      for (const x of far) {
        seen.add(x);
        queue.push(x);
      }
    }
  }
  const standing = new Standing(design);
  const couplingOf = new Map(design.couplings.map((c) => [c.id, c]));
  const behind = hangingIn(design);
  for (const { coupling, far } of order) {
    const fit = standing.model(couplingOf.get(coupling)!)?.fit;
    if (!fit || !fit.by.every(Number.isFinite) || norm(fit.by) < CLOSE || far.length !== 1) continue;
    const move: Vec3 = fit.member === far[0] ? fit.by : [-fit.by[0], -fit.by[1], -fit.by[2]];
    const moved = behind(coupling, far[0]);
    current = shiftMembers(current, moved, move);
    standing.move(current.members.filter((m) => moved.has(m.id)));
    steps.push({ coupling, members: [...moved], by: move });
  }
  return { design: setPhases(current).design, steps };
}
