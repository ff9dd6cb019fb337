import type { Coupling, Finding, Id } from '../fields/types';
import { finding } from '../fields/types';
import { flagField, numberField, refsField } from '../fields/fields';
import { num, pulleyRadius } from '../elements/index';
import { PiRatio, exactly, mul, neg, piMul, piRatio, sub } from '../exact/index';
import { Vec3, cross, norm, toLocalPoint, toWorldPoint, toWorldVector } from '../numeric/index';
import { EFFICIENCY_FIELD, efficiencyOf, noCarrier, say, stop } from './common';
import { BeltWheel, beltPath } from './belt-path';
import type { Contact, CouplingContext, CouplingKind, CouplingModel, Port } from './protocol';

const DEG = 180 / Math.PI;

/** Rim travel for one turn of a wheel, exact: z·p where toothed, π·d otherwise. */
const rimPerTurn = (e: Record<string, unknown>): PiRatio =>
  e.form === 'toothed' || e.form === 'sprocket'
    ? piRatio(mul(exactly(num(e.teeth)), exactly(e.pitch as number | string)))
    : piRatio(exactly(e.diameter as number | string), 1);

/** Greatest ratio of strand tensions before slip: e^(μφ), with the wedge of a V groove e^(μφ / sin(β/2)) (Euler–Eytelwein; Shigley, eq. 17-7). */
export const tensionLimit = (mu: number, wrap: number, groove?: number): number => Math.exp((mu * wrap) / (groove ? Math.sin(groove / 2) : 1));

/**
 * A belt or chain over any number of wheels in one plane: the rim travels of all wheels are equal, with the sign of the side on which the
 * belt bears. One row for each strand but the last; the row's force is that strand's tension less the last one's.
 */
