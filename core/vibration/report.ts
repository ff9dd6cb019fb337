import { type Worked, analyse } from '../checks/index';
import { num } from '../elements/index';
import { VIBRATION_SETTINGS } from '../fields/index';
import type { Design, Id } from '../fields/types';
import { Forces, nominalVelocities } from '../forces/index';
import { type Pose, coordinateOf, poseOf } from '../kinematics/index';
import { type Crossing, type Excitation, crossingsOf, excitationsOf } from './campbell';
import { type Forced, forcedOf, forcingsOf } from './forced';
import { type PlayPart, lostMotion } from './lost-motion';
import { type Assumption, type SpringTrain, springTrain } from './model';
import { type Mode, amplitudes, complianceOf, modesOf, partsOf } from './modes';

/** A place whose swing is shown: a station of a shaft, or a member as a whole. */
export interface Place {
  readonly member: Id;
  readonly name: string;
  readonly slides: boolean;
}
/** A mode as it is shown: what gives in it, and how far each place swings. */
export interface ShownMode extends Pick<Mode, 'frequency' | 'energy'> {
  /**
   * Of each place, brought to the first source by the ratio at nominal speed, as parts of the largest: where the train moves
   * as one
   * they are alike. Undefined of what stands at nominal speed.
   */
  readonly amplitudes: readonly (number | undefined)[];
}
/** How far an output gives while the sources stand still: by play, and by its load. Units mm or deg; N/mm or N·m/deg. */
export interface Yielding {
  readonly joint: Id;
  readonly name: string;
  readonly slides: boolean;
  /** Why it is not known. */
  readonly why?: string;
  readonly worst?: number;
  readonly statistical?: number;
  readonly least?: number;
  readonly parts?: readonly PlayPart[];
  /** Of a shaft at the place that gives most; undefined where nothing gives. */
  readonly stiffness?: number;
  readonly load?: number;
  readonly windUp?: number;
}
/** Natural frequencies of a design at its home position, what excites them, and how its outputs give. */
export interface Vibration {
  readonly places: readonly Place[];
  readonly modes: readonly ShownMode[];
  readonly loose: number;
  readonly trouble?: string;
  readonly excitations: readonly Excitation[];
  readonly crossings: readonly Crossing[];
  /** Nominal speed of the first source, rev/min or mm/s. */
  readonly source?: { readonly name: string; readonly speed: number; readonly slides: boolean };
  readonly outputs: readonly Yielding[];
  /** What the stated transmission errors and ripples do; nothing where none is stated. */
  readonly forced?: Forced;
  readonly assumptions: readonly Assumption[];
}

const DEG = 180 / Math.PI;
const DAMPING = VIBRATION_SETTINGS[0].initial as number;

/** Places of a train in the order of its members, and where their amplitudes stand among the unknowns. */
function placesOf({ pose, stations }: SpringTrain): { place: Place; unknown: number; coordinate: number }[] {
  const { design, structure } = pose.compiled;
  return design.members.flatMap((m) => {
    const body = structure.bodyOf.get(m.id);
    const coordinate = body === undefined ? -1 : pose.kinematics.bodyCoordinate[body];
    if (coordinate < 0 || structure.coordinates[coordinate].joint.child !== m.id) return [];
    const slides = structure.coordinates[coordinate].motion === 'slide';
    const own = stations.filter((s) => s.member === m.id);
    if (!own.length) return [{ place: { member: m.id, name: m.name, slides }, unknown: coordinate, coordinate }];
    return own.map((s) => ({
      place: { member: m.id, name: `${m.name}, ${s.name}`, slides },
      unknown: s.unknown < 0 ? coordinate : s.unknown,
      coordinate,
    }));
  });
}

