import { finding } from '../findings/index';
import type { Coupling, Finding } from '../fields/types';
import { type Stated, numberField } from '../fields/fields';
import { type Worm, type WormWheel, num, wormOf } from '../elements/index';
import { exactly, neg, piRatio } from '../math/index';
import { cross, dot, vadd, vscale } from '../math/index';
import { PLAY_FIELD, STIFFNESS_FIELD, noCarrier, pairFields, pairOf, perpendicular, say, turnsOf, turningPort } from './common';
import type { CouplingKind } from './protocol';

const DEG = 180 / Math.PI;

/**
 * Efficiency of a worm drive with the worm driving, and with the wheel driving, from lead angle
 * γ, normal pressure angle αn, friction μ and the helix angle β2 of the wheel, which is the
 * lead angle where the axes cross at a right angle: η = (cos αn − μ tan β2)/(cos αn + μ cot γ)
 * (Shigley, eq. 13-46), η' = (cos αn − μ cot γ)/(cos αn + μ tan β2). η' ≤ 0 is self-locking.
 */
export function wormEfficiency(leadAngle: number, alphaN: number, mu: number, helix = leadAngle): { forward: number; backward: number } {
  const t = Math.tan(leadAngle),
    w = Math.tan(helix),
    c = Math.cos(alphaN);
  return { forward: (c - mu * w) / (c + mu / t), backward: (c - mu / t) / (c + mu * w) };
}

const FIELDS = [
  ...pairFields('Worm', 'Worm wheel'),
  numberField('friction', 'Friction coefficient', { symbol: 'μ', initial: 0.05, min: 0, max: 0.9 }),
  PLAY_FIELD,
  STIFFNESS_FIELD,
];
/** What is stated of one, from its fields. */
export type WormDrive = Coupling & Stated<typeof FIELDS>;

/** How square to the wheel's way the thread must stand to move it at all. */
const LEAST_SQUARE = 0.05;

const TAKES = [['worm'], ['worm-wheel']] as const;

/**
 * A worm and its wheel on crossed axes, at any angle: z1 θ1 ± z2 θ2 =
 * 0, the sign from the hand of the thread and the side of the wheel.
 */
export const wormDrive: CouplingKind<WormDrive> = {
  type: 'worm-drive',
  label: 'Worm drive',
  fields: FIELDS,
  takes: TAKES,
  axes: 'crossed',
  model(c, ctx) {
    const pair = pairOf<Worm, WormWheel>(c, ctx, TAKES);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const w = wormOf(a.element),
      z2 = num(b.element.teeth),
      m = num(b.element.module);
    const findings: Finding[] = [];
    const common = perpendicular(a.frame, b.frame);
    if (!common) return { findings: [finding('axes-not-crossed', ids, { name })] };
    const { footA, direction: toWheel, distance } = common;
    // At the pitch point, on the common perpendicular: ways of worm and wheel, the line of the thread, and across it.
    const point = vadd(footA, vscale(toWheel, w.diameter / 2));
    const wayA = cross(a.frame.z, toWheel),
      wayB = cross(b.frame.z, vscale(toWheel, -1));
    const [sin, cos] = [Math.sin(w.leadAngle), Math.cos(w.leadAngle)];
    const thread = vadd(vscale(a.frame.z, sin), vscale(wayA, w.hand * cos));
    const normal = vadd(vscale(wayA, sin), vscale(a.frame.z, -w.hand * cos));
    // The wheel's teeth lie along the thread: their helix angle, and the module that its pitch gives them.
    const square = dot(normal, wayB);
    if (Math.abs(square) < LEAST_SQUARE) return { findings: [finding('thread-along-wheel', ids, { name })] };
    const helix = Math.atan((-w.hand * dot(thread, wayB)) / square);
    const module = (w.module * cos) / Math.abs(square);
    if (Math.abs(module - m) > 1e-6 * m) findings.push(finding('module-differs/worm', ids, { name, module: say(module), wheel: say(m) }));
    const due = (w.diameter + z2 * m) / 2;
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
    // Speeds across the thread are the same on both sides.
    const side = -w.hand * Math.sign(square);
    // The force in the tangent plane, as one part that does not turn the wheel and one along the worm that does not turn the worm.
    const drawn = dot(a.frame.z, wayB);
    const lean = dot(wayA, wayB) / drawn;
    const sense = w.hand * side * Math.sign(drawn);
    const mu = num(c.friction, 0.05);
    const eta = wormEfficiency(w.leadAngle, w.alpha, mu, helix);
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
            along: vadd(wayA, vscale(a.frame.z, -lean)),
            alongB: a.frame.z,
            // Across the flank: W cos αn = Ft sin γ + Fa cos γ, whichever way friction acts; W sin αn parts them (Shigley, eq. 13-43).
            spread: vscale(toWheel, -Math.tan(w.alpha)),
            across: [sense * (w.hand * sin + cos * lean), cos],
          },
        ],
        efficiency: eta,
        fit: { member: b.member, by: vscale(toWheel, due - distance) },
        derived: [
          { key: 'distance', label: 'Centre distance', symbol: 'a', value: distance, unit: 'mm' },
          { key: 'workingDistance', label: 'Working centre distance', symbol: 'aw', value: due, unit: 'mm', formula: 'aw = (d1 + z2·mt)/2' },
          { key: 'leadAngle', label: 'Lead angle', symbol: 'γ', value: w.leadAngle * DEG, unit: 'deg', formula: 'tan γ = z1·mx / d1' },
          { key: 'helix', label: 'Helix angle of the wheel', symbol: 'β2', value: helix * DEG, unit: 'deg', formula: 'β2 = γ + Σ − 90°' },
          {
            key: 'module',
            label: 'Transverse module that the wheel needs',
            symbol: 'mt',
            value: module,
            unit: 'mm',
            formula: 'mt = mx·cos γ / cos β2',
          },
          { key: 'forward', label: 'Efficiency, worm driving', symbol: 'η', value: eta.forward, formula: '(cos αn − μ·tan β2)/(cos αn + μ·cot γ)' },
          {
            key: 'backward',
            label: 'Efficiency, wheel driving',
            symbol: 'η′',
            value: eta.backward,
            formula: '(cos αn − μ·cot γ)/(cos αn + μ·tan β2)',
          },
        ],
      },
    };
  },
};
