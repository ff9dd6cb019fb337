import type { Element } from '../fields/types';
import { Vec3, WORLD, vmap } from '../math/index';
import type { ElementKind } from './protocol';
import { type Solid, bar, reachOfSolids } from '../solids/index';

/** The faces by which stops are taken: the six sides of an element's extent in its own frame. */
export const FACES = ['+x', '-x', '+y', '-y', '+z', '-z'] as const;
export type Face = (typeof FACES)[number];
export const isFace = (side: string): side is Face => FACES.some((f) => f === side);

/** How far an element's shape reaches along a direction of its own frame (of length 1), mm; undefined where it has none. */
export function reachOfElement(kind: ElementKind, e: Element, direction: Vec3): [least: number, most: number] | undefined {
  if (kind.extent) {
    const box = kind.extent(e);
    if (!box) return undefined;
    const ends = [0, 1, 2].map((k) => [direction[k] * box[0][k], direction[k] * box[1][k]]);
    return [ends.reduce((s, x) => s + Math.min(...x), 0), ends.reduce((s, x) => s + Math.max(...x), 0)];
  }
  return reachOfSolids(bodyOf(kind, e), direction);
}
/** A thread reaches out of the cylinder that it is weighed by. */
function bodyOf(kind: ElementKind, e: Element): readonly Solid[] {
  const thread = kind.thread?.(e);
  return thread ? [bar(thread.outside, thread.from, thread.to)] : kind.shape(e);
}

/** Least and greatest x, y, z of an element's shape in its own frame, mm; undefined where it has none. */
export function extentOf(kind: ElementKind, e: Element): readonly [Vec3, Vec3] | undefined {
  if (kind.extent) return kind.extent(e);
  const solids = bodyOf(kind, e);
  const ends = [WORLD.x, WORLD.y, WORLD.z].map((axis) => reachOfSolids(solids, axis));
  const [[x0, x1], [y0, y1], [z0, z1]] = ends.map((r) => r ?? [NaN, NaN]);
  return ends.every(Boolean)
    ? [
        [x0, y0, z0],
        [x1, y1, z1],
      ]
    : undefined;
}

/** A side of an element's extent: a point on it and its outward direction, in the element's frame, mm. */
export function faceOfKind(kind: ElementKind, e: Element, side: Face): { point: Vec3; normal: Vec3 } | undefined {
  const box = extentOf(kind, e);
  if (!box) return undefined;
  const k = 'xyz'.indexOf(side[1]),
    up = side[0] === '+';
  const [lo, hi] = box;
  return {
    point: vmap(lo, (x, i) => (i === k ? (up ? hi[k] : x) : (x + hi[i]) / 2)),
    normal: vmap(lo, (_, i) => (i === k ? (up ? 1 : -1) : 0)),
  };
}
