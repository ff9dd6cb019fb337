import type { RowForce } from '../couplings/index';
import type { Compiled, Pose } from '../kinematics/index';
import { coordinateOf } from '../kinematics/index';
import { BY_SPEED, type BodyLoad, type CoordinateLoad, type Moment, bindLoads } from '../loads/index';
import type { Groups, Vec3 } from '../math/index';
import { accelerate } from './accelerations';
import { type BodyMasses, bodyMasses } from './body-masses';
import { External, type Wrench } from './external';
import { groupsOf } from './groups';
import { gripsThatCount, heldFreedoms } from './held';
import { reportRows, updateLosses } from './losses';
import { Multipliers } from './multipliers';
import { alongFreedom, inertialWrenches, kineticEnergy, moveBodies, sumTowardsFrame } from './newton-euler';
import { bearClosures, bearCoordinateLoads, sumReactions } from './reactions';
import { SelfStress } from './self-stress';
import { type Unknowns, fillColumns, unknownsOf } from './unknowns';
import { weigh } from './weight';
import { type Workspace, workspaceFor } from './workspace';
import { inertiaWrenches, jointWrenches } from './wrenches';

const MOST_PATTERNS = 24;
/** Where a design states none, m/s² (ISO 80000-3: standard acceleration of free fall). */
export const STANDARD_GRAVITY: Vec3 = [0, 0, -9.80665];
/** Part of the greatest rate below which a rate is rounding: places and directions are stated to twelve decimals. */
const STILL = 1e-10;
/** Repetitions until friction by reactions stands, and what of the largest force it may still change by. */
const MOST_REACTIONS = 200;
const SAME_FRICTION = 1e-13;
/** How lightly a held freedom leans on its own holding while a pawl may carry it. */
const LIGHT = 1e-7;

/** What one coupling row carries at one pose. */
export type CouplingForce = RowForce;

/** Everything about forces at one pose. Arrays are reused from call to call. */
export interface ForceState {
  couplings: readonly CouplingForce[];
  /** Torque or force that each source (or holding hand) gives, N·m or N. */
  input: Float64Array;
  /** Coordinates that `input` belongs to: sources first, then freedoms that nothing drives and that are held. */
  inputCoordinate: Int32Array;
  /**
   * Six components on the member that each coordinate's body starts, by its parent: force then moment about the joint point, in
   * the world.
   */
  reaction: Float64Array;
  /** True when the pattern of driving sides repeated. */
  settled: boolean;
  /** Row at which the sides that drive contradict each other, where they do not settle; −1 otherwise. */
  jams: number;
  /** Coordinate at which friction by the joint's reaction grows without end; −1 otherwise. */
  jamsAt: number;
  /** Unbalanced remainder of the equations, N·m-like; zero when forces are determined. */
  remainder: number;
  /** Unknowns that statics leaves open: least-norm values are given. */
  indeterminate: number;
}

export interface ForcesOptions {
  /** Coordinates that are driven; those of the sources where nothing is said. The rest of the freedoms are held. */
  driven?: readonly number[];
  /** Rows of one-way couplings that hold, come what may; otherwise each evaluation finds them. */
  gripping?: readonly number[];
}

/** Coordinates that the design's sources drive, without those that are overdriven. */
export const drivenCoordinates = (c: Compiled): number[] => c.sources.map((s) => s.coordinate).filter((x) => !c.reduction.overdriven.includes(x));

/**
 * Forces of a pose whose motion is known (engine: inverse dynamics). A recursive pass gives the generalised force that every
 * coordinate needs; the transposed rows give coupling, closure and input forces; a second pass with those forces at their contact
 * points gives the joint reactions. The passes are functions in files of their own; here stands their order, and the workspace
 * that they share.
 */
