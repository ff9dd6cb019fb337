import type { DrivingSource } from '../document/kinds';
import type { Id } from '../fields/types';
import { LeastSquares, PLACEMENT, setIdentity } from '../math/index';
import { enterRows, reachOf, weightOf, writeConstraints } from './constraints';
import type { Compiled, Kinematics } from './compiled';
import { moveAxes, movedBy, place, spread, spreadRates } from './placing';

/** Newton steps of full length, and shortened ones on the way of a long move, before a pose counts as unreachable. */
const MOST_STEPS = 40;
const MOST_SHORT_STEPS = 4000;
/** Size of a step after which the next goes by the same factorisation, rad or m. */
const CHORD = 1e-2;
/** Rotation or shift that a step may bend a loop by, rad: it stays on its branch. */
const LONGEST_STEP = 0.3;

/** How a pose came out. */
export type PoseState = 'ok' | 'unreachable' | 'dead-point';

/**
 * One pose of a train. It belongs to its caller: hand, run, sweep and load sheet each have their own and cannot disturb
 * another. Coordinates `q` are the state and are never wrapped; `u` are the free coordinates; `placements` are the bodies'
 * placements, twelve numbers each, relative to the reference position. SI (m, rad). Nothing is allocated once it is made.
 */
export class Pose {
  readonly q: Float64Array;
  readonly u: Float64Array;
  readonly placements: Float64Array;
  /** World axis and point of every coordinate (after updateAxes). */
  readonly axisNow: Float64Array;
  readonly pointNow: Float64Array;
  /** Per grip, in the kinematics' order: whether it holds, and the limit that it has come to. */
  readonly on: Uint8Array;
  readonly limit: Float64Array;
  /** Steady speed of each source, rev/min or mm/s: as stated, or the working point where one was found. */
  readonly sourceSpeed: Float64Array;
  /** Newton steps that callers allow altogether; a pose counts as unreachable once they are used up. */
  iterationsLeft = Infinity;
  /** How many have been done, ever: what a motion costs. */
  iterations = 0;
  /** Grips hold or not as they are told, instead of being found with each pose: for integration in time. */
  gripsStand = false;
  lastResidual = 0;
  /**
   * Sign of the solver's determinant at the last pose reached, 0 where
   * the system is not square: it turns round with a change of branch.
   */
  branch = 0;
  /** Gradients of the constraint rows over the coordinates that enter them (`entry` of the kinematics), after constraints(). */
  readonly rowValues: Float64Array;
  private solver: LeastSquares;
  /** Marks of the free coordinates that have been come by at one look. */
  private readonly seen: Int32Array;
  private looked = 0;
  private readonly residuals: Float64Array;
  private readonly before: Float64Array;
  private readonly begin: Float64Array;
  private readonly rateStore: Float64Array;
  /** How many coordinates the solver has room to lead at once; it grows where more are asked. */
  private room: number;
  /** What has been worked out since the pose last changed. */
  private axesStand = false;
  private rowsStand = false;
  /** The coordinates for which the solver holds a factorisation at this pose; none: −1. */
  private factoredFor: Int32Array;
  private factored = -1;

  constructor(readonly kinematics: Kinematics) {
    const { count: n, bodies, freeCount, constraintRows, compiled } = kinematics;
    this.q = new Float64Array(n);
    this.u = new Float64Array(freeCount);
    this.placements = new Float64Array(PLACEMENT * bodies);
    for (let b = 0; b < bodies; b++) setIdentity(this.placements, PLACEMENT * b);
    this.axisNow = new Float64Array(3 * n);
    this.pointNow = new Float64Array(3 * n);
    this.on = new Uint8Array(kinematics.grips.length);
    this.limit = new Float64Array(kinematics.grips.length);
    this.sourceSpeed = Float64Array.from(compiled.sources, ({ source }: { source: DrivingSource }) => source.speed ?? source.noLoad ?? 0);
    this.room = compiled.sources.length + 4;
    this.factoredFor = new Int32Array(this.room);
    this.solver = new LeastSquares(constraintRows + this.room, Math.max(1, freeCount));
    this.seen = new Int32Array(freeCount);
    this.rowValues = new Float64Array(kinematics.entry.length);
    this.residuals = new Float64Array(Math.max(1, constraintRows));
    this.before = new Float64Array(freeCount);
    this.begin = new Float64Array(freeCount);
    this.rateStore = new Float64Array(n);
    this.refresh();
    this.engage();
  }

