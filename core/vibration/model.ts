import { num } from '../elements/index';
import type { Id } from '../fields/types';
import type { Forces } from '../forces/index';
import { type Pose, coordinateOf } from '../kinematics/index';
import { type Matrix, zeros } from '../math/index';
import { type TrainRow, elementAt, rowsOf } from './rows';
import { type Shaft, type Station, shaftOf } from './shafts';
import { yieldsOf } from './springs';

/** Something that gives: what its energy is called by. */
export interface Spring {
  readonly item: Id;
  readonly name: string;
  /** N/m, or N·m/rad; and so what it carries, N or N·m. */
  readonly stiffness: number;
  readonly unit: 'N' | 'N·m';
  /** Of teeth: the radius of the first wheel, m, at whose rim the force is taken. */
  readonly rim?: number;
  readonly gradient: Float64Array;
}
/** Something that counts as rigid, or is left out. */
export interface Assumption {
  readonly item: Id;
  readonly name: string;
  readonly why: string;
}
/** A train as masses and springs at a pose. Unknowns: its coordinates (rad, m), then the stations of its shafts (rad). */
export interface SpringTrain {
  readonly pose: Pose;
  readonly unknowns: number;
  readonly stations: readonly Station[];
  readonly springs: readonly Spring[];
  readonly mass: Matrix;
  /** Where each source drives: the motion of its place for all unknowns. */
  readonly driven: readonly Float64Array[];
  /** What holds without giving. */
  readonly rigid: readonly Float64Array[];
  readonly assumptions: readonly Assumption[];
}

/**
 * A design as masses and springs, at the pose of `forces` (whose rates it uses): shafts twist between their elements, teeth
 * and bands give, springs of joints count; all else is rigid. `held`: whether the sources stand still, each where its
 * torque comes in.
 */
export function springTrain(forces: Forces, held = false): SpringTrain {
  const { pose } = forces;
  const { design, sources } = pose.compiled;
  const n = pose.kinematics.count;
  pose.updateAxes();
  let unknowns = n;
  const shafts = design.members.flatMap((m) => shaftOf(pose, m, held, () => unknowns++) ?? []);
  const coupled = couplingsOf(pose, shafts, unknowns);
  const driven = sources.map(({ source, coordinate }) => {
    const g = new Float64Array(unknowns);
    g[coordinate] = 1;
    const at = stationOf(shafts, source.id);
    if (at && at.unknown >= 0) g[at.unknown] = 1;
    return g;
  });
  return {
    pose,
    unknowns,
    stations: shafts.flatMap((s) => s.stations),
    springs: [...twists(shafts, unknowns), ...coupled.springs, ...jointSprings(pose, unknowns)],
    mass: massMatrix(forces, shafts, unknowns),
    driven,
    rigid: [...coupled.rigid, ...(held ? driven : [])],
    assumptions: [...coupled.assumptions, ...stiffMembers(pose, shafts)],
  };
}

const stationOf = (shafts: readonly Shaft[], id: Id | undefined): Station | undefined =>
  id === undefined ? undefined : shafts.find((s) => s.of.has(id))?.of.get(id);

/** Shafts between one station and the next. */
const twists = (shafts: readonly Shaft[], unknowns: number): Spring[] =>
  shafts.flatMap(({ member, stations, compliance }) =>
    compliance.map((gives, k): Spring => {
      const gradient = new Float64Array(unknowns);
      const [a, b] = [stations[k], stations[k + 1]];
      gradient[b.unknown] = 1;
      if (a.unknown >= 0) gradient[a.unknown] = -1;
      return { item: member.id, name: `${member.name}, ${a.name} to ${b.name}`, stiffness: 1 / gives, unit: 'N·m', gradient };
    }),
  );

