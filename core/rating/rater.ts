import { RATING_SETTINGS, type Settings } from '../fields/index';
import type { Id } from '../fields/types';
import type { Compiled } from '../kinematics/index';
import type { Instant, RatedCase } from './instants';
import type { Figure, RatingLine } from './protocol';

/** What a design states for its rating, with the initial values of the settings. */
export type Wishes = Readonly<Record<(typeof RATING_SETTINGS)[number]['key'], number>>;
export const wishesOf = (s: Settings | undefined): Wishes =>
  Object.fromEntries(RATING_SETTINGS.map((f) => [f.key, s?.[f.key] ?? f.initial])) as Wishes;

/** What a method rates from: the design as compiled, what acts in its load cases and runs, and what is wanted. */
export interface Given {
  readonly compiled: Compiled;
  readonly cases: readonly RatedCase[];
  readonly wishes: Wishes;
}
/** Where a method says what it found. Of lines with one key the worst stays; a reason is kept once. */
export interface Results {
  line(key: string, line: RatingLine): void;
  unrated(item: Id, name: string, why: string): void;
}
/** A method: goes over the design, and rates what it covers. */
export type Rater = (given: Given, results: Results) => void;

/** How many times what acts is borne; without end where nothing acts. */
export const timesBorne = (bears: number, acts: number): number => (acts > 0 ? bears / acts : Infinity);
/** Why a case is left out. */
export const unknownIn = ({ name }: RatedCase): string => `its forces are not known in “${name}”`;
/** What is read of every instant of the cases in which all of it is known; for the others it says why not. */
export function* knownIn<T extends object>(
  cases: readonly RatedCase[],
  no: (why: string) => void,
  read: (i: Instant) => T,
): Generator<readonly [RatedCase, readonly T[]]> {
  for (const c of cases) {
    const all = c.instants.map(read);
    if (all.every((x) => Object.values(x).flat(2).every(Number.isFinite))) yield [c, all];
    else no(unknownIn(c));
  }
}
/** The factor by which all loads are raised, as every rating shows it. */
export const applicationFigure = ({ applicationFactor: value }: Wishes): Figure => ({ symbol: 'KA', label: 'Application factor', value });
/** How much below its critical speed a shaft or a screw runs at most: common practice. */
export const WHIRL_RESERVE = 1.25;
