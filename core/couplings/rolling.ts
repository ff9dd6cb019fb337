import { finding } from '../findings/index';
import { type Stated, numberField } from '../fields/fields';
import type { Coupling, Finding, Id } from '../fields/types';
import { type Track, type Wheel, curveOf, exactOf, num } from '../elements/index';
import { type PiRatio, type Vec3, cross, dot, mul, neg, norm, piRatio, ratio, toWorldPoint, unit, vadd, vscale, vsub } from '../math/index';
import {
  CONTACT_LIMIT_FIELD,
  EFFICIENCY_FIELD,
  type Placed,
  acrossAxis,
  efficiencyOf,
  noCarrier,
  pairFields,
  pairOf,
  perpendicular,
  say,
  turningPort,
} from './common';
import type { CouplingContext, CouplingKind, Engagement, Port, Term } from './protocol';

const FIELDS = [
  ...pairFields('Wheel', 'Track or wheel'),
  { ...EFFICIENCY_FIELD, initial: 1 },
  numberField('wheelLoad', 'Wheel load', {
    rare: true,
    unit: 'N',
    symbol: 'FN',
    above: 0,
    max: 1e9,
    help: 'Force that presses the two together, for the rating.',
  }),
  numberField('adhesion', 'Coefficient of adhesion', {
    rare: true,
    symbol: 'μ',
    above: 0,
    max: 2,
    help: 'For the rating: whether the wheel slips.',
  }),
  CONTACT_LIMIT_FIELD,
];
/** What is stated of one, from its fields. */
export type Rolling = Coupling & Stated<typeof FIELDS>;

/**
 * What a wheel rolls on, where they touch: the line about or along
 * which that moves against the carrier, and what its motion is worth.
 */
interface Ground {
  motion: Port['motion'];
  line: [Vec3, Vec3];
  /** How far the wheel's axis is from it and how far it ought to be, mm. */
  gap: number;
  due: number;
  /** From the wheel's axis to where it touches: the foot on the axis, and the direction. */
  foot: Vec3;
  toward: Vec3;
  /** The coefficient of the ground's motion where the wheel's is its diameter, for a contact that goes `along`. */
  coefficient(along: Vec3, point: Vec3): PiRatio;
  engagement?(motion: Port, point: Vec3): Engagement[];
  findings: Finding[];
}

type Refused = { findings: Finding[]; motion?: undefined };

const signOf = (x: number): number => Math.sign(x) || 1;

/** The wheel may stand beside the middle of its track by half of both widths. mm */
const beside = (name: string, ids: Id[], a: Placed<Wheel>, b: Placed<Track>, off: number): Finding[] =>
  Math.abs(off) > (num(a.element.width) + num(b.element.width)) / 2 ? [finding('beside-track', ids, { name, off: say(Math.abs(off)) })] : [];

function straight(name: string, ids: Id[], a: Placed<Wheel>, b: Placed<Track>): Ground | Refused {
  const { frame } = b;
  if (Math.abs(dot(a.frame.z, frame.x)) > 1e-6) return { findings: [finding('axis-not-square/track', ids, { name })] };
  const length = num(b.element.length);
  return {
    motion: 'slide',
    line: [frame.o, frame.x],
    gap: dot(vsub(a.frame.o, frame.o), frame.y),
    due: num(a.element.diameter) / 2,
    foot: a.frame.o,
    toward: vscale(frame.y, -1),
    coefficient: (along) => piRatio(ratio(-signOf(dot(along, frame.x)))),
    engagement(motion, point) {
      const place = dot(vsub(point, frame.o), frame.x);
      return [
        {
          motion,
          from: place - length / 2,
          to: place + length / 2,
          what: `the track of ${length} mm`,
          enough: (travel) => `a track of ${say(2 * Math.abs(place - travel), 1)} mm`,
        },
      ];
    },
    findings: beside(name, ids, a, b, dot(vsub(a.frame.o, frame.o), frame.z)),
  };
}

/**
 * A wheel on a curve rolls by its distance from the curve's middle along its own axis: what goes across that is
 * skidding. The stated radius counts wherever on the breadth of the track the wheel stands, so that the ratio is exact.
 */
