import { finding } from '../findings/index';
import { Id } from '../fields/types';
import { type Compiled, beyond, towards } from '../kinematics/index';
import { type EventKind, type Happening, atLimit, startsToMove } from './events';
import { integrate } from './integrate';
import { DormandPrince } from './integrator';
import { leadOn } from './led-motion';
import { beyondLimits } from './duty';
import { type RunResult, cutRun, record, roomForRun } from './recorder';
import type { RunOptions, Running } from './running';
import { copyOfMode } from './modes';
import { Train } from './train';

const MOST_STEPS_A_FRAME = 4000;
const MOST_EVENTS = 500;
/** Speed below which nothing rebounds any more, m/s or rad/s. */
const STAYS = 1e-3;
/** Part of the greatest speed and acceleration of a run below which it counts as standing still. */
const RESTS = 1e-3;
const MOST_FRAMES = 20_000;
/** Part of a place by which the end of a run may fall short of a limit and have come to it. */
const AT_END = 1e-9;
/** Looks along a led way beyond the budget of evaluations. */
const MOST_LED = 200_000;
/** Newton's steps that a look is worth. */
const STEPS_OF_A_LOOK = 16;

/**
 * Computes a run step by step: call `step()` until it says false; `progress` goes from 0 to 1. Sources
 * with a motion profile are led; freedoms that nothing leads, and sources that state torque, move
 * freely (reduced equations, adaptive steps, stops and pawls as events with plastic impact). Bounded:
 * at most 20 000 frames, 4 000 steps between two frames, 500 events, and a budget of evaluations.
 */
export class Runner implements Running {
  readonly result: RunResult;
  readonly train: Train;
  readonly inertia: boolean;
  readonly integrator: DormandPrince;
  t = 0;
  h = 0;
  spent = 0;
  stalled: Float64Array | undefined;
  branch = 0;
  private frame = 0;
  private ended = false;
  /** The greatest speed and acceleration of any coordinate so far. */
  private fastest = 0;
  private hardest = 0;

  constructor(
    readonly compiled: Compiled,
    readonly options: RunOptions,
    start?: ArrayLike<number>,
  ) {
    this.train = new Train(compiled, options.stand === true, start);
    this.inertia = (options.inertia ?? true) || this.train.free.length > 0;
    this.integrator = new DormandPrince((t, y, out) => this.rate(t, y, out), options.tolerance ?? 1e-8);
    const frames = Math.max(2, Math.min(MOST_FRAMES, Math.round(options.frames)));
    this.result = roomForRun(compiled, frames, [...this.train.findings]);
    this.sayLocked();
    this.record();
  }

  /** Says what stands because the losses of its couplings hold it. */
  private sayLocked(): void {
    const { mode, pose, nameOf } = this.train;
    for (const c of mode.locked) {
      const { id } = pose.compiled.structure.coordinates[c].joint;
      this.say('stands', id, `${nameOf(id)} stands: what drives it is too weak against the friction of its couplings`);
    }
  }

  get duration(): number {
    return this.options.duration;
  }
  get frames(): number {
    return this.result.frames;
  }
  get progress(): number {
    return this.ended ? 1 : this.frame / (this.result.frames - 1);
  }

  /** Advances to the next frame. False when the run is over. */
  step(): boolean {
    const { result, options } = this;
    if (this.ended || this.frame >= result.frames - 1) return false;
    const next = (options.duration * (this.frame + 1)) / (result.frames - 1);
    const budget = options.budget ?? 50_000 + 100 * result.frames;
    const { pose } = this.train;
    let steps = 0;
    while (this.t < next - 1e-12 * options.duration && !this.ended) {
      const free = this.train.free.length > 0;
      // What is led goes on in bounded looks; what moves freely may run into ever smaller steps.
      if (this.spent > (free ? budget : budget + MOST_LED) || (free && (steps++ > MOST_STEPS_A_FRAME || result.events.length >= MOST_EVENTS))) {
        this.giveUp();
        break;
      }
      if (free) integrate(this, next);
      else {
        const before = pose.iterations;
        leadOn(this, next);
        // A look that goes far, or to where nothing goes, costs as many as it takes steps for.
        this.spent += Math.floor((pose.iterations - before) / STEPS_OF_A_LOOK);
      }
    }
    this.frame++;
    if (this.ended) {
      cutRun(result, Math.max(1, this.frame));
      this.holdAgainstLimits();
      return false;
    }
    this.record();
    if (this.frame === result.frames - 1) this.sayWhatEnds();
    if (options.untilRest && this.atRest()) {
      if (this.frame < result.frames - 1) this.say('comes-to-rest', '', 'Everything stands still');
      this.endHere();
      return false;
    }
    if (this.frame < result.frames - 1) return true;
    this.holdAgainstLimits();
    return false;
  }

