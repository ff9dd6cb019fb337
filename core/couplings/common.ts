import { Coupling, Finding, Id, finding } from '../fields/types';
import { Field, numberField, refField } from '../fields/fields';
import type { CouplingContext, Term } from './protocol';
import { Frame, Vec3, dot, vscale, vsub } from '../numeric/index';

export const EFFICIENCY_FIELD = numberField('efficiency', 'Efficiency', {
  symbol: 'η',
  initial: 0.98,
  above: 0,
  max: 1,
  help: 'Power out over power in, relative to the carrier, whichever side drives.',
});
export const pairFields = (a = 'First element', b = 'Second element'): Field[] => [
  refField('a', a, 'element', { required: true }),
  refField('b', b, 'element', { required: true }),
];

export const efficiencyOf = (c: Coupling, otherwise = 0.98): number => (typeof c.efficiency === 'number' ? c.efficiency : otherwise);

export const stop = (code: string, ids: Id[], message: string, field?: string): Finding => finding('stop', code, ids, message, field);

type Placed = NonNullable<ReturnType<CouplingContext['element']>>;
export type PairFound = { a: Placed; b: Placed; ids: Id[]; findings?: undefined } | { findings: Finding[]; a?: undefined };

/** The two elements of a pair with the types expected, or a finding that says what is missing. */
export function pairOf(c: Coupling, ctx: CouplingContext, types: readonly [readonly string[], readonly string[]]): PairFound {
  const a = ctx.element(c.a);
  const b = ctx.element(c.b);
  const ids = [c.id, a?.element.id, b?.element.id].filter((x): x is string => !!x);
  const wrong = (side: 'a' | 'b', want: readonly string[]): Finding =>
    stop(
      'coupling-needs-element',
      ids,
      `“${c.name ?? c.id}” needs a ${want.join(' or ')} as its ${side === 'a' ? 'first' : 'second'} element: choose one`,
      side,
    );
  if (!a || !types[0].includes(a.element.type)) return { findings: [wrong('a', types[0])] };
  if (!b || !types[1].includes(b.element.type)) return { findings: [wrong('b', types[1])] };
  if (a.member === b.member) {
    return {
      findings: [
        stop(
          'coupling-same-member',
          ids,
          `“${a.element.name}” and “${b.element.name}” are both on ${ctx.memberName(a.member)} and cannot move against each other: put one on another member`,
          'b',
        ),
      ],
    };
  }
  return { a, b, ids };
}

export const noCarrier = (c: Coupling, ctx: CouplingContext, ids: Id[], a: Id, b: Id): Finding =>
  stop(
    'no-common-carrier',
    ids,
    `no member carries both axes of “${c.name ?? c.id}”: ${ctx.memberName(a)} and ${ctx.memberName(b)} would need joints along these axes on one and the same member`,
  );

/** From the axis of a frame straight across to a point: the foot's offset, mm. */
export function acrossAxis(f: Frame, p: Vec3): Vec3 {
  const d = vsub(p, f.o);
  return vsub(d, vscale(f.z, dot(d, f.z)));
}

/** Rounds to four significant places behind the point for a sentence. */
export const say = (x: number, digits = 3): string => String(Number(x.toFixed(digits)));

/** The value folded into [-0.5, 0.5). */
export const fold = (x: number): number => x - Math.floor(x + 0.5);

/** Carrier of a pair that turns about both elements' axes, with the turns of both members against it; undefined where there is none. */
export function turnsOf(ctx: CouplingContext, a: Placed, b: Placed): { carrier: Id; turnA: Term[]; turnB: Term[] } | undefined {
  const carrier = ctx.carrier(a.member, [a.frame.o, a.frame.z], b.member, [b.frame.o, b.frame.z]);
  if (carrier === undefined) return undefined;
  const turnA = ctx.turn(a.member, carrier, a.frame.z);
  const turnB = ctx.turn(b.member, carrier, b.frame.z);
  return turnA && turnB && { carrier, turnA, turnB };
}

/** The finding that two modules differ, or nothing. mm */
export const moduleFinding = (name: string, ids: Id[], a: number, b: number): Finding[] =>
  Math.abs(a - b) > 1e-9 * a
    ? [stop('module-differs', ids, `“${name}”: module ${say(a)} mm meets module ${say(b)} mm; give both the same`, 'module')]
    : [];

/** The finding that two pressure angles differ, or nothing. rad */
export const pressureAngleFinding = (name: string, ids: Id[], a: number, b: number): Finding[] =>
  Math.abs(a - b) > 1e-9
    ? [
        stop(
          'pressure-angle-differs',
          ids,
          `“${name}”: pressure angles of ${say((a * 180) / Math.PI)}° and ${say((b * 180) / Math.PI)}° do not run together; give both the same`,
          'pressureAngle',
        ),
      ]
    : [];
