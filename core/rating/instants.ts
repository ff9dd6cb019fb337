import { type Case, brakesThatHold } from '../checks/index';
import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import type { Design, Id } from '../fields/types';
import {
  type CouplingLine,
  Forces,
  type GuideForces,
  type Holding,
  type Inside,
  type SourceResult,
  actingNow,
  bearingForces,
  besides,
  couplingLines,
  guideForces,
  holding,
  loadsAlong,
  sourcesNow,
  torqueAt,
} from '../forces/index';
import type { CarriedJoint } from '../joints/index';
import type { Compiled } from '../kinematics/index';
import { type RunForces, driveLoad, forcesAt, ledByOne } from '../motion/index';
import { type ComputedRun, computedRuns } from '../sizing/index';
import { TURNING } from '../units/index';
import { limitOf, risesIn } from './motor';
import type { Unrated } from './protocol';
import { askedShafts, bendsAt } from './shaft-bending';
import { askedSprings } from './coil';

/** Forces on a bearing, N, and the speed at which its joint turns, rev/min. */
export interface BearingLoad {
  readonly radial: number;
  readonly axial: number;
  readonly speed: number;
}
/** What a shaft carries just below and just above each of its rated places, and how fast it turns in what carries it, rev/min. */
export interface ShaftLoad {
  readonly inside: readonly (readonly [Inside, Inside])[];
  /** Slope, rad, and deflection, mm, where it is looked at; undefined where it is not carried twice or has no body. */
  readonly bends: readonly (readonly [number, number])[] | undefined;
  readonly supports: readonly number[];
  readonly speed: number;
}
/** A source at its limit, with the output blocked: how many times the load of the case it gives. */
export interface Blocked {
  readonly source: string;
  readonly limit: number;
  readonly times: number;
}
/** What acts for a part of the time. */
export interface Instant {
  /** Part of the whole time, 0 to 1. */
  readonly part: number;
  readonly coupling: (id: Id) => CouplingLine | undefined;
  /** Of the bearings of a joint, in their order. */
  readonly bearings: (joint: Id) => readonly BearingLoad[] | undefined;
  readonly shaft: (member: Id) => ShaftLoad | undefined;
  /** Of a sliding joint that states its guide. */
  readonly guide: (joint: Id) => GuideForces | undefined;
  /** Force or moment of a spring whose coil is stated, N or N·m. */
  readonly spring: (load: Id) => number | undefined;
  /** What a source gives, N·m or N, and its speed, rev/min or mm/s. */
  readonly source: (source: Id) => Pick<SourceResult, 'load' | 'speed'> | undefined;
}
/** A load case, which is one instant that lasts; or a saved run, which is many, and is repeated for the whole life. */
export interface RatedCase {
  readonly name: string;
  readonly run: boolean;
  /** How long it lasts, s; a load case without end. */
  readonly lasts: number;
  readonly instants: readonly Instant[];
  /** The greatest inertia that a source feels, with its own rotor, kg·m² or kg; undefined where the train has other freedoms. */
  readonly inertia: (source: Id) => number | undefined;
  /**
   * The only source of a load case at its torque limit, where that is more than its load; `unloaded` where it carries next
   * to nothing.
   */
  readonly blocked?: Blocked | 'unloaded';
  /** What holds the train of a load case when a source lets go; what its brakes have to hold, N·m or N, by their loads. */
  readonly holding: (source: Id) => Holding | undefined;
  readonly brakes: ReadonlyMap<Id, number>;
  /** Why it cannot be rated. */
  readonly trouble?: Unrated;
}

