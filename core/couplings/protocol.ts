import type { Coupling, Element, Finding, Id, Joint } from '../fields/types';
import type { Field } from '../fields/fields';
import type { Derived } from '../elements/protocol';
import type { PiRatio } from '../math/index';
import type { Frame, Vec3 } from '../math/index';

/** One coordinate of a joint in a sum of relative motion; the factor is ±1, or a lead where a helix travels. Turns and mm. */
export interface Term {
  coordinate: number;
  factor: PiRatio;
  /**
   * Bodies that coincide where a loop closes and between which the way from carrier to member goes, [from, to]: stated with the
   * first term of a way.
   */
  crossings?: readonly (readonly [number, number])[];
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
  /** Part by which it falls behind what the contact would give it (creep of a belt); its force is still that of the contact. */
  creep?: number;
  /**
   * Where its force acts on its member and back on the carrier, instead of a couple: a point, the direction for a positive one,
   * its arm. mm
   */
  lever?: { point: Vec3; along: Vec3; arm: number };
  /** The coordinate of a joint whose own motion this is: its force acts along it, between what the joint joins. */
  own?: number;
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
   * Direction of the force on b's member that turns b. Stated where friction acts at the contact itself (worm): the force is then
   * made up of what both sides feel, and nothing is left for a couple. Otherwise the two forces are equal and opposite along
   * `along`, and what losses take is a couple between both.
   */
  alongB?: Vec3;
  /** Shares of the first and the second side's force in the force across the flank; the second's alone where not stated. */
  across?: readonly [number, number];
}

/** How well a coupling hands power on: from port 0 to the others, and back. May be negative backward: self-locking. */
export interface Efficiency {
  forward: number;
  backward: number;
}

/** A function that ties the second port's motion to the first's (a cam). SI: rad or m. */
export interface Curve {
  /**
   * Writes the function's value and its first and second derivative at x, the first port's motion from the reference
   * position.
   */
  value(x: number, out: Float64Array): void;
  /**
   * Writes where it touches (m) and the force on the second port's member for one unit of that port's own force; in the reference
   * position of the carrier.
   */
  contact(x: number, out: Float64Array): void;
  /** Sense of the second port's force that keeps touch; 0 where it can pull as well. */
  pushes: number;
  /** Places within a turn of the first port at which the first derivative jumps, and by how much. */
  jumps: readonly { at: number; by: number }[];
  /** Coefficient of restitution of an impact between the two. */
  restitution: number;
}

/**
 * The part of a motion over which teeth, thread or track are there; beyond it a coupling leaves engagement. Turns or mm from the
 * reference position.
 */
export interface Engagement {
  /** The motion, of one of the coupling's ports or of its own; its coefficient does not count. */
  motion: Port;
  from: number;
  to: number;
  /** What ends there, as it is said: "the sector". */
  what: string;
  /** What would reach a motion beyond, as it is said: "142 teeth". */
  enough?(motion: number): string;
}

interface Model {
  ports: Port[];
  efficiency?: Efficiency;
  engagements?: readonly Engagement[];
  derived?: Derived[];
  /** How b's member would have to be moved in the world for the working distance, mm. */
  fit?: { member: Id; by: Vec3 };
  /** The turn (deg) or shift (mm) of b's element that puts tooth into space, from its present phase. */
  phase?: { element: Id; unit: 'deg' | 'mm'; add: number; period: number };
}

/** Σ coefficient · motion = offset, exact, in turns and mm. */
export interface ProportionalModel extends Model {
  law: 'proportional';
  offset?: PiRatio;
  contacts?: Contact[];
  /** Of what only pulls: the port whose force is never negative. */
  pulls?: number;
  /** The row belongs to a joint (the thread of a screw joint): what it puts on bodies is that joint's reaction. */
  inner?: boolean;
}

/** The second port's motion is a function of the first's. */
export interface CurveModel extends Model {
  law: 'curve';
  curve: Curve;
}

/**
 * The one port's coefficient · motion never falls below what it has reached, less a lost motion of at most a pitch (turns;
 * 0 grips at once).
 */
export interface HoldModel extends Model {
  law: 'hold';
  /**
   * Where a pawl pushes the wheel, and in which direction for one newton along its way: in the reference position, standing still
   * in the carrier. mm.
   */
  touch?: { point: Vec3; along: Vec3 };
  pitch: number;
  lifted: boolean;
  /**
   * A pawl that swings: its turn about its own z (rad) over one pitch (rad) of the wheel in the free sense, from the reference
   * position.
   */
  swing?: { element: Id; pitch: number; over(steps: number): Float64Array };
}

