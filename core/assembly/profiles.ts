import { Clipper, EndType, JoinType, type PathsD } from 'clipper2-ts';
import { type Gear, elementKind, num } from '../elements/index';
import type { Element, Id } from '../fields/types';
import { type Outline, type Solid, areaOf, circle, clockwise, counterClockwise, flattened, moved, polygon, turned } from '../solids/index';
import type { Compiled } from '../kinematics/index';

/** A flat part for cutting: its edge runs counter-clockwise, its holes clockwise, mm. */
export interface Profile {
  element: Id;
  member: Id;
  name: string;
  outline: Outline;
  holes: readonly Outline[];
  thickness: number;
  /** What the outline leaves out of the part. */
  note?: string;
}

/** How profiles are drawn for a cutter. */
export interface CutOptions {
  /** Circumferential backlash of a pair, mm: each gear's teeth are made thinner by half of it. */
  backlash?: number;
  /**
   * Width of the cut, mm. The path is moved by half of it: outward for a positive width, so that the part comes out in
   * true size.
   */
  kerf?: number;
}

/** The bar or ring that a turned body is, where its section is a rectangle. */
function ringOf(s: Extract<Solid, { kind: 'turned' }>): { inner: number; outer: number; width: number } | undefined {
  const points = [s.section.start, ...s.section.pieces.map((p) => p.to)];
  if (s.section.pieces.some((p) => p.kind !== 'line') || points.length !== 5) return undefined;
  const [r, z] = [points.map((p) => p[0]), points.map((p) => p[1])];
  const [inner, outer, low, high] = [Math.min(...r), Math.max(...r), Math.min(...z), Math.max(...z)];
  const square = points.every(([x, y]) => (x === inner || x === outer) && (y === low || y === high));
  return square ? { inner, outer, width: high - low } : undefined;
}

/** The flat figure of a solid, and its thickness; undefined where it is not flat. */
function flatOf(s: Solid): Pick<Profile, 'outline' | 'holes' | 'thickness' | 'note'> | undefined {
  if (s.kind === 'prism') {
    const skew = s.twist || s.lean;
    return {
      outline: counterClockwise(s.outline),
      holes: (s.holes ?? []).map(clockwise),
      thickness: Math.abs(s.to - s.from),
      ...(skew && { note: 'Teeth are helical: this is their transverse section, at half the face width.' }),
    };
  }
  if (s.kind === 'taper') return undefined;
  const ring = ringOf(s);
  return ring && { outline: circle(ring.outer), holes: ring.inner > 0 ? [clockwise(circle(ring.inner))] : [], thickness: ring.width };
}

/** Kinds whose flat figure is no part that is cut from plate: threads and their nuts, rods, and what is drawn for the eye. */
const NOT_CUT = new Set(['screw', 'nut', 'worm', 'rod', 'bevel-gear', 'pointer', 'dial', 'drum', 'crank', 'follower', 'worm-wheel']);

const thinned = (e: Gear, by: number): Gear => ({ ...e, thinning: num(e.thinning) + by });

/** The flat part that an element is; undefined where it is not one. */
export function profileOf(e: Element, options: CutOptions = {}): Profile | undefined {
  const kind = elementKind(e.type);
  if (!kind || NOT_CUT.has(e.type)) return undefined;
  const thin = (options.backlash ?? 0) / 2;
  const made = thin > 0 && e.type === 'gear' ? thinned(e as Gear, thin) : e;
  const solids = kind.shape(made);
  if (solids.length !== 1) return undefined;
  const flat = flatOf(solids[0]);
  return flat && { element: e.id, member: e.member, name: e.name ?? kind.label, ...flat };
}

/** All flat parts of a design, or of some members, in the order in which they are stated. */
export const profilesOf = (compiled: Compiled, options: CutOptions = {}, only?: readonly Id[]): Profile[] =>
  compiled.design.elements.flatMap((e) => (only && !only.includes(e.member) ? [] : (profileOf(e, options) ?? [])));

/** Paths of a cutter: closed, holes the other way round. */
export interface CutPath {
  outline: Outline;
  holes: readonly Outline[];
  /**
   * Area between the part as stated and what a round tool of the kerf's width leaves of it, mm²; more than nothing: it
   * does not reach.
   */
  unreached: number;
}

/** Polygons stay within this of the curve when they are moved aside, mm. */
const PATH_TOLERANCE = 1e-3;
const DIGITS = 6;

const polygonsOf = (loops: readonly Outline[]): PathsD =>
  loops.map((o) => {
    const p = flattened(o, { turn: 0, tolerance: PATH_TOLERANCE });
    return Array.from({ length: p.length / 2 }, (_, i) => ({ x: p[2 * i], y: p[2 * i + 1] }));
  });

const aside = (paths: PathsD, by: number): PathsD => Clipper.inflatePathsD(paths, by, JoinType.Round, EndType.Polygon, 2, DIGITS, PATH_TOLERANCE);
const areaIn = (paths: PathsD): number => paths.reduce((a, p) => a + Clipper.areaD(p), 0);

/**
 * The path that a cutter's middle takes round a part: half the kerf outside its edge and inside its holes; inside its edge for a
 * negative kerf (the part is what is cut away). Without a kerf it is the part's own edge, as true curves.
 */
export function cutPath(p: Profile, kerf = 0): CutPath {
  if (kerf === 0) return { outline: p.outline, holes: p.holes, unreached: 0 };
  const part = polygonsOf([p.outline, ...p.holes]);
  const path = aside(part, kerf / 2);
  // What the tool leaves: back from its path by its radius. In corners that it does not reach it leaves more.
  const left = aside(path, -kerf / 2);
  const loops = path.map((x) => polygon(x.flatMap(({ x: a, y: b }) => [a, b])));
  loops.sort((a, b) => areaOf(b) - areaOf(a));
  const unreached = Math.abs(areaIn(left) - areaIn(part));
  const edge = areaIn(part);
  return {
    outline: loops[0] ?? p.outline,
    holes: loops.slice(1),
    // Rounding of the polygons themselves is no fault of the tool.
    unreached: unreached > 1e-6 * edge + 4 * PATH_TOLERANCE * kerf ? unreached : 0,
  };
}

/** A figure moved, and turned by a quarter where asked. */
export const put = (o: Outline, at: readonly [number, number], quarter = false): Outline => {
  const t = quarter ? turned(o, Math.PI / 2) : o;
  return moved(t, at[0], at[1]);
};
