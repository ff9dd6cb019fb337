export { type Figure, type Rating, type RatingFix, type RatingLine, type RatedWhat, type Unrated, byReason } from './protocol';
export { deviations } from './accuracy';
export { type RatedCase, runCase, savedRuns, steadyCase } from './instants';
export { canBeRated, rate } from './rate';
export { ratingFixes, ratingOf, withRatingFix } from './fixes';
export { BEVEL_MESH } from './bevel';
export { meshStiffness } from './mesh';
export { ANY_STEEL, meshOf } from './teeth';
