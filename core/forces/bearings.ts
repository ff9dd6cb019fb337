import { finding } from '../findings/index';
import { FRAME, type Finding, type Id } from '../fields/types';
import type { CarriedJoint } from '../joints/index';
import { LeastSquares, type Vec3, cross, dot, norm, unit, vadd, vscale, vsub } from '../math/index';
import type { Forces } from './forces';
import { type Acting, type LoadLine, actingNow, jointIn, loadSheet, reactionAt } from './load-sheet';

/** What one bearing carries, on the carried member. World directions; N, N·m, mm. */
export interface BearingForce {
  /** Place along the joint's axis. */
  at: number;
  force: Vec3;
  radial: number;
  /** Along the axis; positive with it. */
  axial: number;
  /** What a single bearing has to hold against tilting; nothing where there are more. */
  tilting: number;
}

export interface BearingForces {
  bearings: BearingForce[];
  /** By statics alone, or as a beam of one stiffness on stiff supports. */
  by: 'statics' | 'beam';
  /** Thrust that no bearing takes, N. */
  untaken: number;
}

/** How a free beam of stiffness 1 bends under a unit force, and under a unit couple, at distance d: up to a straight line. */
const byForce = (d: number): number => Math.abs(d) ** 3 / 12;
const byCouple = (d: number): number => (-Math.sign(d) * d * d) / 4;

/** A load on the shaft in one plane: force (N) and couple (N·m) at a place along it (m). */
interface Across {
  at: number;
  force: number;
  couple: number;
}

/**
 * Support forces in one plane from their sum and their moment about the axis's origin: of one or
 * two by statics, of more so that the beam stays on its supports (Macaulay's functions for a beam
 * of one stiffness on rigid supports; Timoshenko, Strength of Materials, part I, continuous beams).
 */
function supports(at: readonly number[], sum: number, moment: number, loads: readonly Across[]): number[] {
  const n = at.length;
  if (n === 1) return [sum];
  if (n === 2 && at[0] !== at[1]) {
    const second = (moment - at[0] * sum) / (at[1] - at[0]);
    return [sum - second, second];
  }
  // Unknowns: the supports' forces, and the straight line. Lengths against the span keep the numbers alike.
  const span = Math.max(...at) - Math.min(...at) || 1;
  const z = at.map((x) => x / span);
  const rows: { a: number[]; b: number }[] = z.map((x) => ({
    a: [...z.map((y) => byForce(x - y)), 1, x],
    b: -loads.reduce((s, l) => s + l.force * byForce(x - l.at / span) + (l.couple / span) * byCouple(x - l.at / span), 0),
  }));
  rows.push({ a: [...z.map(() => 1), 0, 0], b: sum }, { a: [...z, 0, 0], b: moment / span });
  const solver = new LeastSquares(n + 2, n + 2);
  solver.begin(n + 2, n + 2);
  rows.forEach((r, i) => {
    r.a.forEach((x, j) => (solver.a[j * rows.length + i] = x));
    solver.b[i] = r.b;
  });
  solver.factor();
  return [...solver.solve()].slice(0, n);
}

/** The loads of a sheet about an axis, without one joint's own: in a plane with the direction e. */
function across(lines: readonly LoadLine[], joint: Id, o: Vec3, a: Vec3, e: Vec3): Across[] {
  return lines
    .filter((l) => !(l.kind === 'joint' && l.id === joint))
    .map((l) => {
      const r = vsub(l.point, o);
      const at = dot(r, a);
      const arm = vscale(vsub(r, vscale(a, at)), 1e-3);
      return { at: at * 1e-3, force: dot(l.force, e), couple: dot(vadd(l.moment, cross(arm, l.force)), cross(a, e)) };
    });
}

/** Joints whose bearings leave thrust to nobody. A cylindrical joint leaves its axis free: nothing acts along it. */
export function thrustFindings(forces: Forces): Finding[] {
  const carried = forces.pose.compiled.design.joints.filter((j: CarriedJoint) => j.bearings?.length) as CarriedJoint[];
  const acting = carried.length ? actingNow(forces, false) : undefined;
  return carried.flatMap((j) => {
    if (!j.bearings) return [];
    const name = j.name ?? j.id;
    const odd = j.bearings.findIndex((b) => b.inner >= b.outer);
    if (odd >= 0) return [finding('bearing-size', [j.id], { name, row: odd + 1 })];
    const r = bearingForces(forces, j.id, false, acting);
    const most = Math.max(1e-9, ...(r?.bearings.map((b) => b.radial) ?? []));
    return r && Math.abs(r.untaken) > 1e-6 * most ? [finding('thrust-untaken', [j.id], { name, force: Math.abs(r.untaken).toPrecision(3) })] : [];
  });
}

/**
 * What each bearing of a joint carries at the pose, after evaluate() with the same `inertia`; undefined where the
 * joint states none. Thrust goes to the bearings that take it, in equal parts; where none does, it is told as untaken.
 */
export function bearingForces(forces: Forces, id: Id, inertia = false, acting?: Acting): BearingForces | undefined {
  const { pose } = forces;
  const joint: CarriedJoint | undefined = jointIn(pose.compiled.design, id);
  const first = pose.compiled.structure.firstOf.get(id);
  const stated = joint?.bearings;
  const whole = joint && reactionAt(forces, id, 'child', FRAME, inertia, acting);
  if (!stated?.length || first === undefined || !whole) return undefined;
  const sign = pose.kinematics.sign[first];
  const a = unit([sign * pose.axisNow[3 * first], sign * pose.axisNow[3 * first + 1], sign * pose.axisNow[3 * first + 2]]);
  const e1 = unit(cross(a, Math.abs(a[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]));
  const at = stated.map((b) => b.at * 1e-3);
  const apart = new Set(at).size;
  const lines = apart > 2 ? loadSheet(forces, joint.child, FRAME, inertia, acting).lines : [];
  const two = [e1, cross(a, e1)].map((e) =>
    supports(at, dot(whole.force, e), dot(whole.moment, cross(a, e)), across(lines, id, whole.point, a, e)).map((x) => vscale(e, x)),
  );
  // What drives a cylindrical joint along its axis is not its bearings'.
  const thrust = joint.type === 'cylindrical' ? 0 : dot(whole.force, a);
  const takers = stated.filter((b) => b.thrust === 'takes').length;
  const tilt = vsub(whole.moment, vscale(a, dot(whole.moment, a)));
  return {
    bearings: stated.map((b, k) => {
      const radial = vadd(two[0][k], two[1][k]);
      const axial = b.thrust === 'takes' ? thrust / takers : 0;
      const tilting = stated.length === 1 ? norm(vsub(tilt, cross(vscale(a, at[0]), radial))) : 0;
      return { at: b.at, force: vadd(radial, vscale(a, axial)), radial: norm(radial), axial, tilting };
    }),
    by: apart > 2 ? 'beam' : 'statics',
    untaken: takers ? 0 : thrust,
  };
}
