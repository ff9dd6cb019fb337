import type { Id } from '../fields/types';
import { piToNumber } from '../exact/index';
import { LeastSquares, PLACEMENT, moveVector, setIdentity, slideAlong, turnAbout } from '../numeric/index';
import { Compiled } from './compile';
import { coefficient } from './eliminate';
import type { Port } from '../couplings/index';
import { CurveRow, OneWayRow, Reach } from './switches';
import { Coordinate, leadInMetresPerRad } from './structure';

const TURN = 2 * Math.PI;
const MM = 1e-3;
/** Size that a rotation error is weighed with against a position error, m per rad. */
export const ARM = 0.1;
/** Newton steps of full length, and shortened ones on the way of a long move, before a pose counts as unreachable. */
const MOST_STEPS = 40;
const MOST_SHORT_STEPS = 4000;

/** How a pose came out. */
export type PoseState = 'ok' | 'unreachable' | 'dead-point';

interface ClosureRows {
  joint: Id;
  reached: number;
  child: number;
  /** Body that carries the whole loop: directions of the rows stand still in it. */
  root: number;
  /** Point in the reference position, m. */
  px: number;
  py: number;
  pz: number;
  /** Row directions in the reference position: position rows first, then rotation rows; three numbers each. */
  position: Float64Array;
  rotation: Float64Array;
  rows: number;
}

/**
 * A compiled design on flat arrays in SI units (m, rad). Coordinates `q` are the state and are never wrapped; `u` are the free
 * coordinates that the exact elimination left; `placements` are the bodies' placements, twelve numbers each, relative to the reference position.
 * The pose methods do not allocate.
 */
export class Mechanism {
  readonly count: number;
  readonly bodies: number;
  readonly freeCount: number;
  readonly q: Float64Array;
  readonly u: Float64Array;
  readonly placements: Float64Array;
  /** SI units for one exact unit of each coordinate: rad per turn, or m per mm. */
  readonly scale: Float64Array;
  readonly parentOf: Int32Array;
  readonly bodyCoordinate: Int32Array;
  /** World axis and point of every coordinate at the present pose (after updateAxes). */
  readonly axisNow: Float64Array;
  readonly pointNow: Float64Array;
  readonly lead: Float64Array;
  readonly motion: Uint8Array;
  readonly sign: Float64Array;
  readonly closures: ClosureRows[];
  readonly closureRowCount: number;
  /** True where every coordinate follows linearly: no closures, no mixed rows. */
  readonly linear: boolean;
  private readonly axis: Float64Array;
  private readonly point: Float64Array;
  private readonly start: Int32Array;
  private readonly column: Int32Array;
  private readonly value: Float64Array;
  private readonly constant: Float64Array;
  private readonly mixed: { start: number; coordinate: Int32Array; value: Float64Array }[] = [];
  /** Cams: rows whose gradient changes with the pose. */
  readonly curves: CurveRow[] = [];
  /** Pawls and one-way clutches: rows that hold or let go. */
  readonly oneWays: OneWayRow[] = [];
  /** Constraint row of each coupling row that is not eliminated, or −1. */
  readonly constraintOf: Int32Array;
  /** Coordinates in loops and cams: only their steps are bounded. */
  private readonly bending: Int32Array;
  private readonly solver: LeastSquares;
  private readonly jacobian: Float64Array;
  private readonly residuals: Float64Array;
  private readonly before: Float64Array;
  private readonly start0: Float64Array;
  private readonly solverTargets: number;
  readonly freeColumn: Int32Array;
  /** Steady speed of each source, rev/min or mm/s: as stated, or the working point where one was found. */
  readonly sourceSpeed: Float64Array;
  private readonly rateStore: Float64Array;
  lastResidual = 0;
  /** Sign of the solver's determinant at the last pose reached, 0 where the system is not square: it turns round with a change of branch. */
  branch = 0;

