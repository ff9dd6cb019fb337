import { type Rod, num } from '../elements/index';
import { type Design, FRAME, type Id } from '../fields/types';
import type { CarriedJoint } from '../joints/index';
import { type Vec3, localFrame, norm, toLocalVector, vsub } from '../math/index';
import { bearingForces } from './bearings';
import type { Forces } from './forces';
import { actingNow, frameNow, jointIn, loadSheet } from './load-sheet';

/** Modulus of elasticity of steel, MPa: common practice for shafts of unalloyed and low-alloyed steel. */
export const STEEL = 206_000;

/**
 * What a load does to a shaft: at a place along its axis (mm), a force (N)
 * and a moment about the point on the axis (N·m), in the member's frame.
 */
export interface AlongLoad {
  readonly name: string;
  readonly at: number;
  readonly force: Vec3;
  readonly moment: Vec3;
}
/** A piece of the shaft's body: outer and inner diameter, mm. */
export interface ShaftPiece {
  readonly from: number;
  readonly to: number;
  readonly outer: number;
  readonly inner: number;
}

/**
 * Forces inside a shaft along its axis, as the part above exerts them on the part
 * below; x and y are the member's. Stations stand double where something jumps.
 */
export interface ShaftDiagram {
  readonly member: Id;
  /** mm */
  readonly at: Float64Array;
  /** N */
  readonly shear: readonly [Float64Array, Float64Array];
  readonly thrust: Float64Array;
  /** About x and y, and their resultant; torsion. N·m */
  readonly bending: readonly [Float64Array, Float64Array];
  readonly resultant: Float64Array;
  readonly torsion: Float64Array;
  /** Of the axis across x and y, mm, and its slope, rad; nothing where no body or no support is stated. */
  readonly deflection?: readonly [Float64Array, Float64Array];
  readonly slope?: readonly [Float64Array, Float64Array];
  readonly loads: readonly AlongLoad[];
  readonly supports: readonly number[];
}

/** Places nearer than this are one, mm. */
const SAME = 1e-6;

/** What a shaft carries across a plane: as the part above exerts it on the part below, in the member's frame. N, N·m. */
export interface Inside {
  readonly shear: readonly [number, number];
  readonly thrust: number;
  readonly bending: readonly [number, number];
  readonly torsion: number;
}
/** What a shaft carries at a place, mm: of stated loads, those below and up to `upTo`. */
export function insideAt(loads: readonly AlongLoad[], at: number, upTo = at): Inside {
  let sx = 0,
    sy = 0,
    thrust = 0,
    torsion = 0,
    bx = 0,
    by = 0;
  for (const l of loads) {
    if (l.at > upTo) break;
    const arm = (l.at - at) / 1e3;
    sx -= l.force[0];
    sy -= l.force[1];
    thrust -= l.force[2];
    torsion -= l.moment[2];
    bx -= l.moment[0] - arm * l.force[1];
    by -= l.moment[1] + arm * l.force[0];
  }
  return { shear: [sx, sy], thrust, bending: [bx, by], torsion };
}
/** What a shaft carries just below and just above a place, mm; `loads` as loadsAlong gives them. */
export function besides(loads: readonly AlongLoad[], at: number): readonly [Inside, Inside] {
  const force = loads.reduce((m, l) => Math.max(m, norm(l.force)), 0);
  const span = loads.length ? (loads[loads.length - 1].at - loads[0].at) / 1e3 : 0;
  const moment = loads.reduce((m, l) => Math.max(m, norm(l.moment)), force * span);
  const quietly = (i: Inside): Inside => {
    const [f, m] = [NOISE * force, NOISE * moment];
    return {
      shear: [nothing(i.shear[0], f), nothing(i.shear[1], f)],
      thrust: nothing(i.thrust, f),
      bending: [nothing(i.bending[0], m), nothing(i.bending[1], m)],
      torsion: nothing(i.torsion, m),
    };
  };
  return [quietly(insideAt(loads, at, at - SAME)), quietly(insideAt(loads, at, at + SAME))];
}
/** What is left where all of it should cancel, beside the largest that goes in, is nothing. */
const NOISE = 1e-12;
const nothing = (x: number, below: number): number => (Math.abs(x) < below ? 0 : x);

/** Stations between two loads. */
const BETWEEN = 16;

/** The round bars of a member that lie along its axis. */
export function shaftPiecesOf(design: Design, member: Id): ShaftPiece[] {
  return design.elements.flatMap((e) => {
    if (e.member !== member || e.type !== 'rod') return [];
    const rod = e as Rod;
    const f = localFrame(rod);
    if (Math.abs(Math.abs(f.z[2]) - 1) > 1e-9) return [];
    const middle = f.o[2],
      half = num(rod.length) / 2;
    return [{ from: middle - half, to: middle + half, outer: num(rod.diameter), inner: num(rod.bore) }];
  });
}

