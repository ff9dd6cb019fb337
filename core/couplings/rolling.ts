import type { Coupling, Finding } from '../fields/types';
import { finding } from '../fields/types';
import { num } from '../elements/index';
import { exactly, neg, piRatio, ratio } from '../exact/index';
import { cross, dot, norm, unit, vadd, vscale, vsub } from '../numeric/index';
import { EFFICIENCY_FIELD, acrossAxis, efficiencyOf, noCarrier, pairFields, pairOf, say, stop } from './common';
import type { CouplingKind } from './protocol';

/** A wheel that rolls without slip on a track (π d per turn) or on another wheel (by their diameters). */
export const rolling: CouplingKind = {
  type: 'rolling',
  label: 'Rolling contact',
  fields: [...pairFields('Wheel', 'Track or wheel'), EFFICIENCY_FIELD],
  model(c: Coupling, ctx) {
    const pair = pairOf(c, ctx, [['wheel'], ['wheel', 'track']]);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const d = exactly(a.element.diameter as number | string),
      r = num(a.element.diameter) / 2;
    const eta = efficiencyOf(c, 1);
    const findings: Finding[] = [];
    const onTrack = b.element.type === 'track';
    if (onTrack ? Math.abs(dot(a.frame.z, b.frame.x)) > 1e-6 : norm(cross(a.frame.z, b.frame.z)) > 1e-6) {
      return {
        findings: [
          stop(
            'axis-not-square',
            ids,
            onTrack ? `“${name}”: the wheel's axis must stand across the track` : `“${name}”: wheels that roll on each other need parallel axes`,
          ),
        ],
      };
    }
    const carrier = ctx.carrier(a.member, [a.frame.o, a.frame.z], b.member, [b.frame.o, onTrack ? b.frame.x : b.frame.z]);
    const turnA = carrier === undefined ? undefined : ctx.turn(a.member, carrier, a.frame.z);
    const other = carrier === undefined ? undefined : onTrack ? ctx.travel(b.member, carrier, b.frame.x) : ctx.turn(b.member, carrier, b.frame.z);
    if (carrier === undefined || !turnA || !other) return { findings: [...findings, noCarrier(c, ctx, ids, a.member, b.member)] };
    const gap = onTrack ? dot(vsub(a.frame.o, b.frame.o), b.frame.y) : norm(acrossAxis(a.frame, b.frame.o));
    const due = onTrack ? r : r + num(b.element.diameter) / 2;
    if (Math.abs(gap - due) > 1e-3) {
      findings.push(finding('caution', 'not-touching', ids, `“${name}”: the wheel's axis is ${say(gap)} mm away and would touch at ${say(due)} mm`));
    }
    const toward = onTrack ? vscale(b.frame.y, -1) : unit(acrossAxis(a.frame, b.frame.o));
    const point = vadd(a.frame.o, vscale(toward, r));
    const along = cross(a.frame.z, toward);
    const portA = { member: a.member, carrier, motion: 'turn' as const, point: a.frame.o, axis: a.frame.z, terms: turnA };
    const contacts = [{ a: 0, b: 1, point, along, spread: [0, 0, 0] as const }];
    const efficiency = { forward: eta, backward: eta };
    if (onTrack) {
      const side = Math.sign(dot(along, b.frame.x)) || 1;
      return {
        findings,
        model: {
          ports: [
            { ...portA, coefficient: piRatio(d, 1) },
            { member: b.member, carrier, motion: 'slide', point, axis: b.frame.x, terms: other, coefficient: piRatio(ratio(-side)) },
          ],
          contacts,
          efficiency,
          derived: [{ key: 'perTurn', label: 'Way per turn', value: 2 * Math.PI * r, unit: 'mm', formula: 'π·d' }],
        },
      };
    }
    const db = exactly(b.element.diameter as number | string);
    const side = Math.sign(dot(along, cross(b.frame.z, vsub(point, b.frame.o)))) || 1;
    return {
      findings,
      model: {
        ports: [
          { ...portA, coefficient: piRatio(d) },
          {
            member: b.member,
            carrier,
            motion: 'turn',
            point: b.frame.o,
            axis: b.frame.z,
            terms: other,
            coefficient: piRatio(side > 0 ? neg(db) : db),
          },
        ],
        contacts,
        efficiency,
      },
    };
  },
};
