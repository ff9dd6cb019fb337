/** Small vectors [x, y, z] for compile time and tests; the per-frame path works on flat arrays instead. */
export type Vec3 = readonly [number, number, number];

export const vadd = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const vsub = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
/** A vector made of what f gives for each component. */
export const vmap = (v: Vec3, f: (x: number, i: number) => number): Vec3 => [f(v[0], 0), f(v[1], 1), f(v[2], 2)];
/** A vector turned by an angle about a unit axis (Rodrigues). */
export function vturn(v: Vec3, axis: Vec3, angle: number): Vec3 {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return vadd(vadd(vscale(v, c), vscale(cross(axis, v), s)), vscale(axis, dot(axis, v) * (1 - c)));
}
export const vscale = (a: Vec3, k: number): Vec3 => [a[0] * k, a[1] * k, a[2] * k];
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
export const norm = (a: Vec3): number => Math.hypot(a[0], a[1], a[2]);
export const distance = (a: Vec3, b: Vec3): number => norm(vsub(a, b));

/** The unit vector along a; [0, 0, 0] where a has no direction. */
export function unit(a: Vec3): Vec3 {
  const n = norm(a);
  return n > 0 ? vscale(a, 1 / n) : [0, 0, 0];
}

/** Some unit vector across a. */
export function across(a: Vec3): Vec3 {
  const w: Vec3 =
    Math.abs(a[0]) <= Math.abs(a[1]) && Math.abs(a[0]) <= Math.abs(a[2]) ? [1, 0, 0] : Math.abs(a[1]) <= Math.abs(a[2]) ? [0, 1, 0] : [0, 0, 1];
  return unit(cross(cross(a, w), a));
}

/** A right-handed frame: origin and three unit axes, all in the frame it is stated in. */
export interface Frame {
  readonly o: Vec3;
  readonly x: Vec3;
  readonly y: Vec3;
  readonly z: Vec3;
}

export const WORLD: Frame = { o: [0, 0, 0], x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

/** The frame whose z axis is `axis` and whose x axis lies in the half plane of `up`. */
export function frameOf(o: Vec3, axis: Vec3 = [0, 0, 1], up?: Vec3): Frame {
  const z = unit(axis);
  let x = up ? vsub(up, vscale(z, dot(up, z))) : ([0, 0, 0] as Vec3);
  if (norm(x) < 1e-9) {
    const guess: Vec3 = Math.abs(z[2]) > 0.9 ? [1, 0, 0] : [0, 0, 1];
    x = Math.abs(z[2]) > 0.9 ? vsub(guess, vscale(z, dot(guess, z))) : cross(guess, z);
  }
  const ux = unit(x);
  return { o, x: ux, y: cross(z, ux), z };
}

/** A frame as a place states it: along z and x where nothing else is said. */
export const localFrame = (p: { at?: Vec3; axis?: Vec3; up?: Vec3 }): Frame =>
  frameOf(p.at ?? [0, 0, 0], p.axis, p.up ?? (p.axis ? undefined : [1, 0, 0]));

export const toWorldVector = (f: Frame, v: Vec3): Vec3 => [
  f.x[0] * v[0] + f.y[0] * v[1] + f.z[0] * v[2],
  f.x[1] * v[0] + f.y[1] * v[1] + f.z[1] * v[2],
  f.x[2] * v[0] + f.y[2] * v[1] + f.z[2] * v[2],
];
export const toWorldPoint = (f: Frame, p: Vec3): Vec3 => vadd(f.o, toWorldVector(f, p));
export const toLocalVector = (f: Frame, v: Vec3): Vec3 => [dot(f.x, v), dot(f.y, v), dot(f.z, v)];
export const toLocalPoint = (f: Frame, p: Vec3): Vec3 => toLocalVector(f, vsub(p, f.o));

/** A frame as it stands in another: what `within` undoes. */
export const frameIn = (outer: Frame, f: Frame): Frame => ({
  o: toLocalPoint(outer, f.o),
  x: toLocalVector(outer, f.x),
  y: toLocalVector(outer, f.y),
  z: toLocalVector(outer, f.z),
});

/** A frame stated inside another one, stated where the other one is. */
export const within = (outer: Frame, inner: Frame): Frame => ({
  o: toWorldPoint(outer, inner.o),
  x: toWorldVector(outer, inner.x),
  y: toWorldVector(outer, inner.y),
  z: toWorldVector(outer, inner.z),
});

/** Do two lines (point, unit direction) coincide, within mm and radians given? */
export function sameLine(p: Vec3, d: Vec3, q: Vec3, e: Vec3, mm = 1e-6, rad = 1e-9): boolean {
  return norm(cross(d, e)) < rad && norm(cross(vsub(q, p), d)) < mm;
}
