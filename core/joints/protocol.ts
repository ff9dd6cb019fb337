import type { Field } from '../fields/fields';

/**
 * One freedom: turning about, or sliding along, an axis of the joint's frame. Every joint is a short chain of them, from the
 * parent's side to the child's, so that pose, velocity and reaction need to know only these two.
 * A helix turns and slides by one coordinate (the turn).
 */
export interface Freedom {
  readonly motion: 'turn' | 'slide' | 'helix';
  readonly axis: 'x' | 'y' | 'z';
  readonly label: string;
}

/**
 * Whether a freedom goes the other way in a mirror, in which a joint's frame keeps x and z and
 * turns y round: −1 where it does. A helix is one of the other hand there, and turns the other way.
 */
export const senseInMirror = ({ motion, axis }: Freedom): 1 | -1 => ((motion === 'slide') === (axis === 'y') ? -1 : 1);

/** One kind of joint: how a child member is carried by its parent. The joint's frame is stated in the child member. */
export interface JointKind {
  readonly type: string;
  readonly label: string;
  /**
   * In the order in which the child is reached from the parent. The
   * first is the joint's main coordinate: stops and sources refer to it.
   */
  readonly freedoms: readonly Freedom[];
  /** Those of one joint, where what is stated of it changes them. */
  freedomsOf?(j: object): readonly Freedom[];
  readonly fields?: readonly Field[];
  /** A sentence: what it lets through. */
  readonly allows: string;
}
