import { type Design, type Id, FRAME } from '../fields/types';
import type { DrivingSource } from '../document/index';
import { type Wrench, Forces, bearingForces, findWorkingPoints, givesTorque, ledger, loadSheet, shaftDiagram } from '../forces/index';
import { type Compiled, type Pose, compile, poseOf, slidesAt, SCREWS } from '../kinematics/index';
import { type Vec3, cross, dot, norm, vadd, vscale, vsub } from '../math/index';
import { type RunResult, dutiesOf, driveLoad, forcesAt, goHome, quantities, run, sweep } from '../motion/index';
import { rubs, type ScrewJoint } from '../joints/index';

/** A design at its home position, in steady motion. */
export interface Steady {
  design: Design;
  compiled: Compiled;
  pose: Pose;
  forces: Forces;
  ledger: ReturnType<typeof ledger>;
}

export function steadily(design: Design, onTheWay?: (pose: Pose) => void): Steady {
  const compiled = compile(design);
  const pose = poseOf(compiled);
  goHome(pose);
  onTheWay?.(pose);
  const forces = new Forces(pose);
  findWorkingPoints(pose, forces);
  return { design, compiled, pose, forces, ledger: ledger(pose, forces) };
}

/** Part of the figures that they came from below which figures agree. */
export const ALIKE = 1e-8;

function near(what: string, a: number, b: number, scale: number): void {
  if (!(Math.abs(a - b) <= ALIKE * Math.max(scale, 1e-6))) throw new Error(`${what}: ${a} where ${b} is due (beside ${scale})`);
}

const size = (wrenches: readonly Wrench[]): { force: number; moment: number } => {
  let force = 0,
    moment = 0;
  for (const w of wrenches) {
    force = Math.max(force, norm(w.force));
    moment = Math.max(moment, norm(w.moment), norm(cross(w.point, w.force)));
  }
  return { force, moment };
};

/** Sum of wrenches about the world's origin. */
function sum(wrenches: readonly Wrench[]): { force: Vec3; moment: Vec3 } {
  let force: Vec3 = [0, 0, 0],
    moment: Vec3 = [0, 0, 0];
  for (const w of wrenches) {
    force = vadd(force, w.force);
    moment = vadd(moment, vadd(w.moment, cross(w.point, w.force)));
  }
  return { force, moment };
}

/** Power of a wrench on the body on which it acts, W. */
function power({ forces }: Steady, w: Wrench): number {
  const t = 6 * w.body;
  const T = forces.twist;
  const turn: Vec3 = [T[t], T[t + 1], T[t + 2]];
  const speed = vadd([T[t + 3], T[t + 4], T[t + 5]], cross(turn, w.point));
  return dot(w.force, speed) + dot(w.moment, turn);
}

const groups = (wrenches: readonly Wrench[]): Map<string, Wrench[]> => {
  const out = new Map<string, Wrench[]>();
  for (const w of wrenches) {
    const key = `${w.kind} ${w.id}`;
    const list = out.get(key);
    if (list) list.push(w);
    else out.set(key, [w]);
  }
  return out;
};

