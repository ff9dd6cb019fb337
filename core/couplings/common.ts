import { eitherOf } from '../units/index';
import { finding } from '../findings/index';
import type { Coupling, Element, Finding, Id } from '../fields/types';
import { type Field, numberField, refField } from '../fields/fields';
import type { CouplingContext, Engagement, Term, Port } from './protocol';
import { Frame, ONE, Vec3, cross, dot, norm, piNeg, piRatio, unit, vadd, vscale, vsub, type PiRatio } from '../math/index';

export const EFFICIENCY_FIELD = numberField('efficiency', 'Efficiency', {
  symbol: 'η',
  initial: 0.98,
  above: 0,
  max: 1,
  help: 'Power out over power in, relative to the carrier, whichever side drives.',
});
/** Of two bodies that touch along a line or in a point. */
export const CONTACT_LIMIT_FIELD = numberField('contactLimit', 'Permissible contact pressure', {
  rare: true,
  unit: 'MPa',
  above: 0,
  max: 5000,
  help: 'Of both bodies, for the rating.',
});
/** Stated in place of what the rating computes. */
export const FACE_LOAD_FIELD = numberField('faceLoadFactor', 'Face load factor', {
  rare: true,
  symbol: 'KHβ',
  min: 1,
  max: 20,
  help: 'For the rating, in place of what is computed for a pinion in the middle between its bearings.',
});
/** Of a chain or a rope, for its rating. */
export const BREAKING_FORCE_FIELD = numberField('breakingForce', 'Breaking force', {
  rare: true,
  unit: 'N',
  symbol: 'FB',
  above: 0,
  max: 1e9,
  help: 'Least breaking force, for the rating.',
});
/** For planets: how evenly they share. */
export const MESH_LOAD_FIELD = numberField('meshLoadFactor', 'Mesh load factor', {
  rare: true,
  symbol: 'Kγ',
  initial: 1,
  min: 1,
  max: 5,
  help: 'For the rating: how much more than its share the most loaded of several equal meshes carries, as of planets (ISO 6336-1).',
});
/** Of meshes whose axes stand within a tolerance. */
export const DISTANCE_TOLERANCE_FIELD = numberField('distanceTolerance', 'Centre distance tolerance ±', {
  rare: true,
  unit: 'mm',
  symbol: 'Aa',
  initial: 0,
  min: 0,
  max: 100,
  help: 'For the least and the greatest backlash.',
});
/** Of couplings whose play no geometry gives. */
export const PLAY_FIELD = numberField('play', 'Play', {
  rare: true,
  initial: 0,
  min: 0,
  max: 1e4,
  help: 'How far the second part can be moved to and fro while the first is held, deg or mm: for the lost motion.',
});
/** Of teeth: what excites a train in the rhythm of its mesh. */
export const TRANSMISSION_ERROR_FIELD = numberField('transmissionError', 'Transmission error', {
  rare: true,
  unit: 'mm',
  above: 0,
  max: 10,
  help: 'Its amplitude at the pitch circle, in the rhythm of the teeth: for forced vibration.',
});
/** Of couplings whose stiffness no method computes. */
export const STIFFNESS_FIELD = numberField('stiffness', 'Stiffness', {
  rare: true,
  above: 0,
  max: 1e9,
  help: 'Of the second part while the first is held, N·m/deg of what turns or N/mm of what travels: for wind-up and natural frequencies.',
});
export const pairFields = (a = 'First element', b = 'Second element'): (Field<'a', Id> | Field<'b', Id>)[] => [
  refField('a', a, 'element', { required: true }),
  refField('b', b, 'element', { required: true }),
];

export const efficiencyOf = (c: { efficiency?: number }, otherwise = 0.98): number => c.efficiency ?? otherwise;

