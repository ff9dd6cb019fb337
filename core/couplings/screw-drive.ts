import { finding } from '../findings/index';
import type { Coupling } from '../fields/types';
import { type Stated, numberField } from '../fields/fields';
import { FLANK, type Nut, type Screw, num, screwLead, screwPitchDiameter } from '../elements/index';
import { neg, piRatio, ratio, toNumber } from '../math/index';
import { dot, sameLine, vsub } from '../math/index';
import { PLAY_FIELD, STIFFNESS_FIELD, noCarrier, pairFields, pairOf, say } from './common';
import type { CouplingKind, Port } from './protocol';

/**
 * Efficiency of a screw turning into travel, and of travel turning the screw: torque to
 * raise T = F d2/2 (l + π f d2 sec α)/(π d2 − f l sec α), to lower F d2/2 (π f d2 sec α
 * − l)/(π d2 + f l sec α), plus F fc dc/2 at a collar (Shigley, eqs. 8-1 to 8-6).
 */
export function screwEfficiency(
  lead: number,
  d2: number,
  flank: number,
  friction: number,
  collarFriction = 0,
  collarDiameter = 0,
): { forward: number; backward: number } {
  const sec = 1 / Math.cos(flank),
    collar = (collarFriction * collarDiameter) / 2;
  const den = Math.PI * d2 - friction * lead * sec;
  const raise = den > 0 ? ((d2 / 2) * (lead + Math.PI * friction * d2 * sec)) / den + collar : Infinity;
  const lower = ((d2 / 2) * (Math.PI * friction * d2 * sec - lead)) / (Math.PI * d2 + friction * lead * sec) + collar;
  return { forward: lead / (2 * Math.PI * raise), backward: (-lower * 2 * Math.PI) / lead };
}

const FIELDS = [
  ...pairFields('Screw', 'Nut'),
  PLAY_FIELD,
  STIFFNESS_FIELD,
  numberField('friction', 'Thread friction', { symbol: 'f', initial: 0.1, min: 0, max: 0.9 }),
  numberField('efficiency', 'Efficiency, turn to travel', {
    symbol: 'η',
    above: 0,
    max: 1,
    help: 'Of a ball screw, as its data have it: it counts instead of the thread’s friction.',
  }),
  numberField('efficiencyBack', 'Efficiency, travel to turn', {
    symbol: 'η′',
    min: -100,
    max: 1,
    when: (c: { efficiency?: number }) => c.efficiency !== undefined,
    help: 'Left open, 2 − 1/η: that of the same friction angle.',
  }),
  numberField('collarFriction', 'Collar friction', { symbol: 'fc', initial: 0, min: 0, max: 0.9 }),
  numberField('collarDiameter', 'Mean collar diameter', { unit: 'mm', symbol: 'dc', initial: 0, min: 0, max: 1e5 }),
];
/** What is stated of one, from its fields. */
export type ScrewDrive = Coupling & Stated<typeof FIELDS>;

const TAKES = [['screw'], ['nut']] as const;

/** A screw in its nut: travel between them is the lead for each turn between them, whichever of the two turns or travels. */
export const screwDrive: CouplingKind<ScrewDrive> = {
  type: 'screw-drive',
  label: 'Screw drive',
  fields: FIELDS,
  takes: TAKES,
  model(c, ctx) {
    const pair = pairOf<Screw, Nut>(c, ctx, TAKES);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    if (!sameLine(a.frame.o, a.frame.z, b.frame.o, b.frame.z, 1e-4, 1e-6)) {
      return { findings: [finding('not-coaxial', ids, { name })] };
    }
    const line: [typeof a.frame.o, typeof a.frame.z] = [a.frame.o, a.frame.z];
    const turn = ctx.turn(a.member, b.member, [a.frame.o, a.frame.z]),
      travel = ctx.travel(a.member, b.member, [a.frame.o, a.frame.z]);
    if (!turn || !travel || ctx.carrier(a.member, line, b.member, line) === undefined) {
      return { findings: [noCarrier(c, ctx, ids, a.member, b.member)] };
    }
    if (!travel.length && !turn.length) {
      return { findings: [finding('screw-fixed', ids, { name })] };
    }
    const lead = screwLead(a.element),
      d2 = screwPitchDiameter(a.element);
    const byThread = screwEfficiency(
      toNumber(lead),
      d2,
      FLANK[String(a.element.form ?? 'trapezoidal')] ?? 0,
      num(c.friction, 0.1),
      num(c.collarFriction),
      num(c.collarDiameter),
    );
    // The same friction angle both ways: η = tan γ/tan(γ + ρ), η′ = tan(γ −
    // ρ)/tan γ, for small angles 2 − 1/η (ISO 3408-5 and VDI 2158, from memory).
    const eta = c.efficiency === undefined ? byThread : { forward: num(c.efficiency), backward: c.efficiencyBack ?? 2 - 1 / num(c.efficiency, 1) };
    const findings = [];
    if (eta.forward <= 0 || !Number.isFinite(eta.forward)) {
      findings.push(finding('screw-jams', ids, { name }));
    }
    if (eta.backward <= 0) findings.push(finding('self-locking', ids, { name }));
    const left = a.element.hand === 'left';
    // The whole nut stays on the thread: where the screw stands over the nut, and how far it may go either way.
    const middle = dot(vsub(a.frame.o, b.frame.o), a.frame.z);
    const reach = Math.max(0, (num(a.element.length) - num(b.element.length)) / 2);
    const way: Port = {
      member: a.member,
      carrier: b.member,
      motion: 'slide',
      // In the nut, where thread and thread touch.
      point: b.frame.o,
      axis: a.frame.z,
      terms: travel,
      coefficient: piRatio(ratio(-1)),
    };
    return {
      findings,
      model: {
        law: 'proportional',
        ports: [
          {
            member: a.member,
            carrier: b.member,
            motion: 'turn',
            point: b.frame.o,
            axis: a.frame.z,
            terms: turn,
            coefficient: piRatio(left ? neg(lead) : lead),
          },
          way,
        ],
        engagements: [
          {
            motion: way,
            from: -middle - reach,
            to: -middle + reach,
            what: `the thread of ${num(a.element.length)} mm`,
            enough: (travel) => `a thread of ${say(2 * Math.abs(middle + travel) + num(b.element.length), 1)} mm`,
          },
        ],
        efficiency: { forward: Math.max(eta.forward, 1e-6), backward: eta.backward },
        derived: [
          { key: 'lead', label: 'Travel per turn', symbol: 'Ph', value: toNumber(lead), unit: 'mm', formula: 'Ph = n·P' },
          { key: 'sense', label: 'Screw and nut point', value: dot(a.frame.z, b.frame.z) > 0 ? 'alike' : 'opposite' },
          { key: 'forward', label: 'Efficiency, turn to travel', symbol: 'η', value: eta.forward, formula: 'η = F·Ph / (2π·T)' },
          { key: 'backward', label: 'Efficiency, travel to turn', symbol: 'η′', value: eta.backward },
        ],
      },
    };
  },
};
