import { assemblyOf } from '../assembly/index';
import { type SurfaceLine, elementKind, extentOf, plainOf, simplifiedOf } from '../elements/index';
import type { Id, KeptDrawing } from '../fields/types';
import type { Compiled, Pose } from '../kinematics/index';
import { type Frame, type Vec3, dot, toLocalVector } from '../math/index';
import type { Shapes } from '../shapes/index';
import { type Solid, rangeOf, reachOf, reachOfSolids } from '../solids/index';
import type { View } from './views';

/** A body of a drawing. */
export interface DrawnBody {
  element: Id;
  member: Id;
  name: string;
  type: string;
  /** Bodies of the same shape have the same key. */
  shape: string;
  /** In its own frame, mm: as it is seen, and where it is cut along its axis what is hatched and what is not. */
  whole: readonly Solid[];
  cored?: { readonly core: readonly Solid[]; readonly ring: readonly Solid[] };
  lines: readonly SurfaceLine[];
  /** Where it is round about its z axis: how far it reaches from it and along it. */
  round?: { r: number; from: number; to: number };
  /** Its box in its own frame. */
  extent: readonly [Vec3, Vec3];
  place: Frame;
  /** A part that came from a file, as STEP holds it. */
  step?: Uint8Array;
  /** Which hatching it has; neighbours differ. */
  hatch: number;
}

/** Kinds that are round about their own z axis. */
const ROUND: ReadonlySet<string> = new Set([
  'gear',
  'bevel-gear',
  'worm',
  'worm-wheel',
  'pulley',
  'drum',
  'screw',
  'nut',
  'wheel',
  'ratchet-wheel',
  'rod',
  'dial',
  'sector',
  'cam',
]);
/** Is this kind of element round about its own z axis? */
export const isRound = (type: string): boolean => ROUND.has(type);
/** How far solids reach from the z axis, mm: tips may point anywhere, so a box does not tell. */
const radiusOf = (solids: readonly Solid[]): number =>
  solids.reduce((r, s) => Math.max(r, s.kind === 'turned' ? rangeOf(s.section, [1, 0])[1] : reachOf(s.outline)), 0);
/** Bodies that are shown whole where they are cut lengthwise (ISO 128-3: shafts, screws). */
const UNCUT: ReadonlySet<string> = new Set(['rod', 'screw', 'worm']);

/** The bodies that a drawing shows at a pose; and what it leaves out, in sentences. */
export function bodiesOf(compiled: Compiled, pose: Pose, d: KeptDrawing, shapes: Shapes): { bodies: DrawnBody[]; notes: string[] } {
  const whole = assemblyOf(compiled, pose, d.member === undefined ? undefined : [d.member], shapes);
  const elements = new Map(compiled.design.elements.map((e) => [e.id, e]));
  const simple = d.teeth !== 'as cut';
  const notes: string[] = [];
  const bodies = whole.members.flatMap((m, k) =>
    m.bodies.flatMap((b): DrawnBody[] => {
      if (b.content && !b.content.step) {
        notes.push(`“${b.name}” is not drawn: it came as a mesh, which has no edges.`);
        return [];
      }
      const e = elements.get(b.element)!;
      const kind = elementKind(b.type);
      const extent = kind && extentOf(kind, e);
      if (!extent) return [];
      // Threads are never drawn turn by turn.
      const how = simple || b.type === 'screw' || b.type === 'worm' ? simplifiedOf(e) : undefined;
      return [
        {
          element: b.element,
          member: m.member,
          name: b.name,
          type: b.type,
          shape: `${how ? 'simplified' : 'as cut'} ${b.shape}`,
          whole: how?.whole ?? b.solids,
          ...(how?.ring.length && { cored: { core: plainOf(e), ring: how.ring } }),
          lines: how?.lines ?? [],
          extent,
          ...(isRound(b.type) && { round: { r: radiusOf(how?.whole ?? b.solids), from: extent[0][2], to: extent[1][2] } }),
          place: b.place,
          step: b.content?.step,
          hatch: k,
        },
      ];
    }),
  );
  for (const e of compiled.design.elements) {
    if (
      e.type === 'shape' &&
      (d.member === undefined || e.member === d.member) &&
      !whole.members.some((m) => m.bodies.some((b) => b.element === e.id))
    ) {
      notes.push(`“${e.name}” is not drawn: its content is not here.`);
    }
  }
  return { bodies, notes };
}

/** From where to where a body reaches along a direction of the world of length 1, mm. */
export function bodyReach({ place, whole, extent: [lo, hi] }: DrawnBody, along: Vec3): [from: number, to: number] {
  const [at, own] = [dot(place.o, along), toLocalVector(place, along)];
  // A part from a file has no solids of ours: its box tells.
  const [from, to] =
    reachOfSolids(whole, own) ?? [0, 1].map((end) => own.reduce((s, c, k) => s + (c > 0 === (end === 1) ? c * hi[k] : c * lo[k]), 0));
  return [at + from, at + to];
}

/**
 * How a section takes a body: gone, as it lies before the plane; shown whole; cut and hatched; or cut with its teeth not
 * hatched.
 */
export function takenBy(view: View, b: DrawnBody): 'gone' | 'whole' | 'cut' | 'cored' {
  if (!view.cut) return 'whole';
  const { along, at } = view.cut;
  const [from, to] = bodyReach(b, along);
  if (to <= at + 1e-6) return 'gone';
  if (from >= at - 1e-6) return 'whole';
  const lengthwise = Math.abs(dot(b.place.z, along)) < 1e-6;
  if (lengthwise && UNCUT.has(b.type)) return 'whole';
  return lengthwise && b.cored ? 'cored' : 'cut';
}
