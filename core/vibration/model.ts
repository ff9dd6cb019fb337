import { num } from '../elements/index';
import type { Element, Id, Member } from '../fields/types';
import { type Forces, type ShaftPiece, shaftPiecesOf } from '../forces/index';
import { elementMass } from '../forces/masses';
import type { CarriedJoint } from '../joints/index';
import { type Pose, coordinateOf } from '../kinematics/index';
import { type Matrix, localFrame, zeros } from '../math/index';
import { type TrainRow, elementAt, rowsOf } from './rows';
import { SHEAR, yieldsOf } from './springs';

/** A place along a shaft that turns by itself as the shaft twists. */
export interface Station {
  readonly member: Id;
  readonly name: string;
  /** mm along the member. */
  readonly at: number;
  /** Its unknown: how far it is turned against the shaft's first place; −1 of that one. */
  readonly unknown: number;
  /** kg·m² about the axis. */
  readonly inertia: number;
}
/** Something that gives: what its energy is called by. */
export interface Spring {
  readonly item: Id;
  readonly name: string;
  /** N/m, or N·m/rad. */
  readonly stiffness: number;
  readonly gradient: Float64Array;
  readonly from: string;
}
/** A train as masses and springs at a pose. Unknowns: its coordinates (rad, m), then the stations of its shafts (rad). */
export interface SpringTrain {
  readonly pose: Pose;
  readonly coordinates: number;
  readonly unknowns: number;
  readonly stations: readonly Station[];
  readonly springs: readonly Spring[];
  readonly mass: Matrix;
  /** What holds without giving. */
  readonly rigid: readonly Float64Array[];
  /** Of each coupling that counts as rigid, and of each shaft: why. */
  readonly assumptions: readonly { readonly item: Id; readonly name: string; readonly why: string }[];
}

/** A shaft that gives less than this, rad/(N·m), is rigid there. */
const STIFF = 1e-14;
/** What stands so near to another station is on it, mm. */
const SAME = 1e-6;

/** Compliance of a shaft between two places, rad/(N·m): bars that lie over each other add up, and where none is it is rigid. */
export function complianceBetween(pieces: readonly ShaftPiece[], from: number, to: number): number {
  const marks = [...new Set([from, to, ...pieces.flatMap((p) => [p.from, p.to])])].filter((z) => z >= from && z <= to).sort((a, b) => a - b);
  let sum = 0;
  for (let k = 0; k + 1 < marks.length; k++) {
    const middle = (marks[k] + marks[k + 1]) / 2;
    // G·Ip, N·mm².
    const stiff = pieces.reduce((s, p) => s + (p.from <= middle && middle <= p.to ? (SHEAR * Math.PI * (p.outer ** 4 - p.inner ** 4)) / 32 : 0), 0);
    if (stiff > 0) sum += (marks[k + 1] - marks[k]) / stiff;
  }
  return sum * 1e3;
}

interface Shaft {
  readonly member: Member;
  readonly coordinate: number;
  readonly stations: readonly Station[];
  readonly springs: readonly { readonly a: number; readonly b: number; readonly compliance: number; readonly name: string }[];
}

/** Elements along a shaft, with the inertia of each about its axis. */
function discsOf(pose: Pose, m: Member, along: number, o: number): { at: number; name: string; id?: Id; inertia: number }[] {
  const { design } = pose.compiled;
  const discs = design.elements.flatMap((e: Element) => {
    const f = localFrame(e);
    if (e.member !== m.id || e.type === 'rod' || Math.abs(Math.abs(f.z[2]) - 1) > 1e-9) return [];
    const { mass, centre, inertia } = elementMass(e);
    const [x, y] = [f.o[0] + f.x[0] * centre[0] + f.y[0] * centre[1], f.o[1] + f.x[1] * centre[0] + f.y[1] * centre[1]];
    return [{ at: f.o[2], name: e.name, id: e.id, inertia: (inertia[2] + mass * (x * x + y * y)) * 1e-6 }];
  });
  const rotors = pose.compiled.sources.flatMap(({ source, coordinate }) => {
    const own = pose.compiled.structure.coordinates[coordinate];
    const s = source as { rotor?: number; place?: number; name: string };
    return own.joint.child === m.id && num(s.rotor) > 0 ? [{ at: o + along * num(s.place), name: s.name, inertia: num(s.rotor) }] : [];
  });
  return [...discs, ...rotors];
}

