import { type Pawl, type PawlPlace, type RatchetWheel, num, pawlSwing } from '../elements/index';
import type { Design, Id } from '../fields/types';
import { type Frame, type Vec3, cross, dot, norm, unit, vadd, vscale, vsub } from '../math/index';
import { elementFrame, statedOn, turnedAbout } from './frames';

/** Nearer to the wheel's axis than this a nose has no side, mm. */
const ON_AXIS = 1e-6;

/** How a pawl stands at its wheel: seen along the wheel's axis, in the wheel's own frame. */
export function pawlPlace(wheel: Frame, pawl: Frame): PawlPlace {
  const d = vsub(pawl.o, wheel.o);
  return { pivot: [dot(d, wheel.x), dot(d, wheel.y)], towards: Math.atan2(dot(pawl.x, wheel.y), dot(pawl.x, wheel.x)) };
}

const pawlsOf = (d: Design, wheel: Id): Pawl[] =>
  d.couplings.flatMap((c) => (c.type === 'ratchet' && c.a === wheel ? d.elements.filter((e) => e.id === c.b && e.type === 'pawl') : []));

/** A ratchet wheel turned about its own axis so that a face stands at the nose of its pawl. */
function faceAtNose(d: Design, wheel: RatchetWheel, pawl: Pawl): Design {
  const f = elementFrame(d, wheel);
  const off = pawlSwing(wheel, pawl, pawlPlace(f, elementFrame(d, pawl)))?.off ?? 0;
  if (off === 0) return d;
  const go = turnedAbout(f.o, f.z, off);
  const stated = statedOn(d, wheel.member, { ...f, x: go.vector(f.x), y: go.vector(f.y) });
  return { ...d, elements: d.elements.map((e) => (e.id === wheel.id ? { ...e, ...stated } : e)) };
}

/**
 * The design with a ratchet wheel that lets the other sense pass: its pawls are mirrored in the plane through the
 * wheel's axis and their noses, so that they hold against the faces as before, and a face stands at the nose.
 */
export function withRatchetSense(design: Design, wheel: Id, free: 'forward' | 'back'): Design {
  const old = design.elements.find((e): e is RatchetWheel => e.id === wheel && e.type === 'ratchet-wheel');
  if (!old || (old.free ?? 'forward') === free) return design;
  const next: RatchetWheel = { ...old, free };
  let d: Design = { ...design, elements: design.elements.map((e) => (e.id === wheel ? next : e)) };
  const f = elementFrame(d, next);
  const pawls = pawlsOf(d, wheel);
  for (const pawl of pawls) {
    const p = elementFrame(d, pawl);
    const nose = vsub(vadd(p.o, vscale(p.x, num(pawl.length))), f.o);
    const radial = vsub(nose, vscale(f.z, dot(nose, f.z)));
    if (norm(radial) < ON_AXIS) continue;
    const side = cross(f.z, unit(radial));
    const mirrored = (v: Vec3): Vec3 => vsub(v, vscale(side, 2 * dot(v, side)));
    const x = mirrored(p.x);
    const stated = statedOn(d, pawl.member, { o: vadd(f.o, mirrored(vsub(p.o, f.o))), x, y: cross(p.z, x), z: p.z });
    d = { ...d, elements: d.elements.map((e) => (e.id === pawl.id ? { ...e, ...stated } : e)) };
  }
  return pawls.length
    ? faceAtNose(
        d,
        next,
        d.elements.find((e) => e.id === pawls[0].id)!,
      )
    : d;
}
