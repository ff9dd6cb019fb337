import { USUAL_GRADE } from '../elements/index';
import type { Id } from '../fields/types';
import { rateAgma } from './agma';
import type { RatedCase } from './instants';
import type { Results, Wishes } from './rater';
import type { Loaded, Mesh } from './tooth-lines';

/** Roots and flanks of a mesh in a load case by AGMA, beside those by ISO; or why there are none. */
export function agmaLines(
  results: Results,
  c: { readonly id: Id; readonly name: string },
  { rated, wheels }: Mesh,
  [{ load }]: readonly Loaded[],
  within: RatedCase,
  wishes: Wishes,
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
  for (const [k, { element, rated: own }] of wheels.entries()) {
    for (const what of ['root', 'flank'] as const) {
      const { safety, figures } = is[what][k as 0 | 1];
      const wanted = what === 'root' ? wishes.rootSafety : wishes.flankSafety;
      const much = safety / wanted;
      results.line(`${c.id} ${element.id} ${what} AGMA`, {
        what: `${what}, AGMA`,
        item: c.id,
        element: element.id,
        name: `${element.name}, ${c.name}`,
        case: within.name,
        value: safety,
        wanted,
        reserve: what === 'flank' ? much ** 2 : much,
        method: 'AGMA 2101-D04, geometry factors by AGMA 908-B89',
        figures,
        assumptions: [
          `${own.material.group} of grade 1; limits that are stated for ISO do not count here`,
          'commercial enclosed drive, pinion in the middle between its bearings; sizes, rim and temperature 1; reliability 99 %',
          `accuracy number Qv as 17 less the grade of ISO 1328-1, ${Math.max(...grades)} here`,
          ...(element.type === 'rack' ? ['the rack as a gear of very many teeth'] : []),
          'load cases alone: runs are rated by ISO 6336',
        ],
      });
    }
  }
}