  get compiled(): Compiled {
    return this.kinematics.compiled;
  }

  /** Sets the free coordinates directly (a pure train's fastest path) and places the bodies. */
  setFree(u: ArrayLike<number>): void {
    for (let k = 0; k < this.u.length; k++) this.u[k] = u[k];
    this.refresh();
  }

  /** Coordinates and placements from the free coordinates. */
  refresh(): void {
    spread(this.kinematics, this.u, this.q);
    this.replace();
  }

  /** Placements from the coordinates as they stand: also where they were changed by hand. */
  replace(): void {
    this.axesStand = this.rowsStand = false;
    this.factored = -1;
    place(this.kinematics, this.q, this.placements);
  }

  /** World axes and points of all coordinates. */
  updateAxes(): void {
    if (this.axesStand) return;
    this.axesStand = true;
    moveAxes(this.kinematics, this.placements, this.axisNow, this.pointNow);
  }

  /** Constraint rows at this pose: residuals, and gradients in `rowValues`. */
  constraints(): Float64Array {
    if (this.rowsStand) return this.residuals;
    this.rowsStand = true;
    this.updateAxes();
    writeConstraints(this.kinematics, this, this.residuals, this.rowValues);
    return this.residuals;
  }

  /** Remembers how far every grip has come. Called once a movement stands. */
  latch(): void {
    const { grips, rows } = this.kinematics;
    for (let g = 0; g < grips.length; g++) {
      const grip = rows[grips[g]].grip!;
      const at = grip.catchAt(this.q);
      this.limit[g] = grip.touches ? at : Math.max(this.limit[g], at);
    }
  }

  /** Engages everything at the present pose, whatever was before. */
  engage(): void {
    const { grips, rows } = this.kinematics;
    for (let g = 0; g < grips.length; g++) {
      const grip = rows[grips[g]].grip!;
      this.on[g] = grip.touches ? 1 : 0;
      this.limit[g] = grip.catchAt(this.q);
    }
    this.rowsStand = false;
    this.factored = -1;
  }

  /** Lets every pawl and one-way clutch go, or makes the one in the given row hold. */
  grip(row: number | undefined): void {
    const { grips, gripOf, rows } = this.kinematics;
    if (row !== undefined) this.on[gripOf[row]] = 1;
    else for (let g = 0; g < grips.length; g++) if (!rows[grips[g]].grip!.touches) this.on[g] = 0;
    this.rowsStand = false;
    this.factored = -1;
  }

  /** Says whether the follower in a row is on its cam. */
  touch(row: number, on: boolean): void {
    this.on[this.kinematics.gripOf[row]] = on ? 1 : 0;
    this.rowsStand = false;
    this.factored = -1;
  }

  /** How far the motion of a grip's row stands from where it is held. */
  gapOf(row: number): number {
    const { rows, gripOf } = this.kinematics;
    return rows[row].grip!.gap(this.q, this.limit[gripOf[row]]);
  }

  /** By how much the speed of what touches in a row has jumped since the movement last stood: see `Grip.jump`. */
  jumpOf(row: number, rates: Float64Array): number {
    const { rows, gripOf } = this.kinematics;
    return rows[row].grip!.jump?.(this.limit[gripOf[row]], this.q, rates) ?? 0;
  }

  /** The pawls and one-way couplings that held in the last solve() or rates(). */
  get gripping(): Id[] {
    const { grips, rows } = this.kinematics;
    return [...grips].filter((r, g) => this.on[g] && !rows[r].grip!.touches).map((r) => rows[r].coupling);
  }

