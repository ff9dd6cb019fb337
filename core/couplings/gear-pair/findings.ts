import { gearOf, num } from '../../elements/index';
import { type GearData, involute, isUndercut } from '../../teeth/index';
import type { Finding, Id } from '../../fields/types';
import { finding } from '../../findings/index';
import { cross, norm } from '../../math/index';
import { type Placed, moduleFinding, pressureAngleFinding, say, faceFindings } from '../common';
import type { PairGeometry } from './geometry';

/** Modules of play beyond which teeth do not reach each other. */
const OUT_OF_REACH = 2.2;

/** Why two gears cannot be a cylindrical pair wherever they stand, or undefined. */
export function cannotPair(name: string, ids: Id[], a: Placed, b: Placed): Finding | undefined {
  if (gearOf(a.element).internal && gearOf(b.element).internal) return finding('both-internal', ids, { name });
  if (norm(cross(a.frame.z, b.frame.z)) > 1e-6) return finding('axes-not-parallel/gears', ids, { name });
  return undefined;
}

/** What of the two gears' teeth does not go together. */
export function teethDiffer(name: string, ids: Id[], a: Placed, b: Placed): Finding[] {
  const ga = gearOf(a.element),
    gb = gearOf(b.element);
  const inside = ga.internal || gb.internal;
  const out = [...moduleFinding(name, ids, ga.module, gb.module), ...pressureAngleFinding(name, ids, ga.alpha, gb.alpha)];
  if (Math.abs(inside ? ga.beta - gb.beta : ga.beta + gb.beta) > 1e-9) {
    out.push(finding(inside ? 'helix-differs/internal' : 'helix-differs/external', ids, { name }));
  }
  return out;
}

/** Contact ratios below which a drive runs roughly, and cannot run. */
const ROUGH = 1.2;

/**
 * Teeth that may jam at their limits; `least`: the least backlash, mm, where limits are stated, NaN where they do not pair
 * there.
 */
export const limitFindings = (name: string, ids: Id[], least: number | undefined): Finding[] =>
  least === undefined || least >= -1e-9
    ? []
    : [finding('tight-at-limits', ids, { name, play: Number.isNaN(least) ? 'negative' : `${say(least)} mm` })];

/** What a contact ratio means, or nothing. */
export const contactRatioFindings = (name: string, ids: Id[], ratio: number): Finding[] =>
  ratio >= ROUGH ? [] : [finding(ratio < 1 ? 'low-contact-ratio/lost' : 'low-contact-ratio', ids, { name, ratio: say(ratio, 2) })];

/**
 * Tips that run on the bottom of a space, or on the fillet below the other flank's
 * involute. An undercut flank has no fillet there: it loses contact instead.
 */
function tipFindings(ids: Id[], g: PairGeometry): Finding[] {
  const { outer, ring, distance, fit, a, b } = g;
  const [first, second] = outer === g.ga ? [a, b] : [b, a];
  const out: Finding[] = [];
  const small = 1e-6 * outer.module;
  const clearances = ring.internal
    ? [ring.rootRadius - distance - outer.tipRadius, ring.tipRadius - distance - outer.rootRadius]
    : [distance - outer.tipRadius - ring.rootRadius, distance - ring.tipRadius - outer.rootRadius];
  const sides = [
    { tip: first, of: outer, root: second, clearance: clearances[0], beyond: fit.contact.beyondSecond, cut: isUndercut(ring) },
    { tip: second, of: ring, root: first, clearance: clearances[1], beyond: fit.contact.beyondFirst, cut: isUndercut(outer) },
  ];
  for (const { tip, of, root, clearance, beyond, cut } of sides) {
    const said = { element: tip.element.name, element2: root.element.name };
    if (clearance < -small) out.push(finding('tip-on-root', ids, { ...said, by: say(-clearance) }));
    else if (beyond > small && !cut) {
      const line = Math.sqrt(Math.max(0, of.tipRadius ** 2 - of.baseRadius ** 2)) - beyond * (of.internal ? -1 : 1);
      const by = Math.abs(of.tipRadius - Math.hypot(of.baseRadius, Math.max(0, line)));
      if (by > 1e-3 * of.module) {
        out.push(
          finding(!ring.internal ? 'tip-in-fillet' : of.internal ? 'tip-in-fillet/ring' : 'tip-in-fillet/root', ids, { ...said, by: say(by) }),
        );
      }
    }
  }
  return out;
}

/**
 * Whether the tips of a wheel and its ring strike each other beside the mesh, where the tip circles cross:
 * θ1·z1/z2 + inv αw − inv αa2 < θ2 (KHK, Gear Technical Reference, trochoid interference; from memory).
 */
function trochoidInterference({ outer, ring, distance: a, fit }: PairGeometry): boolean {
  const [r1, r2] = [outer.tipRadius, ring.tipRadius];
  const [c1, c2] = [(r2 * r2 - r1 * r1 - a * a) / (2 * a * r1), (a * a + r2 * r2 - r1 * r1) / (2 * a * r2)];
  if (!(fit.workingAngle > 0) || Math.abs(c1) >= 1 || Math.abs(c2) >= 1 || r2 < ring.baseRadius) return false;
  const tipAngle = (g: GearData): number => Math.acos(g.baseRadius / g.tipRadius);
  const turn1 = Math.acos(c1) + involute(tipAngle(outer)) - involute(fit.workingAngle);
  return (turn1 * outer.teeth) / ring.teeth + involute(fit.workingAngle) - involute(tipAngle(ring)) < Math.acos(c2) - 1e-9;
}

/** Distance, contact and interference of a pair as it stands. */
export function fitFindings(name: string, ids: Id[], g: PairGeometry): Finding[] {
  const { fit, natural, distance, ring, outer, ga } = g;
  const out: Finding[] = [];
  const gap = (distance - natural.workingDistance) * (ring.internal ? -1 : 1);
  const play = Math.max(1e-4, 1e-6 * distance);
  const at = { name, distance: say(distance) };
  const due = say(natural.workingDistance);
  if (!(fit.workingAngle > 0)) out.push(finding('too-close', ids, { ...at, workingDistance: due }));
  else if (Number.isFinite(natural.workingDistance) && Math.abs(gap) > play) {
    if (gap < 0) out.push(finding('tight-mesh', ids, { ...at, workingDistance: due }));
    else out.push(finding(gap > OUT_OF_REACH * ga.module ? 'too-far-apart' : 'open-mesh', ids, { ...at, due }));
  }
  if (fit.workingAngle > 0 && gap <= OUT_OF_REACH * ga.module) {
    out.push(...contactRatioFindings(name, ids, fit.transverseContactRatio + fit.overlapRatio), ...tipFindings(ids, g));
  }
  out.push(...faceFindings(name, ids, num(g.a.element.width), num(g.b.element.width), 2 * g.lift));
  if (ring.internal) {
    // KHK Gear Technical Reference, interference of internal gears: z1/z2 ≥ 1 − tan αa2 / tan αw.
    const tipAngle = Math.acos(Math.min(1, ring.baseRadius / ring.tipRadius));
    if (fit.workingAngle > 0 && outer.teeth / ring.teeth < 1 - Math.tan(tipAngle) / Math.tan(fit.workingAngle) - 1e-9) {
      out.push(finding('internal-interference', ids, { name, teeth: outer.teeth }));
    }
    if (trochoidInterference(g)) out.push(finding('trochoid-interference', ids, { name }));
    else if (ring.teeth - outer.teeth < 8) out.push(finding('few-teeth-difference', ids, { name }));
  }
  return out;
}
