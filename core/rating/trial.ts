import { analyse, casesOf } from '../checks/index';
import { settle } from '../edits/index';
import type { Design, Id } from '../fields/types';
import { savedRuns, steadyCase } from './instants';
import type { RatedWhat, Rating, RatingFix, RatingLine } from './protocol';
import { rate } from './rate';

/** Makes the change, and brings the train to its working distances again. */
export function withRatingFix(design: Design, { changes }: RatingFix): Design {
  const made = <T extends { readonly id: Id }>(item: T): T => {
    const own = changes.filter((c) => c.item === item.id);
    return own.length ? { ...forMaterial(item, own), ...Object.fromEntries(own.map((c) => [c.field, c.value])) } : item;
  };
  const typed = Object.fromEntries(
    Object.entries(design.typed ?? {}).filter(
      ([key]) => !changes.some((c) => key === `${c.item}.${c.field}` || key.startsWith(`${c.item}.${c.field}.`)),
    ),
  );
  const next = {
    ...design,
    elements: design.elements.map(made),
    members: design.members.map(made),
    couplings: design.couplings.map(made),
    ...(design.typed && { typed }),
  };
  return changes.some((c) => c.field === 'module') ? settle(next).design : next;
}
/** Another material brings its own hardness and limits: what was stated of the one before goes. */
const OF_MATERIAL: Readonly<Partial<Record<RatingFix['changes'][number]['field'], readonly string[]>>> = {
  materialGroup: ['hardness', 'contactLimit', 'bendingLimit'],
  steel: ['tensileStrength', 'yieldStrength'],
};
function forMaterial<T extends object>(item: T, own: RatingFix['changes']): T {
  const gone = own.flatMap((c) => OF_MATERIAL[c.field] ?? []);
  return gone.length ? (Object.fromEntries(Object.entries(item).filter(([key]) => !gone.includes(key))) as T) : item;
}

/** The rating of a design in all its load cases and saved runs, or in load cases alone. */
export function ratingOf(design: Design, runs = true): Rating {
  const worked = analyse(design);
  return rate(worked.compiled, [...casesOf(worked).map(steadyCase), ...(runs ? savedRuns(design) : [])]);
}

/** What no change that is tried cures: a stouter shaft does. */
const STIFF: readonly RatedWhat[] = ['shaft, slope', 'shaft, deflection', 'shaft, critical speed'];
/** The troubles of a design, faults and cautions, each by its code and what it is about. */
export const troublesOf = (design: Design): readonly string[] =>
  analyse(design).findings.flatMap((f) => (f.severity === 'note' ? [] : [JSON.stringify([f.code, f.ids])]));
/**
 * Of changes, from the least to the most, the first with which all of a thing bears what is wanted: tried on the whole design.
 * All else that did must still do so, for a smaller wheel loads its shaft and its bearings more; and no fault or caution may
 * come that was not there.
 */
export function firstThatCures(design: Design, item: Id): (fixes: readonly RatingFix[]) => RatingFix[] {
  const runs = !!design.runs?.length;
  const keyOf = (l: RatingLine): string => JSON.stringify([l.what, l.item, l.element, l.bearing, l.name]);
  const isOwn = (l: RatingLine): boolean => l.item === item && !STIFF.includes(l.what);
  const before = ratingOf(design).lines;
  const held = new Set(before.filter((l) => l.reserve >= 1).map(keyOf));
  // What is no longer rated does not bear it.
  const asked = before.filter(isOwn).map(keyOf);
  const troubles = new Set(troublesOf(design));
  const bears = (d: Design, withRuns: boolean): boolean => {
    const { lines } = ratingOf(d, withRuns);
    const there = new Set(lines.map(keyOf));
    const still = lines.some(isOwn) && lines.every((l) => l.reserve >= 1 || !(isOwn(l) || held.has(keyOf(l))));
    return still && (withRuns !== runs || asked.every((key) => there.has(key)));
  };
  const cures = (fix: RatingFix): boolean => {
    const changed = withRatingFix(design, fix);
    // Runs take longest: they are computed for what bears its load cases.
    return troublesOf(changed).every((t) => troubles.has(t)) && bears(changed, false) && (!runs || bears(changed, true));
  };
  return (fixes) => {
    const found = fixes.find(cures);
    return found ? [found] : [];
  };
}

/** Wheels that must have one module: those that mesh with each other, over all meshes. */
export function together(design: Design, from: readonly Id[]): Set<Id> {
  const all = new Set(from);
  for (let grew = true; grew;) {
    grew = false;
    for (const c of design.couplings) {
      const ends = [c.a, c.b].filter((x): x is Id => x !== undefined && design.elements.some((e) => e.id === x));
      if (ends.some((x) => all.has(x)) && ends.some((x) => !all.has(x))) {
        for (const x of ends) all.add(x);
        grew = true;
      }
    }
  }
  return all;
}
