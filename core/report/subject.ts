import type { Case, Worked } from '../checks/index';
import type { Design } from '../fields/types';
import type { ComputedRun } from '../sizing/index';
import type { Table } from '../tables/index';
import type { Units } from '../units/index';

/** What a report is of, worked out once for all chapters. */
export interface Subject {
  readonly design: Design;
  readonly worked: Worked;
  readonly units: Units;
  readonly cases: readonly Case[];
  readonly tables: readonly Table[];
  /** Runs that are kept with the design; the stated one where none is. Computed when a chapter asks for them. */
  runs(): readonly ComputedRun[];
}
