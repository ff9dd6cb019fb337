import { gearOf } from '../../elements/index';
import type { Finding, Id } from '../../fields/types';
import { finding } from '../../findings/index';
import { cross, norm } from '../../math/index';
import { type Placed, moduleFinding, pressureAngleFinding, say } from '../common';
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
  const contact = fit.transverseContactRatio + fit.overlapRatio;
  if (contact < 1.1 && fit.transverseContactRatio > 0) out.push(finding('low-contact-ratio', ids, { name, ratio: say(contact, 2) }));
  if (g.common <= 0) out.push(finding('faces-apart', ids, { name, lift: say(Math.abs(2 * g.lift)) }));
  if (ring.internal) {
    // KHK Gear Technical Reference, interference of internal gears: z1/z2 ≥ 1 − tan αa2 / tan αw.
    const tipAngle = Math.acos(Math.min(1, ring.baseRadius / ring.tipRadius));
    if (fit.workingAngle > 0 && outer.teeth / ring.teeth < 1 - Math.tan(tipAngle) / Math.tan(fit.workingAngle) - 1e-9) {
      out.push(finding('internal-interference', ids, { name, teeth: outer.teeth }));
    }
    if (ring.teeth - outer.teeth < 8) out.push(finding('few-teeth-difference', ids, { name }));
  }
  return out;
}
