import type { Design, Finding, Id, Wanted } from '../fields/types';
import { finding } from '../fields/types';
import { num } from '../elements/index';
import { Mechanism, coordinateOf, mapStops, stopsOf } from '../mechanism/index';
import { toNumber } from '../exact/index';
import { Forces } from './inverse';

const RPM = 60 / (2 * Math.PI);

/** One line of the ledger: a member at nominal input. */
export interface LedgerLine {
  member: Id;
  motion: 'turn' | 'slide' | 'still';
  /** rev/min or mm/s, with sign about the joint's axis. */
  speed: number;
  /** Torque or force that passes through the member, N·m or N. */
  load: number;
  /** Power that passes through, W. */
  power: number;
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

export interface Ledger {
  lines: LedgerLine[];
  sources: SourceResult[];
  couplings: { coupling: Id; speeds: number[]; loads: number[]; loss: number; tangential: number; radial: number; axial: number }[];
  wanted: WantedResult[];
  /** W: what sources give, what loads take, what couplings lose. */
  input: number;
  output: number;
  loss: number;
  /** Output over input, where power goes from sources to loads. */
  efficiency: number | undefined;
  findings: Finding[];
}

/** Rounding left over from forces that cancel is shown as none: a billionth of a newton metre, newton or watt. */
const nothing = (x: number): number => (Math.abs(x) < 1e-9 ? 0 : x);

/** Nominal rate of a source's coordinate, SI: rev/min of a turning joint, mm/s of a sliding one. */
export const nominalRate = (mechanism: Mechanism, coordinate: number, speed: number): number =>
  mechanism.motion[coordinate] === 1 ? speed * 1e-3 : speed / RPM;

/** Sets the coordinate rates that the sources' nominal speeds give. Returns what could not be met (0 when all can). */
export function nominalVelocities(mechanism: Mechanism, out: Float64Array, free: Float64Array = new Float64Array(mechanism.freeCount)): number {
  const { sources, reduction } = mechanism.compiled;
  // A source whose freedom others drive already is a finding; the speeds shown are those of the others.
  const led = sources.flatMap((s, k) =>
    reduction.overdriven.includes(s.coordinate) ? [] : [{ coordinate: s.coordinate, speed: mechanism.sourceSpeed[k] }],
  );
  const missed = mechanism.rates(
    led.map((x) => x.coordinate),
    led.map((x) => nominalRate(mechanism, x.coordinate, x.speed)),
    free,
  );
  mechanism.spreadRates(free, out);
  return missed;
}

/** The member-by-member table at the present pose: steady, without inertia. */
export function ledger(mechanism: Mechanism, forces: Forces = new Forces(mechanism)): Ledger {
  const { compiled } = mechanism;
  const { structure, design } = compiled;
  nominalVelocities(mechanism, forces.velocity);
  const state = forces.evaluate();
  const findings: Finding[] = [];
  if (!state.settled) {
    findings.push(
      finding('caution', 'losses-unsettled', [], 'which side drives does not settle at this pose: losses are shown for the last pattern tried'),
    );
  }
  if (state.indeterminate > 0) {
    findings.push(
      finding(
        'note',
        'statically-indeterminate',
        structure.closures.map((c) => c.joint.id),
        'more joint forces than equations: the smallest forces that balance are shown',
      ),
    );
  }

  const flow = new Map<Id, { power: number; load: number }>();
  const put = (id: Id, load: number, power: number): void => {
    const f = flow.get(id) ?? { power: 0, load: 0 };
    f.power += Math.abs(power);
    f.load += Math.abs(load);
    flow.set(id, f);
  };
  // Everything that gives a member power, besides the member's own load, which closes the balance.
  const balance = new Map<Id, number>();
  const rate = (id: Id): { rate: number; slide: boolean } => {
    const b = structure.bodyOf.get(id) ?? 0;
    const i = mechanism.bodyCoordinate[b];
    return i < 0 || b === 0 ? { rate: 0, slide: false } : { rate: forces.velocity[i] * mechanism.sign[i], slide: mechanism.motion[i] === 1 };
  };
  const share = (id: Id, load: number): void => {
    const r = rate(id);
    put(id, load, load * r.rate);
    balance.set(id, (balance.get(id) ?? 0) + load);
  };
  compiled.couplings.forEach((c, r) =>
    c.model.ports.forEach((p, k) => {
      for (const [id, sign] of [
        [p.member, 1],
        [p.carrier, -1],
      ] as const) {
        const i = mechanism.bodyCoordinate[structure.bodyOf.get(id) ?? 0];
        if (i < 0) continue;
        const a = structure.coordinates[i].axis;
        const along = p.axis[0] * a[0] + p.axis[1] * a[1] + p.axis[2] * a[2];
        if ((p.motion === 'slide') === (mechanism.motion[i] === 1)) share(id, sign * state.couplings[r].port[k] * along);
      }
    }),
  );
  const sources: SourceResult[] = [];
  compiled.sources.forEach((s, at) => {
    const k = [...state.inputCoordinate].indexOf(s.coordinate);
    const load = k < 0 ? 0 : state.input[k];
    const v = forces.velocity[s.coordinate];
    sources.push({ source: s.source.id, speed: mechanism.sourceSpeed[at], load: nothing(load), power: nothing(load * v) });
    const c = structure.coordinates[s.coordinate];
    share(c.joint.child, load);
  });
  const lines = design.members.map((m): LedgerLine => {
    const r = rate(m.id);
    const rest = balance.get(m.id) ?? 0;
    if (rest !== 0) put(m.id, rest, rest * r.rate);
    const f = flow.get(m.id) ?? { power: 0, load: 0 };
    const still = (structure.bodyOf.get(m.id) ?? 0) === 0;
    return {
      member: m.id,
      motion: still ? 'still' : r.slide ? 'slide' : 'turn',
      speed: r.slide ? r.rate * 1e3 : r.rate * RPM,
      load: nothing(f.load / 2),
      power: nothing(f.power / 2),
    };
  });
  const input = sources.reduce((s, x) => s + x.power, 0);
  const loss = state.couplings.reduce((s, c) => s + c.loss, 0);
  const output = -forces.loadPower;
  return {
    lines,
    sources,
    couplings: compiled.couplings.map((c, r) => {
      const f = state.couplings[r];
      return {
        coupling: c.coupling.id,
        speeds: Array.from(f.speed, (v, k) => (c.model.ports[k].motion === 'slide' ? v * 1e3 : v * RPM)),
        loads: [...f.port],
        loss: f.loss,
        tangential: Math.abs(f.tangential),
        radial: f.radial,
        axial: Math.abs(f.axial),
      };
    }),
    wanted: design.wanted.map((w) => judge(w, mechanism, forces, sources, lines)),
    input,
    output,
    loss,
    efficiency: input > 1e-12 && output > 0 ? output / input : undefined,
    findings,
  };
}

/** Radius of a crank source's handle, mm. */
export function crankRadius(design: Design, source: Id): number | undefined {
  const s = design.sources.find((x) => x.id === source);
  const e = design.elements.find((x) => x.id === s?.element);
  return e?.type === 'crank' ? num(e.radius) : undefined;
}

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

function judge(w: Wanted, m: Mechanism, forces: Forces, sources: SourceResult[], lines: LedgerLine[]): WantedResult {
  const unit = UNITS[w.type] ?? '';
  const got = measure(w, m, forces, sources, lines);
  if (typeof got === 'string') return { wanted: w.id, value: undefined, unit, off: undefined, met: false, because: got };
  const off = got - (w.value as number);
  const tol = num(w.tolerance) + 1e-9 * Math.abs(w.value as number);
  const met = w.sense === 'at least' ? off >= -tol : w.sense === 'at most' ? off <= tol : Math.abs(off) <= tol;
  return { wanted: w.id, value: got, unit, off, met };
}

function measure(w: Wanted, m: Mechanism, forces: Forces, sources: SourceResult[], lines: LedgerLine[]): number | string {
  const { compiled } = m;
  if (w.type === 'input-torque' || w.type === 'hand-force') {
    const s = sources.find((x) => x.source === w.source);
    if (!s) return 'choose the source';
    if (w.type === 'input-torque') return Math.abs(s.load);
    const r = crankRadius(compiled.design, s.source);
    return r ? (Math.abs(s.load) / r) * 1e3 : 'the source names no crank: choose the crank element in its data sheet';
  }
  const c = coordinateOf(compiled.structure, w.joint);
  if (!c) return w.joint === undefined ? 'waits for a stage that has it' : 'choose the joint';
  const turning = c.motion !== 'slide';
  const rate = forces.velocity[c.index];
  if (w.type === 'speed') return turning ? Math.abs(rate) * RPM : 'this joint slides: ask for a linear speed';
  if (w.type === 'linear-speed') return turning ? 'this joint turns: ask for a speed' : Math.abs(rate) * 1e3;
  if (w.type === 'torque' || w.type === 'force') {
    if (turning !== (w.type === 'torque')) return turning ? 'this joint turns: ask for a torque' : 'this joint slides: ask for a force';
    return lines.find((l) => l.member === c.joint.child)?.load ?? 0;
  }
  const { lower, upper } = stopsOf(c);
  let span = lower && upper ? toNumber(upper) - toNumber(lower) : undefined;
  if (span === undefined) {
    const through = mapStops(compiled, c.index);
    if (through.lower && through.upper) span = through.upper.at - through.lower.at;
  }
  if (span === undefined) return 'no stop ends this travel: give the joint a lower and an upper stop';
  if (w.type === 'travel') return turning ? 'this joint turns: ask for an angle' : span;
  if (w.type === 'angle') return turning ? span * 360 : 'this joint slides: ask for a travel';
  return rate === 0 ? 'nothing moves this joint' : span / (turning ? Math.abs(rate) / (2 * Math.PI) : Math.abs(rate) * 1e3);
}