export class Forces implements Moment {
  readonly state: ForceState;
  readonly velocity: Float64Array;
  readonly acceleration: Float64Array;
  readonly given: Float64Array;
  readonly twist: Float64Array;
  readonly work: Workspace;
  readonly masses: BodyMasses;
  /** Power that loads, weight and, where it is counted, inertia put in, W (negative: taken out). */
  loadPower = 0;
  /** Sense of motion for the dry friction of each coordinate: by its rate, unless a run says otherwise. */
  readonly frictionSense: Int8Array;
  /**
   * While everything stands, the motion that what drives would bring about: losses act against it. None: they are left out at
   * rest.
   */
  tendency: Float64Array | undefined;
  /** How many inputs are sources; the rest are held freedoms. */
  readonly driven: number;
  private readonly gravity: Vec3;
  private readonly bodyLoads: BodyLoad[] = [];
  private readonly coordinateLoads: CoordinateLoad[] = [];
  /** Loads whose size goes by the reaction of their joint. */
  private readonly feeling: CoordinateLoad[];
  private readonly external: External;
  private readonly inputs: Int32Array;
  private readonly unknowns: Unknowns;
  private readonly multipliers: Multipliers;
  private readonly lambda: Float64Array;
  private readonly selfStress: SelfStress;
  private readonly right: Float64Array;
  /** Rows that may hold in one sense, and those that do at this evaluation. */
  private readonly canHold: Uint8Array;
  private readonly holds: Uint8Array;
  private readonly gripsStand: boolean;

  constructor(
    readonly pose: Pose,
    options: ForcesOptions = {},
  ) {
    const k = pose.kinematics;
    const { compiled } = k;
    const { structure, design } = compiled;
    this.gravity = design.settings?.gravity ?? STANDARD_GRAVITY;
    const bound = bindLoads(design.loads, {
      bodyOf: (member) => structure.bodyOf.get(member),
      frameOf: (member) => structure.frames.get(member),
      coordinateOf: (joint) => {
        const c = coordinateOf(structure, joint);
        return c && { index: c.index, slide: c.motion === 'slide', sign: c.sign };
      },
    });
    for (const load of bound) {
      if (load.on === 'bodies') this.bodyLoads.push(load);
      else this.coordinateLoads.push(load);
    }
    this.feeling = this.coordinateLoads.filter((l) => l.feel);
    this.work = workspaceFor(k);
    this.velocity = this.work.velocity;
    this.acceleration = this.work.acceleration;
    this.given = this.work.given;
    this.twist = this.work.twist;
    this.frictionSense = new Int8Array(k.count).fill(BY_SPEED);
    this.masses = bodyMasses(compiled);
    this.external = new External(pose);
    this.right = new Float64Array(Math.max(1, k.constraintRows));

    this.gripsStand = options.gripping !== undefined;
    pose.grip(undefined);
    for (const r of options.gripping ?? []) pose.grip(r);
    const sources = options.driven ? [...options.driven] : drivenCoordinates(compiled);
    this.driven = sources.length;
    this.inputs = Int32Array.from([...sources, ...heldFreedoms(pose, sources)]);
    this.holds = new Uint8Array(k.rows.length);
    this.canHold = new Uint8Array(k.rows.length);
    for (const r of options.gripping ?? gripsThatCount(pose, sources)) this.canHold[r] = 1;

    this.selfStress = new SelfStress(pose);
    this.unknowns = unknownsOf(k, this.inputs);
    this.lambda = new Float64Array(this.unknowns.count);
    // What lets go cannot stand in the order in which unknowns are found one after the other.
    const torn = k.rows.flatMap((r, n) => (r.grip || (r.numeric && k.constraintOf[n] >= 0 && !compiled.reduction.mixed.includes(n)) ? [n] : []));
    this.multipliers = new Multipliers(k.count, this.unknowns, torn, this.selfStress.openRows, [
      this.unknowns.firstClosure,
      this.unknowns.firstInput,
    ]);
    this.state = {
      couplings: this.work.rows,
      input: new Float64Array(this.inputs.length),
      inputCoordinate: this.inputs,
      reaction: new Float64Array(6 * k.count),
      settled: true,
      jams: -1,
      jamsAt: -1,
      remainder: 0,
      indeterminate: 0,
    };
  }

  /** Dry friction along each coordinate that has any, N·m or N. */
  frictions(): Map<number, number> {
    const out = new Map<number, number>();
    for (const l of this.coordinateLoads) if (l.friction) out.set(l.index, (out.get(l.index) ?? 0) + l.friction);
    return out;
  }

