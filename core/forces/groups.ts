import { statedBy } from '../fields/fields';
import type { Compiled } from '../kinematics/index';
import { Groups } from '../math/index';
import type { Columns } from './multipliers';

/**
 * Coordinates in groups that have nothing to do with each other: no coupling, no joint, no load
 * and no body between them but the frame. What happens in one changes no figure of another.
 */
export function groupsOf({ structure, design }: Compiled, columns: Columns): Groups {
  const { coordinates, bodies, bodyOf } = structure;
  // Bodies first, then coordinates; the frame joins nothing.
  const groups = new Groups(bodies + coordinates.length);
  const own = (body: number): number[] => (body ? [body] : []);
  for (const c of coordinates) groups.unite([bodies + c.index, ...own(c.parent), ...own(c.body)]);
  for (const c of structure.closures) groups.unite([...own(c.reached), ...own(c.child)]);
  for (const at of columns.at) groups.unite(Array.from(at, (i) => bodies + i));
  for (const load of design.loads) groups.unite(Object.values(statedBy(load)).flatMap((v) => own((typeof v === 'string' && bodyOf.get(v)) || 0)));
  return groups;
}
