import { finding } from '../findings/index';
import type { Coupling, Finding } from '../fields/types';
import { FLANK } from '../elements/index';
import { type ScrewJoint, rubs } from '../joints/index';
import { exactly, neg, piRatio, ratio, toNumber } from '../math/index';
import { screwEfficiency } from './screw-drive';
import type { CouplingContext, Port, ProportionalModel } from './protocol';

/** The kind of what the thread of a screw joint with friction ties: no coupling of the document. */
export const THREAD = 'screw-thread';

/**
 * The thread of a screw joint that rubs. Such a joint turns and travels, and its thread ties the
 * two with the losses of a screw; without friction it is one freedom. Undefined for other joints.
 */
export function threadOf(joint: ScrewJoint, ctx: CouplingContext): { coupling: Coupling; model: ProportionalModel; findings: Finding[] } | undefined {
  const turn = rubs(joint) ? ctx.coordinate(joint.id) : undefined,
    travel = rubs(joint) ? ctx.coordinate(`${joint.id}:1`) : undefined;
  if (!turn || !travel) return undefined;
  const name = joint.name ?? joint.id;
  const lead = exactly(joint.lead ?? 0);
  const eta = screwEfficiency(
    toNumber(lead),
    joint.diameter ?? 1,
    FLANK[joint.form ?? 'trapezoidal'] ?? 0,
    joint.diameter ? (joint.friction ?? 0) : 0,
  );
  const findings: Finding[] = [];
  if (!joint.diameter) findings.push(finding('thread-without-diameter', [joint.id], { name }));
  else if (eta.forward <= 0 || !Number.isFinite(eta.forward)) findings.push(finding('screw-jams', [joint.id], { name }));
  if (eta.backward <= 0) findings.push(finding('self-locking', [joint.id], { name }));
  const port = (of: typeof turn, coefficient: Port['coefficient']): Port => ({
    member: of.child,
    carrier: of.parent,
    motion: of.motion,
    point: of.point,
    axis: of.axis,
    terms: [{ coordinate: of.index, factor: piRatio(ratio(1)) }],
    coefficient,
    own: of.index,
  });
  return {
    coupling: { id: joint.id, name, type: THREAD },
    findings,
    model: {
      law: 'proportional',
      inner: true,
      ports: [port(turn, piRatio(joint.hand === 'left' ? neg(lead) : lead)), port(travel, piRatio(ratio(-1)))],
      efficiency: { forward: Math.max(eta.forward, 1e-6), backward: eta.backward },
      derived: [
        { key: 'forward', label: 'Efficiency, turn to travel', symbol: 'η', value: eta.forward, formula: 'η = F·Ph / (2π·T)' },
        { key: 'backward', label: 'Efficiency, travel to turn', symbol: 'η′', value: eta.backward },
      ],
    },
  };
}
