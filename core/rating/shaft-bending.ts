import { hasStrength } from '../edits/index';
import { type Gear, num } from '../elements/index';
import type { Design, Id, Member } from '../fields/types';
import { type AlongLoad, type ShaftPiece, diagramOf, shaftPiecesOf } from '../forces/index';
import { elementMass } from '../forces/masses';
import type { CarriedJoint } from '../joints/index';
import { lineAt, localFrame, toWorldPoint } from '../math/index';
import { ratedPlaces } from './shaft-sections';

/** Where along a shaft it is looked at how it bends, and how much it may there: rad, mm. */
export interface BendPlace {
  readonly at: number;
  readonly name: string;
  readonly slope: number;
  readonly deflection?: number;
}

/**
 * The lower figures of Shigley, Mechanical Engineering Design, table of maximum ranges for slopes and transverse deflections of
 * shafts (from memory): slopes in rad, deflections at spur gears by module, mm.
 */
const SLOPES = { balls: 0.001, rollers: 0.0008, gear: 0.0005 } as const;
const DEFLECTIONS: readonly (readonly [fromModule: number, deflection: number])[] = [
  [2.54, 0.254],
  [1.27, 0.127],
  [0.508, 0.0762],
];
/** How far a spur gear's shaft may bend at its teeth, mm; of finer teeth the source says nothing. */
export const gearDeflection = (module: number): number | undefined => DEFLECTIONS.find(([from]) => module >= from)?.[1];

/** Rolling bearings and cylindrical gears of a shaft. */
export function bendPlaces(design: Design, m: Member): BendPlace[] {
  const joint = design.joints.find((j) => j.child === m.id) as CarriedJoint | undefined;
  const frame = joint && localFrame(joint);
  const along = frame && Math.abs(Math.abs(frame.z[2]) - 1) < 1e-9 ? frame.z[2] : 0;
  const bearings = (along ? (joint?.bearings ?? []) : []).flatMap((b, k): BendPlace[] =>
    b.form === 'rolling'
      ? [{ at: frame!.o[2] + along * b.at, name: `bearing ${k + 1}, ${joint!.name ?? joint!.id}`, slope: SLOPES[b.rolls ?? 'balls'] }]
      : [],
  );
  const gears = design.elements.flatMap((e): BendPlace[] => {
    if (e.member !== m.id || e.type !== 'gear') return [];
    const f = localFrame(e);
    if (Math.abs(Math.abs(f.z[2]) - 1) > 1e-9) return [];
    const deflection = gearDeflection(num((e as Gear).module));
    return [{ at: f.o[2], name: e.name, slope: SLOPES.gear, ...(deflection !== undefined && { deflection }) }];
  });
  return [...bearings, ...gears];
}

const pull = (at: number, x: number): AlongLoad => ({ name: '', at, force: [x, 0, 0], moment: [0, 0, 0] });
/** Loads with stations at some more places, where nothing acts: between stations the beam is exact. */
const stationed = (loads: readonly AlongLoad[], places: readonly { at: number }[]): AlongLoad[] =>
  [...loads, ...places.map((p) => pull(p.at, 0))].sort((a, b) => a.at - b.at);

/**
 * Slope, rad, and deflection, mm, at each place, under stated loads; undefined where the shaft has no body or is not carried
 * twice.
 */
export function bendsAt(
  places: readonly BendPlace[],
  loads: readonly AlongLoad[],
  supports: readonly number[],
  pieces: readonly ShaftPiece[],
): readonly (readonly [slope: number, deflection: number])[] | undefined {
  if (supports.length < 2 || !pieces.length) return undefined;
  const { at, slope, deflection } = diagramOf('', stationed(loads, places), supports, pieces, 1);
  if (!slope || !deflection) return undefined;
  const size = (of: readonly [Float64Array, Float64Array], z: number): number => Math.hypot(lineAt(at, of[0], z), lineAt(at, of[1], z));
  return places.map((p) => [size(slope, p.at), size(deflection, p.at)]);
}