/** A member that turns on bars, cut at its elements; undefined where nothing of it gives. */
function shaftOf(pose: Pose, m: Member, unknown: () => number): Shaft | undefined {
  const { structure, design } = pose.compiled;
  const body = structure.bodyOf.get(m.id);
  const coordinate = body === undefined ? -1 : pose.kinematics.bodyCoordinate[body];
  if (coordinate < 0 || structure.coordinates[coordinate].motion !== 'turn' || structure.coordinates[coordinate].joint.child !== m.id) {
    return undefined;
  }
  const pieces = shaftPiecesOf(design, m.id);
  if (!pieces.length) return undefined;
  const frame = localFrame(structure.coordinates[coordinate].joint as CarriedJoint);
  if (Math.abs(Math.abs(frame.z[2]) - 1) > 1e-9) return undefined;
  const discs = discsOf(pose, m, frame.z[2], frame.o[2]).sort((a, b) => a.at - b.at);
  const places: { at: number; names: string[]; inertia: number; compliance: number }[] = [];
  for (const d of discs) {
    const last = places[places.length - 1];
    const compliance = last ? complianceBetween(pieces, last.at, d.at) : 0;
    if (last && (d.at - last.at < SAME || compliance < STIFF)) {
      last.names.push(d.name);
      places[places.length - 1] = { ...last, inertia: last.inertia + d.inertia };
    } else places.push({ at: d.at, names: [d.name], inertia: d.inertia, compliance });
  }
  if (places.length < 2) return undefined;
  // Bars go to the stations on both sides of them, by halves; what stands out goes to the last.
  const density = (e: Element): number => elementMass(e).inertia[2] * 1e-6;
  for (const e of design.elements) {
    if (e.member !== m.id || e.type !== 'rod') continue;
    const f = localFrame(e);
    const half = num((e as Element & { length?: number }).length) / 2;
    const [from, to] = [f.o[2] - half, f.o[2] + half];
    const whole = density(e);
    const share = (a: number, b: number): number => (Math.max(0, Math.min(b, to) - Math.max(a, from)) / (to - from)) * whole;
    places.forEach((p, k) => {
      const before = k ? (places[k - 1].at + p.at) / 2 : -Infinity;
      const after = k + 1 < places.length ? (p.at + places[k + 1].at) / 2 : Infinity;
      places[k] = { ...p, inertia: p.inertia + share(before, after) };
    });
  }
  const stations = places.map((p, k): Station => ({
    member: m.id,
    name: p.names.join(', '),
    at: p.at,
    unknown: k ? unknown() : -1,
    inertia: p.inertia,
  }));
  return {
    member: m,
    coordinate,
    stations,
    springs: places.slice(1).map((p, k) => ({ a: k, b: k + 1, compliance: p.compliance, name: `${m.name}, ${places[k].names[0]} to ${p.names[0]}` })),
  };
}

/** Masses by kinetic energy: M of T = ½·q̇ᵀ·M·q̇. */
function massMatrix(forces: Forces, n: number, unknowns: number): Matrix {
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
  return M;
}

/** How fast a body turns about a line for each coordinate's rate. */
function turnsAbout(forces: Forces, body: number, axis: readonly number[], n: number): Float64Array {
  const out = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    forces.velocity.fill(0);
    forces.velocity[i] = 1;
    const w = forces.twistsNow();
    for (let x = 0; x < 3; x++) out[i] += w[6 * body + x] * axis[x];
  }
  return out;
}

/**
 * A design as masses and springs, at the pose of `forces` (whose rates it uses): shafts twist between their elements, teeth and
 * bands give, springs of joints count; all else is rigid. `held`: coordinates that stand still, as of sources that are.
 */
