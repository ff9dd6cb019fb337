import type { Id } from '../../fields/types';
import { type Gear, exactOf, num } from '../../elements/index';
import { dot, exactly, neg, norm, piRatio, vadd, vscale, vsub } from '../../math/index';
import { type Placed, acrossAxis, faceEngagement, travelPorts, turningPort } from '../common';
import type { Derived } from '../../elements/protocol';
import { specificSliding } from '../../teeth/index';
import type { CouplingContext, ProportionalModel, Term } from '../protocol';
import { type BacklashLimits, limitsDerived } from './backlash';
import type { PairGeometry } from './geometry';

const DEG = 180 / Math.PI;

/** Specific sliding at both roots of an external pair, where tips meet involutes. */
function slidingDerived(a: string, b: string, { ga, gb, distance }: PairGeometry): Derived[] {
  if (ga.internal || gb.internal || distance <= ga.baseRadius + gb.baseRadius) return [];
  return specificSliding(ga, gb, distance)
    .map((value, k) => ({
      key: k ? 'slidingB' : 'slidingA',
      label: `Specific sliding, root of ${k ? b : a}`,
      symbol: k ? 'ζ2' : 'ζ1',
      value,
      formula: 'ζ = 1 − ρ₂/(u·ρ₁)',
    }))
    .filter((d) => Number.isFinite(d.value));
}

/** How two meshing wheels move against their carrier. */
export interface PairTurns {
  carrier: Id;
  turnA: Term[];
  turnB: Term[];
}

/**
 * za θa ± zb θb = 0 relative to the carrier: the tangential speeds of both wheels at the pitch
 * point are the same. One contact there, its force along the common normal of the teeth.
 */
export function pairModel(
  ctx: CouplingContext,
  a: Placed<Gear>,
  b: Placed<Gear>,
  turns: PairTurns,
  g: PairGeometry,
  efficiency: number,
  limits?: BacklashLimits,
): ProportionalModel {
  const { carrier, turnA, turnB } = turns;
  const { ga, gb, fit, natural } = g;
  const za = exactly(ga.teeth),
    zb = exactly(gb.teeth);
  const angle = fit.workingAngle > 0 ? fit.workingAngle : ga.alphaT;
  const add = (g.pitchesOff * 360) / gb.teeth + 0;
  const axis = a.frame.z;
  const lift = dot(vsub(b.frame.o, a.frame.o), axis);
  // On the working circle the helix is as much steeper as this is larger: tan βw = tan β · rw/r.
  const slope = (Math.tan(ga.beta) * norm(acrossAxis(a.frame, g.point))) / ga.pitchRadius;
  // A helical wheel that travels along its axis turns the other by a turn for each lead.
  const helix = ga.beta === 0 ? undefined : exactOf(Number((Math.tan(ga.beta) / ga.moduleT).toPrecision(15)));
  return {
    law: 'proportional',
    ports: [
      turningPort(a, carrier, turnA, piRatio(za)),
      turningPort(b, carrier, turnB, piRatio(g.sideB > 0 ? neg(zb) : zb)),
      ...(helix ? [...travelPorts(ctx, carrier, a, axis, piRatio(neg(helix), -1)), ...travelPorts(ctx, carrier, b, axis, piRatio(helix, -1))] : []),
    ],
    engagements: faceEngagement(ctx, carrier, a, b, [num(a.element.width), num(b.element.width)], lift),
    contacts: [
      {
        a: 0,
        b: 1,
        point: g.point,
        along: vadd(g.along, vscale(axis, -slope)),
        spread: vscale(g.radial, ga.internal ? Math.tan(angle) : -Math.tan(angle)),
      },
    ],
    efficiency: { forward: efficiency, backward: efficiency },
    fit: Number.isFinite(natural.workingDistance) ? { member: b.member, by: vscale(g.toB, natural.workingDistance - g.distance) } : undefined,
    phase: { element: b.element.id, unit: 'deg', add, period: 360 / gb.teeth },
    derived: [
      { key: 'distance', label: 'Centre distance', symbol: 'a', value: g.distance, unit: 'mm' },
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
      {
        key: 'backlash',
        label: 'Backlash on the working circle',
        symbol: 'jwt',
        value: fit.backlash,
        unit: 'mm',
        formula: 'jwt = p − s₁ − s₂ at the working circles',
      },
      {
        key: 'normalBacklash',
        label: 'Backlash square to the flanks',
        symbol: 'jbn',
        value: fit.normalBacklash,
        unit: 'mm',
        formula: 'jbn = jwt·cos αwt·cos βb',
      },
      {
        key: 'backlashA',
        label: `Backlash as a turn of ${a.element.name}`,
        value: (g.outer === ga ? fit.turnA : fit.turnB) * DEG,
        unit: 'deg',
        formula: 'jwt / rw',
      },
      {
        key: 'backlashB',
        label: `Backlash as a turn of ${b.element.name}`,
        value: (g.outer === ga ? fit.turnB : fit.turnA) * DEG,
        unit: 'deg',
        formula: 'jwt / rw',
      },
      ...slidingDerived(a.element.name, b.element.name, g),
      ...(limits
        ? limitsDerived(
            limits.least.backlash,
            limits.most.backlash,
            g.outer === ga ? [limits.least.turnA, limits.most.turnA] : [limits.least.turnB, limits.most.turnB],
            a.element.name,
          )
        : []),
      { key: 'phase', label: 'Turn that puts tooth in space', value: add, unit: 'deg' },
    ],
  };
}