function curved(name: string, ids: Id[], a: Placed<Wheel>, b: Placed<Track>, curve: NonNullable<ReturnType<typeof curveOf>>): Ground | Refused {
  const { frame } = b,
    { radius, side, half } = curve;
  if (Math.abs(dot(a.frame.z, frame.y)) > 1e-6) return { findings: [finding('axis-not-square/curve', ids, { name })] };
  const middle = toWorldPoint(frame, [0, 0, side * radius]);
  // The foot of the perpendicular between the wheel's axis and that of the curve, and from there out along the wheel's axis.
  const feet = perpendicular(a.frame, { ...frame, o: middle, z: frame.y })!;
  const out = vscale(a.frame.z, signOf(dot(vsub(a.frame.o, feet.footA), a.frame.z)));
  const foot = vadd(feet.footA, vscale(out, radius));
  const level = (p: Vec3): Vec3 => vsub(p, vscale(frame.y, dot(p, frame.y)));
  const away = level(vsub(a.frame.o, middle));
  const skew = Math.asin(Math.min(1, feet.distance / Math.max(norm(away), feet.distance, 1e-9)));
  return {
    motion: 'turn',
    line: [middle, frame.y],
    gap: dot(vsub(a.frame.o, frame.o), frame.y),
    due: num(a.element.diameter) / 2,
    foot,
    toward: vscale(frame.y, -1),
    coefficient(along, point) {
      const twice = mul(exactOf(b.element.curve), ratio(2 * side));
      return piRatio(dot(along, cross(frame.y, vsub(point, middle))) > 0 ? neg(twice) : twice);
    },
    engagement(motion, point) {
      if (half >= Math.PI * (1 - 1e-9)) return [];
      const at = vsub(point, middle);
      // The angle about the curve's axis from the middle of the track to the wheel, rad.
      const place = Math.atan2(-side * dot(at, frame.x), -side * dot(at, frame.z));
      const turns = (x: number): number => x / (2 * Math.PI);
      return [
        {
          motion,
          from: turns(place - half),
          to: turns(place + half),
          what: `the track of ${num(b.element.length)} mm`,
          enough: (turn) => `a track of ${say(2 * radius * Math.abs(place - turn * 2 * Math.PI), 1)} mm`,
        },
      ];
    },
    findings: [
      ...beside(name, ids, a, b, norm(away) - radius),
      ...(skew > 1e-4 ? [finding('askew-in-curve', ids, { name, angle: say((skew * 180) / Math.PI, 2) })] : []),
    ],
  };
}

function round(name: string, ids: Id[], a: Placed<Wheel>, b: Placed<Wheel>): Ground | Refused {
  const { frame } = b;
  if (norm(cross(a.frame.z, frame.z)) > 1e-6) return { findings: [finding('axes-not-parallel/wheels', ids, { name })] };
  const across = acrossAxis(a.frame, frame.o);
  return {
    motion: 'turn',
    line: [frame.o, frame.z],
    gap: norm(across),
    due: (num(a.element.diameter) + num(b.element.diameter)) / 2,
    foot: a.frame.o,
    toward: unit(across),
    coefficient(along, point) {
      const d = exactOf(b.element.diameter);
      return piRatio(dot(along, cross(frame.z, vsub(point, frame.o))) >= 0 ? neg(d) : d);
    },
    findings: [],
  };
}

const TAKES = [['wheel'], ['wheel', 'track']] as const;

/**
 * A wheel that rolls without slip on a straight track (π d per turn), on
 * a curved one (by its radius) or on another wheel (by their diameters).
 */
export const rolling: CouplingKind<Rolling> = {
  type: 'rolling',
  label: 'Rolling contact',
  fields: FIELDS,
  takes: TAKES,
  model(c, ctx) {
    const pair = pairOf<Wheel, Wheel & Track>(c, ctx, TAKES);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const curve = b.element.type === 'track' ? curveOf(b.element) : undefined;
    const ground = b.element.type === 'wheel' ? round(name, ids, a, b) : curve ? curved(name, ids, a, b, curve) : straight(name, ids, a, b);
    if (!ground.motion) return ground;
    const { motion, line, foot, toward, gap, due } = ground;
    const found = motionsOf(ctx, a, b.member, ground);
    if (!found) return { findings: [...ground.findings, noCarrier(c, ctx, ids, a.member, b.member)] };
    const { carrier, turn, other } = found;
    const r = num(a.element.diameter) / 2,
      eta = efficiencyOf(c, 1);
    const point = vadd(foot, vscale(toward, r));
    const along = cross(a.frame.z, toward);
    const under: Port = {
      member: b.member,
      carrier,
      motion,
      point: line[0],
      axis: line[1],
      terms: other,
      coefficient: ground.coefficient(along, point),
    };
    return {
      findings: [...ground.findings, ...(Math.abs(gap - due) > 1e-3 ? [finding('not-touching', ids, { name, gap: say(gap), due: say(due) })] : [])],
      model: {
        law: 'proportional',
        ports: [turningPort(a, carrier, turn, piRatio(exactOf(a.element.diameter), motion === 'slide' ? 1 : 0)), under],
        contacts: [{ a: 0, b: 1, point, along, spread: [0, 0, 0] }],
        efficiency: { forward: eta, backward: eta },
        ...(ground.engagement && { engagements: ground.engagement(under, point) }),
        ...(b.element.type === 'track' && {
          derived: [{ key: 'perTurn', label: 'Way per turn', value: 2 * Math.PI * r, unit: 'mm', formula: 'π·d' }],
        }),
      },
    };
  },
};

/** How both move against the member that carries them, or nothing where none does. */
function motionsOf(ctx: CouplingContext, a: Placed<Wheel>, other: Id, ground: Ground): { carrier: Id; turn: Term[]; other: Term[] } | undefined {
  const carrier = ctx.carrier(a.member, [a.frame.o, a.frame.z], other, ground.line);
  if (carrier === undefined) return undefined;
  const turn = ctx.turn(a.member, carrier, [a.frame.o, a.frame.z]),
    under = ground.motion === 'slide' ? ctx.travel(other, carrier, ground.line) : ctx.turn(other, carrier, ground.line);
  return turn && under && { carrier, turn, other: under };
}
