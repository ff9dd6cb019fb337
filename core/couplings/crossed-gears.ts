import { finding } from '../findings/index';
import type { Stated } from '../fields/fields';
import type { Coupling, Finding } from '../fields/types';
import { type Gear, gearOf } from '../elements/index';
import { exactly, neg, piRatio } from '../math/index';
import { cross, dot, norm, unit, vadd, vscale, vsub } from '../math/index';
import { EFFICIENCY_FIELD, efficiencyOf, noCarrier, pairFields, pairOf, say, turnsOf, moduleFinding, turningPort } from './common';
import type { CouplingKind } from './protocol';

const DEG = 180 / Math.PI;

const FIELDS = [...pairFields('First gear', 'Second gear'), { ...EFFICIENCY_FIELD, initial: 0.9 }];
/** What is stated of one, from its fields. */
export type CrossedGears = Coupling & Stated<typeof FIELDS>;

/**
 * Two helical gears on crossed axes touching in a point: za θa ± zb θb = 0. Tooth lines must be parallel at the pitch point, so the
 * shaft angle is the sum (same hands) or difference of the helix angles; the common tooth normal gives the sign.
 */
export const crossedGears: CouplingKind<CrossedGears> = {
  type: 'crossed-gears',
  label: 'Crossed helical gears',
  fields: FIELDS,
  model(c, ctx) {
    const pair = pairOf<Gear, Gear>(c, ctx, [['gear'], ['gear']]);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const ga = gearOf(a.element),
      gb = gearOf(b.element);
    const findings: Finding[] = [];
    if (ga.internal || gb.internal) {
      return { findings: [finding('internal-crossed', ids, { name })] };
    }
    const k = cross(a.frame.z, b.frame.z);
    if (norm(k) < 1e-6) return { findings: [finding('axes-parallel/crossed', ids, { name })] };
    findings.push(...moduleFinding(name, ids, ga.module, gb.module));
    const gap = dot(vsub(b.frame.o, a.frame.o), unit(k));
    const r = vscale(unit(k), Math.sign(gap) || 1);
    const due = ga.pitchRadius + gb.pitchRadius,
      distance = Math.abs(gap);
    if (Math.abs(distance - due) > 1e-3) {
      findings.push(
        distance < due
          ? finding('tight-mesh', ids, { name, distance: say(distance), workingDistance: say(due) })
          : finding('open-mesh', ids, { name, distance: say(distance), due: say(due) }),
      );
    }
    // Tooth lines at the pitch point, from each gear's own helix (right hand: turns with the axis).
    const ta = cross(a.frame.z, r),
      tb = cross(b.frame.z, vscale(r, -1));
    const lineA = vadd(vscale(a.frame.z, Math.cos(ga.beta)), vscale(ta, Math.sin(ga.beta)));
    const lineB = vadd(vscale(b.frame.z, Math.cos(gb.beta)), vscale(tb, Math.sin(gb.beta)));
    const off = Math.asin(Math.min(1, norm(cross(lineA, lineB)))) * DEG;
    if (off > 0.01) {
      findings.push(finding('helix-differs', ids, { name, off: say(off), angle: say(Math.acos(Math.abs(dot(a.frame.z, b.frame.z))) * DEG) }));
    }
    const turns = turnsOf(ctx, a, b);
    if (!turns) return { findings: [...findings, noCarrier(c, ctx, ids, a.member, b.member)] };
    const { carrier, turnA, turnB } = turns;
    // Common normal of the flanks in the tangent plane: speeds along it are equal on both sides.
    const normal = unit(cross(lineA, r));
    const along = dot(normal, ta),
      other = dot(normal, tb);
    const side = Math.sign(along * other) || 1;
    const point = vadd(
      vadd(
        a.frame.o,
        vscale(
          a.frame.z,
          dot(vsub(b.frame.o, a.frame.o), a.frame.z) -
            ((dot(vsub(b.frame.o, a.frame.o), b.frame.z) - dot(vsub(b.frame.o, a.frame.o), a.frame.z) * dot(a.frame.z, b.frame.z)) *
              dot(a.frame.z, b.frame.z)) /
              norm(k) ** 2,
        ),
      ),
      vscale(r, ga.pitchRadius),
    );
    const eta = efficiencyOf(c, 0.9);
    const zb = exactly(gb.teeth);
    return {
      findings,
      model: {
        law: 'proportional',
        ports: [turningPort(a, carrier, turnA, piRatio(exactly(ga.teeth))), turningPort(b, carrier, turnB, piRatio(side > 0 ? neg(zb) : zb))],
        contacts: [{ a: 0, b: 1, point, along: vscale(normal, 1 / along), spread: vscale(r, -Math.tan(ga.alpha) / Math.abs(along)) }],
        efficiency: { forward: eta, backward: eta },
        fit: { member: b.member, by: vscale(r, due - distance) },
        derived: [
          { key: 'distance', label: 'Centre distance', symbol: 'a', value: distance, unit: 'mm' },
          { key: 'workingDistance', label: 'Working centre distance', symbol: 'aw', value: due, unit: 'mm' },
          {
            key: 'shaftAngle',
            label: 'Angle between the axes',
            symbol: 'Σ',
            value: Math.acos(Math.abs(dot(a.frame.z, b.frame.z))) * DEG,
            unit: 'deg',
          },
        ],
      },
    };
  },
};
