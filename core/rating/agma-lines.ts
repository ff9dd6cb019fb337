import { USUAL_GRADE } from '../elements/index';
import type { Id } from '../fields/types';
import { rateAgma } from './agma';
import type { RatedCase } from './instants';
import type { Results, Wishes } from './rater';
import { type Loaded, type Mesh, toothLine } from './tooth-lines';

/** Roots and flanks of a mesh in a load case by AGMA, beside those by ISO; or why there are none. */
export function agmaLines(
  results: Results,
  c: { readonly id: Id; readonly name: string },
  { rated, wheels }: Mesh,
  [{ load }]: readonly Loaded[],
  within: RatedCase,
  wishes: Wishes,
  ofParts: readonly string[],
): void {
  const grades = [wheels[0].element.accuracyGrade ?? USUAL_GRADE, wheels[1].element.accuracyGrade ?? USUAL_GRADE] as const;
  let is: ReturnType<typeof rateAgma>;
  try {
    is = rateAgma(rated, load, { application: wishes.applicationFactor, hours: wishes.ratingHours, grades });
  } catch (e) {
    if (!(e instanceof RangeError)) throw e;
    results.unrated(c.id, c.name, `by AGMA: ${e.message}`);
    return;
  }
  for (const [k, wheel] of wheels.entries()) {
    for (const on of ['root', 'flank'] as const) {
      const { safety: value, figures } = is[on][k as 0 | 1];
      toothLine(results, { coupling: c.id, name: c.name, case: within.name, wheel, wishes }, on, 'AGMA', {
        value,
        method: 'AGMA 2101-D04, geometry factors by AGMA 908-B89',
        figures,
        assumptions: [
          `${wheel.rated.material.group} of grade 1; limits that are stated for ISO do not count here`,
          ...(rated.faceLoad === undefined ? ['KH: commercial enclosed drive, pinion in the middle between its bearings'] : ['KH as stated for ISO']),
          'sizes, rim and temperature 1; reliability 99 %',
          `accuracy number Qv as 17 less the grade of ISO 1328-1, ${Math.max(...grades)} here`,
          ...ofParts,
          'load cases alone: runs are rated by ISO 6336',
        ],
      });
    }
  }
}