  /** The first row that lets go now and is passed, or −1. */
  private passed(slack: number, rates: Float64Array | undefined): number {
    const { grips, rows } = this.kinematics;
    for (let g = 0; g < grips.length; g++) {
      const grip = rows[grips[g]].grip!;
      if (this.on[g] || grip.lifted || grip.touches) continue;
      if (grip.gap(this.q, this.limit[g]) < slack && (!rates || grip.speed(rates) < -1e-12)) return grips[g];
    }
    return -1;
  }

  /**
   * Moves to the pose in which the given coordinates have the given values (SI), staying as near as possible to the present
   * pose in everything else. For pure trains one step is exact. Steps are bounded, so the pose stays on its branch; it is
   * left as it was where the other cannot be reached.
   */
  solve(coordinates: ArrayLike<number>, values: ArrayLike<number>, targets = coordinates.length): PoseState {
    const grips = this.kinematics.grips.length;
    if (!grips || this.gripsStand) return this.newton(coordinates, values, targets);
    this.begin.set(this.u);
    this.grip(undefined);
    let state = this.newton(coordinates, values, targets);
    // Every coupling that would be passed in the sense in which it holds is made to hold; each is added at most once.
    for (let guard = 0; guard < grips && state === 'ok'; guard++) {
      const row = this.passed(-1e-9, undefined);
      if (row < 0) break;
      this.u.set(this.begin);
      this.refresh();
      this.grip(row);
      state = this.newton(coordinates, values, targets);
    }
    if (state !== 'ok') {
      this.u.set(this.begin);
      this.refresh();
    }
    return state;
  }

  /** Makes room for leading so many coordinates at once. */
  private makeRoom(targets: number): void {
    if (targets <= this.room) return;
    this.room = 2 * targets;
    this.factoredFor = new Int32Array(this.room);
    this.factored = -1;
    this.solver = new LeastSquares(this.kinematics.constraintRows + this.room, Math.max(1, this.kinematics.freeCount));
  }

  private newton(coordinates: ArrayLike<number>, values: ArrayLike<number>, targets: number): PoseState {
    this.makeRoom(targets);
    const { u, before, solver, kinematics: k, q } = this;
    const { freeCount: nf, constraintRows: nc, linear } = k;
    before.set(u);
    if (linear && this.direct(coordinates, values, targets, k.constant, u)) {
      this.iterations++;
      this.lastResidual = 0;
      this.refresh();
      return 'ok';
    }
    let state: PoseState = 'unreachable';
    let short = 0;
    let lastWorst = Infinity;
    let lastSize = Infinity;
    for (let step = 0; step < MOST_STEPS; step++) {
      if (this.iterationsLeft-- <= 0) break;
      this.iterations++;
      if (nc) this.constraints();
      // Near the goal the last factorisation serves on, while steps shrink fast.
      const chord = lastSize < CHORD && !linear;
      if (!chord) {
        this.factored = -1;
        enterRows(k, this.rowValues, coordinates, targets, solver);
      }
      let worst = 0;
      for (let r = 0; r < nc; r++) {
        solver.b[r] = -this.residuals[r];
        worst = Math.max(worst, Math.abs(this.residuals[r]));
      }
      for (let t = 0; t < targets; t++) {
        const miss = weightOf(k, coordinates[t]) * (values[t] - q[coordinates[t]]);
        solver.b[nc + t] = miss;
        worst = Math.max(worst, Math.abs(miss));
      }
      this.lastResidual = worst;
      if (worst < 1e-13 || (step > 0 && worst < 1e-11 && linear)) {
        state = 'ok';
        break;
      }
      const rank = chord ? solver.rank : solver.factor(1e-10);
      if (chord) solver.again();
      this.branch = solver.orientation;
      const stuck = solver.residual;
      const x = solver.solve();
      let size = 0;
      for (let j = 0; j < nf; j++) size = Math.max(size, Math.abs(x[j]));
      // What is left: Newton squares the error, a chord shrinks it as it shrank the last.
      const rest = chord ? size * (size / lastSize) : size * size;
      lastSize = rank < nf || (chord && size > 0.1 * lastSize) ? Infinity : size;
      const reach = linear || size < LONGEST_STEP ? 0 : reachOf(k, x);
      const part = reach < LONGEST_STEP ? 1 : LONGEST_STEP / reach;
      if (part < 1 && short++ < MOST_SHORT_STEPS && worst < lastWorst) step--;
      lastWorst = part < 1 ? worst : Infinity;
      for (let j = 0; j < nf; j++) u[j] += part * x[j];
      this.refresh();
      if (linear && stuck <= 1e-11 * (1 + worst)) {
        state = 'ok';
        break;
      }
      if (part === 1 && size < 1e-3 && rest < 1e-15 && stuck < 1e-14) {
        this.lastResidual = stuck;
        state = 'ok';
        break;
      }
      if (size < 1e-14 && worst < 1e-10) {
        state = 'ok';
        break;
      }
      if (size < 1e-13) {
        state = rank < Math.min(nf, nc + targets) ? 'dead-point' : 'unreachable';
        break;
      }
    }
    if (state !== 'ok' && this.lastResidual < 1e-9) state = 'ok';
    if (state !== 'ok') {
      u.set(before);
      this.refresh();
    }
    return state;
  }

