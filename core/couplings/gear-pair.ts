import type { Coupling, Finding } from '../fields/types';
import { finding } from '../fields/types';
import { gearOf, num } from '../elements/index';
import { exactly, neg, piRatio } from '../exact/index';
import { cross, dot, norm, unit, vadd, vscale } from '../numeric/index';
import { pairData } from '../teeth/index';
import {
  EFFICIENCY_FIELD,
  acrossAxis,
  efficiencyOf,
  fold,
  noCarrier,
  pairFields,
  pairOf,
  say,
  stop,
  turnsOf,
  moduleFinding,
  pressureAngleFinding,
} from './common';
import type { CouplingKind } from './protocol';

const DEG = 180 / Math.PI;

/**
 * Two cylindrical gears on parallel axes, external or one of them internal: za θa ± zb θb = 0 relative to the carrier.
 * The sign follows from the pitch point: the tangential speeds of both wheels there are the same.
 */
export const gearPair: CouplingKind = {
  type: 'gear-pair',
  label: 'Gear pair',
  fields: [...pairFields('First gear', 'Second gear'), EFFICIENCY_FIELD],
  model(c: Coupling, ctx) {
    const pair = pairOf(c, ctx, [['gear'], ['gear']]);
    if (pair.findings) return { findings: pair.findings };
    const { a, b, ids } = pair;
    const name = c.name ?? c.id;
    const ga = gearOf(a.element),
      gb = gearOf(b.element);
    const findings: Finding[] = [];
    if (ga.internal && gb.internal) {
      return { findings: [stop('both-internal', ids, `“${name}”: two internal gears cannot mesh; make one of them external`, 'b')] };
    }
    if (norm(cross(a.frame.z, b.frame.z)) > 1e-6) {
      return {
        findings: [
          stop(
            'axes-not-parallel',
            ids,
            `“${name}”: the axes are not parallel, so these cannot be a cylindrical pair; turn one, or couple them as bevel or crossed gears`,
          ),
        ],
      };
    }
    findings.push(...moduleFinding(name, ids, ga.module, gb.module));
    findings.push(...pressureAngleFinding(name, ids, ga.alpha, gb.alpha));
    const betaSum = ga.internal || gb.internal ? ga.beta - gb.beta : ga.beta + gb.beta;
    if (Math.abs(betaSum) > 1e-9) {
      findings.push(
        stop(
          'helix-differs',
          ids,
          ga.internal || gb.internal
            ? `“${name}”: an internal pair on parallel axes needs equal helix angles of the same hand`
            : `“${name}”: external gears on parallel axes need equal helix angles of opposite hands`,
          'helix',
        ),
      );
    }

    const offset = acrossAxis(a.frame, b.frame.o);
    const distance = norm(offset);
    if (distance < 1e-6) {
      return {
        findings: [...findings, stop('axes-coincide', ids, `“${name}”: both gears turn about the same line; move one axis to the working distance`)],
      };
    }
    const turns = turnsOf(ctx, a, b);
    if (!turns) return { findings: [...findings, noCarrier(c, ctx, ids, a.member, b.member)] };
    const { carrier, turnA, turnB } = turns;

    // Pitch point: divides the line of centres as the counts do; beyond the smaller wheel where one is internal.
    const toB = unit(offset);
    const reachA = ga.internal
      ? (distance * ga.teeth) / (ga.teeth - gb.teeth)
      : gb.internal
        ? (-distance * ga.teeth) / (gb.teeth - ga.teeth)
        : (distance * ga.teeth) / (ga.teeth + gb.teeth);
    if (!Number.isFinite(reachA)) {
      return {
        findings: [
          ...findings,
          stop('equal-internal', ids, `“${name}”: a gear and a ring of equal tooth counts have no pitch point; change one count`, 'teeth'),
        ],
      };
    }
    const radial = vscale(toB, Math.sign(reachA));
    const inPlane = vadd(a.frame.o, vscale(toB, reachA));
    const lift = dot(vadd(b.frame.o, vscale(a.frame.o, -1)), a.frame.z) / 2;
    const point = vadd(inPlane, vscale(a.frame.z, lift));
    const along = cross(a.frame.z, radial);
    const rb = acrossAxis(b.frame, point);
    const sideB = Math.sign(dot(along, cross(b.frame.z, rb))) || 1;

    const outer = ga.internal ? gb : ga,
      ring = ga.internal ? ga : gb;
    const fit = pairData(outer, ring, Math.min(num(a.element.width), num(b.element.width)), distance);
    const natural = pairData(outer, ring);
    const gap = (distance - natural.workingDistance) * (ring.internal ? -1 : 1);
    const play = Math.max(1e-4, 1e-6 * distance);
    if (!(fit.workingAngle > 0)) {
      findings.push(
        stop(
          'too-close',
          ids,
          `“${name}”: the axes are ${say(distance)} mm apart, nearer than the base circles allow; the working distance is ${say(natural.workingDistance)} mm`,
        ),
      );
    } else if (Number.isFinite(natural.workingDistance) && Math.abs(gap) > play) {
      const beyond = Math.abs(gap) > 2.2 * ga.module;
      findings.push(
        gap > 0
          ? finding(
              beyond ? 'stop' : 'caution',
              beyond ? 'too-far-apart' : 'open-mesh',
              ids,
              `“${name}”: open mesh, the axes are ${say(distance)} mm apart and would be ${say(natural.workingDistance)} mm without play${beyond ? '; the teeth do not reach each other' : ''}`,
            )
          : finding(
              'stop',
              'tight-mesh',
              ids,
              `“${name}”: tight mesh, the axes are ${say(distance)} mm apart and need ${say(natural.workingDistance)} mm; the teeth run into each other`,
            ),
      );
    }
    if (fit.transverseContactRatio + fit.overlapRatio < 1.1 && fit.transverseContactRatio > 0) {
      findings.push(
        finding(
          'caution',
          'low-contact-ratio',
          ids,
          `“${name}”: contact ratio ${say(fit.transverseContactRatio + fit.overlapRatio, 2)} is under 1.1, so the drive would stumble from tooth to tooth`,
        ),
      );
    }
    const overlap =
      Math.min(num(a.element.width), num(b.element.width)) / 2 + Math.max(num(a.element.width), num(b.element.width)) / 2 - Math.abs(2 * lift);
    if (overlap <= 0) {
      findings.push(stop('faces-apart', ids, `“${name}”: the two faces do not overlap along the axis; they are ${say(Math.abs(2 * lift))} mm apart`));
    }
    if (gb.internal !== ga.internal && fit.workingAngle > 0) {
      // KHK Gear Technical Reference, interference of internal gears: z1/z2 ≥ 1 − tan αa2 / tan αw.
      const tipAngle = Math.acos(Math.min(1, ring.baseRadius / ring.tipRadius));
      if (outer.teeth / ring.teeth < 1 - Math.tan(tipAngle) / Math.tan(fit.workingAngle) - 1e-9) {
        findings.push(
          finding(
            'caution',
            'internal-interference',
            ids,
            `“${name}”: the ring’s tips reach below the involute of the ${outer.teeth}-tooth wheel and foul its roots; shorten the ring’s tips or use more teeth`,
            'tipCut',
          ),
        );
      }
    }
    if (gb.internal !== ga.internal && ring.teeth - outer.teeth < 8) {
      findings.push(
        finding(
          'caution',
          'few-teeth-difference',
          ids,
          `“${name}”: with fewer than about eight teeth of difference the tips of an internal pair may foul`,
        ),
      );
    }

    // Put a tooth of a into a space of b: offsets of tooth centres along the common tangent, in pitches, differ by a half.
    const angleOf = (f: typeof a.frame, d: readonly [number, number, number]): number => Math.atan2(dot(d, f.y), dot(d, f.x));
    // Helical teeth are compared in the section half way between both middles.
    const along0 = Math.PI * ga.moduleT;
    const upA = lift * Math.tan(ga.beta),
      upB = -lift * dot(a.frame.z, b.frame.z) * Math.tan(gb.beta);
    const pitchesA = (num(a.element.phase) / DEG - angleOf(a.frame, acrossAxis(a.frame, point))) / ((2 * Math.PI) / ga.teeth) + upA / along0;
    const pitchesB = sideB * ((num(b.element.phase) / DEG - angleOf(b.frame, rb)) / ((2 * Math.PI) / gb.teeth) + upB / along0);
    const add = (fold(pitchesA - 0.5 - pitchesB) * sideB * 360) / gb.teeth;

    const za = exactly(ga.teeth),
      zb = exactly(gb.teeth);
    const tanBeta = Math.tan(ga.beta);
    const angle = fit.workingAngle > 0 ? fit.workingAngle : ga.alphaT;
    const eta = efficiencyOf(c);
    return {
      findings,
      model: {
        ports: [
          { member: a.member, carrier, motion: 'turn', point: a.frame.o, axis: a.frame.z, terms: turnA, coefficient: piRatio(za) },
          {
            member: b.member,
            carrier,
            motion: 'turn',
            point: b.frame.o,
            axis: b.frame.z,
            terms: turnB,
            coefficient: piRatio(sideB > 0 ? neg(zb) : zb),
          },
        ],
        contacts: [
          {
            a: 0,
            b: 1,
            point,
            along: vadd(along, vscale(a.frame.z, -tanBeta)),
            spread: vscale(radial, ga.internal ? Math.tan(angle) : -Math.tan(angle)),
          },
        ],
        efficiency: { forward: eta, backward: eta },
        fit: Number.isFinite(natural.workingDistance) ? { member: b.member, by: vscale(toB, natural.workingDistance - distance) } : undefined,
        phase: { element: b.element.id, unit: 'deg', add, period: 360 / gb.teeth },
        derived: [
          { key: 'distance', label: 'Centre distance', symbol: 'a', value: distance, unit: 'mm' },
          {
            key: 'workingDistance',
            label: 'Working centre distance',
            symbol: 'aw',
            value: natural.workingDistance,
            unit: 'mm',
            formula: 'aw = m·(zb ± za)/2 · cos αt / cos αwt',
          },
          {
            key: 'workingAngle',
            label: 'Working pressure angle',
            symbol: 'αwt',
            value: fit.workingAngle * DEG,
            unit: 'deg',
            formula: 'cos αwt = a₀·cos αt / a',
          },
          {
            key: 'contactRatio',
            label: 'Contact ratio',
            symbol: 'ε',
            value: fit.transverseContactRatio + fit.overlapRatio,
            formula: 'ε = path of contact / base pitch (+ overlap)',
          },
          { key: 'phase', label: 'Turn that puts tooth in space', value: add, unit: 'deg' },
        ],
      },
    };
  },
};
