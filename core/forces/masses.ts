import { Element, Id, Member } from '../fields/types';
import { DENSITY_STEEL, byShape, elementKind, num } from '../elements/index';
import { type MassProperties, NO_MASS, massOf, placeMass, sumMass } from '../solids/index';
import { WORLD, toWorldPoint } from '../math/index';
import type { Compiled } from '../kinematics/index';

/**
 * Mass of one element in its own frame, from its shape and density. kg,
 * mm. Teeth take time to draw and weigh: equal elements are weighed once.
 */
export const elementMass = byShape((e: Element & { density?: number }): MassProperties => {
  const kind = elementKind(e.type);
  if (!kind) return NO_MASS;
  return kind.weight ? (kind.weight(e) ?? NO_MASS) : massOf(kind.shape(e), num(e.density, DENSITY_STEEL));
});

/** Masses follow from the compiled design, which never changes: they are kept with it. */
const known = new WeakMap<Compiled, ReadonlyMap<Id, MassProperties>>();

/** Masses of all members by id. */
export function massesOf(compiled: Compiled): ReadonlyMap<Id, MassProperties> {
  let masses = known.get(compiled);
  if (!masses) known.set(compiled, (masses = weighMembers(compiled)));
  return masses;
}

function weighMembers(compiled: Compiled): ReadonlyMap<Id, MassProperties> {
  const byMember = new Map<Id, MassProperties[]>();
  for (const e of compiled.design.elements) {
    const f = compiled.elementFrames.get(e.id);
    const m = compiled.structure.members.get(e.member);
    if (!f || !m || allStated(m)) continue;
    const list = byMember.get(e.member);
    const part = placeMass(elementMass(e), f);
    if (list) list.push(part);
    else byMember.set(e.member, [part]);
  }
  const out = new Map<Id, MassProperties>();
  for (const m of compiled.design.members) {
    const shapes = sumMass(byMember.get(m.id) ?? []);
    out.set(m.id, m.mass === undefined && !m.massCentre && !m.inertia ? shapes : stated(m, shapes, compiled));
  }
  return out;
}

/** Where nothing of the shapes counts: they need not be weighed. */
const allStated = (m: Member): boolean => m.mass === 0 || (m.mass !== undefined && !!m.massCentre && !!m.inertia);

/**
 * What the designer stated of mass, centre and inertia, each by itself; what
 * is left open comes from the shapes, their inertia in proportion to the mass.
 */
function stated(m: Member, shapes: MassProperties, compiled: Compiled): MassProperties {
  const frame = compiled.structure.frames.get(m.id) ?? WORLD;
  const mass = m.mass ?? shapes.mass;
  const centre = m.massCentre ? toWorldPoint(frame, m.massCentre) : shapes.mass > 0 ? shapes.centre : frame.o;
  if (m.inertia) {
    const six = [...m.inertia, ...(m.inertiaProducts ?? [0, 0, 0])].map((x) => x * 1e6) as unknown as MassProperties['inertia'];
    return { ...placeMass({ mass, centre: [0, 0, 0], inertia: six }, frame), centre };
  }
  const k = shapes.mass > 0 ? mass / shapes.mass : 0;
  const [xx, yy, zz, xy, yz, zx] = shapes.inertia;
  return { mass, centre, inertia: [xx * k, yy * k, zz * k, xy * k, yz * k, zx * k] };
}
