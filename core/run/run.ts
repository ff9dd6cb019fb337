import { Finding, Id, finding } from '../fields/types';
import { Forces, givesTorque, torqueAt } from '../forces/index';
import { Compiled, Mechanism, PoseState, stopsOf } from '../mechanism/index';
import { toNumber } from '../exact/index';
import { MotionProfile, motionProfile, profileProblem } from './profiles';
import { LeastSquares, firstFound } from '../numeric/index';
import { DormandPrince, stepFactor } from './integrator';

export interface RunOptions {
  /** s */
  duration: number;
  /** Instants recorded, both ends included. */
  frames: number;
  /** Counts inertia; always counted where something moves freely. */
  inertia?: boolean;
  /** Freedoms that nothing drives stand where they are, and sources that state torque run at their working speed: no free motion. */
  stand?: boolean;
  /** Part by which a step of free motion may be wrong. */
  tolerance?: number;
  /** Most evaluations of the equations of free motion before the run is given up; 50 000 and 100 for each frame where nothing is said. */
  budget?: number;
}

export type EventKind =
  | 'stop-reached'
  | 'stop-left'
  | 'pawl-grips'
  | 'pawl-lets-go'
  | 'follower-lifts'
  | 'follower-lands'
  | 'branch-change'
  | 'dead-point'
  | 'unreachable'
  | 'run-ends';

/** Something that happens at one time of a run. */
export interface RunEvent {
  /** s */
  time: number;
  kind: EventKind;
  /** The joint, coupling or source concerned. */
  id: Id;
  message: string;
}

/**
 * A computed motion, frame by frame, in flat arrays that can be handed from thread to thread. Per frame f and coordinate i at f·coordinates + i; SI:
 * rad, m, s, N, N·m, W, J. Reactions are six numbers (force, moment about the joint's point, by the parent's side on the child's, world).
 */
export interface RunResult {
  frames: number;
  coordinates: number;
  couplings: number;
  sources: number;
  time: Float64Array;
  q: Float64Array;
  v: Float64Array;
  a: Float64Array;
  /** Per source: torque or force it gives. */
  input: Float64Array;
  /** Per coordinate: force of the stop that holds it. */
  stop: Float64Array;
  /** Per coupling row: tangential, radial, axial force, loss. */
  tangential: Float64Array;
  radial: Float64Array;
  axial: Float64Array;
  loss: Float64Array;
  /** Per strand of all belts, in order of rows. */
  strands: Float64Array;
  strandCount: number;
  reaction: Float64Array;
  /** Per frame: kinetic energy; power that loads, weight and inertia put in (the sources' and this make up the losses). */
  kinetic: Float64Array;
  loadPower: Float64Array;
  events: RunEvent[];
  findings: Finding[];
}

interface Limit {
  coordinate: number;
  which: 'lower' | 'upper';
  value: number;
  joint: Id;
}

/** What holds or lets go at a time: one set of equations. */
interface Mode {
  stops: Set<Limit>;
  grips: Set<number>;
  flying: Set<number>;
}

const MOST_STEPS_A_FRAME = 4000;
const MOST_EVENTS = 500;
/** Coordinates and rates beyond this are no motion any more: rad, m, rad/s, m/s. */
const RUNS_AWAY = 1e30;
const MOST_FRAMES = 20_000;

/**
 * Computes a run step by step: call `step()` until it says false; `progress` goes from 0 to 1. Sources with a motion profile are led; freedoms that
 * nothing leads, and sources that state torque, move freely (reduced equations, adaptive steps, stops and pawls as events with plastic impact). Bounded: at
 * most 20 000 frames, 4 000 steps between two frames, 500 events, and a budget of evaluations.
 */
