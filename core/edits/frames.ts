import { namedBy } from '../document/index';
import { type Design, type Element, FRAME, type Id, type Place } from '../fields/types';
import {
  type Frame,
  type Vec3,
  WORLD,
  frameOf,
  localFrame,
  toLocalPoint,
  toLocalVector,
  toWorldPoint,
  toWorldVector,
  vadd,
  vmap,
  vsub,
  vturn,
  within,
} from '../math/index';

/** Without the dust of rounding, to 12 decimals. */
export const tidy = (v: Vec3): Vec3 => vmap(v, (x) => Number(x.toFixed(12)) + 0);

/** A member's own frame in the world; the world's where there is no such member, as of the frame. */
export const memberFrame = (d: Design, id: Id): Frame => {
  const m = d.members.find((x) => x.id === id);
  return m ? frameOf(m.at ?? [0, 0, 0], m.axis, m.up) : WORLD;
};
/** An element's own frame in the world. */
export const elementFrame = (d: Design, e: Element): Frame => within(memberFrame(d, e.member), localFrame(e));

/** A frame of the world as it is stated on a member. */
export function statedOn(d: Design, member: Id, f: Frame): Required<Place> {
  const host = memberFrame(d, member);
  return { at: tidy(toLocalPoint(host, f.o)), axis: tidy(toLocalVector(host, f.z)), up: tidy(toLocalVector(host, f.x)) };
}

/** A way of going as one rigid thing (or its mirrored picture): where a point of the world, and where a direction, comes to. */
export interface Going {
  point(p: Vec3): Vec3;
  vector(v: Vec3): Vec3;
}
/** What stands in one frame stands in another. */
export const fromTo = (a: Frame, b: Frame): Going => ({
  point: (p) => toWorldPoint(b, toLocalPoint(a, p)),
  vector: (v) => toWorldVector(b, toLocalVector(a, v)),
});
/** Turned about a line; rad. */
export const turnedAbout = (o: Vec3, axis: Vec3, angle: number): Going => ({
  point: (p) => vadd(o, vturn(vsub(p, o), axis, angle)),
  vector: (v) => vturn(v, axis, angle),
});

const gone = (f: Frame, go: Going): Frame => ({ o: go.point(f.o), x: go.vector(f.x), y: go.vector(f.y), z: go.vector(f.z) });

/** Members that go, with all that is on them. */
export const carryMembers = (d: Design, members: ReadonlySet<Id>, go: Going): Design => ({
  ...d,
  members: d.members.map((m) => (members.has(m.id) ? { ...m, ...statedOn(d, FRAME, gone(memberFrame(d, m.id), go)) } : m)),
});

/**
 * Elements that go by themselves while their members stay; onto
 * another member where one is named, but for those of the frame.
 */
export const carryElements = (d: Design, elements: ReadonlySet<Id>, go: Going, onto?: Id): Design => ({
  ...d,
  elements: d.elements.map((e) => {
    if (!elements.has(e.id)) return e;
    const member = e.member === FRAME ? FRAME : (onto ?? e.member);
    return { ...e, member, ...statedOn(d, member, gone(elementFrame(d, e), go)) };
  }),
});

/** The members that each coupling joins, by its elements or joints; the frame only where it is asked for. */
export function coupledMembers(d: Design, withFrame = false): Map<Id, Id[]> {
  const memberOf = new Map<Id, Id>([...d.elements.map((e): [Id, Id] => [e.id, e.member]), ...d.joints.map((j): [Id, Id] => [j.id, j.child])]);
  return new Map(
    d.couplings.map((c) => [
      c.id,
      [...new Set(namedBy('couplings', c).map((n) => memberOf.get(n)))].filter((m): m is Id => m !== undefined && (withFrame || m !== FRAME)),
    ]),
  );
}