/** Laws of mechanics that every design obeys in steady motion. Each throws where its law is broken. */
export const LAWS: Readonly<Record<string, (s: Steady) => void>> = {
  /** What sources and loads put in is what comes out and what is lost; nothing that rubs gives power. */
  energy(s) {
    const { input, output, loss, couplings, efficiency } = s.ledger;
    const scale = Math.max(Math.abs(input), Math.abs(output));
    near('input = output + loss', input, output + loss, scale);
    for (const c of couplings) if (c.loss < -ALIKE * Math.max(scale, 1e-6)) throw new Error(`${c.coupling} gives ${-c.loss} W`);
    if (s.forces.lostInLoads() < -ALIKE * Math.max(scale, 1e-6)) throw new Error('a load that rubs gives power');
    if (efficiency !== undefined && efficiency > 1 + ALIKE) throw new Error(`efficiency ${efficiency}`);
  },
  /** Each coupling's forces do just the work that it loses; a joint's do none, but for a thread that rubs. */
  work(s) {
    const lost = new Map<Id, number>();
    for (const c of s.ledger.couplings) lost.set(c.coupling, (lost.get(c.coupling) ?? 0) + c.loss);
    const all = s.forces.wrenches();
    const scale = all.reduce((m, w) => Math.max(m, Math.abs(power(s, w))), 0);
    for (const [key, list] of groups(all)) {
      const [kind, id] = key.split(' ');
      const done = list.reduce((p, w) => p + power(s, w), 0);
      const thread = s.design.joints.some((j: ScrewJoint) => j.id === id && j.type === 'screw' && rubs(j));
      if (kind === 'coupling') near(`work of ${id}`, done, -lost.get(id)!, scale);
      if (kind === 'joint') near(`work of joint ${id}`, done, thread ? -lost.get(id)! : 0, scale);
    }
  },
  /** Everything that acts on a body adds up to nothing. */
  sheets(s) {
    const all = s.forces.wrenches();
    const most = size(all);
    for (const m of s.design.members) {
      if (s.compiled.structure.bodyOf.get(m.id) === 0) continue;
      const sheet = loadSheet(s.forces, m.id, FRAME, false);
      near(`forces on ${m.id}`, norm(sheet.sumForce), 0, most.force);
      near(`moments on ${m.id}`, norm(sheet.sumMoment), 0, Math.max(most.moment, most.force));
    }
  },
  /** What a joint, a coupling, a source or a load between members puts on one, it puts back on another. */
  reaction(s) {
    const all = s.forces.wrenches();
    const most = size(all);
    const outside = new Set(s.design.loads.filter((l) => ['force', 'torque'].includes(l.type)).map((l) => `load ${l.id}`));
    for (const [key, list] of groups(all)) {
      if (outside.has(key) || key.startsWith('weight')) continue;
      const { force, moment } = sum(list);
      near(`${key}: force`, norm(force), 0, most.force);
      near(`${key}: moment`, norm(moment), 0, Math.max(most.moment, most.force));
    }
  },
  /** A joint carries nothing along its own freedoms. */
  freedoms(s) {
    const k = s.pose.kinematics;
    const all = s.forces.wrenches();
    const most = size(all);
    for (const e of k.ends) {
      const joint: ScrewJoint = s.design.joints.find((j) => j.id === e.joint)!;
      const on = all.filter((w) => w.kind === 'joint' && w.id === e.joint && w.body === e.child);
      if (e.child === e.parent || (joint.type === 'screw' && rubs(joint))) continue;
      const { force, moment } = sum(on);
      for (const i of e.chain) {
        const axis: Vec3 = [s.pose.axisNow[3 * i], s.pose.axisNow[3 * i + 1], s.pose.axisNow[3 * i + 2]];
        const point: Vec3 = [s.pose.pointNow[3 * i], s.pose.pointNow[3 * i + 1], s.pose.pointNow[3 * i + 2]];
        const turning = dot(axis, vsub(moment, cross(point, force)));
        const along = slidesAt(k, i) ? dot(axis, force) : turning + (k.motion[i] === SCREWS ? k.lead[i] * dot(axis, force) : 0);
        near(`joint ${e.joint} along its freedom`, along, 0, Math.max(most.moment, most.force));
      }
    }
  },
  /** Bearings carry what their joint carries. */
  bearings(s) {
    for (const j of s.design.joints) {
      const r = bearingForces(s.forces, j.id);
      if (!r) continue;
      const all = s.forces.wrenches().filter((w) => w.kind === 'joint' && w.id === j.id);
      const body = s.compiled.structure.bodyOf.get(j.child) ?? 0;
      const due = sum(all.filter((w) => w.body === body)).force;
      const axis = s.pose.axisNow.subarray(3 * s.compiled.structure.firstOf.get(j.id)!, 3 * s.compiled.structure.firstOf.get(j.id)! + 3);
      const got = r.bearings.reduce<Vec3>((f, b) => vadd(f, b.force), vscale([axis[0], axis[1], axis[2]], r.untaken));
      near(`bearings of ${j.id}`, norm(vsub(got, due)), 0, norm(due));
    }
  },
  /** What acts along a shaft adds up to nothing: shear, bending and torsion end where its last load stands. */
  shafts(s) {
    const most = size(s.forces.wrenches());
    for (const m of s.design.members) {
      const d = m.kind === 'shaft' && s.compiled.structure.bodyOf.get(m.id) !== 0 ? shaftDiagram(s.forces, m.id) : undefined;
      if (!d?.loads.length) continue;
      const due = sum(d.loads.map((l) => ({ kind: 'load', id: '', body: 0, point: [0, 0, l.at / 1e3], force: l.force, moment: l.moment })));
      near(`forces along ${m.id}`, norm(due.force), 0, most.force);
      near(`moments along ${m.id}`, norm(due.moment), 0, Math.max(most.force, most.moment));
    }
  },
};

