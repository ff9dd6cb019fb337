import { finding } from '../findings/index';
import type { Finding, Id } from '../fields/types';
import { Forces, massesOf, squareness } from '../forces/index';
import { num } from '../elements/index';
import { type Compiled, type Coordinate, type Pose, coordinateOf } from '../kinematics/index';
import type { ActingLoad, JointBrake } from '../loads/index';
import { type Vec3, WORLD, cross, dot, norm, toWorldPoint, toWorldVector, vscale } from '../math/index';

/** Part of a load below which what it does along a motion is rounding. */
const NO_WORK = 1e-9;
/** How many times what acts on a design a joint may carry before it counts as near a dead point. */
const WITHOUT_BOUND = 1000;
/** Part of what acts that is rounding. */
const ROUNDING = 1e-9;

/**
 * Torques and forces that do no work on any motion that the joints and couplings leave at the pose: a torque
 * about z on a shaft that turns about y is carried by its bearings and drives nothing, which is seldom meant.
 */
export function idleLoads(pose: Pose): Finding[] {
  const { compiled, kinematics: k } = pose;
  const { structure, design } = compiled;
  const acting = design.loads.filter((l) => l.type === 'torque' || l.type === 'force');
  const motions = acting.length ? pose.freedoms([]) : [];
  if (!motions.length) return [];
  // Forces of its own: those of the ledger stay as they are.
  const forces = new Forces(pose);
  const twists = motions.map((free) => {
    pose.spreadRates(free, forces.velocity);
    return Float64Array.from(forces.twistsNow());
  });
  return acting.flatMap((l: ActingLoad & { torque?: Vec3 }) => {
    const body = structure.bodyOf.get(l.member ?? '') ?? 0;
    const size = (l.type === 'torque' ? l.torque : l.force) ?? [0, 0, 0];
    if (body === 0 || norm(size) === 0) return [];
    const frame = structure.frames.get(l.member!) ?? WORLD;
    const direction = l.follows === true ? toWorldVector(frame, size) : size;
    const point = vscale(toWorldPoint(frame, l.at ?? [0, 0, 0]), 1e-3);
    const works = twists.some((T) => {
      const turn: Vec3 = [T[6 * body], T[6 * body + 1], T[6 * body + 2]];
      const speed: Vec3 = [T[6 * body + 3], T[6 * body + 4], T[6 * body + 5]];
      const along = l.type === 'torque' ? turn : ([0, 1, 2].map((i) => speed[i] + cross(turn, point)[i]) as unknown as Vec3);
      return Math.abs(dot(direction, along)) > NO_WORK * norm(size) * Math.max(norm(turn), norm(speed), 1e-12);
    });
    if (works) return [];
    const member = structure.members.get(l.member!)?.name ?? l.member!;
    if (l.type === 'force') return [finding('load-without-work/force', [l.id, l.member!], { load: l.name, member })];
    const joint = structure.coordinates.find((c) => c.motion !== 'slide' && k.ends[k.endOf[c.index]].child === body)?.joint;
    const axis = joint ? `it turns in “${joint.name ?? joint.id}”: state the torque about that axis` : 'state another direction';
    return [finding('load-without-work', [l.id, l.member!, ...(joint ? [joint.id] : [])], { load: l.name, member, axis })];
  });
}

/** Members that turn and whose mass is stated without moments of inertia, nor a shape that has any. */
export function pointMasses(compiled: Compiled): Finding[] {
  const { structure, design } = compiled;
  const turning = new Set<number>();
  const parentOf = new Map(structure.coordinates.map((c) => [c.body, c]));
  for (const body of structure.bodyOf.values()) {
    for (let b = body; b; b = parentOf.get(b)!.parent) if (parentOf.get(b)!.motion !== 'slide') turning.add(body);
  }
  const masses = massesOf(compiled);
  return design.members.flatMap((m) => {
    const of = masses.get(m.id);
    if (!m.mass || !of || of.mass === 0 || of.inertia.some((x) => x !== 0) || !turning.has(structure.bodyOf.get(m.id) ?? 0)) return [];
    // A mass that is carried round off its axis has what that takes.
    const c = structure.coordinates.find((x) => x.body === structure.bodyOf.get(m.id) && x.motion !== 'slide');
    const off = c ? norm(cross([0, 1, 2].map((i) => of.centre[i] - c.point[i]) as unknown as Vec3, c.axis)) : 0;
    return off > 1e-6 ? [] : [finding('mass-without-inertia', [m.id], { member: m.name })];
  });
}

