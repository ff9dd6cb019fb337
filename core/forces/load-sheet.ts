import { type Design, FRAME, type Id, type Joint, type Source } from '../fields/types';
import { Frame, Vec3, WORLD, cross, norm, toLocalPoint, toLocalVector, vadd, vmap, vscale } from '../math/index';
import { ROUNDING } from './through';
import { movedFrame, type Pose } from '../kinematics/index';
import type { Wrench } from './external';
import { fixedReaction } from './fixed-reaction';
import { type Forces, STANDARD_GRAVITY } from './forces';

/** One line of a load sheet: a force at a point, with a couple. mm, N, N·m in the sheet's frame. */
export interface LoadLine {
  kind: Wrench['kind'];
  /** Joint, coupling or load; empty for weight and inertia. */
  id: Id;
  name: string;
  point: Vec3;
  force: Vec3;
  moment: Vec3;
}

/** Everything that acts on one member at one instant, balanced. */
export interface LoadSheet {
  member: Id;
  /** Members fastened together are one body: all of them. */
  body: Id[];
  /** Frame in which points and forces are stated. */
  frame: Id;
  lines: LoadLine[];
  /** Sum of forces (N), and of moments about the frame's origin (N·m): nothing, up to rounding. */
  sumForce: Vec3;
  sumMoment: Vec3;
  mass: number;
  note: string;
}

/** What acts on every body at one pose, as sheets and bearings read it: made once where many of them are wanted. */
export interface Acting {
  readonly inertia: boolean;
  /** As Forces.reactions gives them. */
  readonly reactions: Float64Array;
  readonly all: readonly Wrench[];
  on(body: number): readonly Wrench[];
}
/** After evaluate() with the same `inertia`. */
export function actingNow(forces: Forces, inertia: boolean): Acting {
  const all = forces.wrenches(inertia);
  const bodies = new Map<number, Wrench[]>();
  for (const w of all) {
    const own = bodies.get(w.body);
    if (own) own.push(w);
    else bodies.set(w.body, [w]);
  }
  return { inertia, reactions: Float64Array.from(forces.reactions(inertia)), all, on: (body) => bodies.get(body) ?? [] };
}

/** Items of a design as sheets ask for them; a design never changes. */
interface Stated {
  readonly names: ReadonlyMap<Id, string>;
  readonly sources: ReadonlyMap<Id, Source>;
  readonly joints: ReadonlyMap<Id, Joint>;
}
const stated = new WeakMap<Design, Stated>();
function statedIn(design: Design): Stated {
  const had = stated.get(design);
  if (had) return had;
  const made: Stated = {
    names: new Map([...design.joints, ...design.couplings, ...design.loads, ...design.sources].map((x) => [x.id, x.name ?? x.id])),
    sources: new Map(design.sources.map((s) => [s.id, s])),
    joints: new Map(design.joints.map((j) => [j.id, j])),
  };
  stated.set(design, made);
  return made;
}
/** A joint of a design by its id. */
export const jointIn = (design: Design, id: Id): Joint | undefined => statedIn(design).joints.get(id);

/** A member's frame at the present pose, mm. */
export function frameNow(m: Pose, member: Id): Frame {
  const f = m.compiled.structure.frames.get(member);
  return !f || member === FRAME ? WORLD : movedFrame(m, member, f);
}

/** Six components of a joint's reaction. N and N·m about the joint's point. */
export interface Reaction {
  force: Vec3;
  moment: Vec3;
  point: Vec3;
}

/**
 * The reaction at a joint after evaluate(): on the carried member by the carrying one, or the other way round, in
 * the frame of any member (or the world's). Includes what a source gives on the joint's own freedom. Point in mm.
 */
export function reactionAt(
  forces: Forces,
  joint: Id,
  on: 'child' | 'parent' = 'child',
  inFrame: Id = FRAME,
  inertia = false,
  acting?: Acting,
): Reaction | undefined {
  const m = forces.pose,
    first = m.compiled.structure.firstOf.get(joint);
  const own = jointIn(m.compiled.design, joint);
  if (own?.type === 'fixed' && !inertia) return fixedAt(forces, own, on, inFrame, acting);
  if (first === undefined || first >= m.kinematics.count || m.compiled.structure.coordinates[first]?.joint.id !== joint) return undefined;
  const R = acting?.reactions ?? forces.reactions(inertia);
  const c = m.compiled.structure.coordinates[first];
  // The parent's side of the tree pushes the body that starts here; a
  // joint met from its child's side has the senses the other way round.
  const s = (on === 'child' ? 1 : -1) * c.sign;
  const f = frameNow(m, inFrame);
  const take = (k: number): Vec3 => toLocalVector(f, [s * R[6 * first + k], s * R[6 * first + k + 1], s * R[6 * first + k + 2]]);
  return {
    force: take(0),
    moment: take(3),
    point: toLocalPoint(f, [1e3 * m.pointNow[3 * first], 1e3 * m.pointNow[3 * first + 1], 1e3 * m.pointNow[3 * first + 2]]),
  };
}

