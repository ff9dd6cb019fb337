import { unusedName } from '../document/index';
import { elementKind, extentOf, num } from '../elements/index';
import { type Design, type Element, FRAME, type Id, type Joint } from '../fields/types';
import { type Compiled, type Pose, compile, movedFrame, poseOf, slidesAt } from '../kinematics/index';
import {
  type Frame,
  LeastSquares,
  type Vec3,
  WORLD,
  across,
  cross,
  dot,
  norm,
  toWorldPoint,
  toWorldVector,
  unit,
  vadd,
  vmap,
  vscale,
  vsub,
} from '../math/index';
import { copyItems, freshId, idsOf, pasteItems } from '../edits/items';
import { beginningSizes, isInch } from '../edits/inch';
import { mirrorItems } from '../edits/mirror';
import { type Going, carryElements, carryMembers, coupledMembers, elementFrame, statedOn, tidy, turnedAbout } from '../edits/frames';

/** A place of an element that things can be put together by: a point with a direction. World, reference position, mm. */
export interface Feature {
  /** "element:key". */
  ref: string;
  element: Id;
  member: Id;
  label: string;
  point: Vec3;
  /** The axis of an eye or a round bar, the outward direction of a face, the line of an edge. */
  axis: Vec3;
  /** Direction in which a slot through this place runs: along the element's length. */
  slot: Vec3;
}

/** What joins two features: joints, or only a place. */
export type Join = 'pin' | 'pin-in-slot' | 'slide' | 'fixed' | 'flush' | 'coaxial' | 'apart';

/** A side as people see it: by the direction of the world into which it looks. */
function side(v: Vec3): string {
  const k = [0, 1, 2].sort((a, b) => Math.abs(v[b]) - Math.abs(v[a]))[0];
  return [
    ['left', 'right'],
    ['front', 'back'],
    ['bottom', 'top'],
  ][k][v[k] > 0 ? 1 : 0];
}

/** Where an element can be put together with others: its axis, its eyes, the middles of its sides, and the edges of a block. */
export function featuresOf(d: Design, e: Element): Feature[] {
  const kind = elementKind(e.type);
  const box = kind && extentOf(kind, e);
  if (!kind || !box) return [];
  const f = elementFrame(d, e);
  const out: Feature[] = [];
  const put = (key: string, label: string, p: Vec3, axis: Vec3): void => {
    out.push({
      ref: `${e.id}:${key}`,
      element: e.id,
      member: e.member,
      label: `${e.name}, ${label}`,
      point: toWorldPoint(f, p),
      axis: toWorldVector(f, axis),
      slot: Math.abs(axis[0]) < 0.5 ? f.x : f.y,
    });
  };
  if (e.type === 'lever') {
    const l = num((e as { length?: number }).length ?? 0);
    put('eye', 'first eye', [0, 0, 0], [0, 0, 1]);
    put('other', 'other eye', [l, 0, 0], [0, 0, 1]);
    put('middle', 'middle', [l / 2, 0, 0], [0, 0, 1]);
    return out;
  }
  put('axis', 'axis', [0, 0, 0], [0, 0, 1]);
  const [lo, hi] = box;
  const mid = vscale(vadd(lo, hi), 0.5);
  const faces: [string, Vec3][] = [];
  for (const k of [0, 1, 2]) {
    for (const s of [1, -1]) {
      const n: Vec3 = [k === 0 ? s : 0, k === 1 ? s : 0, k === 2 ? s : 0];
      const p = vmap(mid, (x, i) => (i === k ? (s > 0 ? hi[k] : lo[k]) : x));
      faces.push([`${s > 0 ? '+' : '-'}${'xyz'[k]}`, n]);
      put(`${s > 0 ? '+' : '-'}${'xyz'[k]}`, `${side(toWorldVector(f, n))} face`, p, n);
    }
  }
  if (e.type === 'block') {
    faces.forEach(([ka, a], i) =>
      faces.slice(i + 1).forEach(([kb, b]) => {
        if (Math.abs(dot(a, b)) > 0.5) return;
        const p = vmap(mid, (x, k) => (a[k] + b[k] > 0.5 ? hi[k] : a[k] + b[k] < -0.5 ? lo[k] : x));
        const names = [side(toWorldVector(f, a)), side(toWorldVector(f, b))].sort((x) => (x === 'top' || x === 'bottom' ? -1 : 1));
        put(`${ka}${kb}`, `${names.join(' ')} edge`, p, vmap(cross(a, b), Math.abs));
      }),
    );
  }
  return out;
}