function model(c: Coupling, ctx: CouplingContext, chain: boolean): { model?: CouplingModel; findings: Finding[] } {
  const name = c.name ?? c.id;
  const ids = [c.id];
  const found = (c.wheels as Id[]).map((id) => ctx.element(id));
  const missing = found.findIndex((f) => !f || f.element.type !== 'pulley');
  if (missing >= 0) {
    return {
      findings: [
        stop(
          'coupling-needs-element',
          ids,
          `“${name}” runs over ${chain ? 'sprockets' : 'pulleys'}: its wheel ${missing + 1} is none; choose another`,
          'wheels',
        ),
      ],
    };
  }
  const wheels = found.map((f) => f!);
  ids.push(...wheels.map((w) => w.element.id));
  if (wheels.length < 2) return { findings: [stop('belt-one-wheel', ids, `“${name}” needs at least two wheels`, 'wheels')] };
  if (new Set(wheels.map((w) => w.member)).size < wheels.length) {
    return {
      findings: [
        stop(
          'coupling-same-member',
          ids,
          `“${name}” runs over two wheels of one member, which cannot move against each other; choose wheels of different members`,
          'wheels',
        ),
      ],
    };
  }
  const findings: Finding[] = [];
  const plane = wheels[0].frame;
  const radii = wheels.map((w) => pulleyRadius(w.element));
  if (radii.some((r) => !(r > 0))) return { findings };
  const crossed = c.crossed === true && wheels.length === 2;
  const outside = new Set((c.outside as Id[] | undefined) ?? []);
  if (wheels.some((w) => norm(cross(w.frame.z, plane.z)) > 1e-6)) {
    return { findings: [stop('axes-not-parallel', ids, `“${name}”: the wheels' axes are not parallel; set them parallel`)] };
  }
  const kinds = new Set(wheels.map((w) => String(w.element.form ?? 'flat')));
  const wanted = chain ? ['sprocket'] : ['flat', 'v', 'toothed'];
  for (const k of kinds) {
    if (!wanted.includes(k)) {
      findings.push(stop('belt-form', ids, `“${name}”: a ${k} wheel does not suit a ${chain ? 'chain' : 'belt'}; use ${wanted.join(', ')}`, 'form'));
    }
  }
  const toothed = chain || kinds.has('toothed');
  if (
    toothed &&
    [...kinds].some((k) => k !== 'toothed' && k !== 'sprocket') &&
    wheels.some((w) => w.element.form !== 'toothed' && !outside.has(w.element.id))
  ) {
    findings.push(stop('belt-form', ids, `“${name}”: a toothed belt needs toothed wheels inside its loop`, 'form'));
  }
  const pitches = new Set(
    wheels.filter((w) => w.element.form === 'toothed' || w.element.form === 'sprocket').map((w) => String(num(w.element.pitch))),
  );
  if (pitches.size > 1) {
    findings.push(
      stop('pitch-differs', ids, `“${name}”: pitches of ${[...pitches].join(' and ')} mm do not run together; give all wheels the same`, 'pitch'),
    );
  }
  for (const w of wheels) {
    const off = toLocalPoint(plane, w.frame.o)[2];
    if (Math.abs(off) > 0.05) {
      findings.push(
        finding(
          'caution',
          'belt-out-of-line',
          [c.id, w.element.id],
          `“${name}”: “${w.element.name}” stands ${say(Math.abs(off))} mm out of the ${chain ? 'chain' : 'belt'}'s plane; move it along its shaft`,
          'at',
        ),
      );
    }
  }
  const flat = wheels.map((w) => toLocalPoint(plane, w.frame.o));
  // The order as listed may run either way round: inside means to the left of the way.
  let area = 0;
  flat.forEach((p, i) => {
    const q = flat[(i + 1) % flat.length];
    area += p[0] * q[1] - p[1] * q[0];
  });
  const way = wheels.length > 2 && area < 0 ? -1 : 1;
  const run: BeltWheel[] = wheels.map((w, i) => ({
    x: flat[i][0],
    y: flat[i][1],
    r: radii[i],
    side: ((outside.has(w.element.id) || (crossed && i === 1) ? -1 : 1) * way) as 1 | -1,
  }));
  const path = beltPath(run);
  if (path.impossible !== undefined) {
    return {
      findings: [
        ...findings,
        stop(
          'wheels-overlap',
          ids,
          `“${name}”: “${wheels[path.impossible].element.name}” and the next wheel are too near for a strand between them; move them apart`,
        ),
      ],
    };
  }

  const creep = toothed ? exactly(0) : exactly(num(c.creep));
  const eta = efficiencyOf(c, chain ? 0.97 : toothed ? 0.98 : 0.96);
  const ports: Port[] = [];
  for (const [i, w] of wheels.entries()) {
    const next = wheels[(i + 1) % wheels.length];
    const carrier = ctx.carrier(w.member, [w.frame.o, w.frame.z], next.member, [next.frame.o, next.frame.z]);
    const terms = carrier === undefined ? undefined : ctx.turn(w.member, carrier, plane.z);
    if (carrier === undefined || !terms) return { findings: [...findings, noCarrier(c, ctx, ids, w.member, next.member)] };
    const rim = rimPerTurn(w.element);
    // Creep: the driven wheels fall behind the first one by this part.
    const kept = i === 0 ? piMul(rim, piRatio(sub(exactly(1), creep))) : rim;
    ports.push({
      member: w.member,
      carrier,
      motion: 'turn',
      point: w.frame.o,
      axis: plane.z,
      terms,
      coefficient: run[i].side > 0 ? kept : piRatio(neg(kept.q), kept.pi),
    });
  }
  const world = (p: readonly [number, number]): Vec3 => toWorldPoint(plane, [p[0], p[1], 0]);
  const strand = (i: number, port: number): Contact => {
    const s = path.strands[i];
    return { a: port, b: port + 1, point: world(s.from), along: toWorldVector(plane, [s.direction[0], s.direction[1], 0]), spread: [0, 0, 0] };
  };
  // The strand from wheel k to k+1 pulls k forward along itself: its row ties these two.
  const rows = ports.slice(0, -1).map((p, k): CouplingModel => {
    const q = ports[k + 1];
    return {
      ports: [p, { ...q, coefficient: piRatio(neg(q.coefficient.q), q.coefficient.pi) }],
      contacts: [{ ...strand(k, 0), a: 0, b: 1 }],
      efficiency: { forward: eta, backward: eta },
    };
  });
  const pulls = wheels.map((w, i) => {
    const out = path.strands[i].direction;
    const into = path.strands[(i + wheels.length - 1) % wheels.length].direction;
    return { member: w.member, carrier: ports[i].carrier, point: w.frame.o, force: toWorldVector(plane, [out[0] - into[0], out[1] - into[1], 0]) };
  });
  const pitch = toothed ? num(wheels.find((w) => w.element.pitch !== undefined)!.element.pitch) : 0;
  const first = rows[0];
  first.more = rows.slice(1);
  first.strands = { pretension: num(c.pretension), lengths: path.strands.map((x) => x.length), pulls };
  first.path = { points: outline(run, path).map(world), width: Math.min(...wheels.map((w) => num(w.element.width))) };
  first.derived = [
    { key: 'length', label: 'Length', symbol: 'L', value: path.length, unit: 'mm', formula: 'strands + Σ r·wrap' },
    ...(toothed ? [{ key: 'pitches', label: chain ? 'Links' : 'Teeth of the belt', value: path.length / pitch, formula: 'L / p' }] : []),
    ...wheels.map((w, i) => ({ key: `wrap${i}`, label: `Wrap on ${w.element.name}`, value: path.wraps[i] * DEG, unit: 'deg' })),
    ...(toothed
      ? []
      : wheels.map((w, i) => ({
          key: `limit${i}`,
          label: `Tension ratio before slip on ${w.element.name}`,
          value: tensionLimit(num(c.friction, 0.3), path.wraps[i], w.element.form === 'v' ? num(w.element.groove, 38) / DEG : undefined),
          formula: 'e^(μ·φ), in a V groove e^(μ·φ/sin(β/2))',
        }))),
  ];
  return { findings, model: first };
}

