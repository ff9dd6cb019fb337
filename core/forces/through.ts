import type { Id } from '../fields/types';
import type { Pose } from '../kinematics/index';
import { type Vec3, dot, norm } from '../math/index';
import type { Wrench } from './external';
import { slidesAt } from '../kinematics/index';

/** Part of the figures that it came from below which a sum is rounding. */
export const ROUNDING = 1e-11;

/** What a member is measured about: the main freedom of the joint that is stated to carry it, at the present pose. */
export interface MemberAxis {
  coordinate: number;
  slide: boolean;
  body: number;
  /** +1 where the joint carries it as its child; −1 where only a joint is stated that it carries. */
  sense: number;
}

/**
 * The freedom by which each member is measured; none for what stands on the frame. It is that
 * of the joint whose child it is (on the frame rather than on a member), so that it does not
 * depend on the way in which loops are run through, nor on the order of the document.
 */
export function axesOf(pose: Pose): Map<Id, MemberAxis> {
  const k = pose.kinematics;
  const { structure, design } = k.compiled;
  const body = (id: Id): number => structure.bodyOf.get(id) ?? 0;
  const best = new Map<number, { axis: MemberAxis; rank: string }>();
  const offer = (at: number, coordinate: number, sense: number, rank: string): void => {
    const had = best.get(at);
    if (at !== 0 && (!had || rank < had.rank)) best.set(at, { axis: { coordinate, slide: slidesAt(k, coordinate), body: at, sense }, rank });
  };
  for (const j of design.joints) {
    const first = structure.firstOf.get(j.id);
    if (first === undefined || structure.coordinates[first]?.joint.id !== j.id || body(j.parent) === body(j.child)) continue;
    offer(body(j.child), first, 1, `${body(j.parent) === 0 ? '0' : '1'} ${j.id}`);
    offer(body(j.parent), first, -1, `2 ${j.id}`);
  }
  return new Map(
    design.members.flatMap((m): [Id, MemberAxis][] => {
      const found = best.get(body(m.id));
      return found ? [[m.id, found.axis]] : [];
    }),
  );
}

/**
 * What passes through each member: every moment about (force along) the axis of its joint, signed
 * and summed by neighbour (coupling, joint, source, load, inertia). What drives equals what resists;
 * that is the load. N·m or N. Of members fastened together, which are one body, it is the body's.
 */
export function loadsThrough(pose: Pose, wrenches: readonly Wrench[], axes: ReadonlyMap<Id, MemberAxis>): Map<Id, number> {
  const byBody = new Map<number, Wrench[]>();
  for (const w of wrenches) {
    const list = byBody.get(w.body);
    if (list) list.push(w);
    else byBody.set(w.body, [w]);
  }
  const done = new Map<number, number>();
  const out = new Map<Id, number>();
  for (const [member, axis] of axes) {
    let load = done.get(axis.body);
    if (load === undefined) {
      load = through(pose, axis, byBody.get(axis.body) ?? []);
      done.set(axis.body, load);
    }
    out.set(member, load);
  }
  return out;
}

function through(pose: Pose, { coordinate, slide }: MemberAxis, wrenches: readonly Wrench[]): number {
  const c = 3 * coordinate;
  const [ax, ay, az] = [pose.axisNow[c], pose.axisNow[c + 1], pose.axisNow[c + 2]];
  const [ox, oy, oz] = [pose.pointNow[c], pose.pointNow[c + 1], pose.pointNow[c + 2]];
  const byNeighbour = new Map<string, number>();
  let scale = 0;
  for (const w of wrenches) {
    const [fx, fy, fz] = w.force;
    let part: number;
    if (slide) {
      part = fx * ax + fy * ay + fz * az;
      scale += Math.hypot(fx, fy, fz);
    } else {
      const [x, y, z] = [w.point[0] - ox, w.point[1] - oy, w.point[2] - oz];
      part = (w.moment[0] + y * fz - z * fy) * ax + (w.moment[1] + z * fx - x * fz) * ay + (w.moment[2] + x * fy - y * fx) * az;
      scale += Math.hypot(w.moment[0], w.moment[1], w.moment[2]) + Math.hypot(x, y, z) * Math.hypot(fx, fy, fz);
    }
    const key = `${w.kind} ${w.id}`;
    byNeighbour.set(key, (byNeighbour.get(key) ?? 0) + part);
  }
  let drives = 0;
  for (const part of byNeighbour.values()) if (part > 0) drives += part;
  return drives <= ROUNDING * scale ? 0 : drives;
}

/**
 * What passes through a body along a direction of the world: the sum by
 * neighbours of the forces that drive, which is that of those that resist. N
 */
export function loadAlong(wrenches: readonly Wrench[], body: number, direction: Vec3): number {
  const byNeighbour = new Map<string, number>();
  let scale = 0;
  for (const w of wrenches) {
    if (w.body !== body) continue;
    const key = `${w.kind} ${w.id}`;
    byNeighbour.set(key, (byNeighbour.get(key) ?? 0) + dot(w.force, direction));
    scale += norm(w.force);
  }
  let drives = 0;
  for (const part of byNeighbour.values()) if (part > 0) drives += part;
  return drives <= ROUNDING * scale ? 0 : drives;
}