export class Runner {
  readonly result: RunResult;
  private readonly m: Mechanism;
  private readonly limits: Limit[] = [];
  private readonly driven: number[] = [];
  private readonly profiles: MotionProfile[] = [];
  private readonly base: Float64Array;
  private readonly torques: { coordinate: number; source: number; slide: boolean }[] = [];
  private mode: Mode = { stops: new Set(), grips: new Set(), flying: new Set() };
  private forces!: Forces;
  /** Coordinates whose motion is integrated, and those that are led (profiles first, then stops that hold). */
  private free: number[] = [];
  private led: number[] = [];
  /** For each that is led, the stop that holds it. */
  private holds: (Limit | undefined)[] = [];
  private readonly three = new Float64Array(3);
  private spent = 0;
  private frame = 0;
  private t = 0;
  private y: Float64Array = new Float64Array(0);
  private h = 0;
  private readonly inertia: boolean;
  private readonly integrator: DormandPrince;
  private branch = 0;
  private ended = false;
  /** The free freedoms where the whole led train is held. */
  private stalled: Float64Array | undefined;
  private readonly u: Float64Array;

  constructor(
    readonly compiled: Compiled,
    readonly options: RunOptions,
    start?: ArrayLike<number>,
  ) {
    const m = (this.m = new Mechanism(compiled));
    if (start) m.setFree(start);
    m.solve([], []);
    for (const w of m.oneWays) w.reset(m.q);
    const findings: Finding[] = [];
    compiled.sources.forEach((s, k) => {
      if (compiled.reduction.overdriven.includes(s.coordinate)) return;
      const slide = m.motion[s.coordinate] === 1;
      if (givesTorque(s.source) && options.stand) {
        const v = m.sourceSpeed[k] * (slide ? 1e-3 : Math.PI / 30);
        this.driven.push(s.coordinate);
        this.profiles.push((t, out) => void ((out[0] = v * t), (out[1] = v), (out[2] = 0)));
        return;
      }
      if (givesTorque(s.source)) return void this.torques.push({ coordinate: s.coordinate, source: k, slide });
      const bad = profileProblem(s.source);
      if (bad) findings.push(finding('stop', 'profile-incomplete', [s.source.id], `“${s.source.name}”: ${bad.message}`, bad.field));
      this.driven.push(s.coordinate);
      this.profiles.push(motionProfile(s.source, !slide));
    });
    this.base = Float64Array.from(this.driven, (c) => m.q[c]);
    for (const c of compiled.structure.coordinates) {
      if (c.order !== 0) continue;
      const { lower, upper } = stopsOf(c);
      const k = m.scale[c.index];
      if (lower) this.limits.push({ coordinate: c.index, which: 'lower', value: toNumber(lower) * k, joint: c.joint.id });
      if (upper) this.limits.push({ coordinate: c.index, which: 'upper', value: toNumber(upper) * k, joint: c.joint.id });
    }
    this.integrator = new DormandPrince((t, y, out) => this.rate(t, y, out), options.tolerance ?? 1e-8);
    const frames = Math.max(2, Math.min(MOST_FRAMES, Math.round(options.frames)));
    const n = m.count,
      rows = compiled.couplings.length;
    const strandCount = compiled.couplings.reduce((s, c) => s + (c.model.strands?.lengths.length ?? 0), 0);
    const make = (k: number): Float64Array => new Float64Array(frames * k);
    this.result = {
      frames,
      coordinates: n,
      couplings: rows,
      sources: compiled.sources.length,
      time: make(1),
      q: make(n),
      v: make(n),
      a: make(n),
      input: make(compiled.sources.length),
      stop: make(n),
      tangential: make(rows),
      radial: make(rows),
      axial: make(rows),
      loss: make(rows),
      strands: make(strandCount),
      strandCount,
      reaction: make(6 * n),
      kinetic: make(1),
      loadPower: make(1),
      events: [],
      findings,
    };
    this.u = new Float64Array(m.freeCount);
    this.enter(new Float64Array(n));
    this.inertia = (options.inertia ?? true) || this.free.length > 0;
    // Started beyond a stop: the stop holds from the beginning.
    for (const l of this.limits) if (this.over(l) > 1e-9 && this.movesFreely(l.coordinate)) this.mode.stops.add(l);
    this.enter(new Float64Array(n));
    this.record();
  }

  get progress(): number {
    return this.ended ? 1 : this.frame / (this.result.frames - 1);
  }

  private over(l: Limit): number {
    return l.which === 'upper' ? this.m.q[l.coordinate] - l.value : l.value - this.m.q[l.coordinate];
  }

