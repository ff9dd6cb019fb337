import { FRAME, type Id, type Joint } from '../fields/types';
import type { ActingLoad } from '../loads/index';
import type { Pose } from '../kinematics/index';
import { PLACEMENT, type Vec3, cross, movePoint, vadd, vscale, vsub } from '../math/index';
import type { Wrench } from './external';
import { massesOf } from './masses';

/** Force on a carried member by the carrying one, and moment about the joint's point; in the world, N, N·m and m. */
export interface FixedReaction {
  force: Vec3;
  moment: Vec3;
  point: Vec3;
}

const NONE: Vec3 = [0, 0, 0];

/**
 * The members that hang on the child of a fixed joint, fastened to it
 * by other fixed joints; undefined where these lead back to the parent.
 */
function fastened(joints: readonly Joint[], joint: Joint): Set<Id> | undefined {
  const side = new Set([joint.child]);
  for (let grew = true; grew;) {
    grew = false;
    for (const j of joints) {
      if (j.id === joint.id || j.type !== 'fixed' || side.has(j.parent) === side.has(j.child)) continue;
      side.add(j.parent).add(j.child);
      grew = true;
    }
  }
  return side.has(joint.parent) || side.has(FRAME) ? undefined : side;
}

/**
 * What a fixed joint carries, standing still or in steady motion: its two members are one
 * body, so it is the sum of what couplings, joints, loads and weight put on the side of its
 * child. Undefined where other fixed joints carry as well, so that statics leaves it open.
 */
export function fixedReaction(pose: Pose, wrenches: readonly Wrench[], joint: Joint, gravity: Vec3): FixedReaction | undefined {
  const { compiled } = pose;
  const { structure, design } = compiled;
  const side = fastened(design.joints, joint);
  const frame = structure.jointFrames.get(joint.id);
  if (!side || !frame) return undefined;
  const body = structure.bodyOf.get(joint.child) ?? 0;
  const here = (id: Id | undefined): boolean => id !== undefined && (structure.bodyOf.get(id) ?? 0) === body;
  const h = new Float64Array(3);
  const now = (mm: Vec3): Vec3 => {
    movePoint(h, 0, pose.placements, PLACEMENT * body, mm[0] / 1000, mm[1] / 1000, mm[2] / 1000);
    return [h[0], h[1], h[2]];
  };
  const point = now(frame.o);
  /** Which of the body's members a wrench is on. */
  const owner = (w: Wrench): Id | undefined => {
    if (w.kind === 'coupling') {
      const ports = compiled.couplings.filter((c) => c.coupling.id === w.id).flatMap((c) => c.model.ports);
      return ports.find((p) => here(p.member))?.member ?? ports.find((p) => here(p.carrier))?.carrier;
    }
    const load: ActingLoad | undefined = w.kind === 'load' ? design.loads.find((l) => l.id === w.id) : undefined;
    const members = [load?.member, load?.other].filter((x) => x !== undefined);
    if (members.length) return members.find(here);
    const id = load ? String(load.joint).split(':')[0] : w.id;
    const j = design.joints.find((x) => x.id === id);
    return j && (here(j.child) ? j.child : here(j.parent) ? j.parent : undefined);
  };
  let force = NONE,
    moment = NONE;
  const add = (at: Vec3, f: Vec3, m: Vec3): void => {
    force = vadd(force, f);
    moment = vadd(moment, vadd(m, cross(vsub(at, point), f)));
  };
  for (const w of wrenches) {
    if (w.body !== body || w.kind === 'weight' || w.kind === 'inertia') continue;
    const on = owner(w);
    if (on !== undefined && side.has(on)) add(w.point, w.force, w.moment);
  }
  for (const [member, m] of massesOf(compiled)) if (side.has(member) && m.mass > 0) add(now(m.centre), vscale(gravity, m.mass), NONE);
  return { force: vscale(force, -1), moment: vscale(moment, -1), point };
}