/** A feature by its name; undefined where there is none. */
export function featureAt(d: Design, ref: string): Feature | undefined {
  const e = d.elements.find((x) => x.id === ref.split(':')[0]);
  return e && featuresOf(d, e).find((x) => x.ref === ref);
}

/** The members that each joint and each coupling ties, the frame with them. */
const tiesOf = (d: Design): Id[][] => [...d.joints.map((j) => [j.parent, j.child]), ...coupledMembers(d, true).values()];

/** Members that joints and couplings tie to one, without passing the frame; and whether the frame is one of those tied. */
function cluster(d: Design, member: Id): { members: Set<Id>; grounded: boolean } {
  const out = new Set([member]);
  let grounded = member === FRAME;
  const ties = tiesOf(d);
  for (let grew = true; grew;) {
    grew = false;
    for (const t of ties) {
      if (!t.some((m) => m !== FRAME && out.has(m))) continue;
      for (const m of t) {
        if (m === FRAME) grounded = true;
        else if (!out.has(m)) grew = !!out.add(m);
      }
    }
  }
  return { members: out, grounded };
}

/** The way from a to b as one rigid thing, by which what points along `from` comes to point along `to`. */
function bringing(a: Vec3, b: Vec3, from: Vec3, to: Vec3): Going {
  const axis = cross(from, to);
  const s = norm(axis);
  const turn = turnedAbout(a, s > 1e-12 ? vscale(axis, 1 / s) : across(from), Math.atan2(s, dot(from, to)));
  const by = vsub(b, a);
  return { point: (p) => vadd(turn.point(p), by), vector: (v) => turn.vector(v) };
}

/** What is left between two features, of what the join asks for, m and rad; the parts of it that count. */
function apart(join: Join, a: Feature, b: Feature, goal: { along?: number; across?: number; angle?: number }): number[] {
  const off = vscale(vsub(a.point, b.point), 1e-3);
  const [u, v] = [across(b.axis), cross(b.axis, across(b.axis))];
  const tilt = cross(a.axis, b.axis);
  const axes = [dot(tilt, u), dot(tilt, v)];
  switch (join) {
    case 'flush':
      return [dot(off, b.axis), ...axes];
    case 'apart': {
      const t = target(b, goal);
      return [0, 1, 2].map((k) => (a.point[k] - t[k]) / 1000);
    }
    case 'pin-in-slot': {
      const w = cross(b.axis, b.slot);
      return [dot(off, w), ...axes];
    }
    default:
      return [dot(off, u), dot(off, v), ...axes];
  }
}

/** Where a feature has to go that stands apart from another: along its axis, and across it at an angle. */
function target(b: Feature, goal: { along?: number; across?: number; angle?: number }): Vec3 {
  const u = unit(b.slot),
    v = cross(b.axis, u);
  const t = ((goal.angle ?? 0) * Math.PI) / 180;
  const r = goal.across ?? 0;
  return vadd(b.point, vadd(vscale(b.axis, goal.along ?? 0), vadd(vscale(u, r * Math.cos(t)), vscale(v, r * Math.sin(t)))));
}

/** A feature as it stands at a pose. */
function at(pose: Pose, f: Feature): Feature {
  const frame: Frame = { o: f.point, x: f.slot, y: cross(f.axis, f.slot), z: f.axis };
  const m = movedFrame(pose, f.member, frame);
  return { ...f, point: m.o, axis: m.z, slot: m.x };
}

const LARGEST = 0.3;
/** A metre of travel counts as ten radians of turn: things are turned into place before they are pushed. */
const TRAVEL = 10;
const NEAR = 1e-10;