/** All of it; `held`: whether the sources stand still, or turn with their rotors. */
export function vibrationOf(design: Design, held: boolean): Vibration {
  const worked = analyse(design);
  const { compiled, ledger } = worked;
  const { structure } = compiled;
  const train = springTrain(new Forces(atHome(worked)), held);
  const taken = partsOf(train);
  const { modes, loose, trouble } = modesOf(train, taken);
  const places = placesOf(train);
  const excitations = excitationsOf(compiled, ledger);
  const { forcings, left } = forcingsOf(train, ledger, excitations, held);
  const [first] = compiled.sources;
  const ratio = ratiosOf(worked);
  return {
    places: places.map((p) => p.place),
    modes: modes.map(({ frequency, energy, shape }): ShownMode => {
      const at = amplitudes(train, shape);
      const brought = places.map((p) => (ratio(p.coordinate) === 0 ? undefined : at[p.unknown] / ratio(p.coordinate)));
      const most = brought.reduce<number>((m, x) => (x !== undefined && Math.abs(x) > Math.abs(m) ? x : m), 0);
      return { frequency, energy, amplitudes: brought.map((x) => (x === undefined || most === 0 ? x : x / most)) };
    }),
    loose,
    ...(trouble !== undefined && { trouble }),
    excitations,
    crossings: crossingsOf(modes, excitations),
    ...(first && {
      source: { name: first.source.name, speed: ledger.sources[0]?.speed ?? 0, slides: structure.coordinates[first.coordinate].motion === 'slide' },
    }),
    outputs: outputsOf(worked),
    ...(forcings.length &&
      !trouble && { forced: forcedOf(train, taken.parts, forcings, ledger, num(design.settings?.dampingRatio as number | undefined, DAMPING)) }),
    assumptions: [...train.assumptions, ...left],
  };
}

/** How fast each coordinate moves against the first source's, at nominal speeds; all alike where nothing drives. */
function ratiosOf(worked: Worked): (coordinate: number) => number {
  const [first] = worked.compiled.sources;
  if (!first) return () => 1;
  const forces = new Forces(atHome(worked));
  nominalVelocities(forces.pose, forces.velocity, undefined, forces.heldCoordinates);
  const rates = Float64Array.from(forces.velocity);
  const source = rates[first.coordinate];
  return source === 0 ? () => 1 : (c) => (Math.abs(rates[c]) < STILL * Math.abs(source) ? 0 : rates[c] / source);
}
/** Part of the source's rate below which a coordinate stands. */
const STILL = 1e-9;

/** A pose of its own where the design was analysed. */
function atHome({ compiled, pose }: Worked): Pose {
  const own = poseOf(compiled);
  own.u.set(pose.u);
  own.q.set(pose.q);
  own.replace();
  own.engage();
  return own;
}

/** The joints of wanted outputs, else the last one. */
function outputsOf(worked: Worked): Yielding[] {
  const { compiled, ledger } = worked;
  const { design, structure, sources } = compiled;
  const wanted = [...new Set(design.wanted.flatMap((w) => (w as { joint?: Id }).joint ?? []))];
  const joints = wanted.length ? wanted : design.joints.slice(-1).map((j) => j.id);
  const still = springTrain(new Forces(atHome(worked)), true);
  const gives = complianceOf(still);
  const held = sources.map((s) => s.coordinate);
  return lostMotion(atHome(worked), held, joints).map((lost): Yielding => {
    const c = coordinateOf(structure, lost.joint)!;
    const slides = c.motion === 'slide';
    const base = { joint: lost.joint, name: c.joint.name ?? c.joint.id, slides };
    if ('why' in lost) return { ...base, why: lost.why };
    const compliance = gives ? mostOf(still, gives, c.index, c.joint.child) : 0;
    const line = ledger.lines.find((l) => l.member === c.joint.child);
    const perUnit = slides ? 1e3 : DEG;
    return {
      ...base,
      least: lost.least,
      worst: lost.worst,
      statistical: lost.statistical,
      parts: lost.parts,
      ...(compliance > RIGID && { stiffness: 1 / (compliance * perUnit) }),
      ...(line && compliance > RIGID && { load: Math.abs(line.load), windUp: Math.abs(line.load) * compliance * perUnit }),
    };
  });
}
/** What gives less than this, rad/(N·m) or m/N, does not. */
const RIGID = 1e-18;

/** How far an output gives under a unit at itself: of a shaft at the place that gives most. */
function mostOf({ unknowns, stations }: SpringTrain, gives: (f: Float64Array) => Float64Array, coordinate: number, member: Id): number {
  const places = stations.filter((s) => s.member === member).map((s) => s.unknown);
  return Math.max(
    ...(places.length ? places : [-1]).map((u) => {
      const f = new Float64Array(unknowns);
      f[coordinate] = 1;
      if (u >= 0) f[u] = 1;
      const x = gives(f);
      return x[coordinate] + (u >= 0 ? x[u] : 0);
    }),
  );
}