/**
 * Everything that acts on a shaft, brought to its axis; joints that
 * state bearings act at these. After evaluate() with the same `inertia`.
 */
export function loadsAlong(
  forces: Forces,
  member: Id,
  inertia: boolean,
  acting = actingNow(forces, inertia),
): { loads: AlongLoad[]; supports: number[] } {
  const { pose } = forces;
  const { design, structure } = pose.compiled;
  const body = structure.bodyOf.get(member);
  const frame = frameNow(pose, member);
  const loads: AlongLoad[] = [];
  const supports: number[] = [];
  for (const l of loadSheet(forces, member, member, inertia, acting).lines) {
    const joint = l.kind === 'joint' ? (jointIn(design, l.id) as CarriedJoint | undefined) : undefined;
    const carried = joint && joint.child === member && structure.bodyOf.get(joint.parent) !== body ? localFrame(joint) : undefined;
    // Bearings stand along their joint's axis, which may point either way
    // along the member's; across it they say nothing of places along.
    const along = carried && Math.abs(Math.abs(carried.z[2]) - 1) < 1e-9 ? carried.z[2] : 0;
    const each = along
      ? bearingForces(forces, l.id, inertia, acting)?.bearings.map((b) => ({ at: carried!.o[2] + along * b.at, force: b.force }))
      : undefined;
    if (carried) supports.push(...(each?.map((b) => b.at) ?? [carried.o[2]]));
    // About the axis: what is off it turns and bends besides.
    const [x, y, z] = l.point;
    const [fx, fy, fz] = l.force;
    const moment: Vec3 = [l.moment[0] + (y * fz) / 1e3, l.moment[1] - (x * fz) / 1e3, l.moment[2] + (x * fy - y * fx) / 1e3];
    if (!each) {
      loads.push({ name: l.name, at: z, force: l.force, moment });
      continue;
    }
    // Bearings take forces; what they leave is thrust that nobody takes, and torsion that the joint passes on.
    let rest: Vec3 = l.force,
      turning: Vec3 = moment;
    each.forEach(({ at, force: inWorld }, k) => {
      const force = toLocalVector(frame, inWorld);
      loads.push({ name: `bearing ${k + 1}, ${l.name}`, at, force, moment: [0, 0, 0] });
      rest = vsub(rest, force);
      const arm = (at - z) / 1e3;
      turning = [turning[0] + arm * force[1], turning[1] - arm * force[0], turning[2]];
    });
    const left = norm(rest) > 1e-9 * norm(l.force) || norm(turning) > 1e-9 * norm(l.moment);
    if (left) loads.push({ name: l.name, at: z, force: rest, moment: turning });
  }
  return { loads: loads.sort((a, b) => a.at - b.at), supports: supports.sort((a, b) => a - b) };
}

/**
 * Shear, bending in two planes, torsion and thrust along a shaft at the pose, after evaluate() with
 * the same `inertia`; and by beam theory (Bernoulli, without shear) how it bends, from the round bars
 * that it states, in steel. Weight and inertia act at the centre of mass. Undefined for the frame.
 */
export function shaftDiagram(forces: Forces, member: Id, inertia = false): ShaftDiagram | undefined {
  if (member === FRAME || !forces.pose.compiled.structure.bodyOf.has(member)) return undefined;
  const { loads, supports } = loadsAlong(forces, member, inertia);
  return diagramOf(member, loads, supports, shaftPiecesOf(forces.pose.compiled.design, member));
}

/**
 * The diagram of stated loads, which must be in balance, with so many stations from one load, support or step to the next.
 * Deflection is nothing at the supports (two and more), or at the one, which then also holds it straight.
 */
