import { finding } from '../findings/index';
import type { Design, Finding, Id } from '../fields/types';
import type { DrivingSource, WantedOutput } from '../document/kinds';
import { type Crank, num } from '../elements/index';
import { type Compiled, coordinateOf, mapStops, stopsOf, type Pose, slidesAt } from '../kinematics/index';
import { type Vec3, toNumber } from '../math/index';
import { type ForceState, Forces } from './forces';
import { thrustFindings } from './bearings';
import { slipFindings } from './slip';
import { limitFindings } from './source-limits';
import { type MemberAxis, ROUNDING, axesOf, loadAlong, loadsThrough } from './through';
import { TURNING, motionUnit, listed } from '../units/index';

/** One line of the ledger: a member at nominal input. */
export interface LedgerLine {
  member: Id;
  motion: 'turn' | 'slide' | 'still';
  /**
   * rev/min or mm/s about (along) the axis of the joint that carries it: relative to the member that carries it, and in
   * space.
   */
  speed: number;
  space: number;
  /** Torque or force that passes through the member: what drives it, which equals what resists. N·m or N. */
  load: number;
  /** Load times the speed relative to the member that carries it, W. */
  power: number;
  /**
   * Of a member that its joint lets turn but that does not turn (the platform
   * of a lift): how it travels, in the world; the same at every point of it.
   */
  travel?: { direction: Vec3; /** mm/s */ speed: number; /** N along it, what drives and what resists */ load: number; /** W */ power: number };
}

/** One wanted output against what the train does. */
export interface WantedResult {
  wanted: Id;
  value: number | undefined;
  unit: string;
  /** Difference from the wanted value. */
  off: number | undefined;
  met: boolean;
  /** Why there is no value. */
  because?: string;
}

export interface SourceResult {
  source: Id;
  speed: number;
  /** N·m or N that the source gives. */
  load: number;
  power: number;
}

/** Of a coupling, at each port: speed (rev/min or mm/s) and load (N·m or N); loss, W; forces at its contact, N. */
export interface CouplingLine {
  coupling: Id;
  speeds: number[];
  loads: number[];
  loss: number;
  tangential: number;
  radial: number;
  axial: number;
  /** Tension of every strand of a belt or chain, N; of others none. */
  strands: readonly number[];
}

/** Speeds, loads and powers of every member, coupling and source at a pose in steady motion, and what wanted outputs come to. */
export interface Ledger {
  lines: LedgerLine[];
  sources: SourceResult[];
  couplings: CouplingLine[];
  wanted: WantedResult[];
  /**
   * W: what drives (sources, or loads that drive), what loads and
   * absorbing sources take, what couplings, friction and dampers lose.
   */
  input: number;
  output: number;
  loss: number;
  /** Output over input. */
  efficiency: number | undefined;
  findings: Finding[];
}

/** Rounding left over from forces that cancel is shown as none: a billionth of a newton metre, newton or watt. */
const nothing = (x: number): number => (Math.abs(x) < 1e-9 ? 0 : x);

/** Nominal rate of a source's coordinate, SI: rev/min of a turning joint, mm/s of a sliding one. */
export const nominalRate = (pose: Pose, coordinate: number, speed: number): number =>
  speed / motionUnit(slidesAt(pose.kinematics, coordinate)).speedsPerSi;

/**
 * Sets the coordinate rates that the sources' nominal speeds give, while held coordinates stand,
 * but for what one-way couplings take along. Returns what could not be met (0 when all can).
 */
export function nominalVelocities(
  pose: Pose,
  out: Float64Array,
  free: Float64Array = new Float64Array(pose.kinematics.freeCount),
  held: readonly number[] = [],
): number {
  const { sources, reduction } = pose.compiled;
  // A source whose freedom others drive already is a finding; the speeds shown are those of the others.
  const led = sources.flatMap((s, k) =>
    reduction.overdriven.includes(s.coordinate) ? [] : [{ coordinate: s.coordinate, speed: pose.sourceSpeed[k] }],
  );
  const missed = pose.steadyRates(
    led.map((x) => x.coordinate),
    led.map((x) => nominalRate(pose, x.coordinate, x.speed)),
    [...held],
    free,
  );
  pose.spreadRates(free, out);
  return missed;
}

