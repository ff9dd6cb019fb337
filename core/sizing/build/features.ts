import { elementKind, extentOf, isShape, num, placeName, placesOf } from '../../elements/index';
import { type Design, type Element, type Id } from '../../fields/types';
import { type Vec3, cross, dot, norm, toWorldPoint, toWorldVector, unit, vadd, vmap, vscale, vsub } from '../../math/index';
import { elementFrame } from '../../edits/frames';
import type { PlaceKind } from '../../shapes/index';

/** A place of an element that things can be put together by: a point with a direction. World, reference position, mm. */
export interface Feature {
  /** "element:key". */
  ref: string;
  element: Id;
  member: Id;
  label: string;
  point: Vec3;
  /** The axis of an eye or a round bar, the outward direction of a face, the line of an edge. */
  axis: Vec3;
  /** What it is, and its diameter, length (mm) or area (mm²) where it has one. */
  kind: PlaceKind;
  size?: number;
  /** Direction in which a slot through this place runs: along the element's length. */
  slot: Vec3;
}

/** What joins two features: joints, or only a place. */
export type Join = 'pin' | 'pin-in-slot' | 'slide' | 'fixed' | 'flush' | 'coaxial' | 'apart';

/** A side as people see it: by the direction of the world into which it looks. */
function side(v: Vec3): string {
  const k = [0, 1, 2].sort((a, b) => Math.abs(v[b]) - Math.abs(v[a]))[0];
  return [
    ['left', 'right'],
    ['front', 'back'],
    ['bottom', 'top'],
  ][k][v[k] > 0 ? 1 : 0];
}

/** What of a direction is across an axis. */
const across3 = (axis: Vec3, v: Vec3): Vec3 => vsub(v, vscale(axis, dot(axis, v)));

/** Where an element can be put together with others: its axis, its eyes, the middles of its sides, and the edges of a block. */
export function featuresOf(d: Design, e: Element): Feature[] {
  const kind = elementKind(e.type);
  const box = kind && extentOf(kind, e);
  if (!kind || !box) return [];
  const f = elementFrame(d, e);
  const out: Feature[] = [];
  const put = (key: string, label: string, p: Vec3, axis: Vec3, kind: PlaceKind, size?: number): void => {
    out.push({
      ref: `${e.id}:${key}`,
      element: e.id,
      member: e.member,
      label: `${e.name}, ${label}`,
      point: toWorldPoint(f, p),
      axis: toWorldVector(f, axis),
      kind,
      ...(size !== undefined && { size }),
      slot: unit(across3(toWorldVector(f, axis), Math.abs(axis[0]) < 0.5 ? f.x : f.y)),
    });
  };
  if (e.type === 'lever') {
    const { length = 0, hole } = e as { length?: number; hole?: number };
    const l = num(length);
    put('eye', 'first eye', [0, 0, 0], [0, 0, 1], 'axis', hole);
    put('other', 'other eye', [l, 0, 0], [0, 0, 1], 'axis', hole);
    put('middle', 'middle', [l / 2, 0, 0], [0, 0, 1], 'axis');
    return out;
  }
  if (isShape(e)) {
    for (const p of placesOf(e)) {
      // A place without a direction is met by its point alone.
      put(p.key, placeName(p), p.point, norm(p.direction) > 1e-9 ? unit(p.direction) : [0, 0, 1], p.kind, p.size);
    }
    return out;
  }
  put('axis', 'axis', [0, 0, 0], [0, 0, 1], 'axis');
  const [lo, hi] = box;
  const mid = vscale(vadd(lo, hi), 0.5);
  const faces: [string, Vec3][] = [];
  for (const k of [0, 1, 2]) {
    for (const s of [1, -1]) {
      const n: Vec3 = [k === 0 ? s : 0, k === 1 ? s : 0, k === 2 ? s : 0];
      const p = vmap(mid, (x, i) => (i === k ? (s > 0 ? hi[k] : lo[k]) : x));
      faces.push([`${s > 0 ? '+' : '-'}${'xyz'[k]}`, n]);
      put(`${s > 0 ? '+' : '-'}${'xyz'[k]}`, `${side(toWorldVector(f, n))} face`, p, n, 'face');
    }
  }
  if (e.type === 'block') {
    faces.forEach(([ka, a], i) =>
      faces.slice(i + 1).forEach(([kb, b]) => {
        if (Math.abs(dot(a, b)) > 0.5) return;
        const p = vmap(mid, (x, k) => (a[k] + b[k] > 0.5 ? hi[k] : a[k] + b[k] < -0.5 ? lo[k] : x));
        const names = [side(toWorldVector(f, a)), side(toWorldVector(f, b))].sort((x) => (x === 'top' || x === 'bottom' ? -1 : 1));
        put(
          `${ka}${kb}`,
          `${names.join(' ')} edge`,
          p,
          vmap(cross(a, b), Math.abs),
          'edge',
          2 * Math.abs(dot(vsub(hi, mid), vmap(cross(a, b), Math.abs))),
        );
      }),
    );
  }
  return out;
}

/** A feature by its name; undefined where there is none. */
export function featureAt(d: Design, ref: string): Feature | undefined {
  const e = d.elements.find((x) => x.id === ref.split(':')[0]);
  return e && featuresOf(d, e).find((x) => x.ref === ref);
}