/** An element where it stands; E is its kind. */
export type Placed<E extends Element = Element> = NonNullable<ReturnType<CouplingContext['element']>> & { element: E };
export type PairFound<A extends Element, B extends Element> =
  { a: Placed<A>; b: Placed<B>; ids: Id[]; findings?: undefined } | { findings: Finding[]; a?: undefined };

/** The two elements of a pair with the types expected, or a finding that says what is missing. */
export function pairOf<A extends Element, B extends Element>(
  c: Coupling,
  ctx: CouplingContext,
  types: readonly [readonly string[], readonly string[]],
): PairFound<A, B> {
  const a = ctx.element(c.a);
  const b = ctx.element(c.b);
  const ids = [c.id, a?.element.id, b?.element.id].filter((x): x is string => !!x);
  const wrong = (side: 'a' | 'b', want: readonly string[]): Finding =>
    finding('coupling-needs-element/pair', ids, { name: c.name ?? c.id, wanted: eitherOf(want), word: side === 'a' ? 'first' : 'second' }, side);
  if (!a || !types[0].includes(a.element.type)) return { findings: [wrong('a', types[0])] };
  if (!b || !types[1].includes(b.element.type)) return { findings: [wrong('b', types[1])] };
  if (a.member === b.member) {
    return {
      findings: [finding('coupling-same-member/pair', ids, { element: a.element.name, element2: b.element.name, member: ctx.memberName(a.member) })],
    };
  }
  // The types asked for by name are those of A and B.
  return { a: a as Placed<A>, b: b as Placed<B>, ids };
}

export const noCarrier = (c: Coupling, ctx: CouplingContext, ids: Id[], a: Id, b: Id): Finding =>
  finding('no-common-carrier', ids, { name: c.name ?? c.id, member: ctx.memberName(a), member2: ctx.memberName(b) });

/** From the axis of a frame straight across to a point: the foot's offset, mm. */
export function acrossAxis(f: Frame, p: Vec3): Vec3 {
  const d = vsub(p, f.o);
  return vsub(d, vscale(f.z, dot(d, f.z)));
}

/**
 * Feet of the common perpendicular of two axes that cross, on a's and on b's, its
 * direction from a to b (unit) and how long it is, mm; undefined where they are parallel.
 */
export function perpendicular(a: Frame, b: Frame): { footA: Vec3; footB: Vec3; direction: Vec3; distance: number } | undefined {
  const across = cross(a.z, b.z);
  if (norm(across) < 1e-6) return undefined;
  const between = vsub(b.o, a.o),
    cosine = dot(a.z, b.z);
  const gap = dot(between, unit(across));
  const footA = vadd(a.o, vscale(a.z, (dot(between, a.z) - dot(between, b.z) * cosine) / norm(across) ** 2));
  const direction = vscale(unit(across), Math.sign(gap) || 1);
  return { footA, footB: vadd(footA, vscale(direction, Math.abs(gap))), direction, distance: Math.abs(gap) };
}

/** Rounds to four significant places behind the point for a sentence. */
export const say = (x: number, digits = 3): string => String(Number(x.toFixed(digits)));

/** The value folded into [-0.5, 0.5); what only rounding keeps from a whole number is 0. */
export function fold(x: number): number {
  const off = x - Math.floor(x + 0.5);
  return Math.abs(off) < 1e-9 * Math.max(1, Math.abs(x)) ? 0 : off;
}

/**
 * Carrier of a pair that turns about both elements' axes, with the
 * turns of both members against it; undefined where there is none.
 */
export function turnsOf(ctx: CouplingContext, a: Placed, b: Placed): { carrier: Id; turnA: Term[]; turnB: Term[] } | undefined {
  const carrier = ctx.carrier(a.member, [a.frame.o, a.frame.z], b.member, [b.frame.o, b.frame.z]);
  if (carrier === undefined) return undefined;
  const turnA = ctx.turn(a.member, carrier, [a.frame.o, a.frame.z]);
  const turnB = ctx.turn(b.member, carrier, [b.frame.o, b.frame.z]);
  return turnA && turnB && { carrier, turnA, turnB };
}