  constructor(readonly compiled: Compiled) {
    const { structure, reduction, rows } = compiled;
    const n = (this.count = structure.coordinates.length);
    this.bodies = structure.bodies;
    this.scale = new Float64Array(n);
    this.lead = new Float64Array(n);
    this.motion = new Uint8Array(n);
    this.sign = new Float64Array(n);
    this.axis = new Float64Array(3 * n);
    this.point = new Float64Array(3 * n);
    this.axisNow = new Float64Array(3 * n);
    this.pointNow = new Float64Array(3 * n);
    this.parentOf = new Int32Array(this.bodies);
    this.bodyCoordinate = new Int32Array(this.bodies).fill(-1);
    structure.coordinates.forEach((c: Coordinate, i) => {
      this.scale[i] = c.motion === 'slide' ? MM : TURN;
      this.motion[i] = c.motion === 'turn' ? 0 : c.motion === 'slide' ? 1 : 2;
      this.lead[i] = leadInMetresPerRad(c);
      this.sign[i] = c.sign;
      for (let k = 0; k < 3; k++) {
        this.axis[3 * i + k] = c.axis[k] * c.sign;
        this.point[3 * i + k] = c.point[k] * MM;
      }
      this.parentOf[c.body] = c.parent;
      this.bodyCoordinate[c.body] = i;
    });
    this.q = new Float64Array(n);
    this.rateStore = new Float64Array(n);
    this.sourceSpeed = Float64Array.from(compiled.sources, ({ source }) => source.speed ?? (source.noLoad as number | undefined) ?? 0);
    this.placements = new Float64Array(PLACEMENT * this.bodies);
    for (let b = 0; b < this.bodies; b++) setIdentity(this.placements, PLACEMENT * b);

    const movable = reduction.free.filter((f) => f < n);
    this.freeCount = movable.length;
    this.u = new Float64Array(this.freeCount);
    this.freeColumn = new Int32Array(n).fill(-1);
    movable.forEach((f, k) => (this.freeColumn[f] = k));
    this.start = new Int32Array(n + 1);
    this.constant = new Float64Array(n);
    const columns: number[] = [],
      values: number[] = [];
    for (let i = 0; i < n; i++) {
      for (const j of reduction.sums[i].keys()) {
        const c = coefficient(reduction, i, j) * this.scale[i];
        if (j >= n) this.constant[i] += c;
        else {
          columns.push(this.freeColumn[j]);
          values.push(c / this.scale[j]);
        }
      }
      this.start[i + 1] = columns.length;
    }
    this.column = Int32Array.from(columns);
    this.value = Float64Array.from(values);

    let row = 0;
    this.closures = structure.closures.map((cl) => {
      const rowsOf = this.loopRows(cl.reached, cl.child);
      const made: ClosureRows = {
        joint: cl.joint.id,
        reached: cl.reached,
        child: cl.child,
        root: rowsOf.root,
        px: cl.frame.o[0] * MM,
        py: cl.frame.o[1] * MM,
        pz: cl.frame.o[2] * MM,
        position: rowsOf.position,
        rotation: rowsOf.rotation,
        rows: (rowsOf.position.length + rowsOf.rotation.length) / 3,
      };
      row += made.rows;
      return made;
    });
    this.closureRowCount = row;
    for (const k of reduction.mixed) {
      const t = rows[k].terms;
      this.mixed.push({
        start: row++,
        coordinate: Int32Array.from(t, (x) => x.coordinate),
        value: Float64Array.from(t, (x) => piToNumber(x.coefficient) / this.scale[x.coordinate]),
      });
    }
    this.constraintOf = new Int32Array(rows.length).fill(-1);
    reduction.mixed.forEach((k, i) => (this.constraintOf[k] = this.mixed[i].start));
    compiled.couplings.forEach(({ coupling, model }, k) => {
      if (model.curve) {
        this.curves.push(new CurveRow(row, k, coupling.id, model.curve, this.reach(model.ports[0]), this.reach(model.ports[1])));
      } else if (model.oneWay) {
        this.oneWays.push(new OneWayRow(row, k, coupling.id, model.oneWay, this.reach(model.ports[0])));
      } else return;
      this.constraintOf[k] = row++;
    });
    this.linear = row === 0;
    const bending = new Set<number>();
    for (const c of this.closures) {
      for (const end of [c.reached, c.child]) for (let b = end; b !== c.root; b = this.parentOf[b]) bending.add(this.bodyCoordinate[b]);
    }
    for (const c of this.curves) for (const i of [...c.a.coordinate, ...c.b.coordinate]) bending.add(i);
    this.bending = Int32Array.from(bending);
    this.solverTargets = compiled.sources.length + 16;
    this.solver = new LeastSquares(row + this.solverTargets, Math.max(1, this.freeCount));
    this.jacobian = new Float64Array(Math.max(1, row * n));
    this.residuals = new Float64Array(Math.max(1, row));
    this.before = new Float64Array(this.freeCount);
    this.start0 = new Float64Array(this.freeCount);
    this.spread();
    this.place();
    for (const w of this.oneWays) w.reset(this.q);
  }

