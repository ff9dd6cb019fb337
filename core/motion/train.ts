import { finding } from '../findings/index';
import { Finding, Id } from '../fields/types';
import { Forces, givesTorque, torqueAt } from '../forces/index';
import { type Compiled, type Limit, type Pose, type PoseState, beyond, poseOf, slidesAt } from '../kinematics/index';
import { type Mode, openMode } from './modes';
import { BY_SPEED } from '../loads/index';
import type { MotionProfile } from './profiles';
import { sourceMotion } from './profile-through';
import { freeAccelerations, projectRates } from './free-motion';

/** A rate at which something only just moves, rad/s or m/s. */
const CREEPING = 1e-7;
/** A rate against the sense of sliding that only an impact brings about; what comes to rest is found before, rad/s or m/s. */
const TURNED = 1e-9;
/** Patterns of what slides and what is held that are tried at one time. */
const MOST_PATTERNS = 200;
/** A rate that is none, rad/s or m/s. */
const STILL = 1e-12;
/** Newton steps for one pose of free motion, whose steps are short, and of led motion. */
const BUDGET = { free: 100, led: 2000 };

const isStill = (v: number): boolean => Math.abs(v) < STILL;

/** A source that states its torque instead of its motion. */
export interface TorqueSource {
  coordinate: number;
  source: number;
  slide: boolean;
}

/** A motion at one time in `MotionProfile`'s order: way, speed, acceleration. */
const three = new Float64Array(3);

/**
 * A train in motion: its pose, what leads it, what moves freely, and what holds at the time
 * (its mode). The motions of sources with a profile are led, as are joints that a stop
 * holds; freedoms that nothing leads, and those of sources that state torque, are free. SI.
 */
export class Train {
  readonly pose: Pose;
  readonly limits: readonly Limit[];
  private readonly lossy: boolean;
  readonly driven: number[] = [];
  /** Of those that are driven: does it go on at one speed? */
  readonly steady: boolean[] = [];
  readonly torques: TorqueSource[] = [];
  readonly findings: Finding[] = [];
  mode: Mode = openMode();
  forces!: Forces;
  /** Coordinates that are led (profiles first, then stops that hold), and those whose motion is integrated. */
  led: number[] = [];
  free: number[] = [];
  /** State of what is free: coordinates, then their rates. */
  y: Float64Array = new Float64Array(0);
  lastState: PoseState = 'ok';
  private readonly profiles: MotionProfile[] = [];
  private readonly base: Float64Array;
  /** For each that is led, the place at which a stop or friction holds it. */
  private holds: (number | undefined)[] = [];
  /** Dry friction by coordinate; what stuck coordinates can bear, with what rubs along with them. */
  private frictions = new Map<number, number>();
  readonly bears = new Map<number, number>();
  /** Led, then free: coordinates, values, speeds and accelerations. */
  all: Int32Array = new Int32Array(0);
  values: Float64Array = new Float64Array(0);
  speeds: Float64Array = new Float64Array(0);
  pushes: Float64Array = new Float64Array(0);
  readonly u: Float64Array;
  private pushed: Float64Array | undefined;
  /** Why what is led could not be told, at the time of the last look. */
  private notLed: PoseState | undefined;
  part: Int32Array = new Int32Array(0);