function instant(part: number, forces: Forces, lines: readonly CouplingLine[], given: readonly SourceResult[], inertia: boolean): Instant {
  const { design, structure } = forces.pose.compiled;
  const acting = actingNow(forces, inertia);
  const sources = new Map(given.map((s) => [s.source, s]));
  // Of a band with several rows the first says it all.
  const couplings = new Map<Id, CouplingLine>();
  for (const l of lines) if (!couplings.has(l.coupling)) couplings.set(l.coupling, l);
  const bearings = new Map<Id, readonly BearingLoad[]>();
  for (const j of design.joints as CarriedJoint[]) {
    const first = structure.firstOf.get(j.id);
    const found = first === undefined || !j.bearings?.length ? undefined : bearingForces(forces, j.id, inertia, acting);
    if (first === undefined || !found) continue;
    const speed = Math.abs(forces.velocity[first]) * TURNING.speedsPerSi;
    bearings.set(
      j.id,
      found.bearings.map((b) => ({ radial: Math.abs(b.radial), axial: Math.abs(b.axial), speed })),
    );
  }
  const guides = new Map<Id, GuideForces>();
  for (const j of design.joints) {
    const found = j.type === 'prismatic' ? guideForces(forces, j.id, inertia, acting) : undefined;
    if (found) guides.set(j.id, found);
  }
  const shafts = new Map<Id, ShaftLoad>();
  for (const { member, joint, places, bends, pieces } of askedShafts(design)) {
    if (!structure.bodyOf.has(member)) continue;
    const { loads, supports } = loadsAlong(forces, member, inertia, acting);
    const first = joint === undefined ? undefined : structure.firstOf.get(joint);
    shafts.set(member, {
      inside: places.map((z) => besides(loads, z)),
      bends: bendsAt(bends, loads, supports, pieces),
      supports,
      speed: first === undefined ? 0 : Math.abs(forces.velocity[first]) * TURNING.speedsPerSi,
    });
  }
  const springs = new Map<Id, number>();
  for (const { id, coil } of askedSprings(design)) {
    // It acts alike on both its ends.
    const w = acting.all.find((x) => x.kind === 'load' && x.id === id);
    if (w) springs.set(id, Math.hypot(...(coil === 'torsion' ? w.moment : w.force)));
  }
  return {
    part,
    coupling: (id) => couplings.get(id),
    bearings: (id) => bearings.get(id),
    shaft: (id) => shafts.get(id),
    guide: (id) => guides.get(id),
    spring: (id) => springs.get(id),
    source: (id) => sources.get(id),
  };
}
/** The most that a source gives at standstill, N·m or N; undefined where it states no limit, or one that cannot be read. */
function mostOf(s: DrivingSource, slide: boolean): number | undefined {
  if (s.type === 'torque-line') return Math.abs(torqueAt(s, 0, slide));
  return risesIn(s.torqueLimits ?? []) ? limitOf(s, 0) : undefined;
}
/** Below this part of its limit a source carries next to nothing, and says nothing of how loads go on through the train. */
const UNLOADED = 1e-3;
/** What is said where the output is blocked and the one source drives on up to its limit. */
function blockedIn({ sources, structure }: Compiled, given: readonly SourceResult[]): RatedCase['blocked'] {
  if (sources.length !== 1) return undefined;
  const source: DrivingSource = sources[0].source;
  const limit = mostOf(source, structure.coordinates[sources[0].coordinate].motion === 'slide');
  const load = Math.abs(given.find((s) => s.source === source.id)?.load ?? NaN);
  if (limit === undefined || !(limit > load)) return undefined;
  return load > UNLOADED * limit ? { source: source.name, limit, times: limit / load } : 'unloaded';
}
const nothing = (): undefined => undefined;
const NO_BRAKES: ReadonlyMap<Id, number> = new Map();

/** A load case at its position, steady. */
export function steadyCase({ name, forces, ledger }: Pick<Case, 'name' | 'forces' | 'ledger'>): RatedCase {
  const { pose } = forces;
  const { compiled } = pose;
  const braked = compiled.sources.some(({ source }) => num((source as DrivingSource).brake) > 0);
  const held = new Map((braked ? holding(pose) : []).map((h) => [h.source, h]));
  return {
    name,
    run: false,
    lasts: Infinity,
    instants: [instant(1, forces, ledger.couplings, ledger.sources, false)],
    blocked: blockedIn(compiled, ledger.sources),
    inertia(id) {
      const at = compiled.sources.find(({ source }) => source.id === id);
      return at && ledByOne(compiled) ? new Forces(pose).reflectedInertia(at.coordinate).inertia : undefined;
    },
    holding: (id) => held.get(id),
    brakes: new Map(brakesThatHold(forces).map((b) => [b.brake.id, b.needed])),
  };
}

/** A computed run, instant by instant, with inertia; each counts for half the time to its neighbours. */
export function runCase({ id, name, compiled, result: r, said }: ComputedRun): RatedCase {
  const fault = r.findings.find((f) => f.severity === 'fault');
  const why = said[0] ?? fault?.message;
  const base = { name, run: true, holding: nothing, brakes: NO_BRAKES };
  if (why !== undefined) return { ...base, lasts: 0, instants: [], inertia: nothing, trouble: { item: id, name, why } };
  const instants: Instant[] = [];
  const whole = r.time[r.frames - 1] - r.time[0];
  let made: RunForces | undefined;
  for (let f = 0; f < r.frames; f++) {
    made = forcesAt(compiled, r, f, made);
    const { forces } = made;
    const part = whole > 0 ? (r.time[Math.min(f + 1, r.frames - 1)] - r.time[Math.max(f - 1, 0)]) / 2 / whole : 1 / r.frames;
    instants.push(instant(part, forces, couplingLines(compiled, forces.state), sourcesNow(forces), true));
  }
  const inertia = (source: Id): number | undefined => {
    const which = compiled.sources.findIndex((s) => s.source.id === source);
    const drive = which < 0 ? undefined : driveLoad(compiled, r, which);
    return drive?.inertia.reduce((most, x) => Math.max(most, x), 0);
  };
  return { ...base, lasts: whole, instants, inertia };
}

const rated = new WeakMap<ComputedRun, RatedCase>();
/** The runs that are saved with a design, for its rating. */
export const savedRuns = (d: Design): RatedCase[] =>
  (d.runs?.length ? computedRuns(d) : []).map((run) => {
    const had = rated.get(run) ?? runCase(run);
    rated.set(run, had);
    return had;
  });