  /** Whether what moves freely can move a coordinate, or profiles alone lead it. */
  private movesFreely(coordinate: number): boolean {
    const { m, led, free } = this;
    const all = this.all(led, free);
    const rates = new Float64Array(m.count);
    return free.some((_, k) => {
      m.rates(
        all,
        Array.from({ length: all.length }, (_, i) => (i === led.length + k ? 1 : 0)),
        this.u,
      );
      m.spreadRates(this.u, rates);
      return Math.abs(rates[coordinate]) > 1e-12;
    });
  }

  /** Takes up the equations of the present mode, for the coordinate rates at hand; velocities that the mode forbids are lost (plastic impact). */
  private enter(rates: Float64Array): void {
    const m = this.m;
    for (const c of m.curves) c.on = !this.mode.flying.has(c.row);
    const stops = [...this.mode.stops];
    this.led = [...this.driven, ...stops.map((l) => l.coordinate)];
    this.holds = [...this.driven.map(() => undefined), ...stops];
    m.setFree(Float64Array.from(m.u));
    m.gripsStand = false;
    this.forces = new Forces(m, this.options.stand ? { driven: this.led } : { driven: this.led, gripping: [...this.mode.grips] });
    this.free = this.options.stand ? [] : [...this.forces.state.inputCoordinate].slice(this.forces.driven);
    m.gripsStand = this.free.length > 0 || this.mode.grips.size > 0;
    this.forces.smoothFriction = this.free.length > 0;
    const d = this.free.length;
    this.y = new Float64Array(2 * d);
    this.free.forEach((c, k) => {
      this.y[k] = m.q[c];
      this.y[d + k] = rates[c];
    });
    if (d) this.project(rates);
  }

  /** The rates that the mode allows, nearest to the old ones as the masses weigh them. */
  private project(rates: Float64Array): void {
    const { m, forces, free } = this;
    const d = free.length;
    const all = [...this.led, ...free];
    const basis: Float64Array[] = [];
    const give = (values: number[], out: Float64Array): void => {
      m.rates(all, values, this.u);
      m.spreadRates(this.u, out);
    };
    const base = new Float64Array(m.count);
    const speedOf = (p: MotionProfile): number => (p(this.t, this.three), this.three[1]);
    give([...this.led.map((_, k) => (k < this.driven.length ? speedOf(this.profiles[k]) : 0)), ...free.map(() => 0)], base);
    for (let k = 0; k < d; k++) {
      const b = new Float64Array(m.count);
      give([...this.led.map(() => 0), ...free.map((_, j) => (j === k ? 1 : 0))], b);
      basis.push(b);
    }
    const energy = (v: ArrayLike<number>): number => {
      forces.velocity.set(v);
      return forces.kinetic();
    };
    const sum = (a: Float64Array, b: Float64Array, s: number): Float64Array => a.map((x, i) => x + s * b[i]);
    const pair = (a: Float64Array, b: Float64Array): number => (energy(sum(a, b, 1)) - energy(sum(a, b, -1))) / 4;
    const want = sum(rates, base, -1);
    const solver = new LeastSquares(d, d);
    solver.begin(d, d);
    for (let j = 0; j < d; j++) for (let k = 0; k < d; k++) solver.a[j * d + k] = 2 * pair(basis[k], basis[j]);
    for (let k = 0; k < d; k++) solver.b[k] = 2 * pair(basis[k], want);
    solver.factor(1e-12);
    const c = solver.solve();
    for (let k = 0; k < d; k++) this.y[d + k] = Number.isFinite(c[k]) ? c[k] : 0;
  }

  private readonly values: number[] = [];
  private readonly speeds: number[] = [];
  private readonly pushes: number[] = [];

  /** Sets pose and rates at time t for the free coordinates y. False where the pose cannot be reached. */
  private pose(t: number, y: Float64Array): boolean {
    const { m, led, free, values, speeds, pushes } = this;
    const d = free.length;
    for (let k = 0; k < led.length; k++) {
      if (k < this.driven.length) {
        this.profiles[k](t, this.three);
        values[k] = this.base[k] + this.three[0];
        speeds[k] = this.three[1];
        pushes[k] = this.three[2];
      } else {
        values[k] = this.holds[k]!.value;
        speeds[k] = pushes[k] = 0;
      }
    }
    for (let k = 0; k < d; k++) {
      values[led.length + k] = y[k];
      speeds[led.length + k] = y[d + k];
      pushes[led.length + k] = 0;
    }
    const n = led.length + d;
    const all = this.all(led, free);
    m.iterationsLeft = d ? 100 : 2000;
    const state = m.solve(all, values, n);
    m.iterationsLeft = Infinity;
    this.lastState = state;
    if (state !== 'ok') return false;
    m.rates(all, speeds.slice(0, n), this.u);
    m.spreadRates(this.u, this.forces.velocity);
    for (const T of this.torques) {
      this.forces.given[T.coordinate] = torqueAt(this.compiled.sources[T.source].source, this.forces.velocity[T.coordinate], T.slide);
    }
    return true;
  }