/** Speed of a member in space along its own axis, rad/s or m/s. */
function inSpace(pose: Pose, forces: Forces, { coordinate, slide, body }: MemberAxis): number {
  const sign = pose.kinematics.sign[coordinate];
  const { twist } = forces;
  const c = 3 * coordinate,
    t = 6 * body;
  const [ax, ay, az] = [pose.axisNow[c], pose.axisNow[c + 1], pose.axisNow[c + 2]];
  if (!slide) return sign * (twist[t] * ax + twist[t + 1] * ay + twist[t + 2] * az);
  const [x, y, z] = [pose.pointNow[c], pose.pointNow[c + 1], pose.pointNow[c + 2]];
  const vx = twist[t + 3] + twist[t + 1] * z - twist[t + 2] * y,
    vy = twist[t + 4] + twist[t + 2] * x - twist[t] * z,
    vz = twist[t + 5] + twist[t] * y - twist[t + 1] * x;
  return sign * (vx * ax + vy * ay + vz * az);
}

/**
 * How a member travels that turns against what carries it and stands upright
 * in space all the same; undefined where it turns, or its joint slides.
 */
function travelOf(forces: Forces, { coordinate, slide, body }: MemberAxis): { direction: Vec3; speed: number } | undefined {
  const rate = Math.abs(forces.velocity[coordinate]);
  const t = 6 * body;
  const { twist } = forces;
  // About no axis: its points all go the same way.
  if (slide || rate === 0 || Math.hypot(twist[t], twist[t + 1], twist[t + 2]) > UPRIGHT * rate) return undefined;
  const speed = Math.hypot(twist[t + 3], twist[t + 4], twist[t + 5]);
  if (speed <= UPRIGHT * rate) return undefined;
  return { direction: [twist[t + 3] / speed, twist[t + 4] / speed, twist[t + 5] / speed], speed: speed * 1e3 };
}
/** Part of the rate of its joint below which a member does not turn in space. */
const UPRIGHT = 1e-9;

const NO_STRANDS: readonly number[] = [];
/** What is lost, W; none where only rounding is left of the powers that go in and out. */
function lossOf({ loss, port, speed }: ForceState['couplings'][number]): number {
  let through = 0;
  for (let k = 0; k < port.length; k++) through += Math.abs(port[k] * speed[k]);
  return Math.abs(loss) < ROUNDING * through ? 0 : loss;
}

/** What every coupling carries, of forces that were evaluated: steady ones, or those of an instant of a run. */
export const couplingLines = (compiled: Compiled, state: Pick<ForceState, 'couplings'>, told = (x: number): number => x): CouplingLine[] =>
  compiled.couplings.map((c, r) => {
    const f = state.couplings[r];
    return {
      coupling: c.coupling.id,
      speeds: Array.from(f.speed, (v, k) => v * motionUnit(c.model.ports[k].motion).speedsPerSi),
      loads: Array.from(f.port, told),
      loss: told(lossOf(f)),
      tangential: told(Math.abs(f.tangential)),
      radial: told(f.radial),
      axial: told(Math.abs(f.axial)),
      strands: f.strands.length ? f.strands.map(told) : NO_STRANDS,
    };
  });

/** What every source gives, of forces that were evaluated; of one whose motion others lead, nothing. */
export const sourcesNow = ({ pose, state, velocity }: Forces): SourceResult[] =>
  pose.compiled.sources.map(({ source, coordinate }) => {
    const k = state.inputCoordinate.indexOf(coordinate);
    const load = k < 0 ? 0 : state.input[k];
    const rate = velocity[coordinate];
    return { source: source.id, speed: rate * motionUnit(slidesAt(pose.kinematics, coordinate)).speedsPerSi, load, power: load * rate };
  });

