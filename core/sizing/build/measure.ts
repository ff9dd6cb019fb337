import { type Vec3, across, cross, dot, norm, unit, vscale, vsub } from '../../math/index';
import type { Feature } from './features';

/** Something measured at one place or between two, in mm, mm² or deg. */
export interface Measured {
  key: string;
  label: string;
  value: number;
  unit: 'mm' | 'mm²' | 'deg' | '';
}

/** Directions that differ by less are parallel: sine of 0.01°. */
const PARALLEL = 1.745e-4;
/** Gaps of repeated places are equal within this part. */
const EQUAL = 2e-3;
const DEG = 180 / Math.PI;

const has = (f: Feature): boolean => norm(f.axis) > 0.5 && f.kind !== 'corner';
const isLine = (f: Feature): boolean => f.kind === 'axis' || f.kind === 'centre' || f.kind === 'edge';

/** What one place says by itself: a diameter, a length, an area; how often it is repeated, and how far apart. */
export function measuredAt(f: Feature, all: readonly Feature[]): Measured[] {
  const out: Measured[] = [];
  const size = f.size ?? 0;
  if ((f.kind === 'axis' || f.kind === 'centre') && size > 0) {
    out.push(
      { key: 'diameter', label: 'Diameter', value: size, unit: 'mm' },
      { key: 'round', label: 'Length round', value: Math.PI * size, unit: 'mm' },
    );
  }
  if (f.kind === 'edge') out.push({ key: 'length', label: 'Length', value: size, unit: 'mm' });
  if (f.kind === 'face' && size > 0) out.push({ key: 'area', label: 'Area', value: size, unit: 'mm²' });
  (['x', 'y', 'z'] as const).forEach((k, i) => out.push({ key: k, label: `At ${k}`, value: f.point[i], unit: 'mm' }));
  return [...out, ...repeated(f, all)];
}

/** Distances and the angle between two places, by what they are. */
export function measuredBetween(a: Feature, b: Feature): Measured[] {
  const off = vsub(b.point, a.point);
  const out: Measured[] = [];
  const put = (key: string, label: string, value: number, unit: Measured['unit'] = 'mm'): void =>
    void out.push({ key, label, value: Math.abs(value), unit });
  const tilt = has(a) && has(b) ? norm(cross(a.axis, b.axis)) : 0;
  const parallel = has(a) && has(b) && tilt < PARALLEL;
  if (parallel && isLine(a) && isLine(b)) put('lines', 'Between the lines', norm(vsub(off, vscale(a.axis, dot(off, a.axis)))));
  else if (parallel && a.kind === 'face' && b.kind === 'face') put('faces', 'Between the faces', dot(off, a.axis));
  else if (has(a) && has(b) && isLine(a) && isLine(b)) {
    const n = unit(cross(a.axis, b.axis));
    put('lines', 'Between the lines', dot(off, n));
  }
  const face = a.kind === 'face' ? a : b.kind === 'face' ? b : undefined;
  const other = face === a ? b : a;
  if (face && other.kind !== 'face' && (!isLine(other) || Math.abs(dot(face.axis, other.axis)) < PARALLEL)) {
    put('face', 'From the face', dot(off, face.axis));
  }
  put('distance', 'Point to point', norm(off));
  (['x', 'y', 'z'] as const).forEach((k, i) => put(k, `Along ${k}`, off[i]));
  if (has(a) && has(b)) {
    // Of lines the smaller angle; of faces that between their outward directions.
    const c = dot(a.axis, b.axis);
    const angle = Math.atan2(tilt, a.kind === 'face' && b.kind === 'face' ? c : Math.abs(c)) * DEG;
    put('angle', 'Angle', angle, 'deg');
  }
  return out;
}

