import { finding } from '../findings/index';
import { type Stated, choiceField } from '../fields/fields';
import type { Coupling, Finding } from '../fields/types';
import { type BevelGear, bevelOf } from '../elements/index';
import { exactly, neg, piRatio } from '../math/index';
import { Vec3, cross, distance, dot, norm, unit, vadd, vscale, vsub } from '../math/index';
import {
  EFFICIENCY_FIELD,
  efficiencyOf,
  PLAY_FIELD,
  TRANSMISSION_ERROR_FIELD,
  noCarrier,
  pairFields,
  pairOf,
  say,
  turnsOf,
  moduleFinding,
  pressureAngleFinding,
  turningPort,
} from './common';
import type { CouplingKind } from './protocol';

const DEG = 180 / Math.PI;

/** How two bevel gears are carried, for their rating (ISO 10300-1). */
export const BEVEL_MOUNTINGS = ['both between bearings', 'one overhung', 'both overhung'] as const;
const FIELDS = [
  ...pairFields('First bevel gear', 'Second bevel gear'),
  EFFICIENCY_FIELD,
  choiceField('mounting', 'Mounting', BEVEL_MOUNTINGS, {
    rare: true,
    initial: 'one overhung',
    help: 'How the gears are carried: it sets how unevenly the load lies along the teeth in the rating.',
  }),
  PLAY_FIELD,
  TRANSMISSION_ERROR_FIELD,
];
/** What is stated of one, from its fields. */
export type BevelPair = Coupling & Stated<typeof FIELDS>;

const TAKES = [['bevel-gear'], ['bevel-gear']] as const;

/**
 * Two straight bevel gears whose cones share an apex: za θa ± zb θb = 0 relative to the
 * carrier. The pitch point lies on the common generatrix at the mean cone distance. Forces as
 * for the mean section: radial Ft tan α cos δ, axial Ft tan α sin δ (Shigley, section 13-15).
 */
export const bevelPair: CouplingKind<BevelPair> = {
  type: 'bevel-pair',
  label: 'Bevel pair',
  fields: FIELDS,
  takes: TAKES,
  axes: 'crossed',
  model(c, ctx) {
    const pair = pairOf<BevelGear, BevelGear>(c, ctx, TAKES);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const ga = bevelOf(a.element),
      gb = bevelOf(b.element);
    const findings: Finding[] = [];
    if (norm(cross(a.frame.z, b.frame.z)) < 1e-6) {
      return { findings: [finding('axes-parallel', ids, { name })] };
    }
    const off = distance(a.frame.o, b.frame.o);
    if (off > 1e-3) {
      findings.push(finding('apexes-apart', ids, { name, off: say(off) }));
    }
    findings.push(...moduleFinding(name, ids, ga.module, gb.module));
    findings.push(...pressureAngleFinding(name, ids, ga.alpha, gb.alpha));
    const sigma = Math.acos(Math.max(-1, Math.min(1, dot(a.frame.z, b.frame.z))));
    const deltaA = Math.atan2(Math.sin(sigma), gb.teeth / ga.teeth + Math.cos(sigma)),
      deltaB = sigma - deltaA;
    for (const [e, given, due] of [
      [a.element, ga.cone, deltaA],
      [b.element, gb.cone, deltaB],
    ] as const) {
      if (Math.abs(given - due) > 1e-4) {
        findings.push(
          finding('cone-angle', [c.id, e.id], { name, element: e.name, given: say(given * DEG), sigma: say(sigma * DEG), due: say(due * DEG, 4) }),
        );
      }
    }
    const turns = turnsOf(ctx, a, b);
    if (!turns) return { findings: [...findings, noCarrier(c, ctx, ids, a.member, b.member)] };
    const { carrier, turnA, turnB } = turns;

    const across = unit(vsub(b.frame.z, vscale(a.frame.z, dot(b.frame.z, a.frame.z))));
    const line = vadd(vscale(a.frame.z, Math.cos(deltaA)), vscale(across, Math.sin(deltaA)));
    const cone = (ga.module * ga.teeth) / 2 / Math.sin(deltaA);
    const mean = cone - Math.min(ga.width, gb.width) / 2;
    if (mean <= 0) {
      findings.push(finding('face-too-wide', ids, { name, cone: say(cone) }));
    }
    const point = vadd(a.frame.o, vscale(line, mean));
    const along = unit(cross(a.frame.z, line));
    const side = Math.sign(dot(along, cross(b.frame.z, line))) || 1;
    const outward: Vec3 = vsub(vscale(across, Math.cos(deltaA)), vscale(a.frame.z, Math.sin(deltaA)));
    const eta = efficiencyOf(c);
    const za = exactly(ga.teeth),
      zb = exactly(gb.teeth);
    return {
      findings,
      model: {
        law: 'proportional',
        ports: [turningPort(a, carrier, turnA, piRatio(za)), turningPort(b, carrier, turnB, piRatio(side > 0 ? neg(zb) : zb))],
        contacts: [{ a: 0, b: 1, point, along, spread: vscale(outward, -Math.tan(ga.alpha)) }],
        efficiency: { forward: eta, backward: eta },
        derived: [
          { key: 'shaftAngle', label: 'Shaft angle', symbol: 'Σ', value: sigma * DEG, unit: 'deg' },
          {
            key: 'coneA',
            label: 'Cone angle of the first',
            symbol: 'δ1',
            value: deltaA * DEG,
            unit: 'deg',
            formula: 'tan δ1 = sin Σ / (z2/z1 + cos Σ)',
          },
          { key: 'coneB', label: 'Cone angle of the second', symbol: 'δ2', value: deltaB * DEG, unit: 'deg', formula: 'δ2 = Σ − δ1' },
          { key: 'coneDistance', label: 'Outer cone distance', symbol: 'Re', value: cone, unit: 'mm', formula: 'Re = m·z1 / (2·sin δ1)' },
        ],
      },
    };
  },
};