  /** Whether loops that do not lie in planes leave reactions to choose. */
  get openLoops(): boolean {
    return this.selfStress.outOfPlane;
  }

  /** Freedoms that nothing drives, each by the coordinate that holds it. */
  get heldCoordinates(): number[] {
    return [...this.inputs].slice(this.driven);
  }

  get placements(): Float64Array {
    return this.pose.placements;
  }
  get q(): Float64Array {
    return this.pose.q;
  }

  /**
   * Forces at the pose, for the coordinate rates in `velocity` (and `acceleration` when inertia counts), both SI.
   * Losses depend on which side drives, so the pattern of driving sides is repeated until it stands, at most 24 times.
   */
  evaluate(options: { inertia?: boolean; losses?: boolean } = {}): ForceState {
    this.evaluateOnce(options);
    if (!this.feeling.length) return this.state;
    // Friction by a joint's own reaction: repeated until it stands. Where it grows on and on, the joint jams.
    this.state.jamsAt = -1;
    for (let turn = 0; turn < MOST_REACTIONS; turn++) {
      const { changed, at } = this.feel(options.inertia ?? false);
      if (changed <= SAME_FRICTION * this.acting) return this.state;
      if (turn === MOST_REACTIONS - 1 || !Number.isFinite(changed)) {
        this.state.settled = false;
        this.state.jamsAt = at;
        return this.state;
      }
      this.evaluateOnce(options);
    }
    return this.state;
  }

  /** Has loads take up the reactions that they go by: the largest change, and at which coordinate. */
  private feel(inertia: boolean): { changed: number; at: number } {
    const R = this.reactions(inertia);
    const { axisNow: a, kinematics: k } = this.pose;
    let changed = 0,
      at = -1;
    for (const load of this.feeling) {
      const r = 6 * k.ends[k.endOf[load.index]].first,
        c = 3 * load.index;
      // What drives along the freedom presses on nothing.
      const slot = this.state.inputCoordinate.indexOf(load.index);
      const drive = load.slide ? (slot >= 0 ? this.state.input[slot] : 0) + this.given[load.index] : 0;
      const [ax, ay, az] = [a[c], a[c + 1], a[c + 2]];
      const by = load.feel!(R[r] - drive * ax, R[r + 1] - drive * ay, R[r + 2] - drive * az, R[r + 3], R[r + 4], R[r + 5], ax, ay, az);
      if (by > changed || Number.isNaN(by)) [changed, at] = [by, load.index];
    }
    return { changed, at };
  }

  private evaluateOnce(options: { inertia?: boolean; losses?: boolean }): ForceState {
    const { pose, state, work: w } = this;
    const k = pose.kinematics;
    const inertia = options.inertia ?? false,
      losses = options.losses ?? true;
    this.still = 0;
    for (let i = 0; i < k.count; i++) this.still = Math.max(this.still, STILL * Math.abs(w.velocity[i]));
    this.needs(inertia);
    // The last pattern is tried first: from frame to frame it seldom changes.
    if (!losses || !state.settled) for (let r = 0; r < w.rows.length; r++) w.rows[r].factor.fill(1);
    this.setShares();
    const light = this.holdLightly();
    state.settled = false;
    // All sides at once settle soonest; where that goes round in a circle, one
    // coupling after the other finds the pattern that is there (Murty, Linear
    // Complementarity, the least-index method). Where there is none, nothing can move: it jams.
    const most = MOST_PATTERNS + 4 * k.rows.length;
    for (let turn = 0; turn < most && !state.settled; turn++) {
      fillColumns(this.unknowns, pose, w.rows);
      this.multipliers.solve(w.need, this.lambda, state);
      for (let r = 0; r < w.rows.length; r++) w.rows[r].lambda = this.lambda[r];
      if (this.letGo()) continue;
      state.jams = losses ? updateLosses(k.rows, w.rows, this.tendency ?? w.velocity, this.acting, turn >= MOST_PATTERNS) : -1;
      state.settled = state.jams < 0;
    }
    reportRows(k.rows, w.rows, w.velocity, pose.q);
    for (let n = 0; n < this.inputs.length; n++) {
      state.input[n] = this.lambda[this.unknowns.firstInput + n] * (n < this.driven ? 1 : light);
    }
    this.loadPower = 0;
    for (let i = 0; i < k.count; i++) this.loadPower -= (w.need[i] + w.given[i]) * w.velocity[i];
    return state;
  }

