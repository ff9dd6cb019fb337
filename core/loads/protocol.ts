import type { Field } from '../fields/fields';
import type { Id, Load } from '../fields/types';
import type { Frame } from '../math/index';

/** A coordinate as a load on it sees it. */
export interface LoadedCoordinate {
  index: number;
  slide: boolean;
  /** −1 where the tree runs through the joint from its child to its parent. */
  sign: number;
}

/** What a load needs to know of a train to be bound to it. Bodies are numbers; 0 is the frame. */
export interface Bodies {
  bodyOf(member: Id): number | undefined;
  /** A member's frame in the reference position, mm. */
  frameOf(member: Id): Frame | undefined;
  coordinateOf(joint: unknown): LoadedCoordinate | undefined;
}

/**
 * The train at one moment, in SI on flat arrays: placements of bodies (twelve numbers), twists about the origin (six),
 * coordinates and their rates.
 */
export interface Moment {
  readonly placements: Float64Array;
  readonly twist: Float64Array;
  readonly q: Float64Array;
  readonly velocity: Float64Array;
  /**
   * The sense in which each coordinate moves, for its dry friction: −1, 0 (friction holds it, by what holds the coordinate) or 1;
   * BY_SPEED where the sign of its rate says so.
   */
  readonly frictionSense: Int8Array;
  /** Rates of at most this are rounding beside the others: nothing moves there, rad/s or m/s. */
  readonly still: number;
  /** While everything stands, the motion that what drives would bring about, instead of the rates. */
  readonly tendency?: Float64Array;
}

/** In `frictionSense`: the sense is that of the coordinate's rate. */
export const BY_SPEED = 2;

/** Takes what loads do to bodies: forces at a point and couples, in the world, N, N·m and m. */
export interface Receiver {
  force(load: Id, body: number, px: number, py: number, pz: number, fx: number, fy: number, fz: number): void;
  couple(load: Id, body: number, px: number, py: number, pz: number, mx: number, my: number, mz: number): void;
}

/** A load bound to bodies: puts its forces on them, without a search and without an allocation. */
export interface BodyLoad {
  readonly on: 'bodies';
  apply(at: Moment, into: Receiver): void;
  /** What of its power is lost to a damper, W. */
  lost?(at: Moment): number;
}
/** A load bound to a coordinate: what it gives along it, N·m or N, positive forward. */
export interface CoordinateLoad extends LoadedCoordinate {
  readonly on: 'coordinate';
  readonly id: Id;
  value(at: Moment): number;
  /** Where along the joint's axis it acts, m: it counts for what is inside the members. */
  readonly place: number;
  /** Size of the dry friction that it is, N·m or N. */
  readonly friction?: number;
  /** What of its power is lost to friction or a damper, W. */
  lost?(at: Moment): number;
  /**
   * Takes up the reaction of its joint (N, N·m about the joint's point, without what drives it) and the axis, by which its size
   * goes; gives by how much that has changed.
   */
  feel?(fx: number, fy: number, fz: number, mx: number, my: number, mz: number, ax: number, ay: number, az: number): number;
}
export type BoundLoad = BodyLoad | CoordinateLoad;

/** A kind of load: what is stated of it, and how it acts. */
export interface LoadKind<L extends Load = Load> {
  readonly type: string;
  readonly label: string;
  readonly fields: readonly Field[];
  /** Undefined where what it acts on is not there, or is the frame. */
  bind(load: L, bodies: Bodies): BoundLoad | undefined;
}
