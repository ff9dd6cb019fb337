import { finding } from '../findings/index';
import type { Stated } from '../fields/fields';
import type { Coupling, Finding } from '../fields/types';
import { type Gear, gearOf } from '../elements/index';
import { exactly, neg, piRatio } from '../math/index';
import { Vec3, cross, dot, norm, unit, vadd, vscale, vsub } from '../math/index';
import {
  EFFICIENCY_FIELD,
  STIFFNESS_FIELD,
  efficiencyOf,
  noCarrier,
  pairFields,
  pairOf,
  say,
  turnsOf,
  moduleFinding,
  pressureAngleFinding,
  perpendicular,
  turningPort,
} from './common';
import type { CouplingKind } from './protocol';

const DEG = 180 / Math.PI;

const FIELDS = [...pairFields('First gear', 'Second gear'), { ...EFFICIENCY_FIELD, initial: 0.9 }, STIFFNESS_FIELD];
/** What is stated of one, from its fields. */
export type CrossedGears = Coupling & Stated<typeof FIELDS>;

interface Side {
  foot: Vec3;
  axis: Vec3;
  /** Of the pitch circle, mm. */
  radius: number;
}

/**
 * Where the flanks touch: on the line of the force that gives both wheels the moments of their
 * pitch radii, which is as far from both axes as their base cylinders are thick; its point next
 * to the middle. Without shift that is the pitch point; with shift the line has moved off it.
 */
function touchOn(force: Vec3, r: Vec3, a: Side, b: Side): Vec3 {
  const start = vadd(a.foot, vscale(r, (a.radius * norm(vsub(b.foot, a.foot))) / (a.radius + b.radius)));
  const moment = (p: Vec3, s: Side): number => dot(s.axis, cross(vsub(p, s.foot), force));
  const e1 = unit(cross(force, r)),
    e2 = unit(cross(force, e1));
  // Two straight equations for how far to go across the force.
  const row = (s: Side, way: 1 | -1): [number, number, number] => [
    dot(s.axis, cross(e1, force)),
    dot(s.axis, cross(e2, force)),
    moment(vadd(s.foot, vscale(r, way * s.radius)), s) - moment(start, s),
  ];
  const [[p, q, m], [s, t, n]] = [row(a, 1), row(b, -1)];
  const det = p * t - q * s;
  return vadd(start, vadd(vscale(e1, (m * t - q * n) / det), vscale(e2, (p * n - m * s) / det)));
}

const TAKES = [['gear'], ['gear']] as const;

/**
 * Two helical gears on crossed axes touching in a point: za θa ± zb θb = 0. Tooth
 * lines must be parallel at the pitch point, so the shaft angle is the sum (same
 * hands) or difference of the helix angles; the common tooth normal gives the sign.
 */
export const crossedGears: CouplingKind<CrossedGears> = {
  type: 'crossed-gears',
  label: 'Crossed helical gears',
  fields: FIELDS,
  takes: TAKES,
  axes: 'crossed',
  model(c, ctx) {
    const pair = pairOf<Gear, Gear>(c, ctx, TAKES);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const ga = gearOf(a.element),
      gb = gearOf(b.element);
    const findings: Finding[] = [];
    if (ga.internal || gb.internal) {
      return { findings: [finding('internal-crossed', ids, { name })] };
    }
    const common = perpendicular(a.frame, b.frame);
    if (!common) return { findings: [finding('axes-parallel/crossed', ids, { name })] };
    const { footA, footB, direction: r, distance } = common;
    findings.push(...moduleFinding(name, ids, ga.module, gb.module), ...pressureAngleFinding(name, ids, ga.alpha, gb.alpha));
    // The common normal has one direction, so that shift moves the wheels
    // apart by just as much as it thickens their teeth, as on a rack.
    const due = ga.pitchRadius + gb.pitchRadius + (ga.shift + gb.shift) * ga.module;
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
    // The force of one newton of tangential force on the first wheel.
    const [za, zb] = [a.frame.z, b.frame.z];
    const force = vadd(vscale(normal, 1 / along), vscale(r, -Math.tan(ga.alpha) / Math.abs(along)));
    const point = touchOn(force, r, { foot: footA, axis: za, radius: ga.pitchRadius }, { foot: footB, axis: zb, radius: gb.pitchRadius });
    // What parts the wheels goes through both axes, so that it turns neither.
    const parting = unit(cross(cross(za, vsub(point, footA)), cross(zb, vsub(point, footB))));
    const spread = vscale(parting, ((dot(parting, r) > 0 ? -1 : 1) * Math.tan(ga.alpha)) / Math.abs(along));
    const play = 2 * (distance - due) * Math.sin(ga.alpha) + (ga.thinning + gb.thinning) * Math.cos(ga.alpha);
    const eta = efficiencyOf(c, 0.9);
    const teethB = exactly(gb.teeth);
    return {
      findings,
      model: {
        law: 'proportional',
        ports: [turningPort(a, carrier, turnA, piRatio(exactly(ga.teeth))), turningPort(b, carrier, turnB, piRatio(side > 0 ? neg(teethB) : teethB))],
        contacts: [{ a: 0, b: 1, point, along: vsub(force, spread), spread }],
        efficiency: { forward: eta, backward: eta },
        fit: { member: b.member, by: vscale(r, due - distance) },
        derived: [
          { key: 'distance', label: 'Centre distance', symbol: 'a', value: distance, unit: 'mm' },
          { key: 'workingDistance', label: 'Working centre distance', symbol: 'aw', value: due, unit: 'mm', formula: 'aw = r1 + r2 + (x1 + x2)·mn' },
          {
            key: 'normalBacklash',
            label: 'Backlash square to the flanks',
            symbol: 'jbn',
            value: play,
            unit: 'mm',
            formula: 'jbn = 2·Δa·sin αn + thinning·cos αn',
          },
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
