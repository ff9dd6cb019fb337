import type { Bearer } from '../couplings/index';
import type { Id } from '../fields/types';
import type { Pose } from '../kinematics/index';
import type { Receiver } from '../loads/index';
import { PLACEMENT, Vec3, movePoint, moveVector } from '../math/index';
import { type Unit, unitAlong } from './ends';
import { slidesAt } from '../kinematics/index';

/** One force or couple on a body, for a load sheet. N and N·m in the world, at a point in m. */
export interface Wrench {
  kind: 'joint' | 'source' | 'coupling' | 'load' | 'weight' | 'inertia';
  /** Of what gives it: of a source its joint's, which the one that leads may not have. */
  id: Id;
  source?: Id;
  body: number;
  point: Vec3;
  force: Vec3;
  moment: Vec3;
}

const unit: Unit = { point: [0, 0, 0], force: [0, 0, 0], moment: [0, 0, 0] };

/** The present point and vector of what is handed on: the passes run one after the other. */
const point = new Float64Array(3);
const vector = new Float64Array(3);

/**
 * Gathers what loads and couplings put on the bodies of a pose, as one
 * wrench a body; writes it down one by one where a load sheet is being made.
 */
export class External implements Receiver, Bearer {
  /** Moment about the world's origin, then force, per body. */
  readonly wrench: Float64Array;
  record: Wrench[] | undefined;
  /**
   * What acts along each coordinate between the two ends of its joint, beside
   * sources: what is told under a name of its own, and what is the joint's. N·m or N.
   */
  readonly told: Float64Array;
  readonly inner: Float64Array;

  constructor(private readonly pose: Pose) {
    const { bodies, count } = pose.kinematics;
    this.wrench = new Float64Array(6 * bodies);
    this.told = new Float64Array(count);
    this.inner = new Float64Array(count);
  }

  /** A force on a body at a point of the world. */
  at(kind: Wrench['kind'], id: Id, body: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void {
    const t = 6 * body,
      E = this.wrench;
    E[t] += py * fz - pz * fy;
    E[t + 1] += pz * fx - px * fz;
    E[t + 2] += px * fy - py * fx;
    E[t + 3] += fx;
    E[t + 4] += fy;
    E[t + 5] += fz;
    if (this.record) this.record.push({ kind, id, body, point: [px, py, pz], force: [fx, fy, fz], moment: [0, 0, 0] });
  }

  /** A couple on a body, in the world; where it acts counts for what is inside the body. */
  turn(kind: Wrench['kind'], id: Id, body: number, px: number, py: number, pz: number, mx: number, my: number, mz: number): void {
    const t = 6 * body;
    this.wrench[t] += mx;
    this.wrench[t + 1] += my;
    this.wrench[t + 2] += mz;
    if (this.record) this.record.push({ kind, id, body, point: [px, py, pz], force: [0, 0, 0], moment: [mx, my, mz] });
  }

  /** A force on one body, and back on another. */
  between(kind: Wrench['kind'], id: Id, body: number, other: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void {
    this.at(kind, id, body, px, py, pz, fx, fy, fz);
    this.at(kind, id, other, px, py, pz, -fx, -fy, -fz);
  }

  /** A couple on one body, and back on another. */
  turnBetween(
    kind: Wrench['kind'],
    id: Id,
    body: number,
    other: number,
    px: number,
    py: number,
    pz: number,
    mx: number,
    my: number,
    mz: number,
  ): void {
    this.turn(kind, id, body, px, py, pz, mx, my, mz);
    this.turn(kind, id, other, px, py, pz, -mx, -my, -mz);
  }

  force(load: Id, body: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void {
    this.at('load', load, body, px, py, pz, fx, fy, fz);
  }
  couple(load: Id, body: number, px: number, py: number, pz: number, mx: number, my: number, mz: number): void {
    this.turn('load', load, body, px, py, pz, mx, my, mz);
  }

  push(coupling: Id, carrier: number, body: number, other: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void {
    this.carry(carrier, px, py, pz, fx, fy, fz);
    this.between('coupling', coupling, body, other, point[0], point[1], point[2], vector[0], vector[1], vector[2]);
  }
  pull(coupling: Id, carrier: number, body: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void {
    this.carry(carrier, px, py, pz, fx, fy, fz);
    this.at('coupling', coupling, body, point[0], point[1], point[2], vector[0], vector[1], vector[2]);
  }
  pair(coupling: Id, carrier: number, body: number, other: number, px: number, py: number, pz: number, mx: number, my: number, mz: number): void {
    this.carry(carrier, px, py, pz, mx, my, mz);
    this.turnBetween('coupling', coupling, body, other, point[0], point[1], point[2], vector[0], vector[1], vector[2]);
  }

  cross(carrier: number, body: number, other: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void {
    this.carry(carrier, px, py, pz, fx, fy, fz);
    const record = this.silence();
    this.between('coupling', '', body, other, point[0], point[1], point[2], vector[0], vector[1], vector[2]);
    this.record = record;
  }
  crossPair(carrier: number, body: number, other: number, mx: number, my: number, mz: number): void {
    this.carry(carrier, 0, 0, 0, mx, my, mz);
    const record = this.silence();
    this.turnBetween('coupling', '', body, other, 0, 0, 0, vector[0], vector[1], vector[2]);
    this.record = record;
  }

  /**
   * As a wrench on the two bodies of the coordinate itself; told as one
   * between the two ends of its joint, at a place along the joint's axis, m.
   */
  alongCoordinate(kind: Wrench['kind'], id: Id, coordinate: number, size: number, inner: boolean, place = 0): void {
    if (size === 0) return;
    const k = this.pose.kinematics;
    const ends = k.ends[k.endOf[coordinate]];
    const body = k.compiled.structure.coordinates[coordinate].body;
    const parent = k.parentOf[body];
    (inner ? this.inner : this.told)[coordinate] += size;
    const { axisNow: a, pointNow: o } = this.pose;
    const c = 3 * coordinate;
    const [x, y, z] = [a[c] * size, a[c + 1] * size, a[c + 2] * size];
    const record = this.silence();
    if (slidesAt(k, coordinate)) this.between(kind, id, body, parent, o[c], o[c + 1], o[c + 2], x, y, z);
    else this.turnBetween(kind, id, body, parent, o[c], o[c + 1], o[c + 2], x, y, z);
    this.record = record;
    if (!record || inner) return;
    unitAlong(this.pose, coordinate, unit, place);
    for (const [on, s] of [
      [ends.child, size],
      [ends.parent, -size],
    ] as const) {
      record.push({ kind, id, body: on, point: [...unit.point], force: scaled(unit.force, s), moment: scaled(unit.moment, s) });
    }
  }
  along(coupling: Id, coordinate: number, size: number, inner: boolean): void {
    this.alongCoordinate('coupling', coupling, coordinate, size, inner);
  }

  /** Forgets what acted along coordinates. */
  begin(): void {
    this.told.fill(0);
    this.inner.fill(0);
  }

  /** From here nothing is written down, until what was returned is put back as `record`. */
  silence(): Wrench[] | undefined {
    const { record } = this;
    this.record = undefined;
    return record;
  }

  /** A point and a vector given in a carrier's reference position, as they are now. */
  private carry(carrier: number, px: number, py: number, pz: number, x: number, y: number, z: number): void {
    const { placements } = this.pose;
    movePoint(point, 0, placements, PLACEMENT * carrier, px, py, pz);
    moveVector(vector, 0, placements, PLACEMENT * carrier, x, y, z);
  }
}

const scaled = (v: Vec3, s: number): Vec3 => [v[0] * s, v[1] * s, v[2] * s];