/** Moves a mechanism within its freedoms until two features meet as asked. Gives how far they are apart then, m or rad. */
function bring(
  pose: Pose,
  join: Join,
  a: Feature,
  b: Feature,
  goal: { along?: number; across?: number; angle?: number },
  held: readonly number[],
): number {
  const { kinematics: k } = pose;
  const closes = k.constraintRows > 0;
  const stand = held.map((i) => pose.q[i]);
  const size = (r: readonly number[]): number => Math.hypot(...r);
  const left = (): number[] => apart(join, at(pose, a), at(pose, b), goal);
  const put = (u: ArrayLike<number>): void => {
    pose.setFree(u);
    if (closes || held.length) pose.solve(held, stand, held.length);
  };
  const rates = new Float64Array(k.count);
  let r = left();
  for (let step = 0; step < 300 && size(r) > NEAR; step++) {
    const basis = pose.freedoms(held);
    if (!basis.length) break;
    const u0 = Float64Array.from(pose.u);
    const ls = new LeastSquares(r.length, basis.length);
    ls.begin(r.length, basis.length);
    const weights = basis.map((v) => {
      pose.spreadRates(v, rates);
      let w = 0;
      for (let i = 0; i < k.count; i++) w += (rates[i] * (slidesAt(k, i) ? TRAVEL : 1)) ** 2;
      return Math.sqrt(w) || 1;
    });
    basis.forEach((v, j) => {
      const h = 1e-6 / weights[j];
      pose.setFree(u0.map((x, i) => x + h * v[i]));
      left().forEach((x, i) => (ls.a[j * r.length + i] = (x - r[i]) / 1e-6));
    });
    r.forEach((x, i) => (ls.b[i] = -x));
    ls.factor(1e-7);
    const x = ls.solve().slice(0, basis.length);
    const long = Math.hypot(...x);
    if (long < 1e-13) break;
    let part = Math.min(1, LARGEST / long);
    let better = false;
    for (let half = 0; half < 12 && !better; half++, part /= 2) {
      put(u0.map((q, i) => q + part * basis.reduce((s, v, j) => s + (x[j] / weights[j]) * v[i], 0)));
      const now = left();
      better = size(now) < size(r);
      if (better) r = now;
    }
    if (!better) {
      put(u0);
      break;
    }
  }
  return size(r);
}

/**
 * Coordinates of what stands already: of joints between members that more than one
 * tie holds. What hangs on one tie alone is turned into place before these are moved.
 */
function standing(c: Compiled): number[] {
  const d = c.design;
  let ties = tiesOf(d);
  const hanging = new Set<Id>();
  for (let pruned = true; pruned;) {
    pruned = false;
    for (const m of d.members) {
      if (hanging.has(m.id) || ties.filter((t) => t.includes(m.id)).length > 1) continue;
      hanging.add(m.id);
      ties = ties.filter((t) => !t.includes(m.id));
      pruned = true;
    }
  }
  return c.structure.coordinates.filter((q) => !hanging.has(q.joint.child) && !hanging.has(q.joint.parent)).map((q) => q.index);
}

/**
 * The design with the place that a mechanism stands at as its reference
 * position: stops and homes are restated, so that nothing else changes.
 */
function settled(c: Compiled, pose: Pose): Design {
  const d = c.design;
  const members = d.members.map((m) => {
    const f = movedFrame(pose, m.id, c.structure.frames.get(m.id) ?? WORLD);
    return { ...m, at: tidy(f.o), axis: tidy(f.z), up: tidy(f.x) };
  });
  const joints = d.joints.map((j) => {
    const first = c.structure.firstOf.get(j.id);
    if (first === undefined) return j;
    const next: Record<string, unknown> = { ...j };
    for (const q of c.structure.coordinates) {
      if (q.joint.id !== j.id) continue;
      const by = (pose.q[q.index] / pose.kinematics.scale[q.index]) * (q.motion === 'slide' ? 1 : 360);
      for (const key of ['lower', 'upper', 'home']) {
        const field = q.order ? `${key}${q.order + 1}` : key;
        if (next[field] !== undefined && Math.abs(by) > 1e-9) next[field] = Number((num(next[field] as number | string) - by).toFixed(9));
      }
    }
    return next as unknown as Joint;
  });
  return { ...d, members, joints };
}

