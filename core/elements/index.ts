import { gear } from './gear';
import { rack } from './rack';
import { crank } from './crank';
import { rod } from './rod';
import { block } from './block';
import type { Element } from '../design/types';
import type { ElementKind, ElementProblem } from './protocol';

export * from './protocol';
export * from './solid';
export { gearOf, num } from './gear';
export { rackOf } from './rack';

/** Every kind of element; a new one is a new file and a line here. */
export const ELEMENT_KINDS: readonly ElementKind[] = [gear, rack, crank, rod, block];
const byType = new Map(ELEMENT_KINDS.map((k) => [k.type, k]));
export const elementKind = (type: string): ElementKind | undefined => byType.get(type);

const problemsOf = new WeakMap<Element, ElementProblem[]>();

/** What is wrong with an element in itself. Kept with the element, which is never changed in place. */
export function elementProblems(e: Element): readonly ElementProblem[] {
  let p = problemsOf.get(e);
  if (!p) problemsOf.set(e, (p = elementKind(e.type)?.problems?.(e) ?? []));
  return p;
}
