import { piToNumber } from '../exact/index';
import type { Id } from '../fields/types';
import { type BodyLoad, type CoordinateLoad, type Moment, type Receiver, bindLoads } from '../loads/index';
import { PLACEMENT, Vec3, cross, movePoint, moveVector, vsub, dot } from '../numeric/index';
import { ARM, Compiled, CompiledCoupling, CurveRow, Mechanism, OneWayRow, coordinateOf } from '../mechanism/index';
import { type BodyMasses, bodyMasses } from './body-masses';
import { Multipliers } from './multipliers';
import { alongFreedom, inertialWrenches, kineticEnergy, moveBodies, sumTowardsFrame } from './newton-euler';

const MM = 1e-3;
const MOST_PATTERNS = 24;

interface PortData {
  body: number;
  carrier: number;
  slide: boolean;
  /** Coordinates and SI coefficients of this port's share of the row. */
  coordinate: Int32Array;
  value: Float64Array;
  /** Where each of these stands in the row's column of unknowns. */
  slot: Int32Array;
  /** Share of the row for one unit of the member's own motion, SI. */
  share: number;
  point: Vec3;
  axis: Vec3;
}

interface RowData {
  coupling: CompiledCoupling;
  ports: PortData[];
  contacts: {
    a: number;
    b: number;
    body: number;
    other: number;
    carrier: number;
    point: Vec3;
    along: Vec3;
    spread: Vec3;
    /** Length of `spread`. */
    wide: number;
    arm: number;
    alongB?: Vec3;
    armB: number;
  }[];
  forward: number;
  backward: number;
  /** Share of the row that each port takes at the present pose: 1, but −f′ of a cam, and 0 of what has let go. */
  gain: Float64Array;
  curve?: CurveRow;
  oneWay?: OneWayRow;
}

/** What one coupling carries at one pose. SI. */
export interface CouplingForce {
  /** Force or torque on each port's member, on its own motion, in N or N·m. */
  port: Float64Array;
  /** Speed of each port's motion relative to the carrier, rad/s or m/s. */
  speed: Float64Array;
  /** Which port takes power in (its member drives), or −1 at rest. */
  driving: number;
  /** Power lost, W. */
  loss: number;
  /** Tangential force at the contact, N, if it has one; of a cam the whole force between the profiles. */
  tangential: number;
  /** Radial and axial parts at the contact, N; none of a cam. */
  radial: number;
  axial: number;
  /** Tension of every strand of a belt or chain, N; empty for others and for a belt's further rows. */
  strands: number[];
}

/** Everything about forces at one pose. Arrays are reused from call to call. */
export interface ForceState {
  couplings: CouplingForce[];
  /** Torque or force that each source (or holding hand) gives, N·m or N. */
  input: Float64Array;
  /** Coordinates that `input` belongs to: sources first, then freedoms that nothing drives and that are held. */
  inputCoordinate: Int32Array;
  /** Six components on the member that each coordinate's body starts, by its parent: force then moment about the joint point, in the world. */
  reaction: Float64Array;
  /** True when the pattern of driving sides repeated. */
  settled: boolean;
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

/** One force or couple on a body, for a load sheet. N and N·m in the world, at a point in m. */
export interface Wrench {
  kind: 'joint' | 'source' | 'coupling' | 'load' | 'weight' | 'inertia';
  id: Id;
  body: number;
  point: Vec3;
  force: Vec3;
  moment: Vec3;
}

/**
 * Forces of a mechanism whose motion is known (engine: inverse dynamics). A recursive pass gives the generalised force that every
 * coordinate needs; the transposed rows give coupling, closure and input forces; a second pass with those forces at their contact
 * points gives the joint reactions.
 *
 */
export class Forces implements Moment, Receiver {
  readonly rows: RowData[];
  readonly state: ForceState;
  readonly velocity: Float64Array;
  readonly acceleration: Float64Array;
  /** What sources that state their torque give on each coordinate, N·m or N; set by whoever knows the speed. */
  readonly given: Float64Array;
  /** Power that loads, weight and, where it is counted, inertia put in, W (negative: taken out). */
  loadPower = 0;
  private readonly masses: BodyMasses;
  readonly twist: Float64Array;
  readonly accel: Float64Array;
  private readonly wrench: Float64Array;
  private readonly own: Float64Array;
  private readonly parentOf: Int32Array;
  private readonly external: Float64Array;
  private readonly need: Float64Array;
  private readonly factor: Float64Array[];
  private readonly unknowns: number;
  private readonly inputs: Int32Array;
  private readonly lambda: Float64Array;
  private readonly multipliers: Multipliers;
  /** Columns: per unknown the coordinates it enters. */
  private readonly columnOf: Int32Array[];
  private readonly columnValue: Float64Array[];
  private readonly bodyLoads: BodyLoad[] = [];
  private readonly coordinateLoads: CoordinateLoad[] = [];
  private readonly gravity: Vec3;