  private lastState: PoseState = 'ok';
  private allStore: Int32Array = new Int32Array(0);
  private all(led: number[], free: number[]): Int32Array {
    const n = led.length + free.length;
    if (this.allStore.length !== n) this.allStore = new Int32Array(n);
    for (let k = 0; k < n; k++) this.allStore[k] = k < led.length ? led[k] : free[k - led.length];
    return this.allStore;
  }

  /** Accelerations of the free coordinates at the present pose and rates: what makes nothing hold them but their sources. */
  private accelerations(): Float64Array {
    const { forces, led, free } = this;
    const d = free.length;
    const acc = new Float64Array(d);
    const all = this.all(led, free);
    const push = Float64Array.from({ length: led.length + d }, (_, k) => (k < led.length ? this.pushes[k] : 0));
    const rest = (out: Float64Array): void => {
      for (let k = 0; k < d; k++) push[led.length + k] = acc[k];
      forces.accelerate(all, push, this.u);
      const s = forces.evaluate({ inertia: true });
      for (let k = 0; k < d; k++) out[k] = s.input[forces.driven + k];
    };
    const r0 = new Float64Array(d),
      r1 = new Float64Array(d);
    const solver = new LeastSquares(d, d);
    // Losses make the needs piecewise straight in the accelerations: Newton's steps settle with the pattern of driving sides.
    for (let turn = 0; turn < 4; turn++) {
      rest(r0);
      let most = 0;
      for (const x of r0) most = Math.max(most, Math.abs(x));
      if (turn && most < 1e-10) break;
      solver.begin(d, d);
      for (let j = 0; j < d; j++) {
        const step = 1 + Math.abs(acc[j]);
        acc[j] += step;
        rest(r1);
        acc[j] -= step;
        for (let k = 0; k < d; k++) solver.a[j * d + k] = (r1[k] - r0[k]) / step;
      }
      for (let k = 0; k < d; k++) solver.b[k] = -r0[k];
      solver.factor(1e-13);
      const x = solver.solve();
      for (let k = 0; k < d; k++) if (Number.isFinite(x[k])) acc[k] += x[k];
    }
    rest(r0);
    return acc;
  }

  private rate(t: number, y: Float64Array, out: Float64Array): boolean {
    this.spent++;
    const d = this.free.length;
    if (!this.pose(t, y)) return false;
    const acc = this.accelerations();
    for (let k = 0; k < d; k++) {
      out[k] = y[d + k];
      out[d + k] = acc[k];
    }
    return true;
  }

