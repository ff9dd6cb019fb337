import type { Design, Id } from '../fields/types';
import { FRAME } from '../fields/types';
import { Vec3, norm, vadd } from '../math/index';
import { compile, setPhases } from '../kinematics/index';
import { namedBy } from '../document/index';
import { carryMembers, tidy, turnedAbout } from './frames';

/** A member that was moved to the working distance of a mesh. */
export interface SettleStep {
  coupling: Id;
  members: Id[];
  by: Vec3;
}

const CLOSE = 1e-7;

/** Members that every coupling joins by elements, which have to stand where they meet; what ties joints alone may stand anywhere. */
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
 * A member with all that hangs behind it, seen from a coupling: what is reached over other couplings, and what the members carry. Members on the near
 * side of the coupling stay out.
 */
export function hangingBehind(design: Design, coupling: Id, member: Id): Set<Id> {
  const ends = meetingMembers(design);
  const near = (ends.get(coupling) ?? []).filter((x) => x !== member);
  const moved = new Set<Id>([member]);
  for (let grew = true; grew;) {
    grew = false;
    for (const [id, e] of ends) {
      if (id !== coupling && e.some((x) => moved.has(x))) for (const x of e) if (!moved.has(x) && !near.includes(x)) grew = !!moved.add(x);
    }
    for (const j of design.joints) {
      if (moved.has(j.parent) && j.child !== FRAME && !moved.has(j.child) && !near.includes(j.child)) grew = !!moved.add(j.child);
    }
  }
  return moved;
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
 * Brings a train to its working distances and puts teeth into spaces, from the sources outward: each mesh moves its driven member, and
 * what hangs behind it, along its line of centres. Meshes that close a loop are left to the findings. Nothing is moved unasked: this is
 * called by a person. Gives a new design.
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
  for (const { coupling, far } of order) {
    const fit = compile(current).couplings.find((c) => c.coupling.id === coupling)?.model.fit;
    if (!fit || !fit.by.every(Number.isFinite) || norm(fit.by) < CLOSE || far.length !== 1) continue;
    const move: Vec3 = fit.member === far[0] ? fit.by : [-fit.by[0], -fit.by[1], -fit.by[2]];
    const moved = hangingBehind(current, coupling, far[0]);
    current = shiftMembers(current, moved, move);
    steps.push({ coupling, members: [...moved], by: move });
  }
  return { design: setPhases(current).design, steps };
}
