import { type Gear, gearOf, num } from '../../elements/index';
import { Vec3, cross, dot, norm, unit, vadd, vscale } from '../../math/index';
import { type GearData, pairData } from '../../teeth/index';
import { type Placed, acrossAxis, fold, commonFace } from '../common';

/** Where two cylindrical gears on parallel axes meet, in the world, in the reference position. mm and rad. */
export interface PairGeometry {
  a: Placed<Gear>;
  b: Placed<Gear>;
  ga: GearData;
  gb: GearData;
  /** The external wheel, or the first of two; and the one it runs with. */
  outer: GearData;
  ring: GearData;
  distance: number;
  toB: Vec3;
  /** Pitch point, half way between both middles. */
  point: Vec3;
  /** From the axis of the first towards the pitch point, and the sense in which its rim moves there. */
  radial: Vec3;
  along: Vec3;
  /** +1 where the rim of the second moves alike there for a positive turn. */
  sideB: 1 | -1;
  /** Half of how far the second stands along the axis from the first. */
  lift: number;
  /** The pair as it stands, and without play. */
  fit: ReturnType<typeof pairData>;
  natural: ReturnType<typeof pairData>;
  /** How much the faces have in common along the axis. */
  common: number;
  /** Turn of the second that puts its teeth into spaces, rad of a whole turn in pitches. */
  pitchesOff: number;
}

/**
 * The pitch point divides the line of centres as the counts do, and lies beyond the smaller
 * wheel where one is internal. Undefined where the counts leave none, or the axes are one line.
 */
export function pairGeometry(a: Placed<Gear>, b: Placed<Gear>): PairGeometry | undefined {
  const ga = gearOf(a.element),
    gb = gearOf(b.element);
  const offset = acrossAxis(a.frame, b.frame.o);
  const distance = norm(offset);
  if (distance < 1e-6) return undefined;
  const toB = unit(offset);
  const reachA = ga.internal
    ? (distance * ga.teeth) / (ga.teeth - gb.teeth)
    : gb.internal
      ? (-distance * ga.teeth) / (gb.teeth - ga.teeth)
      : (distance * ga.teeth) / (ga.teeth + gb.teeth);
  if (!Number.isFinite(reachA)) return undefined;
  const radial = vscale(toB, Math.sign(reachA));
  const lift = dot(vadd(b.frame.o, vscale(a.frame.o, -1)), a.frame.z) / 2;
  const point = vadd(vadd(a.frame.o, vscale(toB, reachA)), vscale(a.frame.z, lift));
  const along = cross(a.frame.z, radial);
  const rb = acrossAxis(b.frame, point);
  const sideB = dot(along, cross(b.frame.z, rb)) < 0 ? -1 : 1;
  const outer = ga.internal ? gb : ga,
    ring = ga.internal ? ga : gb;
  const wa = num(a.element.width),
    wb = num(b.element.width);

  // Offsets of tooth centres along the common tangent, in pitches, differ by
  // a half where tooth stands in space. Helical teeth are compared in the
  // section half way between both middles.
  const angleOf = (f: Placed['frame'], d: Vec3): number => Math.atan2(dot(d, f.y), dot(d, f.x));
  const pitch = Math.PI * ga.moduleT;
  const upA = lift * Math.tan(ga.beta),
    upB = -lift * dot(a.frame.z, b.frame.z) * Math.tan(gb.beta);
  const inPitches = (p: Placed<Gear>, g: GearData, towards: Vec3, up: number): number =>
    ((num(p.element.phase) * Math.PI) / 180 - angleOf(p.frame, towards)) / ((2 * Math.PI) / g.teeth) + up / pitch;
  const pitchesA = inPitches(a, ga, acrossAxis(a.frame, point), upA);
  const pitchesB = sideB * inPitches(b, gb, rb, upB);
  const common = commonFace(wa, wb, 2 * lift);
  return {
    a,
    b,
    ga,
    gb,
    outer,
    ring,
    distance,
    toB,
    point,
    radial,
    along,
    sideB,
    lift,
    fit: pairData(outer, ring, common, distance),
    natural: pairData(outer, ring),
    common,
    pitchesOff: fold(pitchesA - 0.5 - pitchesB) * sideB,
  };
}