  /** A port's motion (SI) as a sum over coordinates. */
  private reach(p: Port): Reach {
    const unit = p.motion === 'slide' ? MM : TURN;
    const k = piToNumber(p.coefficient) * unit;
    return {
      coordinate: Int32Array.from(p.terms, (t) => t.coordinate),
      value: Float64Array.from(p.terms, (t) => (k * piToNumber(t.factor)) / this.scale[t.coordinate]),
    };
  }

  get constraintRows(): number {
    return this.residuals.length * (this.linear ? 0 : 1);
  }

  /** Which rows a loop needs: three where everything turns about one direction and slides across it, else six. */
  private loopRows(reached: number, child: number): { root: number; position: Float64Array; rotation: Float64Array } {
    const above = new Set<number>([0]);
    for (let b = reached; b; b = this.parentOf[b]) above.add(b);
    let root = child;
    while (!above.has(root)) root = this.parentOf[root];
    const loop: number[] = [];
    for (const end of [reached, child]) for (let b = end; b !== root; b = this.parentOf[b]) loop.push(this.bodyCoordinate[b]);
    const turning = loop.find((i) => this.motion[i] !== 1);
    const all = Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
    if (turning === undefined) return { root, position: all, rotation: new Float64Array(0) };
    const a = this.axis,
      t = 3 * turning;
    const nx = a[t],
      ny = a[t + 1],
      nz = a[t + 2];
    const planar = loop.every((i) => {
      const k = 3 * i;
      const along = a[k] * nx + a[k + 1] * ny + a[k + 2] * nz;
      return this.motion[i] === 0 ? Math.abs(Math.abs(along) - 1) < 1e-12 : this.motion[i] === 1 && Math.abs(along) < 1e-12;
    });
    if (!planar) return { root, position: all, rotation: all };
    const ux = Math.abs(nx) < 0.7 ? [0, nz, -ny] : [-nz, 0, nx];
    const len = Math.hypot(ux[0], ux[1], ux[2]);
    const u = ux.map((v) => v / len);
    const v = [ny * u[2] - nz * u[1], nz * u[0] - nx * u[2], nx * u[1] - ny * u[0]];
    return { root, position: Float64Array.of(...u, ...v), rotation: Float64Array.of(nx, ny, nz) };
  }

  /** q from u by the exact elimination. */
  spread(): void {
    const { q, u, start, column, value, constant } = this;
    for (let i = 0; i < q.length; i++) {
      let s = constant[i];
      for (let k = start[i]; k < start[i + 1]; k++) s += value[k] * u[column[k]];
      q[i] = s;
    }
  }

  /** Rates of all coordinates from rates of the free ones (velocities, or any other variation). */
  spreadRates(rates: Float64Array, out: Float64Array): void {
    const { start, column, value } = this;
    for (let i = 0; i < this.count; i++) {
      let s = 0;
      for (let k = start[i]; k < start[i + 1]; k++) s += value[k] * rates[column[k]];
      out[i] = s;
    }
  }

  /** The coordinates that move when the free ones move at the given rates, with their rates: of a large design most freedoms move little. */
  moved(rates: Float64Array): Map<number, number> {
    this.byFree ??= this.columnsOfFree();
    const out = new Map<number, number>();
    for (let j = 0; j < this.freeCount; j++) {
      if (rates[j] === 0) continue;
      const { coordinate, value } = this.byFree[j];
      for (let k = 0; k < coordinate.length; k++) out.set(coordinate[k], (out.get(coordinate[k]) ?? 0) + value[k] * rates[j]);
    }
    return out;
  }

  private byFree?: { coordinate: number[]; value: number[] }[];
  private columnsOfFree(): { coordinate: number[]; value: number[] }[] {
    const columns = Array.from({ length: this.freeCount }, () => ({ coordinate: [] as number[], value: [] as number[] }));
    for (let i = 0; i < this.count; i++) {
      for (let k = this.start[i]; k < this.start[i + 1]; k++) {
        columns[this.column[k]].coordinate.push(i);
        columns[this.column[k]].value.push(this.value[k]);
      }
    }
    return columns;
  }

