import { finding } from '../findings/index';
import type { Coupling, Finding } from '../fields/types';
import { type Stated, choiceField, numberField, refField, wholeField } from '../fields/fields';
import { type Drum, exactOf, num, turnsPerLayer, windingDiameter } from '../elements/index';
import { type Vec3, cross, dot, mul, neg, norm, piRatio, ratio, toNumber, vadd, vscale, vsub } from '../math/index';
import { BREAKING_FORCE_FIELD, EFFICIENCY_FIELD, STIFFNESS_FIELD, efficiencyOf, noCarrier, say } from './common';
import type { CouplingKind, Port } from './protocol';

/** Classes of mechanisms by ISO 4301-1. */
export const MECHANISM_CLASSES = ['M1', 'M2', 'M3', 'M4', 'M5', 'M6', 'M7', 'M8'] as const;

const [FORWARD, BACKWARD] = ['as the drum turns forward', 'as the drum turns backward'] as const;
const [TOWARD, AWAY] = ['toward the load', 'away from the load'] as const;
const FIELDS = [
  refField('a', 'Drum', 'element', { required: true }),
  refField('b', 'Joint that it hoists', 'coordinate', { required: true }),
  choiceField('winds', 'Hoists', [FORWARD, BACKWARD], {
    initial: FORWARD,
    help: 'It pulls the joint in its positive direction as rope is wound up.',
  }),
  wholeField('falls', 'Falls', { symbol: 'n', initial: 1, min: 1, max: 40, help: 'Parts of rope on which the load hangs.' }),
  numberField('angle', 'Rope angle', { unit: 'deg', symbol: 'α', initial: 0, min: 0, max: 80, help: 'Between the falls and the travel.' }),
  wholeField('layer', 'Layer', { symbol: 'k', initial: 1, min: 1, max: 20, help: 'On which the rope runs, the first on the barrel.' }),
  numberField('wound', 'Turns on the drum', {
    initial: 3,
    min: 0,
    max: 1e5,
    help: 'Wound up in the reference position. At least two stay on the drum.',
  }),
  choiceField('leaves', 'Leaves the drum', [TOWARD, AWAY], {
    initial: TOWARD,
    rare: true,
    help: 'Away from the load where a sheave beyond turns it back.',
  }),
  { ...EFFICIENCY_FIELD, initial: 0.98 },
  STIFFNESS_FIELD,
  BREAKING_FORCE_FIELD,
  choiceField('mechanismClass', 'Class of the mechanism', MECHANISM_CLASSES, {
    rare: true,
    initial: 'M5',
    help: 'ISO 4301-1: from M1, seldom and lightly used, to M8. It sets the safety of the rope and the least drum (ISO 4308-1).',
  }),
];
/** What is stated of one, from its fields. */
export type Rope = Coupling & Stated<typeof FIELDS>;

/** Turns that stay on the drum, so that friction holds the rope's end (common practice). */
const DEAD_TURNS = 2;

/**
 * A rope from a drum to a load that slides, on n falls over sheaves that stand in the carrier: the load travels π·Dw/(n·cos
 * α) for each turn (any text on hoists), and one newton in the rope gives it n·cos α. The drum's bearings carry the pull of
 * the rope. It only pulls: a load that would push is a finding.
 */