export function springTrain(forces: Forces, held: readonly number[] = []): SpringTrain {
  const { pose } = forces;
  const { compiled } = pose;
  const { design, structure } = compiled;
  const n = pose.kinematics.count;
  pose.updateAxes();
  let next = n;
  const shafts = design.members.flatMap((m) => shaftOf(pose, m, () => next++) ?? []);
  const unknowns = next;
  const assumptions: { item: Id; name: string; why: string }[] = [];
  const M = massMatrix(forces, n, unknowns);
  const springs: Spring[] = [];
  const stationOf = new Map<Id, Station>();
  const elements = new Map(design.elements.map((e) => [e.id, e]));
  for (const s of shafts) {
    const body = structure.bodyOf.get(s.member.id)!;
    const axis = [0, 1, 2].map((x) => pose.axisNow[3 * s.coordinate + x]);
    const w = turnsAbout(forces, body, axis, n);
    for (const t of s.stations) {
      for (const e of design.elements) if (e.member === s.member.id && Math.abs(localFrame(e).o[2] - t.at) < SAME) stationOf.set(e.id, t);
      if (t.unknown < 0) continue;
      // ½·J·((w·q̇ + δ̇)² − (w·q̇)²): the body's own inertia holds the rest.
      M[t.unknown][t.unknown] += t.inertia;
      for (let i = 0; i < n; i++) {
        M[i][t.unknown] += t.inertia * w[i];
        M[t.unknown][i] += t.inertia * w[i];
      }
    }
    for (const { a, b, compliance, name } of s.springs) {
      const gradient = new Float64Array(unknowns);
      if (s.stations[b].unknown >= 0) gradient[s.stations[b].unknown] = 1;
      if (s.stations[a].unknown >= 0) gradient[s.stations[a].unknown] = -1;
      springs.push({ item: s.member.id, name, stiffness: 1 / compliance, gradient, from: 'torsion of its round bars' });
    }
  }
  const rigid: Float64Array[] = [];
  const rows = rowsOf(pose);
  const bands = new Map<Id, number>();
  const full = (row: TrainRow, port: (p: number) => Id | undefined): Float64Array => {
    const g = new Float64Array(unknowns);
    g.set(row.gradient);
    row.own.forEach(({ share }, p) => {
      const id = port(p);
      const t = id === undefined ? undefined : (stationOf.get(id) ?? nearest(shafts, elements.get(id)));
      if (t && t.unknown >= 0) g[t.unknown] += share;
    });
    return g;
  };
  for (const row of rows) {
    if (row.at < 0) {
      rigid.push(full(row, () => undefined));
      continue;
    }
    const c = compiled.couplings[row.at].coupling;
    const band = bands.get(c.id) ?? 0;
    bands.set(c.id, band + 1);
    const gradient = full(row, (p) => elementAt(c, band, p));
    // Further rows of a band are those of its further strands: they give as the first says.
    const head = compiled.couplings.findIndex((x) => x.coupling.id === c.id);
    const yields = yieldsOf(compiled, head);
    const name = c.name ?? c.id;
    if ('rigid' in yields || !row.own[0]?.share) {
      rigid.push(gradient);
      if (band === 0) assumptions.push({ item: c.id, name, why: 'rigid' in yields ? yields.rigid : 'it has no motion of its own' });
      continue;
    }
    const strands = c.wheels ? c.wheels.length : 1;
    const scale = radiusAt(compiled, c, band, yields.radius) / row.own[0].share;
    const scaled = gradient.map((x) => x * scale);
    springs.push({
      item: c.id,
      name: strands > 1 ? `${name}, strand ${band + 1}` : name,
      stiffness: yields.stiffness[band],
      gradient: scaled,
      from: yields.from,
    });
    if (strands > 1) lastStrand(springs, c.id, name, band, strands, yields.stiffness, yields.from, unknowns);
  }
  for (const l of design.loads) {
    const coordinate = l.type === 'joint-spring' ? coordinateOf(structure, (l as { joint?: unknown }).joint) : undefined;
    if (coordinate === undefined) continue;
    const gradient = new Float64Array(unknowns);
    gradient[coordinate.index] = 1;
    const stiffness = num((l as { rate?: number }).rate) * (coordinate.motion === 'slide' ? 1e3 : 180 / Math.PI);
    if (stiffness > 0) springs.push({ item: l.id, name: l.name, stiffness, gradient, from: 'its rate' });
  }
  for (const m of design.members) {
    const had = shafts.some((s) => s.member.id === m.id);
    const turns = structure.coordinates.some((c) => c.joint.child === m.id && c.motion === 'turn');
    if (m.kind === 'shaft' && turns && !had) {
      assumptions.push({ item: m.id, name: m.name, why: 'a shaft without round bars between two elements counts as rigid' });
    }
    if (had && (m.mass !== undefined || m.inertia)) {
      assumptions.push({ item: m.id, name: m.name, why: 'its elements move by their own inertia, whatever mass is stated' });
    }
  }
  for (const l of design.loads) {
    if (l.type === 'spring') assumptions.push({ item: l.id, name: l.name, why: 'springs between points are left out' });
  }
  for (const h of held) {
    const g = new Float64Array(unknowns);
    g[h] = 1;
    rigid.push(g);
  }
  return { pose, coordinates: n, unknowns, stations: shafts.flatMap((s) => s.stations), springs, mass: M, rigid, assumptions };
}

/** The station of a shaft on which an element stands that was joined with others. */
function nearest(shafts: readonly Shaft[], e: Element | undefined): Station | undefined {
  if (!e) return undefined;
  const own = shafts.find((s) => s.member.id === e.member)?.stations;
  const z = localFrame(e).o[2];
  return own?.reduce((a, b) => (Math.abs(b.at - z) < Math.abs(a.at - z) ? b : a));
}

/** Radius by which the first port of a row counts, m: of a band that of the wheel from which the strand comes. */
function radiusAt(compiled: Pose['compiled'], c: { wheels?: readonly Id[] }, band: number, first: number): number {
  if (!c.wheels || band === 0) return first;
  const rim = (id: Id): number => {
    const e = compiled.design.elements.find((x) => x.id === id) as unknown as { form?: string; teeth?: unknown; pitch?: unknown; diameter?: unknown };
    return e.form === 'toothed' || e.form === 'sprocket' ? num(e.teeth as number) * num(e.pitch as number) : Math.PI * num(e.diameter as number);
  };
  return (first * rim(c.wheels[band])) / rim(c.wheels[0]);
}

/** The last strand of a band: what the others are longer by, it is shorter by. */
function lastStrand(
  springs: Spring[],
  item: Id,
  name: string,
  band: number,
  strands: number,
  stiffness: readonly number[],
  from: string,
  unknowns: number,
): void {
  if (band !== strands - 2) return;
  const gradient = new Float64Array(unknowns);
  for (const s of springs) if (s.item === item) s.gradient.forEach((x, i) => (gradient[i] -= x));
  springs.push({ item, name: `${name}, strand ${strands}`, stiffness: stiffness[strands - 1], gradient, from });
}
