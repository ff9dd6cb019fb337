import { type Design, type Id } from '../../fields/types';

/** A design in which two things were connected. */
export interface Built {
  design: Design;
  /** The joint that was put in, where one was. */
  joint?: Id;
  problem?: undefined;
}
/** Why two things could not be connected. */
export interface NotBuilt {
  problem: string;
}
