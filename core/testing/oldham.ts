import { EFFICIENCY_FIELD, efficiencyOf } from '../couplings/common';
import type { CouplingKind, Port } from '../couplings/protocol';
import { finding } from '../findings/index';
import { type Stated, refField } from '../fields/fields';
import type { Coupling } from '../fields/types';
import { ONE, cross, dot, neg, norm, piRatio } from '../math/index';

// 1. What can be stated. Validation, JSON Schema, docs and data sheet are made from this list.
const FIELDS = [
  refField('a', 'First joint', 'coordinate', { required: true }),
  refField('b', 'Second joint', 'coordinate', { required: true }),
  EFFICIENCY_FIELD,
];
export type Oldham = Coupling & Stated<typeof FIELDS>;

/** Axes whose directions differ by more than this are not parallel, rad. */
const PARALLEL = 1e-6;

/**
 * The example of CONTRIBUTING.md: an Oldham coupling, which turns one
 * shaft as another that is parallel to it and stands beside its axis.
 */
export const oldham: CouplingKind<Oldham> = {
  type: 'oldham',
  label: 'Oldham coupling',
  fields: FIELDS,
  takes: 'joints',
  model(c, ctx) {
    // 2. What is wrong is a finding that names the items and the field that cures it.
    const a = ctx.coordinate(c.a),
      b = ctx.coordinate(c.b);
    const name = c.name ?? c.id;
    if (!a || !b) {
      return { findings: [finding('coupling-needs-joint/pair', [c.id], { name, word: a ? 'second' : 'first' }, a ? 'b' : 'a')] };
    }
    if (norm(cross(a.axis, b.axis)) > PARALLEL) return { findings: [finding('axes-not-parallel', [c.id, a.joint.id, b.joint.id], { name })] };
    // 3. The law: one row, Σ coefficient · motion = 0, exact. Sense from geometry, size from counts.
    const port = (x: typeof a, coefficient: Port['coefficient']): Port => ({
      member: x.child,
      carrier: x.parent,
      motion: x.motion,
      point: x.point,
      axis: x.axis,
      terms: [{ coordinate: x.index, factor: piRatio(ONE) }],
      coefficient,
      own: x.index,
    });
    const sense = dot(a.axis, b.axis) > 0 ? neg(ONE) : ONE;
    const eta = efficiencyOf(c);
    return {
      findings: [],
      model: {
        law: 'proportional',
        ports: [port(a, piRatio(ONE)), port(b, piRatio(sense))],
        // 4. Forces and losses follow from the row and the efficiency: nothing more is to be written.
        efficiency: { forward: eta, backward: eta },
      },
    };
  },
};