/** A design in which two things were connected. */
export interface Built {
  design: Design;
  /** The joint that was put in, where one was. */
  joint?: Id;
  problem?: undefined;
}
/** Why two things could not be connected. */
export interface NotBuilt {
  problem: string;
}

/**
 * Connects two things by a feature of each. What hangs on nothing yet is carried there as it is; what is part of a
 * mechanism is moved within its freedoms until the two meet. Where the features turn, slide or are fixed on each other,
 * a joint is made as well. `goal`, mm and deg: where the first stands seen from the second, for `apart`.
 */
export function joinFeatures(
  design: Design,
  join: Join,
  first: string,
  second: string,
  goal: { along?: number; across?: number; angle?: number } = {},
): Built | NotBuilt {
  const a0 = featureAt(design, first),
    b0 = featureAt(design, second);
  if (!a0 || !b0) return { problem: 'One of the two is no longer there' };
  const joint = join !== 'flush' && join !== 'coaxial' && join !== 'apart';
  if (a0.element === b0.element || (joint && a0.member === b0.member)) {
    return { problem: joint ? 'Both are on the same member: a joint needs two' : 'Both are on the same thing: choose another' };
  }
  let d = design;
  if (join !== 'slide') {
    const [ca, cb] = [cluster(d, a0.member), cluster(d, b0.member)];
    // Elements of the frame are put in place one by one.
    const own = a0.member === FRAME && a0.member === b0.member;
    const asPlaced = (x: Feature, y: Feature): { to: Vec3; axis: Vec3 } => {
      const same = dot(x.axis, y.axis) >= 0 ? 1 : -1;
      if (join === 'flush') return { to: vadd(x.point, vscale(y.axis, dot(vsub(y.point, x.point), y.axis))), axis: vscale(y.axis, -1) };
      if (join === 'apart') return { to: target(y, goal), axis: x.axis };
      return { to: y.point, axis: vscale(y.axis, same) };
    };
    if (own || (a0.member === FRAME && !joint)) {
      const { to, axis } = asPlaced(a0, b0);
      d = carryElements(d, new Set([a0.element]), bringing(a0.point, to, a0.axis, axis));
    } else if (!ca.grounded && !ca.members.has(b0.member)) {
      const { to, axis } = asPlaced(a0, b0);
      d = carryMembers(d, ca.members, bringing(a0.point, to, a0.axis, axis));
    } else if (!cb.grounded && !cb.members.has(a0.member)) {
      const { to, axis } = asPlaced(b0, a0);
      d = carryMembers(d, cb.members, bringing(join === 'apart' ? target(b0, goal) : b0.point, join === 'apart' ? a0.point : to, b0.axis, axis));
    } else {
      const c = compile(d);
      const pose = poseOf(c);
      const start = Float64Array.from(pose.u);
      const held = standing(c);
      let rest = Infinity;
      // First with what stands left alone, then with all that can move; from a place
      // where links lie in line no small step helps: then from places beside it.
      for (const stand of held.length ? [held, []] : [[]]) {
        for (let tries = 0; rest > 1e-7 && tries <= 4; tries++) {
          pose.setFree(start.map((q, i) => q + (tries ? 0.5 * Math.sin(2.4 * (i + 1) * tries) : 0)));
          if (c.structure.closures.length || stand.length) {
            pose.solve(
              stand,
              stand.map(() => 0),
              stand.length,
            );
          }
          rest = bring(pose, join, a0, b0, goal, stand);
        }
        if (!start.length) break;
      }
      if (rest > 1e-7) {
        const [x, y] = [at(pose, a0), at(pose, b0)];
        const tilt = (Math.asin(Math.min(1, norm(cross(x.axis, y.axis)))) * 180) / Math.PI;
        const off = Math.hypot(...apart(join, { ...x, axis: y.axis }, y, goal)) * 1000;
        const why =
          tilt > 0.01 && off < 1
            ? `their directions stand at ${Number(tilt.toPrecision(3))}° to each other`
            : `about ${Number(off.toPrecision(2))} mm stay between them`;
        return { problem: `These cannot be brought together within the freedoms that are left: ${why}` };
      }
      const cams = c.couplings.some(({ coupling }) => coupling.type === 'cam-contact');
      if (cams && pose.q.some((q) => Math.abs(q) > 1e-9)) {
        return { problem: 'The train would have to move, and a cam’s law counts from where it stands: turn it there first' };
      }
      d = settled(c, pose);
    }
  }
  if (!joint) return { design: d };
  // The frame carries and is not carried.
  const [childRef, parentRef] = a0.member === FRAME ? [second, first] : [first, second];
  const child = featureAt(d, childRef)!,
    parent = featureAt(d, parentRef)!;
  const nameOf = (m: Id): string => (m === FRAME ? 'the frame' : (d.members.find((x) => x.id === m)?.name ?? m));
  const { type, word } = JOINTS[join as keyof typeof JOINTS];
  // A slide runs along what the other one shows; a slot along its thing.
  const z = join === 'slide' && a0.member === FRAME ? child.axis : parent.axis;
  const x = join === 'pin-in-slot' ? featureAt(d, second)!.slot : across(z);
  const made = {
    id: freshId(idsOf(d), 'joint'),
    name: unusedName(`${nameOf(child.member)} on ${nameOf(parent.member)}, ${word}`, new Set(d.joints.map((j) => j.name))),
    type,
    parent: parent.member,
    child: child.member,
    ...statedOn(d, child.member, { o: child.point, x, y: cross(z, x), z }),
  } as Joint;
  return { design: { ...d, joints: [...d.joints, made] }, joint: made.id };
}
const JOINTS = {
  pin: { type: 'revolute', word: 'pin' },
  'pin-in-slot': { type: 'pin-in-slot', word: 'slot' },
  slide: { type: 'prismatic', word: 'guide' },
  fixed: { type: 'fixed', word: 'seat' },
};

