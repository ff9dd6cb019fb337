import { Design, Id } from '../fields/types';
import { Frame, Vec3, cross, dot, norm, unit, vadd, vscale, vsub } from '../math/index';
import { compile, setPhases } from '../kinematics/index';
import { hangingBehind, shiftMembers, turnMembers } from './settle';

/** How a member stands to the one that drives it, for placing it by hand. mm, world, reference position. */
export interface Placing {
  coupling: Id;
  member: Id;
  /** The driving axis: a point in the plane of the mesh, and its direction. */
  centre: Vec3;
  axis: Vec3;
  /** From the driving axis to the member's. */
  arm: Vec3;
  distance: number;
  /** Distance without play, where the coupling knows one. */
  working: number | undefined;
  /** A rack or a track: put round its wheel it turns with it, so that it goes on touching it. */
  turns: boolean;
  /** Shift along the axis that brings both faces into one plane. */
  line: number;
}

/** The coupling by which a member is driven on a parallel axis, and how it stands there; undefined where there is none. */
export function placingOf(design: Design, member: Id): Placing | undefined {
  const c = compile(design);
  const start = new Set(c.sources.map((s) => c.structure.coordinates[s.coordinate].joint.child));
  // Breadth first from the sources: the first coupling that reaches the member drives it.
  const seen = new Set<Id>(start);
  const queue = [...seen];
  const order = queue.length ? queue : design.members.slice(0, 1).map((m) => m.id);
  const pairs = c.couplings.flatMap(({ coupling, model }) => {
    const ends = [coupling.a, coupling.b, ...(coupling.wheels ?? [])].map((id) => c.elements.get(id ?? '')).filter((e) => e !== undefined);
    return ends.length >= 2 ? [{ coupling, model, ends }] : [];
  });
  for (let head = 0; head < order.length; head++) {
    for (const p of pairs) {
      const near = p.ends.find((e) => e.member === order[head]);
      if (!near) continue;
      for (const far of p.ends) {
        if (far.member === near.member || seen.has(far.member)) continue;
        seen.add(far.member);
        order.push(far.member);
        if (far.member !== member) continue;
        const a = c.elementFrames.get(near.id) as Frame,
          b = c.elementFrames.get(far.id) as Frame;
        if (Math.abs(dot(a.z, b.z)) < 1 - 1e-9) return undefined;
        const off = vsub(b.o, a.o);
        const along = dot(off, a.z);
        // A rack's pitch line is as far off as it stands from it, wherever along it its middle is.
        const turns = far.type === 'rack' || far.type === 'track';
        const arm = turns ? vscale(b.y, dot(off, b.y)) : vsub(off, vscale(a.z, along));
        if (norm(arm) < 1e-9) return undefined;
        const fit = p.model.fit;
        const working = fit ? norm(arm) + dot(fit.member === member ? fit.by : vscale(fit.by, -1), unit(arm)) : undefined;
        return { coupling: p.coupling.id, member, centre: a.o, axis: a.z, arm, distance: norm(arm), working, turns, line: -along };
      }
    }
  }
  return undefined;
}

/**
 * Moves a member, and what hangs behind it, to a distance (mm) and angle
 * (rad, from where it is) about its driving axis; its mesh gets its phase.
 */
export function placeAround(design: Design, p: Placing, distance: number, angle: number): Design {
  const u = unit(p.arm),
    v = cross(p.axis, u);
  const to = vadd(vscale(u, distance * Math.cos(angle)), vscale(v, distance * Math.sin(angle)));
  const behind = hangingBehind(design, p.coupling, p.member);
  const moved = p.turns
    ? turnMembers(shiftMembers(design, behind, vscale(u, distance - p.distance)), behind, p.centre, p.axis, angle)
    : shiftMembers(design, behind, vsub(to, p.arm));
  return setPhases(moved, new Set([p.coupling])).design;
}

/** Moves a member, and what hangs behind it, along its driving axis, mm. */
export const placeAlong = (design: Design, p: Placing, by: number): Design =>
  shiftMembers(design, hangingBehind(design, p.coupling, p.member), vscale(p.axis, by));