  /** How many inputs are sources; the rest are held freedoms. */
  readonly driven: number;
  /** Rows of one-way couplings that hold at this evaluation, and those that may: where a source moves the same freedom, the source carries. */
  private readonly holds: Uint8Array;
  private readonly canHold: number[];
  private readonly fixedGrips: boolean;
  /** Set while wrenches are written down one by one. */
  private record?: Wrench[];
  /** Dry friction of joints grows evenly up to a small speed instead of jumping: for integration in time. */
  smoothFriction = false;

  constructor(
    readonly mechanism: Mechanism,
    options: ForcesOptions = {},
  ) {
    const { compiled, count, bodies } = mechanism;
    const { structure, design } = compiled;
    this.gravity = design.settings?.gravity ?? [0, 0, -9.80665];
    const bound = bindLoads(design.loads, {
      bodyOf: (member) => structure.bodyOf.get(member),
      frameOf: (member) => structure.frames.get(member),
      coordinateOf: (joint) => {
        const c = coordinateOf(structure, joint);
        return c && { index: c.index, body: c.body, parent: c.parent, slide: c.motion === 'slide' };
      },
    });
    for (const load of bound) {
      if (load.on === 'bodies') this.bodyLoads.push(load);
      else this.coordinateLoads.push(load);
    }
    this.velocity = new Float64Array(count);
    this.acceleration = new Float64Array(count);
    this.given = new Float64Array(count);
    this.masses = bodyMasses(compiled);
    this.twist = new Float64Array(6 * bodies);
    this.accel = new Float64Array(6 * bodies);
    this.wrench = new Float64Array(6 * bodies);
    this.own = new Float64Array(6 * bodies);
    this.parentOf = mechanism.parentOf;
    this.external = new Float64Array(6 * bodies);
    this.need = new Float64Array(count);
    this.right = new Float64Array(Math.max(1, mechanism.constraintRows));

    this.rows = compiled.couplings.map((coupling, k) => {
      const { model } = coupling;
      const ports = model.ports.map((p): PortData => ({
        body: structure.bodyOf.get(p.member)!,
        carrier: structure.bodyOf.get(p.carrier)!,
        slide: p.motion === 'slide',
        coordinate: Int32Array.from(p.terms, (t) => t.coordinate),
        // Rows of a cam or a pawl are in SI already.
        value: Float64Array.from(
          p.terms,
          (t) =>
            (piToNumber(p.coefficient) * piToNumber(t.factor) * (model.curve || model.oneWay ? (p.motion === 'slide' ? MM : 2 * Math.PI) : 1)) /
            mechanism.scale[t.coordinate],
        ),
        slot: new Int32Array(p.terms.length),
        share: piToNumber(p.coefficient) / (model.curve || model.oneWay ? 1 : p.motion === 'slide' ? MM : 2 * Math.PI),
        point: p.point.map((v) => v * MM) as unknown as Vec3,
        axis: p.axis,
      }));
      const contacts = (model.contacts ?? []).map((c) => {
        const point = c.point.map((v) => v * MM) as unknown as Vec3;
        const pa = ports[c.a];
        const arm = pa.slide ? dot(pa.axis, c.along) : dot(pa.axis, cross(vsub(point, pa.point), c.along));
        const pb = ports[c.b];
        const armB = c.alongB ? dot(pb.axis, cross(vsub(point, pb.point), c.alongB)) : 1;
        return {
          a: c.a,
          b: c.b,
          body: pa.body,
          other: ports[c.b].body,
          carrier: pa.carrier,
          point,
          along: c.along,
          spread: c.spread,
          wide: Math.hypot(c.spread[0], c.spread[1], c.spread[2]),
          arm,
          alongB: c.alongB,
          armB,
        };
      });
      return {
        coupling,
        ports,
        contacts,
        forward: model.efficiency?.forward ?? 1,
        backward: model.efficiency?.backward ?? 1,
        gain: new Float64Array(ports.length).fill(1),
        curve: mechanism.curves.find((c) => c.row === k),
        oneWay: mechanism.oneWays.find((w) => w.row === k),
      };
    });
    this.factor = this.rows.map((r) => new Float64Array(r.ports.length).fill(1));

    // Unknowns: coupling rows, closure rows, inputs (sources, then held freedoms).
    this.fixedGrips = options.gripping !== undefined;
    mechanism.grip(undefined);
    for (const w of mechanism.oneWays) if (options.gripping?.includes(w.row)) mechanism.grip(w);
    const sources = options.driven ? [...options.driven] : drivenCoordinates(compiled);
    const held = this.heldFreedoms(sources);
    this.driven = sources.length;
    this.holds = new Uint8Array(this.rows.length);
    this.canHold = this.fixedGrips ? [...options.gripping!] : this.oneWaysThatCount(sources);
    this.inputs = Int32Array.from([...sources, ...held]);
    const nr = this.rows.length,
      nc = mechanism.closureRowCount,
      ni = this.inputs.length;
    this.unknowns = nr + nc + ni;
    this.lambda = new Float64Array(this.unknowns);
    this.columnOf = [];
    this.columnValue = [];
    for (const r of this.rows) {
      const set = [...new Set(r.ports.flatMap((p) => [...p.coordinate]))];
      for (const p of r.ports) for (let x = 0; x < p.coordinate.length; x++) p.slot[x] = set.indexOf(p.coordinate[x]);
      this.columnOf.push(Int32Array.from(set));
      this.columnValue.push(new Float64Array(set.length));
    }
    for (const c of mechanism.closures) {
      const set: number[] = [];
      for (const end of [c.reached, c.child]) for (let b = end; b !== c.root; b = mechanism.parentOf[b]) set.push(mechanism.bodyCoordinate[b]);
      for (let k = 0; k < c.rows; k++) {
        this.columnOf.push(Int32Array.from(set));
        this.columnValue.push(new Float64Array(set.length));
      }
    }
    for (const i of this.inputs) {
      this.columnOf.push(Int32Array.of(i));
      this.columnValue.push(Float64Array.of(1));
    }
    // What lets go cannot stand in the order in which unknowns are found one after the other.
    const torn = this.rows.flatMap((r, k) => (r.curve || r.oneWay ? [k] : []));
    this.multipliers = new Multipliers(count, { at: this.columnOf, value: this.columnValue }, torn);
    this.state = {
      couplings: this.rows.map((r) => ({
        port: new Float64Array(r.ports.length),
        speed: new Float64Array(r.ports.length),
        driving: -1,
        loss: 0,
        tangential: 0,
        radial: 0,
        axial: 0,
        strands: r.coupling.model.strands ? new Array<number>(r.coupling.model.strands.lengths.length).fill(0) : [],
      })),
      input: new Float64Array(ni),
      inputCoordinate: this.inputs,
      reaction: new Float64Array(6 * count),
      settled: true,
      remainder: 0,
      indeterminate: 0,
    };
  }