export const rope: CouplingKind<Rope> = {
  type: 'rope',
  label: 'Drum and rope',
  fields: FIELDS,
  takes: [['drum'], 'slide'],
  // The drum turns back in its picture; the load may go either way.
  mirrored: (c, sense) => ({ winds: (c.winds === BACKWARD) === sense(c.b) > 0 ? FORWARD : BACKWARD }),
  model(c, ctx) {
    const a = ctx.element(c.a),
      b = ctx.coordinate(c.b);
    const name = c.name ?? c.id;
    if (a?.element.type !== 'drum' || !b) {
      return { findings: [finding('rope-needs', [c.id], { name, word: b ? 'a drum' : 'a joint to hoist' }, b ? 'a' : 'b')] };
    }
    const e: Drum = a.element;
    const ids = [c.id, e.id, b.joint.id];
    if (b.motion !== 'slide') return { findings: [finding('rope-needs/slide', ids, { name }, 'b')] };
    const [o, z] = [a.frame.o, a.frame.z];
    const carrier = ctx.carrier(a.member, [o, z], b.child, [b.point, b.axis]);
    const turn = carrier === undefined ? undefined : ctx.turn(a.member, carrier, [o, z]);
    const travel = carrier === undefined ? undefined : ctx.travel(b.child, carrier, [b.point, b.axis]);
    if (carrier === undefined || !turn || !travel) return { findings: [noCarrier(c, ctx, ids, a.member, b.child)] };

    const findings: Finding[] = [];
    const layer = c.layer ?? 1,
      falls = c.falls ?? 1;
    if (layer > num(e.layers, 1)) findings.push(finding('rope-layer', ids, { name, layer, layers: num(e.layers, 1) }, 'layer'));
    const forward = (c.winds ?? FORWARD) === FORWARD;
    const diameter = windingDiameter(e, layer);
    const r = toNumber(diameter) / 2;
    const angle = (num(c.angle) * Math.PI) / 180;
    // Where it leaves the drum: across the axis, on the side on which its pull turns the drum back.
    const toLoad = vsub(b.point, o);
    const straight = c.leaves === AWAY ? vscale(toLoad, -1) : toLoad;
    const level = (v: Vec3): Vec3 => vsub(v, vscale(z, dot(v, z)));
    let pull = level(straight);
    if (norm(pull) < 1e-9) pull = level(vscale(b.axis, c.leaves === AWAY ? 1 : -1));
    if (norm(pull) < 1e-9) return { findings: [finding('rope-along-drum', ids, { name })] };
    pull = vscale(pull, 1 / norm(pull));
    const point = vadd(o, vscale(cross(pull, z), forward ? -r : r));

    const capacity = turnsPerLayer(e) * num(e.layers, 1);
    const wound = num(c.wound, 3);
    if (wound > capacity) findings.push(finding('rope-too-long', ids, { name, wound: say(wound), capacity }, 'wound'));
    const cos = Math.cos(angle);
    const perFall = angle === 0 ? ratio(falls) : mul(ratio(falls), exactOf(Number(cos.toPrecision(15))));
    const drumPort: Port = {
      member: a.member,
      carrier,
      motion: 'turn',
      point: o,
      axis: z,
      terms: turn,
      coefficient: piRatio(forward ? diameter : neg(diameter), 1),
      // Its pull is what it feels, at the rim.
      lever: { point, along: vscale(pull, forward ? -1 : 1), arm: r },
    };
    const loadPort: Port = {
      member: b.child,
      carrier,
      motion: 'slide',
      point: b.point,
      axis: b.axis,
      terms: travel,
      coefficient: piRatio(neg(perFall)),
    };
    const eta = efficiencyOf(c);
    const out = forward ? 1 : -1;
    const ends = [out * (capacity - wound), -out * (wound - DEAD_TURNS)];
    return {
      findings,
      model: {
        law: 'proportional',
        ports: [drumPort, loadPort],
        efficiency: { forward: eta, backward: eta },
        pulls: 1,
        engagements: [
          {
            motion: drumPort,
            from: Math.min(...ends),
            to: Math.max(...ends),
            what: `the rope on the drum (${DEAD_TURNS} to ${capacity} turns)`,
          },
        ],
        derived: [
          { key: 'windingDiameter', label: 'Winding diameter', symbol: 'Dw', value: 2 * r, unit: 'mm', formula: 'Dw = D + (2k − 1)·dr' },
          { key: 'perTurn', label: 'Travel per turn', value: (2 * Math.PI * r) / (falls * cos), unit: 'mm', formula: 'π·Dw / (n·cos α)' },
          { key: 'pull', label: 'Rope pull for 1 kN on the load', value: 1000 / (falls * cos), unit: 'N', formula: 'F / (n·cos α), without losses' },
        ],
      },
    };
  },
};
