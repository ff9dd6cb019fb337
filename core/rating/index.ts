export { type Rating, type RatingLine, type RatedCase, type RatedWhat, type Unrated, rate, wishesOf } from './rate';
export type { Figure } from './cylindrical';
export { type RatingFix, ratingFixes, ratingOf, withRatingFix } from './fixes';
