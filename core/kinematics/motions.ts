/** What a coordinate does, in `motion` of the kinematics: a byte each. */
export const TURNS = 0,
  SLIDES = 1,
  SCREWS = 2;

/** Whether a coordinate travels (m); else it turns (rad), along its axis as well where it screws. */
export const slidesAt = (k: { readonly motion: ArrayLike<number> }, coordinate: number): boolean => k.motion[coordinate] === SLIDES;
