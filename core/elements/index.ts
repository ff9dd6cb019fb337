import { gear } from './gear';
import { rack } from './rack';
import { crank } from './crank';
import { rod } from './rod';
import { block } from './block';
import { bevelGear } from './bevel-gear';
import { worm, wormWheel } from './worm';
import { pulley } from './pulley';
import { nut, screwElement } from './screw';
import { track, wheel } from './wheel';
import { cam, follower } from './cam';
import { pawl, ratchetWheel } from './ratchet';
import { dial, lever, pointer } from './lever';
import type { Element } from '../design/types';
import { Face, faceOfKind } from './faces';
import type { Vec3 } from '../numeric/index';
import type { ElementKind, ElementProblem } from './protocol';

export * from './protocol';
export * from './solid';
export { FACES, extentOf, type Face } from './faces';
export { gearOf, num } from './gear';
export { rackOf } from './rack';
export { bevelOf } from './bevel-gear';
export { wormOf } from './worm';
export { camOf, type CamData } from './cam';
export { pulleyRadius } from './pulley';
export { FLANK, screwLead, screwPitchDiameter } from './screw';

/** Every kind of element; a new one is a new file and a line here. */
export const ELEMENT_KINDS: readonly ElementKind[] = [
  gear,
  rack,
  bevelGear,
  worm,
  wormWheel,
  pulley,
  screwElement,
  nut,
  wheel,
  track,
  cam,
  follower,
  ratchetWheel,
  pawl,
  crank,
  lever,
  pointer,
  dial,
  rod,
  block,
];
const byType = new Map(ELEMENT_KINDS.map((k) => [k.type, k]));
export const elementKind = (type: string): ElementKind | undefined => byType.get(type);

const problemsOf = new WeakMap<Element, ElementProblem[]>();

/** What is wrong with an element in itself. Kept with the element, which is never changed in place. */
export function elementProblems(e: Element): readonly ElementProblem[] {
  let p = problemsOf.get(e);
  if (!p) problemsOf.set(e, (p = elementKind(e.type)?.problems?.(e) ?? []));
  return p;
}

/** A side of an element's extent in its own frame, mm; undefined where it has no shape. */
export const faceOf = (e: Element, side: Face): { point: Vec3; normal: Vec3 } | undefined => {
  const kind = elementKind(e.type);
  return kind && faceOfKind(kind, e, side);
};
