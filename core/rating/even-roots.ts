import { gearsOfPair } from '../edits/index';
import { num } from '../elements/index';
import type { Design, Id } from '../fields/types';
import type { RatingFix } from './protocol';
import { ratingOf, together, withRatingFix } from './trial';

/** Shifts that are looked at lie within so many modules of those stated; in steps of this, then by halves. */
const REACH = 1,
  STEP = 0.1;
/** Decimals of a shift that is proposed. */
const DECIMALS = 2;

/**
 * Profile shifts of an external pair at which both roots have the same reserve, the sum and so the centre distance as they
 * are: none where one of the gears meshes with others too, or where a root is not rated. From load cases alone; whether the teeth
 * are sound with them is not looked at.
 */
export function evenRoots(design: Design, coupling: Id): RatingFix[] {
  const gears = gearsOfPair(design, coupling);
  if (!gears || together(design, [gears[0].id, gears[1].id]).size > 2) return [];
  const [a, b] = gears;
  const [xa, xb] = [num(a.shift), num(b.shift)];
  const said = (x: number): string =>
    Number(x.toFixed(DECIMALS + 1))
      .toString()
      .replace('-', '−');
  const shifted = (by: number): RatingFix => {
    const [na, nb] = [xa + by, xb - by];
    return {
      label: `Profile shifts ${said(na)} and ${said(nb)} instead of ${said(xa)} and ${said(xb)}: both roots alike`,
      changes: [
        { item: a.id, field: 'shift', value: Number(na.toPrecision(12)) },
        { item: b.id, field: 'shift', value: Number(nb.toPrecision(12)) },
      ],
    };
  };
  /** How much more reserve the first root has than the second; its logarithm. */
  const more = (by: number): number | undefined => {
    const roots = ratingOf(withRatingFix(design, shifted(by)), false).lines.filter((l) => l.what === 'root' && l.item === coupling);
    const of = (id: Id): number | undefined => roots.find((l) => l.element === id)?.reserve;
    const [ra, rb] = [of(a.id), of(b.id)];
    const is = ra !== undefined && rb !== undefined ? Math.log(ra / rb) : NaN;
    return Number.isFinite(is) ? is : undefined;
  };
  const now = more(0);
  if (now === undefined) return [];
  // The more a gear is shifted outward the more its root bears: away from the stronger one.
  const way = now > 0 ? -STEP : STEP;
  let [near, far] = [0, way];
  for (; ; [near, far] = [far, far + way]) {
    const there = Math.abs(far) > REACH + STEP / 2 ? undefined : more(far);
    if (there === undefined) return [];
    if (there > 0 !== now > 0) break;
  }
  for (let k = 0; k < 6; k++) {
    const middle = (near + far) / 2;
    const there = more(middle);
    if (there === undefined) return [];
    if (there > 0 === now > 0) near = middle;
    else far = middle;
  }
  const by = Number(((near + far) / 2).toFixed(DECIMALS));
  return by === 0 ? [] : [shifted(by)];
}
