import type { Curve, OneWay } from '../couplings/index';
import type { Id } from '../fields/types';

const TURN = 2 * Math.PI;

/** A motion as a sum over coordinates, SI. */
export interface Reach {
  coordinate: Int32Array;
  value: Float64Array;
}

const sumOver = (r: Reach, q: Float64Array): number => {
  let s = 0;
  for (let k = 0; k < r.coordinate.length; k++) s += r.value[k] * q[r.coordinate[k]];
  return s;
};

/** Row of a cam: y(q) − f(x(q)) = 0. Value and derivatives are kept for the last pose written. SI. */
export class CurveRow {
  readonly at = new Float64Array(3);
  /** Let go: the follower has left the cam and flies. */
  on = true;

  constructor(
    readonly start: number,
    readonly row: number,
    readonly coupling: Id,
    readonly curve: Curve,
    readonly a: Reach,
    readonly b: Reach,
  ) {}

  x(q: Float64Array): number {
    return sumOver(this.a, q);
  }

  /** How far the follower stands from where the cam would have it, towards the sense in which the cam pushes it away. */
  gap(q: Float64Array): number {
    this.curve.value(this.x(q), this.at);
    return (sumOver(this.b, q) - this.at[0]) * (this.curve.pushes || 1);
  }

  /** Writes residual and gradient; a row that is let go is zero. */
  write(q: Float64Array, jacobian: Float64Array, count: number, residuals: Float64Array): void {
    this.curve.value(this.x(q), this.at);
    residuals[this.start] = 0;
    if (!this.on) return;
    residuals[this.start] = sumOver(this.b, q) - this.at[0];
    const o = this.start * count;
    for (let k = 0; k < this.b.coordinate.length; k++) jacobian[o + this.b.coordinate[k]] += this.b.value[k];
    for (let k = 0; k < this.a.coordinate.length; k++) jacobian[o + this.a.coordinate[k]] -= this.at[1] * this.a.value[k];
  }

  /** f″ ẋ²: what the row's second derivative is short of, for accelerations. */
  bend(rates: Float64Array): number {
    if (!this.on) return 0;
    const v = sumOver(this.a, rates);
    return this.at[2] * v * v;
  }
}

/** Row of a pawl or a one-way clutch: x(q) ≥ limit, where the limit follows x up, tooth by tooth. rad. */
export class OneWayRow {
  limit = 0;
  on = false;
  readonly pitch: number;
  readonly lifted: boolean;

  constructor(
    readonly start: number,
    readonly row: number,
    readonly coupling: Id,
    state: OneWay,
    readonly reach: Reach,
  ) {
    this.pitch = state.pitch * TURN;
    this.lifted = state.lifted;
  }

  gap(q: Float64Array): number {
    return sumOver(this.reach, q) - this.limit;
  }
  speed(rates: Float64Array): number {
    return sumOver(this.reach, rates);
  }
  /** The tooth, or place, that x has come to. */
  private tooth(q: Float64Array): number {
    const x = sumOver(this.reach, q);
    return this.pitch > 0 ? Math.floor(x / this.pitch + 1e-9) * this.pitch : x;
  }
  latch(q: Float64Array): void {
    this.limit = Math.max(this.limit, this.tooth(q));
  }
  /** Engages at the present pose, whatever was before. */
  reset(q: Float64Array): void {
    this.limit = this.tooth(q);
    this.on = false;
  }
  write(q: Float64Array, jacobian: Float64Array, count: number, residuals: Float64Array): void {
    residuals[this.start] = 0;
    if (!this.on) return;
    residuals[this.start] = this.gap(q);
    for (let k = 0; k < this.reach.coordinate.length; k++) jacobian[this.start * count + this.reach.coordinate[k]] += this.reach.value[k];
  }
}