  /**
   * The velocities of the free coordinates when the given coordinates move at the given rates
   * and constraints hold; least norm elsewhere. `constraintRight` states what the constraint
   * rows must come to instead of zero (accelerations). Gives what could not be met.
   */
  rates(
    coordinates: ArrayLike<number>,
    speeds: ArrayLike<number>,
    out: Float64Array,
    constraintRight?: ArrayLike<number>,
    targets = coordinates.length,
  ): number {
    const grips = this.kinematics.grips.length;
    if (!grips || this.gripsStand || constraintRight) return this.linearRates(coordinates, speeds, out, constraintRight, targets);
    this.grip(undefined);
    let missed = this.linearRates(coordinates, speeds, out, undefined, targets);
    for (let guard = 0; guard < grips; guard++) {
      spreadRates(this.kinematics, out, this.rateStore);
      const row = this.passed(1e-7, this.rateStore);
      if (row < 0) break;
      this.grip(row);
      missed = this.linearRates(coordinates, speeds, out, undefined, targets);
    }
    return missed;
  }

  /**
   * As rates(), with freedoms that nothing drives held at rest; what a one-way coupling
   * takes along is held no more. `held` is changed: it keeps those that stand. Gives
   * what could not be met: a one-way coupling then holds against what is led.
   */
  steadyRates(driven: readonly number[], speeds: readonly number[], held: number[], out: Float64Array): number {
    const { kinematics: k, rateStore } = this;
    const all = (): number[] => [...driven, ...held];
    const still = (): number[] => [...speeds, ...held.map(() => 0)];
    if (!k.grips.length || this.gripsStand) return this.linearRates(all(), still(), out, undefined, driven.length + held.length);
    this.grip(undefined);
    for (let guard = 0; ; guard++) {
      const missed = this.linearRates(all(), still(), out, undefined, driven.length + held.length);
      spreadRates(k, out, rateStore);
      const row = this.passed(1e-7, rateStore);
      if (row < 0 || guard >= k.grips.length) return missed;
      const alone = new Float64Array(k.freeCount);
      const taken = held.findIndex((h) => {
        this.linearRates(all(), [...speeds.map(() => 0), ...held.map((x) => (x === h ? 1 : 0))], alone, undefined, driven.length + held.length);
        spreadRates(k, alone, rateStore);
        return Math.abs(k.rows[row].grip!.speed(rateStore)) > 1e-9;
      });
      if (taken >= 0) held.splice(taken, 1);
      this.grip(row);
    }
  }

