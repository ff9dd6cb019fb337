import { finding } from '../findings/index';
import type { Stated } from '../fields/fields';
import type { Coupling, Finding } from '../fields/types';
import { type Track, type Wheel, exactOf, num } from '../elements/index';
import { neg, piRatio, ratio } from '../math/index';
import { cross, dot, norm, unit, vadd, vscale, vsub } from '../math/index';
import { EFFICIENCY_FIELD, acrossAxis, efficiencyOf, noCarrier, pairFields, pairOf, say, turningPort } from './common';
import type { CouplingKind, Port } from './protocol';

const FIELDS = [...pairFields('Wheel', 'Track or wheel'), { ...EFFICIENCY_FIELD, initial: 1 }];
/** What is stated of one, from its fields. */
export type Rolling = Coupling & Stated<typeof FIELDS>;

/** A wheel that rolls without slip on a track (π d per turn) or on another wheel (by their diameters). */
export const rolling: CouplingKind<Rolling> = {
  type: 'rolling',
  label: 'Rolling contact',
  fields: FIELDS,
  model(c, ctx) {
    const pair = pairOf<Wheel, Wheel & Track>(c, ctx, [['wheel'], ['wheel', 'track']]);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const d = exactOf(a.element.diameter),
      r = num(a.element.diameter) / 2;
    const eta = efficiencyOf(c, 1);
    const findings: Finding[] = [];
    const onTrack = b.element.type === 'track';
    if (onTrack ? Math.abs(dot(a.frame.z, b.frame.x)) > 1e-6 : norm(cross(a.frame.z, b.frame.z)) > 1e-6) {
      return {
        findings: [finding(onTrack ? 'axis-not-square/track' : 'axes-not-parallel/wheels', ids, { name })],
      };
    }
    const carrier = ctx.carrier(a.member, [a.frame.o, a.frame.z], b.member, [b.frame.o, onTrack ? b.frame.x : b.frame.z]);
    const turnA = carrier === undefined ? undefined : ctx.turn(a.member, carrier, [a.frame.o, a.frame.z]);
    const other =
      carrier === undefined
        ? undefined
        : onTrack
          ? ctx.travel(b.member, carrier, [b.frame.o, b.frame.x])
          : ctx.turn(b.member, carrier, [b.frame.o, b.frame.z]);
    if (carrier === undefined || !turnA || !other) return { findings: [...findings, noCarrier(c, ctx, ids, a.member, b.member)] };
    const gap = onTrack ? dot(vsub(a.frame.o, b.frame.o), b.frame.y) : norm(acrossAxis(a.frame, b.frame.o));
    const due = onTrack ? r : r + num(b.element.diameter) / 2;
    if (Math.abs(gap - due) > 1e-3) {
      findings.push(finding('not-touching', ids, { name, gap: say(gap), due: say(due) }));
    }
    const toward = onTrack ? vscale(b.frame.y, -1) : unit(acrossAxis(a.frame, b.frame.o));
    const point = vadd(a.frame.o, vscale(toward, r));
    const along = cross(a.frame.z, toward);
    const contacts = [{ a: 0, b: 1, point, along, spread: [0, 0, 0] as const }];
    const efficiency = { forward: eta, backward: eta };
    if (onTrack) {
      const side = Math.sign(dot(along, b.frame.x)) || 1;
      const place = dot(vsub(point, b.frame.o), b.frame.x);
      const track: Port = { member: b.member, carrier, motion: 'slide', point, axis: b.frame.x, terms: other, coefficient: piRatio(ratio(-side)) };
      return {
        findings,
        model: {
          law: 'proportional',
          ports: [turningPort(a, carrier, turnA, piRatio(d, 1)), track],
          contacts,
          efficiency,
          engagements: [
            {
              motion: track,
              from: place - num(b.element.length) / 2,
              to: place + num(b.element.length) / 2,
              what: `the track of ${num(b.element.length)} mm`,
              enough: (travel) => `a track of ${say(2 * Math.abs(place - travel), 1)} mm`,
            },
          ],
          derived: [{ key: 'perTurn', label: 'Way per turn', value: 2 * Math.PI * r, unit: 'mm', formula: 'π·d' }],
        },
      };
    }
    const db = exactOf(b.element.diameter);
    const side = Math.sign(dot(along, cross(b.frame.z, vsub(point, b.frame.o)))) || 1;
    return {
      findings,
      model: {
        law: 'proportional',
        ports: [turningPort(a, carrier, turnA, piRatio(d)), turningPort(b, carrier, other, piRatio(side > 0 ? neg(db) : db))],
        contacts,
        efficiency,
      },
    };
  },
};