  still = 0;
  /** The largest of what acts on bodies and coordinates, N·m or N: rounding is judged by it. */
  acting = 0;

  /** What each coordinate needs: weight, loads and inertia, projected on its freedom. */
  private needs(inertia: boolean): void {
    const { pose, work: w, external } = this;
    const k = pose.kinematics;
    if (k.linear) pose.updateAxes();
    else pose.constraints();
    moveBodies(pose, w.velocity, inertia ? w.acceleration : undefined, w);
    this.load();
    w.loads.set(external.wrench);
    this.acting = 0;
    for (let i = 0; i < external.wrench.length; i++) this.acting = Math.max(this.acting, Math.abs(external.wrench[i]));
    if (inertia) inertialWrenches(pose, this.masses, w, w.own);
    sumTowardsFrame(k, inertia ? w.own : undefined, external.wrench, w.wrench);
    for (let b = 1; b < k.bodies; b++) w.need[k.bodyCoordinate[b]] = alongFreedom(pose, w.wrench, k.bodyCoordinate[b], b);
    for (let n = 0; n < this.coordinateLoads.length; n++) w.need[this.coordinateLoads[n].index] -= this.coordinateLoads[n].value(this);
    for (let i = 0; i < k.count; i++) {
      w.need[i] -= w.given[i];
      this.acting = Math.max(this.acting, Math.abs(w.need[i]), Math.abs(w.given[i]));
    }
  }

  /** Weight and loads on bodies. */
  private load(): void {
    const { external } = this;
    external.wrench.fill(0);
    weigh(this.pose, this.masses, this.gravity, external);
    for (let n = 0; n < this.bodyLoads.length; n++) this.bodyLoads[n].apply(this, external);
  }

  /**
   * Sets the shares of rows that change with the pose, and which rows may hold now: those at their tooth that do not run
   * ahead.
   */
  private setShares(): void {
    const { pose, work: w } = this;
    const k = pose.kinematics;
    for (let n = 0; n < k.numeric.length; n++) {
      const r = k.numeric[n],
        g = k.gripOf[r];
      const { grip } = k.rows[r];
      const { gain } = w.rows[r];
      if (!grip || (grip.touches && pose.on[g])) k.rows[r].shares(pose.q, gain);
      else if (grip.touches) gain.fill(0);
      else {
        const can = this.canHold[r] === 1;
        this.holds[r] =
          can && (this.gripsStand || (!grip.lifted && grip.gap(pose.q, pose.limit[g]) < 1e-7 && Math.abs(grip.speed(w.velocity)) < 1e-9)) ? 1 : 0;
        gain.fill(this.holds[r]);
      }
    }
  }

  /** A freedom that something holds leans on its own holding only where nothing else can carry. */
  private holdLightly(): number {
    const { count, firstInput, value } = this.unknowns;
    let weight = 1;
    if (!this.gripsStand) for (let r = 0; r < this.holds.length; r++) if (this.holds[r]) weight = LIGHT;
    for (let n = firstInput + this.driven; n < count; n++) value[n][0] = weight;
    return weight;
  }

  /** Lets go of every row that would have to pull. True when any changed. */
  private letGo(): boolean {
    if (this.gripsStand) return false;
    let changed = false;
    for (let r = 0; r < this.holds.length; r++) {
      if (!this.holds[r] || this.lambda[r] >= -1e-12) continue;
      this.holds[r] = 0;
      this.work.rows[r].gain.fill(0);
      changed = true;
    }
    if (changed) this.holdLightly();
    return changed;
  }

  /**
   * Accelerations of all coordinates, into `acceleration`, when the given ones accelerate as stated, for the rates in `velocity`.
   * SI. Gives what could not be met.
   */
  accelerate(coordinates: ArrayLike<number>, accelerations: ArrayLike<number>, free: Float64Array, targets = coordinates.length): number {
    return accelerate(this.pose, this.work, coordinates, accelerations, free, this.right, targets);
  }