  constructor(
    readonly compiled: Compiled,
    /** Freedoms that nothing drives stand where they are, and sources that state torque run at their working speed. */
    readonly stand: boolean,
    start: ArrayLike<number> | undefined,
  ) {
    const pose = (this.pose = poseOf(compiled));
    if (start) pose.setFree(start);
    pose.solve([], []);
    pose.engage();
    compiled.sources.forEach((s, k) => {
      if (compiled.reduction.overdriven.includes(s.coordinate)) return;
      const slide = slidesAt(pose.kinematics, s.coordinate);
      if (givesTorque(s.source) && !stand) return void this.torques.push({ coordinate: s.coordinate, source: k, slide });
      this.driven.push(s.coordinate);
      if (givesTorque(s.source)) {
        this.steady.push(true);
        const v = pose.sourceSpeed[k] * (slide ? 1e-3 : Math.PI / 30);
        this.profiles.push((t, out) => void ((out[0] = v * t), (out[1] = v), (out[2] = 0)));
        return;
      }
      const { profile, steady, problem: bad } = sourceMotion(compiled, k, pose);
      if (bad) this.findings.push(finding('profile-incomplete', [s.source.id], { source: s.source.name, message: bad.message }, bad.field));
      this.steady.push(steady);
      this.profiles.push(profile);
    });
    this.base = Float64Array.from(this.driven, (c) => pose.q[c]);
    this.limits = pose.kinematics.limits;
    this.lossy = pose.kinematics.rows.some((r) => r.efficiency.forward !== 1 || r.efficiency.backward !== 1);
    this.u = new Float64Array(pose.kinematics.freeCount);
    this.enter(new Float64Array(pose.kinematics.count), 0);
    // Started beyond a stop: the stop holds from the beginning.
    let held = false;
    for (const l of this.limits) {
      if (l.kind !== 'stop' || beyond(l, pose.q) <= 1e-9 || !this.movesFreely(l)) continue;
      this.mode.stops.add(l);
      held = true;
    }
    if (held) this.enter(new Float64Array(pose.kinematics.count), 0);
  }

  /** Name of a joint or coupling, as sentences have it. */
  readonly nameOf = (id: Id): string => {
    const d = this.compiled.design;
    return `“${[...d.joints, ...d.couplings].find((x) => x.id === id)?.name ?? id}”`;
  };

  /** Whether what moves freely can lead towards a limit, or profiles alone do. */
  movesFreely(limit: Limit): boolean {
    return this.canMove(limit.coordinate);
  }

  private canMove(coordinates: ArrayLike<number>): boolean {
    const { pose, led, free } = this;
    const rates = new Float64Array(pose.kinematics.count);
    const unit = new Float64Array(led.length + free.length);
    return free.some((_, k) => {
      unit.fill(0);
      unit[led.length + k] = 1;
      pose.rates(this.all, unit, this.u);
      pose.spreadRates(this.u, rates);
      return Array.from(coordinates).some((i) => Math.abs(rates[i]) > 1e-12);
    });
  }

  /**
   * Lets a pawl or clutch take hold. Others that held till now let go where what it brings about runs
   * ahead of them: a feed pawl lifts the wheel off its holding pawl, and the holding pawl takes it back.
   */
  takeHold(row: number, t: number): void {
    const { pose, mode } = this;
    const { rows } = pose.kinematics;
    mode.grips.add(row);
    if (mode.grips.size < 2 && !mode.stuck.size && !mode.sliding.size) return;
    pose.grip(undefined);
    pose.grip(row);
    this.lead(t);
    const n = this.driven.length;
    const rates = new Float64Array(pose.kinematics.count);
    pose.gripsStand = true;
    pose.rates(this.driven, this.speeds.subarray(0, n), this.u);
    pose.spreadRates(this.u, rates);
    for (const other of [...mode.grips]) if (other !== row && rows[other].grip!.speed(rates) > 1e-12) mode.grips.delete(other);
    // What friction holds is pushed along.
    for (const c of [...mode.stuck.keys()]) {
      if (Math.abs(rates[c]) < 1e-12) continue;
      mode.stuck.delete(c);
      mode.sliding.set(c, rates[c] > 0 ? 1 : -1);
    }
  }

