import type { Coupling } from '../fields/types';
import { finding } from '../fields/types';
import { numberField } from '../fields/fields';
import { num, wormOf } from '../elements/index';
import { exactly, neg, piRatio } from '../exact/index';
import { cross, dot, unit, vadd, vscale, vsub } from '../numeric/index';
import { noCarrier, pairFields, pairOf, say, stop, turnsOf } from './common';
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

/** A worm and its wheel on crossed axes: z1 θ1 ± z2 θ2 = 0, the sign from the hand of the thread and the side of the wheel. */
export const wormDrive: CouplingKind = {
  type: 'worm-drive',
  label: 'Worm drive',
  fields: [...pairFields('Worm', 'Worm wheel'), numberField('friction', 'Friction coefficient', { symbol: 'μ', initial: 0.05, min: 0, max: 0.9 })],
  model(c: Coupling, ctx) {
    const pair = pairOf(c, ctx, [['worm'], ['worm-wheel']]);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const w = wormOf(a.element),
      z2 = num(b.element.teeth),
      m = num(b.element.module);
    const findings = [];
    if (Math.abs(dot(a.frame.z, b.frame.z)) > 1e-6) {
      return { findings: [stop('axes-not-crossed', ids, `“${name}”: worm and wheel need axes that cross at a right angle`)] };
    }
    if (Math.abs(w.module - m) > 1e-9 * m) {
      findings.push(
        stop(
          'module-differs',
          ids,
          `“${name}”: the worm's axial module ${say(w.module)} mm meets the wheel's ${say(m)} mm; give both the same`,
          'module',
        ),
      );
    }
    const across = cross(a.frame.z, b.frame.z);
    const gap = dot(vsub(b.frame.o, a.frame.o), across);
    const distance = Math.abs(gap),
      due = (w.diameter + z2 * m) / 2;
    if (distance < 1e-6) return { findings: [...findings, stop('axes-meet', ids, `“${name}”: the axes meet; set them ${say(due)} mm apart`)] };
    if (Math.abs(distance - due) > 1e-3) {
      findings.push(
        finding(
          distance < due ? 'stop' : 'caution',
          distance < due ? 'tight-mesh' : 'open-mesh',
          ids,
          `“${name}”: the axes are ${say(distance)} mm apart; without play they would be ${say(due)} mm`,
        ),
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
      findings.push(
        finding(
          'note',
          'self-locking',
          ids,
          `“${name}” is self-locking: the wheel cannot drive the worm, and a load on the wheel is held without torque on the worm`,
        ),
      );
    }
    const z1 = exactly(w.starts),
      teeth = exactly(z2);
    return {
      findings,
      model: {
        ports: [
          {
            member: a.member,
            carrier,
            motion: 'turn',
            point: a.frame.o,
            axis: a.frame.z,
            terms: turnA,
            coefficient: piRatio(w.hand > 0 ? z1 : neg(z1)),
          },
          {
            member: b.member,
            carrier,
            motion: 'turn',
            point: b.frame.o,
            axis: b.frame.z,
            terms: turnB,
            coefficient: piRatio(side > 0 ? teeth : neg(teeth)),
          },
        ],
        contacts: [
          {
            a: 0,
            b: 1,
            point,
            along: cross(a.frame.z, toWheel),
            alongB: a.frame.z,
            spread: vscale(toWheel, -Math.tan(w.alpha) / Math.cos(w.leadAngle)),
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