  /** The first thing that would happen at the present state, or nothing. */
  private trigger(t: number): { kind: EventKind; id: Id; message: string; change: () => void } | undefined {
    const { m, mode, forces } = this;
    const name = this.name;
    for (const l of this.limits) {
      const rate = forces.velocity[l.coordinate] * (l.which === 'upper' ? 1 : -1);
      if (!mode.stops.has(l) && this.over(l) > 1e-9 && rate > 0) {
        const message = `the ${l.which} stop of ${name(l.joint)} holds`;
        if (this.movesFreely(l.coordinate)) return { kind: 'stop-reached', id: l.joint, message, change: () => void mode.stops.add(l) };
        // Led against it while other things move freely: what follows would be a matter of how the source gives way.
        return {
          kind: 'stop-reached',
          id: l.joint,
          message: `${message} what its source leads on: the run ends here`,
          change: () => void (this.ended = true),
        };
      }
    }
    for (const l of mode.stops) {
      const k = this.led.indexOf(l.coordinate);
      const push = forces.state.input[k] * (l.which === 'upper' ? -1 : 1);
      if (k >= this.driven.length && push < -1e-9) {
        return { kind: 'stop-left', id: l.joint, message: `${name(l.joint)} leaves its ${l.which} stop`, change: () => void mode.stops.delete(l) };
      }
    }
    for (const w of m.oneWays) {
      if (w.lifted) continue;
      if (!mode.grips.has(w.row) && w.gap(m.q) < -1e-9 && w.speed(forces.velocity) < 0 && this.free.length) {
        return { kind: 'pawl-grips', id: w.coupling, message: `${name(w.coupling)} grips`, change: () => void mode.grips.add(w.row) };
      }
      if (
        mode.grips.has(w.row) &&
        forces.state.couplings[w.row].port[0] * (this.compiled.couplings[w.row].model.ports[0].coefficient.q.n < 0n ? -1 : 1) < -1e-9
      ) {
        return { kind: 'pawl-lets-go', id: w.coupling, message: `${name(w.coupling)} lets go`, change: () => void mode.grips.delete(w.row) };
      }
    }
    for (const c of m.curves) {
      if (!c.curve.pushes) continue;
      if (!mode.flying.has(c.row) && forces.state.couplings[c.row].tangential < -1e-9 && t > 0) {
        return {
          kind: 'follower-lifts',
          id: c.coupling,
          message: `the follower of ${name(c.coupling)} leaves the cam`,
          change: () => void mode.flying.add(c.row),
        };
      }
      if (mode.flying.has(c.row) && c.gap(m.q) < -1e-9) {
        return {
          kind: 'follower-lands',
          id: c.coupling,
          message: `the follower of ${name(c.coupling)} meets the cam again`,
          change: () => void mode.flying.delete(c.row),
        };
      }
    }
    return undefined;
  }

  private readonly name = (id: Id): string => {
    const d = this.compiled.design;
    return `“${[...d.joints, ...d.couplings].find((x) => x.id === id)?.name ?? id}”`;
  };

  private say(kind: EventKind, id: Id, message: string, time = this.t): void {
    if (this.result.events.length < MOST_EVENTS) this.result.events.push({ time, kind, id, message });
  }

  /** Everything needed at the present time: pose, rates, accelerations and forces of the mode at hand. */
  private settle(t: number, y: Float64Array): boolean {
    if (!this.pose(t, y)) return false;
    if (this.free.length) {
      this.accelerations();
      return true;
    }
    const all = this.all(this.led, this.free);
    if (this.inertia) this.forces.accelerate(all, this.pushes.slice(0, all.length), this.u);
    this.forces.evaluate({ inertia: this.inertia });
    return true;
  }

  /** Advances to the next frame. False when the run is over. */
  step(): boolean {
    const { result, options } = this;
    if (this.ended || this.frame >= result.frames - 1) return false;
    const next = (options.duration * (this.frame + 1)) / (result.frames - 1);
    let steps = 0;
    while (this.t < next - 1e-12 * options.duration && !this.ended) {
      const budget = options.budget ?? 50_000 + 100 * result.frames;
      if (this.spent > budget || steps++ > MOST_STEPS_A_FRAME || result.events.length >= MOST_EVENTS) {
        this.giveUp();
        break;
      }
      if (this.free.length) this.integrate(next);
      else this.lead(next);
    }
    this.frame++;
    if (this.ended) {
      this.cut();
      return false;
    }
    this.record();
    return this.frame < result.frames - 1;
  }

  private giveUp(): void {
    this.result.findings.push(
      finding(
        'caution',
        'run-too-stiff',
        [],
        `the run was given up at ${Number(this.t.toPrecision(4))} s: too much happens in too little time (friction at rest, or a very stiff spring); ask for a shorter run or soften it`,
      ),
    );
    this.end('run-ends', '', 'given up');
  }

  private end(kind: EventKind, id: Id, message: string): void {
    this.say(kind, id, message);
    this.ended = true;
  }