  /**
   * Takes up the equations of the present mode, for the coordinate rates
   * at hand; velocities that the mode forbids are lost (plastic impact).
   */
  enter(rates: Float64Array, t: number): void {
    const { pose, mode } = this;
    const k = pose.kinematics;
    for (const r of k.grips) if (k.rows[r].grip!.touches) pose.touch(r, !mode.flying.has(r));
    const stops = [...mode.stops];
    const stuck = [...mode.stuck].filter(([c]) => !stops.some((l) => l.coordinate[0] === c));
    this.led = [...this.driven, ...stops.map((l) => l.coordinate[0]), ...stuck.map(([c]) => c)];
    this.holds = [...this.driven.map(() => undefined), ...stops.map((l) => l.at), ...stuck.map(([, at]) => at)];
    pose.refresh();
    pose.gripsStand = false;
    this.forces = new Forces(pose, this.stand ? { driven: this.led } : { driven: this.led, gripping: [...mode.grips] });
    this.free = this.stand ? [] : [...this.forces.state.inputCoordinate].slice(this.forces.driven);
    pose.gripsStand = this.free.length > 0 || mode.grips.size > 0 || mode.stuck.size > 0;
    const d = this.free.length,
      n = this.led.length + d;
    this.all = Int32Array.from([...this.led, ...this.free]);
    this.values = new Float64Array(n);
    this.speeds = new Float64Array(n);
    this.pushes = new Float64Array(n);
    this.y = new Float64Array(2 * d);
    for (let f = 0; f < d; f++) {
      this.y[f] = pose.q[this.free[f]];
      this.y[d + f] = rates[this.free[f]];
    }
    this.part = partsOf(pose, mode, this.free);
    if (d) this.y.set(projectRates(this, t, rates), d);
    this.rub(rates, t);
    this.pushed = stops.length && !this.stand ? this.tendency(stops) : undefined;
  }

  /** The motion that would follow if the stops that hold gave way: losses act against it while everything stands. */
  private tendency(stops: readonly Limit[]): Float64Array {
    const out = new Float64Array(this.pose.kinematics.count);
    const unit = Float64Array.from(this.all, (c) => {
      const l = stops.find((x) => x.coordinate[0] === c);
      return l ? (l.which === 'upper' ? 1 : -1) : 0;
    });
    this.pose.rates(this.all, unit, this.u);
    this.pose.spreadRates(this.u, out);
    return out;
  }

  /** Rates of all coordinates in the mode at hand, as it leaves them. */
  private ratesNow(t: number): Float64Array {
    const out = new Float64Array(this.pose.kinematics.count);
    const d = this.free.length;
    this.lead(t);
    for (let k = 0; k < d; k++) this.speeds[this.led.length + k] = this.y[d + k];
    this.pose.rates(this.all, this.speeds, this.u);
    this.pose.spreadRates(this.u, out);
    return out;
  }

  /**
   * Senses of dry friction for the mode at hand. What slides does so in one sense until it comes
   * to rest; what rests and could move is held; what follows from those is rubbed along with them.
   */
  private rub(rates: Float64Array, t: number): void {
    const { pose, mode, forces } = this;
    if (this.stand) return;
    this.frictions = forces.frictions();
    if (!this.frictions.size && !this.lossesMayHold) return;
    const now = this.ratesNow(t);
    // What an impact has turned round slides the other way.
    for (const [c, sense] of mode.sliding) if (now[c] * sense < -TURNED) mode.sliding.set(c, sense > 0 ? -1 : 1);
    if (this.lockedByLosses(now, t)) return this.enter(rates, t);
    for (const c of mode.locked) this.bears.set(c, Infinity);
    if (!this.frictions.size) return;
    for (const c of this.frictions.keys()) {
      if (mode.stuck.has(c)) continue;
      // What is led, also through a pawl, or stands at a stop, rubs as it is moved.
      if (!this.canMove([c])) mode.sliding.delete(c);
      else if (mode.sliding.has(c)) continue;
      else if (Math.abs(now[c]) > STILL) mode.sliding.set(c, now[c] > 0 ? 1 : -1);
      else {
        mode.stuck.set(c, pose.q[c]);
        return this.enter(rates, t);
      }
    }
    for (const c of [...this.bears.keys()]) if (!mode.locked.has(c)) this.bears.delete(c);
    for (const [c, size] of this.frictions) {
      const slides = mode.sliding.get(c);
      forces.frictionSense[c] = mode.stuck.has(c) ? 0 : (slides ?? BY_SPEED);
      if (mode.stuck.has(c) && !mode.locked.has(c)) this.bears.set(c, size);
    }
    // Others at rest that a stuck one would take along rub as well.
    for (const c of mode.stuck.keys()) {
      if (mode.locked.has(c)) continue;
      const along = this.ratesFor(c);
      for (const [other, size] of this.frictions) {
        if (other === c || mode.stuck.has(other) || mode.sliding.has(other) || Math.abs(along[other]) < 1e-12) continue;
        forces.frictionSense[other] = 0;
        this.bears.set(c, this.bears.get(c)! + size * Math.abs(along[other]));
      }
    }
  }

