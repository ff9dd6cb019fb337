import { finding } from '../findings/index';
import type { Coupling, Finding, Id } from '../fields/types';
import { type Stated, choiceField, flagField, numberField, refField, wholeField } from '../fields/fields';
import {
  type Derived,
  type Pawl,
  type PawlPlace,
  type PawlSwing,
  type RatchetWheel,
  num,
  pawlSwing,
  ratchetDiameter,
  swingOverPitch,
} from '../elements/index';
import { ONE, cross, dot, neg, norm, piRatio, sameLine, unit, vadd, vscale, vsub } from '../math/index';
import { acrossAxis, noCarrier, pairFields, pairOf, say } from './common';
import type { CouplingKind, CouplingModel, HoldModel, Port } from './protocol';

const DEG = 180 / Math.PI;
/** Friction of steel on steel that keeps a pawl from sliding out. Common practice. */
const FRICTION = 0.15;
/** Part of a pitch by which a face may stand off the nose in the reference position, rad over teeth. */
const BETWEEN_TEETH = 0.02 * 2 * Math.PI;
/** How far from the tips a pawl's nose may stand and still touch, as a part of the wheel's radius. */
const NEAR_TIPS = 0.25;

const RATCHET_FIELDS = [
  ...pairFields('Ratchet wheel', 'Pawl'),
  wholeField('pawls', 'Pawls, evenly staggered', { initial: 1, min: 1, max: 12 }),
  flagField('lifted', 'Pawl lifted', { initial: false }),
];
/** What is stated of one, from its fields. */
export type Ratchet = Coupling & Stated<typeof RATCHET_FIELDS>;

/** How closely the face at the nose is found, rad. */
const FOUND = 1e-9;

/** What the pawl does as the wheel passes under it: it is lifted by each tooth and drops, so that what lifts it is lost. */
function riding(wheel: RatchetWheel, pawl: Pawl, swing: PawlSwing): Derived[] {
  const range = swing.tip - swing.root;
  return [
    { key: 'swing', label: 'Swing of the pawl over a tooth', value: range * DEG, unit: 'deg' },
    { key: 'atFace', label: 'Turn of the wheel that puts a face at the nose', value: Math.abs(swing.off) < FOUND ? 0 : swing.off * DEG, unit: 'deg' },
    {
      key: 'riding',
      label: 'Mean torque to turn the wheel under it',
      value: (num(pawl.press) * range * num(wheel.teeth)) / (2 * Math.PI),
      unit: 'N·m',
      formula: 'M·Δψ·z / 2π',
    },
  ];
}

const RATCHET_TAKES = [['ratchet-wheel'], ['pawl']] as const;

/**
 * A ratchet wheel and its pawls. Relative to the pawl's member the wheel passes freely in its
 * free sense, tooth by tooth, and is held in the other: after turning back by the lost motion,
 * at most a tooth (a tooth over the number of pawls where these stand evenly staggered).
 */
export const ratchet: CouplingKind<Ratchet> = {
  type: 'ratchet',
  label: 'Ratchet and pawl',
  fields: RATCHET_FIELDS,
  takes: RATCHET_TAKES,
  model(c, ctx) {
    const pair = pairOf<RatchetWheel, Pawl>(c, ctx, RATCHET_TAKES);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const line: [typeof a.frame.o, typeof a.frame.z] = [a.frame.o, a.frame.z];
    // The pawl's member is itself the reference: it turns about the wheel's axis, or stands still.
    const carrier = ctx.carrier(a.member, line, b.member, line);
    const terms = carrier === undefined ? undefined : ctx.turn(a.member, b.member, [a.frame.o, a.frame.z]);
    if (carrier === undefined || !terms?.length) return { findings: [noCarrier(c, ctx, ids, a.member, b.member)] };
    const port: Port = {
      member: a.member,
      carrier: b.member,
      motion: 'turn',
      point: a.frame.o,
      axis: a.frame.z,
      terms,
      coefficient: piRatio(a.element.free === 'back' ? neg(ONE) : ONE),
    };
    const findings: Finding[] = [];
    const kappa = num(a.element.faceAngle) / DEG;
    const name = c.name ?? c.id;
    if (-Math.tan(kappa) > FRICTION) {
      findings.push(finding('ratchet-lets-go', ids, { name, angle: say(-kappa * DEG, 1), most: say(Math.atan(FRICTION) * DEG, 1) }));
    }
    // The nose touches a face of the wheel: the force stands square to it, and so does what the bearings and the pawl's pin carry.
    const nose = vadd(b.frame.o, vscale(b.frame.x, num(b.element.length)));
    const across = acrossAxis(a.frame, nose);
    const R = ratchetDiameter(a.element) / 2;
    const off = norm(across) - R;
    let touch: HoldModel['touch'];
    if (Math.abs(off) > NEAR_TIPS * R || norm(across) < 1e-6) findings.push(finding('pawl-off-wheel', ids, { name, off: say(Math.abs(off), 1) }));
    else {
      const radial = unit(across);
      const sense = a.element.free === 'back' ? -1 : 1;
      touch = { point: nose, along: vadd(cross(a.frame.z, radial), vscale(radial, sense * Math.tan(kappa))) };
    }
    const [px, py] = [dot(vsub(b.frame.o, a.frame.o), a.frame.x), dot(vsub(b.frame.o, a.frame.o), a.frame.y)];
    const place: PawlPlace = { pivot: [px, py], towards: Math.atan2(dot(b.frame.x, a.frame.y), dot(b.frame.x, a.frame.x)) };
    const swing = touch && pawlSwing(a.element, b.element, place);
    if (swing && Math.abs(swing.off) > BETWEEN_TEETH / num(a.element.teeth)) {
      findings.push(finding('pawl-between-teeth', ids, { name, element: a.element.name, off: say(swing.off * DEG, 2) }));
    }
    const pawls = Math.max(1, num(c.pawls, 1));
    const pitch = 1 / num(a.element.teeth) / pawls;
    return {
      findings,
      model: {
        law: 'hold',
        ports: [port],
        touch,
        pitch,
        lifted: c.lifted === true,
        swing: swing && {
          element: b.element.id,
          pitch: (2 * Math.PI) / num(a.element.teeth),
          over: (steps) =>
            swingOverPitch(a.element, b.element, place, swing, steps).map((x) => x * swing.lifts * Math.sign(dot(a.frame.z, b.frame.z))),
        },
        derived: [
          ...(swing ? riding(a.element, b.element, swing) : []),
          { key: 'lost', label: 'Lost motion up to', value: pitch * 360, unit: 'deg', formula: pawls > 1 ? '360° / (z · pawls)' : '360° / z' },
        ],
      },
    };
  },
};

