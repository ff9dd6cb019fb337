import type { BoundRow, CouplingContext, CouplingModel } from '../couplings/index';
import type { Coupling, Design, Element, Finding, Id, Source } from '../fields/types';
import type { Frame } from '../math/index';
import type { ClosureRows } from './closures';
import type { LinearRow, Reduction } from './eliminate';
import type { Structure } from './structure';

/** A coupling with what it ties, as compiled. */
export interface CompiledCoupling {
  coupling: Coupling;
  model: CouplingModel;
}

export interface CompiledSource {
  source: Source;
  coordinate: number;
  /** Where along the coordinate's axis it acts, m from the joint's point. */
  place: number;
}

/** Everything that is known before any number is solved. */
export interface Compiled {
  design: Design;
  structure: Structure;
  elementFrames: Map<Id, Frame>;
  elements: Map<Id, Element>;
  couplings: CompiledCoupling[];
  rows: LinearRow[];
  reduction: Reduction;
  sources: CompiledSource[];
  findings: Finding[];
  context: CouplingContext;
  /** Its motion on flat arrays, bound when it is first asked for. */
  readonly kinematics: Kinematics;
}

/** Something that ends a motion: Σ value · q may not go beyond `at`. SI. */
export interface Limit {
  /** A stop of a joint, or where a coupling leaves engagement. */
  kind: 'stop' | 'engagement';
  /** The joint, or the coupling. */
  id: Id;
  which: 'lower' | 'upper';
  coordinate: Int32Array;
  value: Float64Array;
  at: number;
  /** What ends there, of an engagement; or which freedom of the joint, where it is not its first. */
  what?: string;
  /** Coefficient of restitution of what comes to it; 0 of an engagement. */
  restitution: number;
}

/**
 * What a joint joins: the bodies at the two ends of its chain of freedoms, of a
 * loop's closing joint the member's own body. The chain runs from parent to child.
 */
export interface JointEnds {
  joint: Id;
  parent: number;
  child: number;
  chain: readonly number[];
  /** Those of the chain that turn. */
  turns: readonly number[];
  /** Its first freedom, at which its reaction is kept. */
  first: number;
}

/**
 * The motion of a compiled design on flat arrays in SI units (m, rad): what follows from the
 * document alone. It never changes; every pose of it belongs to whoever asked for it (see Pose).
 */
export interface Kinematics {
  readonly compiled: Compiled;
  /** Coordinates, bodies (the frame is body 0), and free coordinates that the exact elimination left. */
  readonly count: number;
  readonly bodies: number;
  readonly freeCount: number;
  /** SI units for one exact unit of each coordinate: rad per turn, or m per mm. */
  readonly scale: Float64Array;
  /**
   * Per coordinate: 0 turns, 1 slides, 2 turns and travels by `lead` (m per
   * rad); −1 where the tree runs through the joint from its child to its parent.
   */
  readonly motion: Uint8Array;
  readonly lead: Float64Array;
  readonly sign: Float64Array;
  /** Axis and point (m) of each coordinate in the reference position, three numbers each. */
  readonly axis: Float64Array;
  readonly point: Float64Array;
  /** Per body: the one that carries it, and the coordinate that moves it (−1 for the frame). */
  readonly parentOf: Int32Array;
  readonly bodyCoordinate: Int32Array;
  /** q = constant + S u: S by rows, `start[i]` to `start[i + 1]`. */
  readonly start: Int32Array;
  readonly column: Int32Array;
  readonly value: Float64Array;
  readonly constant: Float64Array;
  /** All joints with freedoms, in the order of their coordinates, and which of them each coordinate is of. */
  readonly ends: readonly JointEnds[];
  readonly endOf: Int32Array;
  readonly closures: readonly ClosureRows[];
  readonly closureRowCount: number;
  /**
   * Rows of couplings, as compiled; those that the solver finds stand
   * at `constraintOf` among the constraint rows (−1: eliminated).
   */
  readonly rows: readonly BoundRow[];
  readonly constraintOf: Int32Array;
  /** Rows that the solver finds, and of these the ones that hold and let go: a pose keeps their state in this order. */
  readonly numeric: Int32Array;
  readonly grips: Int32Array;
  readonly gripOf: Int32Array;
  /** Constraint rows, and the coordinates that enter each: `entryStart[k]` to `entryStart[k + 1]` of `entry`. */
  readonly constraintRows: number;
  readonly entryStart: Int32Array;
  readonly entry: Int32Array;
  /** True where every coordinate follows linearly: no constraint rows. */
  readonly linear: boolean;
  /** Coordinates in loops and cams: only their steps are bounded. */
  readonly bending: Int32Array;
  readonly limits: readonly Limit[];
}
