import { finding } from '../findings/index';
import type { Coupling } from '../fields/types';
import { type Stated, numberField } from '../fields/fields';
import { type Worm, type WormWheel, num, wormOf } from '../elements/index';
import { exactly, neg, piRatio } from '../math/index';
import { cross, dot, unit, vadd, vscale, vsub } from '../math/index';
import { noCarrier, pairFields, pairOf, say, turnsOf, turningPort } from './common';
import type { CouplingKind } from './protocol';

const DEG = 180 / Math.PI;

/**
 * Efficiency of a worm drive with the worm driving, and with the wheel driving, from lead angle γ, normal pressure angle αn and friction μ:
 * η = (cos αn − μ tan γ)/(cos αn + μ cot γ) (Shigley, eq. 13-46), η' = (cos αn − μ cot γ)/(cos αn + μ tan γ). η' ≤ 0 is self-locking.
 */
export function wormEfficiency(leadAngle: number, alphaN: number, mu: number): { forward: number; backward: number } {
  const t = Math.tan(leadAngle),
    c = Math.cos(alphaN);
  return { forward: (c - mu * t) / (c + mu / t), backward: (c - mu / t) / (c + mu * t) };
}

const FIELDS = [
  ...pairFields('Worm', 'Worm wheel'),
  numberField('friction', 'Friction coefficient', { symbol: 'μ', initial: 0.05, min: 0, max: 0.9 }),
];
/** What is stated of one, from its fields. */
export type WormDrive = Coupling & Stated<typeof FIELDS>;

/** A worm and its wheel on crossed axes: z1 θ1 ± z2 θ2 = 0, the sign from the hand of the thread and the side of the wheel. */
export const wormDrive: CouplingKind<WormDrive> = {
  type: 'worm-drive',
  label: 'Worm drive',
  fields: FIELDS,
  model(c, ctx) {
    const pair = pairOf<Worm, WormWheel>(c, ctx, [['worm'], ['worm-wheel']]);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const w = wormOf(a.element),
      z2 = num(b.element.teeth),
      m = num(b.element.module);
    const findings = [];
    if (Math.abs(dot(a.frame.z, b.frame.z)) > 1e-6) {
      return { findings: [finding('axes-not-crossed', ids, { name })] };
    }
    if (Math.abs(w.module - m) > 1e-9 * m) {
      findings.push(finding('module-differs/worm', ids, { name, module: say(w.module), wheel: say(m) }));
    }
    const across = cross(a.frame.z, b.frame.z);
    const gap = dot(vsub(b.frame.o, a.frame.o), across);
    const distance = Math.abs(gap),
      due = (w.diameter + z2 * m) / 2;
    if (distance < 1e-6) return { findings: [...findings, finding('axes-meet', ids, { name, due: say(due) })] };
    if (Math.abs(distance - due) > 1e-3) {
      findings.push(
        distance < due
          ? finding('tight-mesh', ids, { name, distance: say(distance), workingDistance: say(due) })
          : finding('open-mesh', ids, { name, distance: say(distance), due: say(due) }),
      );
    }
    const turns = turnsOf(ctx, a, b);
    if (!turns) return { findings: [...findings, noCarrier(c, ctx, ids, a.member, b.member)] };
    const { carrier, turnA, turnB } = turns;
    const toWheel = vscale(across, Math.sign(gap));
    // The pitch point: on the common perpendicular, at the height along each axis where the other one passes.
    const onWorm = vadd(a.frame.o, vscale(a.frame.z, dot(vsub(b.frame.o, a.frame.o), a.frame.z)));
    const point = vadd(onWorm, vscale(toWheel, w.diameter / 2));
    const rb = unit(vsub(point, vadd(b.frame.o, vscale(b.frame.z, dot(vsub(point, b.frame.o), b.frame.z)))));
    const side = Math.sign(dot(a.frame.z, cross(b.frame.z, rb))) || 1;
    const mu = num(c.friction, 0.05);
    const eta = wormEfficiency(w.leadAngle, w.alpha, mu);
    if (eta.backward <= 0) {
      findings.push(finding('self-locking/worm', ids, { name }));
    }
    const z1 = exactly(w.starts),
      teeth = exactly(z2);
    return {
      findings,
      model: {
        law: 'proportional',
        ports: [
          turningPort(a, carrier, turnA, piRatio(w.hand > 0 ? z1 : neg(z1))),
          turningPort(b, carrier, turnB, piRatio(side > 0 ? teeth : neg(teeth))),
        ],
        contacts: [
          {
            a: 0,
            b: 1,
            point,
            along: cross(a.frame.z, toWheel),
            alongB: a.frame.z,
            // Across the flank: W cos αn = Ft sin γ + Fa cos γ, whichever way friction acts; W sin αn parts them (Shigley, eq. 13-43).
            spread: vscale(toWheel, -Math.tan(w.alpha)),
            across: [Math.sin(w.leadAngle), Math.cos(w.leadAngle)],
          },
        ],
        efficiency: eta,
        fit: { member: b.member, by: vscale(toWheel, due - distance) },
        derived: [
          { key: 'distance', label: 'Centre distance', symbol: 'a', value: distance, unit: 'mm' },
          { key: 'workingDistance', label: 'Working centre distance', symbol: 'aw', value: due, unit: 'mm', formula: 'aw = (d1 + z2·mt)/2' },
          { key: 'leadAngle', label: 'Lead angle', symbol: 'γ', value: w.leadAngle * DEG, unit: 'deg', formula: 'tan γ = z1·mx / d1' },
          { key: 'forward', label: 'Efficiency, worm driving', symbol: 'η', value: eta.forward, formula: '(cos αn − μ·tan γ)/(cos αn + μ·cot γ)' },
          {
            key: 'backward',
            label: 'Efficiency, wheel driving',
            symbol: 'η′',
            value: eta.backward,
            formula: '(cos αn − μ·cot γ)/(cos αn + μ·tan γ)',
          },
        ],
      },
    };
  },
};