const ONE_WAY_CLUTCH_FIELDS = [
  refField('a', 'Driving joint', 'coordinate', { required: true }),
  refField('b', 'Driven joint', 'coordinate', { required: true }),
  choiceField('grips', 'Takes along', ['forward', 'back'], {
    initial: 'forward',
    help: 'The sense about the driven joint’s axis in which it drives.',
  }),
  flagField('lifted', 'Let go', { initial: false }),
  numberField('clutchTorque', 'Rated torque', { rare: true, unit: 'N·m', above: 0, max: 1e9, help: 'That it takes along, for the rating.' }),
];
/** What is stated of one, from its fields. */
export type OneWayClutch = Coupling & Stated<typeof ONE_WAY_CLUTCH_FIELDS>;

/**
 * A one-way clutch between two members on one axis: the second may run ahead
 * of the first in the free sense and is taken along in the other, at once.
 */
export const oneWayClutch: CouplingKind<OneWayClutch> = {
  type: 'one-way-clutch',
  label: 'One-way clutch',
  fields: ONE_WAY_CLUTCH_FIELDS,
  takes: 'joints',
  mirrored: (c, sense) => (sense(c.b) < 0 ? { grips: c.grips === 'back' ? 'forward' : 'back' } : {}),
  model(c, ctx): { model?: CouplingModel; findings: Finding[] } {
    const a = ctx.coordinate(c.a),
      b = ctx.coordinate(c.b);
    const name = c.name ?? c.id;
    const wrong = (field: 'a' | 'b', message: string, ids: Id[] = [c.id]): { findings: Finding[] } => ({
      findings: [finding('coupling-needs-joint', ids, { name, message }, field)],
    });
    if (!a || a.motion !== 'turn') return wrong('a', 'needs a turning joint that drives: choose one');
    if (!b || b.motion !== 'turn') return wrong('b', 'needs a turning joint that is driven: choose one');
    if (a.index === b.index) return wrong('b', 'ties a joint to itself: choose another driven joint', [c.id, a.joint.id]);
    if (!sameLine(a.point, a.axis, b.point, b.axis, 1e-4, 1e-6)) {
      return wrong('b', 'sits between two members on one axis: put both joints on one line');
    }
    const line: [typeof b.point, typeof b.axis] = [b.point, b.axis];
    const carrier = ctx.carrier(b.child, line, a.child, line);
    const terms = carrier === undefined ? undefined : ctx.turn(b.child, a.child, [b.point, b.axis]);
    if (!terms?.length) return { findings: [noCarrier(c, ctx, [c.id], a.child, b.child)] };
    return {
      findings: [],
      model: {
        law: 'hold',
        ports: [
          {
            member: b.child,
            carrier: a.child,
            motion: 'turn',
            point: b.point,
            axis: b.axis,
            terms,
            coefficient: piRatio(c.grips === 'back' ? neg(ONE) : ONE),
          },
        ],
        pitch: 0,
        lifted: c.lifted === true,
      },
    };
  },
};
