import type { Limit } from '../kinematics/index';

/**
 * What holds at a time of a run, and so which equations count: stops
 * that are met, pawls that grip, followers that have left their cams.
 */
export interface Mode {
  stops: Set<Limit>;
  /** Rows of pawls and one-way clutches. */
  grips: Set<number>;
  /** Rows of cams. */
  flying: Set<number>;
  /** Coordinates that dry friction holds, with the place at which they stand; and the sense in which those that slide do. */
  stuck: Map<number, number>;
  sliding: Map<number, 1 | -1>;
  /** Stuck coordinates that losses of couplings hold either way: a screw that its drive is too weak to turn. */
  locked: Set<number>;
}

export const openMode = (): Mode => ({
  stops: new Set(),
  grips: new Set(),
  flying: new Set(),
  stuck: new Map(),
  sliding: new Map(),
  locked: new Set(),
});

/** The same mode, of its own. */
export const copyOfMode = (m: Mode): Mode => ({
  stops: new Set(m.stops),
  grips: new Set(m.grips),
  flying: new Set(m.flying),
  stuck: new Map(m.stuck),
  sliding: new Map(m.sliding),
  locked: new Set(m.locked),
});