  private linearRates(
    coordinates: ArrayLike<number>,
    speeds: ArrayLike<number>,
    out: Float64Array,
    right: ArrayLike<number> | undefined,
    targets: number,
  ): number {
    this.makeRoom(targets);
    const { solver, kinematics: k } = this;
    const { freeCount: nf, constraintRows: nc } = k;
    if (k.linear && this.direct(coordinates, speeds, targets, undefined, out)) return 0;
    if (nc) this.constraints();
    const again = this.isFactoredFor(coordinates, targets) && solver.rank === nf;
    if (!again) enterRows(k, this.rowValues, coordinates, targets, solver);
    for (let r = 0; r < nc; r++) solver.b[r] = right ? right[r] : 0;
    for (let t = 0; t < targets; t++) solver.b[nc + t] = weightOf(k, coordinates[t]) * speeds[t];
    if (again) solver.again();
    else {
      solver.factor(1e-10);
      this.factored = targets;
      for (let t = 0; t < targets; t++) this.factoredFor[t] = coordinates[t];
    }
    const missed = solver.residual;
    const x = solver.solve();
    for (let j = 0; j < nf; j++) out[j] = x[j];
    return missed;
  }

  /**
   * The free coordinates where each of those that are led follows from one of them
   * alone, and all are led: then nothing has to be solved. False where it is not so.
   * `constant`: where coordinates stand while the free ones are zero; none for rates.
   */
  private direct(
    coordinates: ArrayLike<number>,
    values: ArrayLike<number>,
    targets: number,
    constant: Float64Array | undefined,
    out: Float64Array,
  ): boolean {
    const { start, column, value, freeCount } = this.kinematics;
    if (targets !== freeCount) return false;
    const { seen } = this;
    this.looked++;
    for (let t = 0; t < targets; t++) {
      const from = start[coordinates[t]];
      if (start[coordinates[t] + 1] !== from + 1 || seen[column[from]] === this.looked) return false;
      seen[column[from]] = this.looked;
    }
    for (let t = 0; t < targets; t++) {
      const i = coordinates[t];
      out[column[start[i]]] = (values[t] - (constant ? constant[i] : 0)) / value[start[i]];
    }
    return true;
  }

  private isFactoredFor(coordinates: ArrayLike<number>, targets: number): boolean {
    if (this.factored !== targets) return false;
    for (let t = 0; t < targets; t++) if (this.factoredFor[t] !== coordinates[t]) return false;
    return true;
  }

  /** Rates of all coordinates from rates of the free ones. */
  spreadRates(rates: Float64Array, out: Float64Array): void {
    spreadRates(this.kinematics, rates, out);
  }

  /** The coordinates that move when the free ones move at the given rates, with their rates. */
  moved(rates: Float64Array): Map<number, number> {
    return movedBy(this.kinematics, rates);
  }

  /** A basis of the motions that stay possible when the given coordinates are held, over the free coordinates. */
  freedoms(held: ArrayLike<number>): Float64Array[] {
    return this.kinematics.freeCount === 0 ? [] : this.factoredWhile(held).nullSpace();
  }

  /** How many motions stay possible when nothing is held. */
  freedomCount(): number {
    const { linear, freeCount } = this.kinematics;
    return linear ? freeCount : freeCount - this.factoredWhile([]).rank;
  }

  /** The constraint rows at the present pose with the given coordinates held, triangular. */
  private factoredWhile(held: ArrayLike<number>): LeastSquares {
    const { kinematics: k } = this;
    const solver = new LeastSquares(k.constraintRows + held.length, Math.max(1, k.freeCount));
    if (k.constraintRows) this.constraints();
    enterRows(k, this.rowValues, held, held.length, solver);
    solver.factor(1e-9);
    return solver;
  }
}

/** A pose of a compiled design, in the reference position. */
export const poseOf = (compiled: Compiled): Pose => new Pose(compiled.kinematics);