  private integrate(next: number): void {
    const d = this.options.duration;
    if (!(this.h > 0)) this.h = d / (this.result.frames - 1) / 10;
    const least = 1e-9 * d;
    let h = Math.min(this.h, next - this.t);
    const latches = this.m.latches();
    const u0 = Float64Array.from(this.m.u);
    const back = (): void => {
      this.m.setFree(u0);
      this.m.setLatches(latches);
    };
    for (let tries = 0; tries < 60; tries++) {
      const made = this.integrator.step(this.t, this.y, h);
      if (!made) {
        if (h <= least) return this.end('unreachable', '', 'the mechanism comes to a place that it cannot pass');
        h /= 4;
        back();
        continue;
      }
      // An error that is no number is one that is too large.
      if (!(made.error <= 1) && h > least) {
        h *= Math.max(0.2, stepFactor(Number.isFinite(made.error) ? made.error : Infinity));
        back();
        continue;
      }
      if (made.y.some((x) => !(Math.abs(x) < RUNS_AWAY))) {
        back();
        return this.giveUp();
      }
      const grow = Math.min(4, stepFactor(made.error));
      this.settle(this.t + h, made.y);
      const hit = this.trigger(this.t + h);
      if (!hit) {
        this.accept(h, made.y);
        this.h = h * grow;
        return;
      }
      // The step is made shorter until the first event stands at its end.
      const first = firstFound(0, h, Math.max(least, 1e-13), { hit, y: made.y }, (mid, found) => {
        back();
        const part = this.integrator.step(this.t, this.y, mid);
        if (!part) return found;
        this.settle(this.t + mid, part.y);
        const early = this.trigger(this.t + mid);
        return early && { hit: early, y: part.y };
      });
      back();
      this.settle(this.t + first.at, first.found.y);
      const rates = Float64Array.from(this.forces.velocity);
      this.t += first.at;
      this.m.latch();
      const { hit: event } = first.found;
      this.say(event.kind, event.id, event.message);
      event.change();
      if (this.ended) return;
      this.enter(rates);
      this.settle(this.t, this.y);
      this.h = d / (this.result.frames - 1) / 50;
      return;
    }
    this.end('unreachable', '', 'the mechanism comes to a place that it cannot pass');
  }

  private accept(h: number, y: Float64Array): void {
    this.t += h;
    this.y = Float64Array.from(y);
    this.m.latch();
  }

  /** The whole way is led: straight to the next frame, unless a stop, a pawl or a dead point comes first. */
  private lead(next: number): void {
    const m = this.m;
    const u0 = Float64Array.from(m.u),
      latches = m.latches();
    const reach = (t: number): { bad: Limit | 'pawl' | 'unreachable' | 'dead-point' } | undefined => {
      m.setFree(u0);
      m.setLatches(latches);
      if (!this.pose(t, this.y)) return { bad: m.gripping.length ? 'pawl' : this.lastState === 'dead-point' ? 'dead-point' : 'unreachable' };
      const l = this.limits.find((x) => this.over(x) > 1e-9);
      return l && { bad: l };
    };
    const bad = reach(next);
    if (bad) {
      if (this.stalled) {
        // Still pushed against what holds: it stays.
        m.setFree(this.stalled);
        this.forces.velocity.fill(0);
        this.t = next;
        return;
      }
      const { before: lo, found: what } = firstFound(this.t, next, 1e-12 * Math.max(1, next), bad, reach);
      reach(lo);
      this.settle(lo, this.y);
      m.latch();
      const named = typeof what.bad === 'string' ? undefined : what.bad;
      const name = this.name;
      if (named) this.say('stop-reached', named.joint, `the ${named.which} stop of ${name(named.joint)} holds`, lo);
      else if (what.bad === 'pawl') this.say('pawl-grips', m.gripping[0] ?? '', `${name(m.gripping[0] ?? '')} holds`, lo);
      else {
        this.t = lo;
        return this.end(
          what.bad === 'dead-point' ? 'dead-point' : 'unreachable',
          '',
          what.bad === 'dead-point'
            ? 'the mechanism comes to a dead point, where what is led cannot move it on'
            : 'the mechanism comes to a place that its parts do not reach beyond',
        );
      }
      this.stalled = Float64Array.from(m.u);
      this.forces.velocity.fill(0);
      this.t = next;
      return;
    }
    if (this.stalled) {
      this.stalled = undefined;
      this.say('stop-left', '', 'the train moves away from what held it');
    }
    this.settle(next, this.y);
    if (this.mode.stops.size || this.mode.grips.size) {
      const atEnd = this.trigger(next);
      if (atEnd) {
        const { at: hi, found: hit } = firstFound(this.t, next, 1e-12 * Math.max(1, next), atEnd, (mid) => {
          m.setFree(u0);
          this.settle(mid, this.y);
          return this.trigger(mid);
        });
        m.setFree(u0);
        this.settle(hi, this.y);
        this.t = hi;
        m.latch();
        this.say(hit.kind, hit.id, hit.message);
        const rates = Float64Array.from(this.forces.velocity);
        hit.change();
        if (this.ended) return;
        this.enter(rates);
        this.settle(this.t, this.y);
        return;
      }
    }
    this.t = next;
    m.latch();
    const lifts = m.curves.find((c) => c.curve.pushes && this.forces.state.couplings[c.row].tangential < -1e-9);
    if (lifts && this.inertia) {
      this.say('follower-lifts', lifts.coupling, `the follower of ${this.name(lifts.coupling)} leaves the cam`);
      this.mode.flying.add(lifts.row);
      const rates = Float64Array.from(this.forces.velocity);
      this.enter(rates);
      this.settle(this.t, this.y);
    }
    if (this.branch && m.branch && m.branch !== this.branch) {
      this.say('branch-change', '', 'a dead point was passed: the mechanism goes on assembled the other way');
    }
    if (m.branch) this.branch = m.branch;
  }