/** Pieces into which a bar is cut to weigh it. */
const LUMPS = 8;
/** Weights along a shaft: of its bars piece by piece, of each other element where its centre is. mm, kg */
export function weightsAlong(design: Design, m: Member): { at: number; mass: number }[] {
  const of = design.elements.filter((e) => e.member === m.id);
  return of.flatMap((e) => {
    const { mass, centre } = elementMass(e);
    const f = localFrame(e);
    if (e.type !== 'rod' || Math.abs(Math.abs(f.z[2]) - 1) > 1e-9) return mass > 0 ? [{ at: toWorldPoint(f, centre)[2], mass }] : [];
    const length = num((e as unknown as { length: number }).length);
    return Array.from({ length: LUMPS }, (_, k) => ({ at: f.o[2] + length * ((k + 0.5) / LUMPS - 0.5), mass: mass / LUMPS }));
  });
}

/** Steps of the power method, and how nearly they must repeat. */
const STEPS = 1000;
const REPEATS = 1e-10;

/**
 * The lowest speed at which a shaft with weights whirls, rev/min: the lowest eigenvalue of lumped masses on a beam between its
 * outermost supports (Stodola's method; stiff bearings, steel, no gyroscopic effect). Undefined without two supports, a body or
 * weights that bend it.
 */
export function criticalSpeed(
  weights: readonly { at: number; mass: number }[],
  supports: readonly number[],
  pieces: readonly ShaftPiece[],
): number | undefined {
  const [a, b] = [supports[0], supports[supports.length - 1]];
  if (supports.length < 2 || !(b > a) || !pieces.length) return undefined;
  // Deflection at each weight under 1 N at another.
  const under = weights.map(({ at: z }) => {
    const loads = stationed([pull(a, -(b - z) / (b - a)), pull(z, 1), pull(b, -(z - a) / (b - a))], weights);
    const { at, deflection } = diagramOf('', loads, [a, b], pieces, 1);
    return weights.map((w) => (deflection ? lineAt(at, deflection[0], w.at) : 0));
  });
  let y = weights.map(() => 1);
  let last = 0;
  for (let k = 0; k < STEPS; k++) {
    const next = weights.map((_, i) => weights.reduce((sum, w, j) => sum + under[j][i] * w.mass * y[j], 0));
    const most = next.reduce((m, x) => (Math.abs(x) > Math.abs(m) ? x : m), 0);
    if (most === 0) return undefined;
    y = next.map((x) => x / most);
    if (Math.abs(most - last) < REPEATS * Math.abs(most)) break;
    last = most;
  }
  // mm/N·kg is s²·1e-3.
  const [up, down] = weights.reduce(
    ([u, d], w, i) => {
      const bent = weights.reduce((sum, x, j) => sum + under[j][i] * x.mass * y[j], 0);
      return [u + w.mass * y[i] * y[i], d + w.mass * y[i] * bent];
    },
    [0, 0],
  );
  return down > 0 ? (Math.sqrt(up / (down * 1e-3)) * 60) / (2 * Math.PI) : undefined;
}

/** What is asked of a shaft at every instant. */
export interface AskedShaft {
  readonly member: Id;
  /** The joint that carries it. */
  readonly joint: Id | undefined;
  /** Places of its notches and keyways, mm along it. */
  readonly places: readonly number[];
  readonly bends: readonly BendPlace[];
  readonly pieces: readonly ShaftPiece[];
}
const asked = new WeakMap<Design, readonly AskedShaft[]>();
/** The shafts of a design that are rated; worked out once for all its instants. */
export function askedShafts(design: Design): readonly AskedShaft[] {
  const had = asked.get(design);
  if (had) return had;
  const made = design.members
    .filter((m) => m.kind === 'shaft' && hasStrength(m))
    .map((m) => ({
      member: m.id,
      joint: design.joints.find((j) => j.child === m.id)?.id,
      places: ratedPlaces(m),
      bends: bendPlaces(design, m),
      pieces: shaftPiecesOf(design, m.id),
    }));
  asked.set(design, made);
  return made;
}