/** Joints whose reactions are beyond all measure beside what acts: the mechanism stands near a dead point. */
export function boundless(pose: Pose, forces: Forces): Finding[] {
  const { kinematics: k } = pose;
  const round = k.ends.filter((e) => e.turns.length === 3);
  if (!k.closures.length && !round.length) return [];
  const { acting } = forces;
  const R = forces.reactions();
  const nameOf = (id: Id): string => `“${pose.compiled.design.joints.find((j) => j.id === id)?.name ?? id}”`;
  // Where two of three axes about which a joint turns fall together, what acts along one of them has no bound.
  for (const e of round) {
    const [a, b, c] = e.turns.map((i): Vec3 => [pose.axisNow[3 * i], pose.axisNow[3 * i + 1], pose.axisNow[3 * i + 2]]);
    const square = Math.abs(squareness(cross(b, c), a));
    const moment = Math.hypot(R[6 * e.first + 3], R[6 * e.first + 4], R[6 * e.first + 5]);
    // The moment is a load's own torque as many times as the axes are not square; less than a billionth of that is rounding.
    if (square * WITHOUT_BOUND < 1 && moment * square > ROUNDING * Math.max(1, acting)) {
      return [finding('forces-without-bound', [e.joint], { name: nameOf(e.joint), times: Math.round(1 / square) })];
    }
  }
  if (!k.closures.length) return [];
  let worst: { id: Id; size: number } | undefined;
  for (const e of k.ends) {
    const r = 6 * e.first;
    const size = Math.hypot(R[r], R[r + 1], R[r + 2]);
    if (size > (worst?.size ?? WITHOUT_BOUND * acting)) worst = { id: e.joint, size };
  }
  if (!worst || acting === 0) return [];
  return [finding('forces-without-bound', [worst.id], { name: nameOf(worst.id), times: Math.round(worst.size / acting) })];
}

/** Findings that only follow from members that nothing carries say so: those about what is on them. */
export function markConsequences(compiled: Compiled, findings: Finding[]): void {
  const { design } = compiled;
  const roots = new Set(findings.filter((f) => f.code === 'member-not-carried').flatMap((f) => f.ids));
  if (!roots.size) return;
  const on = new Map<Id, Id>();
  for (const m of roots) on.set(m, m);
  for (const e of design.elements) if (roots.has(e.member)) on.set(e.id, e.member);
  for (const c of design.couplings) {
    const root = [c.a, c.b, ...(c.wheels ?? [])].map((x) => on.get(x ?? '')).find((x) => x !== undefined);
    if (root !== undefined) on.set(c.id, root);
  }
  for (const f of findings) {
    if (f.code === 'member-not-carried' || f.because) continue;
    const because = [...new Set(f.ids.map((id) => on.get(id)).filter((x) => x !== undefined))];
    if (because.length) f.because = because;
  }
}

/** What a brake or a slip clutch that holds a freedom no source drives has to hold at rest, N·m or N. */
export interface HeldByBrake {
  readonly brake: JointBrake;
  readonly coordinate: Coordinate;
  readonly needed: number;
}
export function brakesThatHold(forces: Forces): HeldByBrake[] {
  const { structure, design } = forces.pose.compiled;
  return forces.heldCoordinates.flatMap((c, k): HeldByBrake[] => {
    const brake = design.loads.find(
      (l: JointBrake) => l.type === 'joint-brake' && l.released !== true && coordinateOf(structure, l.joint)?.index === c,
    ) as JointBrake | undefined;
    return brake ? [{ brake, coordinate: structure.coordinates[c], needed: Math.abs(forces.state.input[forces.driven + k]) }] : [];
  });
}

/**
 * Freedoms that no source drives but a brake or a slip clutch holds: what is said of
 * them instead. At rest in steady motion each holds up to its torque; beyond it slips.
 */
export function heldByBrakes(forces: Forces, findings: readonly Finding[]): Finding[] {
  const holds = new Map<Id, Finding>();
  for (const { brake, coordinate, needed } of brakesThatHold(forces)) {
    const { joint } = coordinate;
    const size = num(brake.value);
    const said = { brake: brake.name, needed: Number(needed.toPrecision(4)), size, unit: coordinate.unit.effort };
    holds.set(joint.child, finding(needed <= size ? 'brake-holds' : 'brake-slips', [brake.id, joint.id], said));
  }
  const taken = (f: Finding): Finding | undefined =>
    f.code === 'freedom-undriven' || f.code === 'support-left-free' ? f.ids.map((id) => holds.get(id)).find((x) => x !== undefined) : undefined;
  return [...new Set(findings.map((f) => taken(f) ?? f))];
}