  /**
   * Freedoms that no source drives are held where they are, so that forces are defined: one coordinate for each, the one that moves most in it.
   * Each choice is taken out of the motions that are left, so that one null space serves for all.
   */
  private heldFreedoms(sources: number[]): number[] {
    const m = this.mechanism;
    const size = (i: number, rate: number): number => Math.abs(rate) * (m.motion[i] === 1 ? 10 : 1);
    const left = m.freedoms(sources).map((free) => m.moved(free));
    const movedBy = new Map<number, Set<number>>();
    left.forEach((moves, k) => {
      for (const i of moves.keys()) {
        const who = movedBy.get(i);
        if (who) who.add(k);
        else movedBy.set(i, new Set([k]));
      }
    });
    return left.map((moves, k) => {
      let best = -1;
      for (const [i, rate] of moves) if (best < 0 || size(i, rate) > size(best, moves.get(best)!) * (1 + 1e-12)) best = i;
      for (const other of movedBy.get(best)!) {
        if (other <= k) continue;
        const share = left[other].get(best)! / moves.get(best)!;
        for (const [i, rate] of moves) {
          left[other].set(i, (left[other].get(i) ?? 0) - share * rate);
          movedBy.get(i)!.add(other);
        }
        left[other].delete(best);
      }
      return best;
    });
  }

  /** One-way couplings whose motion the sources leave open: only these can carry load. */
  private oneWaysThatCount(sources: number[]): number[] {
    const m = this.mechanism;
    if (!m.oneWays.length) return [];
    const rates = new Float64Array(m.count);
    const left = m.freedoms(sources);
    return m.oneWays
      .filter((w) =>
        left.some((v) => {
          m.spreadRates(v, rates);
          return Math.abs(w.speed(rates)) > 1e-9;
        }),
      )
      .map((w) => w.row);
  }

  /** Sets the shares of rows that change with the pose, and which one-way couplings may hold now: those at their tooth that do not run ahead. */
  private switchPass(): void {
    const { mechanism: m, rows } = this;
    for (const c of m.curves) {
      c.curve.value(c.x(m.q), c.at);
      const g = rows[c.row].gain;
      g[0] = c.on ? -c.at[1] : 0;
      g[1] = c.on ? 1 : 0;
    }
    for (const w of m.oneWays) {
      if (this.fixedGrips) this.holds[w.row] = this.canHold.includes(w.row) ? 1 : 0;
      else this.holds[w.row] = this.canHold.includes(w.row) && !w.lifted && w.gap(m.q) < 1e-7 && Math.abs(w.speed(this.velocity)) < 1e-9 ? 1 : 0;
      rows[w.row].gain[0] = this.holds[w.row];
    }
  }

  /** Lets go of every one-way coupling that would have to pull. True when any changed. */
  private letGo(): boolean {
    let changed = false;
    if (this.fixedGrips) return false;
    for (const r of this.canHold) {
      if (!this.holds[r] || this.lambda[r] >= -1e-12) continue;
      this.holds[r] = 0;
      this.rows[r].gain[0] = 0;
      changed = true;
    }
    return changed;
  }