  /** Takes down the present instant. */
  private record(): void {
    const { m, result: r, frame: f, forces } = this;
    const held = !!this.stalled;
    if (!held) this.settle(this.t, this.y);
    const n = m.count;
    r.time[f] = this.t;
    r.q.set(m.q, f * n);
    if (held) {
      forces.velocity.fill(0);
      forces.acceleration.fill(0);
      forces.evaluate({ inertia: false });
    }
    const s = forces.state;
    r.v.set(forces.velocity, f * n);
    r.a.set(this.inertia && !held ? forces.acceleration : new Float64Array(n), f * n);
    this.compiled.sources.forEach(({ source, coordinate }, k) => {
      const at = this.led.indexOf(coordinate);
      const T = this.torques.find((x) => x.coordinate === coordinate);
      if (at >= 0 && !T) r.input[f * r.sources + k] = s.input[at];
      else if (T) r.input[f * r.sources + k] = torqueAt(source, forces.velocity[coordinate], T.slide);
    });
    for (const l of this.mode.stops) {
      const at = this.led.indexOf(l.coordinate);
      if (at >= this.driven.length) {
        r.stop[f * n + l.coordinate] = s.input[at];
      }
    }
    let strand = f * r.strandCount;
    s.couplings.forEach((c, k) => {
      const i = f * r.couplings + k;
      r.tangential[i] = c.tangential;
      r.radial[i] = c.radial;
      r.axial[i] = c.axial;
      r.loss[i] = c.loss;
      for (const t of c.strands) r.strands[strand++] = t;
    });
    r.reaction.set(forces.reactions(this.inertia && !held), 6 * f * n);
    r.loadPower[f] = forces.loadPower;
    r.kinetic[f] = forces.kinetic();
  }

  /** A run that ended early keeps the frames that it has. */
  private cut(): void {
    const r = this.result as { -readonly [K in keyof RunResult]: RunResult[K] };
    const kept = Math.max(1, this.frame);
    const k = kept / r.frames;
    for (const key of Object.keys(r) as (keyof RunResult)[]) {
      const v = r[key];
      if (v instanceof Float64Array) (r as unknown as Record<string, Float64Array>)[key] = v.slice(0, Math.round(v.length * k));
    }
    r.frames = kept;
  }
}

/** A whole run at once. */
export function run(compiled: Compiled, options: RunOptions, start?: ArrayLike<number>): RunResult {
  const r = new Runner(compiled, options, start);
  while (r.step());
  return r.result;
}

/** The buffers of a run, for handing it to another thread without a copy. */
export const runBuffers = (r: RunResult): ArrayBuffer[] =>
  Object.values(r)
    .filter((v): v is Float64Array => v instanceof Float64Array)
    .map((v) => v.buffer as ArrayBuffer);