export function diagramOf(
  member: Id,
  stated: readonly AlongLoad[],
  bearings: readonly number[],
  bars: readonly ShaftPiece[],
  between = BETWEEN,
): ShaftDiagram {
  // What stands at one place but for rounding stands there: no jump is looked at from its wrong side.
  const places: number[] = [];
  const snap = (z: number): number => {
    const there = places.find((p) => Math.abs(p - z) < SAME);
    if (there === undefined) places.push(z);
    return there ?? z;
  };
  const loads = stated.map((l) => ({ ...l, at: snap(l.at) }));
  const supports = bearings.map(snap);
  const pieces = bars.map((p) => ({ ...p, from: snap(p.from), to: snap(p.to) }));
  const marks = [...new Set([...loads.map((l) => l.at), ...supports, ...pieces.flatMap((p) => [p.from, p.to])])].sort((a, b) => a - b);
  const at: number[] = [];
  for (let k = 0; k + 1 < marks.length; k++) for (let i = 0; i <= between; i++) at.push(marks[k] + ((marks[k + 1] - marks[k]) * i) / between);
  const n = at.length;
  const make = (): Float64Array => new Float64Array(n);
  const shear: [Float64Array, Float64Array] = [make(), make()],
    bending: [Float64Array, Float64Array] = [make(), make()];
  const thrust = make(),
    torsion = make(),
    resultant = make();
  for (let i = 0; i < n; i++) {
    // Just inside the stretch: a load at its beginning counts, one at its end does not.
    const stretch = Math.floor(i / (between + 1));
    const begin = marks[stretch];
    const inside = insideAt(loads, at[i], begin + 1e-9);
    [shear[0][i], shear[1][i]] = inside.shear;
    [bending[0][i], bending[1][i]] = inside.bending;
    thrust[i] = inside.thrust;
    torsion[i] = inside.torsion;
    resultant[i] = Math.hypot(bending[0][i], bending[1][i]);
  }
  // What is left where all of it should cancel is nothing.
  const span = n ? (at[n - 1] - at[0]) / 1e3 : 0;
  const force = loads.reduce((m, l) => Math.max(m, norm(l.force)), 0);
  quiet([...shear, thrust], force);
  quiet(
    [...bending, resultant, torsion],
    loads.reduce((m, l) => Math.max(m, norm(l.moment)), force * span),
  );
  const bent = pieces.length && supports.length ? bendingLine(Float64Array.from(at), bending, supports, pieces) : undefined;
  return { member, at: Float64Array.from(at), shear, thrust, bending, resultant, torsion, ...bent, loads, supports };
}

/** Rounding beside the largest that goes in becomes nothing. */
function quiet(rows: readonly Float64Array[], most: number): void {
  for (const r of rows) for (let i = 0; i < r.length; i++) r[i] = nothing(r[i], NOISE * most);
}

/** Second moment of area at a place, mm⁴: of the stoutest bar there. */
const stiffness = (pieces: readonly ShaftPiece[], z: number): number =>
  pieces.reduce((most, p) => (z >= p.from - 1e-9 && z <= p.to + 1e-9 ? Math.max(most, (Math.PI / 64) * (p.outer ** 4 - p.inner ** 4)) : most), 0);

/**
 * Slope and deflection by integrating the curvature; where no bar is, the axis
 * stays straight (what stands out beyond the body carries nothing there).
 */
function bendingLine(
  at: Float64Array,
  bending: readonly [Float64Array, Float64Array],
  supports: readonly number[],
  pieces: readonly ShaftPiece[],
): Pick<ShaftDiagram, 'deflection' | 'slope'> {
  const n = at.length;
  const make = (): [Float64Array, Float64Array] => [new Float64Array(n), new Float64Array(n)];
  const slope = make(),
    deflection = make();
  for (let i = 1; i < n; i++) {
    const h = at[i] - at[i - 1];
    const middle = stiffness(pieces, (at[i] + at[i - 1]) / 2);
    for (const k of [0, 1]) {
      // u_x'' = M_y / EI, u_y'' = −M_x / EI; N·m → N·mm. The bending runs straight between two stations.
      const m = (j: number): number => (middle > 0 ? ((k === 0 ? bending[1][j] : -bending[0][j]) * 1e3) / (STEEL * middle) : 0);
      const [a, b] = [m(i - 1), m(i)];
      slope[k][i] = slope[k][i - 1] + (h * (a + b)) / 2;
      deflection[k][i] = deflection[k][i - 1] + h * slope[k][i - 1] + h * h * (a / 3 + b / 6);
    }
  }
  const near = (z: number): number => {
    let best = 0;
    for (let i = 1; i < n; i++) if (Math.abs(at[i] - z) < Math.abs(at[best] - z)) best = i;
    return best;
  };
  const [first, last] = [near(supports[0]), near(supports[supports.length - 1])];
  for (const k of [0, 1]) {
    const [u, s] = [deflection[k], slope[k]];
    // Two and more supports: nothing at the outermost; one: nothing there, and straight.
    const turn = supports.length > 1 && at[last] > at[first] ? (u[last] - u[first]) / (at[last] - at[first]) : s[first];
    const rise = u[first] - turn * at[first];
    for (let i = 0; i < n; i++) {
      u[i] -= rise + turn * at[i];
      s[i] -= turn;
    }
  }
  return { deflection, slope };
}

/** The largest by size of a row, and where. */
export function largestAlong(at: Float64Array, row: Float64Array): { at: number; value: number } {
  let k = 0;
  for (let i = 1; i < row.length; i++) if (Math.abs(row[i]) > Math.abs(row[k])) k = i;
  return { at: at[k] ?? 0, value: row[k] ?? 0 };
}
