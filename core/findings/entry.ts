import type { Severity } from '../fields/types';

/** The steps of the work, in order. */
export const STEPS = ['duty', 'train', 'layout', 'motion', 'loads', 'rating', 'release'] as const;
/** A step of the work. */
export type Step = (typeof STEPS)[number];

/** Ways out of findings, each worked out in `sizing/cures` when a person asks. */
export type Way =
  | 'about-its-axis'
  | 'alike'
  | 'allow-overlap'
  | 'carry'
  | 'cone-angles'
  | 'drive'
  | 'fasten-support'
  | 'formulas'
  | 'helix'
  | 'home-between-stops'
  | 'into-line'
  | 'phase'
  | 'planets'
  | 'ring-that-fits'
  | 'take-out-coupling'
  | 'take-out-source'
  | 'working-distance';

/** What a sentence is made with. */
export type Said<K extends string> = Readonly<Record<K, string | number>>;

export interface Entry {
  severity: Severity;
  /** The step of the work in which it is cured. */
  step: Step;
  /** The field that cures it, where it is the same one always. */
  field?: string;
  cures?: readonly Way[];
  // Each sentence is made with its own words; `finding` holds callers to them.
  says(p: never): string;
}