/** The shortest stretch of gaps that repeats itself all along; its length, 0 where none does. */
function period(gaps: readonly number[], round: boolean): number {
  const n = gaps.length;
  const mean = gaps.reduce((s, x) => s + x, 0) / n;
  for (let p = 1; p <= Math.min(4, n / 2); p++) {
    if (round && n % p) continue;
    if (gaps.every((g, i) => Math.abs(g - gaps[i % p]) < EQUAL * mean)) return p;
  }
  return 0;
}

/**
 * Places like this one on its element, in a row or round a circle, evenly (or two, three, four kinds of gap in turn, as the
 * edges of teeth): how many, and how far apart along the row or the circle through them.
 */
function repeated(f: Feature, all: readonly Feature[]): Measured[] {
  const like = all.filter(
    (x) =>
      x.element === f.element &&
      x.kind === f.kind &&
      Math.abs((x.size ?? 0) - (f.size ?? 0)) <= 1e-3 * (f.size ?? 0) &&
      (!has(f) || Math.abs(dot(x.axis, f.axis)) > 1 - 1e-6),
  );
  if (f.kind === 'face' || like.length < 3) return [];
  const z = has(f) ? f.axis : ([0, 0, 1] as Vec3);
  const [u, v] = [across(z), cross(z, across(z))];
  // Those in one plane across the direction: an edge's ends and a hole's two rims are no repetition.
  const height = dot(f.point, z);
  const flat = like
    .filter((x) => Math.abs(dot(x.point, z) - height) < 1e-3 * (1 + (f.size ?? 0)))
    .map((x): [number, number] => [dot(x.point, u), dot(x.point, v)]);
  if (flat.length < 3) return [];
  const n = flat.length;
  const [cx, cy] = [flat.reduce((s, p) => s + p[0], 0) / n, flat.reduce((s, p) => s + p[1], 0) / n];
  const radii = flat.map(([x, y]) => Math.hypot(x - cx, y - cy));
  const r = radii.reduce((s, x) => s + x, 0) / n;
  if (r > 1e-6 && radii.every((x) => Math.abs(x - r) < EQUAL * r)) {
    const angles = flat.map(([x, y]) => Math.atan2(y - cy, x - cx)).sort((a, b) => a - b);
    const gaps = angles.map((a, i) => (i + 1 < n ? angles[i + 1] - a : angles[0] + 2 * Math.PI - a));
    const p = period(gaps, true);
    if (!p) return [];
    const count = n / p;
    return [
      { key: 'count', label: 'Repeated round a circle', value: count, unit: '' },
      { key: 'circle', label: 'Diameter of that circle', value: 2 * r, unit: 'mm' },
      { key: 'spacing', label: 'Spacing along that circle', value: (2 * Math.PI * r) / count, unit: 'mm' },
    ];
  }
  // The row by the two that are farthest apart.
  let [from, to] = [flat[0], flat[1]];
  for (const p of flat) if (Math.hypot(p[0] - from[0], p[1] - from[1]) > Math.hypot(to[0] - from[0], to[1] - from[1])) to = p;
  for (const p of flat) if (Math.hypot(p[0] - to[0], p[1] - to[1]) > Math.hypot(to[0] - from[0], to[1] - from[1])) from = p;
  const l = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const [dx, dy] = [(to[0] - from[0]) / l, (to[1] - from[1]) / l];
  if (!(l > 0) || flat.some(([x, y]) => Math.abs((x - from[0]) * dy - (y - from[1]) * dx) > EQUAL * l)) return [];
  const along = flat.map(([x, y]) => (x - from[0]) * dx + (y - from[1]) * dy).sort((a, b) => a - b);
  const gaps = along.slice(1).map((x, i) => x - along[i]);
  const p = period(gaps, false);
  if (!p) return [];
  return [
    { key: 'count', label: 'Repeated in a row', value: Math.floor((n - 1) / p) + 1, unit: '' },
    { key: 'spacing', label: 'Spacing', value: gaps.slice(0, p).reduce((s, x) => s + x, 0), unit: 'mm' },
  ];
}