/** A copy of items: what is new, the members among it, and the elements on members that stay. */
function copied(design: Design, ids: readonly Id[]): { design: Design; fresh: Set<Id>; members: Set<Id>; loose: Set<Id> } | NotBuilt {
  const part = copyItems(design, ids);
  if (!part.members.length && !part.elements.length) return { problem: 'Select members or elements to copy' };
  const { design: d, made } = pasteItems(design, part);
  const fresh = new Set(made);
  const members = new Set(d.members.filter((m) => fresh.has(m.id)).map((m) => m.id));
  return { design: d, fresh, members, loose: new Set(d.elements.filter((e) => fresh.has(e.id) && !members.has(e.member)).map((e) => e.id)) };
}

/** Copies of items in a ring about a feature's axis, evenly or by an angle, deg; with the first there are as many as stated. */
export function arrayAround(design: Design, ids: readonly Id[], about: string, count: number, step = 360 / count): Built | NotBuilt {
  const f = featureAt(design, about);
  if (!f) return { problem: 'Choose what the copies go round' };
  if (!Number.isInteger(count) || count < 2 || count > 360) return { problem: 'State how many there are in all, from 2 to 360' };
  let d = design;
  for (let k = 1; k < count; k++) {
    const c = copied(d, ids);
    if ('problem' in c) return c;
    const go = turnedAbout(f.point, f.axis, (k * step * Math.PI) / 180);
    d = carryElements(carryMembers(c.design, c.members, go), c.loose, go);
  }
  return { design: d };
}

/**
 * A mirrored copy of items, in the plane through a feature across
 * its direction: hands, phases and senses are those of the picture.
 */