/** The member-by-member table at the present pose: steady, without inertia. */
export function ledger(pose: Pose, forces: Forces = new Forces(pose)): Ledger {
  const { compiled } = pose;
  const { structure, design } = compiled;
  const missed = nominalVelocities(pose, forces.velocity, undefined, forces.heldCoordinates);
  const state = forces.evaluate();
  const findings: Finding[] = [];
  const jam = jamOf(compiled, state);
  if (jam) findings.push(jam);
  findings.push(...heldBack(pose, missed));
  // Where it jams there are no forces to tell.
  const told = (x: number): number => (jam ? NaN : x);
  if (state.indeterminate > 0 || forces.openLoops) {
    findings.push(
      finding(
        'statically-indeterminate',
        structure.closures.map((c) => c.joint.id),
        {},
      ),
    );
  }

  if (!jam) findings.push(...slipFindings(compiled, state.couplings), ...thrustFindings(forces), ...followerFindings(pose, state));

  const wrenches = forces.wrenches();
  const axes = axesOf(pose);
  const loads = loadsThrough(pose, wrenches, axes);
  // What is rounding beside the largest of its kind is nothing.
  const most = { turn: 0, slide: 0 };
  for (const m of design.members) {
    const kind = axes.get(m.id)?.slide ? 'slide' : 'turn';
    most[kind] = Math.max(most[kind], loads.get(m.id) ?? 0);
  }
  const sources = compiled.sources.map((s, at): SourceResult => {
    const k = state.inputCoordinate.indexOf(s.coordinate);
    const load = k < 0 ? 0 : state.input[k];
    const real = Math.abs(load) <= ROUNDING * Math.max(most.turn, most.slide) ? 0 : load;
    return {
      source: s.source.id,
      speed: pose.sourceSpeed[at],
      load: told(nothing(real)),
      power: told(nothing(real * forces.velocity[s.coordinate])),
    };
  });
  const lines = design.members.map((m): LedgerLine => {
    const axis = axes.get(m.id);
    if (!axis) return { member: m.id, motion: 'still', speed: 0, space: 0, load: 0, power: 0 };
    const { coordinate, slide, sense } = axis;
    const rate = forces.velocity[coordinate] * sense;
    const load = loads.get(m.id) ?? 0;
    const unit = motionUnit(slide).speedsPerSi;
    const real = load <= ROUNDING * most[slide ? 'slide' : 'turn'] ? 0 : load;
    const travels = travelOf(forces, axis);
    const along = travels && loadAlong(wrenches, axis.body, travels.direction);
    return {
      ...(travels && along !== undefined && { travel: { ...travels, load: told(along), power: told((along * travels.speed) / 1e3) } }),
      member: m.id,
      motion: slide ? 'slide' : 'turn',
      speed: nothing(rate * unit),
      space: nothing(inSpace(pose, forces, axis) * unit),
      load: told(nothing(real)),
      power: told(nothing(Math.abs(real * rate))),
    };
  });
  compiled.sources.forEach((s, at) => findings.push(...limitFindings(s.source, slidesAt(pose.kinematics, s.coordinate), sources[at])));
  // What loads and absorbing sources take is useful; friction of joints and dampers is lost, as is what couplings lose.
  const rubbed = forces.lostInLoads();
  const loss = told(state.couplings.reduce((s, c) => s + c.loss, 0) + rubbed);
  const taken = -forces.loadPower - rubbed;
  const given = sources.reduce((s, x) => s + Math.max(0, x.power), 0);
  const output = told(Math.max(0, taken)) + sources.reduce((s, x) => s + Math.max(0, -x.power), 0);
  const input = given + Math.max(0, -taken);
  // Where speeds and forces can be had at all, energy balances; where not, the fault is the program's, and it says so.
  const sound = !jam && missed <= HELD_BACK && state.remainder <= UNBALANCED * forces.acting;
  const power = Math.max(Math.abs(input), Math.abs(output), Math.abs(loss));
  const off = Math.abs(input - output - loss);
  // Beside what acts at the speeds that there are, less is rounding.
  const least = NO_POWER * (1 + forces.acting * forces.velocity.reduce((s, v) => Math.max(s, Math.abs(v)), 0));
  if (sound && Math.max(off, -loss) > Math.max(UNBALANCED * power, least)) {
    findings.push(finding('energy-unbalanced', [], { input: short(input), output: short(output), loss: short(loss) }));
  }
  return {
    lines,
    sources,
    couplings: couplingLines(compiled, state, told),
    wanted: design.wanted.map((w) => judge(w, pose, forces, sources, lines)),
    input,
    output,
    loss,
    efficiency: input > 1e-12 && output > 1e-9 * input ? output / input : undefined,
    findings,
  };
}

/**
 * A finding where no sense of the forces agrees with the losses: self-locking
 * couplings driven from the wrong side, or losses that lock a train round a loop.
 */
function jamOf({ couplings, structure }: Compiled, state: ForceState): Finding | undefined {
  if (state.settled) return undefined;
  if (state.jamsAt >= 0) {
    const { joint } = structure.coordinates[state.jamsAt];
    return finding('jammed/friction', [joint.id], { name: joint.name ?? joint.id });
  }
  const locking = couplings.filter((c) => (c.model.efficiency?.backward ?? 1) <= 0).map((c) => c.coupling);
  const unclear = state.jams < 0 ? [] : [couplings[state.jams].coupling];
  const named = locking.length ? locking : unclear;
  const names = listed(named.map((c) => `“${c.name ?? c.id}”`));
  return finding(locking.length ? 'jammed' : 'jammed/losses', [...new Set(named.map((c) => c.id))], { names });
}