  /** One freedom, nothing led, and losses in the couplings. */
  private get lossesMayHold(): boolean {
    return this.free.length === 1 && !this.driven.length && this.lossy;
  }

  /**
   * At rest, with one freedom and nothing led: whether the losses keep it from moving either way,
   * tried by the accelerations just after it had begun. Where they do, it is locked; where not,
   * it is taken to slide the way it starts, so that it is asked again when it comes to rest.
   */
  private lockedByLosses(rates: Float64Array, t: number): boolean {
    const { pose, mode, forces, free } = this;
    if (!this.lossesMayHold) return false;
    const [c] = free;
    if (mode.sliding.has(c)) return false;
    if (Math.abs(rates[c]) > CREEPING) {
      mode.sliding.set(c, rates[c] > 0 ? 1 : -1);
      return false;
    }
    const trial = (speed: number): number => {
      this.moveTo(t, Float64Array.of(pose.q[c], speed));
      return freeAccelerations(this)[0];
    };
    const forward = trial(CREEPING),
      back = trial(-CREEPING);
    this.moveTo(t, this.y);
    forces.velocity.fill(0);
    const small = 1e-9 * (Math.abs(forward) + Math.abs(back));
    if (forward > small) mode.sliding.set(c, 1);
    else if (back < -small) mode.sliding.set(c, -1);
    else {
      mode.stuck.set(c, pose.q[c]);
      mode.locked.add(c);
      return true;
    }
    return false;
  }

  /** Rates of all coordinates where one that is held moves at unit rate and the rest of what is led stands. */
  private ratesFor(coordinate: number): Float64Array {
    const out = new Float64Array(this.pose.kinematics.count);
    const unit = Float64Array.from(this.all, (c) => (c === coordinate ? 1 : 0));
    this.pose.rates(this.all, unit, this.u);
    this.pose.spreadRates(this.u, out);
    return out;
  }

  /** Lets go what friction held, to slide in a sense; what is taken along slides as it does. */
  slip(coordinate: number, sense: 1 | -1): void {
    const along = this.ratesFor(coordinate);
    this.mode.stuck.delete(coordinate);
    for (const c of this.frictions.keys()) {
      const way = along[c] * sense;
      if (Math.abs(way) > 1e-12 && !this.mode.stuck.has(c)) this.mode.sliding.set(c, way > 0 ? 1 : -1);
    }
  }

  /**
   * Of what rests, which friction holds and which begins to slide, and in which sense, all together: what
   * would have to bear more than it can slides, what would slide back is held, the first by number at a time
   * (Murty's least-index method for linear complementarity), until all agree. Gives those that begin to slide.
   */
  settleFriction(t: number): number[] {
    const { mode } = this;
    const before = new Set(mode.stuck.keys());
    if (this.stand || before.size + mode.sliding.size < 2) return [];
    const among = [...this.frictions.keys()].sort((a, b) => a - b);
    for (let guard = 0; guard < MOST_PATTERNS; guard++) {
      const { velocity, acceleration } = this.forces;
      const most = acceleration.reduce((s, a) => Math.max(s, Math.abs(a)), 0);
      const wrong = among.find((c) => {
        if (mode.locked.has(c)) return false;
        const sense = mode.sliding.get(c);
        if (sense !== undefined) return Math.abs(velocity[c]) < TURNED && acceleration[c] * sense < -TURNED * most;
        return mode.stuck.has(c) && Math.abs(this.heldWith(c)) > (this.bears.get(c) ?? 0) * (1 + 1e-9) + TURNED;
      });
      if (wrong === undefined) break;
      if (mode.stuck.has(wrong)) {
        const held = this.heldWith(wrong);
        mode.stuck.delete(wrong);
        mode.sliding.set(wrong, held > 0 ? -1 : 1);
      } else {
        mode.sliding.delete(wrong);
        mode.stuck.set(wrong, this.pose.q[wrong]);
      }
      this.enter(Float64Array.from(velocity), t);
      this.settle(t, this.y, true);
    }
    return [...before].filter((c) => mode.sliding.has(c));
  }