export function mirrored(design: Design, ids: readonly Id[], plane: string): Built | NotBuilt {
  const p = featureAt(design, plane);
  if (!p) return { problem: 'Choose a face or an axis: the mirror stands across it' };
  const c = copied(design, ids);
  if ('problem' in c) return c;
  const d = mirrorItems(c.design, c.fresh, p);
  return typeof d === 'string' ? { problem: d } : { design: d };
}

/** What a new member of a kind is made of to begin with, and how it lies, so that it can be seen and taken hold of. */
const BEGIN: Readonly<Record<string, { type: string; name: string; fields: Record<string, unknown> }>> = {
  shaft: { type: 'rod', name: 'Bar', fields: { diameter: 20, length: 200 } },
  slide: { type: 'block', name: 'Block', fields: { length: 120, depth: 60, height: 60 } },
  carrier: { type: 'lever', name: 'Arm', fields: { length: 120, eye: 40, thickness: 12 } },
  lever: { type: 'lever', name: 'Bar', fields: { length: 300, eye: 40, hole: 20, thickness: 12 } },
  body: { type: 'block', name: 'Block', fields: { length: 300, depth: 200, height: 20 } },
};

/** A new part beside what is there: a member with an element to begin with, or an element of the frame. Selects nothing. */
export function addPart(design: Design, kind: string): { design: Design; member: Id; element: Id } {
  const ids = idsOf(design);
  const begin = BEGIN[kind] ?? BEGIN['body'];
  const free = (stem: string, besides?: string): string =>
    unusedName(stem, new Set([besides, ...[...design.members, ...design.elements].map((x) => x.name)]));
  // Beside everything, to the right, on its middle.
  const lo = [Infinity, Infinity, Infinity],
    hi = [-Infinity, -Infinity, -Infinity];
  for (const e of design.elements) {
    const k = elementKind(e.type);
    const box = k && extentOf(k, e);
    if (!box) continue;
    const f = elementFrame(design, e);
    for (const x of [box[0][0], box[1][0]]) {
      for (const y of [box[0][1], box[1][1]]) {
        for (const z of [box[0][2], box[1][2]]) {
          toWorldPoint(f, [x, y, z]).forEach((v, i) => ((lo[i] = Math.min(lo[i], v)), (hi[i] = Math.max(hi[i], v))));
        }
      }
    }
  }
  const sizes = beginningSizes(elementKind(begin.type)?.fields ?? [], begin.fields, isInch(design));
  const half = Number(sizes['length']) / 2;
  const some = Number.isFinite(lo[0]);
  const o: Vec3 = some
    ? [Math.round(hi[0] + 60 + (begin.type === 'lever' ? 40 : half)), Math.round((lo[1] + hi[1]) / 2), Math.round((lo[2] + hi[2]) / 2)]
    : [0, 0, 0];
  const element = freshId(ids, 'part');
  if (kind === 'frame') {
    const e = { id: element, name: free('Base'), type: 'block', member: FRAME, ...sizes, at: o } as Element;
    return { design: { ...design, elements: [...design.elements, e] }, member: FRAME, element };
  }
  const member = freshId(ids, 'member');
  const name = free(`${kind[0].toUpperCase()}${kind.slice(1)}`);
  // Levers lie in the plane of the front view, inclined, so that two of
  // them can be made to cross; everything else stands upright in it.
  const t = (25 * Math.PI) / 180;
  const frame =
    begin.type === 'lever'
      ? { axis: [0, -1, 0] as Vec3, up: [Math.cos(t), 0, Math.sin(t)] as Vec3 }
      : kind === 'shaft'
        ? { axis: [0, 1, 0] as Vec3, up: [1, 0, 0] as Vec3 }
        : { axis: [0, 0, 1] as Vec3, up: [1, 0, 0] as Vec3 };
  const e = { id: element, name: free(`${name} ${begin.name.toLowerCase()}`, name), type: begin.type, member, ...sizes } as Element;
  return {
    design: {
      ...design,
      members: [...design.members, { id: member, name, kind: kind as 'body', at: o, axis: tidy(frame.axis), up: tidy(frame.up) }],
      elements: [...design.elements, e],
    },
    member,
    element,
  };
}