/** One-way couplings that would have to give way for what sources lead. */
function heldBack(pose: Pose, missed: number): Finding[] {
  if (missed <= HELD_BACK) return [];
  const { couplings, design } = pose.compiled;
  return pose.gripping.flatMap((id) => {
    const coupling = couplings.find((c) => c.coupling.id === id)?.coupling;
    if (!coupling) return [];
    const names = listed(design.sources.map((s) => `“${s.name}”`));
    return [finding('grip-against-source', [id, ...design.sources.map((s) => s.id)], { name: coupling.name ?? id, names })];
  });
}
/** Part of the power by which it may be out of balance from rounding. */
const UNBALANCED = 1e-6;
/** Part of a watt, and of what acts times the greatest speed, below which power is none. */
const NO_POWER = 1e-9;
const short = (x: number): number => Number(x.toPrecision(5));
/** Rates that do not agree by less than this are rounding, rad/s over a metre. */
const HELD_BACK = 1e-9;

/** Followers held by force that nothing presses on their cams at the pose, or that would have to be pulled. */
function followerFindings(pose: Pose, state: ForceState): Finding[] {
  return pose.kinematics.rows.flatMap((row, r) => {
    const { coupling } = pose.compiled.couplings[r];
    if (!row.grip?.touches || state.couplings[r].lambda * row.grip.sense > 0) return [];
    return [finding('follower-not-pressed', [coupling.id], { name: coupling.name ?? coupling.id })];
  });
}

/** Radius of a crank source's handle, mm. */
export function crankRadius(design: Design, source: Id): number | undefined {
  const s: DrivingSource | undefined = design.sources.find((x) => x.id === source);
  const e: Crank | undefined = design.elements.find((x) => x.id === s?.element);
  return e?.type === 'crank' ? num(e.radius) : undefined;
}

const JAMS = 'the train jams';

const UNITS: Record<string, string> = {
  speed: 'rev/min',
  'linear-speed': 'mm/s',
  travel: 'mm',
  angle: 'deg',
  time: 's',
  torque: 'N·m',
  force: 'N',
  'input-torque': 'N·m',
  'hand-force': 'N',
};

function judge(w: WantedOutput, m: Pose, forces: Forces, sources: SourceResult[], lines: LedgerLine[]): WantedResult {
  const unit = UNITS[w.type] ?? '';
  const got = measure(w, m, forces, sources, lines);
  if (typeof got === 'string') return { wanted: w.id, value: undefined, unit, off: undefined, met: false, because: got };
  const short = got - num(w.value);
  // What only rounding is off is nothing.
  const off = Math.abs(short) <= 1e-12 * Math.abs(got) ? 0 : short;
  const tol = num(w.tolerance) + 1e-9 * Math.abs(num(w.value));
  const met = w.sense === 'at least' ? off >= -tol : w.sense === 'at most' ? off <= tol : Math.abs(off) <= tol;
  return { wanted: w.id, value: got, unit, off, met };
}

function measure(w: WantedOutput, m: Pose, forces: Forces, sources: SourceResult[], lines: LedgerLine[]): number | string {
  const { compiled } = m;
  if (w.type === 'input-torque' || w.type === 'hand-force') {
    const s = sources.find((x) => x.source === w.source);
    if (!s) return 'choose the source';
    if (Number.isNaN(s.load)) return JAMS;
    if (w.type === 'input-torque') return Math.abs(s.load);
    const r = crankRadius(compiled.design, s.source);
    return r ? (Math.abs(s.load) / r) * 1e3 : 'the source names no crank: choose the crank element in its data sheet';
  }
  const c = coordinateOf(compiled.structure, w.joint);
  if (!c) return w.joint === undefined ? 'waits for a stage that has it' : 'choose the joint';
  const turning = c.motion !== 'slide';
  const rate = forces.velocity[c.index];
  if (w.type === 'speed') return turning ? Math.abs(rate) * TURNING.speedsPerSi : 'this joint slides: ask for a linear speed';
  if (w.type === 'linear-speed') return turning ? 'this joint turns: ask for a speed' : Math.abs(rate) * 1e3;
  if (w.type === 'torque' || w.type === 'force') {
    if (turning !== (w.type === 'torque')) return turning ? 'this joint turns: ask for a torque' : 'this joint slides: ask for a force';
    const load = lines.find((l) => l.member === c.joint.child)?.load ?? 0;
    return Number.isNaN(load) ? JAMS : load;
  }
  const { lower, upper } = stopsOf(c);
  let span = lower && upper ? toNumber(upper) - toNumber(lower) : undefined;
  if (span === undefined) {
    const through = mapStops(compiled, c.index, false);
    if (through.lower && through.upper) span = through.upper.at - through.lower.at;
  }
  if (span === undefined) return 'no stop ends this travel: give the joint a lower and an upper stop';
  if (w.type === 'travel') return turning ? 'this joint turns: ask for an angle' : span;
  if (w.type === 'angle') return turning ? span * 360 : 'this joint slides: ask for a travel';
  return rate === 0 ? 'nothing moves this joint' : span / (turning ? Math.abs(rate) / (2 * Math.PI) : Math.abs(rate) * 1e3);
}