/** The closed line of the belt, arcs in steps of about five degrees. */
function outline(run: readonly BeltWheel[], path: ReturnType<typeof beltPath>): [number, number][] {
  const out: [number, number][] = [];
  run.forEach((w, i) => {
    const into = path.strands[(i + run.length - 1) % run.length].to;
    const start = Math.atan2(into[1] - w.y, into[0] - w.x);
    const steps = Math.max(1, Math.ceil(path.wraps[i] / 0.09));
    for (let k = 0; k <= steps; k++) {
      const a = start + (w.side * path.wraps[i] * k) / steps;
      out.push([w.x + w.r * Math.cos(a), w.y + w.r * Math.sin(a)]);
    }
  });
  return out;
}

const COMMON = [
  refsField('wheels', 'Wheels, in the order of the run', 'element', { required: true, least: 2 }),
  refsField('outside', 'Wheels that bear from outside', 'element'),
];
const PRETENSION = numberField('pretension', 'Pre-tension of a strand', { unit: 'N', symbol: 'F0', initial: 0, min: 0, max: 1e7 });

export const belt: CouplingKind = {
  type: 'belt',
  label: 'Belt',
  fields: [
    ...COMMON,
    flagField('crossed', 'Crossed', { initial: false }),
    numberField('creep', 'Creep', { initial: 0, min: 0, max: 0.2, help: 'Part by which a friction belt falls behind; none for toothed belts.' }),
    numberField('friction', 'Friction on the wheels', { symbol: 'μ', initial: 0.3, min: 0, max: 2 }),
    PRETENSION,
    { ...EFFICIENCY_FIELD, initial: 0.96 },
  ],
  model: (c, ctx) => model(c, ctx, false),
};

export const chain: CouplingKind = {
  type: 'chain',
  label: 'Chain',
  fields: [...COMMON, PRETENSION, { ...EFFICIENCY_FIELD, initial: 0.97 }],
  model: (c, ctx) => model(c, ctx, true),
};