/**
 * A belt or chain: one row for each strand but the last, as in a proportion. The first row carries the band, the others
 * follow it.
 */
export interface BandModel extends Model {
  law: 'band';
  contacts: Contact[];
  /**
   * Rows give tensions less that of the last strand; the mean tension over the length is the pre-tension, and no strand pushes.
   * `pulls` are the forces on each wheel for one newton in every strand. N, mm; they stand still in the carrier.
   */
  band?: {
    pretension: number;
    lengths: number[];
    /** Greatest ratio of strand tensions at each wheel before the band slips; Infinity where teeth hold it. */
    limits: number[];
    pulls: { member: Id; carrier: Id; point: Vec3; force: Vec3 }[];
    /** The closed line of the belt for drawing it, in the world, mm. */
    path: { points: Vec3[]; width: number };
  };
  /** The rows of the further strands. */
  more?: BandModel[];
}

/**
 * What a coupling makes of itself at compile time: one of a few laws. The row is stated once; its forces do the work that the row
 * implies.
 */
export type CouplingModel = ProportionalModel | CurveModel | HoldModel | BandModel;

/** Where the forces of a coupling act; none of a cam, whose place of touch moves, and of a pawl. */
export const contactsOf = (m: CouplingModel): readonly Contact[] =>
  m.law === 'proportional' ? (m.contacts ?? []) : m.law === 'band' ? m.contacts : [];

/** How a joint carries a member: its main coordinate, the member on the other side, and its axis. */
export interface Carried {
  index: number;
  motion: 'turn' | 'slide';
  parent: Id;
  point: Vec3;
  axis: Vec3;
  sense: number;
  /** As in Term: where the joint closes a loop. */
  crossings?: Term['crossings'];
}

/** What a coupling may ask of the design around it. */
export interface CouplingContext {
  element(id: unknown): { element: Element; member: Id; frame: Frame } | undefined;
  joint(id: unknown): { joint: Joint; frame: Frame } | undefined;
  memberName(id: Id): string;
  /**
   * A joint that carries a member, its main coordinate: the first that will do, else the first. `sense` is −1 where the
   * coordinate moves the other member against this one.
   */
  carried(member: Id, will?: (by: Carried) => boolean): Carried | undefined;
  /** How many joints and couplings lie between a member and the nearest source; Infinity where none reaches it. */
  fromSource(member: Id): number;
  /** The member in which both axes stand still; undefined where there is none. Lines by point and direction, mm. */
  carrier(memberA: Id, lineA: [Vec3, Vec3], memberB: Id, lineB: [Vec3, Vec3]): Id | undefined;
  /** Turn of a member against the carrier about a line, as a sum of joint coordinates. */
  turn(member: Id, carrier: Id, line: readonly [Vec3, Vec3]): Term[] | undefined;
  /** Travel of a member against the carrier along a line. */
  travel(member: Id, carrier: Id, line: readonly [Vec3, Vec3]): Term[] | undefined;
  /** A coordinate named by joint id, or by joint id and number of the freedom: "j3", "j3:1". */
  coordinate(
    ref: unknown,
  ): { index: number; motion: 'turn' | 'slide'; joint: Joint; parent: Id; child: Id; point: Vec3; axis: Vec3; lead?: PiRatio } | undefined;
}

/**
 * What a coupling goes between: elements of these types on either
 * side (or the joint of a slide), wheels in a row, or two joints.
 */
export type Takes = readonly [readonly string[], readonly string[] | 'slide'] | { wheels: string; sprockets: boolean } | 'joints';

/**
 * One kind of coupling. `model` gives what it ties, or findings of severity fault when it cannot be made; findings beside a model
 * are advice.
 */
export interface CouplingKind<C extends Coupling = Coupling> {
  readonly type: string;
  readonly label: string;
  readonly fields: readonly Field[];
  readonly takes: Takes;
  /** How the axes of its two elements lie, where that decides. */
  readonly axes?: 'parallel' | 'crossed';
  model(c: C, ctx: CouplingContext): { model?: CouplingModel; findings: Finding[] };
  /** What is stated otherwise of its picture in a mirror, where `sense` is −1 of a motion that goes the other way there. */
  mirrored?(c: C, sense: (coordinate: unknown) => 1 | -1): Partial<C>;
}
