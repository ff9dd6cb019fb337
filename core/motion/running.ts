import type { Id } from '../fields/types';
import type { EventKind, Happening } from './events';
import type { DormandPrince } from './integrator';
import type { Train } from './train';

/** How a run is computed: time in s, instants, and when it ends. */
export interface RunOptions {
  /** s */
  duration: number;
  /** Instants recorded, both ends included. */
  frames: number;
  /** Counts inertia; always counted where something moves freely. */
  inertia?: boolean;
  /**
   * Freedoms that nothing drives stand where they are, and sources
   * that state torque run at their working speed: no free motion.
   */
  stand?: boolean;
  /** Ends once everything stands still. */
  untilRest?: boolean;
  /** Part by which a step of free motion may be wrong. */
  tolerance?: number;
  /**
   * Most evaluations of the equations of motion before the run is
   * given up; 50 000 and 100 for each frame where nothing is said.
   */
  budget?: number;
}

/** A run as those who move it on see it. */
export interface Running {
  readonly train: Train;
  readonly duration: number;
  readonly frames: number;
  readonly inertia: boolean;
  readonly integrator: DormandPrince;
  /** Time reached, and the step of free motion that is tried next, s. */
  t: number;
  h: number;
  /** Evaluations so far. */
  spent: number;
  /** The free coordinates where the whole led train is held. */
  stalled: Float64Array | undefined;
  /** Sense of the assembly, where it has one. */
  branch: number;
  say(kind: EventKind, id: Id, message: string, time?: number): void;
  end(kind: EventKind, id: Id, message: string): void;
  giveUp(): void;
  /** Lets something happen that comes with these rates, and takes up the mode that it leaves. */
  happen(what: Happening, rates: Float64Array): void;
}
