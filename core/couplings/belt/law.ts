import { type Pulley, exactOf, num } from '../../elements/index';
import { PiRatio, Vec3, div, exactly, mul, neg, piMul, piRatio, sub, toNumber, toWorldPoint, toWorldVector, vscale } from '../../math/index';
import { type Placed, efficiencyOf } from '../common';
import type { BandModel, Contact, CouplingContext, Port } from '../protocol';
import type { Run } from './fields';
import { isToothed } from './findings';
import { type BandGeometry, outline } from './geometry';

const DEG = 180 / Math.PI;
/** A wheel that the band hardly touches transmits nothing, rad. */
const NO_WRAP = 1e-6;

/** Rim travel for one turn of a wheel, exact: z·p where toothed, π·d otherwise. */
const rimPerTurn = (e: Pulley): PiRatio =>
  e.form === 'toothed' || e.form === 'sprocket' ? piRatio(mul(exactOf(e.teeth), exactOf(e.pitch))) : piRatio(exactOf(e.diameter), 1);

/**
 * Greatest ratio of strand tensions before slip: e^(μφ), with the wedge
 * of a V groove e^(μφ / sin(β/2)) (Euler–Eytelwein; Shigley, eq. 17-7).
 */
export const tensionLimit = (mu: number, wrap: number, groove?: number): number => Math.exp((mu * wrap) / (groove ? Math.sin(groove / 2) : 1));

/**
 * The rim travels of all wheels are equal, with the sign of the side on which the band bears. One row
 * for each strand but the last; the row's force is that strand's tension less the last one's. Undefined,
 * with the two members, where no member carries the axes of two wheels that follow each other.
 */
export function bandModel(
  c: Run,
  ctx: CouplingContext,
  wheels: readonly Placed<Pulley>[],
  g: BandGeometry,
  chain: boolean,
): BandModel | [string, string] {
  const { plane, run, path } = g;
  const toothed = isToothed(wheels, chain);
  const creep = toothed ? exactly(0) : exactly(num(c.creep));
  const eta = efficiencyOf(c, chain ? 0.97 : 0.96);
  // What creeps falls behind the wheel that drives: the one nearest to a source.
  const from = wheels.map((w) => ctx.fromSource(w.member));
  const driver = from.indexOf(Math.min(...from));
  const ports: Port[] = [];
  for (const [i, w] of wheels.entries()) {
    const next = wheels[(i + 1) % wheels.length];
    const common = ctx.carrier(w.member, [w.frame.o, w.frame.z], next.member, [next.frame.o, next.frame.z]);
    // An idler on a lever of its own turns in that lever; the band counts the lever where it stands.
    const carrier = common ?? ctx.carried(w.member, (j) => j.motion === 'turn')?.parent;
    const terms = carrier === undefined ? undefined : ctx.turn(w.member, carrier, [w.frame.o, plane.z]);
    if (carrier === undefined || !terms?.length) return [w.member, next.member];
    const rim = rimPerTurn(w.element);
    ports.push({
      member: w.member,
      carrier,
      motion: 'turn',
      point: w.frame.o,
      axis: plane.z,
      terms,
      coefficient: run[i].side > 0 ? rim : piRatio(neg(rim.q), rim.pi),
    });
  }
  const world = (p: readonly [number, number]): Vec3 => toWorldPoint(plane, [p[0], p[1], 0]);
  // The strand from wheel k to k+1 pulls k forward along itself, and k+1 back: its row ties these two.
  const strand = (k: number, way: 1 | -1): Contact => {
    const s = path.strands[k];
    const d = toWorldVector(plane, [s.direction[0], s.direction[1], 0]);
    return { a: way > 0 ? 0 : 1, b: way > 0 ? 1 : 0, point: world(s.from), along: vscale(d, way), spread: [0, 0, 0] };
  };
  // A wheel beside the driver turns less than the band's way for it:
  // the row counts it as more. Between driven wheels nothing creeps.
  const behind = (p: Port): Port => ({
    ...p,
    creep: toNumber(creep),
    coefficient: piMul(p.coefficient, piRatio(div(exactly(1), sub(exactly(1), creep)))),
  });
  const rows = ports.slice(0, -1).map((port, k): BandModel => {
    const next: Port = { ...ports[k + 1], coefficient: piRatio(neg(ports[k + 1].coefficient.q), ports[k + 1].coefficient.pi) };
    return {
      law: 'band',
      ports: [k + 1 === driver ? behind(port) : port, k === driver ? behind(next) : next],
      // The force is read at the side that does not creep.
      contacts: [strand(k, k + 1 === driver ? -1 : 1)],
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
  first.band = {
    pretension: num(c.pretension),
    lengths: path.strands.map((x) => x.length),
    pulls,
    limits: wheels.map((w, i) =>
      toothed || path.wraps[i] < NO_WRAP
        ? Infinity
        : tensionLimit(num(c.friction, 0.3), path.wraps[i], w.element.form === 'v' ? num(w.element.groove, 38) / DEG : undefined),
    ),
    path: { points: outline(run, path).map(world), width: Math.min(...wheels.map((w) => num(w.element.width))) },
  };
  first.derived = [
    { key: 'length', label: 'Length', symbol: 'L', value: path.length, unit: 'mm', formula: 'strands + Σ r·wrap' },
    ...(toothed ? [{ key: 'pitches', label: chain ? 'Links' : 'Teeth of the belt', value: path.length / pitch, formula: 'L / p' }] : []),
    ...wheels.map((w, i) => ({ key: `wrap${i}`, label: `Wrap on ${w.element.name}`, value: path.wraps[i] * DEG, unit: 'deg' })),
    ...(toothed
      ? []
      : wheels.map((w, i) => ({
          key: `limit${i}`,
          label: `Tension ratio before slip on ${w.element.name}`,
          value: first.band!.limits[i],
          formula: 'e^(μ·φ), in a V groove e^(μ·φ/sin(β/2))',
        }))),
  ];
  return first;
}