/** What two faces have in common along the axis, mm; `off` is how far their middles are apart. */
export const commonFace = (a: number, b: number, off: number): number => Math.min(a, b, (a + b) / 2 - Math.abs(off));

/** Faces that bear on each other nowhere, or on a part of the narrower one alone. mm */
export function faceFindings(name: string, ids: Id[], a: number, b: number, off: number): Finding[] {
  const common = commonFace(a, b, off);
  const least = Math.min(a, b);
  if (common <= 0) return [finding('faces-apart', ids, { name, lift: say(Math.abs(off)) })];
  return common < least * (1 - 1e-9) ? [finding('faces-apart/part', ids, { name, common: say(common), least: say(least) })] : [];
}

/**
 * The face along which two elements bear on each other while one of them travels along the
 * line of the first's axis, or nothing where none does. `off`: as their middles stand, mm.
 */
export function faceEngagement(
  ctx: CouplingContext,
  carrier: Id,
  a: Placed,
  b: Placed,
  widths: readonly [number, number],
  off: number,
): Engagement[] {
  const motion = shiftOf(ctx, carrier, a, b);
  const reach = (widths[0] + widths[1]) / 2;
  if (!motion || Math.abs(off) >= reach) return [];
  return [
    {
      motion,
      from: -reach - off,
      to: reach - off,
      what: 'the face that both have in common',
      enough: (travel) => `a face wider by ${say(2 * (Math.abs(off + travel) - reach), 1)} mm`,
    },
  ];
}

/** An element's travel along an axis against the carrier, as a port of a coupling; none where it does not travel so. */
export function travelPorts(ctx: CouplingContext, carrier: Id, p: Placed, axis: Vec3, coefficient: PiRatio): Port[] {
  const terms = ctx.travel(p.member, carrier, [p.frame.o, axis]);
  return terms?.length ? [{ member: p.member, carrier, motion: 'slide', point: p.frame.o, axis, terms, coefficient }] : [];
}

/** Travel of b against a along a's axis. */
function shiftOf(ctx: CouplingContext, carrier: Id, a: Placed, b: Placed): Port | undefined {
  const axis = a.frame.z;
  const travel = (p: Placed): readonly Term[] => travelPorts(ctx, carrier, p, axis, piRatio(ONE))[0]?.terms ?? [];
  const terms = [...travel(b)];
  for (const t of travel(a)) {
    const at = terms.findIndex((x) => x.coordinate === t.coordinate);
    if (at < 0) terms.push({ ...t, factor: piNeg(t.factor) });
    // What carries both along shifts neither against the other.
    else terms.splice(at, 1);
  }
  return terms.length ? { member: b.member, carrier, motion: 'slide', point: b.frame.o, axis, terms, coefficient: piRatio(ONE) } : undefined;
}

/** The finding that two modules differ, or nothing. mm */
export const moduleFinding = (name: string, ids: Id[], a: number, b: number): Finding[] =>
  Math.abs(a - b) > 1e-9 * a ? [finding('module-differs', ids, { name, a: say(a), b: say(b) })] : [];

/** The finding that two pressure angles differ, or nothing. rad */
export const pressureAngleFinding = (name: string, ids: Id[], a: number, b: number): Finding[] =>
  Math.abs(a - b) > 1e-9 ? [finding('pressure-angle-differs', ids, { name, a: say((a * 180) / Math.PI), b: say((b * 180) / Math.PI) })] : [];

/** The turn of an element about its own axis relative to the carrier, as one side of a coupling. */
export const turningPort = (p: Placed, carrier: Id, terms: Term[], coefficient: PiRatio): Port => ({
  member: p.member,
  carrier,
  motion: 'turn',
  point: p.frame.o,
  axis: p.frame.z,
  terms,
  coefficient,
});
