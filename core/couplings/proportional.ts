import { finding } from '../findings/index';
import type { Coupling } from '../fields/types';
import { type Stated, exactField, flagField, refField } from '../fields/fields';
import { exactOf } from '../elements/index';
import { exactly, isZero, mul, neg, piRatio, toNumber, toText } from '../math/index';
import { EFFICIENCY_FIELD, PLAY_FIELD, STIFFNESS_FIELD, efficiencyOf, say } from './common';
import type { CouplingKind } from './protocol';

const FIELDS = [
  refField('a', 'First joint', 'coordinate', { required: true }),
  exactField('amountA', 'moves by', { required: true, above: 0, max: 1e9, help: 'Turns of a turning joint, mm of a sliding one.' }),
  refField('b', 'Second joint', 'coordinate', { required: true }),
  exactField('amountB', 'moves by', { required: true, above: 0, max: 1e9 }),
  flagField('reversed', 'In the opposite sense', { initial: false }),
  exactField('offset', 'Second stands at', { initial: 0, min: -1e9, max: 1e9, help: 'Turns or mm of the second while the first is at zero.' }),
  { ...EFFICIENCY_FIELD, initial: 1 },
  PLAY_FIELD,
  STIFFNESS_FIELD,
];
/** What is stated of one, from its fields. */
export type Proportional = Coupling & Stated<typeof FIELDS>;

/**
 * Two motions tied by a typed pair where no gear is meant: `amountA` of the first
 * moves `amountB` of the second (turns or mm, by what the joints are), with an offset
 * of the second and a reversal. 1 turn ↔ 3.2 turns, 1 turn ↔ 8 mm, 1 mm ↔ 1.6 mm.
 */
export const proportional: CouplingKind<Proportional> = {
  type: 'proportional',
  label: 'Proportional',
  fields: FIELDS,
  takes: 'joints',
  mirrored: (c, sense) => ({
    ...(sense(c.a) !== sense(c.b) && { reversed: c.reversed !== true }),
    ...(c.offset !== undefined && sense(c.b) < 0 && { offset: toText(neg(exactly(c.offset))) }),
  }),
  model(c, ctx) {
    const a = ctx.coordinate(c.a),
      b = ctx.coordinate(c.b);
    const name = c.name ?? c.id;
    if (!a || !b) {
      return {
        findings: [finding('coupling-needs-joint/pair', [c.id], { name, word: a ? 'second' : 'first' }, a ? 'b' : 'a')],
      };
    }
    if (a.index === b.index) {
      return { findings: [finding('coupling-same-joint', [c.id, a.joint.id], { name })] };
    }
    const ka = exactOf(c.amountA),
      kb = exactOf(c.amountB);
    if (isZero(ka) || isZero(kb)) {
      return { findings: [finding('amount-zero', [c.id], { name }, isZero(ka) ? 'amountA' : 'amountB')] };
    }
    const unit = (m: string, k: number): string => (m === 'slide' ? `${say(k, 6)} mm` : `${say(k, 6)} ${k === 1 ? 'turn' : 'turns'}`);
    const eta = efficiencyOf(c, 1);
    const one = (x: typeof a) => [{ coordinate: x.index, factor: piRatio(exactly(1)) }];
    const signed = c.reversed === true ? kb : neg(kb);
    return {
      findings: [],
      model: {
        law: 'proportional',
        ports: [
          {
            member: a.child,
            carrier: a.parent,
            motion: a.motion,
            point: a.point,
            axis: a.axis,
            terms: one(a),
            coefficient: piRatio(neg(signed)),
            own: a.index,
          },
          {
            member: b.child,
            carrier: b.parent,
            motion: b.motion,
            point: b.point,
            axis: b.axis,
            terms: one(b),
            coefficient: piRatio(neg(ka)),
            own: b.index,
          },
        ],
        offset: c.offset === undefined ? undefined : piRatio(neg(mul(ka, exactly(c.offset)))),
        efficiency: { forward: eta, backward: eta },
        derived: [
          {
            key: 'sentence',
            label: 'In words',
            value: `${unit(a.motion, toNumber(ka))} of ${a.joint.name ?? a.joint.id} ${c.reversed === true ? 'moves back' : 'moves'} ${b.joint.name ?? b.joint.id} by ${unit(b.motion, toNumber(kb))}`,
          },
        ],
      },
    };
  },
};