  /** Gathers per-coordinate values onto the free coordinates: Sᵀ v. */
  gather(v: Float64Array, out: Float64Array): void {
    out.fill(0);
    const { start, column, value } = this;
    for (let i = 0; i < this.count; i++) for (let k = start[i]; k < start[i + 1]; k++) out[column[k]] += value[k] * v[i];
  }

  /** How coordinate i follows free coordinate number `col` (SI). */
  influence(i: number, col: number): number {
    for (let k = this.start[i]; k < this.start[i + 1]; k++) if (this.column[k] === col) return this.value[k];
    return 0;
  }

  /** Placements of all bodies from q. */
  place(): void {
    this.stale = true;
    this.factoredFor = undefined;
    const { q, axis, point, placements: t, parentOf, bodyCoordinate, motion, lead } = this;
    for (let b = 1; b < this.bodies; b++) {
      const i = bodyCoordinate[b];
      const k = 3 * i;
      const m = motion[i];
      const p = parentOf[b];
      if (m === 1) slideAlong(t, PLACEMENT * b, t, PLACEMENT * p, axis[k], axis[k + 1], axis[k + 2], q[i]);
      else {
        const travel = m === 2 ? lead[i] * q[i] : 0;
        turnAbout(t, PLACEMENT * b, p ? PLACEMENT * p : -1, axis[k], axis[k + 1], axis[k + 2], point[k], point[k + 1], point[k + 2], q[i], travel);
      }
    }
  }

  /** World axes and points of all coordinates at the present pose. */
  updateAxes(): void {
    const { axis, point, axisNow, pointNow, placements: t, parentOf } = this;
    for (let b = 1; b < this.bodies; b++) {
      const i = this.bodyCoordinate[b];
      const k = 3 * i;
      const p = PLACEMENT * parentOf[b];
      moveVector(axisNow, k, t, p, axis[k], axis[k + 1], axis[k + 2]);
      for (let r = 0; r < 3; r++) {
        pointNow[k + r] = t[p + 4 * r] * point[k] + t[p + 4 * r + 1] * point[k + 1] + t[p + 4 * r + 2] * point[k + 2] + t[p + 4 * r + 3];
      }
    }
  }

  /** Adds the rows of one closure for one chain of bodies, with sign, into the jacobian over q. */
  private addChain(row: number, c: ClosureRows, end: number, s: number, x: number, y: number, z: number, dirs: Float64Array): void {
    const { axisNow: a, pointNow: o, jacobian: J, count: n } = this;
    const np = c.position.length / 3;
    const nr = c.rotation.length / 3;
    for (let b = end; b !== c.root; b = this.parentOf[b]) {
      const i = this.bodyCoordinate[b];
      const k = 3 * i;
      const ax = a[k],
        ay = a[k + 1],
        az = a[k + 2];
      let vx = 0,
        vy = 0,
        vz = 0;
      const m = this.motion[i];
      if (m !== 1) {
        const dx = x - o[k],
          dy = y - o[k + 1],
          dz = z - o[k + 2];
        vx = ay * dz - az * dy;
        vy = az * dx - ax * dz;
        vz = ax * dy - ay * dx;
      }
      if (m !== 0) {
        const l = m === 1 ? 1 : this.lead[i];
        vx += ax * l;
        vy += ay * l;
        vz += az * l;
      }
      for (let r = 0; r < np; r++) J[(row + r) * n + i] += s * (dirs[3 * r] * vx + dirs[3 * r + 1] * vy + dirs[3 * r + 2] * vz);
      if (m !== 1) {
        for (let r = 0; r < nr; r++) {
          const d = 3 * (np + r);
          J[(row + np + r) * n + i] += s * ARM * (dirs[d] * ax + dirs[d + 1] * ay + dirs[d + 2] * az);
        }
      }
    }
  }

  /** Set by every change of pose: axes and constraint rows are worked out once for each. */
  private stale = true;
  /** The coordinates for which the solver holds a factorisation at this pose. */
  private factoredFor?: ArrayLike<number>;
  private readonly dirs = new Float64Array(18);
  private readonly tip = new Float64Array(6);