/** Couplings as springs where they give, as rigid rows where they do not; loops are rigid. */
function couplingsOf(
  pose: Pose,
  shafts: readonly Shaft[],
  unknowns: number,
): { springs: Spring[]; rigid: Float64Array[]; assumptions: Assumption[] } {
  const { compiled } = pose;
  const [springs, rigid, assumptions]: [Spring[], Float64Array[], Assumption[]] = [[], [], []];
  const full = (row: TrainRow, elements: readonly (Id | undefined)[]): Float64Array => {
    const g = new Float64Array(unknowns);
    g.set(row.gradient);
    row.own.forEach(({ share }, port) => {
      const at = stationOf(shafts, elements[port]);
      if (at && at.unknown >= 0) g[at.unknown] += share;
    });
    return g;
  };
  // All rows of one coupling together: a band has one for each strand but the last.
  const rows = rowsOf(pose);
  for (const row of rows) if (row.at < 0) rigid.push(full(row, []));
  const seen = new Set<Id>();
  for (const [head, { coupling: c }] of compiled.couplings.entries()) {
    if (seen.has(c.id)) continue;
    seen.add(c.id);
    const own = rows.filter((r) => r.at >= 0 && compiled.couplings[r.at].coupling.id === c.id);
    if (!own.length) continue;
    const name = c.name ?? c.id;
    const gradients = own.map((row, k) => full(row, [elementAt(c, k, 0), elementAt(c, k, 1)]));
    const yields = yieldsOf(compiled, head);
    const moves = (r: TrainRow): number | undefined => ('rigid' in yields ? 0 : yields.port ? r.own[1]?.whole : r.own[0]?.share);
    const why = 'rigid' in yields ? yields.rigid : own.every(moves) ? undefined : 'it has no motion of its own';
    if ('rigid' in yields || why !== undefined) {
      rigid.push(...gradients);
      assumptions.push({ item: c.id, name, why: why! });
      continue;
    }
    const stretched = gradients.map((g, k) => g.map((x) => (x * yields.radii[k]) / moves(own[k])!));
    // What the other strands are longer by, the last is shorter by.
    if (c.wheels) stretched.push(new Float64Array(unknowns).map((_, i) => -stretched.reduce((s, g) => s + g[i], 0)));
    stretched.forEach((gradient, k) =>
      springs.push({
        item: c.id,
        name: stretched.length > 1 ? `${name}, strand ${k + 1}` : name,
        stiffness: yields.stiffness[k],
        unit: yields.unit,
        gradient,
        ...(yields.teeth && { rim: yields.radii[k] }),
      }),
    );
  }
  return { springs, rigid, assumptions };
}

function jointSprings({ compiled: { design, structure } }: Pose, unknowns: number): Spring[] {
  return design.loads.flatMap((l): Spring[] => {
    const c = l.type === 'joint-spring' ? coordinateOf(structure, (l as { joint?: unknown }).joint) : undefined;
    const rate = num((l as { rate?: number }).rate);
    if (!c || !(rate > 0)) return [];
    const gradient = new Float64Array(unknowns);
    gradient[c.index] = 1;
    return [
      {
        item: l.id,
        name: l.name,
        stiffness: rate * (c.motion === 'slide' ? 1e3 : 180 / Math.PI),
        unit: c.motion === 'slide' ? 'N' : 'N·m',
        gradient,
      },
    ];
  });
}

/** Shafts that count as rigid, masses that do not count, springs that are left out. */
function stiffMembers({ compiled: { design, structure } }: Pose, shafts: readonly Shaft[]): Assumption[] {
  const cut = new Set(shafts.map((s) => s.member.id));
  const members = design.members.flatMap(({ id: item, name, kind, mass, inertia }): Assumption[] => {
    if (cut.has(item)) {
      return mass === undefined && !inertia ? [] : [{ item, name, why: 'its elements move by their own inertia, whatever mass is stated' }];
    }
    const turns = structure.coordinates.some((c) => c.joint.child === item && c.motion === 'turn');
    return kind === 'shaft' && turns ? [{ item, name, why: 'a shaft without round bars between two elements counts as rigid' }] : [];
  });
  const springs = design.loads.filter((l) => l.type === 'spring');
  return [...members, ...springs.map((l): Assumption => ({ item: l.id, name: l.name, why: 'springs between points are left out' }))];
}

/**
 * Masses by kinetic energy, T = ½·q̇ᵀ·M·q̇: of the bodies as they are, and of every station what it has more as it turns by
 * itself, ½·J·((w·q̇ + δ̇)² − (w·q̇)²), w·q̇ being how fast the shaft turns about its axis.
 */
function massMatrix(forces: Forces, shafts: readonly Shaft[], unknowns: number): Matrix {
  const { pose } = forces;
  const n = pose.kinematics.count;
  const M = zeros(unknowns);
  const energy = (...at: number[]): number => {
    forces.velocity.fill(0);
    for (const i of at) forces.velocity[i] += 1;
    return forces.kinetic();
  };
  const alone = Array.from({ length: n }, (_, i) => energy(i));
  for (let i = 0; i < n; i++) {
    M[i][i] = 2 * alone[i];
    for (let j = 0; j < i; j++) M[i][j] = M[j][i] = energy(i, j) - alone[i] - alone[j];
  }
  for (const { member, coordinate, stations } of shafts) {
    const t = 6 * pose.compiled.structure.bodyOf.get(member.id)!;
    const axis = pose.axisNow.subarray(3 * coordinate, 3 * coordinate + 3);
    for (let i = 0; i < n; i++) {
      forces.velocity.fill(0);
      forces.velocity[i] = 1;
      const twist = forces.twistsNow();
      const w = twist[t] * axis[0] + twist[t + 1] * axis[1] + twist[t + 2] * axis[2];
      for (const { unknown, inertia } of stations) if (unknown >= 0) M[i][unknown] = M[unknown][i] = inertia * w;
    }
    for (const { unknown, inertia } of stations) if (unknown >= 0) M[unknown][unknown] = inertia;
  }
  return M;
}