/** The reaction of a fixed joint, in the frame of any member. */
function fixedAt(forces: Forces, joint: Joint, on: 'child' | 'parent', inFrame: Id, acting?: Acting): Reaction | undefined {
  const gravity = forces.pose.compiled.design.settings?.gravity ?? STANDARD_GRAVITY;
  const r = fixedReaction(forces.pose, acting?.all ?? forces.wrenches(), joint, gravity);
  if (!r) return undefined;
  const f = frameNow(forces.pose, inFrame);
  const s = on === 'child' ? 1 : -1;
  return {
    force: toLocalVector(f, vscale(r.force, s)),
    moment: toLocalVector(f, vscale(r.moment, s)),
    point: toLocalPoint(f, vscale(r.point, 1000)),
  };
}

/** What is rounding beside the figures that it came from is nothing. */
const quiet = (v: Vec3, beside: number): Vec3 => vmap(v, (x) => (Math.abs(x) <= ROUNDING * beside ? 0 : x));
/** The largest force, moment and moment of a force about the origin in a sheet. */
const scale = (lines: readonly LoadLine[]): number =>
  lines.reduce((s, l) => Math.max(s, norm(l.force), norm(l.moment), norm(l.force) * norm(l.point) * 1e-3), 0);

/**
 * The load sheet of a member at the mechanism's present pose, after evaluate() with the same `inertia`. In its own frame,
 * or in that of any other member. With inertia counted as a force of its own (d'Alembert), everything adds up to nothing.
 */
export function loadSheet(forces: Forces, member: Id, inFrame: Id = member, inertia = true, acting = actingNow(forces, inertia)): LoadSheet {
  const m = forces.pose,
    { structure, design } = m.compiled;
  const body = structure.bodyOf.get(member) ?? 0;
  const f = frameNow(m, inFrame);
  const { names, sources } = statedIn(design);
  const lines: LoadLine[] = [];
  let sumForce: Vec3 = [0, 0, 0],
    sumMoment: Vec3 = [0, 0, 0];
  const size = (v: Vec3): number => Math.hypot(v[0], v[1], v[2]);
  const all = acting.on(body);
  const most = Math.max(1e-12, ...all.map((w) => Math.max(size(w.force), size(w.moment))));
  for (const w of all) {
    if (size(w.force) < 1e-12 * most && size(w.moment) < 1e-12 * most) continue;
    const point = toLocalPoint(f, [1e3 * w.point[0], 1e3 * w.point[1], 1e3 * w.point[2]]);
    const force = quiet(toLocalVector(f, w.force), most),
      moment = quiet(toLocalVector(f, w.moment), most);
    const source = w.source === undefined ? undefined : sources.get(w.source);
    lines.push({
      kind: w.kind,
      id: source?.id ?? w.id,
      name:
        w.kind === 'weight'
          ? 'Weight'
          : w.kind === 'inertia'
            ? 'Inertia'
            : w.kind === 'source'
              ? (source?.name ?? `what holds ${names.get(w.id) ?? w.id}`)
              : (names.get(w.id) ?? w.id),
      point,
      force,
      moment,
    });
    sumForce = vadd(sumForce, force);
    sumMoment = vadd(sumMoment, vadd(moment, vscale(cross(point, force), 1e-3)));
  }
  return {
    member,
    body: [...structure.bodyOf].filter(([, b]) => b === body).map(([id]) => id),
    frame: inFrame,
    lines,
    sumForce: quiet(sumForce, scale(lines)),
    sumMoment: quiet(sumMoment, scale(lines)),
    mass: forces.bodyMass(body).mass,
    note: inertia ? 'Inertia is listed as a force: the lines add up to nothing.' : 'Without inertia: steady motion.',
  };
}