  /**
   * Reactions at all joints after evaluate(): force and moment about the joint's point that the parent side exerts on the child
   * side, six numbers per coordinate in the world. For a joint of several freedoms the first coordinate's entry is the joint's
   * reaction.
   */
  reactions(inertia = false): Float64Array {
    const { pose, work: w, external } = this;
    const k = pose.kinematics;
    external.begin();
    if (external.record) this.load();
    else external.wrench.set(w.loads);
    for (let r = 0; r < k.rows.length; r++) k.rows[r].bear(w.rows[r], pose.q, external);
    bearCoordinateLoads(this.coordinateLoads, this, external);
    // A closing joint is told with the others, as what its own freedoms carry.
    const record = external.silence();
    bearClosures(pose, this.lambda, this.unknowns.firstClosure, external);
    external.record = record;
    sumReactions(pose, inertia ? w.own : undefined, external, w.wrench, this.state.reaction);
    this.selfStress.settle(pose, this.state.reaction);
    return this.state.reaction;
  }

  /**
   * Every force and couple on every body after evaluate() and with the same `inertia`: those of joints (split from what the
   * source gives on the joint's own freedom), couplings, loads, weight, and inertia as what the body resists with. On each
   * body they add up to nothing.
   */
  wrenches(inertia = false): Wrench[] {
    const out: Wrench[] = (this.external.record = []);
    try {
      this.reactions(inertia);
    } finally {
      this.external.record = undefined;
    }
    jointWrenches(this.pose, this.state, this.work.given, out);
    if (inertia) inertiaWrenches(this.pose, this.masses, this.work.own, out);
    return out;
  }

  /**
   * Mass (kg), centre (m) and inertia about it (kg·m², as in MassProperties) of a body in the world at the reference
   * position.
   */
  bodyMass(b: number): { mass: number; centre: number[]; inertia: number[] } {
    const { mass, centre, inertia } = this.masses;
    return { mass: mass[b], centre: [...centre.subarray(3 * b, 3 * b + 3)], inertia: [...inertia.subarray(6 * b, 6 * b + 6)] };
  }

  /** What friction and dampers among the loads take after evaluate(), W. */
  lostInLoads(): number {
    let lost = 0;
    for (const load of this.bodyLoads) lost += load.lost?.(this) ?? 0;
    for (const load of this.coordinateLoads) lost += load.lost?.(this) ?? 0;
    return lost;
  }

  /**
   * What a coordinate moves along where all motion follows from it, at the pose: the inertia J that it feels, and its change J′
   * with the place, so that moving takes J·a + ½ J′·v² beside the steady effort (Eksergian's equation; Norton, Design of
   * Machinery, section 10.11, from memory). kg·m² or kg, and that per rad or m. Uses `velocity` and `acceleration`.
   */
  reflectedInertia(coordinate: number, sense = 1): { inertia: number; slope: number } {
    const { pose, work: w } = this;
    const free = new Float64Array(pose.kinematics.freeCount);
    pose.updateAxes();
    pose.rates([coordinate], [sense], free);
    pose.spreadRates(free, w.velocity);
    this.accelerate([coordinate], [0], free);
    moveBodies(pose, w.velocity, w.acceleration, w);
    inertialWrenches(pose, this.masses, w, w.own);
    let power = 0;
    for (let b = 1; b < pose.kinematics.bodies; b++) {
      if (this.masses.heavy[b]) for (let x = 6 * b; x < 6 * b + 6; x++) power += w.own[x] * w.twist[x];
    }
    return { inertia: 2 * kineticEnergy(pose, this.masses, w), slope: 2 * sense * power };
  }

  /** Coordinates in groups that share nothing (see groupsOf). */
  groups(): Groups {
    return groupsOf(this.pose.compiled, this.unknowns);
  }

  /** How bodies move for the rates in `velocity` at the pose, six numbers each (see BodyMotion). */
  twistsNow(): Float64Array {
    this.pose.updateAxes();
    moveBodies(this.pose, this.work.velocity, undefined, this.work);
    return this.work.twist;
  }

  /** Kinetic energy for the rates in `velocity`, J. */
  kinetic(): number {
    this.twistsNow();
    return kineticEnergy(this.pose, this.masses, this.work);
  }
}
