import { couplingKind } from '../couplings/index';
import type { DrivingSource } from '../document/index';
import { elementKind, num } from '../elements/index';
import {
  type Coupling,
  type Design,
  type Element,
  FRAME,
  type Id,
  type Joint,
  type Load,
  type Member,
  type Place,
  type Source,
} from '../fields/types';
import { statedBy } from '../fields/fields';
import { freedomsOf, senseInMirror } from '../joints/index';
import type { ActingLoad } from '../loads/index';
import { type Vec3, dot, localFrame, vadd, vscale, vsub } from '../math/index';
import { carryElements, carryMembers, tidy } from './frames';

/** A plane through a point (mm), across a direction. */
export interface Plane {
  readonly point: Vec3;
  readonly axis: Vec3;
}

/** In a mirrored member's frame, x and z mirrored and y the other way, what is stated is mirrored in y. */
const local = (v: Vec3): Vec3 => tidy([v[0], -v[1], v[2]]);

function turned<T extends Place>(x: T): T {
  const f = localFrame(x);
  return { ...x, ...(x.at && { at: local(f.o) }), ...((x.axis ?? x.up) && { axis: local(f.z), up: local(f.x) }) };
}

/** Half a turn about its own z. */
const halfTurned = <T extends Place>(x: T): T => ({ ...x, axis: tidy(localFrame(x).z), up: tidy(vscale(localFrame(x).x, -1)) });

const other = (v: unknown): number | undefined => (v === undefined ? undefined : -num(v as number | string) + 0);

/** A mirrored joint: what turned one way turns the other, so that its stops change places. */
function mirroredJoint(j: Joint): Joint {
  const out: Record<string, unknown> = { ...turned(j) };
  const stated = statedBy(j);
  freedomsOf(j).forEach((freedom, order) => {
    if (senseInMirror(freedom) > 0) return;
    const key = (name: string): string => (order ? `${name}${order + 1}` : name);
    const next = { lower: other(stated[key('upper')]), upper: other(stated[key('lower')]), home: other(stated[key('home')]) };
    for (const [name, v] of Object.entries(next)) {
      if (v === undefined) delete out[key(name)];
      else out[key(name)] = v;
    }
  });
  // Of stops where faces meet, each is where the other was.
  if (freedomsOf(j)[0] && senseInMirror(freedomsOf(j)[0]) < 0) {
    [out['lowerFaces'], out['upperFaces']] = [j.upperFaces, j.lowerFaces];
    for (const key of ['lowerFaces', 'upperFaces']) if (out[key] === undefined) delete out[key];
  }
  if (j.type === 'screw') out['hand'] = stated['hand'] === 'left' ? 'right' : 'left';
  return out as unknown as Joint;
}

/** An element where it stands in the mirror; or why there is none. */
function mirroredElement(e: Element): Element | string {
  const kind = elementKind(e.type);
  const changes = kind?.mirrored?.(e) ?? {};
  if (typeof changes === 'string') return changes;
  return { ...(kind?.turnedInMirror ? halfTurned(e) : e), ...changes };
}

/**
 * Mirrors items of a design in their place: members with all on them, elements by themselves on members
 * that stay, and what is stated of and between them. A sentence where one has no picture in a mirror.
 */
export function mirrorItems(design: Design, ids: ReadonlySet<Id>, plane: Plane): Design | string {
  const flip = (v: Vec3): Vec3 => vsub(v, vscale(plane.axis, 2 * dot(v, plane.axis)));
  const point = (p: Vec3): Vec3 => vadd(plane.point, flip(vsub(p, plane.point)));
  const go = { point, vector: flip };
  const members = new Set(design.members.filter((m) => ids.has(m.id)).map((m) => m.id));
  const loose = new Set(design.elements.filter((e) => ids.has(e.id) && !members.has(e.member)).map((e) => e.id));
  const d = carryElements(carryMembers(design, members, go), loose, go);
  const elements: Element[] = [];
  for (const e of d.elements) {
    const m = ids.has(e.id) ? mirroredElement(loose.has(e.id) ? e : turned(e)) : e;
    if (typeof m === 'string') return m;
    elements.push(m);
  }
  const joints = new Map(d.joints.map((j) => [j.id, j]));
  const sense = (ref: unknown): 1 | -1 => {
    const [id, order = '0'] = String(ref).split(':');
    const j = joints.get(id);
    const freedom = j && freedomsOf(j)[Number(order)];
    return j && freedom && ids.has(id) ? senseInMirror(freedom) : 1;
  };
  const on = (member: Id | undefined, p: Vec3 | undefined): Vec3 | undefined =>
    p && (member === undefined || member === FRAME ? tidy(point(p)) : local(p));
  const mirroredLoad = (l: Load): Load => {
    const x: ActingLoad & { torque?: Vec3; free?: number; preload?: number } = { ...l };
    if (x.member !== undefined) {
      const onMember = x.follows === true;
      if (x.at) x.at = on(x.member, x.at);
      if (x.force) x.force = onMember ? local(x.force) : tidy(flip(x.force));
      if (x.torque) x.torque = tidy(vscale(onMember ? local(x.torque) : flip(x.torque), -1));
      if (l.type === 'spring') x.otherAt = on(x.other, x.otherAt ?? [0, 0, 0]);
    } else if (sense(x.joint) < 0) {
      if (l.type === 'joint-load') x.value = other(x.value);
      if (l.type === 'joint-spring') Object.assign(x, { free: other(x.free ?? 0), preload: other(x.preload ?? 0) });
    }
    return x;
  };
  const mirroredSource = (s: Source): Source => {
    const x: DrivingSource = { ...s };
    const own = sense(s.joint) < 0,
      moved = sense(x.motionOf ?? s.joint) < 0;
    if (!own && !moved) return s;
    const turnOver = (...keys: readonly ('speed' | 'amount' | 'torque' | 'noLoad')[]): void => {
      for (const key of keys) if (x[key] !== undefined) x[key] = other(x[key]);
    };
    if (own) turnOver('speed', 'torque', 'noLoad');
    // A motion is of the joint for which it is stated.
    if (moved) turnOver('amount');
    if (moved && x.ramps) x.ramps = x.ramps.map((r) => ({ ...r, speed: -r.speed + 0 }));
    if (moved && x.table) x.table = x.table.map((r) => ({ ...r, value: -r.value + 0 }));
    if (own && x.line) x.line = x.line.map((r) => ({ speed: -r.speed + 0, torque: -r.torque + 0 })).reverse();
    return x;
  };
  // In the member's frame y is turned round.
  const mirroredMass = ({ massCentre, inertiaProducts: p }: Member): Partial<Member> => ({
    ...(massCentre && { massCentre: local(massCentre) }),
    ...(p && { inertiaProducts: [-p[0] + 0, -p[1] + 0, p[2]] }),
  });
  const mirroredCoupling = (c: Coupling): Coupling => ({ ...c, ...couplingKind(c.type)?.mirrored?.(c, sense) });
  return {
    ...d,
    members: d.members.map((m): Member => (members.has(m.id) ? { ...m, ...mirroredMass(m) } : m)),
    elements,
    joints: d.joints.map((j) => (ids.has(j.id) ? mirroredJoint(j) : j)),
    couplings: d.couplings.map((c) => (ids.has(c.id) ? mirroredCoupling(c) : c)),
    sources: d.sources.map((s) => (ids.has(s.id) ? mirroredSource(s) : s)),
    loads: d.loads.map((l) => (ids.has(l.id) ? mirroredLoad(l) : l)),
  };
}