  /** Mass (kg), centre (m) and inertia about it (kg·m², as in MassProperties) of a body in the world at the reference position. */
  bodyMass(b: number): { mass: number; centre: number[]; inertia: number[] } {
    const { mass, centre, inertia } = this.masses;
    return { mass: mass[b], centre: [...centre.subarray(3 * b, 3 * b + 3)], inertia: [...inertia.subarray(6 * b, 6 * b + 6)] };
  }

  private readonly h = new Float64Array(12);

  private readonly right: Float64Array;

  /**
   * Accelerations of all coordinates, into `acceleration`, when the given ones accelerate as stated and the loops hold, for the rates in
   * `velocity`. SI. Gives what could not be met.
   */
  accelerate(coordinates: ArrayLike<number>, accelerations: ArrayLike<number>, free: Float64Array): number {
    const m = this.mechanism,
      V = this.twist,
      A = this.accel,
      h = this.h;
    if (m.linear) m.updateAxes();
    else m.constraints();
    this.acceleration.fill(0);
    moveBodies(m, this.velocity, this.acceleration, this);
    let row = 0;
    this.right.fill(0);
    for (const c of m.closures) {
      this.worldAt(c.reached, c.px, c.py, c.pz, 0);
      for (let k = 0; k < 6; k++) h[6 + k] = 0;
      for (let end = 0; end < 2; end++) {
        const b = 6 * (end ? c.child : c.reached),
          s = end ? -1 : 1;
        const wx = V[b],
          wy = V[b + 1],
          wz = V[b + 2];
        const vx = V[b + 3] + wy * h[2] - wz * h[1],
          vy = V[b + 4] + wz * h[0] - wx * h[2],
          vz = V[b + 5] + wx * h[1] - wy * h[0];
        h[6] += s * (A[b + 3] + A[b + 1] * h[2] - A[b + 2] * h[1] + wy * vz - wz * vy);
        h[7] += s * (A[b + 4] + A[b + 2] * h[0] - A[b] * h[2] + wz * vx - wx * vz);
        h[8] += s * (A[b + 5] + A[b] * h[1] - A[b + 1] * h[0] + wx * vy - wy * vx);
        for (let k = 0; k < 3; k++) h[9 + k] += s * A[b + k];
      }
      for (let k = 0; k < c.position.length; k += 3, row++) {
        moveVector(h, 3, m.placements, PLACEMENT * c.root, c.position[k], c.position[k + 1], c.position[k + 2]);
        this.right[row] = -(h[3] * h[6] + h[4] * h[7] + h[5] * h[8]);
      }
      for (let k = 0; k < c.rotation.length; k += 3, row++) {
        moveVector(h, 3, m.placements, PLACEMENT * c.root, c.rotation[k], c.rotation[k + 1], c.rotation[k + 2]);
        this.right[row] = -ARM * (h[3] * h[9] + h[4] * h[10] + h[5] * h[11]);
      }
    }
    for (const c of m.curves) this.right[c.start] = c.bend(this.velocity);
    const missed = m.rates(coordinates, accelerations, free, this.right);
    m.spreadRates(free, this.acceleration);
    return missed;
  }