  /** What friction holds a stuck coordinate with, N·m or N. */
  heldWith(c: number): number {
    const k = this.led.indexOf(c, this.driven.length);
    return k < 0 ? 0 : this.forces.state.input[k];
  }

  /** Holds what comes to rest by friction; what moved along with it is no longer said to slide. */
  stick(coordinate: number): void {
    const { mode, pose } = this;
    mode.sliding.delete(coordinate);
    // With losses in its couplings it is asked of these as well, on taking up the mode.
    if (this.lossesMayHold) return;
    for (const c of [...mode.sliding.keys()]) if (Math.abs(this.forces.velocity[c]) < 1e-9) mode.sliding.delete(c);
    mode.stuck.set(coordinate, pose.q[coordinate]);
  }

  /** Motions of what is led, at a time. */
  private lead(t: number): void {
    this.notLed = undefined;
    for (let k = 0; k < this.led.length; k++) {
      const at = this.holds[k];
      if (at !== undefined) {
        this.values[k] = at;
        this.speeds[k] = this.pushes[k] = 0;
      } else {
        const state = this.profiles[k](t, three);
        if (state && state !== 'ok') this.notLed = state;
        this.values[k] = this.base[k] + three[0];
        this.speeds[k] = three[1];
        this.pushes[k] = three[2];
      }
    }
  }

  /** Speeds of what is led, at a time; nothing of what is free. */
  ledSpeeds(t: number): Float64Array {
    this.lead(t);
    this.speeds.fill(0, this.led.length);
    return this.speeds;
  }

  /** Sets pose and rates at time t for the free coordinates y. False where the pose cannot be reached. */
  moveTo(t: number, y: Float64Array): boolean {
    const { pose, led, free } = this;
    const d = free.length,
      n = led.length;
    this.lead(t);
    for (let k = 0; k < d; k++) {
      this.values[n + k] = y[k];
      this.speeds[n + k] = y[d + k];
      this.pushes[n + k] = 0;
    }
    if (this.notLed) {
      this.lastState = this.notLed;
      return false;
    }
    pose.iterationsLeft = d ? BUDGET.free : BUDGET.led;
    this.lastState = pose.solve(this.all, this.values);
    pose.iterationsLeft = Infinity;
    if (this.lastState !== 'ok') return false;
    pose.rates(this.all, this.speeds, this.u);
    pose.spreadRates(this.u, this.forces.velocity);
    this.forces.tendency = this.pushed && this.forces.velocity.every(isStill) ? this.pushed : undefined;
    for (const T of this.torques) {
      this.forces.given[T.coordinate] = torqueAt(this.compiled.sources[T.source].source, this.forces.velocity[T.coordinate], T.slide);
    }
    return true;
  }

  /** Everything needed at a time: pose, rates, accelerations and forces of the mode at hand. */
  settle(t: number, y: Float64Array, inertia: boolean): boolean {
    if (!this.moveTo(t, y)) return false;
    if (this.free.length) {
      freeAccelerations(this);
      return true;
    }
    if (inertia) this.forces.accelerate(this.all, this.pushes, this.u);
    this.forces.evaluate({ inertia });
    return true;
  }
}

/**
 * For each free coordinate the part of the train that it moves in: what
 * joints carry on each other, couplings that hold and loops belong together.
 */
function partsOf(pose: Pose, mode: Mode, free: readonly number[]): Int32Array {
  const k = pose.kinematics;
  const up = Int32Array.from({ length: k.count }, (_, i) => i);
  const find = (i: number): number => {
    while (up[i] !== i) i = up[i] = up[up[i]];
    return i;
  };
  const join = (of: ArrayLike<number>): void => {
    for (let n = 1; n < of.length; n++) up[find(of[n])] = find(of[0]);
  };
  for (let b = 1; b < k.bodies; b++) if (k.parentOf[b] > 0) join([k.bodyCoordinate[b], k.bodyCoordinate[k.parentOf[b]]]);
  k.rows.forEach((row, r) => {
    const open = row.grip && (row.grip.touches ? mode.flying.has(r) : !mode.grips.has(r));
    if (!open) join(row.coordinate);
  });
  for (const c of k.closures) join(c.chain);
  return Int32Array.from(free, find);
}