  /** Residuals and jacobian over q of closures and mixed rows at the present placements; J is rows × count. */
  constraints(): Float64Array {
    if (!this.stale) return this.residuals;
    this.stale = false;
    const { jacobian: J, residuals: r, placements: t, dirs, tip } = this;
    J.fill(0);
    this.updateAxes();
    let row = 0;
    for (const c of this.closures) {
      const np = c.position.length,
        nr = c.rotation.length;
      for (let k = 0; k < np; k += 3) moveVector(dirs, k, t, PLACEMENT * c.root, c.position[k], c.position[k + 1], c.position[k + 2]);
      for (let k = 0; k < nr; k += 3) moveVector(dirs, np + k, t, PLACEMENT * c.root, c.rotation[k], c.rotation[k + 1], c.rotation[k + 2]);
      const A = PLACEMENT * c.reached,
        B = PLACEMENT * c.child;
      for (let k = 0; k < 3; k++) {
        tip[k] = t[A + 4 * k] * c.px + t[A + 4 * k + 1] * c.py + t[A + 4 * k + 2] * c.pz + t[A + 4 * k + 3];
        tip[3 + k] = t[B + 4 * k] * c.px + t[B + 4 * k + 1] * c.py + t[B + 4 * k + 2] * c.pz + t[B + 4 * k + 3];
      }
      // Half the sum of cross products of matching axes: the rotation error, sin of the angle about its axis.
      let ex = 0,
        ey = 0,
        ez = 0;
      for (let k = 0; k < 3; k++) {
        const bx = t[B + k],
          by = t[B + 4 + k],
          bz = t[B + 8 + k],
          ax = t[A + k],
          ay = t[A + 4 + k],
          az = t[A + 8 + k];
        ex += 0.5 * (by * az - bz * ay);
        ey += 0.5 * (bz * ax - bx * az);
        ez += 0.5 * (bx * ay - by * ax);
      }
      for (let k = 0; k < np / 3; k++) {
        r[row + k] = dirs[3 * k] * (tip[0] - tip[3]) + dirs[3 * k + 1] * (tip[1] - tip[4]) + dirs[3 * k + 2] * (tip[2] - tip[5]);
      }
      for (let k = 0; k < nr / 3; k++) r[row + np / 3 + k] = ARM * (dirs[np + 3 * k] * ex + dirs[np + 3 * k + 1] * ey + dirs[np + 3 * k + 2] * ez);
      const mx = (tip[0] + tip[3]) / 2,
        my = (tip[1] + tip[4]) / 2,
        mz = (tip[2] + tip[5]) / 2;
      this.addChain(row, c, c.reached, 1, mx, my, mz, dirs);
      this.addChain(row, c, c.child, -1, mx, my, mz, dirs);
      row += c.rows;
    }
    for (const m of this.mixed) {
      let s = 0;
      for (let k = 0; k < m.coordinate.length; k++) {
        s += m.value[k] * this.q[m.coordinate[k]];
        J[m.start * this.count + m.coordinate[k]] += m.value[k];
      }
      r[m.start] = s;
    }
    for (const c of this.curves) c.write(this.q, J, this.count, r);
    for (const w of this.oneWays) w.write(this.q, J, this.count, r);
    return r;
  }

  /** Remembers how far every one-way coupling has come, at the present pose. Called once a movement stands. */
  latch(): void {
    for (const w of this.oneWays) w.latch(this.q);
  }

  /** Limits of all one-way couplings, and setting them again: for trials that are taken back. */
  latches(): Float64Array {
    return Float64Array.from(this.oneWays, (w) => w.limit);
  }
  setLatches(limits: ArrayLike<number>): void {
    this.oneWays.forEach((w, k) => (w.limit = limits[k]));
  }

  /** The one-way couplings that held in the last solve() or rates(). */
  get gripping(): Id[] {
    return this.oneWays.filter((w) => w.on).map((w) => w.coupling);
  }

  /** Newton steps that callers allow altogether; a pose counts as unreachable once they are used up. */
  iterationsLeft = Infinity;

  /** One-way couplings hold or not as they are told, instead of being found with each pose: for integration in time. */
  gripsStand = false;

  /** Lets one-way couplings go, or makes the given one hold. */
  grip(w: OneWayRow | undefined): void {
    if (w) w.on = true;
    else for (const x of this.oneWays) x.on = false;
    this.stale = true;
    this.factoredFor = undefined;
  }

  /** Row `row` of the last jacobian over coordinate i. */
  jacobianAt(row: number, i: number): number {
    return this.jacobian[row * this.count + i];
  }