  /** Adds a force at a world point to a body's wrench about the origin (moment, then force). */
  private push(into: Float64Array, body: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void {
    const t = 6 * body;
    into[t] += py * fz - pz * fy;
    into[t + 1] += pz * fx - px * fz;
    into[t + 2] += px * fy - py * fx;
    into[t + 3] += fx;
    into[t + 4] += fy;
    into[t + 5] += fz;
  }

  /** Writes a wrench down for the load sheet, if one is being made. */
  private note(kind: Wrench['kind'], id: Id, body: number, p: Vec3, force: Vec3, moment: Vec3 = [0, 0, 0]): void {
    this.record?.push({ kind, id, body, point: p, force, moment });
  }
  private noteHere(kind: Wrench['kind'], id: Id, body: number, s: number): void {
    if (!this.record) return;
    const h = this.h;
    this.note(kind, id, body, [h[0], h[1], h[2]], [s * h[3], s * h[4], s * h[5]]);
  }

  private world(body: number, p: Vec3, out: number): void {
    this.worldAt(body, p[0], p[1], p[2], out);
  }
  private worldAt(body: number, x: number, y: number, z: number, out: number): void {
    movePoint(this.h, out, this.mechanism.placements, PLACEMENT * body, x, y, z);
  }

  /** Weight and loads on bodies as external wrenches. */
  private loadPass(): void {
    const m = this.mechanism;
    const E = this.external;
    E.fill(0);
    const [gx, gy, gz] = this.gravity;
    for (let b = 1; b < m.bodies; b++) {
      const w = this.masses.mass[b];
      if (w === 0) continue;
      const k = 3 * b,
        t = PLACEMENT * b,
        T = m.placements;
      const x = this.masses.centre[k],
        y = this.masses.centre[k + 1],
        z = this.masses.centre[k + 2];
      if (this.record) {
        this.world(b, [x, y, z], 0);
        this.note('weight', '', b, [this.h[0], this.h[1], this.h[2]], [w * gx, w * gy, w * gz]);
      }
      this.push(
        E,
        b,
        T[t] * x + T[t + 1] * y + T[t + 2] * z + T[t + 3],
        T[t + 4] * x + T[t + 5] * y + T[t + 6] * z + T[t + 7],
        T[t + 8] * x + T[t + 9] * y + T[t + 10] * z + T[t + 11],
        w * gx,
        w * gy,
        w * gz,
      );
    }
    for (const load of this.bodyLoads) load.apply(this, this);
  }

  /** What a load puts on a body: a force at a point of the world. */
  force(load: Id, body: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void {
    this.push(this.external, body, px, py, pz, fx, fy, fz);
    if (this.record) this.note('load', load, body, [px, py, pz], [fx, fy, fz]);
  }
  /** What a load puts on a body: a couple. */
  couple(load: Id, body: number, mx: number, my: number, mz: number): void {
    const t = 6 * body;
    this.external[t] += mx;
    this.external[t + 1] += my;
    this.external[t + 2] += mz;
    if (this.record) this.note('load', load, body, this.originOf(body), [0, 0, 0], [mx, my, mz]);
  }
  get placements(): Float64Array {
    return this.mechanism.placements;
  }
  get q(): Float64Array {
    return this.mechanism.q;
  }

  private holdWeight(): number {
    return !this.fixedGrips && this.canHold.some((r) => this.holds[r]) ? 1e-5 : 1;
  }

  private fillColumns(): void {
    const nr = this.rows.length;
    for (let r = 0; r < nr; r++) {
      const val = this.columnValue[r];
      val.fill(0);
      const e = this.factor[r],
        { gain: g, ports } = this.rows[r];
      for (let k = 0; k < ports.length; k++) {
        const p = ports[k],
          f = e[k] * g[k];
        for (let x = 0; x < p.slot.length; x++) val[p.slot[x]] += f * p.value[x];
      }
    }
    // A freedom that something holds leans on its own holding only where nothing else can carry.
    const weight = this.holdWeight();
    for (let k = this.driven; k < this.inputs.length; k++) this.columnValue[this.unknowns - this.inputs.length + k][0] = weight;
    let u = nr,
      row = 0;
    for (const c of this.mechanism.closures) {
      for (let k = 0; k < c.rows; k++, u++, row++) {
        const col = this.columnOf[u],
          val = this.columnValue[u];
        for (let x = 0; x < col.length; x++) val[x] = this.mechanism.jacobianAt(row, col[x]);
      }
    }
  }

  /**
   * Forces at the mechanism's present pose, for the coordinate rates in `velocity` (and `acceleration` when inertia counts), both SI.
   * Losses depend on which side drives, so the pattern of driving sides is repeated until it stands, at most 24 times.
   */
  evaluate(options: { inertia?: boolean; losses?: boolean } = {}): ForceState {
    const { mechanism: m, state, rows } = this;
    const inertia = options.inertia ?? false,
      losses = options.losses ?? true;
    if (m.linear) m.updateAxes();
    else m.constraints();
    moveBodies(m, this.velocity, inertia ? this.acceleration : undefined, this);
    this.loadPass();
    if (inertia) inertialWrenches(m, this.masses, this, this.own);
    sumTowardsFrame(m, inertia ? this.own : undefined, this.external, this.wrench);
    for (let b = 1; b < m.bodies; b++) this.need[m.bodyCoordinate[b]] = alongFreedom(m, this.wrench, m.bodyCoordinate[b], b);
    for (const load of this.coordinateLoads) this.need[load.index] -= load.value(this);
    for (let i = 0; i < m.count; i++) this.need[i] -= this.given[i];
    // The last pattern is tried first: from frame to frame it seldom changes.
    if (!losses || !state.settled) for (const f of this.factor) f.fill(1);
    this.switchPass();
    state.settled = false;
    for (let turn = 0; turn < MOST_PATTERNS && !state.settled; turn++) {
      this.fillColumns();
      this.multipliers.solve(this.need, this.lambda, state);
      state.settled = !this.letGo() && (!losses || !this.updateLosses());
    }
    for (let r = 0; r < rows.length; r++) this.reportCoupling(r);
    for (let r = 0; r < rows.length; r++) if (state.couplings[r].strands.length) this.tensions(r);
    const firstInput = rows.length + m.closureRowCount;
    for (let k = 0; k < this.inputs.length; k++) state.input[k] = this.lambda[firstInput + k];
    const weight = this.holdWeight();
    if (weight !== 1) for (let k = this.driven; k < this.inputs.length; k++) state.input[k] *= weight;
    this.loadPower = 0;
    for (let i = 0; i < m.count; i++) this.loadPower -= (this.need[i] + this.given[i]) * this.velocity[i];
    return state;
  }

  /** Strand tensions: the rows' differences over the last strand, which carries what makes the mean the pre-tension and none negative. */
  private tensions(r: number): void {
    const { pretension, lengths } = this.rows[r].coupling.model.strands!;
    const out = this.state.couplings[r].strands;
    let mean = 0,
      least = 0,
      total = 0;
    for (let k = 0; k < out.length; k++) {
      const row = this.rows[r + k];
      const over =
        k < out.length - 1 && row.contacts[0].arm !== 0 ? this.state.couplings[r + k].port[0] / this.factor[r + k][0] / row.contacts[0].arm : 0;
      out[k] = over;
      mean += over * lengths[k];
      total += lengths[k];
      least = Math.min(least, over);
    }
    const last = Math.max(pretension - mean / total, -least);
    for (let k = 0; k < out.length; k++) out[k] += last;
  }

  /** Sets each coupling's loss factors from the side that drives now. True when any changed. */
  private updateLosses(): boolean {
    let changed = false;
    for (let r = 0; r < this.rows.length; r++) {
      const row = this.rows[r];
      if (row.forward === 1 && row.backward === 1) continue;
      const e = this.factor[r];
      const first = this.portPower(r, 0);
      let most = 0;
      for (let k = 0; k < row.ports.length; k++) most = Math.max(most, Math.abs(this.portPower(r, k)));
      const tiny = Math.abs(first) <= 1e-12 * most || most === 0;
      for (let k = 0; k < row.ports.length; k++) {
        // Power that the coupling takes from port k is negative there: that side drives and its force stands in full.
        const p = this.portPower(r, k);
        const want = tiny || p <= 0 ? 1 : k === 0 ? row.backward : row.forward;
        if (want !== e[k]) {
          e[k] = want;
          changed = true;
        }
      }
    }
    return changed;
  }

  /** Ideal power that coupling r gives to its port k, W. */
  private portPower(r: number, k: number): number {
    const p = this.rows[r].ports[k];
    let speed = 0;
    for (let x = 0; x < p.coordinate.length; x++) speed += p.value[x] * this.velocity[p.coordinate[x]];
    return speed * this.rows[r].gain[k] * this.lambda[r];
  }

  private reportCoupling(r: number): void {
    const row = this.rows[r],
      out = this.state.couplings[r],
      e = this.factor[r],
      l = this.lambda[r];
    out.loss = 0;
    out.driving = -1;
    for (let k = 0; k < row.ports.length; k++) {
      const p = row.ports[k],
        g = row.gain[k];
      out.port[k] = p.share * l * e[k] * g;
      let v = 0;
      for (let x = 0; x < p.coordinate.length; x++) v += p.value[x] * this.velocity[p.coordinate[x]];
      out.speed[k] = p.share === 0 ? 0 : v / p.share;
      out.loss -= v * l * e[k] * g;
      if (v * l * g < 0) out.driving = k;
    }
    out.tangential = out.radial = out.axial = 0;
    if (row.curve) {
      const push = row.curve.curve.contact(row.curve.x(this.mechanism.q)).push;
      out.tangential = row.curve.on ? l * (row.curve.curve.pushes || 1) * Math.hypot(...push) : 0;
      return;
    }
    const contact = row.contacts[0];
    if (contact && contact.arm !== 0) {
      if (contact.alongB) {
        out.tangential = out.port[contact.a] / contact.arm;
        out.axial = contact.armB !== 0 ? out.port[contact.b] / contact.armB : 0;
        out.radial = Math.abs(out.axial) * contact.wide;
      } else {
        const f = out.port[contact.a] / e[contact.a] / contact.arm;
        out.tangential = f;
        out.radial = Math.abs(f) * contact.wide;
        out.axial = f * dot(contact.along, row.ports[contact.a].axis);
      }
    }
  }

  /**
   * Reactions at all joints after evaluate(): force and moment about the joint's point that the parent side exerts on the child side,
   * six numbers per coordinate in the world. For a joint of several freedoms the first coordinate's entry is the joint's reaction.
   */
  reactions(inertia = false): Float64Array {
    const m = this.mechanism,
      E = this.external,
      h = this.h;
    this.loadPass();
    for (let r = 0; r < this.rows.length; r++) this.rowWrenches(r);
    for (const load of this.coordinateLoads) {
      const { id, index, body, parent, slide } = load;
      const v = load.value(this),
        k = 3 * index;
      const x = m.axisNow[k] * v,
        y = m.axisNow[k + 1] * v,
        z = m.axisNow[k + 2] * v;
      if (!slide) {
        this.pair(E, 'load', id, body, parent, x, y, z);
        continue;
      }
      h[0] = m.pointNow[k];
      h[1] = m.pointNow[k + 1];
      h[2] = m.pointNow[k + 2];
      h[3] = x;
      h[4] = y;
      h[5] = z;
      this.pushHere(E, 'load', id, body, parent);
    }
    this.closureWrenches();
    sumTowardsFrame(m, inertia ? this.own : undefined, this.external, this.wrench);
    const R = this.state.reaction;
    for (let b = 1; b < m.bodies; b++) {
      const i = m.bodyCoordinate[b],
        t = 6 * b,
        k = 3 * i,
        W = this.wrench,
        o = m.pointNow;
      for (let x = 0; x < 3; x++) R[6 * i + x] = W[t + 3 + x];
      R[6 * i + 3] = W[t] - (o[k + 1] * W[t + 5] - o[k + 2] * W[t + 4]);
      R[6 * i + 4] = W[t + 1] - (o[k + 2] * W[t + 3] - o[k] * W[t + 5]);
      R[6 * i + 5] = W[t + 2] - (o[k] * W[t + 4] - o[k + 1] * W[t + 3]);
    }
    return R;
  }

  /** The force at the point in `h` (six numbers) on one body, and back on another. */
  private pushHere(E: Float64Array, kind: Wrench['kind'], id: Id, body: number, other: number): void {
    const h = this.h;
    this.push(E, body, h[0], h[1], h[2], h[3], h[4], h[5]);
    this.push(E, other, h[0], h[1], h[2], -h[3], -h[4], -h[5]);
    this.noteHere(kind, id, body, 1);
    this.noteHere(kind, id, other, -1);
  }

  /** What one coupling row puts on its bodies: forces at its contacts, and what it loses as couples. */
  private rowWrenches(r: number): void {
    const m = this.mechanism,
      E = this.external,
      h = this.h,
      row = this.rows[r],
      f = this.state.couplings[r],
      e = this.factor[r],
      id = row.coupling.coupling.id;
    let atContact = false;
    if (row.curve?.on) {
      const { point, push } = row.curve.curve.contact(row.curve.x(m.q));
      const l = this.lambda[r],
        carrier = row.ports[1].carrier;
      this.worldAt(carrier, point[0] * MM, point[1] * MM, point[2] * MM, 0);
      moveVector(h, 3, m.placements, PLACEMENT * carrier, push[0] * l, push[1] * l, push[2] * l);
      this.pushHere(E, 'coupling', id, row.ports[1].body, row.ports[0].body);
      atContact = true;
    }
    for (const c of row.contacts) {
      if (c.arm === 0 || c.armB === 0) continue;
      atContact = true;
      this.world(c.carrier, c.point, 0);
      const full = f.port[c.a],
        ideal = e[c.a] !== 0 ? full / e[c.a] : 0;
      const b = c.alongB;
      const F = (b ? full : ideal) / c.arm,
        G = b ? f.port[c.b] / c.armB : 0;
      const size = Math.abs(b ? G : F);
      moveVector(
        h,
        3,
        m.placements,
        PLACEMENT * c.carrier,
        F * c.along[0] + size * c.spread[0] - (b ? G * b[0] : 0),
        F * c.along[1] + size * c.spread[1] - (b ? G * b[1] : 0),
        F * c.along[2] + size * c.spread[2] - (b ? G * b[2] : 0),
      );
      this.pushHere(E, 'coupling', id, c.body, c.other);
    }
    if (f.strands.length) {
      const last = f.strands[f.strands.length - 1];
      for (const t of row.coupling.model.strands!.pulls) {
        const carrier = m.compiled.structure.bodyOf.get(t.carrier)!,
          body = m.compiled.structure.bodyOf.get(t.member)!;
        this.worldAt(carrier, t.point[0] * MM, t.point[1] * MM, t.point[2] * MM, 0);
        moveVector(h, 3, m.placements, PLACEMENT * carrier, last * t.force[0], last * t.force[1], last * t.force[2]);
        this.push(E, body, h[0], h[1], h[2], h[3], h[4], h[5]);
        this.noteHere('coupling', id, body, 1);
      }
    }
    const frictional = row.contacts.length > 0 && row.contacts[0].alongB !== undefined;
    for (let k = 0; k < row.ports.length; k++) {
      const p = row.ports[k];
      const ideal = e[k] !== 0 ? f.port[k] / e[k] : 0;
      const whole = atContact ? (frictional ? 0 : f.port[k] - ideal) : f.port[k];
      if (whole === 0) continue;
      moveVector(h, 3, m.placements, PLACEMENT * p.carrier, p.axis[0] * whole, p.axis[1] * whole, p.axis[2] * whole);
      if (p.slide) {
        this.world(p.carrier, p.point, 0);
        this.pushHere(E, 'coupling', id, p.body, p.carrier);
      } else this.pair(E, 'coupling', id, p.body, p.carrier, h[3], h[4], h[5]);
    }
  }

  /** A couple on one body, and back on another. N·m */
  private pair(E: Float64Array, kind: Wrench['kind'], id: Id, body: number, other: number, x: number, y: number, z: number): void {
    const b = 6 * body,
      o = 6 * other;
    E[b] += x;
    E[b + 1] += y;
    E[b + 2] += z;
    E[o] -= x;
    E[o + 1] -= y;
    E[o + 2] -= z;
    if (!this.record) return;
    this.note(kind, id, body, this.originOf(body), [0, 0, 0], [x, y, z]);
    this.note(kind, id, other, this.originOf(other), [0, 0, 0], [-x, -y, -z]);
  }

  /** A point that goes with a body, for couples, m. */
  private originOf(body: number): Vec3 {
    const i = this.mechanism.bodyCoordinate[body];
    if (i < 0) return [0, 0, 0];
    const o = this.mechanism.pointNow;
    return [o[3 * i], o[3 * i + 1], o[3 * i + 2]];
  }

  /**
   * Every force and couple on every body after evaluate() and with the same `inertia`: those of joints (split from what the source gives on the
   * joint's own freedom), couplings, loads, weight, and inertia as what the body resists with. On each body they add up to nothing.
   */
  wrenches(inertia = false): Wrench[] {
    const out: Wrench[] = (this.record = []);
    try {
      this.reactions(inertia);
    } finally {
      this.record = undefined;
    }
    const m = this.mechanism,
      R = this.state.reaction;
    for (let b = 1; b < m.bodies; b++) {
      const i = m.bodyCoordinate[b],
        parent = m.parentOf[b],
        k = 3 * i;
      const p: Vec3 = [m.pointNow[k], m.pointNow[k + 1], m.pointNow[k + 2]];
      const force: Vec3 = [R[6 * i], R[6 * i + 1], R[6 * i + 2]],
        moment: Vec3 = [R[6 * i + 3], R[6 * i + 4], R[6 * i + 5]];
      const id = m.compiled.structure.coordinates[i].joint.id;
      const slot = this.inputs.indexOf(i);
      let f = force,
        t = moment;
      if (slot >= 0 || this.given[i] !== 0) {
        const v = ((slot >= 0 ? this.state.input[slot] : 0) + this.given[i]) * m.sign[i];
        const a: Vec3 = [m.axisNow[k] * v * m.sign[i], m.axisNow[k + 1] * v * m.sign[i], m.axisNow[k + 2] * v * m.sign[i]];
        const own: [Vec3, Vec3] = m.motion[i] === 1 ? [a, [0, 0, 0]] : [[0, 0, 0], a];
        out.push({ kind: 'source', id, body: b, point: p, force: own[0], moment: own[1] });
        out.push({ kind: 'source', id, body: parent, point: p, force: vsub([0, 0, 0], own[0]), moment: vsub([0, 0, 0], own[1]) });
        f = vsub(force, own[0]);
        t = vsub(moment, own[1]);
      }
      out.push({ kind: 'joint', id, body: b, point: p, force: f, moment: t });
      out.push({ kind: 'joint', id, body: parent, point: p, force: vsub([0, 0, 0], f), moment: vsub([0, 0, 0], t) });
    }
    if (inertia) {
      for (let b = 1; b < m.bodies; b++) {
        if (this.masses.mass[b] === 0) continue;
        // The wrench that the body's own motion needs, taken at its centre of mass.
        const n = this.own.subarray(6 * b, 6 * b + 6);
        this.world(b, [this.masses.centre[3 * b], this.masses.centre[3 * b + 1], this.masses.centre[3 * b + 2]], 0);
        const c: Vec3 = [this.h[0], this.h[1], this.h[2]],
          f: Vec3 = [-n[3], -n[4], -n[5]];
        out.push({ kind: 'inertia', id: '', body: b, point: c, force: f, moment: vsub([-n[0], -n[1], -n[2]], cross(c, f)) });
      }
    }
    return out;
  }

  /** Kinetic energy for the rates in `velocity`, J. */
  kinetic(): number {
    const m = this.mechanism;
    if (m.linear) m.updateAxes();
    else m.constraints();
    moveBodies(m, this.velocity, undefined, this);
    return kineticEnergy(m, this.masses, this);
  }

  private closureWrenches(): void {
    const m = this.mechanism,
      E = this.external,
      h = this.h;
    let u = this.rows.length;
    for (const c of m.closures) {
      this.worldAt(c.reached, c.px, c.py, c.pz, 0);
      const np = c.position.length / 3,
        nr = c.rotation.length / 3;
      for (let k = 0; k < np; k++, u++) {
        moveVector(h, 3, m.placements, PLACEMENT * c.root, c.position[3 * k], c.position[3 * k + 1], c.position[3 * k + 2]);
        const f = this.lambda[u];
        this.push(E, c.reached, h[0], h[1], h[2], h[3] * f, h[4] * f, h[5] * f);
        this.push(E, c.child, h[0], h[1], h[2], -h[3] * f, -h[4] * f, -h[5] * f);
        this.noteHere('joint', c.joint, c.reached, f);
        this.noteHere('joint', c.joint, c.child, -f);
      }
      for (let k = 0; k < nr; k++, u++) {
        moveVector(h, 3, m.placements, PLACEMENT * c.root, c.rotation[3 * k], c.rotation[3 * k + 1], c.rotation[3 * k + 2]);
        const f = this.lambda[u] * ARM;
        this.pair(E, 'joint', c.joint, c.reached, c.child, h[3] * f, h[4] * f, h[5] * f);
      }
    }
  }
}