  /** Whether the run asks a source for more than it states that it can do. */
  private holdAgainstLimits(): void {
    this.result.findings.push(...beyondLimits(this.compiled, this.result));
  }

  /** A stop or an end of engagement that is come to just as the run is over belongs to it. */
  private sayWhatEnds(): void {
    const { limits, pose, forces, mode } = this.train;
    if (this.stalled) return;
    for (const l of limits) {
      const { coordinate, value } = l;
      const scale = Math.abs(l.at) + coordinate.reduce((s, c, k) => s + Math.abs(value[k] * pose.q[c]), 0);
      if (mode.stops.has(l) || beyond(l, pose.q) < -AT_END * scale || towards(l, forces.velocity) <= AT_END) continue;
      const { kind, id, message } = atLimit(this.train, l);
      if (!this.result.events.some((e) => e.kind === kind && e.id === id && e.time === this.t)) this.say(kind, id, message);
    }
  }

  /** Does nothing move any more, nor begin to? Beside the most that it has moved. */
  private atRest(): boolean {
    const { v, a, coordinates: n } = this.result;
    let speeds = 0,
      pushes = 0;
    for (let i = n * this.frame; i < n * (this.frame + 1); i++) {
      speeds = Math.max(speeds, Math.abs(v[i]));
      pushes = Math.max(pushes, Math.abs(a[i]));
    }
    this.fastest = Math.max(this.fastest, speeds);
    this.hardest = Math.max(this.hardest, pushes);
    return speeds <= RESTS * this.fastest && pushes <= RESTS * this.hardest;
  }

  /** Ends the run at the frame that it has come to; what is there is kept. */
  endHere(): void {
    if (this.ended || this.frame >= this.result.frames - 1) return;
    this.ended = true;
    cutRun(this.result, this.frame + 1);
    this.holdAgainstLimits();
  }

  private rate(t: number, y: Float64Array, out: Float64Array): boolean {
    const { train } = this;
    this.spent++;
    const d = train.free.length;
    if (!train.settle(t, y, true)) return false;
    for (let k = 0; k < d; k++) {
      out[k] = y[d + k];
      out[d + k] = train.pushes[train.led.length + k];
    }
    return true;
  }

  private record(): void {
    const { train, stalled } = this;
    if (stalled) {
      train.forces.velocity.fill(0);
      train.forces.acceleration.fill(0);
      train.forces.evaluate({ inertia: false });
    } else train.settle(this.t, train.y, this.inertia);
    record(this.result, this.frame, this.t, train, this.inertia, !!stalled);
  }

  /** Writes an event down, at a time, s. */
  say(kind: EventKind, id: Id, message: string, time = this.t): void {
    if (this.result.events.length < MOST_EVENTS) this.result.events.push({ time, kind, id, message });
  }

  /** Writes an event down and ends the run there. */
  end(kind: EventKind, id: Id, message: string): void {
    this.say(kind, id, message);
    this.ended = true;
  }

  /** Ends a run that takes too many steps; its frames stay. */
  giveUp(): void {
    this.result.findings.push(finding('run-too-stiff', [], { time: Number(this.t.toPrecision(4)) }));
    this.end('run-ends', '', 'given up');
  }

  happen(what: Happening, rates: Float64Array): void {
    if (what.ends) return this.end(what.kind, what.id, what.message);
    this.say(what.kind, what.id, what.message);
    const { train } = this;
    const before = what.rebound && copyOfMode(train.mode);
    what.change?.();
    this.takeUp(rates);
    if (!what.rebound || !before) return;
    // Newton's law of impact: what the plastic impact takes, once more in part.
    const { restitution, parting, part } = what.rebound;
    const after = train.forces.velocity.map((v, i) => v + restitution * (v - rates[i]));
    if (!(parting(after) > STAYS)) return;
    train.mode = before;
    part(before);
    this.takeUp(after);
  }

  private takeUp(rates: Float64Array): void {
    const locked = this.train.mode.locked.size;
    this.train.enter(rates, this.t);
    if (this.train.mode.locked.size > locked) this.sayLocked();
    this.train.settle(this.t, this.train.y, this.inertia);
    if (!this.inertia) return;
    const { nameOf, pose } = this.train;
    for (const c of this.train.settleFriction(this.t)) {
      const { id } = pose.compiled.structure.coordinates[c].joint;
      this.say('starts-to-move', id, startsToMove(nameOf(id)));
    }
  }
}

/** A whole run at once. */
export function run(compiled: Compiled, options: RunOptions, start?: ArrayLike<number>): RunResult {
  const r = new Runner(compiled, options, start);
  while (r.step());
  return r.result;
}