  /**
   * Moves to the pose in which the given coordinates have the given values (SI), staying as near as possible to the present pose in
   * everything else. For pure trains one step is exact. Steps are bounded, so the pose stays on its branch; the pose is left as it
   * was where it cannot be reached.
   */
  solve(coordinates: ArrayLike<number>, values: ArrayLike<number>, targets = coordinates.length): PoseState {
    if (!this.oneWays.length || this.gripsStand) return this.newton(coordinates, values, targets);
    this.start0.set(this.u);
    this.grip(undefined);
    let state = this.newton(coordinates, values, targets);
    // Every coupling that would be passed in the sense in which it holds is made to hold; each is added at most once.
    for (let guard = 0; guard < this.oneWays.length && state === 'ok'; guard++) {
      const passed = this.oneWays.find((w) => !w.on && !w.lifted && w.gap(this.q) < -1e-9);
      if (!passed) break;
      this.u.set(this.start0);
      this.spread();
      this.place();
      this.grip(passed);
      state = this.newton(coordinates, values, targets);
    }
    if (state !== 'ok') {
      this.u.set(this.start0);
      this.spread();
      this.place();
    }
    return state;
  }

  /** How far a step turns or shifts what the loops bend, rad: a shaft that only turns in a train may go any way at once. */
  private reachOf(x: Float64Array): number {
    let most = 0;
    for (let n = 0; n < this.bending.length; n++) {
      const i = this.bending[n];
      let d = 0;
      for (let e = this.start[i]; e < this.start[i + 1]; e++) d += this.value[e] * x[this.column[e]];
      most = Math.max(most, Math.abs(d) / (this.motion[i] === 1 ? ARM : 1));
    }
    return most;
  }