/** Figures by which two ways to the same thing are compared: sources, members, joints; each by what it is. */
export function figures(s: Steady): Map<string, number> {
  const out = new Map<string, number>();
  for (const x of s.ledger.sources) out.set(`source ${x.source}`, x.load).set(`speed of ${x.source}`, x.speed);
  for (const x of s.ledger.lines) out.set(`load of ${x.member}`, x.load).set(`speed of ${x.member}`, x.speed);
  for (const x of s.ledger.couplings) out.set(`loss of ${x.coupling}`, (out.get(`loss of ${x.coupling}`) ?? 0) + x.loss);
  out.set('input', s.ledger.input).set('output', s.ledger.output).set('loss', s.ledger.loss);
  return out;
}

/** Forces and moments about the origin that joints, couplings, sources and loads put on each member. */
export function interactions(s: Steady, inertia = false): Map<string, Vec3> {
  const out = new Map<string, Vec3>();
  for (const m of s.design.members) {
    const body = s.compiled.structure.bodyOf.get(m.id);
    for (const [key, list] of groups(s.forces.wrenches(inertia).filter((w) => w.body === body))) {
      const { force, moment } = sum(list);
      out.set(`${key} on ${m.id}: force`, force).set(`${key} on ${m.id}: moment`, moment);
    }
  }
  return out;
}

/** Throws where two maps of figures differ; numbers of one map are judged beside its largest of the same kind. */
export function alike(what: string, a: ReadonlyMap<string, number | Vec3>, b: ReadonlyMap<string, number | Vec3>, part = 1e-7): void {
  const length = (x: number | Vec3): number => (typeof x === 'number' ? Math.abs(x) : norm(x));
  const most = Math.max(1e-6, ...[...a.values(), ...b.values()].map(length).filter((x) => !Number.isNaN(x)));
  for (const key of new Set([...a.keys(), ...b.keys()])) {
    const [x, y] = [a.get(key), b.get(key)];
    const zero = (v: number | Vec3 | undefined): number => (v === undefined ? 0 : length(v));
    const apart =
      typeof x === 'object' && typeof y === 'object'
        ? norm(vsub(x, y))
        : typeof x === 'number' && typeof y === 'number'
          ? Math.abs(x - y)
          : zero(x) + zero(y);
    if (Number.isNaN(zero(x)) && Number.isNaN(zero(y))) continue;
    if (!(apart <= part * most)) throw new Error(`${what}: ${key} is ${String(x)} and ${String(y)}`);
  }
}

/**
 * Forces of the first instant of a run in which nothing moves freely, and those of the same motion found without a run, inertia
 * counted; nothing where a run would differ.
 */
export function inARun(design: Design): { run: Map<string, Vec3>; here: Map<string, Vec3> } | undefined {
  if (design.sources.some((x: DrivingSource) => givesTorque(x) || (x.profile ?? 'constant speed') !== 'constant speed')) return undefined;
  const s = steadily(design);
  const r = run(s.compiled, { duration: 1e-3, frames: 2, stand: true }, s.pose.u);
  const then = forcesAt(s.compiled, r, 0).forces;
  const led = [...s.forces.state.inputCoordinate];
  s.forces.accelerate(
    led,
    led.map(() => 0),
    new Float64Array(s.pose.kinematics.freeCount),
  );
  s.forces.evaluate({ inertia: true });
  return { run: interactions({ ...s, forces: then }, true), here: interactions(s, true) };
}

/**
 * Throws where a run breaks a law at one of its instants: power in is power lost, nothing that rubs gives power, everything on a
 * body adds up to nothing.
 */
