import type { Element } from '../fields/types';
import { Vec3, WORLD, toWorldPoint, vmap } from '../math/index';
import type { ElementKind } from './protocol';
import { bar, faceted } from '../solids/index';

/** The faces by which stops are taken: the six sides of an element's extent in its own frame. */
export const FACES = ['+x', '-x', '+y', '-y', '+z', '-z'] as const;
export type Face = (typeof FACES)[number];

/** Least and greatest x, y, z of an element's shape in its own frame, mm; undefined where it has none. */
export function extentOf(kind: ElementKind, e: Element): [Vec3, Vec3] | undefined {
  const lo = [Infinity, Infinity, Infinity],
    hi = [-Infinity, -Infinity, -Infinity];
  const put = (p: Vec3): void => p.forEach((v, k) => ((lo[k] = Math.min(lo[k], v)), (hi[k] = Math.max(hi[k], v))));
  // A thread reaches out of the cylinder that it is weighed by.
  const thread = kind.thread?.(e);
  for (const s of (thread ? [bar(thread.outside, thread.from, thread.to)] : kind.shape(e)).map((x) => faceted(x))) {
    const f = s.place ?? WORLD;
    if (s.kind === 'prism') {
      for (let i = 0; i < s.outline.length; i += 2) {
        for (const z of [s.from, s.to]) {
          put(toWorldPoint(f, [s.outline[i] + (s.lean ?? 0) * z, s.outline[i + 1], z]));
        }
      }
    } else if (s.kind === 'taper') {
      for (let i = 0; i < s.outline.length; i += 2) {
        for (const k of [1, s.inner]) put(toWorldPoint(f, [k * s.outline[i], k * s.outline[i + 1], k * s.height]));
      }
    } else {
      // A turned body reaches r in every direction across its axis; its box in the element's frame by the direction cosines.
      for (let i = 0; i < s.section.length; i += 2) {
        const c = toWorldPoint(f, [0, 0, s.section[i + 1]]);
        const r = s.section[i];
        const reach = [0, 1, 2].map((k) => r * Math.sqrt(Math.max(0, 1 - f.z[k] * f.z[k])));
        put([c[0] - reach[0], c[1] - reach[1], c[2] - reach[2]]);
        put([c[0] + reach[0], c[1] + reach[1], c[2] + reach[2]]);
      }
    }
  }
  return lo.every(Number.isFinite)
    ? [
        [lo[0], lo[1], lo[2]],
        [hi[0], hi[1], hi[2]],
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
