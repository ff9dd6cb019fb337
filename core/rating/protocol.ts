import type { Id } from '../fields/types';

/** A quantity of a rating: its symbol, what it is, its value, and the formula where there is a short one. */
export interface Figure {
  readonly symbol: string;
  readonly label: string;
  readonly value: number;
  readonly unit?: string;
  readonly formula?: string;
}
/** What is rated of a thing. */
export type RatedWhat =
  | 'screw, threads'
  | 'screw, strength'
  | 'screw, buckling'
  | 'screw, whirling'
  | 'ball screw life'
  | 'root'
  | 'flank'
  | 'root, static'
  | 'flank, static'
  | 'root, AGMA'
  | 'flank, AGMA'
  | 'bearing life'
  | 'bearing, static'
  | 'bearing, speed'
  | 'bearing, least load'
  | 'plain bearing'
  | 'guide, plain'
  | 'guide life'
  | 'guide, static'
  | 'shaft, fatigue'
  | 'shaft, yield'
  | 'shaft, slope'
  | 'shaft, deflection'
  | 'shaft, critical speed'
  | 'key'
  | 'press fit, slip'
  | 'press fit, stress'
  | 'splines'
  | 'pin'
  | 'belt, strand force'
  | 'belt, slip'
  | 'belt, power'
  | 'chain, breaking'
  | 'chain, power'
  | 'rope, breaking'
  | 'rope, bending'
  | 'worm wheel, wear'
  | 'worm wheel, bending'
  | 'spring, stress'
  | 'spring, travel'
  | 'spring, buckling'
  | 'spring, fatigue'
  | 'cam, pressure'
  | 'wheel, pressure'
  | 'wheel, slip'
  | 'one-way clutch'
  | 'ratchet tooth, bending'
  | 'source, torque'
  | 'source, warming'
  | 'source, inertia'
  | 'source, starts'
  | 'source, brake'
  | 'brake';

/** What one thing bears, in the load case or run in which it is worst. */
export interface RatingLine {
  readonly what: RatedWhat;
  /** The coupling, joint or shaft, and the element or the bearing's number there. */
  readonly item: Id;
  readonly element?: Id;
  readonly bearing?: number;
  readonly name: string;
  readonly case: string;
  /**
   * A safety, or a life in h; what is wanted of it; and how much more load than it has it would bear as wanted (below 1: it
   * fails).
   */
  readonly value: number;
  readonly unit?: 'h';
  readonly wanted: number;
  readonly reserve: number;
  readonly method: string;
  readonly figures: readonly Figure[];
  readonly assumptions: readonly string[];
}
/** Something that is not rated, and why. */
export interface Unrated {
  readonly item: Id;
  readonly name: string;
  readonly why: string;
}
/** What is not rated, by the reason: one entry for each, with all parts that share it. */
export function byReason(unrated: readonly Unrated[]): { why: string; parts: Unrated[] }[] {
  const reasons = new Map<string, Unrated[]>();
  for (const u of unrated) {
    const parts = reasons.get(u.why);
    if (parts) parts.push(u);
    else reasons.set(u.why, [u]);
  }
  return [...reasons].map(([why, parts]) => ({ why, parts }));
}
/** What a design bears, and what is not rated of it. */
export interface Rating {
  /** Worst first. */
  readonly lines: readonly RatingLine[];
  readonly unrated: readonly Unrated[];
}

/** A change that makes a mesh, a shaft, a screw or a band bear what is wanted: fields of elements, members or couplings. */
export interface RatingFix {
  readonly label: string;
  readonly changes: readonly {
    readonly item: Id;
    readonly field: 'module' | 'width' | 'shift' | 'materialGroup' | 'length' | 'steel' | 'notches' | 'keys' | 'strands' | 'belts' | 'pretension';
    readonly value: number | string | readonly object[];
  }[];
}