function lawful(what: string, design: Design, compiled: Compiled, r: RunResult): void {
  const all = quantities(compiled, r);
  const [gives, loses] = [':power', ':loss'].map((end) => all.filter((q) => q.key.endsWith(end)));
  let at: ReturnType<typeof forcesAt> | undefined;
  for (let f = 0; f < r.frames; f++) {
    const input = gives.filter((q) => q.key.startsWith('source')).reduce((p, q) => p + q.at(f), 0);
    const lost = loses.map((q) => q.at(f));
    const scale = Math.max(Math.abs(input), Math.abs(r.loadPower[f]), ...lost.map(Math.abs));
    for (const l of lost) if (l < -ALIKE * Math.max(scale, 1e-3)) throw new Error(`${what}: a loss of ${l} W at ${r.time[f]} s`);
    at = forcesAt(compiled, r, f, at);
    const s: Steady = { design, compiled, pose: at.forces.pose, forces: at.forces, ledger: { couplings: [] } as unknown as Steady['ledger'] };
    const most = size(at.forces.wrenches(true));
    for (const m of design.members) {
      if (compiled.structure.bodyOf.get(m.id) === 0) continue;
      const sheet = loadSheet(s.forces, m.id, FRAME, true);
      near(`${what}: forces on ${m.id} at ${r.time[f]} s`, norm(sheet.sumForce), 0, most.force);
      near(`${what}: moments on ${m.id} at ${r.time[f]} s`, norm(sheet.sumMoment), 0, Math.max(most.moment, most.force));
    }
  }
}

/** Takes the first driving source away and tries the laws at the instants of the first moments; says whether anything moved. */
export function letGo(design: Design): boolean {
  const led = design.sources.find((x) => !['torque', 'torque-line'].includes(x.type));
  const freed = { ...design, sources: design.sources.filter((x) => x !== led) };
  const compiled = compile(freed);
  const r = run(compiled, { duration: 4e-3, frames: 3, budget: 2000 });
  lawful('let go', freed, compiled, r);
  return r.frames > 1;
}

/** The sweep of the first source: at each place what the ledger says there, whatever way led to it. */
export function swept(design: Design): boolean {
  const compiled = compile(design);
  const over = sweep(compiled, 5);
  if (!over) return false;
  const { coordinate } = compiled.sources[0];
  const scale = compiled.kinematics.scale[coordinate];
  for (const f of [0, 3]) {
    if (f >= over.input.length) continue;
    const there = steadily(design, (pose) => void pose.solve([coordinate], [over.position[f] * scale]));
    if (Math.abs(there.pose.q[coordinate] / scale - over.position[f]) > 1e-9 * Math.max(1, Math.abs(over.position[f]))) continue;
    // One branch of several is as good as another.
    if (over.values.some((v, i) => Math.abs(v[f] - there.pose.q[i] / there.pose.kinematics.scale[i]) > 1e-6)) continue;
    const due = there.ledger.sources[0];
    const most = Math.max(1e-6, ...there.ledger.sources.map((x) => Math.abs(x.load)), ...there.ledger.lines.map((x) => Math.abs(x.load)));
    if (Math.abs(over.input[f] - due.load) > 1e-6 * most) {
      throw new Error(`sweep: ${over.input[f]} at ${over.position[f]} where the ledger has ${due.load}`);
    }
  }
  return true;
}

/** What a led run asks of its sources: the mean power is the work over the time, and nothing breaks a law on the way. */
export function asked(design: Design): boolean {
  const compiled = compile(design);
  const r = run(compiled, { duration: 4e-3, frames: 5, stand: true });
  lawful('led', design, compiled, r);
  if (r.frames < 5) return false;
  for (const [k, duty] of dutiesOf(compiled, r).entries()) {
    const c = compiled.sources[k].coordinate;
    const power = Array.from({ length: r.frames }, (_, f) => r.input[f * r.sources + k] * r.v[f * r.coordinates + c]);
    const mean = power.slice(1).reduce((w, p, f) => w + ((p + power[f]) / 2) * (r.time[f + 1] - r.time[f]), 0) / r.time[r.frames - 1];
    near(`mean power of ${duty.source}`, duty.meanPower, mean, Math.max(...power.map(Math.abs)));
    if (duty.rms > Math.abs(duty.peak) * (1 + ALIKE)) throw new Error(`root mean square ${duty.rms} above the peak ${duty.peak}`);
  }
  return true;
}

/** The inertia that a led run's source moves, by its masses, is that of the run's kinetic energy. */
export function reflected(design: Design): boolean {
  const compiled = compile(design);
  const r = run(compiled, { duration: 4e-3, frames: 5, stand: true });
  const drive = driveLoad(compiled, r);
  if (!drive) return false;
  for (let f = 0; f < r.frames; f++) {
    const energy = (drive.inertia[f] * drive.speed[f] ** 2) / 2;
    if (drive.speed[f]) near('energy of the reflected inertia', energy, r.kinetic[f], 100 * r.kinetic[f]);
  }
  return true;
}
