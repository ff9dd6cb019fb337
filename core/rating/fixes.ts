import { analyse, casesOf } from '../checks/index';
import { settle } from '../edits/index';
import type { Design, Element, Id } from '../fields/types';
import { type Gear, num } from '../elements/index';
import { ISO_54 } from '../sizing/index';
import type { Rating } from './protocol';
import { savedRuns, steadyCase } from './instants';
import { rate } from './rate';

/**
 * A change that makes a mesh bear what is wanted: fields of elements, and the least safety of its roots and flanks that comes
 * of it.
 */
export interface RatingFix {
  readonly label: string;
  readonly changes: readonly { readonly element: Id; readonly field: 'module' | 'width' | 'materialGroup'; readonly value: number | string }[];
}

/** Makes the change, and brings the train to its working distances again. */
export function withRatingFix(design: Design, { changes }: RatingFix): Design {
  const elements = design.elements.map((e) => {
    const own = changes.filter((c) => c.element === e.id);
    return own.length ? { ...forMaterial(e, own), ...Object.fromEntries(own.map((c) => [c.field, c.value])) } : e;
  });
  const typed = Object.fromEntries(Object.entries(design.typed ?? {}).filter(([key]) => !changes.some((c) => key === `${c.element}.${c.field}`)));
  const next = { ...design, elements, ...(design.typed && { typed }) };
  return changes.some((c) => c.field === 'module') ? settle(next).design : next;
}
/** A harder material has the hardness of its group: what was stated of the softer one goes, and its limits with it. */
const OF_MATERIAL: readonly string[] = ['hardness', 'contactLimit', 'bendingLimit'];
const forMaterial = (e: Element, own: RatingFix['changes']): Element =>
  own.some((c) => c.field === 'materialGroup') ? (Object.fromEntries(Object.entries(e).filter(([key]) => !OF_MATERIAL.includes(key))) as Element) : e;

/** The rating of a design in all its load cases and saved runs, or in load cases alone. */
export function ratingOf(design: Design, runs = true): Rating {
  const worked = analyse(design);
  return rate(worked.compiled, [...casesOf(worked).map(steadyCase), ...(runs ? savedRuns(design) : [])]);
}

/**
 * How far a face is widened at most: to so many diameters of the pinion (common practice for a shaft with bearings on both
 * sides).
 */
const WIDEST = 1.2;
/** Steps in which it is tried, of its present width. */
const WIDER = [1.1, 1.2, 1.3, 1.5, 1.75, 2, 2.5, 3];

/** Wheels that must have one module: those that mesh with each other, over all meshes. */
function together(design: Design, from: readonly Id[]): Set<Id> {
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

/**
 * Changes with which a mesh that fails bears what is wanted: a wider face, a larger module of ISO 54 (for all wheels that mesh
 * with one another), case-hardened steel. Each is tried on the whole design: forces, speeds and places are worked out again.
 */
export function ratingFixes(design: Design, coupling: Id): RatingFix[] {
  const c = design.couplings.find((x) => x.id === coupling);
  const wheels = design.elements.filter((e): e is Gear => e.id === c?.a || e.id === c?.b);
  if (wheels.length < 2) return [];
  const bears = (d: Design, runs: boolean): boolean => {
    const own = ratingOf(d, runs).lines.filter((l) => l.item === coupling);
    return own.length > 0 && own.every((l) => l.reserve >= 1);
  };
  // Runs take longest: they are computed for what bears its load cases.
  const cures = (fix: RatingFix): boolean => {
    const changed = withRatingFix(design, fix);
    return bears(changed, false) && (!design.runs?.length || bears(changed, true));
  };
  const out: RatingFix[] = [];
  const first = (fixes: Iterable<RatingFix>): void => {
    for (const f of fixes) {
      if (!cures(f)) continue;
      out.push(f);
      return;
    }
  };
  const smallest = Math.min(...wheels.filter((w) => w.type === 'gear' && w.internal !== true).map((w) => num(w.teeth) * num(w.module)));
  const width = Math.min(...wheels.map((w) => num(w.width)));
  first(
    WIDER.map((k) => Math.round(k * width))
      .filter((b) => b > width && b <= WIDEST * smallest)
      .map((b) => ({
        label: `Face width ${b} mm instead of ${width} mm`,
        changes: wheels.map((w) => ({ element: w.id, field: 'width' as const, value: Math.max(b, num(w.width)) })),
      })),
  );
  const module = num(wheels[0].module);
  const all = together(
    design,
    wheels.map((w) => w.id),
  );
  const toothed = design.elements.filter((e) => all.has(e.id) && 'module' in e);
  first(
    ISO_54.filter((m) => m > module * (1 + 1e-9))
      .slice(0, 5)
      .map((m) => ({
        label: `Module ${m} mm instead of ${Number(module.toPrecision(4))} mm${toothed.length > 2 ? `, of all ${toothed.length} wheels that mesh with them` : ''}`,
        changes: toothed.map((e) => ({ element: e.id, field: 'module' as const, value: m })),
      })),
  );
  const soft = wheels.filter((w) => w.materialGroup !== 'case-hardened steel');
  if (soft.length) {
    first([
      {
        label: `Case-hardened steel for ${soft.map((w) => w.name).join(' and ')}`,
        changes: soft.map((w) => ({ element: w.id, field: 'materialGroup' as const, value: 'case-hardened steel' })),
      },
    ]);
  }
  return out;
}
