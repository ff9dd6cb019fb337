import { unusedName } from '../../document/index';
import { num } from '../../elements/index';
import { type Design, FRAME, type Id, type Joint } from '../../fields/types';
import { type Compiled, type Pose, compile, movedFrame, poseOf, slidesAt } from '../../kinematics/index';
import { type Frame, LeastSquares, type Vec3, WORLD, across, cross, dot, norm, unit, vadd, vscale, vsub } from '../../math/index';
import { freshId, idsOf } from '../../edits/items';
import { type Going, carryElements, carryMembers, coupledMembers, statedOn, tidy, turnedAbout } from '../../edits/frames';
import { featureAt, type Feature, type Join } from './features';
import { type Built, type NotBuilt } from './built';

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
export function at(pose: Pose, f: Feature): Feature {
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
  // A place of a shape is remembered: the carrier's before the carried one's.
  const onShape = [parentRef, childRef].find((ref) => /:p\d+$/.test(ref));
  const x = join === 'pin-in-slot' ? featureAt(d, second)!.slot : across(z);
  const made = {
    id: freshId(idsOf(d), 'joint'),
    name: unusedName(`${nameOf(child.member)} on ${nameOf(parent.member)}, ${word}`, new Set(d.joints.map((j) => j.name))),
    type,
    parent: parent.member,
    child: child.member,
    ...statedOn(d, child.member, { o: child.point, x, y: cross(z, x), z }),
    ...(onShape && { on: onShape }),
  } as Joint;
  return { design: { ...d, joints: [...d.joints, made] }, joint: made.id };
}
const JOINTS = {
  pin: { type: 'revolute', word: 'pin' },
  'pin-in-slot': { type: 'pin-in-slot', word: 'slot' },
  slide: { type: 'prismatic', word: 'guide' },
  fixed: { type: 'fixed', word: 'seat' },
};