  private newton(coordinates: ArrayLike<number>, values: ArrayLike<number>, targets: number): PoseState {
    const { u, before, solver, freeCount: nf } = this;
    const nc = this.linear ? 0 : this.residuals.length;
    before.set(u);
    if (targets > this.solverTargets) throw new RangeError('too many coordinates to hold at once');
    let state: PoseState = 'unreachable';
    let short = 0;
    let lastWorst = Infinity;
    for (let step = 0; step < MOST_STEPS; step++) {
      if (this.iterationsLeft-- <= 0) break;
      if (nc) this.constraints();
      const rows = nc + targets;
      this.factoredFor = undefined;
      solver.begin(rows, nf);
      let worst = 0;
      for (let k = 0; k < nc; k++) {
        solver.b[k] = -this.residuals[k];
        worst = Math.max(worst, Math.abs(this.residuals[k]));
        for (let i = 0; i < this.count; i++) {
          const d = this.jacobian[k * this.count + i];
          if (d !== 0) for (let e = this.start[i]; e < this.start[i + 1]; e++) solver.a[this.column[e] * rows + k] += d * this.value[e];
        }
      }
      for (let k = 0; k < targets; k++) {
        const i = coordinates[k];
        // Rows weighed alike: a turn by its size in rad at the arm, a slide in m.
        const w = this.motion[i] === 1 ? 1 : ARM;
        const miss = values[k] - this.q[i];
        solver.b[nc + k] = w * miss;
        worst = Math.max(worst, Math.abs(miss) * w);
        for (let e = this.start[i]; e < this.start[i + 1]; e++) solver.a[this.column[e] * rows + nc + k] += w * this.value[e];
      }
      this.lastResidual = worst;
      if (worst < 1e-13 || (step > 0 && worst < 1e-11 && this.linear)) {
        state = 'ok';
        break;
      }
      const rank = solver.factor(1e-10);
      this.branch = solver.orientation;
      const stuck = solver.residual;
      const x = solver.solve();
      let size = 0;
      for (let j = 0; j < nf; j++) size = Math.max(size, Math.abs(x[j]));
      const reach = this.linear || size < 0.3 ? 0 : this.reachOf(x);
      const k = reach < 0.3 ? 1 : 0.3 / reach;
      if (k < 1 && short++ < MOST_SHORT_STEPS && worst < lastWorst) step--;
      lastWorst = k < 1 ? worst : Infinity;
      for (let j = 0; j < nf; j++) u[j] += k * x[j];
      this.spread();
      this.place();
      if (this.linear && stuck <= 1e-11 * (1 + worst)) {
        state = 'ok';
        break;
      }
      // Newton squares the error: after a step this small nothing is left to correct.
      if (k === 1 && size < 3e-8 && stuck < 1e-14) {
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
      this.spread();
      this.place();
    }
    return state;
  }

  /** Sets the free coordinates directly (a pure train's fastest path) and places the bodies. */
  setFree(u: ArrayLike<number>): void {
    for (let k = 0; k < this.freeCount; k++) this.u[k] = u[k];
    this.spread();
    this.place();
  }

  /** The velocities of the free coordinates when the given coordinates move at the given rates and constraints hold; least norm elsewhere. `constraintRight` states what the
   * constraint rows must come to instead of zero (accelerations). Gives what could not be met. */
  rates(coordinates: ArrayLike<number>, speeds: ArrayLike<number>, out: Float64Array, constraintRight?: ArrayLike<number>): number {
    if (!this.oneWays.length || this.gripsStand || constraintRight) return this.linearRates(coordinates, speeds, out, constraintRight);
    this.grip(undefined);
    let missed = this.linearRates(coordinates, speeds, out);
    for (let guard = 0; guard < this.oneWays.length; guard++) {
      this.spreadRates(out, this.rateStore);
      const passed = this.oneWays.find((w) => !w.on && !w.lifted && w.gap(this.q) < 1e-7 && w.speed(this.rateStore) < -1e-12);
      if (!passed) break;
      this.grip(passed);
      missed = this.linearRates(coordinates, speeds, out);
    }
    return missed;
  }

  private linearRates(coordinates: ArrayLike<number>, speeds: ArrayLike<number>, out: Float64Array, constraintRight?: ArrayLike<number>): number {
    const { solver, freeCount: nf } = this;
    const nc = this.linear ? 0 : this.residuals.length;
    if (nc) this.constraints();
    const rows = nc + coordinates.length;
    if (this.factoredFor === coordinates && solver.rank === nf) {
      for (let k = 0; k < nc; k++) solver.b[k] = constraintRight ? constraintRight[k] : 0;
      for (let k = 0; k < coordinates.length; k++) solver.b[nc + k] = (this.motion[coordinates[k]] === 1 ? 1 : ARM) * speeds[k];
      solver.again();
    } else {
      solver.begin(rows, nf);
      if (constraintRight) for (let k = 0; k < nc; k++) solver.b[k] = constraintRight[k];
      for (let k = 0; k < nc; k++) {
        for (let i = 0; i < this.count; i++) {
          const d = this.jacobian[k * this.count + i];
          if (d !== 0) for (let e = this.start[i]; e < this.start[i + 1]; e++) solver.a[this.column[e] * rows + k] += d * this.value[e];
        }
      }
      for (let k = 0; k < coordinates.length; k++) {
        const i = coordinates[k];
        const w = this.motion[i] === 1 ? 1 : ARM;
        solver.b[nc + k] = w * speeds[k];
        for (let e = this.start[i]; e < this.start[i + 1]; e++) solver.a[this.column[e] * rows + nc + k] += w * this.value[e];
      }
      solver.factor(1e-10);
      this.factoredFor = coordinates;
    }
    const missed = solver.residual;
    out.set(solver.solve().subarray(0, nf));
    return missed;
  }

  /** A basis of the motions that stay possible when the given coordinates are held, over the free coordinates. */
  freedoms(held: ArrayLike<number>): Float64Array[] {
    return this.freeCount === 0 ? [] : this.factoredWhile(held).nullSpace();
  }

  /** How many motions stay possible when nothing is held. */
  freedomCount(): number {
    return this.linear ? this.freeCount : this.freeCount - this.factoredWhile([]).rank;
  }

  /** The constraint rows at the present pose with the given coordinates held, triangular. */
  private factoredWhile(held: ArrayLike<number>): LeastSquares {
    const { freeCount: nf } = this;
    const nc = this.linear ? 0 : this.residuals.length;
    const solver = new LeastSquares(nc + held.length, Math.max(1, nf));
    if (nc) this.constraints();
    const rows = nc + held.length;
    solver.begin(rows, nf);
    for (let k = 0; k < nc; k++) {
      for (let i = 0; i < this.count; i++) {
        const d = this.jacobian[k * this.count + i];
        if (d !== 0) for (let e = this.start[i]; e < this.start[i + 1]; e++) solver.a[this.column[e] * rows + k] += d * this.value[e];
      }
    }
    for (let k = 0; k < held.length; k++) {
      for (let e = this.start[held[k]]; e < this.start[held[k] + 1]; e++) {
        solver.a[this.column[e] * rows + nc + k] += this.value[e] * (this.motion[held[k]] === 1 ? 1 : ARM);
      }
    }
    solver.factor(1e-9);
    return solver;
  }
}
