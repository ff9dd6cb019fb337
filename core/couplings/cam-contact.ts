import { finding } from '../findings/index';
import type { Coupling, Finding } from '../fields/types';
import { type Stated, choiceField, numberField } from '../fields/fields';
import { jumpsOf, touch } from '../cams/index';
import { type Cam, type Follower, camOf, num } from '../elements/index';
import { ONE, piRatio, ratio } from '../math/index';
import { Vec3, cross, dot, norm, unit, vadd, vscale, vsub } from '../math/index';
import {
  CONTACT_LIMIT_FIELD,
  EFFICIENCY_FIELD,
  acrossAxis,
  efficiencyOf,
  noCarrier,
  pairFields,
  pairOf,
  say,
  faceEngagement,
  faceFindings,
} from './common';
import type { CouplingKind, Term } from './protocol';

const RAD = Math.PI / 180;

const FIELDS = [
  ...pairFields('Cam', 'Follower'),
  choiceField('held', 'Follower is held by', ['force', 'form'], { initial: 'force', help: 'By force: spring or weight; by form: a groove.' }),
  numberField('restitution', 'Restitution', {
    initial: 0,
    min: 0,
    max: 1,
    rare: true,
    help: 'Coefficient of restitution where the follower lands on the cam or is struck by it: 0 stays, 1 rebounds in full.',
  }),
  { ...EFFICIENCY_FIELD, initial: 1 },
  CONTACT_LIMIT_FIELD,
];
/** What is stated of one, from its fields. */
export type CamContact = Coupling & Stated<typeof FIELDS>;

const TAKES = [['cam'], ['follower']] as const;

/**
 * A plate cam and its follower: the follower's motion is a function of the cam's turning,
 * s = f(φ), relative to the member that carries both. Held by force (a spring or weight
 * keeps the follower on the cam: it only pushes) or by form (a groove: it pulls as well).
 */
export const camContact: CouplingKind<CamContact> = {
  type: 'cam-contact',
  label: 'Cam contact',
  fields: FIELDS,
  takes: TAKES,
  model(c, ctx) {
    const pair = pairOf<Cam, Follower>(c, ctx, TAKES);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const data = camOf(a.element);
    if (typeof data === 'string') return { findings: [] };
    const z = a.frame.z;
    // The follower's own joint: the member that the cam's shaft and the follower's way have in common carries both.
    const swing = data.shape.motion === 'swinging';
    const hinge = ctx.carried(b.member, (j) =>
      swing ? j.motion === 'turn' && Math.abs(dot(j.axis, z)) > 1 - 1e-9 : j.motion === 'slide' && Math.abs(dot(j.axis, z)) < 1e-9,
    );
    if (!hinge) return { findings: [noCarrier(c, ctx, ids, a.member, b.member)] };
    if (hinge.motion !== (swing ? 'turn' : 'slide')) {
      return {
        findings: [
          finding('follower-joint', ids, {
            name,
            motion: data.shape.motion,
            member: ctx.memberName(b.member),
            word: swing ? 'does not turn about' : 'does not slide on',
          }),
        ],
      };
    }
    const across = Math.abs(dot(hinge.axis, z));
    if (swing ? across < 1 - 1e-9 : across > 1e-9) {
      return { findings: [finding('follower-axis', ids, { name })] };
    }
    const line: [Vec3, Vec3] = [a.frame.o, z];
    const carrier = ctx.carrier(a.member, line, hinge.parent, line) === undefined ? undefined : hinge.parent;
    const turnA = carrier === undefined ? undefined : ctx.turn(a.member, carrier, [a.frame.o, z]);
    if (carrier === undefined || !turnA?.length) return { findings: [noCarrier(c, ctx, ids, a.member, b.member)] };
    const findings: Finding[] = [];
    const centre = a.frame.o,
      trace = b.frame.o;
    const flat = (v: Vec3): Vec3 => vsub(v, vscale(z, dot(v, z)));
    let u: Vec3, sense: number;
    if (swing) {
      const to = flat(vsub(hinge.point, centre));
      if (norm(to) < 1e-6) return { findings: [finding('follower-pivot', ids, { name })] };
      u = unit(to);
      sense = -data.shape.side * Math.sign(dot(hinge.axis, z));
      if (Math.abs(norm(to) - data.shape.distance) > 1e-3) {
        findings.push(finding('follower-off-cam', ids, { name, to: say(norm(to)), distance: say(data.shape.distance) }));
      }
    } else {
      const out = acrossAxis(a.frame, trace);
      sense = Math.sign(dot(hinge.axis, out)) || 1;
      u = vscale(hinge.axis, sense);
    }
    const v = cross(z, u);
    // Cam angle under the follower in the reference position.
    const polar = Math.atan2(dot(u, a.frame.y), dot(u, a.frame.x));
    const phi0 = num(a.element.phase) * RAD - polar;
    const [y0, dy0] = data.motion.at(phi0);
    if (data.shape.form !== 'flat') {
      const due = touch(data.shape, y0, dy0).trace;
      const is = flat(vsub(trace, centre));
      const off = Math.hypot(dot(is, u) - due[0], dot(is, v) - due[1]);
      if (off > 1e-2) {
        findings.push(finding('follower-off-cam/trace', ids, { name, off: say(off), due: say(due[0]), due2: say(due[1]) }));
      }
    }
    const lift = dot(vsub(trace, centre), z);
    findings.push(...faceFindings(name, ids, num(a.element.width), num(b.element.width), lift));
    const base = vadd(centre, vscale(z, lift));
    const eta = efficiencyOf(c, 1);
    const k = swing ? 1 : 1e-3;
    const one: Term[] = [{ coordinate: hinge.index, factor: piRatio(ratio(hinge.sense)), crossings: hinge.crossings }];
    const at = (p: readonly [number, number]): Vec3 => vadd(base, vadd(vscale(u, p[0]), vscale(v, p[1])));
    return {
      findings,
      model: {
        law: 'curve',
        ports: [
          { member: a.member, carrier, motion: 'turn', point: a.frame.o, axis: z, terms: turnA, coefficient: piRatio(ONE) },
          {
            member: b.member,
            carrier: hinge.parent,
            motion: hinge.motion,
            point: hinge.point,
            axis: hinge.axis,
            terms: one,
            coefficient: piRatio(ONE),
          },
        ],
        curve: {
          value(x, out) {
            const s = data.motion.at(phi0 + x);
            out[0] = sense * k * (s[0] - y0);
            out[1] = sense * k * s[1];
            out[2] = sense * k * s[2];
          },
          contact(x, out) {
            const s = data.motion.at(phi0 + x);
            const t = touch(data.shape, s[0], s[1]);
            const p = at(t.contact);
            const [nu, nv] = t.normal;
            for (let k = 0; k < 3; k++) {
              out[k] = p[k] * 1e-3;
              out[3 + k] = (u[k] * nu + v[k] * nv) * sense * t.scale;
            }
          },
          pushes: c.held === 'form' ? 0 : sense,
          jumps: jumpsOf(data.motion).map(({ at, by }) => ({ at: at - phi0, by: sense * k * by })),
          restitution: num(c.restitution),
        },
        engagements: faceEngagement(ctx, carrier, a, b, [num(a.element.width), num(b.element.width)], lift),
        efficiency: { forward: eta, backward: eta },
        derived: [
          { key: 'camAngle', label: 'Cam angle in the reference position', value: (((phi0 / RAD) % 360) + 360) % 360, unit: 'deg' },
          { key: 'lift0', label: 'Lift there', value: swing ? y0 / RAD : y0, unit: swing ? 'deg' : 'mm' },
        ],
      },
    };
  },
};
