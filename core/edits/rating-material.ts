import type { MaterialGroup } from '../elements/index';
import type { ShaftSteel } from '../fields/shaft-rating';
import type { Design, Id, Member } from '../fields/types';

/** Toothed elements of which no material group is stated. */
export const withoutMaterialGroup = (design: Design): Id[] =>
  design.elements
    .filter((e) => ['gear', 'rack', 'sector', 'bevel-gear'].includes(e.type) && (e as { materialGroup?: string }).materialGroup === undefined)
    .map((e) => e.id);

/** States the material group, and where it is needed the hardness, of all toothed elements that have none. */
export function withMaterialGroup(design: Design, group: MaterialGroup, hardness: number | undefined): Design {
  const ids = new Set(withoutMaterialGroup(design));
  const stated = { materialGroup: group, ...(hardness === undefined ? {} : { hardness }) };
  return { ...design, elements: design.elements.map((e) => (ids.has(e.id) ? { ...e, ...stated } : e)) };
}

/** Whether it is stated what a member is made of, or what that bears. */
export const hasStrength = (m: Member): boolean => m.steel !== undefined || (m.tensileStrength !== undefined && m.yieldStrength !== undefined);

/** Shafts of which neither a steel is stated nor what they bear. */
export const withoutSteel = (design: Design): Id[] => design.members.filter((m) => m.kind === 'shaft' && !hasStrength(m)).map((m) => m.id);

/** States the steel of all shafts that have none. */
export function withSteel(design: Design, steel: ShaftSteel): Design {
  const ids = new Set(withoutSteel(design));
  return { ...design, members: design.members.map((m) => (ids.has(m.id) ? { ...m, steel } : m)) };
}
