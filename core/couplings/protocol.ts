import type { Coupling, Element, Finding, Id, Joint } from '../fields/types';
import type { Field } from '../fields/fields';
import type { Derived } from '../elements/protocol';
import type { PiRatio } from '../exact/index';
import type { Frame, Vec3 } from '../numeric/index';

/** One coordinate of a joint in a sum of relative motion; the factor is ±1, or a lead where a helix travels. Turns and mm. */
export interface Term {
  coordinate: number;
  factor: PiRatio;
}

/** One side of a coupling: the motion of a member relative to the carrier, with its coefficient in the row. */
export interface Port {
  member: Id;
  carrier: Id;
  motion: 'turn' | 'slide';
  /** Axis of the motion in the reference position, in the world: a point (mm) and a unit direction. */
  point: Vec3;
  axis: Vec3;
  terms: Term[];
  coefficient: PiRatio;
}

/** Where and how the forces of a coupling act, in the reference position; they stand still in the carrier. mm. */
export interface Contact {
  /** Port indices between which it acts. */
  a: number;
  b: number;
  point: Vec3;
  /** Force on a's member for each newton of tangential force, and for each newton of its size. */
  along: Vec3;
  spread: Vec3;
  /**
   * Direction of the force on b's member that turns b. Stated where friction acts at the contact itself (worm, crossed helical): the force
   * is then made up of what both sides feel, and nothing is left for a couple. Otherwise the two forces are equal and opposite along `along`.
   */
  alongB?: Vec3;
}

/** How well a coupling hands power on: from port 0 to the others, and back. May be negative backward: self-locking. */
export interface Efficiency {
  forward: number;
  backward: number;
}

/**
 * A coupling that is no proportion: the second port's motion is a function of the first's (a cam). SI: rad or m.
 */
export interface Curve {
  /** Writes the function's value and its first and second derivative at x, the first port's motion from the reference position. */
  value(x: number, out: Float64Array): void;
  /** Where it touches (mm) and the force on the second port's member for one unit of that port's own force; in the reference position of the carrier. */
  contact(x: number): { point: Vec3; push: Vec3 };
  /** Sense of the second port's force that keeps touch; 0 where it can pull as well. */
  pushes: number;
}

/**
 * A coupling that holds in one sense only: coefficient · motion of its one port never falls below what it has reached, less the lost motion of
 * at most a pitch (turns; 0 grips at once).
 */
export interface OneWay {
  pitch: number;
  lifted: boolean;
}

/**
 * What a coupling makes of itself at compile time. The row states Σ coefficient · motion = offset, exact, in turns and mm; its forces do
 * the work that the row implies.
 */
export interface CouplingModel {
  ports: Port[];
  offset?: PiRatio;
  contacts?: Contact[];
  /**
   * Of a belt's first row: the strands. Rows give tensions less that of the last strand; the mean tension over the length is the pre-tension, and
   * no strand pushes. `pulls` are the forces on each wheel for one newton in every strand. N, mm; they stand still in the carrier.
   */
  strands?: { pretension: number; lengths: number[]; pulls: { member: Id; carrier: Id; point: Vec3; force: Vec3 }[] };
  /** Further rows of the same coupling: a belt has one for each strand but the last. */
  more?: CouplingModel[];
  /** The wheel order, wraps and length of a belt or chain, for drawing it: the path in the plane of the wheels, in the world, mm. */
  path?: { points: Vec3[]; width: number };
  efficiency?: Efficiency;
  curve?: Curve;
  oneWay?: OneWay;
  derived?: Derived[];
  /** How b's member would have to be moved in the world for the working distance, mm. */
  fit?: { member: Id; by: Vec3 };
  /** The turn (deg) or shift (mm) of b's element that puts tooth into space, from its present phase. */
  phase?: { element: Id; unit: 'deg' | 'mm'; add: number; period: number };
}

/** What a coupling may ask of the design around it. */
export interface CouplingContext {
  element(id: unknown): { element: Element; member: Id; frame: Frame } | undefined;
  joint(id: unknown): { joint: Joint; frame: Frame } | undefined;
  memberName(id: Id): string;
  /** The main coordinate of the joint that carries a member, its axis in the sense in which it moves the member. */
  carried(member: Id): { index: number; motion: 'turn' | 'slide'; parent: Id; point: Vec3; axis: Vec3 } | undefined;
  /** The member in which both axes stand still; undefined where there is none. Lines by point and direction, mm. */
  carrier(memberA: Id, lineA: [Vec3, Vec3], memberB: Id, lineB: [Vec3, Vec3]): Id | undefined;
  /** Turn of a member against the carrier about an axis, as a sum of joint coordinates. */
  turn(member: Id, carrier: Id, axis: Vec3): Term[] | undefined;
  /** Travel of a member against the carrier along a direction. */
  travel(member: Id, carrier: Id, direction: Vec3): Term[] | undefined;
  /** A coordinate named by joint id, or by joint id and number of the freedom: "j3", "j3:1". */
  coordinate(
    ref: unknown,
  ): { index: number; motion: 'turn' | 'slide'; joint: Joint; parent: Id; child: Id; point: Vec3; axis: Vec3; lead?: PiRatio } | undefined;
}

/** One kind of coupling. `model` gives what it ties, or findings of severity stop when it cannot be made; findings beside a model are advice. */
export interface CouplingKind {
  readonly type: string;
  readonly label: string;
  readonly fields: readonly Field[];
  model(c: Coupling, ctx: CouplingContext): { model?: CouplingModel; findings: Finding[] };
}
