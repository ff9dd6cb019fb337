import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import type { Element, Id, Member } from '../fields/types';
import { type ShaftPiece, elementMass, shaftPiecesOf } from '../forces/index';
import type { Pose } from '../kinematics/index';
import { type Frame, localFrame } from '../math/index';

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
/** A member that turns on round bars, cut at what stands along it. */
export interface Shaft {
  readonly member: Member;
  readonly coordinate: number;
  readonly stations: readonly Station[];
  /** Between one station and the next, rad/(N·m). */
  readonly compliance: readonly number[];
  /** The station of each element, and of each source that drives the shaft. */
  readonly of: ReadonlyMap<Id, Station>;
}

/** Shear modulus of steel, MPa (E = 206 000 MPa, ν = 0.3). */
export const SHEAR = 206_000 / 2.6;
/** A shaft that gives less than this, rad/(N·m), is rigid there. */
const STIFF = 1e-14;
const MM2 = 1e-6;

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

const lengthwise = (f: Frame): boolean => Math.abs(Math.abs(f.z[2]) - 1) < 1e-9;

/** What stands along a shaft: its place, mm, its inertia about the axis, kg·m², and which elements or sources it is. */
interface Disc {
  readonly at: number;
  readonly name: string;
  readonly id: Id;
  readonly inertia: number;
  /** A source is named where nothing else is. */
  readonly source: boolean;
}

/**
 * Elements along a shaft, and where sources drive it: those with a rotor or a ripple, and those that are held. What lies across
 * stays with the whole.
 */
function discsOf({ compiled }: Pose, m: Member, coordinate: number, held: boolean): Disc[] {
  const { design, structure } = compiled;
  const elements = design.elements.flatMap((e: Element): Disc[] => {
    const f = localFrame(e);
    if (e.member !== m.id || e.type === 'rod' || !lengthwise(f)) return [];
    const { mass, centre, inertia } = elementMass(e);
    const [x, y] = [f.o[0] + f.x[0] * centre[0] + f.y[0] * centre[1], f.o[1] + f.x[1] * centre[0] + f.y[1] * centre[1]];
    return [{ at: f.o[2], name: e.name, id: e.id, inertia: (inertia[2] + mass * (x * x + y * y)) * MM2, source: false }];
  });
  const c = structure.coordinates[coordinate];
  const frame = localFrame(c.joint);
  const sources = compiled.sources
    .map((s) => ({ ...s, source: s.source as DrivingSource }))
    .filter((s) => s.coordinate === coordinate && (held || num(s.source.rotor) > 0 || num(s.source.ripple) > 0))
    .map(({ source, place }): Disc => ({
      at: frame.o[2] + frame.z[2] * c.sign * place * 1e3,
      name: source.name,
      id: source.id,
      inertia: num(source.rotor),
      source: true,
    }));
  return [...elements, ...sources].sort((a, b) => a.at - b.at);
}

/**
 * A member cut at what stands along it; undefined where nothing of it gives. `held`: whether its sources stand still; `unknown`
 * gives the next free number.
 */
export function shaftOf(pose: Pose, m: Member, held: boolean, unknown: () => number): Shaft | undefined {
  const { structure, design } = pose.compiled;
  const body = structure.bodyOf.get(m.id);
  const coordinate = body === undefined ? -1 : pose.kinematics.bodyCoordinate[body];
  const c = structure.coordinates[coordinate];
  if (c?.motion !== 'turn' || c.joint.child !== m.id || !lengthwise(localFrame(c.joint))) return undefined;
  const pieces = shaftPiecesOf(design, m.id);
  if (!pieces.length) return undefined;
  const places: { at: number; discs: Disc[]; inertia: number; compliance: number }[] = [];
  for (const d of discsOf(pose, m, coordinate, held)) {
    const last = places[places.length - 1];
    const compliance = last ? complianceBetween(pieces, last.at, d.at) : 0;
    if (last && compliance < STIFF) {
      last.discs.push(d);
      last.inertia += d.inertia;
    } else places.push({ at: d.at, discs: [d], inertia: d.inertia, compliance });
  }
  if (places.length < 2) return undefined;
  // Bars go to the stations on both sides of them, by halves; what stands out goes to the last.
  for (const e of design.elements) {
    const f = localFrame(e);
    if (e.member !== m.id || e.type !== 'rod' || !lengthwise(f)) continue;
    const length = num((e as Element & { length?: number }).length);
    const [from, to] = [f.o[2] - length / 2, f.o[2] + length / 2];
    const whole = elementMass(e).inertia[2] * MM2;
    places.forEach((p, k) => {
      const before = k ? (places[k - 1].at + p.at) / 2 : -Infinity;
      const after = k + 1 < places.length ? (p.at + places[k + 1].at) / 2 : Infinity;
      p.inertia += (Math.max(0, Math.min(after, to) - Math.max(before, from)) / length) * whole;
    });
  }
  const of = new Map<Id, Station>();
  const stations = places.map((p, k): Station => {
    const named = p.discs.some((d) => !d.source) ? p.discs.filter((d) => !d.source) : p.discs;
    const station = { member: m.id, name: named.map((d) => d.name).join(', '), at: p.at, unknown: k ? unknown() : -1, inertia: p.inertia };
    for (const d of p.discs) of.set(d.id, station);
    return station;
  });
  return { member: m, coordinate, stations, compliance: places.slice(1).map((p) => p.compliance), of };
}
